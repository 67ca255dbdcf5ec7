/**
 * How large values are kept: JSON, compressed. Of Edits that change a field of many notes the numbers go in columns, as
 * steps from one note to the next: what is alike in all of them takes next to no room.
 */
import { promisify } from 'node:util';
import { gunzip, gzip } from 'node:zlib';
import type { JournalEntry, KeptChange, KeptEdit, NotePatch, Pair } from '@crispfold/core';

const compress = promisify(gzip);
const expand = promisify(gunzip);

/** A value as it is kept. */
export const packed = async (value: unknown): Promise<Buffer> => compress(JSON.stringify(value), { level: 4 });

/** The value that {@link packed} was given. */
export const unpacked = async <Value>(data: Uint8Array): Promise<Value> =>
  JSON.parse((await expand(data)).toString('utf8')) as Value;

/** Fewer pairs than these are kept as they are. */
const LEAST_IN_COLUMNS = 8;

/** Pairs whose fields are all numbers, and the same in each: column by column. */
interface Columns {
  /** Steps from one id to the next. */
  readonly ids: readonly number[];
  /** By field: steps from one value before to the next, and how much the values after are more. */
  readonly fields: {
    readonly [field: string]: { readonly before: readonly number[]; readonly more: readonly number[] };
  };
}

const steps = (values: readonly number[]): number[] =>
  values.map((value, index) => value - (index === 0 ? 0 : (values[index - 1] as number)));

const sums = (all: readonly number[]): number[] => {
  let at = 0;
  return all.map((step) => {
    at += step;
    return at;
  });
};

type Fields = { readonly [field: string]: unknown };

/** The pairs in columns; null where they do not fit any. */
const inColumns = (pairs: readonly Pair<NotePatch>[]): Columns | null => {
  if (pairs.length < LEAST_IN_COLUMNS) return null;
  const keys = Object.keys(pairs[0]?.before ?? {}).filter((key) => key !== 'id');
  const fits = ({ before, after }: Pair<NotePatch>) =>
    Object.keys(before).length === keys.length + 1 &&
    Object.keys(after).length === keys.length + 1 &&
    keys.every((key) => Number.isInteger((before as Fields)[key]) && Number.isInteger((after as Fields)[key]));
  if (!pairs.every(fits)) return null;
  const columnOf = (key: string, side: 'before' | 'after') =>
    pairs.map((pair) => (pair[side] as Fields)[key] as number);
  return {
    ids: steps(pairs.map(({ before }) => before.id)),
    fields: Object.fromEntries(
      keys.map((key) => {
        const before = columnOf(key, 'before');
        return [
          key,
          { before: steps(before), more: columnOf(key, 'after').map((value, at) => value - (before[at] as number)) },
        ];
      }),
    ),
  };
};

const fromColumns = ({ ids, fields }: Columns): Pair<NotePatch>[] => {
  const columns = Object.entries(fields).map(([key, { before, more }]) => [key, sums(before), more] as const);
  return sums(ids).map((id, at) => {
    const before: { [key: string]: number } = { id };
    const after: { [key: string]: number } = { id };
    for (const [key, values, more] of columns) {
      before[key] = values[at] as number;
      after[key] = (values[at] as number) + (more[at] as number);
    }
    return { before, after } as unknown as Pair<NotePatch>;
  });
};

/** An entry of the journal as it is kept. */
export const packedEntry = (entry: JournalEntry): Promise<Buffer> => {
  if (entry.kind !== 'edit') return packed(entry);
  const changes = entry.edit.changes.map((change) => {
    const columns = change.kind === 'notes' ? inColumns(change.changed) : null;
    return columns ? { ...change, changed: columns } : change;
  });
  return packed({ ...entry, edit: { ...entry.edit, changes } });
};

/** The entry that {@link packedEntry} was given. */
export const unpackedEntry = async (data: Uint8Array): Promise<JournalEntry> => {
  const entry = await unpacked<JournalEntry>(data);
  if (entry.kind !== 'edit') return entry;
  const changes = entry.edit.changes.map((change): KeptChange => {
    if (change.kind !== 'notes' || Array.isArray(change.changed)) return change;
    return { ...change, changed: fromColumns(change.changed as unknown as Columns) };
  });
  const edit: KeptEdit = { ...entry.edit, changes };
  return { kind: 'edit', edit };
};
