/** Line up: notes of several parts that nearly meet get one start, or one end. */
import { type Arrangement, endOf, type Note, type PartId } from '../model/arrangement.js';
import type { Edit } from '../model/edit.js';
import { type Selection, selectedNotes } from '../model/selection.js';
import { median } from '../model/statistics.js';
import { startGroups } from '../reading/startGroups.js';
import { type Length, lengthInTicks } from '../time/noteLengths.js';
import { createTempoMap } from '../time/tempoMap.js';
import { ticks } from '../time/units.js';
import { editSelected } from './editSelected.js';

/** How to line up. */
export interface LineUp {
  readonly edge: 'start' | 'end';
  /** Where the notes of a group go: to its first, to its middle one, or to where a part has it. */
  readonly to: 'earliest' | 'middle' | { readonly partId: PartId };
  /** Edges this near to the first of their group are one group. */
  readonly window: Length;
  /** A part that is always a little early or late stays so: by the middle of its distances. */
  readonly keepLean: boolean;
}

/** What a line-up would do. */
export interface LinedUp {
  /** Null where nothing moves. */
  readonly edit: Edit | null;
  /** How many notes move. */
  readonly moved: number;
  /** The furthest that one moves, in milliseconds. */
  readonly furthest: number;
}

interface Edge {
  readonly partId: PartId;
  readonly note: Note;
  readonly onset: number;
}

const targetOf = (group: readonly Edge[], to: LineUp['to']): number | undefined => {
  if (to === 'earliest') return group[0]?.onset;
  if (to === 'middle') return median(group.map((edge) => edge.onset));
  return median(group.flatMap((edge) => (edge.partId === to.partId ? edge.onset : [])));
};

/** How far each part's edges usually lie from where they are to go, in ticks. */
const leansOf = (moves: readonly { readonly edge: Edge; readonly target: number }[]): ReadonlyMap<PartId, number> => {
  const distances = new Map<PartId, number[]>();
  for (const { edge, target } of moves) {
    distances.set(edge.partId, [...(distances.get(edge.partId) ?? []), edge.onset - target]);
  }
  return new Map([...distances].map(([partId, all]) => [partId, Math.round(median(all) ?? 0)]));
};

/**
 * Lines up selected notes that nearly meet, in groups of at least two parts. Where a start moves, the end stays, and the
 * other way about, so that nothing else shifts; each note keeps a tick. Muted notes are left alone.
 */
export const lineUp = (arrangement: Arrangement, selection: Selection, options: LineUp): LinedUp => {
  const tempoMap = createTempoMap(arrangement.tempos, arrangement.ppq);
  const atStart = options.edge === 'start';
  const edges = arrangement.parts
    .flatMap((part) =>
      selectedNotes(selection, part)
        .filter((note) => !note.muted)
        .map((note): Edge => ({ partId: part.id, note, onset: atStart ? note.onset : endOf(note) })),
    )
    .sort((a, b) => a.onset - b.onset || a.partId - b.partId || a.note.id - b.note.id);
  const window = ({ onset }: Edge) =>
    lengthInTicks(options.window, arrangement.ppq, tempoMap.ticksPerMillisecond(onset));
  const moves: { edge: Edge; target: number }[] = [];
  for (const group of startGroups(edges, window)) {
    if (new Set(group.map((edge) => edge.partId)).size < 2) continue;
    const target = targetOf(group, options.to);
    if (target !== undefined) for (const edge of group) moves.push({ edge, target });
  }
  const leans = options.keepLean ? leansOf(moves) : new Map<PartId, number>();
  const placed = new Map<Note, number>();
  let furthest = 0;
  for (const { edge, target } of moves) {
    const { note } = edge;
    const wanted = Math.max(0, target + (leans.get(edge.partId) ?? 0));
    const at = atStart ? Math.min(wanted, Math.max(note.onset, endOf(note) - 1)) : Math.max(wanted, note.onset + 1);
    if (at === edge.onset) continue;
    placed.set(note, at);
    const distance = Math.abs(tempoMap.secondsAt(at) - tempoMap.secondsAt(edge.onset)) * 1000;
    furthest = Math.max(furthest, distance);
  }
  const edit = editSelected('Line up', arrangement, selection, (note) => {
    const at = placed.get(note);
    if (at === undefined) return note;
    return atStart
      ? { ...note, onset: ticks(at), duration: ticks(endOf(note) - at) }
      : { ...note, duration: ticks(at - note.onset) };
  });
  return { edit, moved: placed.size, furthest };
};
