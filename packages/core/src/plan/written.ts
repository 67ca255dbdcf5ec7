/** The Written layer: what a plan makes of a part, and what each of its steps did. */
import type { NoteId, PartId } from '../model/arrangement.js';
import type { HeardTone, NoteSigns } from '../model/noteSigns.js';
import type { StepId } from '../model/stepParameters.js';
import type { Swing } from '../model/swing.js';
import type { Remark } from '../reading/remark.js';
import type { Staff } from '../reading/stepNote.js';
import type { StepChange } from '../steps/step.js';
import type { WrittenUnits } from '../time/units.js';

/** A note as it will be on the page. Its id is that of the Played note it stands for, or one made from it. */
export interface WrittenNote {
  readonly id: NoteId;
  /** Every Played note that it came from, itself included. */
  readonly sources: readonly NoteId[];
  readonly pitch: number;
  readonly onset: WrittenUnits;
  readonly duration: WrittenUnits;
  readonly velocity: number;
  readonly channel: number;
  readonly staccato: boolean;
  /** Signs that were read from how it was played; times from its written start. */
  readonly signs?: NoteSigns;
  /** Struck one after the other with the others of its chord. */
  readonly rolled?: true;
  /** Voice on its staff, from 1, the uppermost first. */
  readonly voice: number;
  /** Staff from the top, for parts on two. */
  readonly staff: Staff;
}

/** The tones that a Written note is heard as: itself, with grace notes before it; or those that its ornament stands for. */
export const tonesOf = (
  note: Pick<WrittenNote, 'id' | 'pitch' | 'velocity' | 'duration' | 'signs'>,
): readonly HeardTone[] => {
  const { id, pitch, velocity, duration, signs } = note;
  const own = signs?.tones ?? [{ id, pitch, velocity, at: 0, duration }];
  return signs?.graces ? [...signs.graces, ...own] : own;
};

/** What one step did to a part, positions in written units. */
export interface StepReport {
  readonly step: StepId;
  /** Its place in the plan's list, from 0: a plan may have a step twice. */
  readonly place: number;
  /** How many notes it touched. */
  readonly touched: number;
  readonly changes: readonly StepChange[];
  /** What it would have done to notes that the person told it to leave alone. */
  readonly vetoed: readonly StepChange[];
  readonly remarks: readonly Remark[];
  /** Set where what it did hangs on where other parts begin. */
  readonly heardOthers?: true;
}

/** From where on pairs swing, and how; or from where on they are even. */
export interface SwingSaid {
  readonly from: number;
  readonly swing: Swing | 'even';
}

/** The Written layer of one part. */
export interface Written {
  readonly partId: PartId;
  /** In order of onset, pitch, id. */
  readonly notes: readonly WrittenNote[];
  /** One for each step that ran, in the plan's order. */
  readonly steps: readonly StepReport[];
  /** Where swung pairs begin that are written straight, and where they are even again: the page says so there. */
  readonly swings: readonly SwingSaid[];
  /** Presses of the sustain pedal that the page shows as lines; none where the plan turns them into lengths alone. */
  readonly pedals: readonly { readonly down: number; readonly up: number }[];
}
