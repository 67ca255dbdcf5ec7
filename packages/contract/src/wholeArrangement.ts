/** What is whole of an arrangement that came from the server: a damaged record must not take the rest along. */
import type { Arrangement, Part } from '@crispfold/core';
import { arrangementSchema, partSchema } from './recordSchemas.js';

const LISTS = ['tempos', 'meters', 'keys', 'markers', 'silentTracks', 'parts'] as const;

const isNumber = (value: unknown): boolean => typeof value === 'number' && Number.isFinite(value);

/**
 * True where an arrangement has all its fields, of the kinds they should be, and each note its numbers: what the screens stand
 * on. Every record was checked to the leaf when it came to the server; doing so again would hold up each opening.
 */
const looksWhole = (arrangement: Arrangement): boolean => {
  const given = arrangement as unknown as { readonly [field: string]: unknown } | null;
  if (!given || !LISTS.every((list) => Array.isArray(given[list]))) return false;
  if (
    typeof given.title !== 'string' ||
    ![given.ppq, given.nextNoteId, given.nextPartId, given.nextEventId].every(isNumber)
  ) {
    return false;
  }
  if (!arrangement.tempos.every((change) => isNumber(change?.tick) && change.microsecondsPerQuarter > 0)) return false;
  if (
    !arrangement.meters.every(
      (change) => isNumber(change?.tick) && change.numerator > 0 && DENOMINATORS.has(change.denominator),
    )
  ) {
    return false;
  }
  return arrangement.parts.every(
    (part) =>
      isNumber(part?.id) &&
      typeof part.name === 'string' &&
      typeof part.instrument === 'string' &&
      Array.isArray(part.notes) &&
      Array.isArray(part.events) &&
      part.notes.every((note) => isNumber(note?.id + note?.pitch + note?.onset + note?.duration + note?.velocity)) &&
      part.events.every((event) => isNumber(event?.id + event?.tick)),
  );
};

const DENOMINATORS: ReadonlySet<number> = new Set([1, 2, 4, 8, 16, 32, 64]);

/** The arrangement without what is damaged, and what that was, in words; the very same where all is whole. */
export const wholeArrangement = (
  arrangement: Arrangement,
): { readonly arrangement: Arrangement; readonly lost: readonly string[] } => {
  const isWhole = (value: unknown): boolean => arrangementSchema.isValidSync(value, { strict: true });
  if (looksWhole(arrangement)) return { arrangement, lost: [] };
  const lost: string[] = [];
  const given = (arrangement ?? {}) as unknown as { readonly [field: string]: unknown };
  const parts = (Array.isArray(given.parts) ? (given.parts as Part[]) : []).flatMap((part, index): Part[] => {
    if (partSchema.isValidSync(part, { strict: true })) return [part];
    lost.push(typeof part?.name === 'string' && part.name !== '' ? part.name : `part ${index + 1}`);
    return [];
  });
  const plain: Arrangement = {
    title: 'Damaged arrangement',
    ppq: 480,
    tempos: [],
    meters: [],
    keys: [],
    markers: [],
    parts,
    silentTracks: [],
    nextNoteId: 1 + Math.max(0, ...parts.map((part) => part.notes.reduce((most, { id }) => Math.max(most, id), 0))),
    nextPartId: 1 + Math.max(0, ...parts.map(({ id }) => id)),
    nextEventId: 1 + Math.max(0, ...parts.map((part) => part.events.reduce((most, { id }) => Math.max(most, id), 0))),
  };
  // Each field is taken over where the whole still passes with it.
  let whole = plain;
  for (const [field, value] of Object.entries(given)) {
    if (field === 'parts') continue;
    const next = { ...whole, [field]: value };
    if (isWhole(next)) whole = next as Arrangement;
    else lost.push(FIELDS[field] ?? 'something unknown');
  }
  return { arrangement: whole, lost };
};

const FIELDS: { readonly [field: string]: string } = {
  title: 'the title',
  ppq: 'the ticks to the quarter',
  tempos: 'the tempi',
  meters: 'the meters',
  keys: 'the keys',
  markers: 'the markers',
  silentTracks: 'the tracks without notes',
  namedSelections: 'the named selections',
  recording: 'the recording beside the notes',
  nextNoteId: 'a count of notes',
  nextPartId: 'a count of parts',
  nextEventId: 'a count of messages',
};
