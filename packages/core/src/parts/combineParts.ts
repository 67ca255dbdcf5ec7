/** Several parts made one, whole or in some bars; and parts that look like those of one player. */
import { instrumentById, mayHaveTwoStaves, PERCUSSION_ID } from '../instruments/instruments.js';
import { type Arrangement, type Note, type Part, type PartEvent, type PartId, partById } from '../model/arrangement.js';
import { applyEdit, type Change, type Edit } from '../model/edit.js';
import type { Selection } from '../model/selection.js';
import { median } from '../model/statistics.js';
import { type AddedNote, type Channels, handOver, handOverChanges } from './handOver.js';
import { changePercussionMap } from './partEdits.js';

/** How parts are made one. */
export interface CombineParts {
  /** The parts, the one that takes all of it among them. */
  readonly partIds: readonly PartId[];
  readonly into: PartId;
  /** Only notes that start here, in ticks; the other parts then stay. Null is all of them, and the others go. */
  readonly range: { readonly start: number; readonly end: number } | null;
  /** True where the notes of a range stay in their parts as well. */
  readonly copy: boolean;
  /** "keep": each note stays on its channel, and so has its sound. "part": all are on that of the part they go to. */
  readonly channels: Channels;
}

/** What comes of it. */
export interface Combined {
  readonly edit: Edit;
  readonly selection: Selection;
}

const destinationsOf = (parts: readonly Part[], into: PartId, takes: (note: Note) => boolean) =>
  new Map(
    parts
      .filter((part) => part.id !== into)
      .map((part) => [part.id, new Map(part.notes.filter(takes).map((note) => [note.id, into]))]),
  );

/** What two messages share where one says nothing that the other does not: all but the id. */
const messageKey = ({ id: _, ...message }: PartEvent): string => JSON.stringify(message);

/** The messages of the other parts, each said once; programs and channels are theirs, or, on one channel, that of the part. */
const eventsFor = (into: Part, others: readonly Part[], channels: Channels): PartEvent[] => {
  const known = new Set(into.events.map(messageKey));
  return others.flatMap((part) =>
    part.events.flatMap((event) => {
      // On one channel a second program would change the sound of the first.
      if (channels === 'part' && event.kind === 'program') return [];
      const own = channels === 'part' && 'channel' in event ? { ...event, channel: into.channel } : event;
      const key = messageKey(own);
      if (known.has(key)) return [];
      known.add(key);
      return [own];
    }),
  );
};

/**
 * Makes one part of several; null where there is nothing to combine. With all of it taken, the messages (pedals, bends,
 * texts) of the other parts come along and the parts go; of a range only its notes do. Notes keep their ids, copies get
 * their own.
 */
export const combineParts = (arrangement: Arrangement, how: CombineParts): Combined | null => {
  const target = partById(arrangement, how.into);
  const others = arrangement.parts.filter((part) => how.partIds.includes(part.id) && part.id !== how.into);
  if (!target || others.length === 0) return null;
  const { range, copy, channels } = how;
  if (range) {
    const takes = (note: Note) => note.onset >= range.start && note.onset < range.end;
    if (!copy) return handOver('Combine', arrangement, destinationsOf(others, target.id, takes), channels);
    let id = arrangement.nextNoteId;
    const copies = others.flatMap((part) =>
      part.notes.filter(takes).map((note): AddedNote => {
        const channel = channels === 'keep' ? note.channel : target.channel;
        return { partId: target.id, note: { ...note, id: id++, channel } };
      }),
    );
    return handOver('Copy', arrangement, new Map(), channels, copies);
  }
  const handed = handOverChanges(
    arrangement,
    destinationsOf(others, target.id, () => true),
    channels,
  );
  const events = eventsFor(target, others, channels);
  const changes: Change[] = [...handed.changes];
  // An event has the id it had: it leaves its part as it comes into the other.
  for (const part of others) {
    if (part.events.length > 0) {
      changes.push({ kind: 'events', partId: part.id, added: [], removed: part.events, changed: [] });
    }
  }
  if (events.length > 0) changes.push({ kind: 'events', partId: target.id, added: events, removed: [], changed: [] });
  // Sounds that the one part says nothing of are written as the others write them.
  const map = [...(target.percussionMap ?? [])];
  for (const row of others.flatMap((part) => part.percussionMap ?? [])) {
    if (!map.some(({ sound }) => sound === row.sound)) map.push(row);
  }
  const mapped = changePercussionMap(target, map);
  if (mapped) changes.push(...mapped.changes);
  const dismissed = others.flatMap((part) => part.dismissed ?? []);
  if (dismissed.length > 0) {
    changes.push({
      kind: 'partFields',
      partId: target.id,
      before: { dismissed: target.dismissed },
      after: { dismissed: [...(target.dismissed ?? []), ...dismissed] },
    });
  }
  const emptied = applyEdit(arrangement, { label: '', changes });
  const gone = others.flatMap((part) => {
    const index = emptied.parts.findIndex((candidate) => candidate.id === part.id);
    return [{ index, part: emptied.parts[index] as Part }];
  });
  changes.push(
    ...gone.sort((a, b) => b.index - a.index).map(({ index, part }): Change => ({ kind: 'partRemoved', index, part })),
  );
  const names = [target, ...others].map((part) => part.name).join(', ');
  return { edit: { label: `Combine ${names}`.slice(0, 200), changes }, selection: handed.selection };
};

/** Parts that look like those of one player, the one first that takes all, and what says so. */
export interface OnePlayer {
  readonly partIds: readonly PartId[];
  readonly what: 'two hands of one player' | 'one drum kit';
  readonly reason: string;
}

const RIGHT = /\b(right|r\.?h\.?|upper|droite|rechts|rechte|destra|derecha)(?![\p{L}])/iu;
const LEFT = /\b(left|l\.?h\.?|lower|gauche|links|linke|sinistra|izquierda)(?![\p{L}])/iu;
/** Hands of one player lie at least so far apart in the middle (semitones); two players of one instrument do not. */
const APART = 9;

/** An edit of one part leaves the others' notes as they are: these need not be looked through again. */
const middles = new WeakMap<readonly Note[], number>();

const middleOf = ({ notes }: Part): number => {
  const known = middles.get(notes);
  if (known !== undefined) return known;
  const middle = median(notes.map((note) => note.pitch)) ?? 60;
  middles.set(notes, middle);
  return middle;
};

/**
 * Neighbouring parts for one keyboard (or harp, or marimba) that look like its two hands: by their names, or because they
 * are alike in instrument and sound and lie apart.
 */
const handPairs = (parts: readonly Part[]): readonly OnePlayer[] => {
  const pairs: OnePlayer[] = [];
  for (let index = 1; index < parts.length; index += 1) {
    const [first, second] = [parts[index - 1] as Part, parts[index] as Part];
    if (pairs.some(({ partIds }) => partIds.includes(first.id))) continue;
    if (first.instrument !== second.instrument || !mayHaveTwoStaves(instrumentById(first.instrument))) continue;
    if (first.notes.length === 0 || second.notes.length === 0) continue;
    const [upper, lower] = middleOf(first) >= middleOf(second) ? [first, second] : [second, first];
    const named = RIGHT.test(upper.name) && LEFT.test(lower.name);
    const alike = first.program === second.program && middleOf(upper) - middleOf(lower) >= APART;
    if (!named && !(alike && first.instrument !== 'other')) continue;
    const reason = named ? 'as their names say' : 'one instrument and sound, one high and one low';
    pairs.push({ partIds: [upper.id, lower.id], what: 'two hands of one player', reason });
  }
  return pairs;
};

/** The sounds of a percussion part, looked through once for the same notes. */
const knownSounds = new WeakMap<readonly Note[], ReadonlySet<number>>();

const soundsOf = ({ notes }: Part): ReadonlySet<number> => {
  const known = knownSounds.get(notes) ?? new Set(notes.map((note) => note.pitch));
  knownSounds.set(notes, known);
  return known;
};

/**
 * Parts for a drum kit of which each has sounds of its own: one kit that came as several tracks. Two kits that play the
 * same sounds are two players.
 */
const kitInParts = (parts: readonly Part[]): readonly OnePlayer[] => {
  const kits = parts.filter((part) => part.instrument === PERCUSSION_ID && part.notes.length > 0);
  const sounds = kits.flatMap((part) => [...soundsOf(part)]);
  if (kits.length < 2 || new Set(sounds).size < sounds.length) return [];
  return [{ partIds: kits.map(({ id }) => id), what: 'one drum kit', reason: 'each part has sounds of its own' }];
};

/** Parts that a person may want as one, with the reason: two hands of one player, one kit that came as several tracks. */
export const partsOfOnePlayer = ({ parts }: Pick<Arrangement, 'parts'>): readonly OnePlayer[] => [
  ...handPairs(parts),
  ...kitInParts(parts),
];
