/** Note by note on the page: where the next note goes, and what a click would enter there. */

import {
  type Arrangement,
  barPosition,
  type Entry,
  entryLength,
  lengthInWords,
  type PagePlaces,
  type PartId,
  percussionSound,
  pitchName,
  pitchPointedAt,
  rescaleTicks,
  WRITTEN_PPQ,
} from '@crispfold/core';
import { type RefObject, useEffect, useMemo, useState } from 'react';
import { useStore } from 'react-redux';
import { enter } from '../actions/entering.js';
import { type BarBox, barUnder, measured, placeAt, stepAt, xOf, yOf } from '../controls/engraved/pointing.js';
import { useAppDispatch } from '../session/desk.js';
import { enteringActions } from '../state/enteringSlice.js';
import { selectMeterMap } from '../state/maps.js';
import { partsShownActions } from '../state/partsShownSlice.js';
import { type RootState, useAppSelector } from '../state/root.js';
import { selectArrangement } from '../state/selectors.js';
import { hinted } from '../state/speechSlice.js';

/** What a click would enter. */
interface Aim {
  readonly box: BarBox;
  readonly partId: PartId;
  /** In ticks. */
  readonly at: number;
  readonly x: number;
  readonly step: number;
  readonly pitch: number;
}

const isUsable = (state: RootState, partId: PartId): boolean => !state.partsShown.locked.includes(partId);

const aimAt = (state: RootState, entry: Entry, boxes: readonly BarBox[], x: number, y: number): Aim | null => {
  const box = barUnder(boxes, x, y);
  if (!box || !isUsable(state, box.staff.partId)) return null;
  const { ppq, parts } = selectArrangement(state);
  const unit = Math.max(1, rescaleTicks(entryLength(entry.value, ppq), ppq, WRITTEN_PPQ));
  const place = placeAt(box, x, unit);
  const step = stepAt(box, y);
  const part = parts.find(({ id }) => id === box.staff.partId);
  const used = new Set(box.staff.percussion ? part?.notes.map(({ pitch }) => pitch) : []);
  const pitch = pitchPointedAt(box.staff, box.bar, step, place, used);
  if (pitch === null) return null;
  const at = Math.round(rescaleTicks(place, WRITTEN_PPQ, ppq));
  return { box, partId: box.staff.partId, at, x: xOf(box, place), step, pitch };
};

const aimInWords = (state: RootState, entry: Entry, { partId, at, pitch, box }: Aim): string => {
  const arrangement = selectArrangement(state);
  const part = arrangement.parts.find(({ id }) => id === partId);
  const { bar, beat, tick } = barPosition(selectMeterMap(state), arrangement.ppq, at);
  const name = box.staff.percussion ? percussionSound(pitch, box.staff.percussion).name : pitchName(pitch);
  const value = lengthInWords(entryLength(entry.value, arrangement.ppq), arrangement.ppq);
  const where = `bar ${bar} beat ${beat}${tick > 0 ? `, ${tick} ticks` : ''}`;
  return `${part?.name}: ${name}, ${where}, ${value}. A click enters it; with Shift it joins the note before.`;
};

/** The bars of a picture, measured while notes are entered, again where the picture has another size. */
const useBoxes = (
  box: RefObject<HTMLElement | null>,
  svg: string,
  places: PagePlaces | null,
  on: boolean,
): readonly BarBox[] => {
  const [boxes, setBoxes] = useState<readonly BarBox[]>([]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new picture is measured anew
  useEffect(() => {
    const element = box.current;
    if (!on || !element || !places) {
      setBoxes([]);
      return undefined;
    }
    const measure = () => setBoxes(measured(element, places));
    const observer = new ResizeObserver(measure);
    observer.observe(element);
    measure();
    return () => observer.disconnect();
  }, [box, svg, places, on]);
  return boxes;
};

/** How notes are entered on the page by pointer: what its pointer events do, and what lies over the picture. */
export const usePageEntry = (box: RefObject<HTMLElement | null>, svg: string, places: PagePlaces | null) => {
  const dispatch = useAppDispatch();
  const { getState } = useStore<RootState>();
  const entry = useAppSelector(({ entering }) => entering.entry);
  const on = entry !== null;
  const boxes = useBoxes(box, svg, places, on);
  const [aim, setAim] = useState<Aim | null>(null);
  // What a click would enter is no longer so when entry ends.
  useEffect(() => (on ? () => void dispatch(hinted('')) : undefined), [on, dispatch]);
  const aimOf = (event: React.PointerEvent | React.MouseEvent): Aim | null => {
    const origin = box.current?.getBoundingClientRect();
    if (!entry || !origin) return null;
    return aimAt(getState(), entry, boxes, event.clientX - origin.left, event.clientY - origin.top);
  };
  return {
    on,
    onPointerMove: (event: React.PointerEvent) => {
      const next = aimOf(event);
      setAim(next);
      if (entry) dispatch(hinted(next ? aimInWords(getState(), entry, next) : ''));
    },
    onPointerLeave: () => {
      setAim(null);
      if (on) dispatch(hinted(''));
    },
    /** True where something was entered. */
    onClick: (event: React.MouseEvent): boolean => {
      const next = aimOf(event);
      if (!entry || !next) return false;
      if (!event.shiftKey) {
        dispatch(partsShownActions.partBroughtForward(next.partId));
        dispatch(
          enteringActions.entrySet({
            ...entry,
            partId: next.partId,
            staff: next.box.staff.staff,
            at: next.at,
            last: null,
          }),
        );
      }
      dispatch(enter([{ pitch: next.pitch }], event.shiftKey));
      return true;
    },
    over: entry && <EntryMarks entry={entry} boxes={boxes} aim={aim} />,
  };
};

const caretIn = (boxes: readonly BarBox[], { partId, at }: Entry, { ppq }: Pick<Arrangement, 'ppq'>) => {
  const place = rescaleTicks(at, ppq, WRITTEN_PPQ);
  const own = boxes.filter(({ staff, bar }) => staff.partId === partId && place >= bar.start && place < bar.end);
  const [first] = own;
  return first && { x: xOf(first, place), top: first.top, bottom: (own[own.length - 1] as BarBox).bottom };
};

const EntryMarks = ({ entry, boxes, aim }: { entry: Entry; boxes: readonly BarBox[]; aim: Aim | null }) => {
  const arrangement = useAppSelector(selectArrangement);
  const caret = useMemo(() => caretIn(boxes, entry, arrangement), [boxes, entry, arrangement]);
  return (
    <>
      {caret && (
        <span
          role="img"
          aria-label="Where the next note is entered"
          className="pointer-events-none absolute w-[3px] bg-fold opacity-80"
          style={{ left: caret.x - 3, top: caret.top - 10, height: caret.bottom - caret.top + 20 }}
        />
      )}
      {aim && (
        <svg className="pointer-events-none absolute inset-0 h-full w-full overflow-visible" aria-hidden="true">
          <AimedNote aim={aim} />
        </svg>
      )}
    </>
  );
};

const AimedNote = ({ aim: { box, step, x } }: { aim: Aim }) => {
  const space = (box.bottom - box.top) / 4;
  // Ledger lines lead to a head beyond the staff.
  const ledgers: number[] = [];
  for (let line = 10; line <= step; line += 2) ledgers.push(line);
  for (let line = -2; line >= step; line -= 2) ledgers.push(line);
  return (
    <g className="fill-fold stroke-fold" opacity={0.7}>
      {ledgers.map((line) => (
        <line key={line} x1={x - space * 0.4} x2={x + space * 1.6} y1={yOf(box, line)} y2={yOf(box, line)} />
      ))}
      <ellipse cx={x + space * 0.6} cy={yOf(box, step)} rx={space * 0.62} ry={space * 0.46} />
    </g>
  );
};
