/**  */

export const RECORDING_HEIGHT = 38;

/** Width of the strip of note names at the left. */
export const NAMES_WIDTH = 40;

/** Height of the ruler. */
export const RULER_HEIGHT = 46;
