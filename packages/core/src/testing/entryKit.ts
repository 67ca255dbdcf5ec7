/** Entry by letters as a test begins it. */
import type { Entry } from '../edits/noteEntry.js';

/** Quarters in part 1 from a tick on, in the place of what stands there. */
export const entryAt = (at: number): Entry => ({
  partId: 1,
  at,
  value: { fraction: 1 / 4, dotted: false, tuplet: null },
  velocity: 80,
  inserts: false,
  pageOnly: false,
  staff: 1,
  last: null,
});
