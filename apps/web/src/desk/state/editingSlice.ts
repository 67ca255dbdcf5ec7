/** How a hand edits: the grid, how far a stroke moves, how notes are drawn. */
import type { PayloadAction } from '@reduxjs/toolkit';
import { plainSlice, when } from './plainSlice.js';
import { switched, turning } from './switched.js';

/** Plain values of the grid, as fractions of a whole note. */
export const GRID_VALUES = [1, 1 / 2, 1 / 4, 1 / 8, 1 / 16, 1 / 32, 1 / 64] as const;
/** What is made of a plain value: itself, a third of two of it, or one and a half. */
export type GridKind = 'plain' | 'triplet' | 'dotted';

/** The grid that things snap to. */
export interface Grid {
  readonly value: number;
  readonly kind: GridKind;
}

const SHARES: { readonly [kind in GridKind]: number } = { plain: 1, triplet: 2 / 3, dotted: 3 / 2 };

/** One step of a grid as a fraction of a whole note. */
export const gridFraction = ({ value, kind }: Grid): number => value * SHARES[kind];

/** How far one stroke moves notes: by the grid, or apart from it. */
export type MoveStep = 'grid' | 'tick' | '10 ms' | 'beat' | 'bar';

/** What a drag snaps to: the lines of the grid, edges of other notes, or whichever is nearer. */
export type SnapTo = 'grid' | 'notes' | 'both';

/** See the file's head. */
export interface EditingState {
  readonly grid: Grid;
  readonly moveStep: MoveStep;
  readonly snapOn: boolean;
  readonly snapTo: SnapTo;
  readonly drawing: boolean;
  /** How drawn notes are made; a length is a fraction of a whole note, null is that of the grid. */
  readonly drawn: { readonly length: number | null; readonly velocity: number; readonly fits: boolean };
  /** True while controllers go with their notes. */
  readonly controllersToo: boolean;
}

const initialState: EditingState = {
  grid: { value: 1 / 16, kind: 'plain' },
  moveStep: 'grid',
  snapOn: true,
  snapTo: 'grid',
  drawing: false,
  drawn: { length: null, velocity: 80, fits: true },
  controllersToo: false,
};

const slice = plainSlice(
  {
    name: 'editing',
    initialState,
    reducers: {
      snapStepped: (state, { payload }: PayloadAction<1 | -1>): EditingState => {
        const at = GRID_VALUES.indexOf(state.grid.value) + payload;
        const value = GRID_VALUES[Math.max(0, Math.min(GRID_VALUES.length - 1, at))] ?? state.grid.value;
        return { ...state, snapOn: true, grid: { ...state.grid, value } };
      },
      gridSet: (state, { payload }: PayloadAction<Partial<Grid>>): EditingState => ({
        ...state,
        snapOn: true,
        grid: { ...state.grid, ...payload },
      }),
      moveStepChosen: (state, { payload }: PayloadAction<MoveStep>): EditingState => ({ ...state, moveStep: payload }),
      snapToChosen: (state, { payload }: PayloadAction<SnapTo>): EditingState => ({ ...state, snapTo: payload }),
      drawnAs: (state, { payload }: PayloadAction<Partial<EditingState['drawn']>>): EditingState => ({
        ...state,
        drawn: { ...state.drawn, ...payload },
      }),
    },
  },
  [when(switched, turning('snapOn', 'drawing', 'controllersToo'))],
);

export const editingActions = slice.actions;
export const editingReducer = slice.reducer;
