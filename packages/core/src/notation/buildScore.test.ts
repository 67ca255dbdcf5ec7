import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { demoArrangement } from '../demo/demo.js';
import type { Arrangement } from '../model/arrangement.js';
import { STEP_NAMES } from '../pitch/spelling.js';
import { runPlanOnAll } from '../plan/runPlan.js';
import type { Written, WrittenNote } from '../plan/written.js';
import { writtenMaps } from '../plan/writtenMaps.js';
import { cases } from '../testing/cases.js';
import { arrangementWith, note, partWith, written } from '../testing/kit.js';
import type { TempoChange } from '../time/tempoMap.js';
import { ticks } from '../time/units.js';
import { accidentalsOf, signatureAlters } from './accidentals.js';
import { barsOfPiece, buildScore, type ScoreOptions } from './buildScore.js';
import { readPitches } from './pitchReading.js';
import type { Score, ScoreEvent } from './score.js';

const layer = (notes: WrittenNote[]): Written => ({
  partId: 1,
  notes: [...notes].sort((a, b) => a.onset - b.onset || a.pitch - b.pitch),
  steps: [],
  swings: [],
  pedals: [],
});

const scoreOf = (
  notes: WrittenNote[],
  more: Partial<Arrangement> = {},
  instrument = 'flute',
  options: ScoreOptions = {},
): Score => {
  const played = notes.map((n) => note(n.pitch, Math.floor(n.onset / 21), Math.ceil(n.duration / 21)));
  const arrangement = arrangementWith([partWith(played, { instrument })], more);
  const layers = [layer(notes)];
  return buildScore(arrangement, layers, writtenMaps(arrangement), readPitches(arrangement, layers), options);
};

describe('heads of a chord', () => {
  it('stand from low to high, each pitch once with all its sources', () => {
    const [high, low, twice] = [written(67, 0, 4), written(60, 0, 4), written(67, 0, 4)];
    const [event] = eventsOf(scoreOf([high, low, twice], {}, 'piano'));
    expect(event?.notes.map((head) => head.spelling.step)).toEqual([0, 4]);
    expect(event?.notes[1]?.sources.slice().sort()).toEqual([...high.sources, ...twice.sources].sort());
  });
});

describe('pedal marks', () => {
  it('stand on the nearest sixteenth, in the bar that holds it, the bar line in the next', () => {
    const notes = [written(60, 0, 4), written(62, 4, 4)];
    const arrangement = arrangementWith([partWith(notes.map((n) => note(n.pitch, n.onset / 21, n.duration / 21)))]);
    const quarter = 10_080;
    const held = {
      ...layer(notes),
      pedals: [
        { down: quarter * 0.1, up: quarter * 3.3 },
        { down: quarter * 3.95, up: quarter * 5.8 },
      ],
    };
    const score = buildScore(arrangement, [held], writtenMaps(arrangement), readPitches(arrangement, [held]));
    expect(
      score.parts[0]?.bars.slice(0, 2).map(({ pedals }) => pedals.map(({ offset, type }) => [offset / quarter, type])),
    ).toEqual([
      [
        [0, 'start'],
        [3.25, 'stop'],
      ],
      [
        [0, 'start'],
        [1.75, 'stop'],
      ],
    ]);
  });
});

const eventsOf = (score: Score, bar = 0): readonly ScoreEvent[] => score.parts[0]?.bars[bar]?.events ?? [];
/** "4C5 8r": value, dots, then the heads or r for a rest. */
const shown = (event: ScoreEvent): string => {
  const heads = event.notes.map(
    (n) =>
      `${STEP_NAMES[n.spelling.step]}${'#'.repeat(Math.max(0, n.spelling.alter))}${'b'.repeat(Math.max(0, -n.spelling.alter))}${n.spelling.octave}`,
  );
  return `${event.wholeBar ? 'bar' : event.value.denominator}${'.'.repeat(event.value.dots)}${heads.join('+') || 'r'}`;
};
const bar = (score: Score, index = 0): string => eventsOf(score, index).map(shown).join(' ');

describe('a bar of one voice', () => {
  it('has chords low to high, rests between, and fills the bar', () => {
    expect(bar(scoreOf([written(76, 0, 1), written(72, 0, 1), written(74, 2, 0.5)]))).toBe('4C5+E5 4r 8D5 8r 4r');
  });

  it('has a whole-bar rest where nothing sounds', () => {
    expect(bar(scoreOf([written(72, 4, 1)]), 0)).toBe('barr');
  });

  it('ties over bar lines and beats', () => {
    const score = scoreOf([written(72, 3.5, 1)]);
    expect(bar(score, 0)).toBe('2r 4r 8r 8C5');
    expect(bar(score, 1)).toBe('8C5 8r 4r 2r');
    expect(eventsOf(score, 0)[3]?.notes[0]).toMatchObject({ tiedTo: true, tiedFrom: false });
    expect(eventsOf(score, 1)[0]?.notes[0]).toMatchObject({ tiedTo: false, tiedFrom: true });
  });

  it('brackets a triplet with its exact ratio', () => {
    const score = scoreOf([written(72, 0, 2 / 3), written(74, 2 / 3, 1 / 3), written(76, 1, 3)]);
    expect(bar(score)).toBe('4C5 8D5 2.E5');
    expect(eventsOf(score).map((event) => [event.ratio?.actual, event.tuplet])).toEqual([
      [3, 'start'],
      [3, 'stop'],
      [undefined, null],
    ]);
  });

  it('lets one of two equal heads stand for both, and remembers both', () => {
    const double = written(72, 0, 1);
    const score = scoreOf([written(72, 0, 2), double]);
    expect(bar(score)).toBe('2C5 2r');
    expect(eventsOf(score)[0]?.notes[0]?.sources).toContain(double.id);
  });

  it('writes staccato where the plan says so, on the first piece only', () => {
    const score = scoreOf([written(72, 0, 1.25, { staccato: true })]);
    expect(
      eventsOf(score)
        .filter((event) => event.kind === 'chord')
        .map((event) => event.staccato),
    ).toEqual([true, false]);
  });
});

describe('courtesy accidentals (common practice; Gould, Behind Bars, 2011)', () => {
  const keys = [{ tick: ticks(0), fifths: 0, minor: false }];
  /** The accidentals of a bar's heads: "c" for one that only reminds. */
  const signs = (score: Score, number: number) =>
    eventsOf(score, number - 1).flatMap(({ notes }) =>
      notes.map(({ accidental, courtesy }) => `${accidental ?? '-'}${courtesy ? 'c' : ''}`),
    );

  it('recall the key once in the bar after one that left it, for the same line or space', () => {
    const score = scoreOf(
      [written(66, 0, 4), written(65, 4, 2), written(65, 6, 2), written(77, 8, 4), written(65, 12, 4)],
      { keys },
    );
    // F sharp; F natural told, then no more; another octave is another place; a bar later nothing is left.
    expect([1, 2, 3, 4].map((number) => signs(score, number))).toEqual([['1'], ['0c', '-'], ['-'], ['-']]);
  });

  it('are none where the bar itself went back, or where a tie comes over the line', () => {
    const back = scoreOf([written(66, 0, 2), written(65, 2, 2), written(65, 4, 4)], { keys });
    expect(signs(back, 2)).toEqual(['-']);
    const tied = scoreOf([written(66, 0, 6), written(65, 6, 2)], { keys });
    expect(signs(tied, 2)).toEqual(['-', '0c']);
  });

  it('stand in an excerpt as in the whole piece', () => {
    const notes = [written(66, 0, 4), written(65, 4, 4), written(67, 8, 4)];
    const excerpt = scoreOf(notes, { keys }, 'flute', { firstBar: 2, lastBar: 3 });
    expect(excerpt.parts[0]?.bars.map(({ number }) => number)).toEqual([2, 3]);
    expect(excerpt.parts[0]?.bars[0]?.events[0]?.notes[0]).toMatchObject({ accidental: 0, courtesy: true });
  });
});

describe('any content has a page', () => {
  const someNotes = fc.array(
    fc.record({
      pitch: fc.integer({ min: 30, max: 100 }),
      onset: fc.integer({ min: 0, max: 10080 * 12 }),
      duration: fc.integer({ min: 0, max: 10080 * 6 }),
    }),
    { minLength: 1, maxLength: 30 },
  );
  const someMeters = fc.array(
    fc.record({
      tick: fc.integer({ min: 0, max: 480 * 12 }),
      numerator: fc.integer({ min: 1, max: 13 }),
      denominator: fc.constantFrom(2, 4, 8, 16),
    }),
    { maxLength: 3 },
  );

  it('where a rest is two fifths of half a beat', () => {
    // A written start at two fifths of an eighth, by hand.
    const score = scoreOf([written(60, 0, 1), written(62, 1.2, 0.3), written(64, 1.5, 0.5), written(65, 2, 2)]);
    const rests = eventsOf(score).filter(({ kind }) => kind === 'rest');
    expect(rests.map(({ value, ratio }) => [value.denominator, ratio?.actual])).toEqual([
      [32, 5],
      [32, 5],
    ]);
  });

  it('where a note of no length is put on a beat that has a quintuplet', () => {
    const score = scoreOf([written(60, 7.9375, 0), written(62, 8.15, 0.85)]);
    expect(bar(score, 2)).toMatch(/C4.*D4/);
    expect(eventsOf(score, 2).reduce((sum, event) => sum + event.length, 0)).toBeCloseTo(4 * 10080, 6);
  });

  it('where a note of no length stands alone at a bar line', () => {
    expect(bar(scoreOf([written(60, 0, 1), written(62, 8, 0)]), 2)).toMatch(/^\d+D4/);
  });

  it('in which every bar adds up exactly and every Written note is shown', () => {
    fc.assert(
      fc.property(
        someNotes,
        someMeters,
        fc.constantFrom('flute', 'clarinet', 'horn', 'percussion', 'piano'),
        (drafts, meters, instrument) => {
          const notes = drafts.map((d) => written(d.pitch, d.onset / 10080, d.duration / 10080));
          const score = scoreOf(notes, { meters: meters.map((m) => ({ ...m, tick: ticks(m.tick) })) }, instrument);
          for (const scoreBar of score.parts[0]?.bars ?? []) {
            let at = 0;
            for (const event of scoreBar.events) {
              expect(event.start).toBeCloseTo(at, 6);
              at += event.length;
            }
            expect(at).toBeCloseTo(scoreBar.length, 6);
          }
          const heads = new Set(
            score.parts[0]?.bars.flatMap((b) => b.events.flatMap((e) => e.notes.flatMap((n) => n.sources))),
          );
          const short = score.bars.some((b) => b.short);
          if (!short) for (const n of notes) expect(heads.has(n.id)).toBe(true);
        },
      ),
      cases(300),
    );
  });

  it('and beams that begin also end, on drawn notes alone', () => {
    const places = fc.array(fc.record({ at: fc.integer({ min: 0, max: 63 }), long: fc.integer({ min: 1, max: 3 }) }), {
      minLength: 1,
      maxLength: 24,
    });
    fc.assert(
      fc.property(places, places, (upper, lower) => {
        const voice = (list: typeof upper, number: number) =>
          list.map(({ at, long }) => written(60 + number, at / 4, long / 4, { voice: number }));
        for (const scoreBar of scoreOf([...voice(upper, 1), ...voice(lower, 2)], {}, 'piano').parts[0]?.bars ?? []) {
          const open = [0, 0, 0, 0];
          for (const event of scoreBar.events) {
            if (event.kind !== 'chord') expect(event.beams).toEqual([]);
            event.beams.forEach((state, level) => {
              if (state === 'begin') open[level] = (open[level] as number) + 1;
              if (state === 'end') open[level] = (open[level] as number) - 1;
            });
          }
          expect(open).toEqual([0, 0, 0, 0]);
        }
      }),
    );
  });

  it('and tuplets that are opened are closed', () => {
    fc.assert(
      fc.property(someNotes, (drafts) => {
        const score = scoreOf(
          drafts.map((d) =>
            written(d.pitch, Math.round(d.onset / 3360) / 3, Math.max(1, Math.round(d.duration / 3360)) / 3),
          ),
        );
        for (const scoreBar of score.parts[0]?.bars ?? []) {
          let open = 0;
          for (const event of scoreBar.events) {
            if (event.tuplet === 'start') open += 1;
            if (event.tuplet === 'stop') open -= 1;
            expect([0, 1]).toContain(open);
            expect(event.ratio !== null).toBe(open === 1 || event.tuplet === 'stop' || event.tuplet === 'both');
          }
          expect(open).toBe(0);
        }
      }),
    );
  });
});

describe('transposing instruments', () => {
  // Common practice: a B flat clarinet sounds a tone below what it reads, a horn in F a fifth.
  const key = { keys: [{ tick: ticks(0), fifths: -3, minor: false }] };

  it('read their own pitch and key', () => {
    const clarinet = scoreOf([written(63, 0, 4)], key, 'clarinet');
    expect(bar(clarinet)).toBe('1F4');
    expect(clarinet.parts[0]?.bars[0]?.fifths).toBe(-1);
    const horn = scoreOf([written(63, 0, 4)], key, 'horn');
    expect(bar(horn)).toBe('1Bb4');
    expect(horn.parts[0]?.bars[0]?.fifths).toBe(-2);
  });

  it('stand at sounding pitch in a concert score', () => {
    expect(bar(scoreOf([written(63, 0, 4)], key, 'clarinet', { concertPitch: true }))).toBe('1Eb4');
  });

  it('never read a signature of more than seven signs', () => {
    const sharp = scoreOf([written(61, 0, 4)], { keys: [{ tick: ticks(0), fifths: 7, minor: false }] }, 'clarinet');
    expect(sharp.parts[0]?.bars[0]?.fifths).toBe(-3);
    expect(bar(sharp)).toBe('1Eb4');
  });
});

describe('clefs', () => {
  it.each([
    ['cello', 48, 'bass'],
    ['viola', 60, 'alto'],
    ['flute', 80, 'treble'],
    ['piano', 40, 'bass'],
    ['piano', 70, 'treble'],
    ['tambourine', 54, 'percussion'],
  ])('%s at %i reads the %s clef', (instrument, pitch, clef) => {
    expect(scoreOf([written(pitch, 0, 4)], {}, instrument).parts[0]?.clefs[0]).toBe(clef);
  });
});

describe('keys that change', () => {
  it('spell the notes after each, though the piece began across the circle of fifths', () => {
    const scale = (bar: number) =>
      [0, 2, 4, 5, 7, 9, 11, 12].map((step, k) => written(61 + step, bar * 4 + k / 2, 0.5));
    const keys = [
      { tick: ticks(0), fifths: 7, minor: false },
      { tick: ticks(1920 * 8), fifths: -5, minor: false },
    ];
    const score = scoreOf([0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11].flatMap(scale), { keys });
    const letters = (bar: number) =>
      score.parts[0]?.bars[bar]?.events.flatMap((event) =>
        event.notes.map(
          ({ spelling: { step, alter } }) => `${STEP_NAMES[step]}${alter > 0 ? '#' : alter < 0 ? 'b' : ''}`,
        ),
      );
    expect(letters(2)).toEqual(['C#', 'D#', 'E#', 'F#', 'G#', 'A#', 'B#', 'C#']);
    expect(letters(11)).toEqual(['Db', 'Eb', 'F', 'Gb', 'Ab', 'Bb', 'C', 'Db']);
    expect([score.parts[0]?.bars[2]?.fifths, score.parts[0]?.bars[11]?.fifths]).toEqual([7, -5]);
  });
});

describe('accidentals', () => {
  it('are those of the circle of fifths', () => {
    expect(signatureAlters(2)).toEqual([1, 0, 0, 1, 0, 0, 0]);
    expect(signatureAlters(-2)).toEqual([0, 0, -1, 0, 0, 0, -1]);
  });

  const drawn = (notes: WrittenNote[], fifths = 0) =>
    scoreOf(notes, { keys: [{ tick: ticks(0), fifths, minor: false }] }).parts[0]?.bars.map((b) =>
      b.events.flatMap((event) => event.notes.map((n) => n.accidental)),
    );

  it('hold to the end of the bar, in their own octave', () => {
    expect(drawn([written(66, 0, 1), written(66, 1, 1), written(78, 2, 1), written(66, 4, 1)], -1)).toEqual([
      [1, null, 1],
      [1],
    ]);
  });

  it('are taken back by a natural', () => {
    expect(drawn([written(66, 0, 1), written(65, 1, 1)], -1)).toEqual([[1, 0]]);
  });

  it('are not drawn on a tied head', () => {
    expect(drawn([written(66, 3, 2)], -1)).toEqual([[1], [null]]);
  });

  it('leave events without heads alone', () => {
    expect(accidentalsOf([], 3)).toEqual([]);
  });
});

describe('beams', () => {
  const beams = (notes: WrittenNote[], numerator = 4, denominator = 4) =>
    eventsOf(scoreOf(notes, { meters: [{ tick: ticks(0), numerator, denominator }] })).map((event) =>
      event.beams.join('/'),
    );
  const run = (count: number, length: number, from = 0) =>
    Array.from({ length: count }, (_, i) => written(72, from + i * length, length));

  it('join plain eighths by half bar in 4/4', () => {
    expect(beams(run(8, 0.5))).toEqual([
      'begin',
      'continue',
      'continue',
      'end',
      'begin',
      'continue',
      'continue',
      'end',
    ]);
  });

  it('join by beat where there are sixteenths', () => {
    expect(beams([...run(2, 0.25), written(72, 0.5, 0.5), ...run(2, 0.5, 1), written(72, 2, 2)])).toEqual([
      'begin/begin',
      'continue/end',
      'end',
      'begin',
      'end',
      '',
    ]);
  });

  it('join by dotted beat in 6/8 and by the whole bar in 3/4', () => {
    expect(beams(run(6, 0.5), 6, 8)).toEqual(['begin', 'continue', 'end', 'begin', 'continue', 'end']);
    expect(beams(run(6, 0.5), 3, 4)).toEqual(['begin', 'continue', 'continue', 'continue', 'continue', 'end']);
  });

  it('give a lone sixteenth its hook on the side of its beat', () => {
    expect(beams([written(72, 0, 0.75), written(72, 0.75, 0.25), written(72, 1, 3)])).toEqual([
      'begin',
      'end/backward hook',
      '',
    ]);
    expect(beams([written(72, 0, 0.25), written(72, 0.25, 0.75), written(72, 1, 3)])).toEqual([
      'begin/forward hook',
      'end',
      '',
    ]);
  });

  it('break at rests', () => {
    expect(beams([written(72, 0, 0.5), written(72, 1, 0.5), written(72, 1.5, 0.5), written(72, 2, 2)])).toEqual([
      '',
      '',
      'begin',
      'end',
      '',
    ]);
  });
});

describe('the demo', () => {
  const demo = demoArrangement();
  const layers = runPlanOnAll(demo);
  const maps = writtenMaps(demo);
  const reading = readPitches(demo, layers);

  it('has the forty bars it was composed in', () => {
    expect(barsOfPiece(layers, maps)).toHaveLength(40);
  });

  it('shows meter and key where they change, tempi and markers at their bars', () => {
    const { bars } = buildScore(demo, layers, maps, reading);
    expect(bars.filter((b) => b.newMeter).map((b) => b.number)).toEqual([1, 17, 29]);
    expect(bars.flatMap((b) => b.markers.map((m) => `${b.number} ${m.text}`))).toEqual([
      '1 A',
      '9 B, swung',
      '17 C, lilting',
      '29 D',
    ]);
    expect(bars.flatMap((b) => b.tempos.map((t) => `${b.number} ${Math.round(t.quartersPerMinute)}`))).toEqual([
      '1 88',
      '9 96',
      '17 100',
      '29 88',
      '39 80',
      '40 72',
    ]);
  });

  it('says of a ramp the tempo that it leaves, and where it goes', () => {
    const [first, ...others] = demo.tempos;
    const ramp = { to: 60_000_000 / 40, ease: 0 } as const;
    const back = { ...(first as TempoChange), tick: ticks(28 * demo.ppq) };
    const slowing = { ...demo, tempos: [{ ...(first as TempoChange), ramp }, back, ...others] };
    const { bars } = buildScore(slowing, layers, maps, reading);
    const [begins] = bars[0]?.tempos ?? [];
    expect([Math.round(begins?.quartersPerMinute ?? 0), begins?.words]).toEqual([88, 'metronome']);
    expect(bars.flatMap((bar) => bar.tempos.map(({ words }) => words)).slice(0, 4)).toContain('rit.');
  });

  it('gives the same bars alone as within the whole', () => {
    const whole = buildScore(demo, layers, maps, reading);
    const some = buildScore(demo, layers, maps, reading, { firstBar: 10, lastBar: 12, partIds: [2] });
    expect(some.parts.map((part) => part.name)).toEqual(['Clarinet in B flat']);
    expect(some.parts[0]?.bars.map((b) => b.events.map(shown))).toEqual(
      whole.parts[1]?.bars.slice(9, 12).map((b) => b.events.map(shown)),
    );
  });
});

describe('keys that change', () => {
  const keys = [
    { tick: ticks(0), fifths: 1, minor: false },
    { tick: ticks(1920 * 2), fifths: -3, minor: true },
  ];
  const score = scoreOf([written(67, 0, 16)], { keys });

  it('are shown in the bar where they change, and hold from there', () => {
    expect(score.bars.map((b) => b.newKey)).toEqual([true, false, true, false]);
    expect(score.parts[0]?.bars.map((b) => b.fifths)).toEqual([1, 1, -3, -3]);
  });

  it('are those that the first bar of a slice is in', () => {
    const slice = scoreOf([written(67, 0, 16)], { keys }, 'flute', { firstBar: 4, lastBar: 4 });
    expect(slice.parts[0]?.bars.map((b) => b.fifths)).toEqual([-3]);
    expect(slice.bars.map((b) => [b.number, b.newKey, b.newMeter])).toEqual([[4, true, true]]);
  });
});

// Sounding minus written, by orchestration handbooks (common practice).
describe.each([
  ['piccolo', 12],
  ['xylophone', 12],
  ['celesta', 12],
  ['glockenspiel', 24],
  ['guitar', -12],
  ['bassGuitar', -12],
  ['doubleBass', -12],
])('%s', (instrument, shift) => {
  it(`is written ${Math.abs(shift)} semitones ${shift > 0 ? 'below' : 'above'} where it sounds, in the same key`, () => {
    const sounding = shift > 0 ? 84 : 48;
    const plain = scoreOf([written(sounding, 0, 1)], {}, instrument);
    const [head] = eventsOf(plain)[0]?.notes ?? [];
    expect(head).toMatchObject({ soundingPitch: sounding });
    expect(head && (head.spelling.octave + 1) * 12).toBe(sounding - shift);
    const concert = scoreOf([written(sounding, 0, 1)], {}, instrument, { concertPitch: true });
    expect(plain.parts[0]?.bars[0]?.fifths).toBe(concert.parts[0]?.bars[0]?.fifths);
    const [same] = eventsOf(concert)[0]?.notes ?? [];
    expect(same && (same.spelling.octave + 1) * 12).toBe(sounding);
  });
});
