/** Clears away, now and then, the recordings and SoundFonts that no database has named for long; and says so. */
import { KEPT_DAYS } from '@crispfold/core';
import type { Notices } from '../notices.js';
import type { Cleared } from './keptFiles.js';

/** What is kept, and what it is called. */
export interface Clearing {
  readonly what: string;
  readonly clearUnnamed: (now?: Date) => Promise<Cleared>;
}

/** Looks once at all that is kept. */
export const clearOnce = async (all: readonly Clearing[], notices: Notices, now = new Date()): Promise<void> => {
  for (const { what, clearUnnamed } of all) {
    const { files, bytes } = await clearUnnamed(now);
    if (files === 0) continue;
    const megabytes = (bytes / 1024 / 1024).toFixed(1);
    await notices.add(
      `${files} ${what}${files === 1 ? '' : 's'} that no arrangement has named for ${KEPT_DAYS} days ${files === 1 ? 'was' : 'were'} cleared away (${megabytes} MB).`,
    );
  }
};
