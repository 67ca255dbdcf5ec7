import { describe, expect, it } from 'vitest';
import { importMidi } from '../midi/importMidi.js';
import { runPlan, runPlanOnAll } from '../plan/runPlan.js';
import { writtenMaps } from '../plan/writtenMaps.js';
import { tempoMisfit } from '../reading/beats/tempoFits.js';
import { THOROUGH } from '../testing/cases.js';
import { accuracyOf } from './accuracy.js';
import { ACCURACY_CASES, measure } from './accuracyCases.js';
import { ACCURACY_KINDS, measureKind } from './accuracyKinds.js';
import { composeBars } from './composed.js';
import { demoArrangement, demoMidi, preludeArrangement, preludeMidi } from './demo.js';
import { measureFree } from './freeKinds.js';
import { DEMO_PERFORMANCE, perform } from './performer.js';
import { lanternPrelude } from './prelude.js';
import { saltmarshLanterns } from './saltmarshLanterns.js';

const score = saltmarshLanterns();
const demo = demoArrangement();
const maps = writtenMaps(demo);

describe('Saltmarsh Lanterns', () => {
  it('is forty bars for six players, 4/4 with a middle in 6/8', () => {
    expect(score.parts.map((part) => part.name)).toEqual([
      'Flute',
      'Clarinet in B flat',
      'Horn in F',
      'Vibraphone',
      'Cello',
      'Tambourine',
    ]);
    expect(score.meters.map((meter) => `${meter.numerator}/${meter.denominator}`)).toEqual(['4/4', '6/8', '4/4']);
    const end = Math.max(...score.parts.flatMap((part) => part.notes.map((n) => n.onset + n.duration)));
    expect(maps.meterMap.barsTo(end)).toHaveLength(40);
  });

  it('refuses a bar that does not add up', () => {
    expect(() => composeBars('c4:q', [{ numerator: 4, denominator: 4 }])).toThrow('does not add up');
  });
});

describe('the performance', () => {
  it('is the same each time for one seed, and another for another', () => {
    expect(demoMidi()).toEqual(demoMidi());
    const other = perform(score, { ...DEMO_PERFORMANCE, seed: 5 });
    expect(other.parts[0]?.notes).not.toEqual(perform(score, DEMO_PERFORMANCE).parts[0]?.notes);
  });

  it('is human: off the grid, uneven, with litter and pedal', () => {
    const flute = demo.parts[0];
    expect(flute?.notes.filter((n) => n.onset % 60 === 0).length).toBeLessThan((flute?.notes.length ?? 0) / 4);
    expect(new Set(flute?.notes.map((n) => n.velocity)).size).toBeGreaterThan(15);
    expect(flute?.notes.length).toBeGreaterThan(score.parts[0]?.notes.length ?? 0);
    const pedals = demo.parts[3]?.events.filter((event) => event.kind === 'controller' && event.controller === 64);
    expect(pedals?.length).toBeGreaterThan(80);
  });

  it('has a first note that comes before its bar line', () => {
    const horn = demo.parts[2];
    const bar5 = demo.ppq * 16;
    expect(horn?.notes[0]?.onset).toBeLessThan(bar5 - 20);
  });

  it('reads as a MIDI file without a warning', () => {
    const result = importMidi([{ name: 'demo.mid', bytes: demoMidi() }]);
    expect(result.ok && result.value.warnings).toEqual([]);
  });
});

describe('the prelude, played with no click', () => {
  const prelude = preludeArrangement();
  const composed = lanternPrelude();

  it('is the same each time, reads without a warning, and its file says nothing of the tempo', () => {
    expect(preludeMidi()).toEqual(preludeMidi());
    const read = importMidi([{ name: 'prelude.mid', bytes: preludeMidi() }]);
    expect(read.ok && read.value.warnings).toEqual([]);
    expect(prelude.tempos.map(({ microsecondsPerQuarter }) => microsecondsPerQuarter)).toEqual([500_000]);
  });

  it('is noticed, and comes back as composed once the tempo is taken from the take; before, next to nothing does', () => {
    expect(tempoMisfit(prelude)?.found.perBar).toBe(4);
    const sample = { title: prelude.title, composed: composed.parts.map(({ notes }) => notes), arrangement: prelude };
    const { asFile, fromTake } = measureFree(sample);
    expect(asFile.exactBars).toBeLessThan(0.1);
    expect(fromTake).toEqual({ noteF1: 1, exactDurations: 1, exactBars: 1, wrongBars: [] });
  });
});

describe('the default plan gives the composed score back', () => {
  it.each(score.parts.map((part, index) => [part.name, index] as const))('%s: every bar', (_name, index) => {
    const part = demo.parts[index];
    const composed = score.parts[index];
    if (!part || !composed) throw new Error('no such part');
    const result = accuracyOf(composed.notes, runPlan(part, demo.ppq, maps).notes, maps.bars);
    expect(result).toEqual({ noteF1: 1, exactDurations: 1, exactBars: 1, wrongBars: [] });
  });

  it('with its swing, grace notes, trill, rolled chord and dynamics, and no sign besides', () => {
    const layers = runPlanOnAll(demo);
    const barOf = (onset: number) => maps.bars.find((bar) => onset < bar.end)?.number;
    const signsIn = (index: number) =>
      (layers[index]?.notes ?? []).flatMap(({ onset, signs }) =>
        signs ? [[barOf(onset), ...(signs.marks ?? []), ...(signs.graces ?? []).map(({ pitch }) => pitch)]] : [],
      );
    expect(signsIn(0)).toEqual([
      [3, 81],
      [31, 81],
      [32, 'trill'],
    ]);
    expect([1, 2, 3, 5].map(signsIn)).toEqual([[], [], [], []]);
    const rolled = layers[3]?.notes.filter((note) => note.rolled).map(({ onset }) => barOf(onset));
    expect(rolled).toEqual([40, 40, 40, 40]);
    const cello = layers[4]?.notes ?? [];
    expect(cello.flatMap(({ onset, signs }) => (signs?.dynamic ? [`${barOf(onset)} ${signs.dynamic}`] : []))).toEqual([
      '1 mf',
      '17 p',
      '29 f',
      '37 p',
    ]);
    const [hairpin, ...more] = cello.flatMap(({ signs }) => signs?.hairpin ?? []);
    expect(more).toEqual([]);
    expect(hairpin?.way).toBe('louder');
    expect(barOf(cello.find(({ id }) => id === hairpin?.to)?.onset ?? 0)).toBe(28);
    for (const index of [0, 1, 4, 5]) {
      const [swung, even] = layers[index]?.swings ?? [];
      const percent = swung && swung.swing !== 'even' ? swung.swing.percent : 0;
      expect(Math.abs(percent - 64)).toBeLessThan(1.5);
      expect(barOf(swung?.from ?? 0)).toBeLessThanOrEqual(10);
      expect(even?.swing).toBe('even');
      expect(barOf(even?.from ?? 0)).toBeGreaterThanOrEqual(29);
    }
  });

  // Seeds that no figure was tuned on.
  it.each([11, 12, 13, 14, 15, 16])('from another performance too, in nearly every bar (seed %i)', (seed) => {
    const arrangement = perform(score, { ...DEMO_PERFORMANCE, seed });
    const layers = runPlanOnAll(arrangement);
    const shares = layers.map(
      (layer, index) => accuracyOf(score.parts[index]?.notes ?? [], layer.notes, maps.bars).exactBars,
    );
    expect(shares.reduce((sum, share) => sum + share, 0) / shares.length).toBeGreaterThan(0.95);
  });

  it('and an untouched performance exactly', () => {
    const exact = perform(score, {
      ...DEMO_PERFORMANCE,
      spread: 0,
      lengths: [1, 1],
      doubles: 0,
      specks: 0,
      earlyEntry: undefined,
    });
    const layers = runPlanOnAll({ ...exact, parts: exact.parts.filter((part) => part.name !== 'Vibraphone') });
    const others = score.parts.filter((part) => part.name !== 'Vibraphone');
    layers.forEach((layer, index) => {
      expect(accuracyOf(others[index]?.notes ?? [], layer.notes, maps.bars)).toMatchObject({ noteF1: 1, exactBars: 1 });
    });
  });
});

describe('other music and other playing', () => {
  /** What is reached where that is less than what is aimed at: figures of fewer samples than `npm run accuracy` takes. */
  const REACHED: { readonly [name: string]: readonly [number, number, number] } = {
    'melodies from memory, 15 ms': [0.997, 0.993, 0.97],
    'two hands in one track, no human touch': [1, 1, 0.98],
    'two hands, other pieces, 15 ms': [0.99, 0.975, 0.93],
    'eight lines together, 40 ms, each with its own lean': [0.99, 0.988, 0.96],
    'lines, 40 ms, each with its own lean': [0.99, 0.988, 0.95],
  };
  const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;

  it.each(ACCURACY_KINDS)('$name', ({ name, asked, askedStaff, sample }) => {
    const all = Array.from({ length: THOROUGH ? 14 : 6 }, (_, index) => measureKind(sample(9000, index)));
    const [notes, durations, bars] = REACHED[name] ?? asked;
    expect(mean(all.map(({ plan }) => plan.noteF1))).toBeGreaterThanOrEqual(notes - 0.004);
    expect(mean(all.map(({ plan }) => plan.exactDurations))).toBeGreaterThanOrEqual(durations - 0.004);
    expect(mean(all.map(({ plan }) => plan.exactBars))).toBeGreaterThanOrEqual(bars - 0.01);
    const staves = all.flatMap(({ staff }) => (staff === null ? [] : [staff]));
    if (askedStaff) expect(mean(staves)).toBeGreaterThanOrEqual(askedStaff - 0.03);
  });
});

describe('made scores', () => {
  // Of the seeds that `npm run accuracy` reports, and no figure was tuned on.
  it.each(ACCURACY_CASES)('$name: the plan gives back what is asked', (row) => {
    const measured = Array.from({ length: 50 }, (_, index) => measure(row, 9000, index));
    const mean = (of: (m: (typeof measured)[0]) => number) =>
      measured.reduce((sum, m) => sum + of(m), 0) / measured.length;
    const [noteF1, exactDurations, exactBars] = row.required;
    expect(mean((m) => m.plan.noteF1)).toBeGreaterThanOrEqual(noteF1);
    expect(mean((m) => m.plan.exactDurations)).toBeGreaterThanOrEqual(exactDurations);
    expect(mean((m) => m.plan.exactBars)).toBeGreaterThanOrEqual(exactBars);
    expect(mean((m) => m.plan.noteF1)).toBeGreaterThanOrEqual(mean((m) => m.byHand.noteF1));
  });
});

describe('the measure itself', () => {
  const composed = composeBars('c4:q d4:q e4:h | c4:w', [
    { numerator: 4, denominator: 4 },
    { numerator: 4, denominator: 4 },
  ]);

  it('sees a wrong length, a wrong start and a note too many', () => {
    const [first, second, third, fourth] = composed as [
      (typeof composed)[0],
      (typeof composed)[0],
      (typeof composed)[0],
      (typeof composed)[0],
    ];
    const shorter = { ...first, duration: 5040 } as typeof first;
    expect(accuracyOf(composed, [shorter, second, third, fourth], maps.bars)).toMatchObject({
      noteF1: 1,
      exactDurations: 0.75,
      wrongBars: [1],
    });
    expect(accuracyOf(composed, [shorter, second, third, fourth], maps.bars, true).exactDurations).toBe(1);
    expect(accuracyOf(composed, [first, second, third], maps.bars)).toMatchObject({
      exactDurations: 1,
      wrongBars: [2],
    });
    expect(accuracyOf(composed, [...composed, { ...first, pitch: 99 }], maps.bars).noteF1).toBeCloseTo(8 / 9, 9);
  });
});
