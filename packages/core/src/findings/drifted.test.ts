import { describe, expect, it } from 'vitest';
import { NO_OVERRIDES, type NoteOverride } from '../model/overrides.js';
import { runPlanOnAll } from '../plan/runPlan.js';
import type { Written } from '../plan/written.js';
import { arrangementWith, note, partWith } from '../testing/kit.js';
import { ticks } from '../time/units.js';
import { findingsOf } from './registry.js';

/** At the tests' tempo a tick is a millisecond. */
const told = (shift: (index: number) => number, held: boolean) => {
  const notes = Array.from({ length: 12 }, (_, k) => note(60 + k, k * 480, 460));
  const list = notes.flatMap(({ id, onset, duration }): NoteOverride[] => [
    ...(held ? [{ kind: 'held', noteId: id } as const] : []),
    { kind: 'writtenStart', noteId: id, at: (onset * 21) as never },
    { kind: 'writtenEnd', noteId: id, at: ((onset + duration + 20) * 21) as never },
  ]);
  const moved = notes.map((own, index) => ({ ...own, onset: ticks(own.onset + shift(index)) }));
  const part = partWith(moved, { overrides: { ...NO_OVERRIDES, list } });
  const arrangement = arrangementWith([part]);
  return findingsOf(arrangement, part, runPlanOnAll(arrangement)[0] as Written)
    .filter(({ kind }) => kind === 'drifted')
    .map(({ reason }) => reason);
};

describe('a held page and its playing', () => {
  it('are told of where they drifted far apart, bar by bar of the page', () => {
    expect(told((index) => (index >= 5 && index <= 8 ? 450 : 0), true)).toEqual([
      '3 notes of bar 2 on the page are played 450 ms away from where the held page has them.',
      'A note of bar 3 on the page is played 450 ms away from where the held page has it.',
    ]);
  });

  it('are not told of for expression, nor where the page is not held', () => {
    expect(told((index) => (index % 2) * 150, true)).toEqual([]);
    expect(told(() => 450, false)).toEqual([]);
  });
});
