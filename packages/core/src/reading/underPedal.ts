/**
 * How long fingers stay down under a pedal. The sound says nothing of the value then, the fingers something: each player
 * has a habit, and each hand its rests, which the part itself tells. Notes that are followed at once show the habit; the
 * others are read by it, and tell it in turn (expectation and maximization: Dempster, Laird and Rubin, "Maximum likelihood
 * from incomplete data via the EM algorithm", Journal of the Royal Statistical Society B 39:1, 1977).
 */
import { WRITTEN_PPQ } from '../time/units.js';

/** A note or chord that the pedal may hold; in written units. */
export interface Held {
  readonly onset: number;
  /** How long its keys are down, where that is known. */
  readonly played: number;
  readonly keysKnown: boolean;
  /** How long it sounds. */
  readonly sounding: number;
  readonly next: number | null;
  /** How far within its beat it begins. */
  readonly within: number;
  /** Whose it is: each voice has rests of its own. */
  readonly voice: number;
}

/** An end that a note may have, what it costs by what sounds, and by the signs that it takes to write. */
export interface Reading {
  readonly end: number;
  readonly cost: number;
  readonly signs: number;
}

/** What it costs to read a held note with each of these ends: the less likely the fingers would have come up so, the more. */
export type FingerCost = (held: Held, readings: readonly Reading[]) => readonly number[];

/** Shares of the value are counted in steps of a twentieth, up to one and a half. */
const STEPS_A_WHOLE = 20;
const STEPS = 30;
/** What is believed of any hand before it was heard, as if so many notes had told it. */
const BELIEVED = 10;
/** …fingers come up anywhere from here on, seldom before, and seldom after the value. */
const EARLIEST = 0.4;
const LATEST = 1.05;
const SELDOM = 0.12;
/** …and so many of its notes have a rest after them, as if so many of a voice had told it, so many of one length of way… */
const RESTS = 0.2;
const BELIEVED_VOICE = 10;
const BELIEVED_WAY = 8;
/** …and so many that begin as far within their beats: the offbeat before a rest is not the offbeat that is held over. */
const BELIEVED_PLACE = 12;
/** Where fewer notes are held there is no habit to be told. */
const ENOUGH = 12;
/** Notes no longer than this are quick. */
const QUICK = WRITTEN_PPQ / 4;
/** A pedal that lifts no later than this after an end lifts for it. */
const LIFTS_FOR = WRITTEN_PPQ / 6;
/** So many notes that the pedal holds are listened to at the most, and so many others, spread over the part. */
const LISTENED = 400;
/** So often the reading and the habit are told by each other. */
const ROUNDS = 6;
/** The price of one sign, against the price of an end that was not played. */
export const SIGN = 0.7;
/** How much less likely each further sign makes an end, before its like was heard; judged by the rows of keyboard with pedals. */
const PLAIN = 3.5;

/** True for a note in which nobody rests: how it is played out is the part's habit. */
export const isQuick = ({ onset, next }: Pick<Held, 'onset' | 'next'>): boolean =>
  next !== null && next - onset <= QUICK;

/** True for a note whose key came up, one knows when, while the pedal held it on. */
export const isHeld = ({ played, keysKnown, sounding }: Held): boolean => keysKnown && sounding > played;

/** Two habits: where the pedal lifts at the note's end, and where it holds on beyond it. */
type Kind = 'lifts' | 'holdsOn';
const kindAt = ({ onset, sounding }: Held, end: number): Kind =>
  onset + sounding <= end + LIFTS_FOR ? 'lifts' : 'holdsOn';

const stepOf = (share: number): number => Math.max(0, Math.min(STEPS - 1, Math.floor(share * STEPS_A_WHOLE)));

const believedShares = Array.from({ length: STEPS }, (_, step) => {
  const share = (step + 0.5) / STEPS_A_WHOLE;
  return share >= EARLIEST && share <= LATEST ? 1 : SELDOM;
});
const believedInAll = believedShares.reduce((sum, weight) => sum + weight, 0);

/** How likely each share is, from shares that were heard. */
class Shares {
  private readonly heard = Float64Array.from(believedShares, (weight) => (weight / believedInAll) * BELIEVED);
  private total = BELIEVED;

  /** Hears a share so much, smoothed over its neighbours. */
  hear(share: number, weight: number): void {
    const step = stepOf(share);
    for (const [at, part] of [
      [step, 0.5],
      [Math.max(0, step - 1), 0.25],
      [Math.min(STEPS - 1, step + 1), 0.25],
    ] as const) {
      this.heard[at] = (this.heard[at] as number) + weight * part;
    }
    this.total += weight;
  }

  density(share: number): number {
    return ((this.heard[stepOf(share)] as number) / this.total) * STEPS_A_WHOLE;
  }
}

/** A number for a voice and a way; no part has so many voices. */
const wayOf = ({ voice }: Held, way: number): number => way * 64 + voice;
/** …and for how far within its beat it begins; no beat is so long. */
const placedWayOf = (held: Held, way: number): number => wayOf(held, way) * 65_536 + held.within;

/** How often notes of one kind were heard with each value. */
class Tally {
  private readonly kinds = new Map<number, { total: number; readonly of: Map<number, number> }>();

  hear(kind: number, value: number, weight: number): void {
    const heard = this.kinds.get(kind) ?? { total: 0, of: new Map<number, number>() };
    heard.total += weight;
    heard.of.set(value, (heard.of.get(value) ?? 0) + weight);
    this.kinds.set(kind, heard);
  }

  /** How likely a kind has each of these values, which was `believed` before, as if `asOf` notes had told it. */
  shares(kind: number, values: readonly number[], believed: readonly number[], asOf: number): number[] {
    const heard = this.kinds.get(kind);
    if (!heard) return [...believed];
    return believed.map(
      (own, index) => ((heard.of.get(values[index] as number) ?? 0) + asOf * own) / (heard.total + asOf),
    );
  }
}

/**
 * Which values a voice's notes have on the way to a next start that is so far, from such a place in the beat; told by all
 * its notes where few are of that kind.
 */
class Values {
  private readonly ways = new Tally();
  private readonly placedWays = new Tally();
  private readonly voices = new Map<number, { total: number; rests: number }>();

  hear(held: Held, end: number, weight: number): void {
    const { voice, onset, next } = held;
    if (next === null) return;
    this.ways.hear(wayOf(held, next - onset), end - onset, weight);
    this.placedWays.hear(placedWayOf(held, next - onset), end - onset, weight);
    if (next - onset <= QUICK) return;
    const own = this.voices.get(voice) ?? { total: 0, rests: 0 };
    own.total += weight;
    if (end < next) own.rests += weight;
    this.voices.set(voice, own);
  }

  /** How likely each of these ends is, the fingers not asked: the plainer to write the likelier, and as the voice's other notes end. */
  shares(held: Held, readings: readonly Reading[]): readonly number[] {
    const { voice, onset, next } = held;
    const own = this.voices.get(voice);
    const rests = ((own?.rests ?? 0) + BELIEVED_VOICE * RESTS) / ((own?.total ?? 0) + BELIEVED_VOICE);
    const likely = next !== null && next - onset <= QUICK ? rests * SELDOM : rests;
    const fewest = readings.reduce((least, { signs }) => Math.min(least, signs), Number.POSITIVE_INFINITY);
    const plain = readings.map(({ end, signs }) => {
      // Where nothing follows, the pedal lifts for the end.
      const isRest = next === null ? kindAt(held, end) !== 'lifts' : end < next;
      return (isRest ? likely : 1 - likely) * Math.exp(PLAIN * (fewest - signs));
    });
    const sum = plain.reduce((all, one) => all + one, 0);
    const byVoice = plain.map((one) => one / sum);
    if (next === null) return byVoice;
    const values = readings.map(({ end }) => end - onset);
    const byWay = this.ways.shares(wayOf(held, next - onset), values, byVoice, BELIEVED_WAY);
    return this.placedWays.shares(placedWayOf(held, next - onset), values, byWay, BELIEVED_PLACE);
  }
}

interface Habit {
  readonly fingers: Readonly<Record<Kind, Shares>>;
  readonly values: Values;
}

const costBy =
  ({ fingers, values }: Habit): FingerCost =>
  (held, readings) => {
    if (!isHeld(held)) return FREE(held, readings);
    const shares = values.shares(held, readings);
    return readings.map(({ end, cost }, index) => {
      const value = Math.max(1, end - held.onset);
      const density = fingers[kindAt(held, end)].density(held.played / value);
      return cost + Math.log(value / WRITTEN_PPQ) - Math.log(density * (shares[index] as number));
    });
  };

const FREE: FingerCost = (_held, readings) => readings.map(({ cost, signs }) => cost + SIGN * signs);

/** So many of them as are listened to. */
const spread = <Note>(notes: readonly Note[]): Note[] => {
  const stride = Math.ceil(notes.length / LISTENED);
  return notes.filter((_, index) => index % stride === 0);
};

/**
 * The habit of a part's fingers, as what each end costs; `readingsOf` names the ends that a note may have. Notes that no
 * pedal holds tell which values the voices have. Where hardly a note is held, and for a note that no pedal holds, an end
 * costs what sounds and the signs alone.
 */
export const fingerCosts = <Note extends Held>(
  voices: readonly (readonly Note[])[],
  readingsOf: (note: Note) => readonly Reading[],
): FingerCost => {
  const held = voices.flatMap((notes) => notes.filter(isHeld));
  if (held.length < ENOUGH) return FREE;
  const open = voices.flatMap((notes) => notes.filter((note) => note.keysKnown && !isHeld(note)));
  const heard = [...spread(held), ...spread(open)].map((note) => ({
    note,
    readings: isQuick(note) ? [{ end: note.next as number, cost: 0, signs: 0 }] : readingsOf(note),
  }));
  let cost = FREE;
  for (let round = 0; round <= ROUNDS; round += 1) {
    const habit: Habit = { fingers: { lifts: new Shares(), holdsOn: new Shares() }, values: new Values() };
    for (const { note, readings } of heard) {
      const byFingers = isHeld(note);
      // At first those alone of which nobody doubts where they end.
      if (round === 0 && byFingers && !isQuick(note)) continue;
      const costs = cost(note, readings);
      const lowest = Math.min(...costs);
      const weights = costs.map((own) => Math.exp(lowest - own));
      const sum = weights.reduce((all, weight) => all + weight, 0);
      readings.forEach(({ end }, index) => {
        const weight = (weights[index] as number) / sum;
        if (byFingers) habit.fingers[kindAt(note, end)].hear(note.played / Math.max(1, end - note.onset), weight);
        habit.values.hear(note, end, weight);
      });
    }
    cost = costBy(habit);
  }
  return cost;
};
