/** Scales as semitones above their first step. */

/** The major scale. */
export const MAJOR_SCALE = [0, 2, 4, 5, 7, 9, 11] as const;
