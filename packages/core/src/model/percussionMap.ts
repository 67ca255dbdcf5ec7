/** What a part says of its percussion sounds: plain data. */

/** The shapes of heads. */
export const NOTEHEADS = ['normal', 'x', 'diamond', 'triangle', 'slash'] as const;
/** One of them. */
export type Notehead = (typeof NOTEHEADS)[number];

/** Letters of the staff's places. */
export const PLACE_STEPS = ['C', 'D', 'E', 'F', 'G', 'A', 'B'] as const;

/** How one percussion sound is written. */
export interface PercussionSound {
  readonly name: string;
  /** Staff place as a treble-clef pitch: E4 is the lowest line, B4 the middle one, F5 the highest. */
  readonly step: (typeof PLACE_STEPS)[number];
  readonly octave: number;
  readonly notehead: Notehead;
  /** Voice on the staff: 1 is played by the hands, stems up; 2 by the feet, stems down. */
  readonly voice: 1 | 2;
}

/** How a part writes one sound; `sound` is its MIDI key, 0 to 127. */
export interface PercussionRow extends PercussionSound {
  readonly sound: number;
}

/** What a part says of single sounds, one row each; all others are those of General MIDI. */
export type PercussionMap = readonly PercussionRow[];
