/** Schemas of the records an Edit carries. Long lists of notes are checked by hand: Yup would take seconds for thirty thousand. */
import {
  CLEF_NAMES,
  DYNAMICS,
  type Edit,
  type EventPatch,
  FIRST_UNUSABLE_ID,
  FURTHEST_NUDGE,
  FURTHEST_OFFSET,
  isWholeText,
  type JournalEntry,
  LAST_TICK,
  LONGEST_EVENT_BYTES,
  LONGEST_MARKER,
  LONGEST_PART_NAME,
  LONGEST_RECORDING,
  LONGEST_RECORDING_NAME,
  LONGEST_SELECTION_NAME,
  LONGEST_TEXT,
  LONGEST_WORDS,
  MARKS,
  MOST_NOTES,
  MOST_PARTS,
  NOTEHEADS,
  type Note,
  type NotePatch,
  OVERRIDES_VERSION,
  type Override,
  overrideKey,
  PAGE_MARKS,
  type Pair,
  type Part,
  type PartEvent,
  PLACE_STEPS,
  STEP_IDS,
  type TrackEvent,
  type WaySound,
} from '@crispfold/core';
import * as yup from 'yup';
import { percussionMapSchema } from './percussionSchema.js';
import { planSchema } from './planSchema.js';

/** The id of a recording. */
export const recordingIdSchema = yup
  .string()
  .matches(/^[a-z0-9]{12}$/, 'There is no recording at this address.')
  .required();

/** An object with these fields and no others. */
const exact = <Shape extends yup.ObjectShape>(shape: Shape) =>
  yup.object(shape).noUnknown('This change says something that there is not: ${unknown}.');

const isWhole = (value: unknown, low: number, high: number): value is number =>
  typeof value === 'number' && Number.isInteger(value) && value >= low && value <= high;

type Fields = { readonly [field: string]: unknown };
type Check = (value: unknown) => boolean;

const whole =
  (low: number, high: number): Check =>
  (value) =>
    isWhole(value, low, high);
const truth: Check = (value) => typeof value === 'boolean';
const noteId = whole(1, FIRST_UNUSABLE_ID - 1);
const place = whole(0, LAST_TICK);
const midi = whole(0, 127);

/** What each field of a note is; those that may be left out stand apart. */
const NOTE_FIELDS: { readonly [field: string]: Check } = {
  id: noteId,
  pitch: midi,
  onset: place,
  duration: place,
  velocity: whole(1, 127),
  channel: whole(0, 15),
};
const NOTE_EXTRAS: { readonly [field: string]: Check } = { releaseVelocity: midi, muted: truth };

/** True for a record with all `fields`, perhaps some `extras`, and nothing else. Fields that are undefined are not there. */
const isRecord = (value: unknown, fields: { readonly [field: string]: Check }, extras: typeof fields = {}): boolean => {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return false;
  const record = value as Fields;
  for (const field in fields) if (!fields[field]?.(record[field])) return false;
  for (const field in record) {
    if (Object.hasOwn(fields, field) || record[field] === undefined) continue;
    if (!Object.hasOwn(extras, field) || !extras[field]?.(record[field])) return false;
  }
  return true;
};

const isNote = (value: unknown): value is Note => isRecord(value, NOTE_FIELDS, NOTE_EXTRAS);

/** True for a list of records that are notes. */
export const isNoteList = (value: unknown): boolean => Array.isArray(value) && value.every(isNote);

/** True for what differs of a record: its id, and some fields; one that may be left out may be null. */
const isPatch =
  (fields: { readonly [field: string]: Check }, extras: { readonly [field: string]: Check }) =>
  (value: unknown): boolean => {
    if (typeof value !== 'object' || value === null || !fields.id?.((value as Fields).id)) return false;
    for (const [field, own] of Object.entries(value)) {
      if (Object.hasOwn(fields, field)) {
        if (!fields[field]?.(own)) return false;
      } else if (own !== undefined && !(Object.hasOwn(extras, field) && (own === null || extras[field]?.(own)))) {
        return false;
      }
    }
    return true;
  };

const isNotePatch = isPatch(NOTE_FIELDS, NOTE_EXTRAS) as (value: unknown) => value is NotePatch;

const channel = whole(0, 15);
const metaType = whole(0, 127);
const bytes: Check = (value) =>
  Array.isArray(value) && value.length <= LONGEST_EVENT_BYTES && value.every((one) => isWhole(one, 0, 255));
const words: Check = (value) => typeof value === 'string' && value.length <= LONGEST_TEXT && isWholeText(value);

/** What each kind of event holds besides its id, tick and kind. */
const EVENT_FIELDS: { readonly [kind in TrackEvent['kind']]: { readonly [field: string]: Check } } = {
  controller: { channel, controller: midi, value: midi },
  program: { channel, program: midi },
  pitchBend: { channel, value: whole(0, 16_383) },
  channelPressure: { channel, value: midi },
  keyPressure: { channel, pitch: midi, value: midi },
  text: { metaType, text: words },
  meta: { metaType, data: bytes },
  sysex: { escape: truth, data: bytes },
};
/** Kinds whose values can ramp to the next, and how. */
const RAMPS = new Set<unknown>(['controller', 'pitchBend', 'channelPressure']);
const ease: Check = (value) => typeof value === 'number' && value >= -1 && value <= 1;
const kind: Check = (value) => typeof value === 'string' && Object.hasOwn(EVENT_FIELDS, value);
const eventId = whole(1, Number.MAX_SAFE_INTEGER);

/** True for a message of a track, as it is kept with a part or beside all parts. */
const isTrackEvent = (value: unknown, more: { readonly [field: string]: Check } = {}): boolean => {
  const own = (value as { kind?: unknown } | null)?.kind;
  const fields = { ...more, kind, tick: place, ...EVENT_FIELDS[own as TrackEvent['kind']] };
  return kind(own) && isRecord(value, fields, RAMPS.has(own) ? { ramp: ease } : {});
};

const isPartEvent = (value: unknown): value is PartEvent => isTrackEvent(value, { id: eventId });

/** All fields that events have: which of them one has its kind says, which a patch does not repeat. */
const isEventPatch = isPatch(
  Object.assign(
    { id: eventId, tick: place, kind, value: whole(0, 16_383) },
    ...Object.values(EVENT_FIELDS).map(({ value: _, ...fields }) => fields),
  ),
  { ramp: ease },
) as (value: unknown) => value is EventPatch;

/** True where no two records of a list have one id. */
const apart = (value: unknown): boolean =>
  !Array.isArray(value) || new Set(value.map((item) => (item as { id?: unknown }).id)).size === value.length;

const listOf = <Item>(check: (value: unknown) => value is Item, message: string) =>
  yup
    .mixed<readonly Item[]>((value): value is readonly Item[] => Array.isArray(value))
    .required()
    .test('items', message, (value) => Array.isArray(value) && value.every(check));

const notes = listOf(isNote, 'A note in this change is not a note.').test(
  'apart',
  'Two notes in this change have one id.',
  apart,
);
const events = listOf(isPartEvent, 'A message in this change is not one.').test(
  'apart',
  'Two messages in this change have one id.',
  apart,
);
const pairsOf = <Item>(check: (value: unknown) => value is Item, key: (item: Item) => number | string, what: string) =>
  listOf((value): value is Pair<Item> => {
    const pair = value as { before?: unknown; after?: unknown } | null;
    return !!pair && check(pair.before) && check(pair.after) && key(pair.before) === key(pair.after);
  }, `A changed ${what} in this change is not one.`);
const idOf = (item: { readonly id: number }): number => item.id;

const oneOf =
  (values: readonly unknown[]): Check =>
  (value) =>
    values.includes(value);
/** A note of the page: a step of a plan may have made it. */
const pageNote = whole(1, Number.MAX_SAFE_INTEGER);
const voice = whole(1, 4);
const staff = oneOf([1, 2]);
const tupletNumber = whole(1, 64);
const bar = whole(0, 1_000_000);
const nudge = whole(-FURTHEST_NUDGE, FURTHEST_NUDGE);
const spoken: Check = (value) =>
  typeof value === 'string' && value.length > 0 && value.length <= LONGEST_WORDS && isWholeText(value);

const perhapsSpoken: Check = (value) => value === '' || spoken(value);

/** What may bring a way of playing about. */
const WAY_SOUNDS: { readonly [by in WaySound['by']]: { readonly [field: string]: Check } } = {
  program: { by: oneOf(['program']), program: midi },
  controller: { by: oneOf(['controller']), controller: midi, value: midi, rest: midi },
  key: { by: oneOf(['key']), pitch: midi },
};
const isWaySound: Check = (value) => {
  const by = (value as { by?: unknown } | null)?.by;
  return typeof by === 'string' && Object.hasOwn(WAY_SOUNDS, by) && isRecord(value, WAY_SOUNDS[by as WaySound['by']]);
};

const SWING_FIELDS = {
  percent: ((value) => typeof value === 'number' && value > 50 && value <= 75) satisfies Check,
  pair: oneOf(['eighths', 'sixteenths']),
};
const isSwing: Check = (value) => value === 'even' || isRecord(value, SWING_FIELDS);

/** What each kind of correction holds besides its kind. */
const OVERRIDE_FIELDS: { readonly [kind in Override['kind']]: { readonly [field: string]: Check } } = {
  spelling: { noteId: pageNote, step: oneOf(PLACE_STEPS), alter: whole(-2, 2) },
  voice: { noteId: pageNote, voice },
  staff: { noteId: pageNote, staff },
  writtenStart: { noteId: pageNote, at: place },
  writtenEnd: { noteId: pageNote, at: place },
  staccato: { noteId: pageNote, on: truth },
  soundOnly: { noteId: pageNote },
  pageOnly: { id: pageNote, pitch: midi, onset: place, duration: whole(1, Number.MAX_SAFE_INTEGER), voice, staff },
  mark: { noteId: pageNote, mark: oneOf(MARKS), on: truth },
  notehead: { noteId: pageNote, head: oneOf(NOTEHEADS) },
  stem: { noteId: pageNote, way: oneOf(['up', 'down']) },
  beam: { noteId: pageNote, joined: truth },
  tie: { noteId: pageNote },
  tuplet: { noteId: pageNote, from: place, length: whole(1, LAST_TICK), actual: tupletNumber, normal: tupletNumber },
  grace: { noteId: pageNote, to: pageNote },
  slur: { noteId: pageNote, to: pageNote },
  glissando: { noteId: pageNote, to: pageNote },
  pedal: { noteId: pageNote, to: pageNote },
  hairpin: { noteId: pageNote, to: pageNote, way: oneOf(['louder', 'softer']) },
  dynamic: { noteId: pageNote, dynamic: oneOf(DYNAMICS) },
  words: { noteId: pageNote, text: spoken },
  way: { noteId: pageNote, to: pageNote, word: spoken, back: perhapsSpoken },
  held: { noteId: pageNote },
  systemBreak: { bar },
  pageBreak: { bar },
  swing: { bar, swing: isSwing },
  nudge: { bar, mark: oneOf(PAGE_MARKS), x: nudge, y: nudge },
  clef: { bar, staff, clef: oneOf(CLEF_NAMES) },
};
const HAIRPIN_FIELDS = { to: pageNote, way: oneOf(['louder', 'softer']) };
const TONE_FIELDS = { id: pageNote, pitch: midi, velocity: midi, at: whole(-LAST_TICK, LAST_TICK), duration: place };
const listed =
  (check: Check, most: number): Check =>
  (value) =>
    Array.isArray(value) && value.length <= most && value.every(check);
/** More tones than any ornament has. */
const MOST_TONES = 10_000;
const tones = listed((value) => isRecord(value, TONE_FIELDS), MOST_TONES);
const SIGN_FIELDS = {
  graces: tones,
  tones,
  marks: listed(oneOf(MARKS), MARKS.length),
  dynamic: oneOf(DYNAMICS),
  hairpin: ((value) => isRecord(value, HAIRPIN_FIELDS)) satisfies Check,
};
/** What some kinds may hold as well. */
const OPTIONAL_FIELDS: { readonly [kind in Override['kind']]?: { readonly [field: string]: Check } } = {
  way: { sound: isWaySound },
  held: { signs: (value) => isRecord(value, {}, SIGN_FIELDS) },
};
const overrideKind: Check = (value) => typeof value === 'string' && Object.hasOwn(OVERRIDE_FIELDS, value);

const isOverride = (value: unknown): value is Override => {
  const own = (value as { kind?: unknown } | null)?.kind;
  if (!overrideKind(own)) return false;
  const fields = { kind: overrideKind, ...OVERRIDE_FIELDS[own as Override['kind']] };
  return isRecord(value, fields, OPTIONAL_FIELDS[own as Override['kind']] ?? {});
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

/** A text of whole characters, up to a length. */
const textOf = (longest: number) =>
  yup
    .string()
    .max(longest)
    .test('whole', 'A text holds half a character.', (value) => value === undefined || isWholeText(value));
const name = textOf(LONGEST_PART_NAME);
const partFields = {
  name,
  instrument: yup.string().max(60),
  instrumentFrom: yup.string().oneOf(['program', 'name', 'channel', 'nothing']),
  channel: yup.number().integer().min(0).max(15),
  program: yup.number().integer().min(0).max(127).nullable(),
  percussionMap: percussionMapSchema,
  plan: planSchema.optional().default(undefined),
  vetoes: yup
    .array(
      exact({
        noteId: yup.number().integer().min(1).required(),
        step: yup.string().oneOf(STEP_IDS).required(),
      }),
    )
    .max(200_000),
  dismissed: yup.array(yup.string().max(400).required()).max(200_000),
};
/** A whole part. */
export const partSchema = exact({
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
  percussionMap: partFields.percussionMap,
  plan: partFields.plan,
  vetoes: partFields.vetoes,
  dismissed: partFields.dismissed,
});

const tick = yup.number().integer().min(0).max(LAST_TICK).required();
const microseconds = yup.number().integer().min(1).max(16_777_215);
const arrangementShape = {
  title: name,
  ppq: yup.number().integer().min(1).max(32767),
  tempos: yup.array(
    exact({
      tick,
      microsecondsPerQuarter: microseconds.required(),
      ramp: exact({ to: microseconds.required(), ease: yup.number().min(-1).max(1).required() })
        .optional()
        .default(undefined),
    }),
  ),
  meters: yup.array(
    exact({
      tick,
      numerator: yup.number().integer().min(1).max(255).required(),
      denominator: yup.number().oneOf([1, 2, 4, 8, 16, 32, 64]).required(),
      groups: yup.array(yup.number().integer().min(1).max(255).required()).max(64),
      pickup: tick.optional(),
    }),
  ),
  keys: yup.array(
    exact({ tick, fifths: yup.number().integer().min(-7).max(7).required(), minor: yup.boolean().required() }),
  ),
  markers: yup.array(exact({ tick, text: textOf(LONGEST_MARKER).defined() })),
  silentTracks: yup
    .array(
      exact({
        name: name.defined(),
        events: listOf((event): event is TrackEvent => isTrackEvent(event), 'A message in this change is not one.'),
      }),
    )
    .max(MOST_PARTS),
  namedSelections: yup
    .array(
      exact({
        name: textOf(LONGEST_SELECTION_NAME).min(1).required(),
        parts: yup
          .array(
            exact({
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
  recording: exact({
    id: recordingIdSchema,
    name: textOf(LONGEST_RECORDING_NAME).min(1).required(),
    seconds: yup.number().moreThan(0).max(LONGEST_RECORDING).required(),
    offset: yup.number().min(-FURTHEST_OFFSET).max(FURTHEST_OFFSET).required(),
    level: yup.number().min(0).max(1).required(),
    muted: yup.boolean(),
  })
    .nullable()
    .default(undefined),
};
const arrangementFields = exact(arrangementShape);

/** A whole arrangement, as it comes in from a file. */
export const arrangementSchema = exact({
  ...arrangementShape,
  title: name.defined(),
  ppq: yup.number().integer().min(1).max(32767).required(),
  tempos: arrangementShape.tempos.required(),
  meters: arrangementShape.meters.required(),
  keys: arrangementShape.keys.required(),
  markers: arrangementShape.markers.required(),
  silentTracks: arrangementShape.silentTracks.required(),
  parts: yup
    .array(partSchema.required())
    .max(MOST_PARTS)
    .required()
    .test('apart', 'Two parts have one id.', apart)
    .test(
      'few',
      `It holds more than ${MOST_NOTES.toLocaleString('en')} notes.`,
      (parts) =>
        (parts ?? []).reduce(
          (sum, { notes: own }) => sum + ((own as readonly unknown[] | undefined)?.length ?? 0),
          0,
        ) <= MOST_NOTES,
    ),
  nextNoteId: yup.number().integer().min(1).max(FIRST_UNUSABLE_ID).required(),
  nextPartId: yup.number().integer().min(1).required(),
  nextEventId: yup.number().integer().min(1).required(),
});

const partId = yup.number().integer().min(1).required();
const kindOf = yup.string().required();
const changeSchemas = {
  notes: exact({
    kind: kindOf,
    partId,
    added: notes,
    removed: notes,
    changed: pairsOf(isNotePatch, idOf, 'note'),
    madeFrom,
  }),
  events: exact({
    kind: kindOf,
    partId,
    added: events,
    removed: events,
    changed: pairsOf(isEventPatch, idOf, 'message'),
  }),
  overrides: exact({
    kind: kindOf,
    partId,
    added: overrides,
    removed: overrides,
    changed: pairsOf(isOverride, overrideKey, 'correction'),
  }),
  partAdded: exact({ kind: kindOf, index: yup.number().integer().min(0).required(), part: partSchema.required() }),
  partRemoved: exact({ kind: kindOf, index: yup.number().integer().min(0).required(), part: partSchema.required() }),
  partMoved: exact({
    kind: kindOf,
    partId,
    from: yup.number().integer().min(0).max(MOST_PARTS).required(),
    to: yup.number().integer().min(0).max(MOST_PARTS).required(),
  }),
  partFields: exact({
    kind: kindOf,
    partId,
    before: exact(partFields).required(),
    after: exact(partFields).required(),
  }),
  arrangementFields: exact({ kind: kindOf, before: arrangementFields.required(), after: arrangementFields.required() }),
} as const;

const change = yup.lazy((value: unknown) => {
  const kind = (value as { kind?: keyof typeof changeSchemas } | null)?.kind;
  const schema = kind && Object.hasOwn(changeSchemas, kind) ? changeSchemas[kind] : undefined;
  return (schema ?? yup.mixed().test('kind', 'This change is of no known kind.', () => false)) as yup.Schema;
});

/** An Edit as the web sends it. */
export const editSchema: yup.ObjectSchema<{ label: string }> = exact({
  label: textOf(300).min(1).required(),
  changes: yup.array(change).max(2000).required(),
}) as never;

const journalEntry = yup.lazy((value: unknown) =>
  (value as { kind?: string } | null)?.kind === 'goTo'
    ? exact({ kind: yup.string().oneOf(['goTo']).required(), position: yup.number().integer().min(0).required() })
    : (exact({ kind: yup.string().oneOf(['edit']).required(), edit: editSchema.required() }) as yup.Schema),
);

/** The body that adds to an arrangement's journal. */
export const journalBodySchema = exact({
  baseRevision: yup.number().integer().min(0).required(),
  entries: yup.array(journalEntry).min(1).max(1000).required(),
});

/** {@link journalBodySchema} as a type. */
export interface JournalBody {
  readonly baseRevision: number;
  readonly entries: readonly JournalEntry[];
}

export type { Edit, Part };
