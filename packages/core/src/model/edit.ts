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
  'name' | 'instrument' | 'instrumentFrom' | 'channel' | 'program' | 'plan' | 'vetoes' | 'dismissed'
>;
/** The fields of an arrangement that an Edit may change, parts aside. */
export type ArrangementFields = Pick<
  Arrangement,
  'title' | 'ppq' | 'tempos' | 'meters' | 'keys' | 'markers' | 'silentTracks' | 'namedSelections'
>;

/** A record as it was and as it is to be. */
export interface Pair<Item> {
  readonly before: Item;
  readonly after: Item;
}

/** Lists of records by key, as the changes to notes, events and overrides hold them. */
interface Lists<Item> {
  readonly added: readonly Item[];
  readonly removed: readonly Item[];
  readonly changed: readonly Pair<Item>[];
}

/** One record of an Edit. */
export type Change =
  | ({
      readonly kind: 'notes';
      readonly partId: PartId;
      /** Of those added: which note each was made from, so that a selection can follow. */
      readonly madeFrom?: readonly (readonly [made: NoteId, source: NoteId])[];
    } & Lists<Note>)
  | ({ readonly kind: 'events'; readonly partId: PartId } & Lists<PartEvent>)
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

/** The Edit that takes `edit` back. */
export const invertEdit = (edit: Edit): Edit => ({
  label: edit.label,
  changes: edit.changes.map(invertChange).reverse(),
});

const invertLists = <Item>({ added, removed, changed }: Lists<Item>): Lists<Item> => ({
  added: removed,
  removed: added,
  changed: changed.map(({ before, after }) => ({ before: after, after: before })),
});

const invertChange = (change: Change): Change => {
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
      return { ...change, before: change.after, after: change.before } as Change;
    default:
      return change satisfies never;
  }
};

/**
 * The arrangement after `edit`. A note to be changed or removed that is no longer there is passed over,
 * so that an Edit can be laid on top of another window's work.
 */
export const applyEdit = (arrangement: Arrangement, edit: Edit): Arrangement =>
  edit.changes.reduce(applyChange, arrangement);

const applyChange = (arrangement: Arrangement, change: Change): Arrangement => {
  switch (change.kind) {
    case 'notes': {
      const next = withPart(arrangement, change.partId, (part) => ({
        notes: changedItems(part.notes, change, idOf).sort(compareNotes),
      }));
      return { ...next, nextNoteId: nextIdAfter(arrangement.nextNoteId, change.added) };
    }
    case 'events': {
      const next = withPart(arrangement, change.partId, (part) => ({
        events: changedItems(part.events, change, idOf).sort(compareEvents),
      }));
      return { ...next, nextEventId: nextIdAfter(arrangement.nextEventId, change.added) };
    }
    case 'overrides': {
      const next = withPart(arrangement, change.partId, ({ overrides = NO_OVERRIDES }) => {
        const list = changedItems(overrides.list, change, overrideKey);
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

/** Takes out, puts in and changes records by key; what is not there is passed over, what is there already is not added. */
const changedItems = <Item, Key>(items: readonly Item[], lists: Lists<Item>, keyOf: (item: Item) => Key): Item[] => {
  const removed = new Set(lists.removed.map(keyOf));
  const after = new Map(lists.changed.map((pair) => [keyOf(pair.after), pair.after]));
  const result: Item[] = [];
  for (const item of items) {
    const key = keyOf(item);
    if (!removed.has(key)) result.push(after.get(key) ?? item);
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
export const notesTouched = (edit: Edit): number =>
  edit.changes.reduce(
    (sum, change) =>
      change.kind === 'notes' ? sum + change.added.length + change.removed.length + change.changed.length : sum,
    0,
  );
