/** What is selected, and what a hand can pick. */
import {
  type KeptEdit,
  mapSelection,
  NOTHING,
  type Part,
  type Selection,
  selectionOf,
  selectionWithin,
  unionOf,
} from '@crispfold/core';
import type { PayloadAction } from '@reduxjs/toolkit';
import type { Forward, ForwardFound } from './forward.js';
import { type CarriedOut, pieceActions } from './pieceSlice.js';
import { plainSlice, when } from './plainSlice.js';
import { switched } from './switched.js';

/** Which parts a hand can reach. */
export type Reach = 'front' | 'all';

/** See the file's head. */
export interface SelectingState {
  /** What a click, a box and "select all" can pick: notes of the front part, or of all shown parts. */
  readonly reach: Reach;
  /** True while every click and box adds to the selection or takes away from it, as Shift does. */
  readonly adding: boolean;
  /** Selected notes by part, whatever part is in front. */
  readonly selection: Selection;
  /** While set, these notes alone are seen and edited. */
  readonly onlyShown: Selection | null;
  /** One voice or staff that is brought forward, in all parts; null is none. */
  readonly forward: Forward | null;
  /** Its notes, as far as their layers are known. */
  readonly forwardNotes: Selection | null;
}

const initialState: SelectingState = {
  reach: 'front',
  adding: false,
  selection: NOTHING,
  onlyShown: null,
  forward: null,
  forwardNotes: null,
};

/** A selection with all notes that an Edit adds. */
const withAdded = (selection: Selection, edit: KeptEdit): Selection =>
  edit.changes.reduce(
    (all, change) =>
      change.kind === 'notes' && change.added.length > 0
        ? unionOf(
            all,
            selectionOf(
              change.partId,
              change.added.map(({ id }) => id),
            ),
          )
        : all,
    selection,
  );

const afterEntry = (state: SelectingState, { entry, arrangement }: CarriedOut): SelectingState => {
  // A new Edit says what becomes of each note; going back by many entries is looked through at its end.
  const selection =
    entry.kind === 'edit' ? mapSelection(state.selection, entry.edit) : selectionWithin(state.selection, arrangement);
  // Of notes that are seen or reached alone, what is made from them is too, and what goes is not missed.
  const mapped = (notes: Selection | null): Selection | null =>
    notes && entry.kind === 'edit' ? withAdded(mapSelection(notes, entry.edit), entry.edit) : notes;
  return { ...state, selection, onlyShown: mapped(state.onlyShown), forwardNotes: mapped(state.forwardNotes) };
};

const slice = plainSlice(
  {
    name: 'selecting',
    initialState,
    reducers: {
      selected: (state, { payload }: PayloadAction<Selection>): SelectingState => ({ ...state, selection: payload }),
      reachTurned: (state): SelectingState => ({ ...state, reach: state.reach === 'front' ? 'all' : 'front' }),
      reachSet: (state, { payload }: PayloadAction<Reach>): SelectingState => ({ ...state, reach: payload }),
      onlyTheseShown: (state, { payload }: PayloadAction<Selection | null>): SelectingState => ({
        ...state,
        onlyShown: payload,
      }),
      broughtForward: (state, { payload }: PayloadAction<Forward | null>): SelectingState => ({
        ...state,
        forward: payload,
        forwardNotes: null,
      }),
      /**
       * What the page of `parts` says is forward. It has no muted notes, and until it is made anew none that came unmuted:
       * notes it says nothing of stay as they were.
       */
      forwardFound: (
        state,
        { payload: { found, onPage, parts } }: PayloadAction<ForwardFound & { readonly parts: readonly Part[] }>,
      ): SelectingState => {
        const unsaid = parts.map(({ id: partId, notes }) => {
          const [before, said] = [state.forwardNotes?.get(partId), onPage.get(partId)];
          const own = before ? notes.filter(({ id }) => before.has(id) && !said?.has(id)) : [];
          return selectionOf(
            partId,
            own.map(({ id }) => id),
          );
        });
        return { ...state, forwardNotes: unsaid.reduce(unionOf, found) };
      },
    },
  },
  [
    when(pieceActions.opened, (state, { arrangement }) => ({
      ...state,
      selection: selectionWithin(state.selection, arrangement),
    })),
    when(pieceActions.entryMade, afterEntry),
    when(switched, (state, what) => (what === 'adding' ? { ...state, adding: !state.adding } : state)),
  ],
);

export const selectingActions = slice.actions;
export const selectingReducer = slice.reducer;
