import { describe, expect, it } from 'vitest';
import { findKey, pitchClassWeights } from './keyFinding.js';
import {
  fifthsOfInterval,
  lineOfFifths,
  pitchOfSpelling,
  type Spelling,
  STEP_NAMES,
  spellPitches,
  spellWithStep,
  transposeSpelling,
} from './spelling.js';

const name = ({ step, alter }: Spelling): string =>
  `${STEP_NAMES[step]}${alter < 0 ? 'b'.repeat(-alter) : '#'.repeat(alter)}`;
const spelled = (pitches: number[], fifths = 0): string => spellPitches(pitches, fifths).map(name).join(' ');

const keyOf = (notes: Parameters<typeof pitchClassWeights>[0]) => findKey(pitchClassWeights(notes));

describe('spelling', () => {
  it('spells each pitch so that it sounds as it did', () => {
    const pitches = Array.from({ length: 128 }, (_, pitch) => pitch);
    for (const fifths of [-6, 0, 6]) {
      expect(spellPitches(pitches, fifths).map(pitchOfSpelling)).toEqual(pitches);
    }
  });

  it('spells major scales by their keys', () => {
    const major = [0, 2, 4, 5, 7, 9, 11, 12];
    expect(
      spelled(
        major.map((step) => 62 + step),
        2,
      ),
    ).toBe('D E F# G A B C# D');
    expect(
      spelled(
        major.map((step) => 63 + step),
        -3,
      ),
    ).toBe('Eb F G Ab Bb C D Eb');
    expect(
      spelled(
        major.map((step) => 68 + step),
        -4,
      ),
    ).toBe('Ab Bb C Db Eb F G Ab');
  });

  it('raises the leading note of a minor key', () => {
    expect(spelled([62, 64, 65, 67, 69, 70, 73, 74, 69, 65, 62], -1)).toBe('D E F G A Bb C# D A F D');
  });

  it('turns a whole that lies across the circle of fifths back to its key', () => {
    const sharp = spellPitches([61, 63, 65, 66, 68, 70, 72, 73], 7).map(lineOfFifths);
    expect(Math.max(...sharp) - Math.min(...sharp)).toBeLessThanOrEqual(12);
  });

  it('moves by intervals, as transposing instruments do', () => {
    // Common practice: the B flat clarinet reads a tone up, the horn in F a fifth up.
    expect(name(transposeSpelling(spellWithStep(63, 2), 2, 1))).toBe('F');
    expect(name(transposeSpelling(spellWithStep(61, 0), 7, 4))).toBe('G#');
    expect(fifthsOfInterval(2, 1)).toBe(2);
    expect(fifthsOfInterval(7, 4)).toBe(1);
    expect(fifthsOfInterval(12, 7)).toBe(0);
  });
});

describe('key finding (Krumhansl and Kessler, 1982)', () => {
  const tune = (text: string) =>
    text
      .split(' ')
      .map((token) => ({ pitch: 60 + Number(token.split(':')[0]), duration: Number(token.split(':')[1] ?? 1) }));

  it('finds C major in "Ode to Joy" (Beethoven, public domain)', () => {
    const notes = tune('4 4 5 7 7 5 4 2 0 0 2 4 4:1.5 2:0.5 2:2 4 4 5 7 7 5 4 2 0 0 2 4 2:1.5 0:0.5 0:2');
    expect(keyOf(notes)).toEqual({ fifths: 0, minor: false });
  });

  it('finds it in every transposition', () => {
    const ode = tune('4 4 5 7 7 5 4 2 0 0 2 4 4:1.5 2:0.5 2:2 4 4 5 7 7 5 4 2 0 0 2 4 2:1.5 0:0.5 0:2');
    const moved = (by: number) => keyOf(ode.map((n) => ({ ...n, pitch: n.pitch + by })));
    expect(moved(7)).toEqual({ fifths: 1, minor: false });
    expect(moved(3)).toEqual({ fifths: -3, minor: false });
    expect(moved(10)).toEqual({ fifths: -2, minor: false });
  });

  it('finds a minor key in a harmonic minor line', () => {
    expect(keyOf(tune('9:2 12 16:2 14 12 11 9:2 8 9:2 16 9:3'))).toEqual({ fifths: 0, minor: true });
  });

  it('has C major for nothing', () => {
    expect(keyOf([])).toEqual({ fifths: 0, minor: false });
  });
});
