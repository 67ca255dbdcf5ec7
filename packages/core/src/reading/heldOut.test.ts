import { describe, expect, it } from 'vitest';
import { madeScore } from '../demo/madeScore.js';
import { perform } from '../demo/performer.js';
import type { Arrangement, Note } from '../model/arrangement.js';
import { createChance } from '../model/chance.js';
import { runPlanOnAll } from '../plan/runPlan.js';
import { ticks } from '../time/units.js';
import { heldOut } from './heldOut.js';

const QUARTER = 10080;

/** Quarters that sound for these shares of themselves. */
const quarters = (...shares: readonly number[]) =>
  shares.map((share, index) => ({ onset: index * QUARTER, sounding: share * QUARTER, next: (index + 1) * QUARTER }));
const indexesOf = (held: readonly boolean[]) => held.flatMap((own, index) => (own ? [index] : []));

describe('notes that are held out', () => {
  it('stand out among short ones', () => {
    expect(indexesOf(heldOut(quarters(0.4, 0.35, 0.97, 0.4, 0.3), [0.4, 0.4, 0.4, 0.4, 0.4]))).toEqual([2]);
    expect(indexesOf(heldOut(quarters(0.4, 0.35, 0.84, 0.4, 0.3), [0.4, 0.4, 0.4, 0.4, 0.4]))).toEqual([]);
  });

  it('stand out in a line that is played detached, where they are plainly longer', () => {
    const detached = [0.7, 0.72, 0.68, 0.7, 0.71, 0.69];
    const plain = [0, 0, 0, 0, 0, 0];
    expect(indexesOf(heldOut(quarters(...detached, 1, ...detached), [...plain, 0, ...plain]))).toEqual([6]);
    expect(indexesOf(heldOut(quarters(...detached, 0.86, ...detached), [...plain, 0, ...plain]))).toEqual([]);
    // Too few notes tell how it is played.
    expect(indexesOf(heldOut(quarters(...detached, 1), [...plain, 0]))).toEqual([]);
    // An uneven hand: nothing is plainly longer.
    const uneven = [0.55, 0.9, 0.6, 0.85, 0.7, 0.95];
    expect(indexesOf(heldOut(quarters(...uneven, 1, ...uneven), [...plain, 0, ...plain]))).toEqual([]);
  });

  it('are none in a legato, nor where three and more follow each other', () => {
    const legato = Array.from({ length: 16 }, () => 1);
    expect(
      indexesOf(
        heldOut(
          quarters(...legato),
          legato.map(() => 0),
        ),
      ),
    ).toEqual([]);
    const detached = [0.7, 0.72, 0.68, 0.7, 0.71, 0.69];
    const all = (...held: readonly number[]) => quarters(...detached, ...held, ...detached);
    expect(indexesOf(heldOut(all(1, 1), Array(14).fill(0)))).toEqual([6, 7]);
    expect(indexesOf(heldOut(all(1, 1, 1), Array(15).fill(0)))).toEqual([]);
  });

  it('are no long values, and none before the end', () => {
    const last = [...quarters(0.4, 0.4, 0.4), { onset: 3 * QUARTER, sounding: 4 * QUARTER, next: 7 * QUARTER }];
    const end = { onset: 7 * QUARTER, sounding: QUARTER, next: null };
    expect(indexesOf(heldOut([...last, end], [0.4, 0.4, 0.4, 0.4, 0.4]))).toEqual([]);
  });
});

const follows = (note: Note | undefined, next: Note | undefined): boolean =>
  note !== undefined && next !== undefined && next.onset - note.onset <= 550;

/** A made line of eighths and quarters, all played for a share of their values, but one in so many, which is held out. */
const lineWith = (seed: number, [low, high]: readonly [number, number], every: number) => {
  const chance = createChance(seed);
  const score = madeScore({
    seed,
    kind: 'line',
    style: 'eighths',
    meter: { numerator: 4, denominator: 4 },
    bars: 16,
    quartersPerMinute: 96,
  });
  const whole = perform(score, { seed, ppq: 480, spread: 12, lengths: [1, 1], doubles: 0, specks: 0 });
  const held = new Set<number>();
  let since = 0;
  const lasting = (note: Note, about: readonly (Note | undefined)[]): Note => {
    since += 1;
    // A quick note with two quick ones on either side: of others nobody could say.
    const quick = about.every((one) => one !== undefined && one.duration <= 500);
    const out = since >= every && quick && about.every((one, at) => at === 0 || follows(about[at - 1], one));
    if (out) {
      held.add(note.id);
      since = 0;
    }
    const longer = note.duration > 500 && high < 0.5;
    const share = out ? chance.between(0.98, 1.03) : longer ? 0.9 : chance.between(low, high);
    return { ...note, duration: ticks(Math.round(note.duration * share)) };
  };
  const parts = whole.parts.map((part) => ({
    ...part,
    notes: part.notes.map((note, index) =>
      lasting(
        note,
        [-2, -1, 0, 1, 2].map((away) => part.notes[index + away]),
      ),
    ),
  }));
  return { held, arrangement: { ...whole, parts } as Arrangement };
};

describe('tenuto in lines of which the truth is known', () => {
  it.each([
    ['among short notes', [0.28, 0.44], 5, 0.6, 0.98],
    ['in a detached line', [0.62, 0.74], 7, 0.75, 0.98],
    ['where nothing is held out, short', [0.28, 0.44], 1000, 1, 1],
    ['where nothing is held out, uneven', [0.6, 1], 1000, 1, 1],
    ['where nothing is held out, legato', [0.92, 1.04], 1000, 1, 1],
  ] as const)('%s', (_, shares, every, recall, precision) => {
    let [right, told, all] = [0, 0, 0];
    for (let seed = 9700; seed < 9720; seed += 1) {
      const { held, arrangement } = lineWith(seed, shares, every);
      const marked = runPlanOnAll(arrangement).flatMap(({ notes }) =>
        notes.filter(({ signs }) => signs?.marks?.includes('tenuto')),
      );
      told += marked.length;
      all += held.size;
      right += marked.filter(({ id }) => held.has(id)).length;
    }
    expect(all === 0 ? 1 : right / all).toBeGreaterThanOrEqual(recall);
    expect(told === 0 ? 1 : right / told).toBeGreaterThanOrEqual(precision);
  });
});
