import { describe, expect, it } from 'vitest';
import { MELODIES } from '../demo/remembered/melodies.js';
import { PIECES } from '../demo/remembered/pieces.js';
import { padded, rememberedScore } from '../demo/remembered/rememberedScore.js';
import { ticksPerBar } from '../time/meterMap.js';
import { WRITTEN_PPQ } from '../time/units.js';
import { findKey, findKeys, keySigns, together } from './keyFinding.js';
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

/** Notes one after another. */
const keyOf = (notes: readonly { readonly pitch: number; readonly duration: number }[]) => {
  let onset = 0;
  return findKey(
    keySigns(
      notes.map((note) => {
        onset += note.duration;
        return { ...note, onset: onset - note.duration };
      }),
    ),
  );
};
const remembered = (tune: Parameters<typeof rememberedScore>[0]) => {
  const score = rememberedScore(tune);
  return { ...score, notes: padded(score).sort((a, b) => a.onset - b.onset || a.pitch - b.pitch) };
};

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

describe('spelling of remembered music', () => {
  it('is the composed one in all but a few notes of a thousand, where the key is right (from memory)', () => {
    let [right, all] = [0, 0];
    for (const item of [...MELODIES, ...PIECES.map(({ tune }) => tune)]) {
      const { notes, fifths } = remembered(item);
      spellPitches(
        notes.map(({ pitch }) => pitch),
        fifths,
      ).forEach(({ step }, index) => {
        all += 1;
        if (step === notes[index]?.spelling.step) right += 1;
      });
    }
    expect(right / all).toBeGreaterThanOrEqual(0.995);
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

  it('finds the signature of nearly all remembered melodies, and of all pieces (from memory)', () => {
    const right = (tunes: readonly Parameters<typeof rememberedScore>[0][]) =>
      tunes.filter((tune) => {
        const { notes, fifths } = remembered(tune);
        return findKey(keySigns(notes)).fifths === fifths;
      }).length / tunes.length;
    expect(right(MELODIES)).toBeGreaterThanOrEqual(72 / 77);
    expect(right(PIECES.map(({ tune }) => tune))).toBe(1);
  });

  it('knows a mode by the step that its neighbour has otherwise', () => {
    // D dorian with its B natural, G mixolydian with its F natural (common practice).
    expect(keyOf(tune('2:2 5 9:2 7 9 11 9 7 5 4 2:3')).fifths).toBe(0);
    expect(keyOf(tune('7:2 11 14:2 12 11 9 7 5 7 9 11 7:3')).fifths).toBe(0);
  });

  it('hears the same in parts as in all of them together', () => {
    const { notes } = remembered(PIECES[0]?.tune as (typeof MELODIES)[number]);
    const parts = [1, 2, 3, 4].map((voice) => notes.filter((note) => note.voice === voice));
    expect(findKey(together(parts.map(keySigns)))).toEqual({ fifths: 1, minor: false });
  });

  it('finds a change of key where a tune goes on in another, and none within one', () => {
    type Tune = Parameters<typeof rememberedScore>[0];
    const inBars = (tune: Tune) => {
      const { notes, meter, fifths } = remembered(tune);
      const bar = ticksPerBar(meter, WRITTEN_PPQ);
      return { notes, bar, fifths, bars: Math.ceil(Math.max(...notes.map((n) => n.onset + n.duration)) / bar) };
    };
    const keysOf = (notes: ReturnType<typeof inBars>['notes'], bar: number, bars: number) =>
      findKeys(
        keySigns(notes),
        Array.from({ length: bars }, (_, index) => ({
          start: index,
          signs: keySigns(notes.filter(({ onset }) => Math.floor(onset / bar) === index)),
        })),
      );
    const tunes = [...MELODIES, ...PIECES.map(({ tune }) => tune)].map(inBars);
    for (const { notes, bar, bars } of tunes) expect(keysOf(notes, bar, bars)).toHaveLength(1);
    // Each sung again a whole tone higher: two fifths up.
    const long = tunes.filter(({ bars }) => bars >= 12);
    const right = long.filter(({ notes, bar, bars, fifths }) => {
      const higher = notes.map((note) => ({
        ...note,
        pitch: note.pitch + 2,
        onset: (note.onset + bars * bar) as never,
      }));
      const keys = keysOf([...notes, ...higher], bar, 2 * bars);
      const [first, second, ...more] = keys;
      const same = (found: number | undefined, wanted: number) => ((found ?? 99) - wanted) % 12 === 0;
      return (
        more.length === 0 &&
        same(first?.fifths, fifths) &&
        same(second?.fifths, fifths + 2) &&
        Math.abs((second?.start ?? 0) - bars) <= 1
      );
    });
    expect(right.length / long.length).toBeGreaterThanOrEqual(0.75);
  });

  it('has C major for nothing', () => {
    expect(keyOf([])).toEqual({ fifths: 0, minor: false });
  });
});
