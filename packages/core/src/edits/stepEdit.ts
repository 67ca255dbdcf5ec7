/** A clean-up step on a selection: an Edit of Played. */

import {
  type Arrangement,
  compareNotes,
  type Note,
  type NoteId,
  type Part,
  type PartId,
} from '../model/arrangement.js';
import { type Change, type Edit, eventsChange, notesChange } from '../model/edit.js';
import type { StepId, StepParameters } from '../model/stepParameters.js';
import { playedContext } from '../plan/context.js';
import { countOfNotes } from '../reading/noteWords.js';
import type { StepNote } from '../reading/stepNote.js';
import { planStep, runStep, stepById } from '../steps/registry.js';
import type { StepResult } from '../steps/step.js';
import { ticks } from '../time/units.js';

/** What a step would do. */
export interface StepEdit {
  /** How many notes it touches. */
  readonly touched: number;
  /** Null where it would do nothing. */
  readonly edit: Edit | null;
  /** A sentence on the whole of it, where there is more to say than the count. */
  readonly notice?: string | undefined;
  /** Notes to select, where the step was asked to choose and not to change; `touched` counts them. */
  readonly picked?: readonly NoteId[] | undefined;
}

/** A Played note of what a step made: whole ticks, and none of the plan's own marks. */
const asPlayed = (note: StepNote): Note => ({
  id: note.id,
  pitch: note.pitch,
  onset: ticks(Math.round(note.onset)),
  duration: ticks(Math.round(note.duration)),
  velocity: note.velocity,
  channel: note.channel,
  ...(note.releaseVelocity === undefined ? {} : { releaseVelocity: note.releaseVelocity }),
  ...(note.muted ? { muted: true } : {}),
});

/** Which note each added one was made from. */
const originsOf = ({ notes }: StepResult, added: readonly Note[]) => {
  const ids = new Set(added.map((note) => note.id));
  const madeFrom = notes.flatMap(({ id, madeFrom }): [NoteId, NoteId][] =>
    madeFrom !== undefined && ids.has(id) ? [[id, madeFrom]] : [],
  );
  return madeFrom.length > 0 ? { madeFrom } : {};
};

/** The part's notes with what the step made of those selected, and what follows them moved where it says so. */
const notesAfter = (part: Part, selection: ReadonlySet<NoteId>, { notes: made, follows }: StepResult): Note[] => {
  const after = new Map(made.map((note) => [note.id, note]));
  const notes: Note[] = [];
  for (const note of part.notes) {
    if (selection.has(note.id) && !note.muted) {
      const own = after.get(note.id);
      if (own) notes.push(own === note ? note : asPlayed(own));
    } else if (follows && note.onset >= follows.from) {
      notes.push({ ...note, onset: ticks(note.onset + follows.by) });
    } else notes.push(note);
  }
  const known = new Set(part.notes.map((note) => note.id));
  for (const note of made) {
    if (!known.has(note.id) && selection.has(note.madeFrom ?? note.id)) notes.push(asPlayed(note));
  }
  return notes.sort(compareNotes);
};

/**
 * Runs a step on the selected notes of a part. Steps that look at neighbours see the whole part and change the selected
 * notes alone. Sustain to durations also takes out the pedal it used, where the whole part is selected.
 */
export const stepEdit = <Id extends StepId>(
  arrangement: Arrangement,
  partId: PartId,
  selection: ReadonlySet<NoteId>,
  step: Id,
  parameters: Partial<StepParameters[Id]> = {},
): StepEdit => {
  const part = arrangement.parts.find((candidate) => candidate.id === partId);
  const { name, sees } = stepById(step);
  const chosen = part?.notes.filter((note) => selection.has(note.id) && !note.muted) ?? [];
  if (!part || chosen.length === 0) return { touched: 0, edit: null };
  const seen = sees === 'selected' ? chosen : part.notes;
  const result = runStep(planStep(step, parameters), seen, playedContext(arrangement, part));
  const { notice, picked } = result;
  if (picked) return { touched: picked.length, edit: null, notice, picked };
  const changes: Change[] = [];
  const change = notesChange(partId, part.notes, notesAfter(part, selection, result));
  if (change) changes.push({ ...change, ...originsOf(result, change.added) });
  const used = new Set(chosen.length === part.notes.filter((n) => !n.muted).length ? result.eventsUsed : []);
  if (used.size > 0) {
    const kept = part.events.filter((event) => !used.has(event));
    const without = eventsChange(partId, part.events, kept);
    if (without) changes.push(without);
  }
  const touched = change ? change.added.length + change.removed.length + change.changed.length : 0;
  if (changes.length === 0) return { touched: 0, edit: null, notice };
  return {
    touched,
    notice,
    edit: { label: `${name}: ${countOfNotes(touched)} in ${part.name}`, changes },
  };
};
