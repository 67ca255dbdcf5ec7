/** What a press and a drag in the roll mean. No DOM here: places in, meaning out. */
import { type Note, type NoteId, type PartId, type SharedEdge, sharedEdgeAt } from '@crispfold/core';
import { headWidth, pitchOfY, type RollView, type Rows, tickOfX, xOfTick } from '../state/rollView.js';
import { asRollNote, type RollNote, type RollPart } from './layers.js';
import { createNoteIndex, type NoteIndex, noteAt, notesInBox, startsInBox } from './noteIndex.js';

/** A note of a part. */
export interface PartNote {
  readonly partId: PartId;
  readonly note: RollNote;
}

/** What lies under the pointer. */
export type Target =
  | ({ readonly kind: 'body' } & PartNote)
  | ({ readonly kind: 'edge'; readonly edge: 'start' | 'end' } & PartNote)
  /** Where notes end and others begin. */
  | ({ readonly kind: 'seam'; readonly shared: SharedEdge } & PartNote)
  | { readonly kind: 'empty' };

/** What presses on notes: a mouse or a pen, or a finger, which covers what it aims at. */
export type Pressing = 'point' | 'finger';

/** How near is near enough, in pixels. */
interface Reach {
  /** From an edge within which it is grabbed; never more than `ofNote` of the note. */
  readonly edge: number;
  readonly ofNote: number;
  /** About a shared edge within which both sides are grabbed: further in, the note's own edge is. */
  readonly seam: number;
  /** So far outside narrow notes can be grabbed. */
  readonly note: number;
  /** So far above and below low rows. */
  readonly row: number;
}

const REACHES: { readonly [pressing in Pressing]: Reach } = {
  point: { edge: 6, ofNote: 1 / 4, seam: 3, note: 3, row: 0 },
  finger: { edge: 16, ofNote: 1 / 3, seam: 6, note: 10, row: 12 },
};

const EMPTY: Target = { kind: 'empty' };

/** What a place is looked for in. */
export interface Ground {
  readonly view: RollView;
  readonly rows: Rows;
  readonly creaseTick: number;
  /** Edges no further apart than this are one (ticks). */
  readonly seamWithin: number;
  readonly pressing: Pressing;
}

/** The edge of a note that a place takes hold of, if any. */
const edgeAt = (view: RollView, note: RollNote, x: number, near: Reach): 'start' | 'end' | null => {
  const left = xOfTick(view, note.onset);
  const right = xOfTick(view, note.onset + note.duration);
  const reach = Math.min(near.edge, (right - left) * near.ofNote);
  if (Math.abs(x - right) <= Math.max(reach, x > right ? near.note : 0)) return 'end';
  return Math.abs(x - left) <= reach ? 'start' : null;
};

/** A head is taken hold of as it is drawn; it has no edges. */
const hitAt = (
  index: NoteIndex<RollNote>,
  view: RollView,
  pitch: number,
  tick: number,
  near: Reach,
): RollNote | undefined => {
  const reach = near.note * view.ticksPerPixel;
  const box = { start: tick - headWidth(view) * view.ticksPerPixel - reach, end: tick + reach };
  return startsInBox(index, { ...box, lowest: pitch, highest: pitch }).pop();
};

/** Finds what is under a point of the roll, in some parts, the uppermost first; shared edges are those among all of them. */
export const targetAt = (parts: readonly RollPart[], ground: Ground, x: number, y: number): Target => {
  const { row } = REACHES[ground.pressing];
  const { rowHeight } = ground.view;
  let found = targetInRow(parts, ground, x, y);
  // The row that is pressed, then those about it, the nearest first.
  for (let away = rowHeight; found.kind === 'empty' && away <= row; away += rowHeight) {
    found = targetInRow(parts, ground, x, y - away);
    if (found.kind === 'empty') found = targetInRow(parts, ground, x, y + away);
  }
  return found;
};

const targetInRow = (parts: readonly RollPart[], ground: Ground, x: number, y: number): Target => {
  const { view, rows, creaseTick, seamWithin } = ground;
  const near = REACHES[ground.pressing];
  const pitch = pitchOfY(view, rows, y);
  if (pitch === undefined) return EMPTY;
  const tick = tickOfX(view, x);
  const indexOf = (part: RollPart) => indexAt(part.played, part.written, tick, creaseTick);
  for (const part of parts) {
    const index = indexOf(part);
    const note = part.hits
      ? hitAt(index, view, pitch, tick, near)
      : noteAt(index, pitch, tick, near.note * view.ticksPerPixel);
    if (!note) continue;
    const own: PartNote = { partId: part.partId, note };
    const edge = part.hits ? null : edgeAt(view, note, x, near);
    if (!edge) return { kind: 'body', ...own };
    const at = edge === 'end' ? note.onset + note.duration : note.onset;
    if (Math.abs(x - xOfTick(view, at)) <= near.seam) {
      const box = { start: at - seamWithin, end: at + seamWithin, lowest: 0, highest: 127 };
      const beside = parts
        .filter(({ hits }) => !hits)
        .map((candidate) => ({ partId: candidate.partId, notes: notesInBox(indexOf(candidate), box) }));
      const shared = sharedEdgeAt(beside, at, seamWithin);
      if (shared) return { kind: 'seam', shared, ...own };
    }
    return { kind: 'edge', edge, ...own };
  }
  return EMPTY;
};

/** How a tick goes to the grid: whole ticks where `unit` is 0. */
export const snapTick = (tick: number, unit: number, barStart: number): number =>
  unit <= 0 ? Math.round(tick) : barStart + Math.round((tick - barStart) / unit) * unit;

/** A distance as whole grid steps, so that a moved note keeps its own place beside the line. */
export const snapDistance = (distance: number, unit: number): number =>
  unit <= 0 ? Math.round(distance) : Math.round(distance / unit) * unit;

/** Snapping is off by choice, or because single ticks can be seen. */
export const gridUnit = (snapOn: boolean, fraction: number, ppq: number, ticksPerPixel: number): number =>
  !snapOn || ticksPerPixel < 0.25 ? 0 : fraction * 4 * ppq;

/** Which layer the pointer works on, left and right of the crease. */
export const indexAt = (
  played: NoteIndex<RollNote>,
  written: NoteIndex<RollNote>,
  tick: number,
  creaseTick: number,
): NoteIndex<RollNote> => (tick < creaseTick ? played : written);

/** A start or an end of another note, near what is dragged. */
export interface NearEdge {
  readonly tick: number;
  /** From what is dragged to it, in ticks. */
  readonly distance: number;
}

/** Edges of notes near a tick, the nearest first, no two at one tick; `leftOut` tells notes that do not count. */
export const edgesNear = (
  parts: readonly RollPart[],
  tick: number,
  within: number,
  leftOut: (partId: PartId, id: NoteId) => boolean,
): readonly NearEdge[] => {
  const found = new Map<number, NearEdge>();
  for (const part of parts) {
    const box = { start: tick - within, end: tick + within, lowest: 0, highest: 127 };
    for (const note of notesInBox(part.played, box)) {
      if (note.muted || leftOut(part.partId, note.id)) continue;
      for (const at of [note.onset, note.onset + note.duration]) {
        if (Math.abs(at - tick) <= within) found.set(at, { tick: at, distance: at - tick });
      }
    }
  }
  return [...found.values()].sort((a, b) => Math.abs(a.distance) - Math.abs(b.distance));
};

/** An index over notes as an Edit would leave them: changed, taken out (null) and added ones, in order of onset. */
export const draftIndex = (
  index: NoteIndex<RollNote>,
  edited: ReadonlyMap<NoteId, Note | null>,
): NoteIndex<RollNote> => {
  const left = new Map(edited);
  const notes = index.notes.flatMap((note) => {
    const now = left.get(note.id);
    left.delete(note.id);
    return now === undefined ? [note] : now === null ? [] : [asRollNote(now)];
  });
  for (const added of left.values()) if (added) notes.push(asRollNote(added));
  return createNoteIndex(notes.sort((a, b) => a.onset - b.onset));
};
