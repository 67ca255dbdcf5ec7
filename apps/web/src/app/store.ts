/** The Redux store. Arrangements are large immutable records, so the checks that walk all state are off. */
import { configureStore } from '@reduxjs/toolkit';
import { deskReducer } from '../desk/state/deskSlice.js';
import { rollReducer } from '../desk/state/rollSlice.js';
import { libraryReducer } from '../library/librarySlice.js';

export const store = configureStore({
  reducer: { desk: deskReducer, roll: rollReducer, library: libraryReducer },
  middleware: (getDefault) => getDefault({ serializableCheck: false, immutableCheck: false }),
});
