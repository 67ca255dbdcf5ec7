/** A list of one's own: under a letter, one command or several, done one after another. */
import { type CommandId, KEYS } from './keyTable.js';

/** A row of the list. */
export interface OwnRow {
  /** A letter or a digit. */
  readonly letter: string;
  readonly name: string;
  readonly commands: readonly CommandId[];
}

/** A row is no programme. */
export const MOST_IN_ROW = 12;
const LONGEST_NAME = 60;

const isRow = (value: unknown): value is OwnRow => {
  const { letter, name, commands } = (value ?? {}) as Partial<OwnRow>;
  return (
    typeof letter === 'string' &&
    /^[a-z0-9]$/.test(letter) &&
    typeof name === 'string' &&
    name.trim() !== '' &&
    name.length <= LONGEST_NAME &&
    Array.isArray(commands) &&
    commands.length > 0 &&
    commands.length <= MOST_IN_ROW &&
    commands.every((id) => Object.hasOwn(KEYS, id))
  );
};

/** What of a kept value are rows, each letter once, the first of them. */
export const tidyRows = (value: unknown): readonly OwnRow[] => {
  const used = new Set<string>();
  return (Array.isArray(value) ? value : []).filter(
    (row): row is OwnRow => isRow(row) && !used.has(row.letter) && !!used.add(row.letter),
  );
};

/** The rows with one put in the place of whatever had its letter, in order of letters. */
export const withRow = (rows: readonly OwnRow[], row: OwnRow): readonly OwnRow[] =>
  [...rows.filter(({ letter }) => letter !== row.letter), row].sort((a, b) => a.letter.localeCompare(b.letter));

/** Why a row cannot be kept, in words; null where it can. */
export const rowProblem = (row: OwnRow): string | null => {
  if (!/^[a-z0-9]$/.test(row.letter)) return 'A row needs a letter or a digit.';
  if (row.name.trim() === '') return 'A row needs a name.';
  if (row.commands.length === 0) return 'A row needs a command: add one from those listed.';
  return isRow(row) ? null : `A row has ${MOST_IN_ROW} commands at most, and a name of ${LONGEST_NAME} letters.`;
};
