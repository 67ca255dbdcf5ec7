/** Marks over the score moved on the page: by pointer, and from the Page panel; kinds that are locked stay. */

import { ENGRAVED_TENTH, nudgeEdit, nudgeOf, PAGE_MARK_NAMES, type PageMark } from '@crispfold/core';
import { type RefObject, useRef } from 'react';
import { useStore } from 'react-redux';
import { type AppDispatch, useAppDispatch } from '../../session/desk.js';
import { commit } from '../../session/saving.js';
import type { RootState } from '../../state/root.js';
import { selectArrangement } from '../../state/selectors.js';
import { hinted, said } from '../../state/speechSlice.js';

interface Moved {
  readonly x: number;
  readonly y: number;
}

const lockedInWords = (mark: PageMark): string => `Marks of this kind are locked: ${PAGE_MARK_NAMES[mark]}.`;

/** Moves a mark of a bar by so much, in tenths of a staff's space; `null` puts it back. */
export const moveMark =
  (bar: number, mark: PageMark, by: Moved | null) =>
  (dispatch: AppDispatch, getState: () => RootState): void => {
    const state = getState();
    const arrangement = selectArrangement(state);
    const partId = state.partsShown.frontPartId ?? arrangement.parts[0]?.id;
    if (partId === undefined) return;
    if (state.correcting.marksLocked.includes(mark)) {
      dispatch(said(lockedInWords(mark)));
      return;
    }
    const now = nudgeOf(arrangement, bar, mark);
    const to = by ? { x: now.x + by.x, y: now.y + by.y } : { x: 0, y: 0 };
    const edit = nudgeEdit(arrangement, partId, bar, mark, to);
    if (edit) dispatch(commit(edit));
    dispatch(said(edit?.label ?? `The ${PAGE_MARK_NAMES[mark]} of bar ${bar} stands in its own place.`));
  };

const MARKS: readonly (readonly [selector: string, mark: PageMark])[] = [
  ['g.tempo', 'tempo'],
  ['g.reh', 'rehearsal'],
  ['g.mNum', 'number'],
];

interface Drag {
  readonly group: SVGGElement;
  readonly bar: number;
  readonly mark: PageMark;
  /** Where the drag began, in pixels. */
  readonly fromX: number;
  readonly fromY: number;
  /** Pixels to a tenth of a staff's space. */
  readonly tenth: number;
  /** The transform that the group had. */
  readonly before: string;
}

const markUnder = (
  target: EventTarget,
): { readonly group: SVGGElement; readonly bar: number; readonly mark: PageMark } | null => {
  for (const [selector, mark] of MARKS) {
    const group = (target as Element).closest<SVGGElement>(selector);
    const bar = /^b(\d+)$/.exec(group?.closest('g.measure')?.id ?? '')?.[1];
    if (group && bar !== undefined) return { group, bar: Number(bar), mark };
  }
  return null;
};

/** The height of a tenth of a staff's space in the picture, in pixels. */
const tenthIn = (box: Element): number => {
  const lines = [...(box.querySelector('g.staff')?.querySelectorAll(':scope > path') ?? [])].map(
    (line) => line.getBoundingClientRect().top,
  );
  const height = Math.max(...lines) - Math.min(...lines);
  return height > 0 ? height / 40 : 1;
};

/** What the pointer does with marks of a picture; each handler answers true where it has done something. */
export const useMarkDrags = (box: RefObject<HTMLElement | null>) => {
  const dispatch = useAppDispatch();
  const { getState } = useStore<RootState>();
  const drag = useRef<Drag | null>(null);
  const by = (event: React.PointerEvent, { fromX, fromY, tenth }: Drag): Moved => ({
    x: Math.round((event.clientX - fromX) / tenth),
    y: -Math.round((event.clientY - fromY) / tenth),
  });
  return {
    onPointerDown: (event: React.PointerEvent): boolean => {
      const found = markUnder(event.target);
      if (!found || !box.current || event.button !== 0) return false;
      if (getState().correcting.marksLocked.includes(found.mark)) {
        dispatch(said(lockedInWords(found.mark)));
        return false;
      }
      event.currentTarget.setPointerCapture(event.pointerId);
      drag.current = {
        ...found,
        fromX: event.clientX,
        fromY: event.clientY,
        tenth: tenthIn(box.current),
        before: found.group.getAttribute('transform') ?? '',
      };
      return true;
    },
    onPointerMove: (event: React.PointerEvent): boolean => {
      const now = drag.current;
      if (now) {
        const { x, y } = by(event, now);
        now.group.setAttribute('transform', `${now.before} translate(${x * ENGRAVED_TENTH} ${-y * ENGRAVED_TENTH})`);
        return true;
      }
      const under = markUnder(event.target);
      if (!under) return false;
      const name = `${PAGE_MARK_NAMES[under.mark]} of bar ${under.bar}`;
      dispatch(
        hinted(
          getState().correcting.marksLocked.includes(under.mark)
            ? `The ${name}. Marks of this kind are locked.`
            : `The ${name}. Drag to move it; a double click puts it back.`,
        ),
      );
      return true;
    },
    onPointerUp: (event: React.PointerEvent): void => {
      const now = drag.current;
      drag.current = null;
      if (!now) return;
      const moved = by(event, now);
      if (moved.x === 0 && moved.y === 0) now.group.setAttribute('transform', now.before);
      else dispatch(moveMark(now.bar, now.mark, moved));
    },
    onPointerCancel: (): void => {
      drag.current?.group.setAttribute('transform', drag.current.before);
      drag.current = null;
    },
    onDoubleClick: (event: React.MouseEvent): void => {
      const under = markUnder(event.target);
      if (under) dispatch(moveMark(under.bar, under.mark, null));
    },
  };
};
