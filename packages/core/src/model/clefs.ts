/** Clefs the page can set. */
export const CLEF_NAMES = ['treble', 'treble8below', 'alto', 'tenor', 'bass', 'percussion'] as const;
/** One of them. */
export type ClefName = (typeof CLEF_NAMES)[number];
