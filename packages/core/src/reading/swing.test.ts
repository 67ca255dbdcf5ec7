import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { ComposedScore } from '../demo/composed.js';
import { composeBars } from '../demo/composed.js';
import { perform } from '../demo/performer.js';
import type { Part } from '../model/arrangement.js';
import { applyEdit, overridesChange } from '../model/edit.js';
import { writeMusicXml } from '../musicxml/writeMusicXml.js';
import { buildScore } from '../notation/buildScore.js';
import { readPitches } from '../notation/pitchReading.js';
import { withStep } from '../plan/plan.js';
import { planOf } from '../plan/readyPlans.js';
import { runPlan, runPlanOnAll } from '../plan/runPlan.js';
import { writtenMaps } from '../plan/writtenMaps.js';
import { WRITTEN_PPQ, type WrittenUnits } from '../time/units.js';
import { evenShare, sharedSwing, swungShare } from './swing.js';

const COMMON = { numerator: 4, denominator: 4 };
const BAR = 4 * WRITTEN_PPQ;

/** Lines of flutes, one text of bars each; swung from bar to bar. */
const lines = (texts: readonly string[], swings: NonNullable<ComposedScore['swings']> = []): ComposedScore => ({
  title: 'Pairs',
  meters: [{ tick: 0 as WrittenUnits, ...COMMON }],
  tempos: [{ tick: 0 as WrittenUnits, quartersPerMinute: 100 }],
  markers: [],
  keys: [],
  swings,
  parts: texts.map((text, channel) => ({
    name: `Flute ${channel}`,
    instrument: 'flute',
    channel,
    program: 73,
    pedal: 'none',
    notes: composeBars(text, Array(text.split('|').length).fill(COMMON)),
  })),
});

const swungFrom = (from: number, to: number, percent: number) =>
  [{ percent, pair: 'eighths', from: (from - 1) * BAR, to: (to - 1) * BAR }] as unknown as NonNullable<
    ComposedScore['swings']
  >;

const EIGHTHS = 'c5:e d5:e e5:e f5:e g5:e f5:e e5:e d5:e';
const bars = (...texts: string[]) => texts.join(' | ');
const times = (count: number, text: string) => Array<string>(count).fill(text);
const play = (score: ComposedScore, spread = 10) =>
  perform(score, { seed: 5, ppq: 480, spread, lengths: [0.8, 1], doubles: 0, specks: 0 });
const written = (score: ComposedScore, spread = 10) => runPlanOnAll(play(score, spread));
const places = (notes: readonly { pitch: number; onset: number; duration: number }[]) =>
  notes.map(({ pitch, onset, duration }) => `${pitch} ${onset} ${duration}`);

describe('the warp of a swung pair', () => {
  it('turns round, keeps order, and leaves beats and halves of beats where they are', () => {
    const swings = fc.record({
      percent: fc.double({ min: 51, max: 75, noNaN: true }),
      pair: fc.constantFrom('eighths' as const, 'sixteenths' as const),
    });
    const share = fc.double({ min: 0, max: 1, noNaN: true });
    fc.assert(
      fc.property(swings, share, share, (swing, a, b) => {
        expect(evenShare(swungShare(a, swing), swing)).toBeCloseTo(a, 9);
        expect(swungShare(a, swing)).toBeGreaterThanOrEqual(a - 1e-12);
        if (a < b) expect(swungShare(a, swing)).toBeLessThanOrEqual(swungShare(b, swing));
        expect([swungShare(0, swing), swungShare(1, swing)]).toEqual([0, 1]);
      }),
    );
    expect(swungShare(0.5, { percent: 62, pair: 'eighths' })).toBeCloseTo(0.62, 9);
    expect(swungShare(0.75, { percent: 62, pair: 'sixteenths' })).toBeCloseTo(0.81, 9);
    expect(swungShare(0.5, { percent: 62, pair: 'sixteenths' })).toBe(0.5);
  });
});

describe('swing in a take', () => {
  it('is one ratio, written as even eighths with their lengths', () => {
    const score = lines([bars(...times(6, EIGHTHS))], swungFrom(1, 7, 62));
    const [layer] = written(score);
    expect(places(layer?.notes ?? [])).toEqual(places(score.parts[0]?.notes ?? []));
    const [said] = layer?.swings ?? [];
    expect(said?.from).toBe(WRITTEN_PPQ / 2);
    expect(said?.swing).toMatchObject({ pair: 'eighths' });
    const percent = said && said.swing !== 'even' ? said.swing.percent : 0;
    expect(Math.abs(percent - 62)).toBeLessThan(1.5);
  });

  it('leaves three in a beat as three', () => {
    const withThree = 'c5:et d5:et e5:et f5:e g5:e f5:q e5:e d5:e';
    const score = lines([bars(...times(4, EIGHTHS), withThree, EIGHTHS, withThree, EIGHTHS)], swungFrom(1, 9, 64));
    expect(places(written(score)[0]?.notes ?? [])).toEqual(places(score.parts[0]?.notes ?? []));
  });

  it('begins and ends where the playing does, and the page says both', () => {
    const score = lines([bars(...times(12, EIGHTHS))], swungFrom(5, 9, 65));
    const arrangement = play(score);
    const layers = runPlanOnAll(arrangement);
    expect(places(layers[0]?.notes ?? [])).toEqual(places(score.parts[0]?.notes ?? []));
    const maps = writtenMaps(arrangement);
    const page = buildScore(arrangement, layers, maps, readPitches(arrangement, layers));
    expect(
      page.parts[0]?.bars.map(({ swings }) => swings.map((one) => (one === 'even' ? one : one.pair)).join()),
    ).toEqual(['', '', '', '', 'eighths', '', '', '', 'even', '', '', '']);
    const xml = writeMusicXml(page).replace(/\s+/g, '');
    expect(xml).toMatch(/<words>Swing<\/words>.*<first>6[3-6]<\/first><second>3[4-7]<\/second><swing-type>eighth</);
    expect(xml).toMatch(/<words>Straight<\/words><\/direction-type><sound><swing><straight\/><\/swing><\/sound>/);
  });

  it('is not heard in even eighths, however rough; in dotted pairs; in a gigue of triplets; in drawn thirds', () => {
    const dotted = 'c5:e. d5:s e5:e. f5:s g5:q f5:e. e5:s';
    const threes = 'c5:et d5:et e5:et f5:qt g5:et f5:et e5:et d5:et c5:q';
    for (const [text, spread] of [
      [EIGHTHS, 45],
      [dotted, 15],
      [threes, 15],
      ['c5:qt d5:et e5:qt f5:et g5:qt f5:et e5:qt d5:et', 0],
    ] as const)
      for (const layer of written(lines([bars(...times(10, text))]), spread)) expect(layer.swings).toEqual([]);
  });

  it('is written as triplets where the plan says so', () => {
    const arrangement = play(lines([bars(...times(6, EIGHTHS))], swungFrom(1, 7, 66)));
    const part = arrangement.parts[0] as Part;
    const plan = withStep(planOf(part), 'quantizeStarts', { parameters: { swung: 'triplets' } });
    const { notes, swings } = runPlan(part, 480, writtenMaps(arrangement), plan);
    expect(swings).toEqual([]);
    expect(new Set(notes.map(({ onset }) => onset % WRITTEN_PPQ))).toEqual(new Set([0, (WRITTEN_PPQ * 2) / 3]));
  });
});

describe('parts that swing together', () => {
  const few = bars('c4:w', 'd4:q r:e e4:e f4:h', 'c4:w', 'r:w', 'e4:q. d4:e c4:h', 'c4:w');

  it('tell how a part with two pairs is read', () => {
    const score = lines([bars(...times(6, EIGHTHS)), few], swungFrom(1, 7, 64));
    expect(places(written(score)[1]?.notes ?? [])).toEqual(places(score.parts[1]?.notes ?? []));
    // Alone it would be triplets.
    const alone = written(lines([few], swungFrom(1, 7, 66)));
    expect(alone[0]?.notes.some(({ onset }) => onset % WRITTEN_PPQ === (WRITTEN_PPQ * 2) / 3)).toBe(true);
  });

  it('do so in the passage alone', () => {
    const arrangement = play(lines([bars(...times(10, EIGHTHS)), few], swungFrom(4, 8, 64)));
    const shared = writtenMaps(arrangement).swing;
    expect(shared?.from).toBeGreaterThanOrEqual(2.5 * BAR);
    expect(shared?.to).toBeLessThanOrEqual(7.5 * BAR);
    expect(Math.abs((shared?.swing.percent ?? 0) - 64)).toBeLessThan(2);
    expect(sharedSwing(arrangement.parts.slice(0, 1), 21, { bars: [], ppq: WRITTEN_PPQ }, '')).toBeNull();
  });

  it('do so no longer where their starts were made even, in the same bars', () => {
    const score = lines([bars(...times(6, EIGHTHS)), few], swungFrom(1, 7, 64));
    const swung = play(score);
    expect(writtenMaps(swung).swing).not.toBeNull();
    const even = { ...swung, parts: play({ ...score, swings: [] }).parts };
    expect(writtenMaps(even).swing).toBeNull();
    expect(writtenMaps(swung).swing).not.toBeNull();
  });
});

describe('swing that a person has the page say', () => {
  it('stands in place of what the plan found', () => {
    const arrangement = play(lines([bars(...times(6, EIGHTHS))], swungFrom(1, 7, 64)));
    const said = overridesChange(arrangement.parts[0] as Part, [{ kind: 'swing', bar: 1, swing: 'even' }]);
    const changed = applyEdit(arrangement, { label: 'x', changes: [said] });
    const layers = runPlanOnAll(changed);
    const page = buildScore(changed, layers, writtenMaps(changed), readPitches(changed, layers));
    expect(page.parts[0]?.bars[0]?.swings).toEqual(['even']);
  });
});
