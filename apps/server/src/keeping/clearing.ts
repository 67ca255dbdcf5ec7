/** Clears away, now and then, the recordings and SoundFonts that no database has named for long; and says so. */
import { KEPT_DAYS } from '@crispfold/core';
import type { Notices } from '../notices.js';
import type { KeptFiles } from './keptFiles.js';

/** What is kept, and what one of it is called. */
export interface KeptKind {
  readonly what: string;
  readonly files: KeptFiles;
}

/** Looks once at all that is kept. */
export const clearOnce = async (all: readonly KeptKind[], notices: Notices, now = new Date()): Promise<void> => {
  for (const { what, files: kept } of all) {
    const { files, bytes } = await kept.clearUnnamed(now);
    if (files === 0) continue;
    const megabytes = (bytes / 1024 / 1024).toFixed(1);
    await notices.add(
      `${files} ${what}${files === 1 ? '' : 's'} that no arrangement has used for ${KEPT_DAYS} days ${files === 1 ? 'was' : 'were'} deleted (${megabytes} MB).`,
    );
  }
};
