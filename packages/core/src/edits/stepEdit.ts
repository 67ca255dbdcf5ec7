/** A clean-up step on a selection: an Edit of Played. */

import {
  type Arrangement,
  compareNotes,
  type Note,
  type NoteId,
  type Part,
  type PartId,
} from '../model/arrangement.js';
import { applyEdit, type Change, type Edit, eventsChange, notesChange } from '../model/edit.js';
import type { PlanStep } from '../model/plan.js';
import { NOTHING, type Selection, withSelectedIn } from '../model/selection.js';
import type { StepId, StepParameters } from '../model/stepParameters.js';
import { playedContext } from '../plan/context.js';
import type { StepNote } from '../reading/stepNote.js';
import { planStep, runStep, stepById } from '../steps/registry.js';
import type { StepResult } from '../steps/step.js';
import { ticks } from '../time/units.js';
import { labelFor } from './labels.js';

/** What a step would do. */
export interface StepEdit {
  /** How many notes it touches. */
  readonly touched: number;
  /** Null where it would do nothing. */
  readonly edit: Edit | null;
  /** A sentence on the whole of it, where there is more to say than the count. */
  readonly notice?: string | undefined;
  /** Notes to select, where the step was asked to choose and not to change; `touched` counts them. */
  readonly picked?: Selection | undefined;
  /** Starts that could have gone either way. */
  readonly doubts: readonly Doubt[];
}

/** A note whose start was moved to one line of the grid and could have gone to another. */
export interface Doubt {
  readonly partId: PartId;
  readonly noteId: NoteId;
  /** Where the step put it, and the other line, in ticks. */
  readonly now: number;
  readonly other: number;
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

/** What a step would do in one part. */
interface PartEdit {
  readonly touched: number;
  readonly changes: readonly Change[];
  readonly notice?: string | undefined;
  readonly picked?: readonly NoteId[] | undefined;
  readonly doubts: readonly Doubt[];
}

/** The selected notes of a run that could have gone either way. */
const doubtsOf = (part: Part, { notes, remarks = [] }: StepResult, selection: ReadonlySet<NoteId>): Doubt[] => {
  const doubtful = remarks.flatMap(({ kind, others = [] }) => (kind === 'eitherWay' ? others : []));
  if (doubtful.length === 0) return [];
  const after = new Map(notes.map((note) => [note.id, note.onset]));
  return doubtful.flatMap(({ noteId, start }): Doubt[] => {
    const now = after.get(noteId);
    if (start === undefined || now === undefined || !selection.has(noteId)) return [];
    return [{ partId: part.id, noteId, now: Math.round(now), other: Math.max(0, Math.round(start)) }];
  });
};

const inPart = <Id extends StepId>(
  arrangement: Arrangement,
  part: Part,
  selection: ReadonlySet<NoteId>,
  item: PlanStep<Id>,
): PartEdit => {
  const chosen = part.notes.filter((note) => selection.has(note.id) && !note.muted);
  if (chosen.length === 0) return { touched: 0, changes: [], doubts: [] };
  const seen = stepById(item.step).sees === 'selected' ? chosen : part.notes;
  const result = runStep(item, seen, playedContext(arrangement, part));
  const { notice, picked } = result;
  if (picked) return { touched: picked.length, changes: [], notice, picked, doubts: [] };
  const changes: Change[] = [];
  const change = notesChange(part.id, part.notes, notesAfter(part, selection, result));
  if (change) changes.push({ ...change, ...originsOf(result, change.added) });
  const used = new Set(chosen.length === part.notes.filter((n) => !n.muted).length ? result.eventsUsed : []);
  if (used.size > 0) {
    const kept = part.events.filter((event) => !used.has(event));
    const without = eventsChange(part.id, part.events, kept);
    if (without) changes.push(without);
  }
  const touched = change ? change.added.length + change.removed.length + change.changed.length : 0;
  return { touched, changes, notice, doubts: doubtsOf(part, result, selection) };
};

/** What is said where a step has nothing to do with how notes are played. */
const PAGE_ALONE = 'This step is for plans: it changes what the page says, and not the notes.';

/**
 * Runs a step on the selected notes, part by part, as one Edit. Steps that look at neighbours see the whole part and
 * change the selected notes alone. Sustain to durations also takes out the pedal it used, where the whole part is selected.
 */
export const stepEdit = <Id extends StepId>(
  arrangement: Arrangement,
  selection: Selection,
  step: Id,
  parameters: Partial<StepParameters[Id]> = {},
): StepEdit => {
  const item = planStep(step, parameters);
  if (stepById(step).pageOnly) return { touched: 0, edit: null, notice: PAGE_ALONE, doubts: [] };
  const changes: Change[] = [];
  const counts: { part: Part; count: number }[] = [];
  const notices: string[] = [];
  const doubts: Doubt[] = [];
  let picked: Selection | undefined;
  let touched = 0;
  // Each part sees what was done in those above it, so that no two of them make notes of the same ids.
  let now = arrangement;
  for (const { id } of arrangement.parts) {
    const ids = selection.get(id);
    const part = ids && now.parts.find((candidate) => candidate.id === id);
    if (!ids || !part) continue;
    const own = inPart(now, part, ids, item);
    touched += own.touched;
    if (own.notice) notices.push(own.notice);
    doubts.push(...own.doubts);
    if (own.picked) picked = withSelectedIn(picked ?? NOTHING, id, new Set(own.picked));
    if (own.changes.length === 0) continue;
    now = applyEdit(now, { label: '', changes: own.changes });
    changes.push(...own.changes);
    counts.push({ part, count: own.touched });
  }
  const notice = notices.length > 0 ? [...new Set(notices)].join(' ') : undefined;
  if (picked) return { touched, edit: null, notice, picked, doubts };
  if (changes.length === 0) return { touched: 0, edit: null, notice, doubts };
  return { touched, notice, doubts, edit: { label: labelFor(stepById(step).name, counts), changes } };
};
