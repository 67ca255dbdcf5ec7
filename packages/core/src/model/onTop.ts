/**
 * Laying one window's Edits on top of another's work. Both gave out the same new ids to different notes, messages and parts:
 * here those of the later window get new ones, wherever its Edits speak of them.
 */
import type { Arrangement, Part } from './arrangement.js';
import { applyEdit, type KeptChange, type KeptEdit } from './edit.js';
import type { Override } from './overrides.js';

/** What an id was, and what it is now; ids that stay are not in it. */
type Renamed = Map<number, number>;

interface Names {
  readonly notes: Renamed;
  readonly events: Renamed;
  readonly parts: Renamed;
}

type WithId = { readonly id: number };

const called = (renamed: Renamed, id: number): number => renamed.get(id) ?? id;

const itemIn =
  (renamed: Renamed) =>
  <Item extends WithId>(item: Item): Item =>
    renamed.has(item.id) ? { ...item, id: called(renamed, item.id) } : item;

const overrideIn =
  ({ notes }: Names) =>
  (override: Override): Override => {
    if ('to' in override)
      return { ...override, noteId: called(notes, override.noteId), to: called(notes, override.to) };
    if ('noteId' in override) return { ...override, noteId: called(notes, override.noteId) };
    return override.kind === 'pageOnly' ? itemIn(notes)(override) : override;
  };

const pairIn =
  <Item>(change: (item: Item) => Item) =>
  ({ before, after }: { readonly before: Item; readonly after: Item }) => ({
    before: change(before),
    after: change(after),
  });

const fieldsIn = <Fields extends Pick<Partial<Part>, 'vetoes'>>(names: Names, fields: Fields): Fields =>
  fields.vetoes
    ? { ...fields, vetoes: fields.vetoes.map((veto) => ({ ...veto, noteId: called(names.notes, veto.noteId) })) }
    : fields;

const partIn = (names: Names, part: Part): Part =>
  fieldsIn(names, {
    ...part,
    id: called(names.parts, part.id),
    notes: part.notes.map(itemIn(names.notes)),
    events: part.events.map(itemIn(names.events)),
    ...(part.overrides ? { overrides: { ...part.overrides, list: part.overrides.list.map(overrideIn(names)) } } : {}),
  });

const changeIn = (names: Names, change: KeptChange): KeptChange => {
  const { notes, events, parts } = names;
  switch (change.kind) {
    case 'notes': {
      const { madeFrom } = change;
      const note = itemIn(notes);
      return {
        ...change,
        partId: called(parts, change.partId),
        added: change.added.map(note),
        removed: change.removed.map(note),
        changed: change.changed.map(pairIn(note)),
        ...(madeFrom
          ? { madeFrom: madeFrom.map(([made, source]) => [called(notes, made), called(notes, source)] as const) }
          : {}),
      };
    }
    case 'events': {
      const event = itemIn(events);
      return {
        ...change,
        partId: called(parts, change.partId),
        added: change.added.map(event),
        removed: change.removed.map(event),
        changed: change.changed.map(pairIn(event)),
      };
    }
    case 'overrides': {
      const override = overrideIn(names);
      return {
        ...change,
        partId: called(parts, change.partId),
        added: change.added.map(override),
        removed: change.removed.map(override),
        changed: change.changed.map(pairIn(override)),
      };
    }
    case 'partAdded':
    case 'partRemoved':
      return { ...change, part: partIn(names, change.part) };
    case 'partMoved':
      return { ...change, partId: called(parts, change.partId) };
    case 'partFields':
      return {
        ...change,
        partId: called(parts, change.partId),
        before: fieldsIn(names, change.before),
        after: fieldsIn(names, change.after),
      };
    case 'arrangementFields': {
      const selections = change.after.namedSelections?.map((selection) => ({
        ...selection,
        parts: selection.parts.map(({ partId, noteIds }) => ({
          partId: called(parts, partId),
          noteIds: noteIds.map((id) => called(notes, id)),
        })),
      }));
      return selections ? { ...change, after: { ...change.after, namedSelections: selections } } : change;
    }
    default:
      return change satisfies never;
  }
};

const addedIn = (
  change: KeptChange,
): { readonly notes: readonly WithId[]; readonly events: readonly WithId[]; readonly part?: WithId } => {
  if (change.kind === 'notes') return { notes: change.added, events: [] };
  if (change.kind === 'events') return { notes: [], events: change.added };
  if (change.kind === 'overrides') {
    return { notes: change.added.filter((override) => override.kind === 'pageOnly'), events: [] };
  }
  if (change.kind === 'partAdded') return { ...change.part, part: change.part };
  return { notes: [], events: [] };
};

const removedIn = (edit: KeptEdit, of: 'notes' | 'events'): Set<number> =>
  new Set(
    edit.changes.flatMap((change) => {
      if (change.kind === of) return change.removed.map(({ id }) => id);
      return change.kind === 'partRemoved' ? change.part[of].map(({ id }) => id) : [];
    }),
  );

/**
 * The Edits as they go on top of `arrangement`, which has other changes than those they were made on: what they add has ids
 * of its own there, and they speak of it by those. An id that an Edit takes out and puts in again stays.
 */
export const onTopOf = (arrangement: Arrangement, edits: readonly KeptEdit[]): KeptEdit[] => {
  const names: Names = { notes: new Map(), events: new Map(), parts: new Map() };
  let now = arrangement;
  let { nextNoteId, nextEventId, nextPartId } = arrangement;
  // New ids lie beyond those that any of these Edits gave out.
  for (const change of edits.flatMap((edit) => edit.changes)) {
    const { notes, events, part } = addedIn(change);
    for (const { id } of notes) nextNoteId = Math.max(nextNoteId, id + 1);
    for (const { id } of events) nextEventId = Math.max(nextEventId, id + 1);
    if (part) nextPartId = Math.max(nextPartId, part.id + 1);
  }
  return edits.map((edit) => {
    const taken = {
      notes: new Set(now.parts.flatMap((part) => part.notes.map(({ id }) => id))),
      events: new Set(now.parts.flatMap((part) => part.events.map(({ id }) => id))),
      parts: new Set(now.parts.map(({ id }) => id)),
    };
    const gone = {
      notes: removedIn(edit, 'notes'),
      events: removedIn(edit, 'events'),
      parts: new Set(edit.changes.flatMap((change) => (change.kind === 'partRemoved' ? [change.part.id] : []))),
    };
    for (const change of edit.changes) {
      const { notes, events, part } = addedIn(change);
      for (const { id } of notes) {
        if (taken.notes.has(called(names.notes, id)) && !gone.notes.has(id)) names.notes.set(id, nextNoteId++);
      }
      for (const { id } of events) {
        if (taken.events.has(called(names.events, id)) && !gone.events.has(id)) names.events.set(id, nextEventId++);
      }
      const { id = 0 } = part ?? {};
      if (taken.parts.has(called(names.parts, id)) && !gone.parts.has(id)) names.parts.set(id, nextPartId++);
    }
    const renamed = { ...edit, changes: edit.changes.map((change) => changeIn(names, change)) };
    now = applyEdit(now, renamed);
    return renamed;
  });
};
