import { describe, expect, it } from 'vitest';
import { createChance } from '../model/chance.js';
import { type FigureCost, figureCosts } from './figures.js';
import {
  type Attack,
  COMPOUND_BEAT,
  type Division,
  type FillModel,
  gainsOf,
  SIMPLE_BEAT,
  type TimingModel,
} from './gridModel.js';
import { type BeatAttacks, searchGrid } from './gridSearch.js';

const BEAT = 480;
const attack = (onset: number, more: Partial<Attack> = {}): Attack => ({
  onset,
  last: onset,
  length: 100,
  repeats: false,
  cut: false,
  together: false,
  ...more,
});

const STEADY: TimingModel = { lean: 0, spread: 12, drift: 0 };

/** Reads attacks over beats of 480 ticks, where a tick is a millisecond. */
const read = (
  attacks: readonly Attack[],
  {
    timing = STEADY,
    divisions = SIMPLE_BEAT,
    sharing = () => 12,
    favour = null,
    figures = null,
    fill = null,
    lastRead = null,
  }: {
    timing?: TimingModel;
    divisions?: readonly Division[];
    sharing?: (gap: number) => number;
    favour?: ((written: number) => number) | null;
    figures?: FigureCost | null;
    fill?: FillModel | null;
    lastRead?: BeatAttacks['lastRead'];
  } = {},
) => {
  const last = attacks[attacks.length - 1]?.onset ?? 0;
  const beats: BeatAttacks[] = [];
  let first = 0;
  for (let start = 0; start <= last; start += BEAT) {
    const count = attacks.filter((a) => a.onset >= start && a.onset < start + BEAT).length;
    beats.push({ start, length: BEAT, compound: false, divisions, first, count, lastRead });
    first += count;
  }
  const times = Float64Array.from(attacks, (a) => a.onset / 1000);
  const perMs = new Float64Array(attacks.length).fill(1);
  return searchGrid({
    attacks,
    beats,
    gains: gainsOf(times, perMs, timing),
    lean: new Float64Array(attacks.length).fill(timing.lean),
    fill,
    sharing,
    favour,
    figures,
  });
};
const targetsOf = (reading: ReturnType<typeof read>) => Array.from(reading.targets, (target) => Math.round(target));

describe('the search for a grid', () => {
  it('takes the plainest division that says the starts', () => {
    const reading = read([attack(4), attack(243), attack(478 + 5), attack(480 + 163), attack(480 + 318)]);
    expect(reading.divisions.map((chosen) => chosen?.points)).toEqual([2, 3]);
    expect(targetsOf(reading)).toEqual([0, 240, 480, 640, 800]);
  });

  it('puts a start just before the next beat on it', () => {
    const reading = read([attack(0), attack(470), attack(962)]);
    expect(targetsOf(reading)).toEqual([0, 480, 960]);
  });

  it('takes what the player is late throughout off every start', () => {
    const late = [0, 480, 720, 960].map((at) => attack(at + 40));
    expect(targetsOf(read(late, { timing: { ...STEADY, lean: 40 } }))).toEqual([0, 480, 720, 960]);
  });

  it('follows a drift from start to start, and says how far it is', () => {
    const chance = createChance(3);
    const starts = Array.from({ length: 48 }, (_, k) => k * 240);
    const drift = (at: number) => 45 * Math.sin(at / 2600);
    const played = starts.map((at) => attack(Math.max(0, Math.round(at + drift(at) + chance.normal() * 6))));
    const reading = read(played, { timing: { lean: 0, spread: 8, drift: 36 } });
    expect(targetsOf(reading)).toEqual(starts);
    const off = starts.map((at, k) => Math.abs((reading.drift[k] as number) - drift(at)));
    expect(off.reduce((sum, value) => sum + value, 0) / off.length).toBeLessThan(12);
  });

  it('lets tones of a chord share a point, and parts notes that do not', () => {
    const two = [attack(0), attack(20, { together: true }), attack(480)];
    expect(targetsOf(read(two, { sharing: () => 0.5 }))).toEqual([0, 0, 480]);
    const [, second] = targetsOf(read([attack(0), attack(50), attack(480)], { sharing: () => 50 }));
    expect(second).toBeGreaterThan(0);
  });

  it('takes a roll to be played anywhere between its first and its last tone', () => {
    expect(targetsOf(read([attack(-0, { last: 0 }), attack(420, { last: 500 })]))).toEqual([0, 480]);
  });

  it('never lets targets fall back in time', () => {
    const chance = createChance(9);
    const starts = Array.from({ length: 120 }, () => Math.floor(chance.between(0, BEAT * 24))).sort((a, b) => a - b);
    const targets = targetsOf(read(starts.map((at) => attack(at))));
    expect(targets.every((target, k) => k === 0 || target >= (targets[k - 1] as number))).toBe(true);
  });

  it('is sure where one reading fits, and unsure between two', () => {
    const [sure] = read([attack(0), attack(240), attack(480)]).margins;
    const [unsure] = read([attack(0), attack(140), attack(480)]).margins;
    expect(sure).toBeGreaterThan(4);
    expect(unsure).toBeLessThan(2);
  });

  it('puts a doubtful start where it is favoured, and a plain one where it was played', () => {
    const favour = (place: number) => (place === 240 ? 1.5 : 0);
    const timing = { lean: 0, spread: 40, drift: 0 };
    const second = (onset: number, more: object) => targetsOf(read([attack(0), attack(onset)], { timing, ...more }))[1];
    expect(second(150, {})).not.toBe(240);
    expect(second(150, { favour })).toBe(240);
    expect(second(20, { favour })).not.toBe(240);
  });

  it('leans to the figures that the part is known for, the beat that an early start belongs to counted', () => {
    const timing = { lean: 0, spread: 40, drift: 0 };
    const starts = [attack(0), attack(175), attack(470)];
    const places = (figures: FigureCost | null) => targetsOf(read(starts, { timing, figures }));
    const threes = figureCosts(Array(20).fill({ division: SIMPLE_BEAT[3] as Division, struck: 0b011, weight: 1 }));
    const twos = figureCosts(Array(20).fill({ division: SIMPLE_BEAT[1] as Division, struck: 0b11, weight: 1 }));
    expect(places(twos)).toEqual([0, 240, 480]);
    expect(places(threes)).toEqual([0, 160, 480]);
    // The third start comes early for the second beat: both beats have their first place struck.
    const four = starts.concat(attack(700));
    const first: FigureCost = (_, struck) => (struck & 1 ? -1 : 0);
    expect(read(four, { timing, figures: first }).cost).toBeCloseTo(read(four, { timing }).cost - 2);
  });

  it('tells what a figure costs by how the beat itself was read last', () => {
    const asked = new Set<unknown>();
    const figures: FigureCost = (_, __, lastRead) => {
      asked.add(lastRead);
      return 0;
    };
    const lastRead = { division: SIMPLE_BEAT[1] as Division, struck: 0b11, weight: 0.7 };
    const starts = [attack(0), attack(240)];
    read(starts, { figures });
    expect([...asked]).toEqual([null]);
    asked.clear();
    read(starts, { figures, lastRead });
    expect([...asked]).toEqual([lastRead]);
  });

  /** Sixteenths, and nothing else. */
  const QUARTERED: readonly Division[] = [{ points: 4, price: 0, family: 'duple' }];
  const ROUGH_HAND: TimingModel = { lean: 0, spread: 40, drift: 0 };
  const FILL: FillModel = { low: 0.78, high: 1.05, rest: 2.8, oddRest: 3.8 };

  it('has rests begin on the beat, or halfway through it, rather than elsewhere', () => {
    // A dotted eighth, a sixteenth, and a sixteenth rest on the beat; or three sixteenths, a rest, and a sixteenth on the beat.
    const starts = [attack(0, { length: 341 }), attack(424, { length: 115 }), attack(600)];
    const places = (fill: FillModel) => targetsOf(read(starts, { timing: ROUGH_HAND, divisions: QUARTERED, fill }));
    expect(places(FILL)).toEqual([0, 360, 600]);
    expect(places({ ...FILL, oddRest: FILL.rest })).toEqual([0, 480, 600]);
  });

  it('has rests begin on any third of a dotted beat', () => {
    const starts = [attack(0, { length: 200 }), attack(580, { length: 100 })];
    const cost = (compound: boolean) =>
      searchGrid({
        attacks: starts,
        beats: [{ start: 0, length: 720, compound, divisions: COMPOUND_BEAT, first: 0, count: 2, lastRead: null }],
        gains: gainsOf(Float64Array.from([0, 0.58]), new Float64Array(2).fill(1), STEADY),
        lean: new Float64Array(2),
        fill: FILL,
        sharing: () => 12,
        favour: null,
        figures: null,
      }).cost;
    expect(cost(false) - cost(true)).toBeCloseTo(1);
  });

  it('asks no length of a note whose key came up to be struck again, but that it is no longer than its slot', () => {
    const second = (length: number, onset: number, cut: boolean) => {
      const starts = [attack(0, { length }), attack(onset, { cut, repeats: cut })];
      return targetsOf(read(starts, { timing: ROUGH_HAND, divisions: QUARTERED, fill: FILL }))[1];
    };
    expect(second(300, 425, false)).toBe(360);
    expect(second(300, 425, true)).toBe(480);
    expect(second(400, 410, true)).toBe(480);
    // What runs into its repeat was ended by it.
    expect(second(410, 410, true)).toBe(360);
  });

  it('reads a dotted beat in thirds', () => {
    const beat = {
      start: 0,
      length: 720,
      compound: true,
      divisions: COMPOUND_BEAT,
      first: 0,
      count: 3,
      lastRead: null,
    };
    const attacks = [attack(5), attack(236), attack(488)];
    const reading = searchGrid({
      attacks,
      beats: [beat],
      gains: gainsOf(Float64Array.from([0, 0.236, 0.488]), new Float64Array(3).fill(1), STEADY),
      lean: new Float64Array(3),
      fill: null,
      sharing: () => 12,
      favour: null,
      figures: null,
    });
    expect(reading.divisions.map((chosen) => chosen?.points)).toEqual([3]);
    expect(targetsOf(reading)).toEqual([0, 240, 480]);
  });
});
