/** What screens ask of the Desk's state. */

import {
  type Arrangement,
  type Doubt,
  intersectionOf,
  isSelected,
  type Note,
  type Part,
  type PartId,
  type Selection,
  selectedNotes,
  selectionAmong,
} from '@crispfold/core';
import { createSelector } from '@reduxjs/toolkit';
import { perObject } from '../../ui/perObject.js';
import { gridFraction } from './editingSlice.js';
import type { PartsShownState } from './partsShownSlice.js';
import type { RootState } from './root.js';

/** The open arrangement; screens inside the Desk are shown only once there is one. */
export const selectArrangement = (state: RootState): Arrangement => state.piece.arrangement as Arrangement;

export const selectFrontPart = (state: RootState): Part | undefined =>
  state.piece.arrangement?.parts.find((part) => part.id === state.partsShown.frontPartId);

/** One step of the grid in ticks, whether it is snapped to or not. */
export const gridTicks = ({ editing: { grid }, piece: { arrangement } }: RootState): number =>
  gridFraction(grid) * 4 * (arrangement?.ppq ?? 480);

/** Parts that can be edited: shown, and not locked. */
export const selectOpenParts: (state: RootState) => readonly Part[] = createSelector(
  (state: RootState) => state.piece.arrangement?.parts,
  (state: RootState) => state.partsShown.hidden,
  (state: RootState) => state.partsShown.locked,
  (parts = [], hidden, locked) => parts.filter(({ id }) => !hidden.includes(id) && !locked.includes(id)),
);

/** The notes that alone can be picked and edited: those shown alone, those brought forward; null is all. */
export const selectWithin: (state: RootState) => Selection | null = createSelector(
  (state: RootState) => state.selecting.onlyShown,
  (state: RootState) => state.selecting.forwardNotes,
  (only, forward) => (only && forward ? intersectionOf(only, forward) : (only ?? forward)),
);

const seenAmong = perObject(
  (part: Part, only: Selection): Part => ({
    ...part,
    notes: part.notes.filter((note) => isSelected(only, part.id, note.id)),
  }),
);

/** A part with those of its notes that are seen. */
export const seenOf = (part: Part, only: Selection | null): Part => (only ? seenAmong(part, only) : part);

/** Their ids; the same set for the same parts. */
export const selectOpenIds: (state: RootState) => ReadonlySet<PartId> = createSelector(
  (state: RootState) =>
    selectOpenParts(state)
      .map((part) => part.id)
      .join(),
  (ids) => new Set(ids === '' ? [] : ids.split(',').map(Number)),
);

/** The parts in reach of a click, a box and the commands that select: the front part, or all, where they can be edited. */
export const selectReached: (state: RootState) => readonly Part[] = createSelector(
  selectOpenParts,
  (state: RootState) => state.selecting.reach,
  (state: RootState) => state.partsShown.frontPartId,
  selectWithin,
  (open, reach, front, only) =>
    (reach === 'all' ? open : open.filter((part) => part.id === front)).map((part) => seenOf(part, only)),
);

/** What commands act on: what is selected in parts that can be edited. Notes of the others stay selected, and untouched. */
export const selectEditable: (state: RootState) => Selection = createSelector(
  (state: RootState) => state.selecting.selection,
  selectOpenIds,
  selectWithin,
  (selection, open, only) => {
    const among = selectionAmong(selection, open);
    return only ? intersectionOf(among, only) : among;
  },
);

/** The selected notes of shown parts, part by part. */
export const selectedOnView = (state: RootState): Note[] => {
  const selection = selectEditable(state);
  return (state.piece.arrangement?.parts ?? []).flatMap((part) => selectedNotes(selection, part));
};

/** The first selected note of a shown part, the front part's before others, with its part. */
export const selectFirstSelected: (state: RootState) => { readonly part: Part; readonly note: Note } | undefined =
  createSelector(
    selectEditable,
    (state: RootState) => state.piece.arrangement?.parts ?? [],
    (state: RootState) => state.partsShown.frontPartId,
    (selection, parts, front) => {
      const inTurn = [...parts].sort((a, b) => Number(b.id === front) - Number(a.id === front));
      for (const part of inTurn) {
        const ids = selection.get(part.id);
        const note = ids && part.notes.find((candidate) => ids.has(candidate.id));
        if (note) return { part, note };
      }
      return undefined;
    },
  );

/**
 * The starts that the last quantize could have put on another line, as they stand: those whose note still begins on one of
 * the two lines, `now` being the one it is on. An undo of the quantize ends the walk, a redo brings it back.
 */
export const selectDoubts: (state: RootState) => readonly Doubt[] = createSelector(
  (state: RootState) => state.stepping.doubts,
  (state: RootState) => state.piece.arrangement?.parts ?? [],
  (doubts, parts) => {
    if (doubts.length === 0) return doubts;
    const onsets = new Map(
      parts
        .filter(({ id }) => doubts.some(({ partId }) => partId === id))
        .map(({ id, notes }) => [id, new Map(notes.map((note) => [note.id, note.onset]))]),
    );
    return doubts.flatMap((doubt) => {
      const onset = onsets.get(doubt.partId)?.get(doubt.noteId);
      if (onset === doubt.now) return [doubt];
      return onset === doubt.other ? [{ ...doubt, now: doubt.other, other: doubt.now }] : [];
    });
  },
);

/** Parts on view, the front part last so that it is drawn on top. */
export const selectShownParts = createSelector(
  (state: RootState) => state.piece.arrangement?.parts ?? [],
  (state: RootState) => state.partsShown.hidden,
  (state: RootState) => state.partsShown.frontPartId,
  (parts, hidden, front) => {
    const shown = parts.filter((part) => !hidden.includes(part.id));
    return [...shown.filter((part) => part.id !== front), ...shown.filter((part) => part.id === front)];
  },
);

/** Parts that the page and the score view show, in their own order: those shown, or the front part alone. */
export const selectPageParts: (state: RootState) => readonly PartId[] = createSelector(
  (state: RootState) => state.piece.arrangement?.parts ?? [],
  selectShownParts,
  (state: RootState) => state.partsShown.frontPartId,
  (state: RootState) => state.layout.pageOfFrontOnly,
  (parts, shown, front, frontOnly) => {
    const wanted = new Set(frontOnly ? [front] : shown.map(({ id }) => id));
    return parts.map(({ id }) => id).filter((id) => wanted.has(id));
  },
);

/** Parts that are heard: not muted, and where any is soloed, only those. */
export const audibleParts = (state: Pick<PartsShownState, 'muted' | 'soloed'>, parts: readonly Part[]): PartId[] =>
  parts
    .map((part) => part.id)
    .filter((id) => !state.muted.includes(id) && (state.soloed.length === 0 || state.soloed.includes(id)));
