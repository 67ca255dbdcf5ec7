/**
 * Which hand plays each note of a keyboard part: dynamic programming over chords, where a hand's span, its motion and its
 * register have costs (after the fingering and staff-separation models of Kilian and Hoos, "Voice separation: a local
 * optimisation approach", ISMIR 2002).
 */

import { type Instrument, mayHaveTwoStaves } from '../instruments/instruments.js';
import { endOf, type Note } from '../model/arrangement.js';
import type { StepContext } from './context.js';
import { startGroups } from './startGroups.js';
import type { Staff, StepNote } from './stepNote.js';

/** Starts within this are one chord for the hands (milliseconds). */
const TOGETHER = 45;
/** Semitones a hand spans without effort, and what each one more costs. */
const EASY_SPAN = 12;
/** Each semitone past it; judged by the keyboard rows, as are the prices that follow. */
const SPAN_PRICE = 0.8;
/** No hand plays more keys at once. */
const FINGERS = 5;
/** Each key more than a hand has fingers. */
const FINGER_PRICE = 20;
/** Each semitone past a fifth is a little dearer: tones are nearer to those of their own hand. */
const CLOSE_SPAN = 7;
const CLOSE_PRICE = 0.05;
/** Each key past three that a hand strikes at once, where the other could: full chords are shared out. */
const HANDFUL = 3;
const HANDFUL_PRICE = 0.5;
/** Price of each semitone a hand moves, and of each it strays over middle C. */
const MOTION_PRICE = 0.11;
/** Each semitone that a hand strays over middle C. */
const REGISTER_PRICE = 0.06;
/** The line that hands keep to by nature (common practice). */
const MIDDLE_C = 60;
/** Where the hands lie before the first chord: about an octave and a half to either side. */
const REST_POSITION = { left: 46, right: 72 } as const;

/** A key that stays down for no more than this share of its note is as good as up. */
const STILL_DOWN = 0.2;

/** A part needs two staves where it is wide and often sounds more than one note: a line stays on one. */
const WIDE = 24;
/** Share of notes that sound with others, from which a wide part is two hands. */
const OFTEN = 0.15;

/** One hand seldom has keys down that lie further apart than an octave: from this share of its notes on it takes two. */
const OFTEN_APART = 0.08;

/** Whether a part is to be read as two hands. `notes` are in order of onset. */
export const playsTwoHanded = (notes: readonly Note[], instrument: Instrument): boolean => {
  if (!mayHaveTwoStaves(instrument) || notes.length < 2) return false;
  let low = 127;
  let high = 0;
  let together = 0;
  let apart = 0;
  let soundsUntil = 0;
  let down: Note[] = [];
  for (const note of notes) {
    down = down.filter((other) => endOf(other) - note.onset > other.duration * STILL_DOWN);
    down.push(note);
    if (spanOf(down) > EASY_SPAN) apart += 1;
    low = Math.min(low, note.pitch);
    high = Math.max(high, note.pitch);
    if (note.onset + note.duration * 0.5 < soundsUntil) together += 1;
    soundsUntil = Math.max(soundsUntil, endOf(note));
  }
  return (high - low >= WIDE && together >= notes.length * OFTEN) || apart >= notes.length * OFTEN_APART;
};

const spanOf = (keys: readonly Note[]): number => {
  let [low, high] = [127, 0];
  for (const { pitch } of keys) {
    low = Math.min(low, pitch);
    high = Math.max(high, pitch);
  }
  return high - low;
};

interface HandState {
  readonly center: number;
  readonly held: readonly StepNote[];
  /** What it struck last, and the keys before that which no other has followed yet: where its lines stand. */
  readonly lines: readonly StepNote[];
  /** What it struck lately, the newest first. */
  readonly struck: readonly StepNote[];
}

interface Path {
  readonly cost: number;
  readonly left: HandState;
  readonly right: HandState;
  readonly before: Path | null;
  /** How many of its chord's lowest notes the left hand plays. */
  readonly split: number;
}

/** Paths kept at each chord; judged by the keyboard rows. */
const WIDTH = 8;

/** The staff of each note, by id. `notes` are in order of onset. */
export const splitHands = (notes: readonly StepNote[], context: StepContext): Map<number, Staff> => {
  const chords = struckTogether(notes, context);
  const texture = {
    fourVoices: movesInFour(chords),
    memory: LINE_MEMORY * context.ppq,
    keyMemory: KEY_MEMORY * context.ppq,
  };
  let beam: Path[] = [
    {
      cost: 0,
      left: { center: REST_POSITION.left, held: [], lines: [], struck: [] },
      right: { center: REST_POSITION.right, held: [], lines: [], struck: [] },
      before: null,
      split: 0,
    },
  ];
  for (const chord of chords) {
    const next: Path[] = [];
    const { onset } = chord[0] as StepNote;
    const since = onset - ROLL_STEP * context.tempoMap.ticksPerMillisecond(onset);
    for (const path of beam) {
      for (let split = 0; split <= chord.length; split += 1) next.push(afterChord(path, chord, split, since, texture));
    }
    beam = next.sort((a, b) => a.cost - b.cost).slice(0, WIDTH);
  }
  const staves = new Map<number, Staff>();
  let path: Path | null = beam[0] ?? null;
  for (let index = chords.length - 1; index >= 0 && path; index -= 1) {
    const { split } = path;
    (chords[index] as StepNote[]).forEach((note, rank) => {
      staves.set(note.id, rank < split ? 2 : 1);
    });
    path = path.before;
  }
  return staves;
};

/** Chords as the hands strike them, each from its lowest note up. */
const struckTogether = (notes: readonly StepNote[], context: StepContext): StepNote[][] => {
  const chords = startGroups(notes, (head) => TOGETHER * context.tempoMap.ticksPerMillisecond(head.onset));
  for (const list of chords) list.sort((a, b) => a.pitch - b.pitch);
  return chords;
};

/** What of the whole part bears on each chord. */
interface Texture {
  readonly fourVoices: boolean;
  /** For so many ticks a line is remembered. */
  readonly memory: number;
  /** …and which hand struck a key. */
  readonly keyMemory: number;
}

/** Four voices that move together at more than this share of the starts are a chorale. */
const MOSTLY_FOUR = 0.45;

/** Whether four voices move together, note against note: two of them are written on each staff (common practice). */
const movesInFour = (chords: readonly StepNote[][]): boolean => {
  const full = chords.filter((chord) => chord.length >= 4);
  return (
    full.length >= chords.length * MOSTLY_FOUR && full.filter((chord) => chord.length > 4).length * 8 <= full.length
  );
};

/** The path with a chord more; what was struck from `since` on belongs to one roll with it. */
const afterChord = (
  path: Path,
  chord: readonly StepNote[],
  split: number,
  since: number,
  { fourVoices, memory, keyMemory }: Texture,
): Path => {
  const onset = (chord[0] as StepNote).onset;
  const [low, high] = [chord.slice(0, split), chord.slice(split)];
  const left = handAfter(path.left, low, onset, 'left');
  const right = handAfter(path.right, high, onset, 'right');
  const lines =
    leavingLines(low, path.left, path.right, onset, memory) + leavingLines(high, path.right, path.left, onset, memory);
  const keys =
    keysTaken(low, path.left, path.right, onset - keyMemory) +
    keysTaken(high, path.right, path.left, onset - keyMemory);
  const [inLeft, inRight] = [left.state.held.length, right.state.held.length];
  const busy = busyHand(path.left, path.right, low, onset, since) + busyHand(path.right, path.left, high, onset, since);
  const uneven = fourVoices && inLeft + inRight === 4 ? Math.abs(inLeft - 2) * UNEVEN_PRICE : 0;
  const cost = path.cost + left.cost + right.cost + lines + keys + busy + uneven;
  return { cost, left: left.state, right: right.state, before: path, split };
};

/** A hand follows no more lines than it has fingers. */
const MOST_LINES = 5;
/** Two voices a staff in a chorale: the price of each that is on the other's. */
const UNEVEN_PRICE = 3.5;
/** A note that goes on a line of the other hand, by each semitone that it lies nearer to that one… */
const LINE_PRICE = 0.22;
/** …up to so many: a leap is no line. */
const LINE_REACH = 7;
/** A line that paused for so many quarters is forgotten. */
const LINE_MEMORY = 2;

/** A note that a hand strikes under its own held ones while the other hand is free. */
const BUSY_PRICE = 1.1;

/** Tones nearer than this are struck one after the other in a roll: none is held under the next (milliseconds). */
const ROLL_STEP = 90;

/** True where a hand holds, at `onset`, what it struck before `since`. */
const holds = ({ held }: HandState, onset: number, since: number): boolean =>
  held.some((note) => endOf(note) - onset > note.duration * STILL_DOWN && note.onset < since);

const busyHand = (
  own: HandState,
  other: HandState,
  played: readonly StepNote[],
  onset: number,
  since: number,
): number =>
  played.length > 0 && holds(own, onset, since) && !holds(other, onset, since) ? BUSY_PRICE * played.length : 0;

/** A key that the other hand was the last to strike: figures that rock to and fro stay in their hand. */
const KEY_PRICE = 1;
/** Which hand struck a key is forgotten after so many quarters, and after so many more keys of that hand. */
const [KEY_MEMORY, MOST_STRUCK] = [4, 8];

/** What it costs that a hand takes keys which the other struck since. */
const keysTaken = (played: readonly StepNote[], own: HandState, other: HandState, since: number): number => {
  let cost = 0;
  for (const { pitch } of played) {
    const there = other.struck.find((note) => note.pitch === pitch);
    if (!there || there.onset < since) continue;
    const here = own.struck.find((note) => note.pitch === pitch);
    if (!here || here.onset < there.onset) cost += KEY_PRICE;
  }
  return cost;
};

const nearestOf = (lines: readonly StepNote[], pitch: number, since: number): number =>
  lines.reduce(
    (nearest, note) => (note.onset >= since ? Math.min(nearest, Math.abs(note.pitch - pitch)) : nearest),
    LINE_REACH,
  );

/** What it costs that notes leave the other hand's lines for this hand. */
const leavingLines = (
  played: readonly StepNote[],
  own: HandState,
  other: HandState,
  onset: number,
  memory: number,
): number => {
  const since = onset - memory;
  let cost = 0;
  for (const { pitch } of played) {
    const leaves = nearestOf(own.lines, pitch, since) - nearestOf(other.lines, pitch, since);
    if (leaves > 0) cost += leaves * LINE_PRICE;
  }
  return cost;
};

const handAfter = (
  hand: HandState,
  played: readonly StepNote[],
  onset: number,
  side: 'left' | 'right',
): { cost: number; state: HandState } => {
  const stillHeld = hand.held.filter((note) => endOf(note) - onset > note.duration * STILL_DOWN);
  if (played.length === 0) return { cost: 0, state: { ...hand, held: stillHeld } };
  const lines = [
    ...played,
    ...hand.lines.filter((line) => !played.some(({ pitch }) => Math.abs(pitch - line.pitch) <= LINE_REACH)),
  ].slice(0, MOST_LINES);
  const struck = [...played, ...hand.struck].slice(0, MOST_STRUCK);
  const low = (played[0] as StepNote).pitch;
  const high = (played[played.length - 1] as StepNote).pitch;
  const heldLow = Math.min(low, ...stillHeld.map((note) => note.pitch));
  const heldHigh = Math.max(high, ...stillHeld.map((note) => note.pitch));
  const center = (low + high) / 2;
  const stray = side === 'left' ? Math.max(0, center - MIDDLE_C) : Math.max(0, MIDDLE_C - center);
  const cost =
    Math.max(0, heldHigh - heldLow - EASY_SPAN) * SPAN_PRICE +
    Math.max(0, played.length + stillHeld.length - FINGERS) * FINGER_PRICE +
    Math.max(0, heldHigh - heldLow - CLOSE_SPAN) * CLOSE_PRICE +
    Math.max(0, played.length - HANDFUL) * HANDFUL_PRICE +
    Math.abs(center - hand.center) * MOTION_PRICE +
    stray * REGISTER_PRICE;
  return { cost, state: { center: 0.6 * center + 0.4 * hand.center, held: [...stillHeld, ...played], lines, struck } };
};
