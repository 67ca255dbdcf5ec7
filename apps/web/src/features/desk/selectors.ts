/** What screens ask of the Desk's state. */
import type { Arrangement, Part, PartId } from '@crispfold/core';
import { createSelector } from '@reduxjs/toolkit';
import type { RootState } from '../../app/store.js';
import type { DeskState } from './deskSlice.js';

export const selectDesk = (state: RootState): DeskState => state.desk;

/** The open arrangement; screens inside the Desk are shown only once there is one. */
export const selectArrangement = (state: RootState): Arrangement => state.desk.arrangement as Arrangement;

export const selectFrontPart = (state: RootState): Part | undefined =>
  state.desk.arrangement?.parts.find((part) => part.id === state.desk.frontPartId);

export const selectSelectionSet = createSelector(
  (state: RootState) => state.desk.selection,
  (selection) => new Set(selection),
);

/** Parts on view, the front part last so that it is drawn on top. */
export const selectShownParts = createSelector(
  (state: RootState) => state.desk.arrangement?.parts ?? [],
  (state: RootState) => state.desk.hidden,
  (state: RootState) => state.desk.frontPartId,
  (parts, hidden, front) => {
    const shown = parts.filter((part) => !hidden.includes(part.id));
    return [...shown.filter((part) => part.id !== front), ...shown.filter((part) => part.id === front)];
  },
);

/** Parts that are heard: not muted, and where any is soloed, only those. */
export const audibleParts = (state: Pick<DeskState, 'muted' | 'soloed'>, parts: readonly Part[]): PartId[] =>
  parts
    .map((part) => part.id)
    .filter((id) => !state.muted.includes(id) && (state.soloed.length === 0 || state.soloed.includes(id)));
