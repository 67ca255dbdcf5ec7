/** How the Desk's work is set going: plain actions, and thunks over the whole state. */
import type { ThunkDispatch, UnknownAction } from '@reduxjs/toolkit';
import { useDispatch } from 'react-redux';
import type { RootState } from '../state/root.js';

/** Dispatch that knows thunks. */
export type AppDispatch = ThunkDispatch<RootState, unknown, UnknownAction>;

export const useAppDispatch = useDispatch.withTypes<AppDispatch>();
