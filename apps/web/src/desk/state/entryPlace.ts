/** Where the next note goes, for those that draw it. */

import { entryLength } from '@crispfold/core';
import { createSelector } from '@reduxjs/toolkit';
import type { RootState } from './root.js';

import { selectArrangement } from './selectors.js';

/** The place and length in ticks; null while nothing is entered. */
export const selectEntryPlace: (state: RootState) => { readonly at: number; readonly length: number } | null =
  createSelector(
    ({ entering }: RootState) => entering.entry,
    (state: RootState) => selectArrangement(state).ppq,
    (entry, ppq) => entry && { at: entry.at, length: entryLength(entry.value, ppq) },
  );
