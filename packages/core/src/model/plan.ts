/** A plan: an ordered list of steps with parameters, kept with its part. */
import type { NoteId } from './ids.js';
import type { StepId, StepParameters } from './stepParameters.js';

/** One step of a plan, with the parameters of that very step. */
export type PlanStep<Id extends StepId = StepId> = {
  readonly [Key in Id]: { readonly step: Key; readonly on: boolean; readonly parameters: StepParameters[Key] };
}[Id];

/** Bars in which some steps go another way, by their numbers, both included. */
export interface Passage {
  readonly firstBar: number;
  readonly lastBar: number;
  readonly steps: readonly PlanStep[];
}

/** The version of a plan's stored form: 3 since Trim overlaps tells "any note" from "the next chord". */
export const PLAN_VERSION = 3;

/** A plan; `version` is that of its stored form. */
export interface Plan {
  readonly version: typeof PLAN_VERSION;
  readonly name: string;
  readonly steps: readonly PlanStep[];
  readonly passages: readonly Passage[];
}

/** A note that one step leaves alone. */
export interface Veto {
  readonly noteId: NoteId;
  readonly step: StepId;
}
