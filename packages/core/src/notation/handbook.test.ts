/**
 * Rules of handbooks for players' pages, one test each. Sources: Gould, Behind Bars (2011), chapters on note-spacing and
 * rhythm ("Grouping"), rests, tuplets, accidentals, ties; Read, Music Notation (1979); else "common practice".
 */
import { describe, expect, it } from 'vitest';
import { runPlanOnAll } from '../plan/runPlan.js';
import type { Written } from '../plan/written.js';
import { writtenMaps } from '../plan/writtenMaps.js';
import { arrangementWith, note, partWith, written } from '../testing/kit.js';
import { ticks } from '../time/units.js';
import { buildScore } from './buildScore.js';
import { readPitches } from './pitchReading.js';
import type { ScoreEvent } from './score.js';

interface Setting {
  readonly groups?: readonly number[];
  readonly fifths?: number;
  readonly instrument?: string;
}

/** The bars that notes make, each note as pitch, start and length in quarters. */
const barsOf = (
  meter: string,
  notes: readonly (readonly [pitch: number, start: number, length: number, voice?: number])[],
  { groups, fifths = 0, instrument = 'other' }: Setting = {},
) => {
  const [numerator, denominator] = meter.split('/').map(Number) as [number, number];
  const played = notes.map(([pitch, start, length]) => note(pitch, Math.round(start * 480), Math.round(length * 480)));
  const arrangement = arrangementWith([partWith(played, { instrument })], {
    meters: [{ tick: ticks(0), numerator, denominator, ...(groups ? { groups } : {}) }],
    keys: [{ tick: ticks(0), fifths, minor: false }],
  });
  const layer: Written = {
    ...(runPlanOnAll(arrangement)[0] as Written),
    notes: notes
      .map(([pitch, start, length, voice = 1]) => written(pitch, start, length, { voice }))
      .sort((a, b) => a.onset - b.onset || a.pitch - b.pitch),
  };
  const score = buildScore(arrangement, [layer], writtenMaps(arrangement), readPitches(arrangement, [layer]));
  return score.parts[0]?.bars ?? [];
};

/** One event: "4." a dotted quarter, "r8" a rest of an eighth, "4~" tied on, "8[3:2]" of a triplet. */
const sign = ({ kind, value, notes, ratio, wholeBar }: ScoreEvent): string =>
  `${kind === 'rest' ? 'r' : ''}${wholeBar ? 'bar' : `${value.denominator}${'.'.repeat(value.dots)}`}${
    ratio ? `[${ratio.actual}:${ratio.normal}]` : ''
  }${notes.some(({ tiedTo }) => tiedTo) ? '~' : ''}`;

/** The signs of the first voice of each bar; notes as start and length in quarters. */
const signs = (meter: string, notes: readonly (readonly [number, number])[], setting?: Setting): string =>
  barsOf(
    meter,
    notes.map(([start, length]) => [67, start, length] as const),
    setting,
  )
    .map(({ events }) => events.map(sign).join(' '))
    .join(' | ');

describe('grouping in simple meters (Gould, "Grouping within the bar")', () => {
  it('4/4: the middle of the bar stays visible', () => {
    expect(
      signs('4/4', [
        [0, 1.5],
        [1.5, 1],
        [2.5, 1.5],
      ]),
    ).toBe('4. 8~ 8 4.');
  });
  it('4/4: but a half note in the middle between two quarters is one sign', () => {
    expect(
      signs('4/4', [
        [0, 1],
        [1, 2],
        [3, 1],
      ]),
    ).toBe('4 2 4');
  });
  it('4/4: eighth, quarter, eighth within a half bar is read at sight', () => {
    expect(
      signs('4/4', [
        [0, 0.5],
        [0.5, 1],
        [1.5, 0.5],
        [2, 2],
      ]),
    ).toBe('8 4 8 2');
  });
  it('4/4: a dotted half may begin on the first beat', () => {
    expect(
      signs('4/4', [
        [0, 3],
        [3, 1],
      ]),
    ).toBe('2. 4');
  });
  it('3/4: the whole bar is a dotted half', () => {
    expect(signs('3/4', [[0, 3]])).toBe('2.');
  });
  it('3/4: a dotted quarter and an eighth show the beat', () => {
    expect(
      signs('3/4', [
        [0, 1.5],
        [1.5, 0.5],
        [2, 1],
      ]),
    ).toBe('4. 8 4');
  });
  it('2/4: a syncopation across the middle is eighth, quarter, eighth', () => {
    expect(
      signs('2/4', [
        [0, 0.5],
        [0.5, 1],
        [1.5, 0.5],
      ]),
    ).toBe('8 4 8');
  });
  it('sixteenths: a syncopation within the beat is sixteenth, eighth, sixteenth', () => {
    expect(
      signs('2/4', [
        [0, 0.25],
        [0.25, 0.5],
        [0.75, 0.25],
        [1, 1],
      ]),
    ).toBe('16 8 16 4');
  });
  it('a note of five eighths needs two signs, tied where the beat begins', () => {
    expect(
      signs('4/4', [
        [0, 2.5],
        [2.5, 1.5],
      ]),
    ).toBe('2~ 8 4.');
  });
});

describe('grouping in compound and additive meters (Gould, "Grouping within the bar")', () => {
  it('6/8: the second dotted beat stays visible', () => {
    expect(
      signs('6/8', [
        [0, 1],
        [1, 1],
        [2, 1],
      ]),
    ).toBe('4 8~ 8 4');
  });
  it('6/8: quarter and eighth, eighth and quarter within a beat', () => {
    expect(
      signs('6/8', [
        [0, 1],
        [1, 0.5],
        [1.5, 0.5],
        [2, 1],
      ]),
    ).toBe('4 8 8 4');
  });
  it('6/8: a whole bar is a dotted half; a beat a dotted quarter', () => {
    expect(
      signs('6/8', [
        [0, 3],
        [3, 1.5],
        [4.5, 1.5],
      ]),
    ).toBe('2. | 4. 4.');
  });
  it('9/8: two beats are a dotted half', () => {
    expect(
      signs('9/8', [
        [0, 3],
        [3, 1.5],
      ]),
    ).toBe('2. 4.');
  });
  it('5/8 goes in its own groups: two and three, or three and two', () => {
    expect(
      signs(
        '5/8',
        [
          [0, 1.5],
          [1.5, 1],
        ],
        { groups: [2, 3] },
      ),
    ).toBe('4~ 8 4');
    expect(
      signs(
        '5/8',
        [
          [0, 1.5],
          [1.5, 1],
        ],
        { groups: [3, 2] },
      ),
    ).toBe('4. 4');
  });
});

describe('rests (Gould, "Rests")', () => {
  it('an empty bar has one rest, whatever the meter', () => {
    expect(signs('3/4', [[3, 3]])).toBe('rbar | 2.');
    expect(signs('6/8', [[3, 3]])).toBe('rbar | 2.');
  });
  it('are not dotted in simple meters', () => {
    expect(
      signs('4/4', [
        [1.5, 0.5],
        [2, 2],
      ]),
    ).toBe('r4 r8 8 2');
  });
  it('of a beat are dotted in compound meters', () => {
    expect(signs('6/8', [[1.5, 1.5]])).toBe('r4. 4.');
  });
  it('show the middle of 4/4', () => {
    expect(
      signs('4/4', [
        [0, 1],
        [3, 1],
      ]),
    ).toBe('4 r4 r4 4');
  });
  it('fill the beat that they begin in before the next', () => {
    expect(
      signs('4/4', [
        [0, 0.5],
        [3, 1],
      ]),
    ).toBe('8 r8 r4 r4 4');
  });
});

describe('tuplets (Gould, "Tuplets")', () => {
  it('a triplet stands in the beat that it divides, its rest inside', () => {
    expect(
      signs('4/4', [
        [0, 1 / 3],
        [1 / 3, 1 / 3],
        [1, 1],
        [2, 2],
      ]),
    ).toBe('8[3:2] 8[3:2] r8[3:2] 4 2');
  });
  it('a quarter and an eighth of a triplet need no tie', () => {
    expect(
      signs('2/4', [
        [0, 2 / 3],
        [2 / 3, 1 / 3],
        [1, 1],
      ]),
    ).toBe('4[3:2] 8[3:2] 4');
  });
  it('a triplet of quarters spans two beats', () => {
    expect(
      signs('4/4', [
        [0, 2 / 3],
        [2 / 3, 2 / 3],
        [4 / 3, 2 / 3],
        [2, 2],
      ]),
    ).toBe('4[3:2] 4[3:2] 4[3:2] 2');
  });
  it('two in the time of three are a duplet of the dotted beat', () => {
    expect(
      signs('6/8', [
        [0, 0.75],
        [0.75, 0.75],
        [1.5, 1.5],
      ]),
    ).toBe('8[2:3] 8[2:3] 4.');
  });
  it('five in a beat are sixteenths in the time of four', () => {
    const five = Array.from({ length: 5 }, (_, k) => [k / 5, 1 / 5] as const);
    expect(signs('2/4', [...five, [1, 1]])).toBe(`${Array(5).fill('16[5:4]').join(' ')} 4`);
  });
});

describe('ties and accidentals (Gould, "Ties", "Accidentals")', () => {
  const accidentals = (notes: Parameters<typeof barsOf>[1], setting?: Setting) =>
    barsOf('4/4', notes, setting).map(({ events }) =>
      events.flatMap((event) =>
        event.notes.map(({ accidental, courtesy }) => (courtesy ? `(${accidental})` : accidental)),
      ),
    );
  it('a tie over the bar line carries the accidental along, and it is said again after', () => {
    expect(
      accidentals([
        [66, 3, 2],
        [66, 5, 1],
      ]),
    ).toEqual([[1], [null, 1]]);
  });
  it('an accidental holds to the end of its bar, in its own octave', () => {
    expect(
      accidentals([
        [66, 0, 1],
        [66, 1, 1],
        [78, 2, 1],
        [65, 3, 1],
      ]),
    ).toEqual([[1, null, 1, 0]]);
  });
  it('the key’s own notes have none, and a natural against the key has one', () => {
    expect(
      accidentals(
        [
          [66, 0, 2],
          [65, 2, 2],
        ],
        { fifths: 1 },
      ),
    ).toEqual([[null, 0]]);
  });
  it('a courtesy accidental recalls the key in the next bar', () => {
    expect(
      accidentals([
        [66, 0, 4],
        [65, 4, 4],
      ]),
    ).toEqual([[1], ['(0)']]);
  });
  it('a note over the bar line is tied, never one long sign', () => {
    expect(
      signs('4/4', [
        [3, 2],
        [5, 3],
      ]),
    ).toBe('r2 r4 4~ | 4 2.');
  });
});

describe('beams (Gould, "Beaming")', () => {
  const beams = (meter: string, notes: readonly (readonly [number, number])[], setting?: Setting) =>
    barsOf(
      meter,
      notes.map(([start, length]) => [67, start, length] as const),
      setting,
    )
      .flatMap(({ events }) => events.map((event) => event.beams[0]?.[0] ?? '-'))
      .join('');
  const eighths = (from: number, count: number) =>
    Array.from({ length: count }, (_, k) => [from + k / 2, 0.5] as const);
  it('eighths of 4/4 go by the half bar', () => {
    expect(beams('4/4', eighths(0, 8))).toBe('bccebcce');
  });
  it('with sixteenths among them they go by the beat', () => {
    expect(
      beams('4/4', [
        [0, 0.5],
        [0.5, 0.25],
        [0.75, 0.25],
        [1, 0.5],
        [1.5, 0.5],
        [2, 2],
      ]),
    ).toBe('bcebe-');
  });
  it('eighths of 3/4 may go by the bar', () => {
    expect(beams('3/4', eighths(0, 6))).toBe('bcccce');
  });
  it('6/8 goes by the dotted beat', () => {
    expect(beams('6/8', eighths(0, 6))).toBe('bcebce');
  });
  it('7/8 goes by its groups', () => {
    expect(beams('7/8', eighths(0, 7), { groups: [2, 2, 3] })).toBe('bebebce');
  });
  it('a rest on the beat breaks them', () => {
    expect(
      beams('2/4', [
        [0, 0.5],
        [0.5, 0.5],
        [1.5, 0.5],
      ]),
    ).toBe('be--');
  });
});

describe('voices (Gould, "Two parts on a stave")', () => {
  it('the upper has its stems up and the lower down, where both sound; alone a voice has them free', () => {
    const bars = barsOf('4/4', [
      [72, 0, 4, 1],
      [60, 0, 2, 2],
      [62, 2, 2, 2],
      [72, 4, 4, 1],
    ]);
    expect(bars[0]?.events.map(({ voice, stem }) => [voice, stem])).toEqual([
      [1, 'up'],
      [2, 'down'],
      [2, 'down'],
    ]);
    expect(bars[1]?.events.map(({ voice, stem }) => [voice, stem])).toEqual([[1, null]]);
  });
  it('a second voice is silent without rests before it begins', () => {
    const [bar] = barsOf('4/4', [
      [72, 0, 4, 1],
      [60, 2, 2, 2],
    ]);
    expect(bar?.events.filter(({ voice }) => voice === 2).map(({ kind }) => kind)).toEqual(['gap', 'chord']);
  });
});

describe('percussion (Weinberg, Guide to standardized drumset notation, 1998: hands up, feet down)', () => {
  it('hands have stems up and the feet down, in two voices', () => {
    const [bar] = barsOf(
      '4/4',
      [
        [42, 0, 1, 1],
        [42, 1, 1, 1],
        [42, 2, 1, 1],
        [42, 3, 1, 1],
        [36, 0, 2, 2],
        [36, 2, 2, 2],
      ],
      { instrument: 'percussion' },
    );
    expect(new Set(bar?.events.map(({ voice, stem }) => `${voice} ${stem}`))).toEqual(new Set(['1 up', '2 down']));
  });
});
