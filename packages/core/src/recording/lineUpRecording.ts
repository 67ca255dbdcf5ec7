/** Notes and a recording brought together: the recording moved to the notes, or notes moved to its attacks. */
import FFT from 'fft.js';
import { editSelected } from '../edits/editSelected.js';
import type { Arrangement, Note, Recording } from '../model/arrangement.js';
import type { Edit } from '../model/edit.js';
import { FURTHEST_OFFSET } from '../model/limits.js';
import { type Selection, selectedNotes } from '../model/selection.js';
import { median } from '../model/statistics.js';
import { lastIndexAtOrBefore } from '../time/search.js';
import { createTempoMap } from '../time/tempoMap.js';
import { ticks } from '../time/units.js';

/** Edits the recording that lies beside the notes; null where there is none, or nothing changes. */
export const changeRecording = (arrangement: Arrangement, label: string, change: Partial<Recording>): Edit | null => {
  const before = arrangement.recording;
  if (!before) return null;
  const offset = Math.max(-FURTHEST_OFFSET, Math.min(FURTHEST_OFFSET, change.offset ?? before.offset));
  const level = Math.max(0, Math.min(1, change.level ?? before.level));
  const after = { ...before, ...change, offset, level };
  if (JSON.stringify(after) === JSON.stringify(before)) return null;
  return withRecording(arrangement, label, after);
};

/** The Edit that lays a recording beside the notes, in the place of another, or takes it away. */
export const withRecording = (arrangement: Arrangement, label: string, recording: Recording | null): Edit => ({
  label,
  changes: [
    {
      kind: 'arrangementFields',
      before: { recording: arrangement.recording ?? null },
      after: { recording },
    },
  ],
});

const self = (value: number): number => value;

/** The value nearest to one, of sorted ones; undefined of none. */
const nearestOf = (sorted: readonly number[], to: number): number | undefined => {
  const at = lastIndexAtOrBefore(sorted, to, self);
  const [below, above] = [sorted[at], sorted[at + 1]];
  if (below === undefined || above === undefined) return below ?? above;
  return to - below <= above - to ? below : above;
};

/** Places are compared in boxes this wide, in seconds, and as near when they are within so much. */
const BOX = 0.01;
const NEAR = 0.04;

/** How well each shift of `moving` meets `fixed`, by one Fourier transform of both (cross-correlation). */
const bestShift = (fixed: readonly number[], moving: readonly number[]): number => {
  const span = Math.max(...fixed.map(Math.abs), 0) + Math.max(...moving.map(Math.abs), 0) + 1;
  const size = 2 ** Math.ceil(Math.log2(Math.max(64, (2 * span) / BOX)));
  const fft = new FFT(size);
  const spectrumOf = (times: readonly number[]): Float64Array => {
    const boxes = new Float64Array(size);
    // A place counts in its own box, and half in those beside it.
    for (const time of times) {
      const box = Math.round(time / BOX);
      for (const [by, weight] of [
        [-1, 0.5],
        [0, 1],
        [1, 0.5],
      ] as const)
        boxes[(((box + by) % size) + size) % size] = (boxes[(((box + by) % size) + size) % size] as number) + weight;
    }
    const out = new Float64Array(2 * size);
    fft.realTransform(out, boxes);
    fft.completeSpectrum(out);
    return out;
  };
  const [a, b] = [spectrumOf(fixed), spectrumOf(moving)];
  const product = new Float64Array(2 * size);
  for (let at = 0; at < 2 * size; at += 2) {
    const [ar, ai, br, bi] = [a[at] as number, a[at + 1] as number, b[at] as number, b[at + 1] as number];
    product[at] = ar * br + ai * bi;
    product[at + 1] = ai * br - ar * bi;
  }
  const met = new Float64Array(2 * size);
  fft.inverseTransform(met, product);
  let best = 0;
  for (let box = 0; box < size; box += 1) if ((met[2 * box] as number) > (met[2 * best] as number)) best = box;
  return (best > size / 2 ? best - size : best) * BOX;
};

/** Where a recording would lie. */
export interface OffsetFound {
  /** In seconds from tick 0. */
  readonly offset: number;
  /** How many of the starts between its first and its last attack then have one within 40 ms, and how many there are. */
  readonly met: number;
  readonly of: number;
}

/**
 * The offset at which a recording's attacks meet the starts of notes best. Starts in seconds from tick 0, attacks from the
 * recording's own start; null where there is nothing to compare.
 */
export const offsetToNotes = (starts: readonly number[], attacks: readonly number[]): OffsetFound | null => {
  const fixed = [...new Set(starts)].sort((a, b) => a - b);
  const moving = [...attacks].sort((a, b) => a - b);
  if (fixed.length === 0 || moving.length === 0) return null;
  let offset = bestShift(fixed, moving);
  const distances = () =>
    fixed.flatMap((start) => {
      const nearest = nearestOf(moving, start - offset);
      const distance = nearest === undefined ? Number.POSITIVE_INFINITY : start - offset - nearest;
      return Math.abs(distance) <= NEAR ? distance : [];
    });
  for (let round = 0; round < 3; round += 1) offset += median(distances()) ?? 0;
  const [first, last] = [moving[0] as number, moving.at(-1) as number];
  const within = fixed.filter((start) => start - offset >= first - NEAR && start - offset <= last + NEAR);
  return { offset, met: distances().length, of: within.length };
};

/** The seconds at which notes start that are heard: those selected, or all where none are. */
export const startsToCompare = (arrangement: Arrangement, selection: Selection): number[] => {
  const map = createTempoMap(arrangement.tempos, arrangement.ppq);
  const chosen = arrangement.parts.flatMap((part) => [...selectedNotes(selection, part)]);
  const notes = chosen.length > 0 ? chosen : arrangement.parts.flatMap((part) => part.notes);
  return notes.filter((note) => !note.muted).map((note) => map.secondsAt(note.onset));
};

/** How notes go to attacks. */
export interface ToAttacks {
  /** Notes within so many milliseconds of an attack go to it; others stay. */
  readonly within: number;
  /** How much of the way, from 0 to 1. */
  readonly share: number;
}

/** What moving notes to attacks would do. */
export interface MovedToAttacks {
  readonly edit: Edit | null;
  readonly moved: number;
  /** Notes with no attack near them. */
  readonly left: number;
  /** In milliseconds. */
  readonly furthest: number;
}

/**
 * Moves the starts of selected notes to the nearest attacks; lengths stay, so that what is held is held as long. Attacks in
 * seconds of the recording. Muted notes are left alone.
 */
export const moveToAttacks = (
  arrangement: Arrangement,
  selection: Selection,
  attacks: readonly number[],
  { within, share }: ToAttacks,
): MovedToAttacks => {
  const map = createTempoMap(arrangement.tempos, arrangement.ppq);
  const offset = arrangement.recording?.offset ?? 0;
  const places = attacks.map((attack) => attack + offset).sort((a, b) => a - b);
  let [moved, left, furthest] = [0, 0, 0];
  const placed = (note: Note): Note => {
    if (note.muted) return note;
    const at = map.secondsAt(note.onset);
    const nearest = nearestOf(places, at);
    if (nearest === undefined || Math.abs(nearest - at) * 1000 > within) {
      left += 1;
      return note;
    }
    const onset = ticks(Math.max(0, Math.round(map.ticksAt(at + (nearest - at) * share))));
    if (onset === note.onset) return note;
    moved += 1;
    furthest = Math.max(furthest, Math.abs(map.secondsAt(onset) - at) * 1000);
    return { ...note, onset };
  };
  const edit = editSelected('Move to attacks', arrangement, selection, placed);
  return { edit, moved, left, furthest };
};

/** A stretch of a recording that is heard. */
export interface RecordingSlot {
  /** Music seconds at which it begins to be heard. */
  readonly at: number;
  /** Where in the recording that is, and how long it is heard, in seconds. */
  readonly from: number;
  readonly length: number;
}

/** What of a recording is heard between two places, in seconds from tick 0; null where nothing is. */
export const recordingSlot = (
  { offset, seconds }: Pick<Recording, 'offset' | 'seconds'>,
  from: number,
  until: number,
): RecordingSlot | null => {
  const at = Math.max(from, offset);
  const length = Math.min(until, offset + seconds) - at;
  return length > 0 ? { at, from: at - offset, length } : null;
};
