/** Parts that play together are evidence for each other's places. */
import { describe, expect, it } from 'vitest';
import { linesTogether } from '../demo/linesTogether.js';
import { perform } from '../demo/performer.js';
import type { Arrangement, Note, Part } from '../model/arrangement.js';
import { ticks } from '../time/units.js';
import { withStep } from './plan.js';
import { planOf } from './readyPlans.js';
import { hearsOthers, type PlanRun, rerunPlan, runPlanOnAll } from './runPlan.js';
import { writtenMaps } from './writtenMaps.js';

const FLUTE = { name: 'Flute', instrument: 'flute', channel: 0, program: 73 };
const third = 1 / 3;
/** Much that a rough hand leaves open. */
const CELLS = [[1], [0.5, 0.5], [0.5, 0.25, 0.25], [0.25, 0.25, 0.5], [0.75, 0.25], [third, third, third], [2]];
const score = linesTogether(
  {
    meter: { numerator: 4, denominator: 4 },
    bars: 12,
    cells: CELLS,
    repeats: 0.1,
    quartersPerMinute: 100,
    player: FLUTE,
  },
  4,
  5,
);

/** Four lines of hands that are so unsteady, each late or early by its own amount. */
const takes = (spread: number): Arrangement => {
  const parts = score.parts.map((part, index): Part => {
    const lean = (index - 1.5) * 18;
    const hand = { seed: 50 + index, ppq: 480, spread, lean, lengths: [0.8, 1], doubles: 0, specks: 0 } as const;
    const played = perform({ ...score, parts: [part] }, hand).parts[0] as Part;
    return { ...played, id: index + 1, name: part.name };
  });
  return { ...perform(score, { seed: 1, ppq: 480, spread: 0, lengths: [1, 1], doubles: 0, specks: 0 }), parts };
};
const rough = takes(60);

const right = (arrangement: Arrangement): number =>
  runPlanOnAll(arrangement).reduce((sum, { notes }, index) => {
    const truth = new Set(score.parts[index]?.notes.map(({ onset, pitch }) => `${onset} ${pitch}`));
    return sum + notes.filter(({ onset, pitch }) => truth.has(`${onset} ${pitch}`)).length;
  }, 0);

const deaf = (arrangement: Arrangement): Arrangement => ({
  ...arrangement,
  parts: arrangement.parts.map((part) => ({
    ...part,
    plan: withStep(planOf(part), 'quantizeStarts', { parameters: { hears: false } }),
  })),
});

const withNotes = (
  arrangement: Arrangement,
  which: number,
  change: (note: Note, index: number) => Note,
): Arrangement => ({
  ...arrangement,
  parts: arrangement.parts.map((part, index) =>
    index === which ? { ...part, notes: part.notes.map((note, at) => change(note, at)) } : part,
  ),
});

describe('an unsteady hand', () => {
  it('is read by where the other parts begin as well, and says so', () => {
    expect(right(rough)).toBeGreaterThan(right(deaf(rough)));
    const [first] = runPlanOnAll(rough);
    expect(first && hearsOthers(first)).toBe(true);
    const reasons = first?.steps.find(({ step }) => step === 'quantizeStarts')?.changes.map(({ reason }) => reason);
    expect(reasons?.some((reason) => reason.endsWith(', as in 3 other parts'))).toBe(true);
    expect(reasons?.some((reason) => reason.endsWith(', as in another part'))).toBe(true);
    expect(reasons?.some((reason) => /beat \d$/.test(reason))).toBe(true);
  });

  it('is read by itself where that is switched off, where it is alone, and where it is steady', () => {
    const heard = (arrangement: Arrangement) => runPlanOnAll(arrangement).some(hearsOthers);
    expect(heard(deaf(rough))).toBe(false);
    expect(heard({ ...rough, parts: rough.parts.slice(0, 1) })).toBe(false);
    expect(heard({ ...rough, parts: [rough.parts[0] as Part, { ...(rough.parts[1] as Part), notes: [] }] })).toBe(
      false,
    );
    expect(heard(takes(12))).toBe(false);
  });

  it('does not hear notes that are muted', () => {
    const muted = [1, 2, 3].reduce(
      (some, which) => withNotes(some, which, (note) => ({ ...note, muted: true })),
      rough,
    );
    expect(runPlanOnAll(muted).some(hearsOthers)).toBe(false);
  });
});

describe('a plan run again', () => {
  const runOf = (arrangement: Arrangement, last?: PlanRun) => {
    const part = arrangement.parts[0] as Part;
    return rerunPlan(part, arrangement.ppq, writtenMaps(arrangement), planOf(part), last);
  };
  const first = runOf(rough);

  it('is the same where other parts change but begin where they did', () => {
    expect(runOf(rough, first)).toBe(first);
    expect(
      runOf(
        withNotes(rough, 1, (note) => ({ ...note, pitch: note.pitch + 1, velocity: 50 })),
        first,
      ),
    ).toBe(first);
  });

  it('is another where another part begins elsewhere, or is gone', () => {
    const moved = withNotes(rough, 1, (note) => ({ ...note, onset: ticks(note.onset + 240) }));
    expect(runOf(moved, first).stages.find(({ heard }) => heard)).not.toBe(first.stages.find(({ heard }) => heard));
    const gone = { ...rough, parts: rough.parts.slice(0, 3) };
    expect(runOf(gone, first)).not.toBe(first);
    expect(runOf(gone, first).written).toEqual(runOf(gone).written);
  });
});
