/** Slow down and return: over a passage, by percent or to a tempo, straight or curved, back to what was there exactly. */

import { createTempoMap, slowDown, tempoAt } from '@crispfold/core';
import { useMemo, useState } from 'react';
import { Button } from '../../../ui/Button.js';
import { NumberField } from '../../../ui/NumberField.js';
import { commitLane } from '../../actions/commitLane.js';
import { KeepTimes } from '../../controls/KeepTimes.js';
import { SettingsPanel } from '../../controls/SettingsPanel.js';
import { useLastSettings } from '../../controls/useLastSettings.js';
import { useAppDispatch, useDesk } from '../../session/desk.js';
import { layoutActions } from '../../state/layoutSlice.js';
import { selectMeterMap } from '../../state/maps.js';
import { useAppSelector } from '../../state/root.js';
import { selectArrangement, selectedOnView } from '../../state/selectors.js';
import { said } from '../../state/speechSlice.js';

/** What it begins with. */
const FIRST = { percent: 70, curved: 0, returns: true };

export const SlowDownPanel = () => {
  const { player } = useDesk();
  const dispatch = useAppDispatch();
  const arrangement = useAppSelector(selectArrangement);
  const meterMap = useAppSelector(selectMeterMap);
  const loop = useAppSelector(({ playback }) => playback.loop);
  const notes = useAppSelector(selectedOnView);
  const [options, change] = useLastSettings('slowDown', FIRST);
  const found = useMemo(() => {
    if (notes.length > 0) {
      const from = notes.reduce((least, { onset }) => Math.min(least, onset), Number.POSITIVE_INFINITY);
      const to = notes.reduce((most, { onset, duration }) => Math.max(most, onset + duration), 0);
      return { from: meterMap.barAt(from).start, to: meterMap.barAt(Math.max(from, to - 1)).end };
    }
    if (loop && loop.end > loop.start) return { from: loop.start, to: loop.end };
    const bar = meterMap.barAt(player.state.get().tick);
    return { from: bar.start, to: bar.end };
  }, [notes, loop, meterMap, player.state.get]);
  const [passage, setPassage] = useState(found);
  const bars = {
    from: meterMap.barAt(passage.from).number,
    to: meterMap.barAt(Math.max(passage.from, passage.to - 1)).number,
  };
  const tempo = useMemo(() => tempoAt(arrangement.tempos, passage.from), [arrangement.tempos, passage.from]);
  const target = (tempo * options.percent) / 100;
  const edit = useMemo(
    () =>
      slowDown(arrangement, {
        from: Math.round(passage.from),
        to: Math.round(passage.to),
        target,
        ease: options.curved,
        returns: options.returns,
      }),
    [arrangement, passage, target, options],
  );
  const close = () => dispatch(layoutActions.toolShown(null));
  const seconds = useMemo(() => {
    const lasts = (tempos: typeof arrangement.tempos) => {
      const map = createTempoMap(tempos, arrangement.ppq);
      return map.secondsAt(passage.to) - map.secondsAt(passage.from);
    };
    const [own] = edit?.changes ?? [];
    const after = own?.kind === 'arrangementFields' ? own.after.tempos : undefined;
    return { before: lasts(arrangement.tempos), after: lasts(after ?? arrangement.tempos) };
  }, [arrangement, edit, passage]);
  return (
    <SettingsPanel
      title="Slow down and return"
      explanation="Moves the tempo over some bars, and has the old one again at their very end. Notes keep their bars and beats. Above 100 % it speeds up."
      onClose={close}
    >
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          const carried = dispatch(commitLane(edit));
          if (carried) dispatch(said(carried.label));
          close();
        }}
      >
        <div className="flex items-center gap-2">
          From bar
          <NumberField
            label="From bar"
            min={0}
            max={bars.to}
            className="w-16"
            value={bars.from}
            onTaken={(bar) => setPassage({ ...passage, from: meterMap.barNumbered(bar).start })}
          />
          to the end of
          <NumberField
            label="To the end of bar"
            min={bars.from}
            max={100_000}
            className="w-16"
            value={bars.to}
            onTaken={(bar) => setPassage({ ...passage, to: meterMap.barNumbered(bar).end })}
          />
        </div>
        <div className="flex items-center gap-2">
          To
          <NumberField
            label="Percent of the tempo"
            min={10}
            max={300}
            className="w-16"
            value={options.percent}
            onTaken={(percent) => change({ percent })}
          />
          % or ♩ =
          <NumberField
            label="Quarters a minute"
            min={5}
            max={400}
            step={0.5}
            className="w-20"
            value={Math.round(target * 10) / 10}
            onTaken={(value) => change({ percent: Math.max(10, Math.min(300, (value / tempo) * 100)) })}
          />
        </div>
        <div className="flex items-center gap-2">
          Curved
          <NumberField
            label="How curved, from -1 to 1"
            min={-1}
            max={1}
            step={0.1}
            className="w-16"
            value={options.curved}
            onTaken={(curved) => change({ curved })}
          />
          <span className="text-soft">0 even, 1 late, −1 early</span>
        </div>
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            className="accent-[var(--fold)]"
            checked={options.returns}
            onChange={() => change({ returns: !options.returns })}
          />
          The old tempo again at bar {meterMap.barAt(passage.to).number}
        </label>
        <KeepTimes />
        <p role="status" className="text-sm text-soft">
          {edit
            ? `From ♩ = ${Math.round(tempo * 10) / 10}. The bars last ${seconds.after.toFixed(2)} s instead of ${seconds.before.toFixed(2)} s.`
            : 'The tempo stays as it is.'}
        </p>
        <Button look="main" type="submit" disabled={!edit}>
          {target < tempo ? 'Slow down' : 'Speed up'}
        </Button>
      </form>
    </SettingsPanel>
  );
};
