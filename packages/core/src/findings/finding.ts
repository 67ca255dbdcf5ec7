/** What a finding is: one thing that the checks noticed, with its place, its reason and its mend. */
import type { Arrangement, NoteId, Part, PartId } from '../model/arrangement.js';
import type { Written } from '../plan/runPlan.js';
import type { StepId } from '../steps/registry.js';
import type { StepContext, StepNote } from '../steps/step.js';

/** How much a finding matters: "wrong" is heard or seen as a fault, "likely" probably, "look" asks for an ear. */
export type Severity = 'wrong' | 'likely' | 'look';

/** A step with parameters that would put it right. */
export interface Mend {
  /**
   * "notes" carries it out on Played, on the finding's notes or on those named. "plan" sets the step in the part's plan;
   * "bars" sets it for the finding's bar alone. Those two leave Played as it is.
   */
  readonly where: 'notes' | 'plan' | 'bars';
  readonly step: StepId;
  readonly parameters: object;
  /** A verb, as on the button. */
  readonly label: string;
  readonly noteIds?: readonly NoteId[];
}

/** What a check answers. */
export interface Noticed {
  readonly noteIds: readonly NoteId[];
  /** Played ticks. */
  readonly tick: number;
  readonly reason: string;
  readonly severity?: Severity;
  readonly mend: Mend | null;
}

/** One thing that the checks noticed. */
export interface Finding extends Noticed {
  readonly kind: string;
  readonly partId: PartId;
  readonly severity: Severity;
  /** Stays the same while its notes do; dismissals are remembered by it. */
  readonly key: string;
}

/** What checks look at. */
export interface CheckInput {
  readonly arrangement: Arrangement;
  readonly part: Part;
  /** Played notes that are not muted, in order of onset. */
  readonly notes: readonly StepNote[];
  /** In Played ticks. */
  readonly context: StepContext;
  readonly written: Written;
}

/** A check: what it is called, and what it notices. O(n log n) or better in notes. */
export interface Check {
  /** A noun, as a heading ("Doubles"). */
  readonly name: string;
  readonly explanation: string;
  readonly severity: Severity;
  readonly run: (input: CheckInput) => readonly Noticed[];
}
