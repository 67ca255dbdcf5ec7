/** Every clean-up step. Adding a step means one file and one line here; the default plan names its own, in order. */
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
import { separateVoices } from './separateVoices.js';
import { settleLengths } from './settleLengths.js';
import { shortestDuration } from './shortestDuration.js';
import { splitEvenly } from './split.js';
import type { Step } from './step.js';
import { stretch } from './stretch.js';
import { sustainToDurations } from './sustainToDurations.js';
import { transpose } from './transpose.js';
import { trimOverlaps } from './trimOverlaps.js';
import { velocityRange, velocityScale } from './velocity.js';

const ALL_STEPS = {
  deDuplicate,
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
} as const;

/** The name of a step in plans and files. */
export type StepId = keyof typeof ALL_STEPS;
/** The parameters of one step. */
export type ParametersOf<Id extends StepId> = (typeof ALL_STEPS)[Id]['defaults'];

/** All step ids. */
export const STEP_IDS = Object.keys(ALL_STEPS) as StepId[];

/** True for the id of a step. */
export const isStepId = (id: unknown): id is StepId => typeof id === 'string' && Object.hasOwn(ALL_STEPS, id);

/** The step with this id. Its parameters are checked where plans come in, so they are not typed here. */
export const stepById = (id: StepId): Step<object> => ALL_STEPS[id] as unknown as Step<object>;
