import { defaultPlan, READY_PLANS, STEP_IDS, stepById, withPassageGrid } from '@crispfold/core';
import { describe, expect, it } from 'vitest';
import { planFromFile, planToFile } from './index.js';
import { planSchema } from './planSchema.js';

const read = (value: unknown) => planFromFile(typeof value === 'string' ? value : JSON.stringify(value));
const file = (more: object) => ({ ...JSON.parse(planToFile(defaultPlan())), ...more });

describe('a plan file', () => {
  it.each(Object.entries(READY_PLANS))('gives the ready plan for %s back', (_kind, plan) => {
    expect(planFromFile(planToFile(plan))).toEqual({ ok: true, plan });
  });

  it('keeps passages', () => {
    const plan = withPassageGrid(defaultPlan(), 3, 5, 1 / 12);
    expect(planFromFile(planToFile(plan))).toEqual({ ok: true, plan });
  });

  it('fills in what is left out', () => {
    const result = read(file({ steps: [{ step: 'closeGaps' }] }));
    expect(result.ok && result.plan.steps).toEqual([
      { step: 'closeGaps', on: true, parameters: stepById('closeGaps').defaults },
    ]);
  });

  it('is one from before a parameter was there, in an Edit too', () => {
    const kept = (left: string) => {
      const plan = defaultPlan();
      const steps = plan.steps.map((item) => ({
        ...item,
        parameters: Object.fromEntries(
          Object.entries(item.parameters).filter(([name]) => item.step !== 'settleLengths' || name !== left),
        ),
      }));
      return planSchema.isValidSync({ ...plan, steps }, { strict: true });
    };
    expect([kept('nothing'), kept('tenuto'), kept('staccato'), kept('fills')]).toEqual([true, true, false, false]);
  });

  it('takes the defaults of every step', () => {
    expect(read(file({ steps: STEP_IDS.map((step) => ({ step })) })).ok).toBe(true);
  });

  it.each([
    ['no JSON', '{', 'not JSON'],
    ['something else', { hello: 1 }, '"format"'],
    ['another version', file({ version: 7 }), 'newer than this Crisp Fold'],
    ['an unknown step', file({ steps: [{ step: 'polish' }] }), 'no such step'],
    [
      'a number out of range',
      file({ steps: [{ step: 'quantizeStarts', parameters: { strength: 300 } }] }),
      '"Strength"',
    ],
    ['an unknown choice', file({ steps: [{ step: 'merge', parameters: { velocity: 'softest' } }] }), '"Loudness"'],
    ['a parameter it does not have', file({ steps: [{ step: 'merge', parameters: { colour: 1 } }] }), 'colour'],
  ])('refuses %s in words', (_name, value, words) => {
    const result = read(value);
    expect(result.ok).toBe(false);
    expect(!result.ok && result.message).toContain(words);
  });
});
