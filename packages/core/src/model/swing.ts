/** Swing: pairs of notes that are written even and played long and short. */

/** How pairs are played. */
export interface Swing {
  /** Where the second of a pair is struck, in percent of the pair; 50 is even. */
  readonly percent: number;
  /** What is paired: eighths, which fill a beat, or sixteenths, which fill half of one. */
  readonly pair: 'eighths' | 'sixteenths';
}

/** Swing as a page says it without a take to measure: two thirds and one (common practice). */
export const USUAL_SWING = 200 / 3;

/** A passage that swings, in ticks. */
export interface SwungPassage {
  readonly swing: Swing;
  readonly from: number;
  readonly to: number;
}
