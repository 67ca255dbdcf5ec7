/** Notes that go from part to part: they keep their ids, and take what a person decided about them along. */
import { type Arrangement, type Note, type NoteId, type Part, type PartId, partById } from '../model/arrangement.js';
import type { Change, Edit } from '../model/edit.js';
import type { Override } from '../model/overrides.js';
import type { Veto } from '../model/plan.js';
import { NOTHING, type Selection } from '../model/selection.js';
import { countOfNotes } from '../reading/noteWords.js';

/** Where notes go: for each part that gives some, the part that takes each note. */
export type Destinations = ReadonlyMap<PartId, ReadonlyMap<NoteId, PartId>>;

/** A note that a part gets besides those that move: a copy, under an id of its own. */
export interface AddedNote {
  readonly partId: PartId;
  readonly note: Note;
}

/** What comes of handing notes over. */
export interface HandedOver {
  readonly edit: Edit;
  /** The notes where they are now. */
  readonly selection: Selection;
}

/** "keep": each note stays on its channel. "part": it goes to that of its new part. */
export type Channels = 'keep' | 'part';

/** "Send: 4 notes to Flute, 2 to Cello". */
const labelTo = (verb: string, counts: readonly { readonly name: string; readonly count: number }[]): string => {
  const pieces = counts
    .slice(0, 5)
    .map(({ name, count }, index) => `${index === 0 ? countOfNotes(count) : count} to ${name.slice(0, 40)}`);
  const others = counts.slice(5);
  const left = others.reduce((sum, { count }) => sum + count, 0);
  return `${verb}: ${pieces.join(', ')}${others.length > 0 ? ` and ${left} to ${others.length} other parts` : ''}`;
};

/** All that leaves a part, or comes to it. */
class Traffic {
  readonly gone: Note[] = [];
  readonly come: Note[] = [];
  readonly overrides: Override[] = [];
  readonly vetoes: Veto[] = [];

  constructor(readonly part: Part) {}

  /** What a person decided about some notes of the part. */
  decidedAbout(ids: ReadonlySet<NoteId>): {
    readonly vetoes: readonly Veto[];
    readonly overrides: readonly Override[];
  } {
    const { vetoes = [], overrides } = this.part;
    return {
      vetoes: vetoes.filter(({ noteId }) => ids.has(noteId)),
      overrides: (overrides?.list ?? []).filter((one) => 'noteId' in one && ids.has(one.noteId)),
    };
  }

  changes(): readonly Change[] {
    const { part, gone, come, overrides, vetoes } = this;
    const partId = part.id;
    const ids = new Set(gone.map((note) => note.id));
    const left = this.decidedAbout(ids);
    const changes: Change[] = [];
    if (gone.length + come.length > 0) changes.push({ kind: 'notes', partId, added: come, removed: gone, changed: [] });
    if (overrides.length + left.overrides.length > 0) {
      changes.push({ kind: 'overrides', partId, added: overrides, removed: left.overrides, changed: [] });
    }
    if (vetoes.length + left.vetoes.length > 0) {
      const after = [...(part.vetoes ?? []).filter(({ noteId }) => !ids.has(noteId)), ...vetoes];
      changes.push({ kind: 'partFields', partId, before: { vetoes: part.vetoes }, after: { vetoes: after } });
    }
    return changes;
  }
}

/** The notes of a part that go to each part. */
const byTarget = (part: Part, destinations: ReadonlyMap<NoteId, PartId>): Map<PartId, Note[]> => {
  const groups = new Map<PartId, Note[]>();
  for (const note of part.notes) {
    const target = destinations.get(note.id);
    if (target === undefined) continue;
    const list = groups.get(target);
    if (list) list.push(note);
    else groups.set(target, [note]);
  }
  return groups;
};

/**
 * The changes that hand notes over. All that is named must be there; a note that goes to the part it is in stays.
 * Costs what the parts that give or take have of notes.
 */
export const handOverChanges = (
  { parts }: Arrangement,
  destinations: Destinations,
  channels: Channels,
  copies: readonly AddedNote[] = [],
): { readonly changes: readonly Change[]; readonly selection: Selection } => {
  const traffic = new Map(parts.map((part) => [part.id, new Traffic(part)]));
  const at = (partId: PartId): Traffic => traffic.get(partId) as Traffic;
  const arrived = new Map<PartId, Set<NoteId>>();
  const arrive = (partId: PartId, ids: Iterable<NoteId>) => {
    const known = arrived.get(partId) ?? new Set();
    for (const id of ids) known.add(id);
    arrived.set(partId, known);
  };
  for (const [partId, own] of destinations) {
    const from = traffic.get(partId);
    if (!from) continue;
    for (const [target, notes] of byTarget(from.part, own)) {
      const ids = new Set(notes.map((note) => note.id));
      arrive(target, ids);
      if (target === partId) continue;
      const to = at(target);
      for (const note of notes) {
        from.gone.push(note);
        to.come.push(channels === 'keep' ? note : { ...note, channel: to.part.channel });
      }
      const decided = from.decidedAbout(ids);
      to.overrides.push(...decided.overrides);
      to.vetoes.push(...decided.vetoes);
    }
  }
  for (const { partId, note } of copies) {
    at(partId).come.push(note);
    arrive(partId, [note.id]);
  }
  return {
    changes: [...traffic.values()].flatMap((own) => own.changes()),
    selection: arrived.size > 0 ? arrived : NOTHING,
  };
};

/** Notes handed over as one Edit; null where none moves and none is added. */
export const handOver = (
  verb: string,
  arrangement: Arrangement,
  destinations: Destinations,
  channels: Channels,
  copies: readonly AddedNote[] = [],
): HandedOver | null => {
  const { changes, selection } = handOverChanges(arrangement, destinations, channels, copies);
  const counts = arrangement.parts.flatMap(({ id, name }) => {
    const change = changes.find((one) => one.kind === 'notes' && one.partId === id);
    const count = change?.kind === 'notes' ? change.added.length : 0;
    return count > 0 ? [{ name, count }] : [];
  });
  return counts.length === 0 ? null : { edit: { label: labelTo(verb, counts), changes }, selection };
};

/** Sends selected notes to a part; those that are in it stay. Null where none goes. */
export const sendToPart = (arrangement: Arrangement, selection: Selection, target: PartId): HandedOver | null => {
  const destinations = new Map(
    [...selection].map(([partId, ids]) => [partId, new Map([...ids].map((id) => [id, target]))]),
  );
  return partById(arrangement, target) ? handOver('Send', arrangement, destinations, 'part') : null;
};

/**
 * Sends selected notes to the next of the given parts, upward (-1) or downward (1), each from where it is; notes of the
 * outermost stay. Null where none goes.
 */
export const sendToNextPart = (
  arrangement: Arrangement,
  selection: Selection,
  among: readonly PartId[],
  step: 1 | -1,
): HandedOver | null => {
  const destinations = new Map(
    [...selection].flatMap(([partId, ids]) => {
      const at = among.indexOf(partId);
      const target = at < 0 ? undefined : (among[at + step] ?? partId);
      return target === undefined ? [] : [[partId, new Map([...ids].map((id) => [id, target]))] as const];
    }),
  );
  return handOver('Send', arrangement, destinations, 'part');
};
