/** Combine parts: whole, or only the bars of the loop, moved or copied; those of one player are offered as one. */

import { type CombineParts, combineParts, type PartId, partsOfOnePlayer } from '@crispfold/core';
import { useMemo, useState } from 'react';
import { Button } from '../../../ui/Button.js';
import { listed } from '../../../ui/words.js';
import { tellDone } from '../../actions/carryOutEdit.js';
import { SettingsPanel } from '../../controls/SettingsPanel.js';
import { useAppDispatch } from '../../session/desk.js';
import { commit } from '../../session/saving.js';
import { layoutActions } from '../../state/layoutSlice.js';
import { partsShownActions } from '../../state/partsShownSlice.js';
import { useAppSelector } from '../../state/root.js';
import { selectingActions } from '../../state/selectingSlice.js';
import { selectArrangement, selectFrontPart, selectOpenParts } from '../../state/selectors.js';
import { PartChecks } from './PartChecks.js';

const BOX = 'min-h-7 min-w-0 border border-strong bg-sheet px-1';

export const CombinePartsPanel = () => {
  const dispatch = useAppDispatch();
  const arrangement = useAppSelector(selectArrangement);
  const open = useAppSelector(selectOpenParts);
  const front = useAppSelector(selectFrontPart);
  const loop = useAppSelector(({ playback }) => playback.loop);
  const offers = useMemo(() => partsOfOnePlayer({ parts: open }), [open]);
  const [chosen, setChosen] = useState<readonly PartId[]>(() => {
    if (!front) return [];
    return offers.find(({ partIds }) => partIds.includes(front.id))?.partIds ?? [front.id];
  });
  const [into, setInto] = useState<PartId | null>(null);
  const [what, setWhat] = useState<'all' | 'moved' | 'copied'>('all');
  const [channels, setChannels] = useState<CombineParts['channels']>('part');
  const target = into !== null && chosen.includes(into) ? into : (chosen[0] ?? 0);
  const made = combineParts(arrangement, {
    partIds: chosen,
    into: target,
    range: what === 'all' ? null : (loop ?? { start: 0, end: 0 }),
    copy: what === 'copied',
    channels,
  });
  const parts = open.filter(({ id }) => chosen.includes(id));
  const different = new Set(parts.map((part) => part.channel)).size > 1;
  const close = () => dispatch(layoutActions.toolShown(null));
  const words =
    chosen.length < 2
      ? 'Choose two parts or more.'
      : !made
        ? what === 'all'
          ? ''
          : 'No note of the other parts begins in the loop.'
        : what === 'all' && different
          ? channels === 'part'
            ? 'They play on different channels. The sounds of the others go: all will sound as the part that takes them.'
            : 'They play on different channels. Each note keeps its channel and its sound; on the page they are one part.'
          : '';
  return (
    <SettingsPanel
      title="Combine parts"
      explanation="Makes one part of several. Times, lengths and loudness stay; undo gives the parts back."
      onClose={close}
    >
      <form
        className="flex flex-col gap-3 text-sm"
        onSubmit={(event) => {
          event.preventDefault();
          if (!made) return;
          dispatch(commit(made.edit));
          dispatch(partsShownActions.partBroughtForward(target));
          dispatch(selectingActions.selected(made.selection));
          dispatch(tellDone(made.edit.label));
          close();
        }}
      >
        {offers.map(({ partIds, what, reason }) => (
          <Button
            key={partIds.join()}
            className="!h-auto !justify-start py-1 text-left"
            title="Choose these"
            onClick={() => {
              setChosen(partIds);
              setInto(partIds[0] ?? null);
            }}
          >
            {what.replace(/^./, (letter) => letter.toUpperCase())}, {reason}:{' '}
            {listed(open.filter(({ id }) => partIds.includes(id)).map(({ name }) => name))}
          </Button>
        ))}
        <PartChecks title="Parts" parts={open} chosen={chosen} onChange={setChosen} />
        <label className="grid grid-cols-[4rem_1fr] items-center gap-2">
          Into
          <select className={BOX} value={target} onChange={(event) => setInto(Number(event.target.value) as PartId)}>
            {parts.map((part) => (
              <option key={part.id} value={part.id}>
                {part.name}
              </option>
            ))}
          </select>
        </label>
        <label className="grid grid-cols-[4rem_1fr] items-center gap-2">
          Take
          <select className={BOX} value={what} onChange={(event) => setWhat(event.target.value as typeof what)}>
            <option value="all">all; the other parts go</option>
            <option value="moved" disabled={!loop}>
              the bars of the loop, moved
            </option>
            <option value="copied" disabled={!loop}>
              the bars of the loop, copied
            </option>
          </select>
        </label>
        <label className="grid grid-cols-[4rem_1fr] items-center gap-2">
          Channel
          <select
            className={BOX}
            value={channels}
            onChange={(event) => setChannels(event.target.value as CombineParts['channels'])}
          >
            <option value="part">that of the part</option>
            <option value="keep">each note keeps its own</option>
          </select>
        </label>
        <p role="status" className="text-soft">
          {words}
        </p>
        <Button look="main" type="submit" disabled={!made} className="self-start">
          {what === 'copied' ? 'Copy' : 'Combine'}
        </Button>
      </form>
    </SettingsPanel>
  );
};
