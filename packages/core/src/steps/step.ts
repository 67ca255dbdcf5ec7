/** What a clean-up step is: a pure function over the notes of one part, with a reason for each change. */
import { compareNotes, type NoteId, type PartEvent, type PartId } from '../model/arrangement.js';
import type { StepId, StepParameters } from '../model/stepParameters.js';
import type { CommonPlaces } from '../reading/commonPlaces.js';
import type { StepContext } from '../reading/context.js';
import type { Remark } from '../reading/remark.js';
import type { StepNote } from '../reading/stepNote.js';

/** One change to one note. `to` is null where the note was taken out; `into` then names the note that took its place, if any. */
export interface StepChange {
  readonly noteId: NoteId;
  readonly from: StepNote;
  readonly to: StepNote | null;
  readonly into?: NoteId;
  /** Why, in words: "starts 11 ms after a longer C4". */
  readonly reason: string;
}

/** Notes after a step, in order, and what it did. A step with nothing to do returns its input and no changes. */
export interface StepResult {
  readonly notes: readonly StepNote[];
  readonly changes: readonly StepChange[];
  /** Controllers whose work is now in the notes, so that Played no longer needs them. */
  readonly eventsUsed?: readonly PartEvent[];
  readonly remarks?: readonly Remark[];
  /** Where other parts begin, where the result hangs on that. */
  readonly heard?: CommonPlaces;
  /** What a person should know of the run as a whole: "2 notes stay: they would leave 0 to 127". */
  readonly notice?: string;
  /** Notes that the step was asked to choose instead of changing them: on a selection they become the selection. */
  readonly picked?: readonly NoteId[];
  /** On a selection: what else of the part starts at or after `from` moves by `by` ticks. */
  readonly follows?: { readonly from: number; readonly by: number };
}

/** A parameter a person can set, in plain words. Screens, plan files and their checks are made of these. */
export type ParameterField =
  | {
      readonly kind: 'choice';
      readonly label: string;
      readonly choices: readonly { readonly value: string | number; readonly label: string }[];
      /** Set where plans were kept before there was this choice: in them it is the default. */
      readonly later?: true;
    }
  /** A {@link Length}; null says the label in `none`, where there is one. */
  | { readonly kind: 'length'; readonly label: string; readonly none?: string }
  /** Several lengths, of which the shortest counts. */
  | { readonly kind: 'lengths'; readonly label: string }
  | {
      readonly kind: 'number';
      readonly label: string;
      readonly min: number;
      readonly max: number;
      readonly unit?: string;
      /** Steps of the control; 1 where left out. */
      readonly step?: number;
      /** Null is allowed, and means this. */
      readonly none?: string;
      /** Set where the selected note's velocity can be taken. */
      readonly of?: 'velocity';
    }
  /** `later` as in a choice. */
  | { readonly kind: 'switch'; readonly label: string; readonly later?: true }
  /** A {@link KeptFeel}; null says the label in `none`. Plans from before there was this field have null. */
  | { readonly kind: 'feel'; readonly label: string; readonly none: string }
  /** Another part of the arrangement, by id; 0 is none. */
  | { readonly kind: 'part'; readonly label: string };

/** What a step looks at besides the notes of its part. */
export interface Looks {
  /** Other parts: all that stand above, or those named. */
  readonly parts?: 'above' | readonly PartId[];
  /** The part's pedals and other controllers. */
  readonly pedal?: true;
}

/** A step with its name, its parameters and their defaults. */
export interface Step<Id extends StepId> {
  readonly id: Id;
  /** A verb, as on the screen. */
  readonly name: string;
  /** What it acts on and what it leaves alone. */
  readonly explanation: string;
  readonly defaults: StepParameters[Id];
  readonly fields: { readonly [Key in keyof StepParameters[Id]]: ParameterField };
  /** True where running it twice with its defaults changes nothing the second time. */
  readonly once: boolean;
  /**
   * On a selection: "selected" runs it on the selected notes alone; "part" lets it see their neighbours too, and changes
   * only those selected.
   */
  readonly sees: 'selected' | 'part';
  /** Set where it changes what the page says of notes and not how they are played: it is for plans alone. */
  readonly pageOnly?: true;
  /** What it looks at besides the part's notes, with these parameters: its results change when that does. */
  readonly looksAt?: (parameters: StepParameters[Id]) => Looks;
  readonly run: (notes: readonly StepNote[], context: StepContext, parameters: StepParameters[Id]) => StepResult;
}

/** Runs a change over each note that is not muted: null leaves it alone; `to: null` takes it out. */
export const eachNote = (
  notes: readonly StepNote[],
  change: (note: StepNote) => { readonly to: StepNote | null; readonly reason: string } | null,
): StepResult => {
  const changes: StepChange[] = [];
  const result: StepNote[] = [];
  for (const note of notes) {
    const made = note.muted ? null : change(note);
    if (!made) {
      result.push(note);
      continue;
    }
    changes.push({ noteId: note.id, from: note, ...made });
    if (made.to) result.push(made.to);
  }
  return changes.length === 0 ? unchanged(notes) : { notes: result.sort(compareNotes), changes };
};

/** A ready-made "nothing to do". */
export const unchanged = (notes: readonly StepNote[]): StepResult => ({ notes, changes: [] });
