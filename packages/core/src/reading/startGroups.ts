/** What starts together: one way of grouping notes by their starts, and what counts as one chord. */
import { milliseconds, noteValue, shortestOf } from '../time/noteLengths.js';
import type { StepContext } from './context.js';
import type { StepNote } from './stepNote.js';

/** Tones of a chord are struck within this; Gather chords brings them together (tuned on the keyboard accuracy cases). */
export const CHORD_WINDOW = milliseconds(35);
/** Nearer than this two starts are no two values of a quick run: a triplet of thirty-seconds is never taken for a chord. */
const SHORTEST_RUN = noteValue(1 / 48);

/**
 * Groups of notes that start within `window` ticks of the first of their group; `joins` may keep a note out of a group.
 * `sorted` is in order of onset; O(n) but for `joins`.
 */
export const startGroups = <Item extends { readonly onset: number }>(
  sorted: readonly Item[],
  window: (head: Item) => number,
  joins: (group: readonly Item[], note: Item) => boolean = () => true,
): Item[][] => {
  const groups: Item[][] = [];
  let group: Item[] = [];
  let last = Number.NEGATIVE_INFINITY;
  for (const note of sorted) {
    if (group.length > 0 && note.onset <= last && joins(group, note)) group.push(note);
    else {
      group = [note];
      last = note.onset + window(note);
      groups.push(group);
    }
  }
  return groups;
};

/** A chord's window in ticks at a note; also shorter than the shortest value of a run. */
export const chordWindow = ({
  ppq,
  tempoMap,
}: Pick<StepContext, 'ppq' | 'tempoMap'>): ((head: { readonly onset: number }) => number) => {
  const shortest = shortestOf([CHORD_WINDOW, SHORTEST_RUN], ppq);
  const run = shortestOf([SHORTEST_RUN], ppq);
  return (head) => {
    const perMs = tempoMap.ticksPerMillisecond(head.onset);
    return Math.min(shortest(perMs), run(perMs) - 1);
  };
};

/** A chord, or a single note, and the starts that follow it. */
export interface ChordAt {
  readonly notes: readonly StepNote[];
  readonly onset: number;
  /** Where the next note outside the chord begins; infinite where none does. */
  readonly nextNote: number;
  /** Where the next two notes or more begin together; infinite where none do. */
  readonly nextChord: number;
  /** The first note of each of those. */
  readonly nextNoteHead: StepNote | undefined;
  readonly nextChordHead: StepNote | undefined;
}

/** The chords of a line, in order. `sorted` is in order of onset. */
export const chordsOf = (sorted: readonly StepNote[], context: StepContext): readonly ChordAt[] => {
  const groups = startGroups(sorted, chordWindow(context));
  const chords: ChordAt[] = new Array(groups.length);
  let nextNoteHead: StepNote | undefined;
  let nextChordHead: StepNote | undefined;
  for (let index = groups.length - 1; index >= 0; index -= 1) {
    const notes = groups[index] as StepNote[];
    const head = notes[0] as StepNote;
    chords[index] = {
      notes,
      onset: head.onset,
      nextNote: nextNoteHead?.onset ?? Number.POSITIVE_INFINITY,
      nextChord: nextChordHead?.onset ?? Number.POSITIVE_INFINITY,
      nextNoteHead,
      nextChordHead,
    };
    nextNoteHead = head;
    if (notes.length > 1) nextChordHead = head;
  }
  return chords;
};
