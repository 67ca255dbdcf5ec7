/** The open arrangement with its history. */
import type { OpenArrangement } from '@crispfold/contract';
import {
  type Arrangement,
  applyJournalEntry,
  EMPTY_HISTORY,
  type History,
  type HistoryEntry,
  type JournalEntry,
  type KeptEdit,
  withEdits,
  withOlderEntries,
  withoutFarEdits,
} from '@crispfold/core';
import type { PayloadAction } from '@reduxjs/toolkit';
import { plainSlice } from './plainSlice.js';

/** See the file's head. */
export interface PieceState {
  readonly id: string | null;
  readonly status: 'loading' | 'ready' | 'failed';
  readonly problem: string;
  readonly arrangement: Arrangement | null;
  readonly history: History;
}

/** An entry of the journal, and how the arrangement stands after it. */
export interface CarriedOut {
  readonly entry: JournalEntry;
  readonly arrangement: Arrangement;
  readonly history: History;
}

const initialState: PieceState = {
  id: null,
  status: 'loading',
  problem: '',
  arrangement: null,
  history: EMPTY_HISTORY,
};

/** Edits of the history that touch more notes than these together lie on disk alone, but for those near the pointer. */
const MOST_TOUCHED_AT_HAND = 600_000;

/** Carries an entry out; null where nothing is open. */
export const carriedOut = ({ arrangement, history }: PieceState, entry: JournalEntry): CarriedOut | null => {
  if (!arrangement) return null;
  const after = applyJournalEntry({ arrangement, history }, entry);
  return {
    entry,
    arrangement: after.arrangement,
    history: withoutFarEdits(after.history, MOST_TOUCHED_AT_HAND),
  };
};

const slice = plainSlice({
  name: 'piece',
  initialState,
  reducers: {
    opening: (_state, { payload }: PayloadAction<string>): PieceState => ({ ...initialState, id: payload }),
    opened: (state, { payload: { id, arrangement, history } }: PayloadAction<OpenArrangement>): PieceState => ({
      ...state,
      id,
      status: 'ready',
      arrangement,
      history,
    }),
    openFailed: (state, { payload }: PayloadAction<string>): PieceState => ({
      ...state,
      status: 'failed',
      problem: payload,
    }),
    entryMade: (state, { payload: { arrangement, history } }: PayloadAction<CarriedOut>): PieceState => ({
      ...state,
      arrangement,
      history,
    }),
    /** Entries of the history that lie before those at hand. */
    olderEntriesArrived: (state, { payload }: PayloadAction<readonly HistoryEntry[]>): PieceState => ({
      ...state,
      history: withOlderEntries(state.history, payload),
    }),
    /** Edits of entries that were at hand by name alone, from a place on. */
    editsArrived: (
      state,
      { payload }: PayloadAction<{ readonly from: number; readonly edits: readonly KeptEdit[] }>,
    ): PieceState => ({ ...state, history: withEdits(state.history, payload.from, payload.edits) }),
    /** Ticks are so many times finer: places that are kept go along. */
    ticksScaled: (state, _: PayloadAction<number>): PieceState => state,
  },
});

export const pieceActions = slice.actions;
export const pieceReducer = slice.reducer;
