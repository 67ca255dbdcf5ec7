/** Noteheads of engraved pictures: a click selects their notes, and selected ones are marked. */
import {
  isSelected,
  type NoteId,
  noteOfHead,
  type Override,
  type PartId,
  type Selection,
  selectionOf,
  sourceOfId,
  toggledIn,
} from '@crispfold/core';
import { type RefObject, useEffect } from 'react';
import { useStore } from 'react-redux';
import { type RootState, useAppSelector } from '../../../app/store.js';
import { deskActions } from '../deskSlice.js';
import { selectArrangement } from '../selectors.js';

/** Selects the note of the head that was clicked, or adds it, and brings its part forward. */
export const useChooseHead = (partIds: readonly PartId[]) => {
  const { dispatch, getState } = useStore<RootState>();
  return (target: EventTarget, adding: boolean): void => {
    const head = (target as Element).closest('g.note');
    const id = head ? noteOfHead(head.id) : undefined;
    if (id === undefined) return;
    // A note that a step of the plan made stands for the Played note it came from.
    const played = sourceOfId(id);
    const part = selectArrangement(getState()).parts.find(
      (own) => partIds.includes(own.id) && own.notes.some((note) => note.id === played),
    );
    if (!part) return;
    const own = selectionOf(part.id, [played]);
    dispatch(deskActions.partBroughtForward(part.id));
    dispatch(deskActions.selected(adding ? toggledIn(getState().desk.selection, own) : own));
  };
};

const knownCorrected = new WeakMap<readonly Override[], ReadonlySet<NoteId>>();

/** The notes that some corrections are of; once for each list, which a score read in makes long. */
const correctedIn = (list: readonly Override[]): ReadonlySet<NoteId> => {
  let known = knownCorrected.get(list);
  if (!known) {
    known = new Set(list.flatMap((own) => ('noteId' in own ? [own.noteId] : [])));
    knownCorrected.set(list, known);
  }
  return known;
};

/** Marks the heads that a person corrected, quietly. */
const useCorrectedMarks = (box: RefObject<HTMLElement | null>, svg: string, partIds: readonly PartId[]): void => {
  const parts = useAppSelector(({ desk }) => desk.arrangement?.parts);
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
