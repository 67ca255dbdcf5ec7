/** State of the library: its lines and how they stand. */
import type { LibraryItem } from '@crispfold/contract';
import { createAsyncThunk, createSlice } from '@reduxjs/toolkit';
import { api } from '../browser/api.js';

/** The lines of the library, and whether they are here. */
export interface LibraryState {
  readonly items: readonly LibraryItem[];
  readonly status: 'loading' | 'ready' | 'failed';
  readonly problem: string;
}

export const loadLibrary = createAsyncThunk('library/load', () => api.list());

const initialState: LibraryState = { items: [], status: 'loading', problem: '' };

const slice = createSlice({
  name: 'library',
  initialState,
  reducers: {},
  extraReducers: (builder) => {
    builder
      .addCase(loadLibrary.fulfilled, (_state, { payload }) => ({
        items: payload,
        status: 'ready' as const,
        problem: '',
      }))
      .addCase(loadLibrary.rejected, (state, { error }) => ({
        ...state,
        status: 'failed' as const,
        problem: error.message ?? '',
      }));
  },
});

export const libraryReducer = slice.reducer;
