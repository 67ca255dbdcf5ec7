/** Plans: the default one, and small changes to one. */
import { stringify } from 'safe-stable-stringify';
import { type Passage, PLAN_VERSION, type Plan, type PlanStep } from '../model/plan.js';
import type { Grid, StepId, StepParameters } from '../model/stepParameters.js';
import { isStep, planStep, withParameters, withStepSet } from '../steps/registry.js';

/** The steps of the default plan, in order. */
export const DEFAULT_STEPS = [
  'deDuplicate',
  'readOrnaments',
  'sustainToDurations',
  'dropSpecks',
  'merge',
  'gatherChords',
  'quantizeStarts',
  'separateVoices',
  'trimOverlaps',
  'settleLengths',
  'shortestDuration',
  'readDynamics',
] as const satisfies readonly StepId[];

/** A step as the plans for notation have it: each part's own repeats stay, where a selection is joined whatever it is. */
export const notationStep = (step: (typeof DEFAULT_STEPS)[number]): PlanStep =>
  step === 'merge' ? planStep(step, { overlaps: 'judge' }) : planStep(step);

/** The plan for notation with every step's defaults. */
export const defaultPlan = (): Plan => ({
  version: PLAN_VERSION,
  name: 'Notation',
  steps: DEFAULT_STEPS.map(notationStep),
  passages: [],
});

/** The first step of a plan by this name, or undefined. */
export const stepOf = <Id extends StepId>(plan: Pick<Plan, 'steps'>, step: Id): PlanStep<Id> | undefined =>
  plan.steps.find((item) => isStep(item, step));

/** True where the plan has the step, switched on, with parameters that pass. */
export const runsWith = <Id extends StepId>(
  plan: Plan,
  step: Id,
  passes: (parameters: StepParameters[Id]) => boolean,
): boolean => plan.steps.some((item) => isStep(item, step) && item.on && passes(item.parameters));

/** The plan with a step switched on or off, or some of its parameters changed. */
export const withStep = <Id extends StepId>(
  plan: Plan,
  step: Id,
  { on, parameters = {} }: { readonly on?: boolean; readonly parameters?: Partial<StepParameters[Id]> },
): Plan => ({
  ...plan,
  steps: withStepSet(plan.steps, step, parameters, on),
});

/** The plan with another grid for Quantize starts. */
export const withGrid = (plan: Plan, grid: Grid): Plan => withStep(plan, 'quantizeStarts', { parameters: { grid } });

/** The grid that the plan quantizes to. */
export const gridOf = (plan: Plan): Grid => stepOf(plan, 'quantizeStarts')?.parameters.grid ?? 'auto';

/** The plan with another grid in some bars; "auto" and the plan's own grid take the passage out again. */
export const withPassageGrid = (plan: Plan, firstBar: number, lastBar: number, grid: Grid): Plan => {
  const others = plan.passages.filter((passage) => passage.lastBar < firstBar || passage.firstBar > lastBar);
  if (grid === gridOf(plan)) return { ...plan, passages: others };
  const base = stepOf(plan, 'quantizeStarts') ?? planStep('quantizeStarts');
  const passage: Passage = { firstBar, lastBar, steps: [withParameters(base, { grid })] };
  return { ...plan, passages: [...others, passage].sort((a, b) => a.firstBar - b.firstBar) };
};

/** True where two plans do the same, whatever they are called. */
export const samePlan = (a: Plan, b: Plan): boolean =>
  stringify([a.steps, a.passages]) === stringify([b.steps, b.passages]);
