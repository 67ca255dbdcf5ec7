/** An Edit: a named change set that knows its inverse. No other way to change an arrangement exists. */
import {
  type Arrangement,
  compareEvents,
  compareNotes,
  type Note,
  type NoteId,
  type Part,
  type PartEvent,
  type PartId,
} from './arrangement.js';
import { NO_OVERRIDES, type Override, overrideKey } from './overrides.js';

/** The fields of a part that an Edit may change, notes aside. */
export type PartFields = Pick<
  Part,
  'name' | 'instrument' | 'instrumentFrom' | 'channel' | 'program' | 'percussionMap' | 'plan' | 'vetoes' | 'dismissed'
>;
/** The fields of an arrangement that an Edit may change, parts aside. */
export type ArrangementFields = Pick<
  Arrangement,
  'title' | 'ppq' | 'tempos' | 'meters' | 'keys' | 'markers' | 'silentTracks' | 'namedSelections' | 'recording'
>;

/** A record as it was and as it is to be. */
export interface Pair<Item> {
  readonly before: Item;
  readonly after: Item;
}

/** Lists of records by key, as the changes to notes, events and overrides hold them. */
interface Lists<Item, Changed = Item> {
  readonly added: readonly Item[];
  readonly removed: readonly Item[];
  readonly changed: readonly Pair<Changed>[];
}

/** What differs of a record, with its id: a field that is not there is null. */
type Patch<Item extends { readonly id: number }> = Pick<Item, 'id'> & {
  readonly [Key in keyof Item]?: Item[Key] | null;
};

/** What differs of a note. */
export type NotePatch = Patch<Note>;
/** What differs of an event; which fields it has its kind says. */
export type EventPatch = Pick<PartEvent, 'id'> & { readonly [field: string]: unknown };

/** One record of an Edit. */
export type Change = ChangeOf<Note, PartEvent>;

/** A change whose pairs hold whole records, or what differs of them. */
type ChangeOf<ChangedNote, ChangedEvent> =
  | ({
      readonly kind: 'notes';
      readonly partId: PartId;
      /** Of those added: which note each was made from, so that a selection can follow. */
      readonly madeFrom?: readonly (readonly [made: NoteId, source: NoteId])[];
    } & Lists<Note, ChangedNote>)
  | ({ readonly kind: 'events'; readonly partId: PartId } & Lists<PartEvent, ChangedEvent>)
  /** Corrections of the page; one that takes another's place is a changed one. */
  | ({ readonly kind: 'overrides'; readonly partId: PartId } & Lists<Override>)
  | { readonly kind: 'partAdded'; readonly index: number; readonly part: Part }
  | { readonly kind: 'partRemoved'; readonly index: number; readonly part: Part }
  /** To another place in the order, both from 0. */
  | { readonly kind: 'partMoved'; readonly partId: PartId; readonly from: number; readonly to: number }
  | {
      readonly kind: 'partFields';
      readonly partId: PartId;
      readonly before: Partial<PartFields>;
      readonly after: Partial<PartFields>;
    }
  | {
      readonly kind: 'arrangementFields';
      readonly before: Partial<ArrangementFields>;
      readonly after: Partial<ArrangementFields>;
    };

/** A change a person understands by its label ("Close gaps: 14 notes in Clarinet"). */
export interface Edit {
  readonly label: string;
  readonly changes: readonly Change[];
}

/**
 * An Edit as it is kept and sent: of notes and events that changed, only what differs. A transposition of thirty thousand
 * notes says thirty thousand pitches, and nothing else twice. Every Edit is one; {@link slimEdit} makes it small.
 */
export interface KeptEdit {
  readonly label: string;
  readonly changes: readonly KeptChange[];
}

/** One record of it. */
export type KeptChange = ChangeOf<NotePatch, EventPatch>;

/** Where so much differs that what is left would read as a whole record, the pair stays as it is. */
const differing = <Item extends { readonly id: number }>(
  pair: Pair<Item>,
  isWhole: (patch: Item) => boolean,
): Pair<Item> => {
  const { before, after } = pair;
  const [old, now] = [before as Item & { [key: string]: unknown }, after as Item & { [key: string]: unknown }];
  const from: { [key: string]: unknown } = { id: before.id };
  const to: { [key: string]: unknown } = { id: after.id };
  for (const key of new Set([...Object.keys(before), ...Object.keys(after)])) {
    if (old[key] === now[key]) continue;
    if (Array.isArray(old[key]) && JSON.stringify(old[key]) === JSON.stringify(now[key])) continue;
    from[key] = old[key] ?? null;
    to[key] = now[key] ?? null;
  }
  const slim = { before: from, after: to } as unknown as Pair<Item>;
  return isWhole(slim.after) || isWhole(slim.before) ? pair : slim;
};

/** The Edit with only what differs of notes and events that changed. */
export const slimEdit = (edit: KeptEdit): KeptEdit => ({
  label: edit.label,
  changes: edit.changes.map((change): KeptChange => {
    if (change.kind === 'notes')
      return { ...change, changed: change.changed.map((pair) => differing(pair, isWholeNote)) };
    if (change.kind === 'events')
      return { ...change, changed: change.changed.map((pair) => differing(pair, isWholeEvent)) };
    return change;
  }),
});

/** The Edit that takes `edit` back. */
export const invertEdit = <Kept extends KeptEdit>(edit: Kept): Kept =>
  ({ label: edit.label, changes: edit.changes.map(invertChange).reverse() }) as unknown as Kept;

const invertLists = <Item, Changed>({ added, removed, changed }: Lists<Item, Changed>): Lists<Item, Changed> => ({
  added: removed,
  removed: added,
  changed: changed.map(({ before, after }) => ({ before: after, after: before })),
});

const invertChange = (change: KeptChange): KeptChange => {
  switch (change.kind) {
    case 'notes': {
      const { madeFrom: _, ...plain } = change;
      return { ...plain, ...invertLists(change) };
    }
    case 'events':
      return { ...change, ...invertLists(change) };
    case 'overrides':
      return { ...change, ...invertLists(change) };
    case 'partAdded':
      return { ...change, kind: 'partRemoved' };
    case 'partRemoved':
      return { ...change, kind: 'partAdded' };
    case 'partMoved':
      return { ...change, from: change.to, to: change.from };
    case 'partFields':
    case 'arrangementFields':
      return { ...change, before: change.after, after: change.before } as KeptChange;
    default:
      return change satisfies never;
  }
};

/**
 * The arrangement after `edit`. A note to be changed or removed that is no longer there is passed over,
 * so that an Edit can be laid on top of another window's work.
 */
export const applyEdit = (arrangement: Arrangement, edit: KeptEdit): Arrangement =>
  edit.changes.reduce(applyChange, arrangement);

const applyChange = (arrangement: Arrangement, change: KeptChange): Arrangement => {
  switch (change.kind) {
    case 'notes': {
      const next = withPart(arrangement, change.partId, (part) => ({
        notes: changedItems(part.notes, change, idOf, patchedNote).sort(compareNotes),
      }));
      return { ...next, nextNoteId: nextIdAfter(arrangement.nextNoteId, change.added) };
    }
    case 'events': {
      const next = withPart(arrangement, change.partId, (part) => ({
        events: changedItems(part.events, change, idOf, patchedEvent).sort(compareEvents),
      }));
      return { ...next, nextEventId: nextIdAfter(arrangement.nextEventId, change.added) };
    }
    case 'overrides': {
      const next = withPart(arrangement, change.partId, ({ overrides = NO_OVERRIDES }) => {
        const list = changedItems(overrides.list, change, overrideKey, (_, after) => after);
        return { overrides: list.length === 0 ? undefined : { ...overrides, list } };
      });
      const made = change.added.flatMap((override) => (override.kind === 'pageOnly' ? [override] : []));
      return { ...next, nextNoteId: nextIdAfter(arrangement.nextNoteId, made) };
    }
    case 'partAdded': {
      if (arrangement.parts.some((part) => part.id === change.part.id)) return arrangement;
      const parts = [...arrangement.parts];
      parts.splice(change.index, 0, change.part);
      return {
        ...arrangement,
        parts,
        nextPartId: Math.max(arrangement.nextPartId, change.part.id + 1),
        nextNoteId: nextIdAfter(arrangement.nextNoteId, change.part.notes),
        nextEventId: nextIdAfter(arrangement.nextEventId, change.part.events),
      };
    }
    case 'partRemoved':
      return { ...arrangement, parts: arrangement.parts.filter((part) => part.id !== change.part.id) };
    case 'partMoved': {
      const moved = arrangement.parts.find((part) => part.id === change.partId);
      if (!moved) return arrangement;
      const parts = arrangement.parts.filter((part) => part !== moved);
      parts.splice(change.to, 0, moved);
      return { ...arrangement, parts };
    }
    case 'partFields':
      // A field taken away is set to nothing, which JSON does not keep: what was there before tells of it.
      return withPart(arrangement, change.partId, () => ({ ...withoutValues(change.before), ...change.after }));
    case 'arrangementFields':
      return { ...arrangement, ...change.after };
    default:
      return change satisfies never;
  }
};

const withPart = (arrangement: Arrangement, id: PartId, change: (part: Part) => Partial<Part>): Arrangement => ({
  ...arrangement,
  parts: arrangement.parts.map((part) => (part.id === id ? { ...part, ...change(part) } : part)),
});

const withoutValues = (fields: Partial<PartFields>): Partial<PartFields> =>
  Object.fromEntries(Object.keys(fields).map((key) => [key, undefined]));

const idOf = (item: { readonly id: number }): number => item.id;

const nextIdAfter = (next: number, items: readonly { readonly id: number }[]): number =>
  items.reduce((highest, item) => Math.max(highest, item.id + 1), next);

/** True for a change that says the whole note. */
const isWholeNote = ({ pitch, onset, duration, velocity, channel }: NotePatch): boolean =>
  pitch != null && onset != null && duration != null && velocity != null && channel != null;

/** The same of a message. */
const isWholeEvent = (patch: EventPatch): boolean => 'kind' in patch && 'tick' in patch;

/** A record with what differs put in; null takes a field away. */
const patched = <Item extends object>(item: Item, patch: object): Item => {
  const result = { ...item } as { [key: string]: unknown };
  for (const [key, value] of Object.entries(patch)) {
    if (value === null) delete result[key];
    else result[key] = value;
  }
  return result as Item;
};

const patchedNote = (note: Note, patch: NotePatch): Note =>
  isWholeNote(patch) ? (patch as Note) : patched(note, patch);

const patchedEvent = (event: PartEvent, patch: EventPatch): PartEvent =>
  isWholeEvent(patch) ? (patch as unknown as PartEvent) : patched(event, patch);

/** Takes out, puts in and changes records by key; what is not there is passed over, what is there already is not added. */
const changedItems = <Item extends Changed, Changed, Key>(
  items: readonly Item[],
  lists: Lists<Item, Changed>,
  keyOf: (item: Changed) => Key,
  change: (item: Item, after: Changed) => Item,
): Item[] => {
  const removed = new Set(lists.removed.map(keyOf));
  const after = new Map(lists.changed.map((pair) => [keyOf(pair.after), pair.after]));
  const result: Item[] = [];
  for (const item of items) {
    const key = keyOf(item);
    if (removed.has(key)) continue;
    const changed = after.get(key);
    result.push(changed === undefined ? item : change(item, changed));
  }
  if (lists.added.length > 0) {
    const present = new Set(items.map(keyOf));
    for (const item of lists.added) if (!present.has(keyOf(item))) result.push(item);
  }
  return result;
};

/** What leads from one list of records to another, matched by id; undefined where nothing differs. */
const listsBetween = <Item extends { readonly id: number }>(
  before: readonly Item[],
  after: readonly Item[],
  same: (a: Item, b: Item) => boolean,
): Lists<Item> | undefined => {
  const old = new Map(before.map((item) => [item.id, item]));
  const added: Item[] = [];
  const changed: Pair<Item>[] = [];
  for (const item of after) {
    const was = old.get(item.id);
    if (!was) added.push(item);
    else if (!same(was, item)) changed.push({ before: was, after: item });
    old.delete(item.id);
  }
  const removed = [...old.values()];
  return added.length + changed.length + removed.length === 0 ? undefined : { added, removed, changed };
};

/** What stands for a field that an arrangement has not. */
const NOTHING: { readonly [field: string]: unknown } = { namedSelections: [], recording: null };

/** The Edit that makes one arrangement another: its parts go, the other's come under ids that no part had. */
export const editBetween = (label: string, from: Arrangement, to: Arrangement): Edit => {
  const fields = [
    'title',
    'ppq',
    'tempos',
    'meters',
    'keys',
    'markers',
    'silentTracks',
    'namedSelections',
    'recording',
  ] as const;
  // What one has and the other has not is said as nothing, which JSON keeps.
  const of = (arrangement: Arrangement): Partial<ArrangementFields> =>
    Object.fromEntries(fields.map((field) => [field, arrangement[field] ?? NOTHING[field]]));
  const removed = from.parts.map((part, index): Change => ({ kind: 'partRemoved', index, part }));
  return {
    label,
    changes: [
      // From the last to the first, so that each index is right when its turn comes, also on the way back.
      ...removed.reverse(),
      { kind: 'arrangementFields', before: of(from), after: of(to) },
      ...to.parts.map((part, index): Change => ({ kind: 'partAdded', index, part })),
    ],
  };
};

/** The 'notes' change that leads from `before` to `after` in one part, matched by id; undefined where nothing differs. */
export const notesChange = (
  partId: PartId,
  before: readonly Note[],
  after: readonly Note[],
): Extract<Change, { kind: 'notes' }> | undefined => {
  const lists = listsBetween(before, after, sameNote);
  return lists && { kind: 'notes', partId, ...lists };
};

/** The 'events' change that leads from `before` to `after` in one part, matched by id; undefined where nothing differs. */
export const eventsChange = (
  partId: PartId,
  before: readonly PartEvent[],
  after: readonly PartEvent[],
): Extract<Change, { kind: 'events' }> | undefined => {
  const lists = listsBetween(before, after, (a, b) => a === b || JSON.stringify(a) === JSON.stringify(b));
  return lists && { kind: 'events', partId, ...lists };
};

/** The Edit that puts corrections on a part's page, each in the place of one of its kind on the same note or bar. */
export const overridesChange = (
  part: Part,
  put: readonly Override[],
  taken: readonly Override[] = [],
): Extract<Change, { kind: 'overrides' }> => {
  const known = new Map((part.overrides?.list ?? []).map((override) => [overrideKey(override), override]));
  const changed = put.flatMap((after) => {
    const before = known.get(overrideKey(after));
    return before ? [{ before, after }] : [];
  });
  const added = put.filter((override) => !known.has(overrideKey(override)));
  const removed = taken.flatMap((override) => known.get(overrideKey(override)) ?? []);
  return { kind: 'overrides', partId: part.id, added, removed, changed };
};

/** True where nothing of a note differs. */
export const sameNote = (a: Note, b: Note): boolean =>
  a === b ||
  (a.pitch === b.pitch &&
    a.onset === b.onset &&
    a.duration === b.duration &&
    a.velocity === b.velocity &&
    a.channel === b.channel &&
    a.releaseVelocity === b.releaseVelocity &&
    (a.muted ?? false) === (b.muted ?? false));

/** How many notes an Edit adds, removes or changes. */
export const notesTouched = (edit: KeptEdit): number =>
  edit.changes.reduce(
    (sum, change) =>
      change.kind === 'notes' ? sum + change.added.length + change.removed.length + change.changed.length : sum,
    0,
  );
