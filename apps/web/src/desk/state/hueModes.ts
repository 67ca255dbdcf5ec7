/** What hue can show. */

/**
 * What a note's hue shows: its part, or something else of the note, on a scale of our own. Each note falls into one of a
 * few shades, so that a layer is still a handful of fills. Scales are by lightness as well as hue, so that they can be read
 * in grey and by colour-blind eyes.
 */

/** What hue can show. */
export const HUES = ['part', 'loudness', 'pitchClass', 'voice', 'hand', 'channel', 'changed'] as const;

/** One of them. */
export type HueMode = (typeof HUES)[number];

/** What they are called. */
export const HUE_NAMES: { readonly [Mode in HueMode]: string } = {
  part: 'Part',
  loudness: 'Loudness',
  pitchClass: 'Pitch class',
  voice: 'Voice',
  hand: 'Hand',
  channel: 'Channel',
  changed: 'What the plan changed',
};
