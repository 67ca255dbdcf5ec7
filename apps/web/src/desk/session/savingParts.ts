/** What saving holds while an arrangement is open. */
import type { Outbox } from './outbox.js';
import type { DeskWindows } from './windows.js';

/** See the file's head. */
export interface Saving {
  /** Null before the arrangement is open, and where another window writes. */
  outbox: Outbox | null;
  /** The link with other windows on the same arrangement; null where each stands by itself. */
  windows: DeskWindows | null;
  /** Where going through the history leads, while Edits on the way are fetched; null when nothing is on its way. */
  goingTo: number | null;
  /** Counts openings, so that the newest is known. */
  opening: number;
}

export const createSaving = (): Saving => ({ outbox: null, windows: null, goingTo: null, opening: 0 });

/** Lets go of all of it: what answers late is of an opening that is over. */
export const endSaving = (saving: Saving): void => {
  saving.outbox?.close();
  saving.windows?.close();
  Object.assign(saving, createSaving(), { opening: saving.opening + 1 });
};

/** True while a change is not yet on disk. */
export const hasUnsaved = ({ outbox }: Saving): boolean => outbox !== null && !outbox.empty;
