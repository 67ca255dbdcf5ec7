/** What screens ask of the roll's window. */
import { lastTick } from '@crispfold/core';
import { createSelector } from '@reduxjs/toolkit';
import type { RootState } from '../../../app/store.js';
import { createRows, type RollView, type Rows } from './rollView.js';

export const selectView = (state: RootState): RollView => state.roll;

/** Rows of the roll: all, or those that a part on view uses. */
export const selectRows: (state: RootState) => Rows = createSelector(
  (state: RootState) => state.desk.arrangement?.parts ?? [],
  (state: RootState) => state.desk.hidden,
  (state: RootState) => state.desk.usedRowsOnly,
  (parts, hidden, usedOnly) => {
    if (!usedOnly) return createRows(null);
    const used = new Set<number>();
    for (const part of parts) if (!hidden.includes(part.id)) for (const note of part.notes) used.add(note.pitch);
    return createRows(used.size > 0 ? used : null);
  },
);

/** The last tick of the music, at least one quarter. */
export const selectEndTick: (state: RootState) => number = createSelector(
  (state: RootState) => state.desk.arrangement,
  (arrangement) => (arrangement ? Math.max(arrangement.ppq, lastTick(arrangement.parts)) : 480),
);
