/**
 * Where files grow before they are whole: one folder a database, beside it. It is emptied at each start, by the one server that
 * serves the database, so nothing is left of a server that was killed.
 */
import { mkdirSync, rmSync } from 'node:fs';

/** The folder of a database. */
export const workFolderOf = (database: string): string => `${database}.work`;

/** Makes the folder anew, empty; answers its path. */
export const emptyWorkFolder = (database: string): string => {
  const folder = workFolderOf(database);
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  return folder;
};
