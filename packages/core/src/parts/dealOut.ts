/**
 * Deal out: the voices of chords go to parts, top to bottom. By itself it looks for the way in which the parts move least
 * and stay in their ranges (common practice of voice leading); or each voice goes where a person says.
 */
import { type Instrument, instrumentById } from '../instruments/instruments.js';
import { type Arrangement, endOf, type Note, type NoteId, type Part, type PartId } from '../model/arrangement.js';
import type { Edit } from '../model/edit.js';
import { type Selection, selectedNotes } from '../model/selection.js';
import { chordWindow, startGroups } from '../reading/startGroups.js';
import { createTempoMap } from '../time/tempoMap.js';
import { type AddedNote, handOver } from './handOver.js';

/** How chords are dealt out by themselves. */
export interface DealOut {
  /** The parts, top to bottom. */
  readonly targets: readonly PartId[];
  /** Where a chord has fewer tones than there are parts: some rest, or some double. */
  readonly fewer: 'rest' | 'double';
  /** Where it has more: some tones stay where they are, or some parts get two and more. */
  readonly more: 'stay' | 'together';
  /** True where what is dealt out also stays where it was. */
  readonly keep: boolean;
}

/** Notes that a part got and cannot play. */
export interface Unfit {
  readonly partId: PartId;
  readonly low: number;
  readonly high: number;
  /** Notes of a one-note instrument that sound together with another. */
  readonly together: number;
}

/** What dealing out would do. */
export interface DealtOut {
  /** Null where nothing would move. */
  readonly edit: Edit | null;
  readonly selection: Selection;
  /** Tones dealt to each part. */
  readonly dealt: ReadonlyMap<PartId, number>;
  /** Selected notes that stay where they are because no part took them. */
  readonly stayed: number;
  readonly unfit: readonly Unfit[];
}

interface Tone {
  readonly note: Note;
  readonly from: PartId;
}

/** The chords of what is selected, whatever parts it is in; each from its highest tone down. */
const chordsOfSelection = (arrangement: Arrangement, selection: Selection): Tone[][] => {
  const { ppq, tempos, parts } = arrangement;
  const tones = parts
    .flatMap((part) => selectedNotes(selection, part).map((note) => ({ note, from: part.id, onset: note.onset })))
    .sort((a, b) => a.onset - b.onset);
  const groups = startGroups(tones, chordWindow({ ppq, tempoMap: createTempoMap(tempos, ppq) }));
  for (const group of groups) group.sort((a, b) => b.note.pitch - a.note.pitch || a.note.id - b.note.id);
  return groups;
};

/** For each part in turn, the tones it gets, by their places in the chord from the top. */
type Dealing = readonly (readonly number[])[];

const NO_TONE: readonly number[] = [];

/** All ways of choosing `count` of `from` things in order. */
const choices = (from: number, count: number): number[][] => {
  const found: number[][] = [];
  const choose = (chosen: number[], next: number) => {
    if (chosen.length === count) {
      found.push(chosen);
      return;
    }
    for (let item = next; item <= from - (count - chosen.length); item += 1) choose([...chosen, item], item + 1);
  };
  choose([], 0);
  return found;
};

/** All ways of cutting `items` in a row into `pieces` that are not empty: the starts of the pieces. */
const cuts = (items: number, pieces: number): number[][] =>
  choices(items - 1, pieces - 1).map((places) => [0, ...places.map((place) => place + 1)]);

const span = (from: number, to: number): number[] => Array.from({ length: to - from }, (_, place) => from + place);

/** All ways in which a chord of so many tones can go to so many parts, the order of the voices kept. */
const dealings = (tones: number, parts: number, { fewer, more }: Pick<DealOut, 'fewer' | 'more'>): Dealing[] => {
  if (tones <= parts) {
    if (tones < parts && fewer === 'double') {
      return cuts(parts, tones).map((starts) =>
        span(0, parts).map((part) => [starts.filter((start) => start <= part).length - 1]),
      );
    }
    return choices(parts, tones).map((chosen) =>
      span(0, parts).map((part) => (chosen.includes(part) ? [chosen.indexOf(part)] : NO_TONE)),
    );
  }
  if (more === 'stay') return choices(tones, parts).map((chosen) => chosen.map((tone) => [tone]));
  return cuts(tones, parts).map((starts) => starts.map((start, part) => span(start, starts[part + 1] ?? tones)));
};

/** Prices, in semitones of motion. A tone out of range costs more than any leap; judged by four-part chords from memory. */
const OUT_OF_RANGE = 60;
/** A part that still holds its last tone when the next comes. */
const BUSY = 24;
/** A tone left where it is: the outer voices carry the chord, inner ones that another tone doubles are missed least. */
const LEFT_OUT = { top: 14, bottom: 10, inner: 4, doubled: 1 } as const;
/** Two tones at once for an instrument that plays one. */
const TWO_AT_ONCE = 40;
/** Each semitone from the middle of an instrument's range: decides where nothing else does. */
const OFF_CENTER = 0.05;
/** Ways kept at each chord; with more, the quartets of the tests come out the same. */
const WIDTH = 8;
/** A chord that can go in more ways than this goes by the order alone: the ways grow without bound. */
const MOST_WAYS = 126;

interface Hand {
  readonly pitch: number | null;
  readonly until: number;
}

/** A way of dealing, and the tones that it leaves out. */
interface Way {
  readonly dealing: Dealing;
  readonly left: readonly number[];
}

interface Path {
  readonly cost: number;
  readonly hands: readonly Hand[];
  readonly before: Path | null;
  readonly dealing: Dealing;
}

/** The price of the tones that a way leaves out. */
const priceOfLeft = (chord: readonly Tone[], left: readonly number[]): number =>
  left.reduce((price, tone) => {
    if (tone === 0) return price + LEFT_OUT.top;
    if (tone === chord.length - 1) return price + LEFT_OUT.bottom;
    const { pitch } = (chord[tone] as Tone).note;
    const doubled = chord.some((other, at) => !left.includes(at) && (other.note.pitch - pitch) % 12 === 0);
    return price + (doubled ? LEFT_OUT.doubled : LEFT_OUT.inner);
  }, 0);

/** The price of giving some tones of a chord to a part. */
const priceOfPart = (chord: readonly Tone[], tones: readonly number[], hand: Hand, instrument: Instrument): number => {
  const { lowest, highest, oneNote } = instrument;
  let price = oneNote && tones.length > 1 ? TWO_AT_ONCE * (tones.length - 1) : 0;
  for (const tone of tones) {
    const { pitch, onset } = (chord[tone] as Tone).note;
    if (pitch < lowest) price += OUT_OF_RANGE + lowest - pitch;
    if (pitch > highest) price += OUT_OF_RANGE + pitch - highest;
    if (hand.pitch !== null) price += Math.abs(pitch - hand.pitch);
    if (oneNote && hand.until > onset) price += BUSY;
    price += OFF_CENTER * Math.abs(pitch - (lowest + highest) / 2);
  }
  return price;
};

/** A held tone keeps a part busy up to here: a finger that lets go late does not. */
const HELD_SHARE = 0.75;

const handsAfter = (chord: readonly Tone[], dealing: Dealing, hands: readonly Hand[]): Hand[] =>
  hands.map((hand, index) => {
    const tones = (dealing[index] ?? NO_TONE).map((tone) => (chord[tone] as Tone).note);
    if (tones.length === 0) return hand;
    const pitch = tones.reduce((sum, note) => sum + note.pitch, 0) / tones.length;
    return { pitch, until: Math.max(...tones.map((note) => note.onset + note.duration * HELD_SHARE)) };
  });

/** Straight down the order, for chords that could go in too many ways: the last part gets the bottom, or all that is left. */
const plainDealing = (tones: number, parts: number, more: DealOut['more']): Dealing =>
  span(0, parts).map((part) => {
    if (part >= tones) return NO_TONE;
    if (part < parts - 1 || tones <= parts) return [part];
    return more === 'together' ? span(part, tones) : [tones - 1];
  });

/** How many of `from` things in order can be chosen in ways, as long as it is few. */
const waysOfChoosing = (from: number, count: number): number => {
  let ways = 1;
  for (let item = 1; item <= count && ways <= MOST_WAYS * 100; item += 1) ways = (ways * (from - count + item)) / item;
  return ways;
};

const waysOf = (tones: number, parts: number, options: Pick<DealOut, 'fewer' | 'more'>): readonly Way[] => {
  const few =
    tones <= parts
      ? options.fewer === 'double' && tones < parts
        ? waysOfChoosing(parts - 1, tones - 1)
        : waysOfChoosing(parts, tones)
      : options.more === 'stay'
        ? waysOfChoosing(tones, parts)
        : waysOfChoosing(tones - 1, parts - 1);
  const possible = few <= MOST_WAYS ? dealings(tones, parts, options) : [plainDealing(tones, parts, options.more)];
  return possible.map((dealing) => {
    const used = new Set(dealing.flat());
    return { dealing, left: span(0, tones).filter((tone) => !used.has(tone)) };
  });
};

const leastMotion = (chords: readonly Tone[][], parts: readonly Part[], options: DealOut): Dealing[] => {
  const instruments = parts.map((part) => instrumentById(part.instrument));
  let paths: Path[] = [{ cost: 0, hands: parts.map(() => ({ pitch: null, until: 0 })), before: null, dealing: [] }];
  const ways = new Map<number, readonly Way[]>();
  for (const chord of chords) {
    const possible = ways.get(chord.length) ?? waysOf(chord.length, parts.length, options);
    ways.set(chord.length, possible);
    const leaving = possible.map(({ left }) => priceOfLeft(chord, left));
    const next: { cost: number; path: Path; dealing: Dealing }[] = [];
    for (const path of paths) {
      possible.forEach(({ dealing }, way) => {
        let cost = path.cost + (leaving[way] as number);
        for (const [index, tones] of dealing.entries()) {
          if (tones.length > 0) {
            cost += priceOfPart(chord, tones, path.hands[index] as Hand, instruments[index] as Instrument);
          }
        }
        next.push({ cost, path, dealing });
      });
    }
    paths = next
      .sort((a, b) => a.cost - b.cost)
      .slice(0, WIDTH)
      .map(({ cost, path, dealing }) => ({
        cost,
        hands: handsAfter(chord, dealing, path.hands),
        before: path,
        dealing,
      }));
  }
  const found: Dealing[] = [];
  for (let path: Path | null = paths[0] ?? null; path?.before; path = path.before) found.push(path.dealing);
  return found.reverse();
};

/** Carries out who gets what: the first part that gets a tone gets the note itself, others a copy. */
const carriedOut = (
  arrangement: Arrangement,
  chords: readonly Tone[][],
  parts: readonly Part[],
  dealt: readonly Dealing[],
  keep: boolean,
): DealtOut => {
  const destinations = new Map<PartId, Map<NoteId, PartId>>();
  const copies: AddedNote[] = [];
  const given = new Map<PartId, Note[]>();
  let id = arrangement.nextNoteId;
  let stayed = 0;
  chords.forEach((chord, at) => {
    const dealing = dealt[at] as Dealing;
    chord.forEach(({ note, from }, tone) => {
      const takers = parts.filter((_, index) => dealing[index]?.includes(tone));
      if (takers.length === 0) stayed += 1;
      let moved = keep;
      for (const part of takers) {
        const own = given.get(part.id);
        if (own) own.push(note);
        else given.set(part.id, [note]);
        if (part.id === from) {
          moved = true;
          continue;
        }
        if (moved || takers.some((other) => other.id === from)) {
          copies.push({ partId: part.id, note: { ...note, id: id++, channel: part.channel } });
        } else {
          const leaving = destinations.get(from) ?? new Map<NoteId, PartId>();
          destinations.set(from, leaving.set(note.id, part.id));
          moved = true;
        }
      }
    });
  });
  const handed = handOver('Deal out', arrangement, destinations, 'part', copies);
  return {
    edit: handed?.edit ?? null,
    selection: handed?.selection ?? new Map(),
    dealt: new Map([...given].map(([partId, notes]) => [partId, notes.length])),
    stayed,
    unfit: parts.flatMap((part) => unfitOf(part, given.get(part.id) ?? [])),
  };
};

const unfitOf = (part: Part, notes: readonly Note[]): Unfit[] => {
  const { lowest, highest, oneNote } = instrumentById(part.instrument);
  const low = notes.filter((note) => note.pitch < lowest).length;
  const high = notes.filter((note) => note.pitch > highest).length;
  let together = 0;
  if (oneNote) {
    let last: Note | undefined;
    for (const note of notes) {
      if (last && endOf(last) - note.onset > last.duration * (1 - HELD_SHARE)) together += 1;
      if (!last || endOf(note) > endOf(last)) last = note;
    }
  }
  return low + high + together === 0 ? [] : [{ partId: part.id, low, high, together }];
};

const partsOf = ({ parts }: Arrangement, ids: readonly PartId[]): Part[] =>
  ids.flatMap((id) => parts.find((part) => part.id === id) ?? []);

/**
 * Deals the chords of what is selected to parts, so that each part moves least. Voices keep their order; no note is lost:
 * what no part takes stays where it is. A beam search over the ways of each chord, O(chords).
 */
export const dealOut = (arrangement: Arrangement, selection: Selection, options: DealOut): DealtOut => {
  const parts = partsOf(arrangement, options.targets);
  const chords = parts.length === 0 ? [] : chordsOfSelection(arrangement, selection);
  return carriedOut(arrangement, chords, parts, leastMotion(chords, parts, options), options.keep);
};

/** How many voices the largest of the selected chords has. */
export const voicesOfChords = (arrangement: Arrangement, selection: Selection): number =>
  chordsOfSelection(arrangement, selection).reduce((most, chord) => Math.max(most, chord.length), 0);

/**
 * Deals chords out voice by voice: the first list names the parts that get the top tone of each chord, the next those that
 * get the second, and so on. A voice with no part stays where it is; several double it.
 */
export const dealOutByVoice = (
  arrangement: Arrangement,
  selection: Selection,
  voices: readonly (readonly PartId[])[],
  keep: boolean,
): DealtOut => {
  const parts = partsOf(arrangement, [...new Set(voices.flat())]);
  const chords = parts.length === 0 ? [] : chordsOfSelection(arrangement, selection);
  const dealt = chords.map(
    (chord): Dealing => parts.map((part) => span(0, chord.length).filter((tone) => voices[tone]?.includes(part.id))),
  );
  return carriedOut(arrangement, chords, parts, dealt, keep);
};
