/** The library's store, and how its screens get at it. */
import { configureStore } from '@reduxjs/toolkit';
import { useDispatch, useSelector } from 'react-redux';
import { libraryReducer } from './librarySlice.js';

export const createLibraryStore = () => configureStore({ reducer: { library: libraryReducer } });

type LibraryStore = ReturnType<typeof createLibraryStore>;

export const useAppDispatch = useDispatch.withTypes<LibraryStore['dispatch']>();
export const useAppSelector = useSelector.withTypes<ReturnType<LibraryStore['getState']>>();
