/** An Edit: a named change set that knows its inverse. No other way to change an arrangement exists. */
import { type Arrangement, compareNotes, type Note, type NoteId, type Part, type PartId } from './arrangement.js';

/** The fields of a part that an Edit may change, notes aside. */
export type PartFields = Pick<
  Part,
  'name' | 'instrument' | 'channel' | 'program' | 'events' | 'plan' | 'vetoes' | 'dismissed'
>;
/** The fields of an arrangement that an Edit may change, parts aside. */
export type ArrangementFields = Pick<
  Arrangement,
  'title' | 'ppq' | 'tempos' | 'meters' | 'keys' | 'markers' | 'silentTracks'
>;

/** One record of an Edit. */
export type Change =
  | {
      readonly kind: 'notes';
      readonly partId: PartId;
      readonly added: readonly Note[];
      readonly removed: readonly Note[];
      readonly changed: readonly { readonly before: Note; readonly after: Note }[];
    }
  | { readonly kind: 'partAdded'; readonly index: number; readonly part: Part }
  | { readonly kind: 'partRemoved'; readonly index: number; readonly part: Part }
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

const invertChange = (change: Change): Change => {
  switch (change.kind) {
    case 'notes':
      return {
        ...change,
        added: change.removed,
        removed: change.added,
        changed: change.changed.map(({ before, after }) => ({ before: after, after: before })),
      };
    case 'partAdded':
      return { ...change, kind: 'partRemoved' };
    case 'partRemoved':
      return { ...change, kind: 'partAdded' };
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
      const parts = arrangement.parts.map((part) =>
        part.id === change.partId ? { ...part, notes: changedNotes(part.notes, change) } : part,
      );
      return { ...arrangement, parts, nextNoteId: nextIdAfter(arrangement.nextNoteId, change.added) };
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
      };
    }
    case 'partRemoved':
      return { ...arrangement, parts: arrangement.parts.filter((part) => part.id !== change.part.id) };
    case 'partFields':
      return {
        ...arrangement,
        parts: arrangement.parts.map((part) => (part.id === change.partId ? { ...part, ...change.after } : part)),
      };
    case 'arrangementFields':
      return { ...arrangement, ...change.after };
    default:
      return change satisfies never;
  }
};

const nextIdAfter = (next: NoteId, notes: readonly Note[]): NoteId =>
  notes.reduce((highest, note) => Math.max(highest, note.id + 1), next);

const changedNotes = (notes: readonly Note[], change: Extract<Change, { kind: 'notes' }>): readonly Note[] => {
  const removed = new Set(change.removed.map((note) => note.id));
  const after = new Map(change.changed.map((pair) => [pair.after.id, pair.after]));
  const present = new Set<NoteId>();
  const result: Note[] = [];
  for (const note of notes) {
    present.add(note.id);
    if (!removed.has(note.id)) result.push(after.get(note.id) ?? note);
  }
  for (const note of change.added) if (!present.has(note.id)) result.push(note);
  return result.sort(compareNotes);
};

/** The 'notes' change that leads from `before` to `after` in one part, matched by id; undefined where nothing differs. */
export const notesChange = (
  partId: PartId,
  before: readonly Note[],
  after: readonly Note[],
): Extract<Change, { kind: 'notes' }> | undefined => {
  const old = new Map(before.map((note) => [note.id, note]));
  const added: Note[] = [];
  const changed: { before: Note; after: Note }[] = [];
  for (const note of after) {
    const was = old.get(note.id);
    if (!was) added.push(note);
    else if (!sameNote(was, note)) changed.push({ before: was, after: note });
    old.delete(note.id);
  }
  const removed = [...old.values()];
  if (added.length + changed.length + removed.length === 0) return undefined;
  return { kind: 'notes', partId, added, removed, changed };
};

const sameNote = (a: Note, b: Note): boolean =>
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
