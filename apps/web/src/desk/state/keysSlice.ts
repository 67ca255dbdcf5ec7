/** A person's own keys, the list of one's own, and which list a key has opened. */
import type { PayloadAction } from '@reduxjs/toolkit';
import type { ListId } from './keyTable.js';
import type { OwnKeys } from './ownKeys.js';
import type { OwnRow } from './ownList.js';
import { plainSlice } from './plainSlice.js';

/** See the file's head. */
export interface KeysState {
  readonly own: OwnKeys;
  readonly rows: readonly OwnRow[];
  /** The list that is open; null for none. */
  readonly list: ListId | null;
}

const slice = plainSlice({
  name: 'keys',
  initialState: { own: {}, rows: [], list: null } as KeysState,
  reducers: {
    keysGiven: (state, { payload }: PayloadAction<OwnKeys>): KeysState => ({ ...state, own: payload }),
    rowsSet: (state, { payload }: PayloadAction<readonly OwnRow[]>): KeysState => ({ ...state, rows: payload }),
    listOpened: (state, { payload }: PayloadAction<ListId | null>): KeysState => ({ ...state, list: payload }),
  },
});

export const keysActions = slice.actions;
export const keysReducer = slice.reducer;
