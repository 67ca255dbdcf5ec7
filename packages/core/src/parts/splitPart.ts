/** One part made several: by pitch, by percussion sound, by channel, by voice. */

import { instrumentForProgram } from '../instruments/instruments.js';
import type { Arrangement, Note, NoteId, Part, PartEvent, PartId } from '../model/arrangement.js';
import { applyEdit, type Change, type Edit } from '../model/edit.js';
import { LONGEST_PART_NAME, MOST_PARTS } from '../model/limits.js';
import { failure, type Result, success } from '../model/result.js';
import { keptText } from '../model/texts.js';
import { playedContext } from '../plan/context.js';
import { noteNameOf, pitchName } from '../reading/noteWords.js';
import { separateVoices } from '../steps/separateVoices.js';
import { handOverChanges } from './handOver.js';

/** What tells the new parts apart. */
export type SplitBy =
  /** Notes below this pitch go to a part of their own. */
  | { readonly by: 'pitch'; readonly pitch: number }
  /** Each pitch is a part: the sounds of a kit. */
  | { readonly by: 'sound' }
  /** Each MIDI channel is a part. */
  | { readonly by: 'channel' }
  /** Each voice, as the notes are read: the upper before the lower, the right hand's before the left's. */
  | { readonly by: 'voice' };

/** One of the parts to be, with its notes in order. */
export interface Share {
  readonly name: string;
  readonly notes: readonly Note[];
}

interface KeyedShare extends Share {
  readonly channel?: number;
}

const grouped = <Key>(notes: readonly Note[], keyOf: (note: Note) => Key): Map<Key, Note[]> => {
  const groups = new Map<Key, Note[]>();
  for (const note of notes) {
    const key = keyOf(note);
    const list = groups.get(key);
    if (list) list.push(note);
    else groups.set(key, [note]);
  }
  return groups;
};

const voicesOf = (arrangement: Arrangement, part: Part): ReadonlyMap<NoteId, string> => {
  const read = separateVoices.run(part.notes, playedContext(arrangement, part), separateVoices.defaults);
  return new Map(read.notes.map(({ id, staff = 1, voice = 1 }) => [id, `${staff} ${voice}`]));
};

const keyedShares = (arrangement: Arrangement, part: Part, how: SplitBy): KeyedShare[] => {
  const { notes, name } = part;
  switch (how.by) {
    case 'pitch': {
      const at = pitchName(how.pitch);
      return [
        { name: `${name}: from ${at}`, notes: notes.filter((note) => note.pitch >= how.pitch) },
        { name: `${name}: below ${at}`, notes: notes.filter((note) => note.pitch < how.pitch) },
      ];
    }
    case 'sound':
      return [...grouped(notes, (note) => note.pitch)]
        .sort(([a], [b]) => b - a)
        .map(([pitch, own]) => ({
          name: `${name}: ${noteNameOf(part, pitch)}`,
          notes: own,
        }));
    case 'channel':
      return [...grouped(notes, (note) => note.channel)]
        .sort(([a], [b]) => Number(b === part.channel) - Number(a === part.channel) || a - b)
        .map(([channel, own]) => ({ name: `${name}: channel ${channel + 1}`, notes: own, channel }));
    case 'voice': {
      const voices = voicesOf(arrangement, part);
      return [...grouped(notes, (note) => voices.get(note.id) ?? '1 1')]
        .sort(([a], [b]) => a.localeCompare(b))
        .map(([, own], index) => ({ name: `${name}: voice ${index + 1}`, notes: own }));
    }
    default:
      return how satisfies never;
  }
};

/** The parts that a split would make, those with no note left out. */
export const sharesOf = (arrangement: Arrangement, part: Part, how: SplitBy): readonly Share[] =>
  keyedShares(arrangement, part, how).filter((share) => share.notes.length > 0);

/** Messages that shape the sound of a channel: a part that comes of another needs them as well. */
const shapesSound = (event: PartEvent): boolean => 'channel' in event;

/**
 * Splits a part: the first share stays in it, each other becomes a part below. Notes keep their ids; plan and what was
 * decided about notes goes along. Pedals, bends and other messages of the channel are kept in each part; by channel, each
 * has those of its own. Fails in words where there is one share only, or too many.
 */
export const splitPart = (
  arrangement: Arrangement,
  partId: PartId,
  how: SplitBy,
): Result<{ readonly edit: Edit; readonly partIds: readonly PartId[] }> => {
  const index = arrangement.parts.findIndex((part) => part.id === partId);
  const part = arrangement.parts[index];
  if (!part) return failure('nothing', 'There is no such part.');
  const shares = keyedShares(arrangement, part, how).filter((share) => share.notes.length > 0);
  const [first, ...others] = shares;
  if (!first || others.length === 0)
    return failure('one', `${part.name} is all of one kind: there is nothing to split.`);
  if (arrangement.parts.length + others.length > MOST_PARTS) {
    return failure('many', `That would make ${others.length + 1} parts; an arrangement holds ${MOST_PARTS} at most.`);
  }
  let eventId = arrangement.nextEventId;
  const moved = how.by === 'channel' ? new Set(others.map((share) => share.channel)) : new Set();
  const leaving = part.events.filter((event) => 'channel' in event && moved.has(event.channel));
  const made = others.map((share, place): Part => {
    const channel = share.channel ?? part.channel;
    const events = part.events
      .filter((event) => shapesSound(event) && 'channel' in event && event.channel === channel)
      .map((event) => (moved.has(channel) ? event : { ...event, id: eventId++ }));
    const program = events.find((event) => event.kind === 'program');
    const own = program?.kind === 'program' ? program.program : channel === part.channel ? part.program : null;
    const instrument =
      channel === part.channel || own === null || own === part.program
        ? { instrument: part.instrument, instrumentFrom: part.instrumentFrom }
        : { instrument: instrumentForProgram(own).id, instrumentFrom: 'program' as const };
    return {
      id: arrangement.nextPartId + place,
      name: keptText(share.name, LONGEST_PART_NAME),
      ...instrument,
      channel,
      program: own,
      notes: [],
      events: events.sort((a, b) => a.tick - b.tick || a.id - b.id),
      ...(part.plan ? { plan: part.plan } : {}),
    };
  });
  const changes: Change[] = [];
  if (leaving.length > 0) changes.push({ kind: 'events', partId, added: [], removed: leaving, changed: [] });
  made.forEach((own, place) => {
    changes.push({ kind: 'partAdded', index: index + 1 + place, part: own });
  });
  if (how.by !== 'channel') {
    const before = { name: part.name };
    changes.push({ kind: 'partFields', partId, before, after: { name: keptText(first.name, LONGEST_PART_NAME) } });
  }
  const withParts = applyEdit(arrangement, { label: '', changes });
  const destinations = new Map(
    others.flatMap((share, place) => share.notes.map((note) => [note.id, arrangement.nextPartId + place] as const)),
  );
  changes.push(...handOverChanges(withParts, new Map([[partId, destinations]]), 'keep').changes);
  return success({
    edit: { label: `Split ${part.name} into ${shares.length} parts`.slice(0, 200), changes },
    partIds: [partId, ...made.map((own) => own.id)],
  });
};
