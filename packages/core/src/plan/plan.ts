/** A plan: an ordered list of steps with parameters, stored with the arrangement. */
import type { Grid, QuantizeStartsParameters } from '../steps/quantizeStarts.js';
import { STEP_IDS, type StepId, stepById } from '../steps/registry.js';

/** One step of a plan. */
export interface PlanStep {
  readonly step: StepId;
  readonly on: boolean;
  readonly parameters: object;
}

/** A plan; `version` is that of its stored form. */
export interface Plan {
  readonly version: 1;
  readonly steps: readonly PlanStep[];
}

/** The plan for notation: every step in the registry's order with its defaults. */
export const defaultPlan = (): Plan => ({
  version: 1,
  steps: STEP_IDS.map((step) => ({ step, on: true, parameters: stepById(step).defaults })),
});

/** The plan with one step changed. */
export const withStep = (plan: Plan, step: StepId, change: Partial<Omit<PlanStep, 'step'>>): Plan => ({
  ...plan,
  steps: plan.steps.map((item) => (item.step === step ? { ...item, ...change } : item)),
});

/** The plan with another grid for Quantize starts. */
export const withGrid = (plan: Plan, grid: Grid): Plan => {
  const current = plan.steps.find((item) => item.step === 'quantizeStarts');
  return withStep(plan, 'quantizeStarts', { parameters: { ...current?.parameters, grid } });
};

/** The grid that the plan quantizes to. */
export const gridOf = (plan: Plan): Grid =>
  (plan.steps.find((item) => item.step === 'quantizeStarts')?.parameters as QuantizeStartsParameters | undefined)
    ?.grid ?? 'auto';
