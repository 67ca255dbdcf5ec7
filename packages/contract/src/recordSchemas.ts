/** Schemas of the records an Edit carries. Long lists of notes are checked by hand: Yup would take seconds for thirty thousand. */
import {
  type Edit,
  FIRST_UNUSABLE_ID,
  type JournalEntry,
  LONGEST_PART_NAME,
  LONGEST_SELECTION_NAME,
  MOST_PARTS,
  type Note,
  OVERRIDES_VERSION,
  type Override,
  overrideKey,
  type Pair,
  type Part,
  type PartEvent,
  STEP_IDS,
  type TrackEvent,
} from '@crispfold/core';
import * as yup from 'yup';
import { planSchema } from './planSchema.js';

const isWhole = (value: unknown, low: number, high: number): value is number =>
  typeof value === 'number' && Number.isInteger(value) && value >= low && value <= high;

/** The last tick that a record may name. */
const LAST_TICK = 2 ** 40;

const isNote = (value: unknown): value is Note => {
  if (typeof value !== 'object' || value === null) return false;
  const note = value as Partial<Record<keyof Note, unknown>>;
  return (
    isWhole(note.id, 1, FIRST_UNUSABLE_ID - 1) &&
    isWhole(note.pitch, 0, 127) &&
    isWhole(note.onset, 0, LAST_TICK) &&
    isWhole(note.duration, 0, LAST_TICK) &&
    isWhole(note.velocity, 1, 127) &&
    isWhole(note.channel, 0, 15) &&
    (note.releaseVelocity === undefined || isWhole(note.releaseVelocity, 0, 127)) &&
    (note.muted === undefined || typeof note.muted === 'boolean')
  );
};

/** True for a list of records that are notes. */
export const isNoteList = (value: unknown): boolean => Array.isArray(value) && value.every(isNote);

const EVENT_KINDS = new Set<TrackEvent['kind']>([
  'controller',
  'program',
  'pitchBend',
  'channelPressure',
  'keyPressure',
  'text',
  'meta',
  'sysex',
]);

const isPartEvent = (value: unknown): value is PartEvent => {
  if (typeof value !== 'object' || value === null) return false;
  const event = value as { id?: unknown; kind?: unknown; tick?: unknown };
  return (
    isWhole(event.id, 1, Number.MAX_SAFE_INTEGER) &&
    EVENT_KINDS.has(event.kind as TrackEvent['kind']) &&
    isWhole(event.tick, 0, LAST_TICK)
  );
};

const listOf = <Item>(check: (value: unknown) => value is Item, message: string) =>
  yup
    .mixed<readonly Item[]>((value): value is readonly Item[] => Array.isArray(value))
    .required()
    .test('items', message, (value) => Array.isArray(value) && value.every(check));

const notes = listOf(isNote, 'A note in this change is not a note.');
const events = listOf(isPartEvent, 'A message in this change is not one.');
const pairsOf = <Item>(check: (value: unknown) => value is Item, key: (item: Item) => number | string, what: string) =>
  listOf((value): value is Pair<Item> => {
    const pair = value as { before?: unknown; after?: unknown } | null;
    return !!pair && check(pair.before) && check(pair.after) && key(pair.before) === key(pair.after);
  }, `A changed ${what} in this change is not one.`);
const idOf = (item: { readonly id: number }): number => item.id;

const overrideSchemas: { readonly [Kind in Override['kind']]: yup.ObjectSchema<object> } = (() => {
  const noteId = yup.number().integer().min(1).required();
  const at = yup.number().integer().min(0).required();
  const voice = yup.number().integer().min(1).max(4).required();
  const staff = yup.number().oneOf([1, 2]).required();
  return {
    spelling: yup.object({
      noteId,
      step: yup.string().oneOf(['C', 'D', 'E', 'F', 'G', 'A', 'B']).required(),
      alter: yup.number().integer().min(-2).max(2).required(),
    }),
    voice: yup.object({ noteId, voice }),
    staff: yup.object({ noteId, staff }),
    writtenStart: yup.object({ noteId, at }),
    writtenEnd: yup.object({ noteId, at }),
    staccato: yup.object({ noteId, on: yup.boolean().required() }),
    soundOnly: yup.object({ noteId }),
    pageOnly: yup.object({
      id: noteId,
      pitch: yup.number().integer().min(0).max(127).required(),
      onset: at,
      duration: yup.number().integer().min(1).required(),
      voice,
      staff,
    }),
    systemBreak: yup.object({ bar: yup.number().integer().min(1).required() }),
  };
})();

const isOverride = (value: unknown): value is Override => {
  const kind = (value as { kind?: Override['kind'] } | null)?.kind;
  return !!kind && Object.hasOwn(overrideSchemas, kind) && overrideSchemas[kind].isValidSync(value, { strict: true });
};
const overrides = listOf(isOverride, 'A correction in this change is not one.');
const isOrigin = (value: unknown): boolean =>
  Array.isArray(value) && value.length === 2 && value.every((id) => isWhole(id, 1, Number.MAX_SAFE_INTEGER));
const madeFrom = yup
  .mixed()
  .test(
    'origins',
    'This change does not say what its notes were made from.',
    (value) => value === undefined || (Array.isArray(value) && value.every(isOrigin)),
  );

const name = yup.string().max(LONGEST_PART_NAME);
const partFields = {
  name,
  instrument: yup.string().max(60),
  instrumentFrom: yup.string().oneOf(['program', 'name', 'channel', 'nothing']),
  channel: yup.number().integer().min(0).max(15),
  program: yup.number().integer().min(0).max(127).nullable(),
  plan: planSchema.optional().default(undefined),
  vetoes: yup
    .array(
      yup.object({
        noteId: yup.number().integer().min(1).required(),
        step: yup.string().oneOf(STEP_IDS).required(),
      }),
    )
    .max(200_000),
  dismissed: yup.array(yup.string().max(400).required()).max(200_000),
};
const part = yup.object({
  id: yup.number().integer().min(1).required(),
  name: name.defined(),
  instrument: partFields.instrument.required(),
  channel: partFields.channel.required(),
  program: partFields.program.defined(),
  notes,
  events,
  overrides: yup
    .object({ version: yup.number().oneOf([OVERRIDES_VERSION]).required(), list: overrides })
    .optional()
    .default(undefined),
  trackName: name,
  instrumentFrom: partFields.instrumentFrom,
  plan: partFields.plan,
  vetoes: partFields.vetoes,
  dismissed: partFields.dismissed,
});

const tick = yup.number().integer().min(0).max(LAST_TICK).required();
const arrangementFields = yup.object({
  title: name,
  ppq: yup.number().integer().min(1).max(32767),
  tempos: yup.array(
    yup.object({ tick, microsecondsPerQuarter: yup.number().integer().min(1).max(16_777_215).required() }),
  ),
  meters: yup.array(
    yup.object({
      tick,
      numerator: yup.number().integer().min(1).max(255).required(),
      denominator: yup.number().oneOf([1, 2, 4, 8, 16, 32, 64]).required(),
    }),
  ),
  keys: yup.array(
    yup.object({ tick, fifths: yup.number().integer().min(-7).max(7).required(), minor: yup.boolean().required() }),
  ),
  markers: yup.array(yup.object({ tick, text: yup.string().max(2000).defined() })),
  namedSelections: yup
    .array(
      yup.object({
        name: yup.string().min(1).max(LONGEST_SELECTION_NAME).required(),
        parts: yup
          .array(
            yup.object({
              partId: yup.number().integer().min(1).required(),
              noteIds: yup
                .mixed()
                .test(
                  'ids',
                  'These are no notes.',
                  (ids) => Array.isArray(ids) && ids.every((id) => isWhole(id, 1, FIRST_UNUSABLE_ID - 1)),
                ),
            }),
          )
          .max(1000)
          .required(),
      }),
    )
    .max(200),
});

const partId = yup.number().integer().min(1).required();
const changeSchemas = {
  notes: yup.object({
    partId,
    added: notes,
    removed: notes,
    changed: pairsOf(isNote, idOf, 'note'),
    madeFrom,
  }),
  events: yup.object({ partId, added: events, removed: events, changed: pairsOf(isPartEvent, idOf, 'message') }),
  overrides: yup.object({
    partId,
    added: overrides,
    removed: overrides,
    changed: pairsOf(isOverride, overrideKey, 'correction'),
  }),
  partAdded: yup.object({ index: yup.number().integer().min(0).required(), part: part.required() }),
  partRemoved: yup.object({ index: yup.number().integer().min(0).required(), part: part.required() }),
  partMoved: yup.object({
    partId,
    from: yup.number().integer().min(0).max(MOST_PARTS).required(),
    to: yup.number().integer().min(0).max(MOST_PARTS).required(),
  }),
  partFields: yup.object({
    partId,
    before: yup.object(partFields).required(),
    after: yup.object(partFields).required(),
  }),
  arrangementFields: yup.object({ before: arrangementFields.required(), after: arrangementFields.required() }),
} as const;

const change = yup.lazy((value: unknown) => {
  const kind = (value as { kind?: keyof typeof changeSchemas } | null)?.kind;
  const schema = kind && Object.hasOwn(changeSchemas, kind) ? changeSchemas[kind] : undefined;
  return (schema ?? yup.mixed().test('kind', 'This change is of no known kind.', () => false)) as yup.Schema;
});

/** An Edit as the web sends it. */
export const editSchema: yup.ObjectSchema<{ label: string }> = yup.object({
  label: yup.string().min(1).max(300).required(),
  changes: yup.array(change).max(2000).required(),
}) as never;

const journalEntry = yup.lazy((value: unknown) =>
  (value as { kind?: string } | null)?.kind === 'goTo'
    ? yup.object({ kind: yup.string().oneOf(['goTo']).required(), position: yup.number().integer().min(0).required() })
    : (yup.object({ kind: yup.string().oneOf(['edit']).required(), edit: editSchema.required() }) as yup.Schema),
);

/** The body that adds to an arrangement's journal. */
export const journalBodySchema = yup.object({
  baseRevision: yup.number().integer().min(0).required(),
  entries: yup.array(journalEntry).min(1).max(1000).required(),
});

/** {@link journalBodySchema} as a type. */
export interface JournalBody {
  readonly baseRevision: number;
  readonly entries: readonly JournalEntry[];
}

export type { Edit, Part };
