/** Signs that a page has at a note, as they were read from how it was played. */
import type { NoteId } from './ids.js';

/** Signs on a chord that are there or not. */
export const MARKS = [
  'accent',
  'tenuto',
  'marcato',
  'fermata',
  'trill',
  'mordent',
  'upperMordent',
  'turn',
  'tremolo',
  'arpeggio',
] as const;
/** One of them. */
export type Mark = (typeof MARKS)[number];

/** Levels and shocks that a page can say. */
export const DYNAMICS = ['ppp', 'pp', 'p', 'mp', 'mf', 'f', 'ff', 'fff', 'sfz', 'fp'] as const;
/** One of them. */
export type Dynamic = (typeof DYNAMICS)[number];

/** A tone that is heard and not written as a note of its own: of a grace note, a trill, a tremolo. */
export interface HeardTone {
  /** The Played note that it was. */
  readonly id: NoteId;
  readonly pitch: number;
  readonly velocity: number;
  /** From the start of the written note, in ticks; before it where negative. */
  readonly at: number;
  readonly duration: number;
}

/** Signs at a note. */
export interface NoteSigns {
  /** Grace notes before it, in order. */
  readonly graces?: readonly HeardTone[];
  readonly marks?: readonly Mark[];
  /** What is heard in its place where an ornament or a tremolo stands for more tones than the one written. */
  readonly tones?: readonly HeardTone[];
  /** A glissando from here to another note; its tones are `tones`. */
  readonly glissando?: { readonly to: NoteId };
  readonly dynamic?: Dynamic;
  /** A hairpin that begins here and ends at another note. */
  readonly hairpin?: { readonly to: NoteId; readonly way: 'louder' | 'softer' };
}
