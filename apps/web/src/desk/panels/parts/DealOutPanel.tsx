/** Deal out: the voices of chords go to parts, by themselves with the least motion, or voice by voice with digits. */

import {
  type Arrangement,
  type DealOut,
  type DealtOut,
  dealOut,
  dealOutByVoice,
  type Part,
  type PartId,
  type Selection,
  selectionSize,
  type Unfit,
  voicesOfChords,
} from '@crispfold/core';
import { type KeyboardEvent, useCallback, useMemo, useRef, useState } from 'react';
import { counted } from '../../../ui/words.js';
import { carryOutEdit } from '../../actions/carryOutEdit.js';
import { DoOrHear, SettingsPanel, useTried } from '../../controls/SettingsPanel.js';
import { useLastSettings } from '../../controls/useLastSettings.js';
import { useAppDispatch } from '../../session/desk.js';
import { layoutActions } from '../../state/layoutSlice.js';
import { useAppSelector } from '../../state/root.js';
import { selectingActions } from '../../state/selectingSlice.js';
import { selectArrangement, selectEditable, selectOpenParts } from '../../state/selectors.js';
import { PartChecks } from './PartChecks.js';

const BOX = 'min-h-7 min-w-0 flex-1 border border-strong bg-sheet px-1';
/** Of more notes than these the outcome is not worked out ahead. */
const MOST_AHEAD = 4000;
/** More voices than this have no line of their own. */
const MOST_VOICES = 8;
const ORDINALS = ['Top', '2nd', '3rd', '4th', '5th', '6th', '7th', '8th'];

type Options = Omit<DealOut, 'targets'>;
/** What it begins with. */
const FIRST: Options & { readonly way: 'motion' | 'voices' } = {
  way: 'motion',
  fewer: 'rest',
  more: 'stay',
  keep: false,
};

/** What does not fit, in words. */
const unfitWords = ({ low, high, together }: Unfit): string =>
  [
    low > 0 ? `${counted(low, 'note')} too low` : '',
    high > 0 ? `${counted(high, 'note')} too high` : '',
    together > 0 ? `${counted(together, 'note')} over another, and it plays one at a time` : '',
  ]
    .filter(Boolean)
    .join(', ');

export const DealOutPanel = () => {
  const dispatch = useAppDispatch();
  const arrangement = useAppSelector(selectArrangement);
  const selection = useAppSelector(selectEditable);
  const open = useAppSelector(selectOpenParts);
  const [options, change] = useLastSettings('dealOut', FIRST);
  const [targets, setTargets] = useState<readonly PartId[]>(() => {
    const others = open.filter((part) => !selection.has(part.id));
    return (others.length > 1 ? others : open).map((part) => part.id);
  });
  const voiceCount = useMemo(
    () => Math.min(MOST_VOICES, voicesOfChords(arrangement, selection)),
    [arrangement, selection],
  );
  const [voices, setVoices] = useState<readonly (readonly PartId[])[]>([]);
  const deal = useCallback(
    (now: Arrangement, chosen: Selection): DealtOut =>
      options.way === 'motion'
        ? dealOut(now, chosen, { ...options, targets })
        : dealOutByVoice(now, chosen, voices, options.keep),
    [options, targets, voices],
  );
  const size = selectionSize(selection);
  const ahead = size <= MOST_AHEAD;
  const made = useMemo(() => (ahead ? deal(arrangement, selection) : null), [ahead, arrangement, selection, deal]);
  useTried(made?.edit ?? null);
  const close = () => dispatch(layoutActions.toolShown(null));
  const nameOf = (id: PartId) => arrangement.parts.find((part) => part.id === id)?.name ?? '';
  return (
    <SettingsPanel
      title="Deal out"
      explanation="Gives the voices of the selected chords to parts, top to bottom. What no part takes stays where it is."
      onClose={close}
    >
      <form
        className="flex flex-col gap-3 text-sm"
        onSubmit={(event) => {
          event.preventDefault();
          const done = made ?? deal(arrangement, selection);
          if (!done.edit) return;
          dispatch(carryOutEdit(done.edit, (now, chosen) => deal(now, chosen).edit));
          dispatch(selectingActions.selected(done.selection));
          close();
        }}
      >
        <Choice words="How" ways={WAYS} value={options.way} onChosen={(way) => change({ way })} />
        {options.way === 'motion' ? (
          <ByMotion parts={open} targets={targets} onTargets={setTargets} options={options} onChange={change} />
        ) : (
          <Voices count={voiceCount} parts={open} voices={voices} onChange={setVoices} />
        )}
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            className="accent-[var(--fold)]"
            checked={options.keep}
            onChange={() => change({ keep: !options.keep })}
          />
          Also leave the chords where they are
        </label>
        <Told size={size} voices={voiceCount} made={made} nameOf={nameOf} />
        <DoOrHear disabled={size === 0 || made?.edit === null}>Deal out</DoOrHear>
      </form>
    </SettingsPanel>
  );
};

type Ways<Way extends string> = { readonly [way in Way]: string };

const WAYS: Ways<(typeof FIRST)['way']> = { motion: 'so that each part moves least', voices: 'voice by voice' };
const FEWER: Ways<DealOut['fewer']> = { rest: 'some parts rest', double: 'some parts double' };
const MORE: Ways<DealOut['more']> = { stay: 'some stay where they are', together: 'some parts get two' };

const Choice = <Way extends string>({
  words,
  ways,
  value,
  onChosen,
}: {
  words: string;
  ways: Ways<Way>;
  value: Way;
  onChosen: (way: Way) => void;
}) => (
  <label className="flex items-center gap-2">
    {words}
    <select className={BOX} value={value} onChange={({ target }) => onChosen(target.value as Way)}>
      {(Object.keys(ways) as Way[]).map((way) => (
        <option key={way} value={way}>
          {ways[way]}
        </option>
      ))}
    </select>
  </label>
);

/** To which parts, and what is done where a chord has fewer or more tones than there are parts. */
const ByMotion = ({
  parts,
  targets,
  onTargets,
  options,
  onChange,
}: {
  parts: readonly Part[];
  targets: readonly PartId[];
  onTargets: (targets: readonly PartId[]) => void;
  options: Options;
  onChange: (options: Partial<Options>) => void;
}) => (
  <>
    <PartChecks title="To these parts, top to bottom" parts={parts} chosen={targets} onChange={onTargets} />
    <Choice words="Fewer tones" ways={FEWER} value={options.fewer} onChosen={(fewer) => onChange({ fewer })} />
    <Choice words="More tones" ways={MORE} value={options.more} onChosen={(more) => onChange({ more })} />
  </>
);

/** What would come of it. */
const Told = ({
  size,
  voices,
  made,
  nameOf,
}: {
  size: number;
  voices: number;
  made: DealtOut | null;
  nameOf: (id: PartId) => string;
}) => (
  <>
    <div role="status" className="text-soft">
      {size === 0 ? (
        'Nothing is selected. Select chords first.'
      ) : (
        <>
          <p>
            {counted(size, 'note')} in chords of up to {voices}.{' '}
            {made === null ? 'So many are dealt out without a look ahead.' : made.edit ? '' : 'Nothing would move yet.'}
            {made?.edit && made.stayed > 0 ? `${counted(made.stayed, 'note')} would stay.` : ''}
          </p>
          <ul>
            {[...(made?.dealt ?? [])].map(([id, count]) => (
              <li key={id} className="flex justify-between gap-2">
                <span className="min-w-0 truncate">{nameOf(id)}</span>
                <span className="tabular-nums">{count}</span>
              </li>
            ))}
          </ul>
        </>
      )}
    </div>
    {made?.unfit.map((unfit) => (
      <p key={unfit.partId} className="text-fold-ink">
        {nameOf(unfit.partId)}: {unfitWords(unfit)}.
      </p>
    ))}
  </>
);

/** One line a voice, from the top: a digit gives it to the part of that number, and goes on to the next. */
const Voices = ({
  count,
  parts,
  voices,
  onChange,
}: {
  count: number;
  parts: readonly { readonly id: PartId; readonly name: string }[];
  voices: readonly (readonly PartId[])[];
  onChange: (voices: readonly (readonly PartId[])[]) => void;
}) => {
  const list = useRef<HTMLUListElement>(null);
  const give = (voice: number, ids: readonly PartId[]) =>
    onChange(Array.from({ length: count }, (_, index) => (index === voice ? ids : (voices[index] ?? []))));
  const goTo = (voice: number) => list.current?.querySelectorAll<HTMLElement>('button')[voice]?.focus();
  const onKey = (event: KeyboardEvent, voice: number) => {
    const own = voices[voice] ?? [];
    const digit = event.ctrlKey || event.altKey ? undefined : /^(?:Digit|Numpad)([1-9])$/.exec(event.code)?.[1];
    const part = digit ? parts[Number(digit) - 1] : undefined;
    if (part && event.shiftKey) {
      give(voice, own.includes(part.id) ? own.filter((id) => id !== part.id) : [...own, part.id]);
    } else if (part) {
      give(voice, [part.id]);
      goTo(voice + 1);
    } else if (event.key === 'Backspace' || event.key === 'Delete') give(voice, []);
    else if (event.key === 'ArrowDown') goTo(voice + 1);
    else if (event.key === 'ArrowUp') goTo(voice - 1);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <div>
      <p className="text-soft">
        On a voice, press the number of its part; with Shift one part more; Backspace leaves it where it is.
      </p>
      <ol className="flex flex-wrap gap-x-3 py-1">
        {parts.slice(0, 9).map((part, index) => (
          <li key={part.id} className="max-w-full truncate">
            <kbd className="mx-px inline-block border border-strong bg-shade px-1 font-sans font-semibold">
              {index + 1}
            </kbd>{' '}
            {part.name}
          </li>
        ))}
      </ol>
      <ul ref={list} aria-label="Voices of the chords">
        {Array.from({ length: count }, (_, voice) => {
          const own = voices[voice] ?? [];
          const names = own.map((id) => parts.find((part) => part.id === id)?.name).join(' and ');
          return (
            // biome-ignore lint/suspicious/noArrayIndexKey: a voice is its place
            <li key={voice}>
              <button
                type="button"
                className="flex min-h-7 w-full items-center gap-2 border-b border-rule px-1 text-left hover:bg-shade focus:bg-selected"
                onKeyDown={(event) => onKey(event, voice)}
              >
                <span className="w-10 text-soft">{ORDINALS[voice]}</span>
                <span className="min-w-0 flex-1 truncate">{names || 'stays'}</span>
              </button>
            </li>
          );
        })}
      </ul>
    </div>
  );
};
