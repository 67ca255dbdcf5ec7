/**
 * Whether a part has no human touch: its starts and ends already lie on a plain grid, as when it was drawn, or written by a
 * notation program. Such a part is taken at its word: rests, lengths and what sounds together are as they are said.
 */
import { endOf } from '../model/arrangement.js';
import { type Beat, beatsOfBars } from '../time/meterMap.js';
import { firstIndexAtOrAfter, lastIndexAtOrBefore } from '../time/search.js';
import type { StepContext } from './context.js';
import type { StepNote } from './stepNote.js';

/** The parts of a beat that places of a plain grid are multiples of: thirty-seconds, sixths, fifths, sevenths… */
const PARTS = [8, 6, 5, 7] as const;
/** …and of a dotted one: thirty-seconds, thirds of its thirds, duplets. */
const PARTS_OF_DOTTED = [12, 18, 8] as const;
/** A file's ticks may be too coarse for a third: so far off a place still counts (in beats). */
const COARSE = 0.003;
/** A note that stops no more than this before the next start goes on until then (in quarters). */
const SHORT_OF_NEXT = 0.1;
/** So many of the ends lie there… */
const NEARLY_ALL = 0.95;
/** …of at least so many: fewer may lie there by chance. */
const ENOUGH = 6;

/** The place of a plain grid that coarse ticks stand for; undefined where they lie on none. */
const placeOnGrid = (at: number, beats: readonly Beat[]): number | undefined => {
  const beat = beats[lastIndexAtOrBefore(beats, at, ({ start }) => start)];
  if (!beat) return undefined;
  // A beat past the last bar goes on like the last one.
  const place = (at - beat.start) / beat.length;
  const parts = (beat.compound ? PARTS_OF_DOTTED : PARTS).find(
    (count) => Math.abs(place * count - Math.round(place * count)) <= COARSE * count,
  );
  return parts && beat.start + (Math.round(place * parts) * beat.length) / parts;
};
/** True where a place lies on a plain grid, to the coarseness of a file's ticks. */
export const liesOnGrid = (at: number, beats: readonly Beat[]): boolean => placeOnGrid(at, beats) !== undefined;

/**
 * Where the notes of an untouched part end, in their order: at a start that lies there, else on the place that coarse ticks
 * stand for. `notes` are in order of onset, and have their starts where those are written.
 */
export const exactEnds = (notes: readonly StepNote[], context: StepContext): number[] => {
  const beats = beatsOfBars(context.bars, context.ppq);
  const startWithin = (note: StepNote, before: number, after: number): number | undefined => {
    const next = notes[firstIndexAtOrAfter(notes, endOf(note) - before, ({ onset }) => onset)]?.onset;
    return next !== undefined && next <= endOf(note) + after && next > note.onset ? next : undefined;
  };
  const near = COARSE * context.ppq;
  return notes.map((note) => {
    const end = startWithin(note, near, near) ?? placeOnGrid(endOf(note), beats);
    if (end !== undefined) return Math.round(end);
    // One of the few that stop just short of the next start, as before a repeat; or that lie nowhere.
    const unit = context.ppq / 8;
    return startWithin(note, 0, SHORT_OF_NEXT * context.ppq) ?? Math.max(1, Math.round(endOf(note) / unit)) * unit;
  });
};

/** True where starts and ends of nearly all notes lie on a plain grid. O(n). */
export const isUntouched = (notes: readonly StepNote[], context: StepContext): boolean => {
  if (notes.length < ENOUGH) return false;
  const beats = beatsOfBars(context.bars, context.ppq);
  let off = 0;
  const most = notes.length * (1 - NEARLY_ALL);
  for (const note of notes) {
    if (note.soundsTo !== undefined || !liesOnGrid(note.onset, beats) || !liesOnGrid(endOf(note), beats)) off += 1;
    if (off > most) return false;
  }
  return true;
};
