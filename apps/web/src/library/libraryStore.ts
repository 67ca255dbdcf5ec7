/** The library's part of the state, and how its screens get at it. */
import type { ThunkDispatch, UnknownAction } from '@reduxjs/toolkit';
import { useDispatch, useSelector } from 'react-redux';
import type { LibraryState } from './librarySlice.js';

/** The state that the library sees. */
export interface RootState {
  readonly library: LibraryState;
}

/** Dispatch that knows thunks. */
export type AppDispatch = ThunkDispatch<RootState, unknown, UnknownAction>;

export const useAppDispatch = useDispatch.withTypes<AppDispatch>();
export const useAppSelector = useSelector.withTypes<RootState>();
