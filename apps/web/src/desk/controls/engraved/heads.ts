/** Noteheads of engraved pictures: a click selects their notes, and selected ones are marked. */

import {
  isSelected,
  type Note,
  type NoteId,
  noteOfHead,
  type Override,
  type PartId,
  type Selection,
  selectionOf,
  sourceOfId,
  toggledIn,
} from '@crispfold/core';
import { createSelector } from '@reduxjs/toolkit';
import { type RefObject, useEffect } from 'react';
import { useStore } from 'react-redux';
import { perObject } from '../../../ui/perObject.js';
import { noteSpoken } from '../../state/noteSpoken.js';
import { partsShownActions } from '../../state/partsShownSlice.js';
import { type RootState, useAppSelector } from '../../state/root.js';
import { selectingActions } from '../../state/selectingSlice.js';
import { selectArrangement, selectShownParts } from '../../state/selectors.js';
import { hinted } from '../../state/speechSlice.js';

/** The Played note of the head that something in a picture belongs to. */
const noteUnder = (target: EventTarget, partIds: readonly PartId[], state: RootState) => {
  const head = (target as Element).closest('g.note');
  const id = head ? noteOfHead(head.id) : undefined;
  if (id === undefined) return undefined;
  // A note that a step of the plan made stands for the Played note it came from.
  const played = sourceOfId(id);
  for (const part of selectArrangement(state).parts) {
    const note = partIds.includes(part.id) ? part.notes.find((own) => own.id === played) : undefined;
    if (note) return { part, note };
  }
  return undefined;
};

/** Selects the note of the head that was clicked, or adds it, and brings its part forward. */
export const useChooseHead = (partIds: readonly PartId[]) => {
  const { dispatch, getState } = useStore<RootState>();
  return (target: EventTarget, adding: boolean): void => {
    const found = noteUnder(target, partIds, getState());
    if (!found) return;
    const { part, note } = found;
    const own = selectionOf(part.id, [note.id]);
    dispatch(partsShownActions.partBroughtForward(part.id));
    dispatch(selectingActions.selected(adding ? toggledIn(getState().selecting.selection, own) : own));
  };
};

/** Says which note the head under the pointer is, before it is clicked. */
export const useHeadHint = (partIds: readonly PartId[]) => {
  const { dispatch, getState } = useStore<RootState>();
  return (target: EventTarget): void => {
    const state = getState();
    const found = noteUnder(target, partIds, state);
    const words = found && noteSpoken(state, found.part, found.note);
    dispatch(hinted(words ? `${words}. Click to select it.` : ''));
  };
};

/** The notes that some corrections are of; once for each list, which a score read in makes long. */
const correctedIn = perObject(
  (list: readonly Override[]): ReadonlySet<NoteId> =>
    new Set(list.flatMap((own) => ('noteId' in own ? [own.noteId] : []))),
);

const heldIn = perObject(
  (list: readonly Override[]): ReadonlySet<NoteId> =>
    new Set(list.flatMap((own) => (own.kind === 'held' ? [own.noteId] : []))),
);

/** The notes of shown parts whose page is held. */
export const selectHeldNotes: (state: RootState) => readonly Note[] = createSelector(selectShownParts, (parts) =>
  parts.flatMap(({ notes, overrides }) => {
    const held = heldIn(overrides?.list ?? []);
    return held.size === 0 ? [] : notes.filter(({ id }) => held.has(id));
  }),
);

/** Marks the heads that a person corrected, quietly. */
const useCorrectedMarks = (box: RefObject<HTMLElement | null>, svg: string, partIds: readonly PartId[]): void => {
  const parts = useAppSelector(({ piece }) => piece.arrangement?.parts);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new picture needs its marks again
  useEffect(() => {
    if (!box.current) return;
    for (const head of box.current.querySelectorAll('g.note.corrected')) head.classList.remove('corrected');
    const lists = (parts ?? []).flatMap(({ id, overrides }) =>
      overrides && partIds.includes(id) ? [overrides.list] : [],
    );
    const corrected = lists.map(correctedIn).filter(({ size }) => size > 0);
    if (corrected.length === 0) return;
    for (const head of box.current.querySelectorAll('g.note')) {
      const id = noteOfHead(head.id);
      if (id !== undefined && corrected.some((own) => own.has(id))) head.classList.add('corrected');
    }
  }, [svg, parts]);
};

/** Marks the heads of selected notes in a picture, and those that a person corrected. */
export const useMarks = (
  box: RefObject<HTMLElement | null>,
  svg: string,
  selection: Selection,
  partIds: readonly PartId[],
): void => {
  useCorrectedMarks(box, svg, partIds);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new picture needs its marks again
  useEffect(() => {
    if (!box.current) return;
    for (const head of box.current.querySelectorAll('g.note.chosen')) head.classList.remove('chosen');
    if (!partIds.some((id) => selection.has(id))) return;
    for (const head of box.current.querySelectorAll('g.note')) {
      const id = noteOfHead(head.id);
      if (id !== undefined && partIds.some((partId) => isSelected(selection, partId, sourceOfId(id)))) {
        head.classList.add('chosen');
      }
    }
  }, [svg, selection]);
};
