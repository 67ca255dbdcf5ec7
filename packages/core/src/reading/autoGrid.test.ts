import { describe, expect, it } from 'vitest';
import { createChance } from '../model/chance.js';
import { contextIn, note } from '../testing/kit.js';
import { attacksOf, rollsOf } from './attacks.js';
import { autoGrid } from './autoGrid.js';
import { learnt, SIMPLE_BEAT, slotCost, timingCost } from './gridModel.js';
import { byOnset } from './noteGroups.js';

const context = contextIn();
/** Starts at quarters of the given beats, moved by `off`; each fills most of its slot. A tick is a millisecond. */
const played = (quarters: readonly number[], off: (index: number) => number) =>
  quarters.map((at, k) => {
    const slot = (quarters[k + 1] ?? at + 1) - at;
    return note(60 + (k % 5), Math.max(0, Math.round(at * 480 + off(k))), Math.round(slot * 480 * 0.9));
  });
const gridOf = (notes: ReturnType<typeof played>) =>
  autoGrid(attacksOf(rollsOf(byOnset(notes), context), context), context);
const inQuarters = (notes: ReturnType<typeof played>) =>
  Array.from(gridOf(notes).targets, (target) => Math.round((target / 480) * 1000) / 1000);

const eighths = Array.from({ length: 64 }, (_, k) => k / 2);
const mixed = Array.from({ length: 8 }, (_, bar) =>
  [0, 1, 1.5, 2, 2 + 1 / 3, 2 + 2 / 3, 3, 3.25, 3.5, 3.75].map((at) => bar * 4 + at),
).flat();
const rounded = (values: readonly number[]) => values.map((value) => Math.round(value * 1000) / 1000);

describe('auto grid', () => {
  it('finds triplets, sixteenths and eighths beat by beat', () => {
    const chance = createChance(5);
    expect(inQuarters(played(mixed, () => chance.normal() * 12))).toEqual(rounded(mixed));
  });

  it('is not led astray by a player who is late throughout, and says by how much', () => {
    const chance = createChance(6);
    const notes = played(eighths, () => 35 + chance.normal() * 10);
    expect(inQuarters(notes)).toEqual(eighths);
    expect(gridOf(notes).timing.lean).toBeGreaterThan(25);
  });

  it('follows a player who wanders, and tells the wandering from the spread', () => {
    const chance = createChance(7);
    const notes = played(eighths, (k) => 60 * Math.sin(k / 9) + chance.normal() * 6);
    expect(inQuarters(notes)).toEqual(eighths);
    const { drift, spread } = gridOf(notes).timing;
    expect(drift).toBeGreaterThan(25);
    expect(spread).toBeLessThan(20);
  });

  it('is worked out once for the same starts and lengths, and anew for whatever else differs', () => {
    const chance = createChance(11);
    const notes = played(mixed, () => chance.normal() * 12);
    const attacks = attacksOf(rollsOf(byOnset(notes), context), context);
    const grid = autoGrid(attacks, context);
    expect(autoGrid([...attacks.map((attack) => ({ ...attack }))], context)).toBe(grid);
    const changed: readonly Partial<(typeof attacks)[number]>[] = [
      { onset: 490 },
      { last: 500 },
      { length: 77 },
      { repeats: true },
      { cut: true },
      { together: true },
    ];
    for (const change of changed) {
      const others = attacks.map((attack, index) => (index === 1 ? { ...attack, ...change } : attack));
      expect(autoGrid(others, context)).not.toBe(grid);
    }
    expect(autoGrid(attacks.slice(0, -1), context)).not.toBe(grid);
    expect(autoGrid(attacks, context, { swings: true })).not.toBe(grid);
    expect(autoGrid(attacks, { ...context, bars: [...context.bars] })).not.toBe(grid);
    expect(autoGrid(attacks, { ...context, tempoMap: contextIn().tempoMap })).not.toBe(grid);
    const other = { ...context.instrument, oneNote: !context.instrument.oneNote };
    expect(autoGrid(attacks, { ...context, instrument: other })).not.toBe(grid);
    expect(autoGrid(attacks, context)).toBe(grid);
  });

  it('leaves a part alone that stands on a grid already', () => {
    const { targets, timing } = gridOf(played(mixed, () => 0));
    expect(Array.from(targets)).toEqual(mixed.map((at) => Math.round(at * 480)));
    expect(timing).toEqual({ lean: 0, spread: 0, drift: 0 });
  });

  it('reads a roll as one attack, but not on an instrument that plays one note at a time', () => {
    const chord = [note(60, 0, 900), note(64, 40, 860), note(67, 80, 820), note(72, 120, 780)];
    const harp = contextIn(undefined, { instrument: 'harp' });
    expect(rollsOf(byOnset(chord), harp)).toHaveLength(1);
    expect(rollsOf(byOnset(chord), context)).toHaveLength(4);
    const run = chord.map((n, k) => note(n.pitch, k * 40, 38));
    expect(rollsOf(byOnset(run), harp)).toHaveLength(4);
  });
});

describe('notes that begin together', () => {
  it('says where a key came up to be struck again', () => {
    const cut = (pitch: number, onset: number) => {
      const attacks = attacksOf(rollsOf(byOnset([note(60, 0, 450), note(pitch, onset, 200)]), context), context);
      return attacks.map((attack) => attack.cut);
    };
    // A tick is a little over a millisecond.
    expect(cut(60, 470)).toEqual([false, true]);
    expect(cut(60, 500)).toEqual([false, false]);
    expect(cut(62, 470)).toEqual([false, false]);
  });
});

describe('what the grid believes', () => {
  it('learns which divisions a part uses, within reason', () => {
    const price = (divisions: typeof SIMPLE_BEAT, points: number) =>
      divisions.find((d) => d.points === points)?.price ?? 0;
    const triplets = learnt(SIMPLE_BEAT, new Map([[3, 40]]));
    expect(price(triplets, 3)).toBeLessThan(price(SIMPLE_BEAT, 3));
    const crumbs = learnt(SIMPLE_BEAT, new Map([[8, 400]]));
    expect(price(crumbs, 8)).toBeGreaterThan(4);
  });

  it('charges outliers evenly (Huber, 1964) and lengths that cannot be', () => {
    expect(timingCost(1)).toBe(0.5);
    expect(timingCost(11) - timingCost(10)).toBeCloseTo(2.5, 9);
    const fill = { low: 0.75, high: 1.05, rest: 2, oddRest: 3 };
    expect(slotCost(fill, 90, 100, 2)).toBe(0);
    expect(slotCost(fill, 140, 100, 2)).toBeGreaterThan(slotCost(fill, 110, 100, 2));
    expect(slotCost(fill, 20, 100, 2)).toBe(2);
  });
});
