/** De-duplicate: takes out doubles of one pitch, those that start together and those hidden inside a longer note. */

import { isUnpitched } from '../instruments/instruments.js';
import { endOf } from '../model/arrangement.js';
import type { DeDuplicateParameters } from '../model/stepParameters.js';
import type { OtherPart, StepContext } from '../reading/context.js';
import { runsIntoRepeat } from '../reading/doubles.js';
import { byPitch, splitMuted, withChanges } from '../reading/noteGroups.js';
import { inMilliseconds, noteName } from '../reading/noteWords.js';
import { isStruckAgain, playedRoughly } from '../reading/roughHand.js';
import { placed, type StepNote } from '../reading/stepNote.js';
import { lengthInTicks, milliseconds, noteValue, shortestOf } from '../time/noteLengths.js';
import { firstIndexAtOrAfter, lastIndexAtOrBefore } from '../time/search.js';
import { type Step, type StepChange, unchanged } from './step.js';

/** The group's one note: earliest start, longest end, highest velocity, id of the longest. */
const survivorOf = (group: readonly StepNote[]): StepNote => {
  const longest = group.reduce((best, note) => (note.duration > best.duration ? note : best));
  const onset = Math.min(...group.map((note) => note.onset));
  const end = Math.max(...group.map(endOf));
  const velocity = Math.max(...group.map((note) => note.velocity));
  return placed(longest, onset, end - onset, velocity);
};

const reasonFor = (note: StepNote, survivor: StepNote, context: StepContext): string => {
  const apart = note.onset - survivor.onset;
  if (apart === 0) return `starts with another ${noteName(note.pitch, context)}`;
  return `starts ${inMilliseconds(apart, note.onset, context)} after another ${noteName(note.pitch, context)}`;
};

const mergeWithinWindow = (
  notes: readonly StepNote[],
  context: StepContext,
  parameters: DeDuplicateParameters,
  changes: StepChange[],
  rough: () => boolean,
): StepNote[] => {
  const kept: StepNote[] = [];
  const window = shortestOf(parameters.windows, context.ppq);
  let group: StepNote[] = [];
  const close = () => {
    if (group.length === 0) return;
    const only = group[0] as StepNote;
    if (group.length === 1) {
      kept.push(only);
      return;
    }
    const survivor = survivorOf(group);
    kept.push(survivor);
    for (const note of group) {
      if (note.id !== survivor.id) {
        changes.push({
          noteId: note.id,
          from: note,
          to: null,
          into: survivor.id,
          reason: reasonFor(note, survivor, context),
        });
      } else if (
        note.onset !== survivor.onset ||
        note.duration !== survivor.duration ||
        note.velocity !== survivor.velocity
      ) {
        changes.push({
          noteId: note.id,
          from: note,
          to: survivor,
          reason: `takes in ${group.length - 1} double${group.length > 2 ? 's' : ''}`,
        });
      }
    }
  };
  const unpitched = isUnpitched(context.instrument);
  for (const note of notes) {
    const head = group[0];
    if (unpitched && head && group.length === 1 && isFlam(head, note, context)) {
      changes.push({
        noteId: head.id,
        from: head,
        to: null,
        into: note.id,
        reason: `a flam: a soft stroke before the ${noteName(note.pitch, context)} itself`,
      });
      group = [note];
      continue;
    }
    const last = group[group.length - 1];
    const again = last && isStruckAgain(last, note, context) && rough();
    if (head && !again && note.onset - head.onset <= window(context.tempoMap.ticksPerMillisecond(head.onset))) {
      group.push(note);
      continue;
    }
    close();
    group = [note];
  }
  close();
  return kept;
};

/** A flam's first stroke comes no earlier than this before the main one (milliseconds), and is so much softer. */
const FLAM = { within: 55, softer: 0.75 } as const;

/** A soft stroke just before a louder one of the same sound; the page has the main one (common practice: a grace note). */
const isFlam = (first: StepNote, second: StepNote, { tempoMap }: StepContext): boolean =>
  second.onset > first.onset &&
  second.onset - first.onset <= FLAM.within * tempoMap.ticksPerMillisecond(first.onset) &&
  first.velocity <= FLAM.softer * second.velocity;

const dropHidden = (
  notes: readonly StepNote[],
  context: StepContext,
  parameters: DeDuplicateParameters,
  changes: StepChange[],
): StepNote[] => {
  const kept: StepNote[] = [];
  let cover: StepNote | undefined;
  for (const note of notes) {
    if (cover && note.onset >= cover.onset && endOf(note) <= endOf(cover)) {
      const limit = hiddenLimit(cover.duration, note.onset, context, parameters);
      if (note.duration < limit && !runsIntoRepeat(cover, note, context)) {
        changes.push({
          noteId: note.id,
          from: note,
          to: null,
          into: cover.id,
          reason: `hidden inside a longer ${noteName(note.pitch, context)}`,
        });
        continue;
      }
    }
    kept.push(note);
    if (!cover || endOf(note) > endOf(cover)) cover = note;
  }
  return kept;
};

/** A note of a part above, and the one that reaches furthest among those that start no later. */
interface NoteAbove {
  readonly onset: number;
  readonly end: number;
  readonly name: string;
  /** Undefined where it is this one. */
  furthest: NoteAbove | undefined;
}

/** Notes of the parts above by pitch, in order of onset; made once for each list of parts. */
const notesAbove = new WeakMap<object, Map<number, NoteAbove[]>>();

const above = (parts: readonly OtherPart[]): ReadonlyMap<number, readonly NoteAbove[]> => {
  let known = notesAbove.get(parts);
  if (!known) {
    known = new Map();
    for (const { name, notes } of parts) {
      for (const note of notes) {
        const own: NoteAbove = { onset: note.onset, end: endOf(note), name, furthest: undefined };
        const list = known.get(note.pitch);
        if (list) list.push(own);
        else known.set(note.pitch, [own]);
      }
    }
    for (const list of known.values()) {
      list.sort((a, b) => a.onset - b.onset);
      list.forEach((own, index) => {
        const previous = list[index - 1];
        const before = previous?.furthest ?? previous;
        if (before && before.end > own.end) own.furthest = before;
      });
    }
    notesAbove.set(parts, known);
  }
  return known;
};

/** How short a note under a longer one must be to be a double, in ticks. */
const hiddenLimit = (
  coverDuration: number,
  onset: number,
  context: StepContext,
  { hiddenShare, hiddenShorterThan }: DeDuplicateParameters,
): number => {
  const perMs = context.tempoMap.ticksPerMillisecond(onset);
  return Math.min(coverDuration * hiddenShare, lengthInTicks(hiddenShorterThan, context.ppq, perMs));
};

/** Drops notes of one pitch that a part above starts within the window, or that lie hidden under a longer one of it. */
const dropTwins = (
  notes: readonly StepNote[],
  context: StepContext,
  parameters: DeDuplicateParameters,
  changes: StepChange[],
): void => {
  const window = shortestOf(parameters.windows, context.ppq);
  const others = above(context.earlierParts());
  const onsetOf = (other: NoteAbove) => other.onset;
  for (const note of notes) {
    const list = others.get(note.pitch) ?? [];
    const reach = window(context.tempoMap.ticksPerMillisecond(note.onset));
    const twin = list[firstIndexAtOrAfter(list, note.onset - reach, onsetOf)];
    const nearest = list[lastIndexAtOrBefore(list, note.onset, onsetOf)];
    const cover = nearest?.furthest ?? nearest;
    const hidden =
      cover !== undefined &&
      endOf(note) <= cover.end &&
      note.duration < hiddenLimit(cover.end - cover.onset, note.onset, context, parameters);
    const starts = twin !== undefined && twin.onset <= note.onset + reach;
    if (!starts && !hidden) continue;
    const reason = starts
      ? `${twin.name} has the same ${noteName(note.pitch, context)}`
      : `hidden under a longer ${noteName(note.pitch, context)} of ${cover?.name ?? ''}`;
    changes.push({ noteId: note.id, from: note, to: null, reason });
  }
};

/** What De-duplicate would take out, by why: doubles that start together, and notes hidden under longer ones. */
export const doublesIn = (
  sorted: readonly StepNote[],
  context: StepContext,
): { readonly together: readonly StepChange[]; readonly hidden: readonly StepChange[] } => {
  const together: StepChange[] = [];
  const hidden: StepChange[] = [];
  for (const group of byPitch(sorted).values()) {
    const merged = mergeWithinWindow(group, context, deDuplicate.defaults, together, () =>
      playedRoughly(sorted, context),
    );
    dropHidden(merged, context, deDuplicate.defaults, hidden);
  }
  return { together: together.filter((change) => change.to === null), hidden };
};

/** See {@link DeDuplicateParameters}; a real re-strike, long enough, stays. */
export const deDuplicate: Step<'deDuplicate'> = {
  id: 'deDuplicate',
  name: 'De-duplicate',
  explanation:
    'Takes out second notes of the same pitch that start together or hide inside a longer note. Real repeats stay.',
  defaults: {
    windows: [noteValue(1 / 32), milliseconds(30)],
    hiddenShare: 0.25,
    hiddenShorterThan: noteValue(1 / 16),
    acrossParts: false,
  },
  fields: {
    windows: { kind: 'lengths', label: 'Starts within' },
    hiddenShare: { kind: 'number', label: 'Hidden: shorter than, of the covering note', min: 0, max: 1, step: 0.05 },
    hiddenShorterThan: { kind: 'length', label: 'Hidden: and shorter than' },
    acrossParts: { kind: 'switch', label: 'Also doubles of parts above' },
  },
  once: true,
  sees: 'selected',
  looksAt: ({ acrossParts }) => (acrossParts ? { parts: 'above' } : {}),
  run: (notes, context, parameters) => {
    const { active, muted } = splitMuted(notes);
    const changes: StepChange[] = [];
    for (const group of byPitch(active).values()) {
      const merged = mergeWithinWindow(group, context, parameters, changes, () => playedRoughly(active, context));
      const own = dropHidden(merged, context, parameters, changes);
      if (parameters.acrossParts) dropTwins(own, context, parameters, changes);
    }
    return changes.length === 0 ? unchanged(notes) : { notes: withChanges(active, muted, changes), changes };
  },
};
