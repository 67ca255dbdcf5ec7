/** Every clean-up step. Adding a step means one file and one line here; the default plan names its own, in order. */
import type { PlanStep } from '../model/plan.js';
import type { SelectionStepId, StepId, StepParameters } from '../model/stepParameters.js';
import type { StepContext } from '../reading/context.js';
import type { StepNote } from '../reading/stepNote.js';
import { closeGaps } from './closeGaps.js';
import { deDuplicate } from './deDuplicate.js';
import { dropSpecks } from './dropSpecks.js';
import { evenChordEnds } from './evenChordEnds.js';
import { everyNth } from './everyNth.js';
import { follow } from './follow.js';
import { gatherChords } from './gatherChords.js';
import { humanize } from './humanize.js';
import { matchLengths, matchVelocity } from './match.js';
import { merge } from './merge.js';
import { pullInStart } from './pullInStart.js';
import { quantizeEnds } from './quantizeEnds.js';
import { quantizeStarts } from './quantizeStarts.js';
import { readDynamics } from './readDynamics.js';
import { readOrnaments } from './readOrnaments.js';
import { separateVoices } from './separateVoices.js';
import { settleLengths } from './settleLengths.js';
import { shortestDuration } from './shortestDuration.js';
import { splitEvenly } from './split.js';
import type { Looks, Step, StepResult } from './step.js';
import { stretch } from './stretch.js';
import { sustainToDurations } from './sustainToDurations.js';
import { transpose } from './transpose.js';
import { trimOverlaps } from './trimOverlaps.js';
import { velocityRange, velocityScale } from './velocity.js';

const ALL_STEPS: { readonly [Id in StepId]: Step<Id> } = {
  deDuplicate,
  readOrnaments,
  readDynamics,
  sustainToDurations,
  dropSpecks,
  merge,
  gatherChords,
  pullInStart,
  quantizeStarts,
  quantizeEnds,
  separateVoices,
  trimOverlaps,
  closeGaps,
  settleLengths,
  evenChordEnds,
  shortestDuration,
  matchLengths,
  matchVelocity,
  velocityRange,
  velocityScale,
  humanize,
  follow,
  transpose,
  splitEvenly,
  everyNth,
  stretch,
};

/** All step ids. */
export const STEP_IDS = Object.keys(ALL_STEPS) as StepId[];

/** The ids of those that can be run on a selection. */
export const SELECTION_STEP_IDS = STEP_IDS.filter((id): id is SelectionStepId => !ALL_STEPS[id].pageOnly);

/** True for the id of a step. */
export const isStepId = (id: unknown): id is StepId => typeof id === 'string' && Object.hasOwn(ALL_STEPS, id);

/** The step with this id. */
export const stepById = <Id extends StepId>(id: Id): { readonly [Key in StepId]: Step<Key> }[Id] => ALL_STEPS[id];

/** A step as it stands in a plan when it is added; parameters not given are the step's defaults. */
export const planStep = <Id extends StepId>(
  step: Id,
  parameters: Partial<StepParameters[Id]> = {},
  on = true,
): PlanStep<Id> => ({ step, on, parameters: { ...ALL_STEPS[step].defaults, ...parameters } });

/** The same step of a plan with some parameters changed, switched on or off where `on` is given. */
export const withParameters = <Id extends StepId>(
  item: PlanStep<Id>,
  parameters: Partial<StepParameters[Id]>,
  on = item.on,
): PlanStep<Id> => ({ step: item.step, on, parameters: { ...item.parameters, ...parameters } });

/** A step known by name as one of any name: true of every name, but not seen by the compiler where the name is a type. */
const ofAnyName = <Id extends StepId>(item: PlanStep<Id>): PlanStep => item as PlanStep;

/** The steps of a plan with the one named switched on or off, or some of its parameters changed. */
export const withStepSet = <Id extends StepId>(
  steps: readonly PlanStep[],
  step: Id,
  parameters: Partial<StepParameters[Id]>,
  on?: boolean,
): PlanStep[] => steps.map((item) => (isStep(item, step) ? ofAnyName(withParameters(item, parameters, on)) : item));

/** True where a plan's step is the one named. */
export const isStep = <Id extends StepId>(item: PlanStep, step: Id): item is PlanStep & PlanStep<Id> =>
  item.step === step;

/** Runs a step with the parameters that a plan gives it, whether it is on or not. */
export const runStep = <Id extends StepId>(
  { step, parameters }: PlanStep<Id>,
  notes: readonly StepNote[],
  context: StepContext,
): StepResult => ALL_STEPS[step].run(notes, context, { ...ALL_STEPS[step].defaults, ...parameters });

/** What a step looks at besides its part's notes, as a plan has set it. */
export const looksOf = <Id extends StepId>({ step, parameters }: PlanStep<Id>): Looks =>
  ALL_STEPS[step].looksAt?.(parameters) ?? {};
