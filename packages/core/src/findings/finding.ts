/** What a finding is: one thing that the checks noticed, with its place, its reason and its mend. */

import type { Arrangement, NoteId, Part, PartId } from '../model/arrangement.js';
import type { Override } from '../model/overrides.js';
import type { StepId, StepParameters } from '../model/stepParameters.js';
import type { Written } from '../plan/written.js';
import type { FoundBeats } from '../reading/beats/findBeats.js';
import type { StepContext } from '../reading/context.js';
import type { StepNote } from '../reading/stepNote.js';

/** How much a finding matters: "wrong" is heard or seen as a fault, "likely" probably, "look" asks for an ear. */
export type Severity = 'wrong' | 'likely' | 'look';

/** What all mends say. */
interface MendFace {
  /** A verb, as on the button. */
  readonly label: string;
  readonly noteIds?: readonly NoteId[];
  /** The part whose notes it changes; the finding's own where left out. */
  readonly partId?: PartId;
}

/** A step with parameters that would put it right; those left out are the step's defaults, or the plan's own. */
export type StepMend<Id extends StepId = StepId> = {
  readonly [Key in Id]: MendFace & {
    /**
     * "notes" carries it out on Played, on the finding's notes or on those named. "plan" sets the step in the part's
     * plan; "bars" sets it for the finding's bar alone. Those two leave Played as it is.
     */
    readonly where: 'notes' | 'plan' | 'bars';
    readonly step: Key;
    readonly parameters: Partial<StepParameters[Key]>;
  };
}[Id];

/** Bar lines moved, so that the piece begins with a pickup of so many ticks. */
export interface BarLinesMend extends MendFace {
  readonly where: 'barLines';
  readonly pickup: number;
}

/** Corrections of the page, which last. */
export interface PageMend extends MendFace {
  readonly where: 'page';
  readonly overrides: readonly Override[];
}

/** The take's own beats made the beats of the page; no note sounds at another time. */
export interface TempoMend extends MendFace {
  readonly where: 'tempo';
  readonly beats: FoundBeats;
}

/** What would put it right. */
export type Mend = StepMend | BarLinesMend | PageMend | TempoMend;

/** What a check answers. */
export interface Noticed {
  readonly noteIds: readonly NoteId[];
  /** Played ticks. */
  readonly tick: number;
  readonly reason: string;
  readonly severity?: Severity;
  readonly mend: Mend | null;
  /** Another way of putting it right, or the second best reading of a doubtful place. */
  readonly otherMend?: Mend;
}

const CHANGES: Readonly<Record<Mend['where'], string>> = {
  notes: 'changes Played',
  plan: 'changes the plan',
  bars: 'changes the plan',
  barLines: 'changes the bar lines',
  page: 'changes the page',
  tempo: 'changes the tempo map',
};

/** What a mend changes, in words for its face. */
export const mendChanges = ({ where }: Pick<Mend, 'where'>): string => CHANGES[where];

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
  /** True where it looks at the notes of other parts: what it notices changes when they do. */
  readonly compares?: true;
  readonly run: (input: CheckInput) => readonly Noticed[];
}
