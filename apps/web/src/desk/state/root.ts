/** The whole state of the Desk, and how screens ask for parts of it. */
import { useSelector } from 'react-redux';
import type { DeskState } from './deskSlice.js';
import type { RollState } from './rollSlice.js';

/** The whole state. */
export interface RootState {
  readonly desk: DeskState;
  readonly roll: RollState;
}

export const useAppSelector = useSelector.withTypes<RootState>();
