/** Every clean-up step, in the order of the default plan. Adding a step means one file and one line here. */
import { deDuplicate } from './deDuplicate.js';
import { dropSpecks } from './dropSpecks.js';
import { gatherChords } from './gatherChords.js';
import { merge } from './merge.js';
import { quantizeStarts } from './quantizeStarts.js';
import { separateVoices } from './separateVoices.js';
import { settleLengths } from './settleLengths.js';
import { shortestDuration } from './shortestDuration.js';
import type { Step } from './step.js';
import { sustainToDurations } from './sustainToDurations.js';
import { trimOverlaps } from './trimOverlaps.js';

const ALL_STEPS = {
  deDuplicate,
  sustainToDurations,
  dropSpecks,
  merge,
  gatherChords,
  quantizeStarts,
  separateVoices,
  trimOverlaps,
  settleLengths,
  shortestDuration,
} as const;

/** The name of a step in plans and files. */
export type StepId = keyof typeof ALL_STEPS;
/** The parameters of one step. */
export type ParametersOf<Id extends StepId> = (typeof ALL_STEPS)[Id]['defaults'];

/** All step ids, in the order of the default plan. */
export const STEP_IDS = Object.keys(ALL_STEPS) as StepId[];

/** The step with this id. Its parameters are checked where plans come in, so they are not typed here. */
export const stepById = (id: StepId): Step<object> => ALL_STEPS[id] as unknown as Step<object>;
