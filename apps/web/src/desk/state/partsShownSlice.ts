/** Which part is in front, and which are shown, open and heard. */
import type { Arrangement, PartId } from '@crispfold/core';
import type { PayloadAction } from '@reduxjs/toolkit';
import { toggled } from './lists.js';
import { pieceActions } from './pieceSlice.js';
import { plainSlice, when } from './plainSlice.js';

/** See the file's head. */
export interface PartsShownState {
  readonly frontPartId: PartId | null;
  readonly hidden: readonly PartId[];
  /** Parts that are seen and heard, and not edited. */
  readonly locked: readonly PartId[];
  readonly muted: readonly PartId[];
  readonly soloed: readonly PartId[];
}

const initialState: PartsShownState = { frontPartId: null, hidden: [], locked: [], muted: [], soloed: [] };

/** After parts may have gone, the front part is one that there is. */
const withFront = (state: PartsShownState, { parts }: Arrangement): PartsShownState => {
  const front = parts.find((part) => part.id === state.frontPartId) ?? parts[0];
  const frontPartId = front?.id ?? null;
  return frontPartId === state.frontPartId ? state : { ...state, frontPartId };
};

const slice = plainSlice(
  {
    name: 'partsShown',
    initialState,
    reducers: {
      partBroughtForward: (state, { payload }: PayloadAction<PartId>): PartsShownState => ({
        ...state,
        frontPartId: payload,
        hidden: state.hidden.filter((id) => id !== payload),
      }),
      partHiddenToggled: (state, { payload }: PayloadAction<PartId>): PartsShownState => ({
        ...state,
        hidden: toggled(state.hidden, payload),
      }),
      /** Several parts shown or hidden in one sweep. */
      partsHidden: (
        state,
        { payload }: PayloadAction<{ ids: readonly PartId[]; hidden: boolean }>,
      ): PartsShownState => ({
        ...state,
        hidden: payload.hidden
          ? [...new Set([...state.hidden, ...payload.ids])]
          : state.hidden.filter((id) => !payload.ids.includes(id)),
      }),
      /** One of `all` alone is shown; where it is already, all are. */
      partAloneToggled: (
        state,
        { payload: { id, all } }: PayloadAction<{ readonly id: PartId; readonly all: readonly PartId[] }>,
      ): PartsShownState => {
        const others = all.filter((other) => other !== id);
        const alone =
          others.length > 0 && others.every((other) => state.hidden.includes(other)) && !state.hidden.includes(id);
        return { ...state, hidden: alone ? [] : others, frontPartId: id };
      },
      partLockToggled: (state, { payload }: PayloadAction<PartId>): PartsShownState => ({
        ...state,
        locked: toggled(state.locked, payload),
      }),
      partMuteToggled: (state, { payload }: PayloadAction<PartId>): PartsShownState => ({
        ...state,
        muted: toggled(state.muted, payload),
      }),
      partSoloToggled: (state, { payload }: PayloadAction<PartId>): PartsShownState => ({
        ...state,
        soloed: toggled(state.soloed, payload),
      }),
      /** As they were left. */
      partsLeftAs: (_state, { payload }: PayloadAction<PartsShownState>): PartsShownState => payload,
    },
  },
  [
    when(pieceActions.opened, (state, { arrangement }) => withFront(state, arrangement)),
    when(pieceActions.entryMade, (state, { arrangement }) => withFront(state, arrangement)),
  ],
);

export const partsShownActions = slice.actions;
export const partsShownReducer = slice.reducer;
