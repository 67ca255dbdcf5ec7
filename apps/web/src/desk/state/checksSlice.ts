/** The findings: what the checks noticed, which of it is listed, and which is chosen. */
import type { Finding, FindingKind, PartId } from '@crispfold/core';
import type { PayloadAction } from '@reduxjs/toolkit';
import { plainSlice } from './plainSlice.js';

/** See the file's head. */
export interface ChecksState {
  /** All findings of the open arrangement, dismissed ones too. */
  readonly all: readonly Finding[];
  /** False from the opening of an arrangement until the checks have run a first time. */
  readonly ran: boolean;
  /** The finding in hand, by its key and part. */
  readonly chosenFinding: { readonly key: string; readonly partId: PartId } | null;
  /** Filters of the list; null is all. */
  readonly findingPart: PartId | null;
  readonly findingKind: FindingKind | null;
}

const initialState: ChecksState = { all: [], ran: false, chosenFinding: null, findingPart: null, findingKind: null };

const slice = plainSlice({
  name: 'checks',
  initialState,
  reducers: {
    /** The checks begin anew. */
    checksBegun: (state): ChecksState => ({ ...state, ran: false }),
    /** The checks have run. */
    noticed: (state, { payload }: PayloadAction<readonly Finding[]>): ChecksState => ({
      ...state,
      all: payload,
      ran: true,
    }),
    findingChosen: (state, { payload }: PayloadAction<ChecksState['chosenFinding']>): ChecksState => ({
      ...state,
      chosenFinding: payload,
    }),
    findingPartChosen: (state, { payload }: PayloadAction<PartId | null>): ChecksState => ({
      ...state,
      findingPart: payload,
    }),
    findingKindChosen: (state, { payload }: PayloadAction<FindingKind | null>): ChecksState => ({
      ...state,
      findingKind: payload,
    }),
  },
});

export const checksActions = slice.actions;
export const checksReducer = slice.reducer;
