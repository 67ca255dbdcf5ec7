/** A clean-up step on a selection: an Edit of Played. */
import { type Arrangement, compareNotes, type Note, type NoteId, type PartId } from '../model/arrangement.js';
import { type Change, type Edit, notesChange } from '../model/edit.js';
import { playedContext } from '../plan/context.js';
import { type StepId, stepById } from '../steps/registry.js';
import type { StepNote } from '../steps/step.js';
import { ticks } from '../time/units.js';

/** What a step would do. */
export interface StepEdit {
  /** How many notes it touches. */
  readonly touched: number;
  /** Null where it would do nothing. */
  readonly edit: Edit | null;
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

/**
 * Runs a step on the selected notes of a part. Steps that look at neighbours see the whole part and change the selected
 * notes alone. Sustain to durations also takes out the pedal it used, where the whole part is selected.
 */
export const stepEdit = (
  arrangement: Arrangement,
  partId: PartId,
  selection: ReadonlySet<NoteId>,
  step: StepId,
  parameters: object = {},
): StepEdit => {
  const part = arrangement.parts.find((candidate) => candidate.id === partId);
  const { name, defaults, sees, run } = stepById(step);
  const chosen = part?.notes.filter((note) => selection.has(note.id) && !note.muted) ?? [];
  if (!part || chosen.length === 0) return { touched: 0, edit: null };
  const result = run(sees === 'selected' ? chosen : part.notes, playedContext(arrangement, part), {
    ...defaults,
    ...parameters,
  });
  const known = new Set(part.notes.map((note) => note.id));
  const after = new Map(result.notes.map((note) => [note.id, note]));
  const notes: Note[] = [];
  for (const note of part.notes) {
    const made = selection.has(note.id) && !note.muted ? after.get(note.id) : note;
    if (made) notes.push(made === note ? note : asPlayed(made));
  }
  for (const note of result.notes) {
    if (!known.has(note.id) && selection.has(note.madeFrom ?? note.id)) notes.push(asPlayed(note));
  }
  const changes: Change[] = [];
  const change = notesChange(partId, part.notes, notes.sort(compareNotes));
  if (change) changes.push(change);
  const used = new Set(chosen.length === part.notes.filter((n) => !n.muted).length ? result.eventsUsed : []);
  if (used.size > 0) {
    const events = part.events.filter((event) => !used.has(event));
    changes.push({ kind: 'partFields', partId, before: { events: part.events }, after: { events } });
  }
  const touched = change ? change.added.length + change.removed.length + change.changed.length : 0;
  if (changes.length === 0) return { touched: 0, edit: null };
  return {
    touched,
    edit: { label: `${name}: ${touched} ${touched === 1 ? 'note' : 'notes'} in ${part.name}`, changes },
  };
};
