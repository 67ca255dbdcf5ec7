/** How the work stands on disk. */
import type { PayloadAction } from '@reduxjs/toolkit';
import { pieceActions } from './pieceSlice.js';
import { plainSlice, when } from './plainSlice.js';

/** How the work stands on disk. */
export type SaveState = 'saved' | 'saving' | 'waiting' | 'elsewhere' | 'refused' | 'inTheBin';

/** See the file's head. */
export interface SavingState {
  readonly saveState: SaveState;
  /** What the server would not take, and why, while the person has not decided. */
  readonly refused: { readonly label: string; readonly reason: string } | null;
  /** Changes of an earlier visit that did not reach the server: how many, and since when (ISO 8601). */
  readonly unsent: { readonly count: number; readonly at: string } | null;
}

const initialState: SavingState = { saveState: 'saved', refused: null, unsent: null };

const slice = plainSlice(
  {
    name: 'saving',
    initialState,
    reducers: {
      saveStateChanged: (state, { payload }: PayloadAction<SaveState>): SavingState =>
        state.saveState === payload ? state : { ...state, saveState: payload },
      unsentFound: (state, { payload }: PayloadAction<SavingState['unsent']>): SavingState => ({
        ...state,
        unsent: payload,
      }),
      changeRefused: (state, { payload }: PayloadAction<SavingState['refused']>): SavingState => ({
        ...state,
        refused: payload,
        saveState: payload ? 'refused' : state.saveState,
      }),
    },
  },
  [when(pieceActions.opened, (state) => ({ ...state, saveState: 'saved' as const, refused: null }))],
);

export const savingActions = slice.actions;
export const savingReducer = slice.reducer;
