/** Music as composed: a small text form for the demo's score, and the notes it stands for. */
import type { Dynamic } from '../model/noteSigns.js';
import type { Swing } from '../model/swing.js';
import { type Meter, ticksPerBar } from '../time/meterMap.js';
import { WRITTEN_PPQ, type WrittenUnits } from '../time/units.js';

/** A note of the score; positions in written units. */
export interface ComposedNote {
  readonly pitch: number;
  readonly onset: WrittenUnits;
  readonly duration: WrittenUnits;
  /** Trilled with the tone so many semitones above. */
  readonly trill?: 1 | 2;
  /** A grace note before it, by its pitch. */
  readonly grace?: number;
  /** Its chord is rolled upwards. */
  readonly rolled?: true;
}

/** A level, or a swell from a place on, until the next of them; positions in written units. */
export interface ComposedDynamic {
  readonly at: WrittenUnits;
  readonly level: Dynamic | 'louder' | 'softer';
}

/** A part of the score. */
export interface ComposedPart {
  readonly name: string;
  readonly instrument: string;
  readonly channel: number;
  readonly program: number | null;
  readonly notes: readonly ComposedNote[];
  /** How the sustain pedal is played: changed at each chord, or once a bar while the fingers let go early. */
  readonly pedal: 'none' | 'chord' | 'bar';
  /** In order; none where the part is played at one level. */
  readonly dynamics?: readonly ComposedDynamic[];
}

/** A passage that is written even and played long and short. */
export interface ComposedSwing extends Swing {
  readonly from: WrittenUnits;
  readonly to: WrittenUnits;
}

/** A whole score. */
export interface ComposedScore {
  readonly title: string;
  readonly meters: readonly (Meter & { readonly tick: WrittenUnits })[];
  readonly tempos: readonly { readonly tick: WrittenUnits; readonly quartersPerMinute: number }[];
  readonly markers: readonly { readonly tick: WrittenUnits; readonly text: string }[];
  readonly keys: readonly { readonly tick: WrittenUnits; readonly fifths: number; readonly minor: boolean }[];
  readonly parts: readonly ComposedPart[];
  readonly swings?: readonly ComposedSwing[];
}

const LETTERS: { readonly [letter: string]: number } = { c: 0, d: 2, e: 4, f: 5, g: 7, a: 9, b: 11 };
const VALUES: { readonly [letter: string]: number } = { w: 4, h: 2, q: 1, e: 1 / 2, s: 1 / 4 };

/** "bb4" or "f#5" to a MIDI number; c4 is 60. */
const pitchOf = (text: string): number => {
  const match = /^([a-g])(#|b)?(\d)$/.exec(text);
  if (!match) throw new Error(`Not a pitch: ${text}`);
  const [, letter, accidental, octave] = match as unknown as [string, string, string | undefined, string];
  const bend = accidental === '#' ? 1 : accidental === 'b' ? -1 : 0;
  return (LETTERS[letter] as number) + bend + 12 * (Number(octave) + 1);
};

/** "q", "e.", "qt" (triplet) to written units. */
const unitsOf = (text: string): number => {
  const match = /^([whqes])(\.?)(t?)$/.exec(text);
  if (!match) throw new Error(`Not a value: ${text}`);
  const [, letter, dot, triplet] = match as unknown as [string, string, string, string];
  const quarters = (VALUES[letter] as number) * (dot ? 1.5 : 1) * (triplet ? 2 / 3 : 1);
  return Math.round(quarters * WRITTEN_PPQ);
};

/**
 * Reads bars such as "d5:q r:e a4+d5:q. | …" from `firstBar` on; each bar must add up to its meter.
 * `meters` has one meter a bar.
 */
export const composeBars = (text: string, meters: readonly Meter[], firstBar = 0): ComposedNote[] => {
  const starts = [0];
  for (const meter of meters) starts.push((starts[starts.length - 1] as number) + ticksPerBar(meter, WRITTEN_PPQ));
  const notes: ComposedNote[] = [];
  text.split('|').forEach((bar, index) => {
    let at = starts[firstBar + index] as number;
    for (const token of bar.trim().split(/\s+/)) {
      const [pitches, value] = token.split(':') as [string, string];
      const duration = unitsOf(value);
      if (pitches !== 'r') {
        for (const pitch of pitches.split('+')) {
          notes.push({ pitch: pitchOf(pitch), onset: at as WrittenUnits, duration: duration as WrittenUnits });
        }
      }
      at += duration;
    }
    if (at !== starts[firstBar + index + 1]) throw new Error(`Bar ${firstBar + index + 1} does not add up: ${bar}`);
  });
  return notes;
};

/** The notes that begin at a place, with signs that players make sound. */
export const signedAt = (
  notes: readonly ComposedNote[],
  onset: number,
  signs: Pick<ComposedNote, 'trill' | 'grace' | 'rolled'>,
): ComposedNote[] => {
  if (!notes.some((note) => note.onset === onset)) throw new Error(`Nothing begins at ${onset}`);
  return notes.map((note) => (note.onset === onset ? { ...note, ...signs } : note));
};

/** Joins notes of one pitch where `onset` lies in `ties` (a tie over a bar line). */
export const tied = (notes: readonly ComposedNote[], ties: readonly number[]): ComposedNote[] => {
  const result = [...notes];
  for (const tie of ties) {
    const second = result.findIndex((note) => note.onset === tie);
    const note = result[second];
    const first = result.findIndex((n) => note && n.pitch === note.pitch && n.onset + n.duration === tie);
    if (!note || first < 0) throw new Error(`Nothing to tie at ${tie}`);
    const before = result[first] as ComposedNote;
    result[first] = { ...before, duration: (before.duration + note.duration) as WrittenUnits };
    result.splice(second, 1);
  }
  return result;
};
