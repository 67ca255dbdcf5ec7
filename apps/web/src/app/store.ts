/** The Redux store. Arrangements are large immutable records, so the checks that walk all state are off. */
import { configureStore } from '@reduxjs/toolkit';
import { useDispatch, useSelector } from 'react-redux';
import { deskReducer } from '../features/desk/deskSlice.js';
import { rollReducer } from '../features/desk/roll/rollSlice.js';
import { libraryReducer } from '../features/library/librarySlice.js';

export const store = configureStore({
  reducer: { desk: deskReducer, roll: rollReducer, library: libraryReducer },
  middleware: (getDefault) => getDefault({ serializableCheck: false, immutableCheck: false }),
});

/** The whole state. */
export type RootState = ReturnType<typeof store.getState>;
/** Dispatch that knows thunks. */
export type AppDispatch = typeof store.dispatch;

export const useAppDispatch = useDispatch.withTypes<AppDispatch>();
export const useAppSelector = useSelector.withTypes<RootState>();
