/**
 * What a note's hue shows: its part, or something else of the note, on a scale of our own. Each note falls into one of a
 * few shades, so that a layer is still a handful of fills. Scales are by lightness as well as hue, so that they can be read
 * in grey and by colour-blind eyes.
 */
import type { HueMode } from '../state/hueModes.js';

/** What a shade is chosen by. */
export interface HueNote {
  readonly id: number;
  readonly pitch: number;
  readonly velocity: number;
  readonly channel: number;
}

/** What is known of a note besides itself: where it stands on the page, and whether that is where it was played. */
export interface HueFacts {
  readonly voice: number;
  readonly staff: number;
  readonly changed: boolean;
}

/** A scale: shades in order, each with what it stands for. */
export interface Scale {
  readonly shades: readonly { readonly colour: string; readonly words: string }[];
  /** The shade of a note, an index into them. */
  readonly shadeOf: (note: HueNote, facts: HueFacts | undefined) => number;
}

/** Depths of one hue, from faint to full: for the light sheet they darken, for the dark one they lighten. */
const depths = (hue: number, count: number, dark: boolean): string[] =>
  Array.from({ length: count }, (_, at) => {
    const share = count === 1 ? 1 : at / (count - 1);
    const lightness = dark ? 34 + share * 50 : 82 - share * 56;
    return `hsl(${hue} ${30 + share * 45}% ${lightness}%)`;
  });

const LOUDNESS = ['under 32', '32 to 47', '48 to 63', '64 to 79', '80 to 95', '96 to 111', '112 and more'];
/** Pitch classes by fifths: neighbours of the circle are neighbours in hue, and sharps stand apart from naturals in depth. */
const CLASS_NAMES = ['C', 'C♯', 'D', 'D♯', 'E', 'F', 'F♯', 'G', 'G♯', 'A', 'A♯', 'B'];
const SHARPS = new Set([1, 3, 6, 8, 10]);
/** After Okabe and Ito (2008), darkened for paper and lightened for the dark sheet. */
const APART_LIGHT = ['#00619a', '#b14a00', '#00785a', '#a0437e'];
const APART_DARK = ['#6cb8ea', '#f0925a', '#4cc7a0', '#e39cc8'];

/** The scale of a mode in a theme; null where hue shows the part. */
export const scaleOf = (mode: HueMode, dark: boolean): Scale | null => {
  const apart = dark ? APART_DARK : APART_LIGHT;
  const faint = dark ? 'hsl(40 8% 45%)' : 'hsl(40 12% 68%)';
  switch (mode) {
    case 'part':
      return null;
    case 'loudness': {
      const colours = depths(18, LOUDNESS.length, dark);
      return {
        shades: LOUDNESS.map((words, at) => ({ colour: colours[at] as string, words })),
        shadeOf: ({ velocity }) => Math.max(0, Math.min(LOUDNESS.length - 1, Math.floor(velocity / 16) - 1)),
      };
    }
    case 'pitchClass':
      return {
        shades: CLASS_NAMES.map((words, pitchClass) => ({
          colour: `hsl(${(((pitchClass * 7) % 12) * 30 + 15) % 360} 60% ${
            (dark ? 66 : 36) + (SHARPS.has(pitchClass) ? (dark ? -18 : 18) : 0)
          }%)`,
          words,
        })),
        shadeOf: ({ pitch }) => pitch % 12,
      };
    case 'voice':
      return {
        shades: apart.map((colour, at) => ({ colour, words: `voice ${at + 1}` })),
        shadeOf: (_, facts) => Math.max(0, Math.min(apart.length, facts?.voice ?? 1) - 1),
      };
    case 'hand':
      return {
        shades: [
          { colour: apart[0] as string, words: 'upper staff' },
          { colour: apart[1] as string, words: 'lower staff' },
        ],
        shadeOf: (_, facts) => ((facts?.staff ?? 1) === 2 ? 1 : 0),
      };
    case 'channel': {
      const colours = [...depths(205, 8, dark), ...depths(25, 8, dark)];
      return {
        shades: colours.map((colour, at) => ({ colour, words: String(at + 1) })),
        shadeOf: ({ channel }) => Math.max(0, Math.min(15, channel)),
      };
    }
    case 'changed':
      return {
        shades: [
          { colour: faint, words: 'as played' },
          { colour: apart[1] as string, words: 'changed or left out' },
        ],
        shadeOf: (_, facts) => (facts && !facts.changed ? 0 : 1),
      };
    default:
      return mode satisfies never;
  }
};
