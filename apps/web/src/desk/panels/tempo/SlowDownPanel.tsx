/** Slow down and return: over a passage, by percent or to a tempo, straight or curved, back to what was there exactly. */

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
import { barsOf, FIRST_SLOW_DOWN, PERCENT, passageFor, percentFor, slowedDown } from './slowDownModel.js';

/** The passage, what is wished of it, and what that comes to. */
const useSlowDown = () => {
  const { player } = useDesk();
  const arrangement = useAppSelector(selectArrangement);
  const meterMap = useAppSelector(selectMeterMap);
  const loop = useAppSelector(({ playback }) => playback.loop);
  const notes = useAppSelector(selectedOnView);
  const [options, change] = useLastSettings('slowDown', FIRST_SLOW_DOWN);
  const [passage, setPassage] = useState(() => passageFor({ notes, loop, tick: player.state.get().tick }, meterMap));
  const slowed = useMemo(() => slowedDown(arrangement, passage, options), [arrangement, passage, options]);
  return { meterMap, options, change, passage, setPassage, bars: barsOf(passage, meterMap), ...slowed };
};

type Model = ReturnType<typeof useSlowDown>;

/** From which bar to which. */
const PassageRow = ({ bars, passage, setPassage, meterMap }: Model) => (
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
);

/** How slow, and how the tempo goes there. */
const TempoRows = ({ options, change, target, tempo }: Model) => (
  <>
    <div className="flex items-center gap-2">
      To
      <NumberField
        label="Percent of the tempo"
        min={PERCENT.least}
        max={PERCENT.most}
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
        onTaken={(value) => change({ percent: percentFor(value, tempo) })}
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
  </>
);

export const SlowDownPanel = () => {
  const dispatch = useAppDispatch();
  const model = useSlowDown();
  const { meterMap, options, change, passage, tempo, target, edit, seconds } = model;
  const close = () => dispatch(layoutActions.toolShown(null));
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
        <PassageRow {...model} />
        <TempoRows {...model} />
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
