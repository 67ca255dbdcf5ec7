/** What the instrument, the hand or another part says: out of range, wider than a hand, the same note in two parts. */

import { type Instrument, isUnpitched } from '../instruments/instruments.js';
import { hasPlace } from '../instruments/percussionMap.js';
import { endOf, type Note, type NoteId, type Part, type PartId } from '../model/arrangement.js';
import type { StepContext } from '../reading/context.js';
import { playsTwoHanded, splitHands } from '../reading/hands.js';
import { byPitch } from '../reading/noteGroups.js';
import { pitchName } from '../reading/noteWords.js';
import { chordWindow, startGroups } from '../reading/startGroups.js';
import type { StepNote } from '../reading/stepNote.js';
import { barHolding } from '../time/meterMap.js';
import { firstIndexAtOrAfter } from '../time/search.js';
import type { Check, Mend, Noticed, PageMend } from './finding.js';

/** A silence this long ends a phrase (quarters; common practice: a breath). */
const BREATH = 1;

/** Notes between breaths, in order. */
const phrasesOf = (notes: readonly StepNote[], ppq: number): StepNote[][] => {
  const phrases: StepNote[][] = [];
  let end = Number.NEGATIVE_INFINITY;
  for (const note of notes) {
    if (note.onset - end >= BREATH * ppq || phrases.length === 0) phrases.push([]);
    (phrases[phrases.length - 1] as StepNote[]).push(note);
    end = Math.max(end, endOf(note));
  }
  return phrases;
};

const isOut = ({ pitch }: StepNote, { lowest, highest }: Instrument): boolean => pitch < lowest || pitch > highest;

/** The octaves that bring all notes within the instrument's range, the fewest there are; null where none do. */
const octavesWithin = (notes: readonly StepNote[], { lowest, highest }: Instrument): number | null => {
  let low = 127;
  let high = 0;
  for (const { pitch } of notes) {
    low = Math.min(low, pitch);
    high = Math.max(high, pitch);
  }
  const octaves = low < lowest ? Math.ceil((lowest - low) / 12) : -Math.ceil((high - highest) / 12);
  return low + 12 * octaves >= lowest && high + 12 * octaves <= highest ? octaves : null;
};

const moveBy = (octaves: number, what: string, noteIds: readonly NoteId[]): Mend => ({
  where: 'notes',
  step: 'transpose',
  parameters: { semitones: 0, octaves, steps: 0 },
  label: `Move ${what} ${octaves > 0 ? 'up' : 'down'} ${Math.abs(octaves) === 1 ? 'an octave' : `${Math.abs(octaves)} octaves`}`,
  noteIds,
});

/** Hits of sounds that neither the part's map nor General MIDI has a line for: one finding for each sound. */
export const soundWithoutLine: Check = {
  name: 'Sound without a line',
  explanation: 'The percussion map says nothing of this sound, so it is written on the middle line under its number.',
  severity: 'likely',
  run: ({ notes, context }) => {
    if (!isUnpitched(context.instrument)) return [];
    return [...byPitch(notes)]
      .filter(([sound]) => !hasPlace(sound, context.percussion))
      .map(([sound, hits]) => ({
        noteIds: idsOf(hits),
        tick: (hits[0] as StepNote).onset,
        reason: `sound ${sound} has no line of its own (${hits.length === 1 ? 'once' : `${hits.length} times`}): give it one in the part’s percussion map`,
        mend: null,
      }));
  },
};

const idsOf = (notes: readonly StepNote[]): NoteId[] => notes.map((note) => note.id);

/**
 * Notes that the instrument cannot play, phrase by phrase: a line is not broken by moving single notes of it. Where most
 * phrases lie out of range and the whole part fits an octave away, the part is moved; where nothing fits, that is said.
 */
export const outOfRange: Check = {
  name: 'Out of range',
  explanation: 'A note lies above or below what the instrument plays. The phrase it belongs to moves as a whole.',
  severity: 'likely',
  run: ({ part, notes: all, context: { instrument, ppq } }) => {
    const heardOnly = new Set(
      (part.overrides?.list ?? []).flatMap((one) => (one.kind === 'soundOnly' ? [one.noteId] : [])),
    );
    const notes = all.filter(({ id }) => !heardOnly.has(id));
    const phrases = phrasesOf(notes, ppq);
    const affected = phrases.filter((phrase) => phrase.some((note) => isOut(note, instrument)));
    const ofPart = affected.length * 2 > phrases.length ? octavesWithin(notes, instrument) : null;
    return affected.map((phrase) => {
      const out = phrase.filter((note) => isOut(note, instrument));
      const first = out[0] as StepNote;
      const { lowest, highest, name } = instrument;
      const below = first.pitch < lowest;
      const bound = below ? `below ${pitchName(lowest)}, the lowest` : `above ${pitchName(highest)}, the highest`;
      const more =
        out.length > 1
          ? `, and ${out.length - 1} more of the phrase ${out.length === 2 ? 'is' : 'are'} out of range`
          : '';
      const octaves = octavesWithin(phrase, instrument);
      const mend =
        ofPart !== null
          ? moveBy(ofPart, 'the part', idsOf(notes))
          : octaves === null
            ? null
            : moveBy(octaves, 'the phrase', idsOf(phrase));
      const commands = out.every(({ pitch }) => pitch <= lowest - COMMANDS_BELOW);
      const stays = mend
        ? ''
        : commands
          ? '. So far below, it may only command a sampler: then it is heard and not written'
          : '. No octave brings the whole phrase within range: give it to another instrument, or rewrite it';
      return {
        noteIds: idsOf(out),
        tick: first.onset,
        reason: `${pitchName(first.pitch)} is ${bound} note of the ${name.toLowerCase()}${more}${stays}`,
        mend,
        ...(commands ? { otherMend: heardAndNotWritten(out) } : {}),
      };
    });
  },
};

/** Notes so far below an instrument's lowest are no notes of it: they may choose a sampler's way of playing. */
const COMMANDS_BELOW = 12;

const heardAndNotWritten = (notes: readonly StepNote[]): PageMend => ({
  where: 'page',
  label: 'Heard, not written',
  noteIds: idsOf(notes),
  overrides: notes.map(({ id }) => ({ kind: 'soundOnly', noteId: id })),
});

/** A tenth and a half: more than a hand spans (common practice). */
const WIDEST_HAND = 17;

/** Chords of one hand that no hand spans. */
export const widerThanHand: Check = {
  name: 'Wider than a hand',
  explanation: 'The notes that one hand has together are further apart than a hand reaches.',
  severity: 'look',
  run: ({ notes, context }) => {
    if (!playsTwoHanded(notes, context.instrument)) return [];
    const staves = splitHands(notes, context);
    return ([1, 2] as const).flatMap((staff) => {
      const hand = notes.filter((note) => staves.get(note.id) === staff);
      const found: Noticed[] = [];
      for (const chord of startGroups(hand, chordWindow(context))) {
        const head = chord[0] as StepNote;
        const sorted = [...chord].sort((a, b) => a.pitch - b.pitch);
        const [low, high] = [sorted[0] as StepNote, sorted[sorted.length - 1] as StepNote];
        if (high.pitch - low.pitch <= WIDEST_HAND) continue;
        const far = staff === 1 ? low : high;
        found.push({
          noteIds: chord.map((note) => note.id),
          tick: head.onset,
          reason: `${pitchName(low.pitch)} to ${pitchName(high.pitch)} in the ${staff === 1 ? 'right' : 'left'} hand`,
          mend: {
            where: 'notes',
            step: 'transpose',
            parameters: { semitones: 0, octaves: staff === 1 ? 1 : -1, steps: 0 },
            label: `Move ${pitchName(far.pitch)} an octave ${staff === 1 ? 'up' : 'down'}`,
            noteIds: [far.id],
          },
        });
      }
      return found;
    });
  },
};

/** Notes this near in time and length, and of equal loudness, were recorded twice (milliseconds). */
const SAME_TIME = 5;
/** So many in a row, at least, are a passage. */
const SHORTEST_PASSAGE = 8;
/** A part with so many of its notes on a sixteenth or its third was not played by hand: there unisons coincide by nature. */
const ON_GRID = 0.5;
/** Two such parts are copies only where so many of their notes are the same. */
const WHOLE_COPY = 0.9;

/** The note of another part that this one is a copy of. */
const twinOf = (note: StepNote, others: readonly Note[], near: number): number => {
  for (
    let at = firstIndexAtOrAfter(others, note.onset - near, (other) => other.onset);
    at < others.length && (others[at] as Note).onset <= note.onset + near;
    at += 1
  ) {
    const other = others[at] as Note;
    if (
      other.pitch === note.pitch &&
      other.velocity === note.velocity &&
      Math.abs(endOf(other) - endOf(note)) <= near
    ) {
      return at;
    }
  }
  return -1;
};

const shareOnGrid = (notes: readonly StepNote[], ppq: number): number => {
  const on = (onset: number, unit: number) => Math.abs(onset / unit - Math.round(onset / unit)) * unit < 0.5;
  return notes.filter(({ onset }) => on(onset, ppq / 4) || on(onset, ppq / 6)).length / Math.max(1, notes.length);
};

/** A stretch of a part that another has too, note for note. */
interface Copy {
  readonly own: StepNote[];
  readonly theirs: Note[];
}

/** Copies between two lists of notes stay the same while both do: an edit of one part leaves all other pairs as they were. */
const knownCopies = new WeakMap<
  readonly Note[],
  WeakMap<readonly Note[], { tempos: string; copies: readonly Copy[] }>
>();

const copiesBetween = (
  part: Part,
  other: Part,
  notes: readonly StepNote[],
  context: StepContext,
  tempos: string,
): readonly Copy[] => {
  const ofPart = knownCopies.get(part.notes) ?? new WeakMap();
  knownCopies.set(part.notes, ofPart);
  const known = ofPart.get(other.notes);
  if (known?.tempos === tempos) return known.copies;
  const copies = copiesIn(
    notes,
    other.notes.filter((note) => !note.muted),
    context,
  );
  ofPart.set(other.notes, { tempos, copies });
  return copies;
};

/** Runs of notes whose twins in the other part follow each other as well, with nothing in between. */
const copiesIn = (notes: readonly StepNote[], others: readonly Note[], context: StepContext): Copy[] => {
  const copies: Copy[] = [];
  let copy: Copy | undefined;
  let last = Number.NEGATIVE_INFINITY;
  for (const note of notes) {
    const at = twinOf(note, others, SAME_TIME * context.tempoMap.ticksPerMillisecond(note.onset));
    // Tones of a chord may stand in another order there.
    const follows = at >= 0 && Math.abs(at - last) <= 3;
    if (at < 0 || !follows) copy = undefined;
    if (at >= 0) {
      if (!copy) {
        copy = { own: [], theirs: [] };
        copies.push(copy);
      }
      copy.own.push(note);
      copy.theirs.push(others[at] as Note);
      last = at;
    }
  }
  return copies.filter(({ own }) => own.length >= SHORTEST_PASSAGE);
};

const takeOut = (label: string, noteIds: readonly NoteId[], partId?: PartId): Mend => ({
  where: 'notes',
  step: 'everyNth',
  parameters: { n: 1, offset: 1, action: 'drop' },
  label,
  noteIds,
  ...(partId === undefined ? {} : { partId }),
});

/**
 * A passage that another part has too, to within a few milliseconds and of the very same loudness: a take copied or
 * recorded twice. Two players in unison are never so alike, and parts that were drawn on a grid are in unison on purpose.
 */
export const sameInTwoParts: Check = {
  name: 'The same passage in two parts',
  explanation:
    'Another part has these notes too, as long and as loud, to a few milliseconds: one take that came in twice.',
  compares: true,
  severity: 'look',
  run: ({ notes, context, part, arrangement }) => {
    // How near two notes are is counted in milliseconds, which follow the tempo.
    const tempos = JSON.stringify(arrangement.tempos);
    const drawn = shareOnGrid(notes, context.ppq) > ON_GRID;
    const found: Noticed[] = [];
    for (const other of arrangement.parts) {
      if (other.id === part.id) break;
      const copies = copiesBetween(part, other, notes, context, tempos);
      const shared = copies.reduce((sum, copy) => sum + copy.own.length, 0);
      if (drawn && shared < WHOLE_COPY * Math.max(notes.length, other.notes.length)) continue;
      for (const { own, theirs } of copies) {
        const first = own[0] as StepNote;
        const bar = barHolding(context.bars, first.onset)?.number ?? 1;
        const lastBar = barHolding(context.bars, (own[own.length - 1] as StepNote).onset)?.number ?? bar;
        const where = bar === lastBar ? `in bar ${bar}` : `in bars ${bar} to ${lastBar}`;
        found.push({
          noteIds: idsOf(own),
          tick: first.onset,
          reason: `${own.length} notes ${where} are those of ${other.name}, to a few milliseconds`,
          mend: takeOut(`Keep them in ${other.name}`, idsOf(own)),
          otherMend: takeOut(
            `Keep them in ${part.name}`,
            theirs.map((note) => note.id),
            other.id,
          ),
        });
      }
    }
    return found;
  },
};
