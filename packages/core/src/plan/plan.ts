/** A plan: an ordered list of steps with parameters, kept with its part. */
import type { NoteId } from '../model/arrangement.js';
import type { Grid } from '../steps/grids.js';
import type { QuantizeStartsParameters } from '../steps/quantizeStarts.js';
import { type StepId, stepById } from '../steps/registry.js';

/** One step of a plan. */
export interface PlanStep {
  readonly step: StepId;
  readonly on: boolean;
  readonly parameters: object;
}

/** Bars in which some steps go another way; from 1, both included. */
export interface Passage {
  readonly firstBar: number;
  readonly lastBar: number;
  readonly steps: readonly PlanStep[];
}

/** A plan; `version` is that of its stored form. */
export interface Plan {
  readonly version: 2;
  readonly name: string;
  readonly steps: readonly PlanStep[];
  readonly passages: readonly Passage[];
}

/** A note that one step leaves alone. */
export interface Veto {
  readonly noteId: NoteId;
  readonly step: StepId;
}

/** The steps of the default plan, in order. */
export const DEFAULT_STEPS: readonly StepId[] = [
  'deDuplicate',
  'sustainToDurations',
  'dropSpecks',
  'merge',
  'gatherChords',
  'quantizeStarts',
  'separateVoices',
  'trimOverlaps',
  'settleLengths',
  'shortestDuration',
];

/** A step as it stands in a plan when it is added. */
export const planStep = (step: StepId, parameters: object = {}, on = true): PlanStep => ({
  step,
  on,
  parameters: { ...stepById(step).defaults, ...parameters },
});

/** The plan for notation with every step's defaults. */
export const defaultPlan = (): Plan => ({
  version: 2,
  name: 'Notation',
  steps: DEFAULT_STEPS.map((step) => planStep(step)),
  passages: [],
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

/** The plan with another grid in some bars; "auto" and the plan's own grid take the passage out again. */
export const withPassageGrid = (plan: Plan, firstBar: number, lastBar: number, grid: Grid): Plan => {
  const others = plan.passages.filter((passage) => passage.lastBar < firstBar || passage.firstBar > lastBar);
  if (grid === gridOf(plan)) return { ...plan, passages: others };
  const base = plan.steps.find((item) => item.step === 'quantizeStarts') ?? planStep('quantizeStarts');
  const passage: Passage = { firstBar, lastBar, steps: [{ ...base, parameters: { ...base.parameters, grid } }] };
  return { ...plan, passages: [...others, passage].sort((a, b) => a.firstBar - b.firstBar) };
};

/** A value as JSON, the keys of each object in order of the alphabet. */
const ordered = (value: unknown): string =>
  JSON.stringify(value, (_key, inner: unknown) =>
    typeof inner === 'object' && inner !== null && !Array.isArray(inner)
      ? Object.fromEntries(Object.entries(inner).sort(([a], [b]) => (a < b ? -1 : 1)))
      : inner,
  );

/** True where two plans do the same, whatever they are called. */
export const samePlan = (a: Plan, b: Plan): boolean =>
  ordered([a.steps, a.passages]) === ordered([b.steps, b.passages]);
