/**
 * What a note shows, in this order and no more than fits: its part by the cut of its edge, loudness as fill, its name,
 * brackets of what is written. As room goes, the last of them goes first; the edge stays longest, for it alone tells parts
 * apart whatever hue shows.
 */
import type { RollView } from '../state/rollView.js';

/** Notes narrower or lower than these are plain boxes, in pixels. */
const SMALLEST_CUT_WIDTH = 9;
const SMALLEST_DETAILED = 6;
/** Rows from this height on have room for names on their notes, in pixels… */
const LOWEST_NAMED = 11;
/** …and notes from this width on, in pixels. */
const NARROWEST_NAMED = 34;
/** From this many ticks to the pixel on, brackets would be a blot. */
const BRACKETS_UNTIL = 40;

/** True where the cut of the left edge can be seen; height is the note's. */
export const cutFits = (width: number, height: number): boolean =>
  width >= SMALLEST_CUT_WIDTH && height >= SMALLEST_DETAILED;

/** True where rows have room for outlines and for loudness as fill. */
export const fillFits = ({ rowHeight }: Pick<RollView, 'rowHeight'>): boolean => rowHeight >= SMALLEST_DETAILED;

/** True where names are drawn: rows have room for them, or they are wanted always. */
export const namesFit = (view: Pick<RollView, 'rowHeight'>, names: 'room' | 'always' | 'never'): boolean =>
  names === 'room' ? view.rowHeight >= LOWEST_NAMED : names === 'always' && fillFits(view);

/** True where a note has room for its name. */
export const nameFits = (width: number): boolean => width >= NARROWEST_NAMED;

/** True where brackets of the written span can be told from the note. */
export const bracketsFit = ({ rowHeight, ticksPerPixel }: Pick<RollView, 'rowHeight' | 'ticksPerPixel'>): boolean =>
  rowHeight >= SMALLEST_DETAILED && ticksPerPixel <= BRACKETS_UNTIL;
