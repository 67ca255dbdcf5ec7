import { describe, expect, it } from 'vitest';
import type { Part } from '../model/arrangement.js';
import { arrangementWith, note, partWith } from '../testing/kit.js';
import { playedContext } from './context.js';
import { defaultPlan, withStep } from './plan.js';
import { timingOffsets } from './timingOffsets.js';
import { writtenMaps } from './writtenMaps.js';

const off = (k: number) => 10 + ((k * 7) % 11);
const notes = Array.from({ length: 40 }, (_, k) => note(60 + (k % 5), k * 240 + off(k), 200));
const offsetsOf = (part: Part) => {
  const arrangement = arrangementWith([part]);
  return timingOffsets(arrangement, part, writtenMaps(arrangement));
};

describe('starts about the grid', () => {
  it('are as late as they were played, and on it as written', () => {
    const { played, written } = offsetsOf(partWith(notes));
    expect(played.map(Math.round)).toEqual(notes.map((_, k) => off(k)));
    expect(new Set(written)).toEqual(new Set([0]));
  });

  it('stay a part of the way off where the strength is less', () => {
    const parameters = {
      grid: 'auto',
      strength: 50,
      swing: 50,
      swung: 'triplets',
      leaveAloneWithin: null,
      moveAtMost: null,
      lengths: 'keep',
    } as const;
    const plan = withStep(defaultPlan(), 'quantizeStarts', { parameters });
    const { played, written } = offsetsOf(partWith(notes, { plan }));
    written.forEach((value, k) => {
      expect(value).toBeCloseTo((played[k] as number) / 2, 0);
    });
  });

  it('are shown about the grid even where the plan leaves starts alone', () => {
    const plan = withStep(defaultPlan(), 'quantizeStarts', { on: false });
    const { played, written } = offsetsOf(partWith(notes, { plan }));
    expect(written.map(Math.round)).toEqual(played.map(Math.round));
  });
});

describe('the context of a part as played', () => {
  const other = partWith([note(48, 17, 100), note(50, 500, 100)], { id: 2, instrument: 'cello' });
  const arrangement = arrangementWith([partWith(notes), other]);

  it('reaches past the last note, and knows other parts and free ids', () => {
    const context = playedContext(arrangement, arrangement.parts[0] as Part);
    expect(context.bars[context.bars.length - 1]?.end).toBeGreaterThan(40 * 240 + 200);
    expect(context.strikesOf?.(2).map(({ onset }) => onset)).toEqual([17, 500]);
    expect(context.strikesOf?.(9)).toEqual([]);
    expect(context.newId(1)).toBe(arrangement.nextNoteId);
    expect(context.instrument.id).toBe('flute');
  });

  it('makes its maps once for an arrangement', () => {
    const [a, b] = arrangement.parts.map((part) => playedContext(arrangement, part));
    expect(a?.bars).toBe(b?.bars);
  });
});
