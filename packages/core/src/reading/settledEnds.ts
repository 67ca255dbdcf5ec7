import { readingCost } from '../meter/noteValues.js';
import { writablePlaces } from '../meter/writablePlaces.js';
import { divisionFor, onceForMeter, splitBeat, WHOLE, writtenBeatsOf, type Zone, zonesOf } from '../meter/zones.js';
import { quantile } from '../model/statistics.js';
import { type Bar, type Beat, beatsOfBars, originOf } from '../time/meterMap.js';
import { lastIndexAtOrBefore } from '../time/search.js';
import { WRITTEN_PPQ } from '../time/units.js';
import { medianLength } from './attacks.js';
import type { StepContext } from './context.js';
import { byOnset } from './noteGroups.js';
import { LONGEST_SHORT } from './staccato.js';
import type { StepNote } from './stepNote.js';
import { type FingerCost, type Held, isHeld, type Reading, SIGN } from './underPedal.js';

/** A bar in written units with its zones, as the starts in it give them. */
interface LaidBar {
  readonly start: number;
  readonly end: number;
  readonly zones: readonly Zone[];
  /** Where its beats begin and end, from the bar's start. */
  readonly beats: readonly Beat[];
  /** Places where an end may fall, rising, from the bar's start; the bar's end among them. */
  readonly places: readonly number[];
  /** What a note and the pieces of it cost that sound through all bars before this one. */
  readonly heldCost: number;
  readonly heldPieces: number;
  /** Where the piece ends if it does in this bar, so that the bar completes the pickup; null where it begins without one. */
  readonly completes: number | null;
}

/** Share of the price of a rest after which nothing comes. */
const LAST_REST = 0.3;
/** How much likelier a piece with a pickup ends where its last bar completes it (common practice), in signs. */
const COMPLETES = 2;
/** Played lengths lie within this share of the written one without further cost. */
const LOWEST_SHARE = 0.76;
/** Held so much longer than written without further cost: a legato overlap; judged by the lines and the keyboard. */
const HIGHEST_SHARE = 1.08;
/** How fast the cost grows outside those shares (one unit at so much); judged by the lines and the keyboard. */
const SHARE_SPREAD = 0.06;

const layBars = (bars: readonly Bar[], onsets: readonly number[], scale: number, pickup: number): LaidBar[] => {
  let next = 0;
  let heldCost = 0;
  let heldPieces = 0;
  return bars.map((bar) => {
    const start = Math.round(originOf(bar, WRITTEN_PPQ / scale) * scale);
    const end = Math.round(bar.end * scale);
    const inside: number[] = [];
    while (next < onsets.length && (onsets[next] as number) < end) {
      if ((onsets[next] as number) >= start) inside.push((onsets[next] as number) - start);
      next += 1;
    }
    const zones = zonesOf(bar.meter, end - start, inside);
    const beats = writtenBeatsOf(bar.meter);
    const places = endPlaces(bar, end - start, zones, inside);
    const completes = pickup > 0 && pickup < end - start ? end - pickup : null;
    const laid = { start, end, zones, beats, places, heldCost, heldPieces, completes };
    heldCost += costOfWholeBar(zones);
    heldPieces += zones.length;
    return laid;
  });
};

/** Ends fall on sixteenths (thirds and sixths in triplets), finer only where the starts of that beat are. */
const endPlaces = (bar: Bar, length: number, zones: readonly Zone[], onsets: readonly number[]): readonly number[] => {
  if (zones.some((zone) => zone.ratio) || onsets.some((onset) => onset % SIXTEENTH !== 0)) {
    return findEndPlaces(bar, length, zones, onsets);
  }
  if (writtenBeatsOf(bar.meter).some((beat) => beat.compound)) return findEndPlaces(bar, length, zones, onsets);
  // Most bars have nothing finer than sixteenths: those of one meter and length share their places.
  const byLength = plainPlaces(bar.meter);
  let places = byLength.get(length);
  if (!places) {
    places = findEndPlaces(bar, length, zones, onsets);
    byLength.set(length, places);
  }
  return places;
};

/** Ends fall on these where nothing finer starts. */
const SIXTEENTH = WHOLE / 16;
const plainPlaces = onceForMeter(() => new Map<number, readonly number[]>());

const findEndPlaces = (bar: Bar, length: number, zones: readonly Zone[], onsets: readonly number[]): number[] => {
  const places = new Set<number>([length]);
  for (const zone of zones.filter((z) => z.ratio)) {
    const ratio = zone.ratio as NonNullable<Zone['ratio']>;
    const inside = onsets.filter((o) => o >= zone.start && o < zone.end).map((o) => o - zone.start);
    const span = zone.end - zone.start;
    const fine = inside.every((o) => (o * ratio.actual) % span === 0) ? 1 : 2;
    for (let k = 1; k <= ratio.actual * fine; k += 1) places.add(zone.start + (span * k) / (ratio.actual * fine));
  }
  const inTuplet = (beat: Beat) => zones.some((z) => z.ratio && beat.start >= z.start && beat.start < z.end);
  const read = writtenBeatsOf(bar.meter).flatMap((beat): readonly Beat[] => {
    const offsets = onsets.filter((o) => o > beat.start && o < beat.start + beat.length).map((o) => o - beat.start);
    return splitBeat(beat, offsets)?.map((part) => part.beat) ?? [beat];
  });
  for (const beat of read) {
    if (beat.start >= length || inTuplet(beat)) continue;
    const inside = onsets.filter((o) => o > beat.start && o < beat.start + beat.length).map((o) => o - beat.start);
    const plain = beat.compound ? 6 : Math.max(1, (beat.length * 16) / WHOLE);
    const parts = inside.every((o) => (o * plain) % beat.length === 0) ? plain : plain * 2;
    if (!divisionFor(beat, [beat.length / parts])) continue;
    for (let k = 1; k <= parts; k += 1) {
      const place = beat.start + (beat.length * k) / parts;
      // Half a dotted beat would make a duplet of a mere rest, where nothing else stands on its sixths.
      const lonelyHalf = beat.compound && k * 2 === parts && !inside.some((o) => (o * parts) % (2 * beat.length) !== 0);
      if (place <= length && !lonelyHalf) places.add(place);
    }
  }
  return [...places].sort((a, b) => a - b);
};

/** What a note costs that fills a bar with these zones; most bars of a piece share theirs. */
const wholeBarCosts = new WeakMap<readonly Zone[], number>();
const costOfWholeBar = (zones: readonly Zone[]): number => {
  let cost = wholeBarCosts.get(zones);
  if (cost === undefined) {
    cost = 0;
    for (const zone of zones) cost += costInZone(zone, zone.start, zone.end, 'note');
    wholeBarCosts.set(zones, cost);
  }
  return cost;
};

const costInZone = (zone: Zone, from: number, to: number, kind: 'note' | 'rest'): number => {
  const shift = zone.ratio ? zone.start : 0;
  return readingCost(zone.tree, (from - shift) * zone.scale, (to - shift) * zone.scale, WHOLE, kind);
};

/** The bar that holds a place, `near` or a little after it as a rule; the last one for places past the end. */
const barIndexAt = (bars: readonly LaidBar[], at: number, near: number): number =>
  Math.max(0, lastIndexAtOrBefore(bars, at, startOf, near));

const startOf = (bar: LaidBar): number => bar.start;

/** What [from, to) costs in one bar; places from the piece's start. */
const costInBar = (bar: LaidBar, from: number, to: number, kind: 'note' | 'rest'): number => {
  const start = Math.max(from, bar.start) - bar.start;
  const end = Math.min(to, bar.end) - bar.start;
  if (end <= start) return 0;
  if (kind === 'rest' && start === 0 && end === bar.end - bar.start) return 1;
  let cost = 0;
  for (const zone of bar.zones) {
    const a = Math.max(start, zone.start);
    const b = Math.min(end, zone.end);
    if (b > a) cost += costInZone(zone, a, b, kind);
  }
  return cost;
};

/** In how many zones of one bar [from, to) lies: a note has a piece in each. */
const piecesInBar = (bar: LaidBar, from: number, to: number): number => {
  let pieces = 0;
  for (const { start, end } of bar.zones) if (bar.start + start < to && bar.start + end > from) pieces += 1;
  return pieces;
};

/**
 * What [from, to) costs a reader, over bar lines and tuplets; pieces of a note are tied. Whole bars in between are
 * counted together, so that a note held for thousands of bars costs no more to weigh than a short one.
 */
const costOfSpan = (
  bars: readonly LaidBar[],
  firstBar: number,
  from: number,
  to: number,
  kind: 'note' | 'rest',
): number => {
  const first = bars[firstBar];
  if (!first || to <= from) return 0;
  const lastBar = barIndexAt(bars, to - 1, firstBar);
  const last = bars[lastBar] as LaidBar;
  const head = costInBar(first, from, to, kind);
  if (lastBar <= firstBar) return head + (kind === 'note' ? Math.max(0, piecesInBar(first, from, to) - 1) : 0);
  const tail = costInBar(last, from, to, kind);
  if (kind === 'rest') return head + tail + (lastBar - firstBar - 1);
  const after = bars[firstBar + 1] as LaidBar;
  const whole = last.heldPieces - after.heldPieces;
  const pieces = piecesInBar(first, from, to) + whole + piecesInBar(last, from, to);
  return head + tail + last.heldCost - after.heldCost + Math.max(0, pieces - 1);
};

/** Onsets in written units; where the part was not quantized, the places nearest to them that can be written. */
const writableOnsets = (groups: readonly StepNote[][], context: StepContext, scale: number): number[] => {
  const onsets = groups.map((group) => Math.round((group[0] as StepNote).onset * scale));
  const played = beatsOfBars(context.bars, context.ppq);
  const beats =
    scale === 1
      ? played
      : played.map((beat) => ({
          ...beat,
          start: Math.round(beat.start * scale),
          length: Math.round(beat.length * scale),
        }));
  const { nearest } = writablePlaces(beats, onsets);
  return onsets.map(nearest);
};

/** Cost of writing `share` (played length over written length) for an end that leaves a rest after it. */
const shareCost = (share: number): number => {
  if (share < LOWEST_SHARE) return ((LOWEST_SHARE - share) / SHARE_SPREAD) ** 2;
  return share > HIGHEST_SHARE ? ((share - HIGHEST_SHARE) / SHARE_SPREAD) ** 2 : 0;
};

/** How dear it gets by `fills` to last until the next start. */
const FILL_RAMP = 1.6;
/**
 * Before the end of what lasts longer than this a stop is heard for what it is, a rest: it costs so much more to write it
 * over. Judged by two hands in one track.
 */
const LONG = 1.6 * WRITTEN_PPQ;
const LONG_STOP = 4;

/** Cost of lasting until the next start: nothing down to the part's own articulation, then rising; steep below `fills`. */
const fillCost = (share: number, usual: number, fills: number): number => {
  if (share >= usual) return 0;
  const ramp = Math.min(1, (usual - Math.max(share, fills)) / Math.max(0.04, usual - fills)) * FILL_RAMP;
  return share >= fills ? ramp : ramp + ((fills - share) / 0.05) ** 2;
};

/** The share of the way to the next start that this part's joined notes fill at the least: a low quantile, kept within reason. */
export const usualShare = (shares: readonly number[], fills: number): number => {
  const joined: number[] = [];
  for (const share of shares) if (share >= fills) joined.push(share);
  if (joined.length < 8) return Math.max(fills, LOWEST_SHARE);
  const low = quantile(joined, 0.08);
  return Math.max(fills, Math.min(0.8, low - 0.02));
};

/** So many tell it. */
const ENOUGH_QUICK = 16;
/** No habit is looser than this. */
const LOOSEST = 0.42;

/**
 * From which share of the way to the next start a note lasts until it: `fills`, or less where the quick notes of the part,
 * those of its short passages aside, are played out so loosely.
 */
export const fillsAsPlayed = (quick: readonly number[], fills: number): number => {
  if (quick.length < ENOUGH_QUICK) return fills;
  const low = quantile(quick, 0.06);
  return Math.min(fills, Math.max(LOOSEST, low));
};

/** The beat of a bar in which a place lies. */
const beatAt = (bar: LaidBar | undefined, at: number): Beat | undefined =>
  bar?.beats.find(({ start, length }) => at - bar.start < start + length);

/** How far within its beat a place of a bar is. */
const withinBeat = (bar: LaidBar | undefined, at: number): number => {
  const beat = beatAt(bar, at);
  return bar && beat ? at - bar.start - beat.start : 0;
};

/** A note or chord of a voice; it sounds as long as it is played where no pedal holds it. */
export interface Slot extends Held {
  readonly bar: number;
}

const slotsOf = (
  groups: readonly StepNote[][],
  onsets: readonly number[],
  bars: readonly LaidBar[],
  scale: number,
  voice: number,
): Slot[] => {
  let bar = 0;
  return groups.map((group, index) => {
    const onset = onsets[index] as number;
    const played = medianLength(group) * scale;
    let soundsTo = 0;
    let keysKnown = true;
    for (const note of group) {
      soundsTo = Math.max(soundsTo, (note.soundsTo ?? 0) * scale);
      if (note.lengthened) keysKnown = false;
    }
    const next = onsets[index + 1] ?? null;
    bar = barIndexAt(bars, onset, bar);
    const within = withinBeat(bars[bar], onset);
    return { onset, played, keysKnown, sounding: Math.max(played, soundsTo - onset), next, within, voice, bar };
  });
};

/** An end is looked for no further than so many bars from where the note was let go: longer notes end no less exactly. */
const BARS_ABOUT_END = 2;

const endsBetween = (bars: readonly LaidBar[], slot: Slot, limit: number): number[] => {
  const bar = bars[slot.bar];
  const reach = bar ? BARS_ABOUT_END * (bar.end - bar.start) : 0;
  const earliest = slot.onset + Math.max(slot.played * 0.7, slot.played - reach);
  const longest = Math.max(slot.played * 1.7, slot.sounding * 1.2) + WRITTEN_PPQ / 4;
  const latest = Math.min(limit, slot.onset + Math.min(longest, Math.max(slot.played, slot.sounding) + reach));
  const ends: number[] = [];
  for (let index = Math.max(slot.bar, barIndexAt(bars, earliest - 1, slot.bar)); index < bars.length; index += 1) {
    const at = bars[index] as LaidBar;
    if (at.start > latest) break;
    for (const place of at.places) {
      const end = at.start + place;
      if (end > slot.onset && end >= earliest && end <= latest) ends.push(end);
    }
  }
  return ends;
};

/** How much the share that a short note sounds for may be off without further cost. */
const SHORT_GIVE = 0.12;

/** What it costs to read a short note as longer than such values are played: what follows it is a rest. */
const TOO_LONG = 3;

/** …and to read one that begins within a beat as going on into the next. */
const CROSSES = 1;
/** A value this much shorter and longer than the passage's share says is weighed as well. */
const SHORTER = 0.7;
const LONGER = 1.4;

/** Where the beat ends within which a note begins; infinite for one that begins on a beat. */
const endOfBeatWithin = ({ onset, within, bar }: Slot, bars: readonly LaidBar[]): number => {
  const at = bars[bar];
  const beat = beatAt(at, onset);
  return at && beat && within > 0 ? at.start + beat.start + beat.length : Number.POSITIVE_INFINITY;
};

/**
 * Where a note ends that is played short, in a passage where notes sound for `share` of their value: the simplest end for
 * which it sounds for about so much.
 */
export const shortEnd = (slot: Slot, bars: readonly LaidBar[], share: number): ChosenEnd => {
  const value = slot.sounding / share;
  const likely = { ...slot, played: SHORTER * value, sounding: LONGER * value };
  const beatEnd = endOfBeatWithin(slot, bars);
  return cheapestEnd(likely, bars, (end) => {
    const own = slot.sounding / (end - slot.onset);
    const tooLong = (end - slot.onset > LONGEST_SHORT ? TOO_LONG : 0) + (end > beatEnd ? CROSSES : 0);
    // Shorter than the others it may be; longer than them it has another value.
    return tooLong + ((own - share) / SHORT_GIVE) ** 2 / (own < share ? 4 : 2);
  });
};

/** What an end costs by what was played; `usual` is the share of its value that a note of the part sounds for. */
const playedCost = ({ onset, played, sounding, next }: Slot, end: number, usual: number, fills: number): number => {
  // Under a pedal the fingers say the least it may last and the pedal the most.
  const share = Math.min(Math.max(played, end - onset), sounding) / (end - onset);
  if (end === next && end - onset > LONG) return LONG_STOP * fillCost(share, usual, fills);
  return end === next ? Math.min(fillCost(share, usual, fills), shareCost(share)) : shareCost(share);
};

/** The simplest end within what was played; by the part's fingers where a pedal holds it. */
export const settledEnd = (
  slot: Slot,
  bars: readonly LaidBar[],
  usual: number,
  fills: number,
  fingers: FingerCost,
): ChosenEnd => {
  if (!isHeld(slot)) return cheapestEnd(slot, bars, (end) => playedCost(slot, end, usual, fills), fills);
  const readings = readingsOf(slot, bars, usual, fills);
  const costs = fingers(slot, readings);
  const choice = new Choice(slot);
  for (let index = readings.length - 1; index >= 0; index -= 1) {
    choice.weigh((readings[index] as Reading).end, costs[index] as number);
  }
  return choice;
};

/** All ends that a note may have, rising, and what each costs, the fingers under a pedal not asked. */
export const readingsOf = (slot: Slot, bars: readonly LaidBar[], usual: number, fills: number): readonly Reading[] =>
  candidatesFor(slot, bars, fills).map((end) => ({
    end,
    cost: playedCost(slot, end, usual, fills),
    signs: signsOf(slot, bars, end),
  }));

/** An end, and how much dearer the next best is. */
export interface ChosenEnd {
  readonly end: number;
  readonly second: number | null;
  readonly margin: number;
}

const candidatesFor = (slot: Slot, bars: readonly LaidBar[], fills: number): number[] => {
  const { onset, played, sounding, next } = slot;
  const barEnd = bars[bars.length - 1]?.end ?? onset + played;
  const candidates = endsBetween(bars, slot, next ?? barEnd);
  if (next !== null && candidates[candidates.length - 1] !== next) {
    if (candidates.length === 0 || sounding >= (next - onset) * fills * 0.5) candidates.push(next);
  }
  return candidates;
};

/** True where the last note of a voice ends so that its bar completes the pickup: no rest is written after it. */
export const completesPickup = ({ next, bar }: Slot, bars: readonly LaidBar[], end: number): boolean =>
  next === null && bars[barIndexAt(bars, end - 1, bar)]?.completes === end;

/** The signs that a note takes which ends there, with the rest after it. */
const signsOf = (slot: Slot, bars: readonly LaidBar[], end: number): number => {
  const { onset, next, bar } = slot;
  const restUntil = next ?? bars[barIndexAt(bars, end - 1, bar)]?.end ?? end;
  if (completesPickup(slot, bars, end)) return costOfSpan(bars, bar, onset, end, 'note') - COMPLETES;
  const rest = costOfSpan(bars, barIndexAt(bars, end, bar), end, restUntil, 'rest');
  // Where nothing follows, a rest is no burden: a last note is not stretched to fill its bar.
  return costOfSpan(bars, bar, onset, end, 'note') + (next === null ? rest * LAST_REST : rest);
};

/** The cheapest of the ends that are weighed, the last first: of two that cost the same the earlier. */
class Choice implements ChosenEnd {
  end: number;
  second: number | null = null;
  private lowest = Number.POSITIVE_INFINITY;
  private runnerUp = Number.POSITIVE_INFINITY;

  /** As long as it was played, where there is nothing to choose from. */
  constructor({ onset, played }: Slot) {
    this.end = onset + Math.max(1, Math.round(played));
  }

  get margin(): number {
    return this.runnerUp - this.lowest;
  }

  /** Whether an end that costs so much at the least may still be the best or the second best. */
  mayMatter(cost: number): boolean {
    return cost <= this.runnerUp;
  }

  weigh(end: number, cost: number): void {
    if (cost <= this.lowest + 1e-9) {
      if (this.lowest < Number.POSITIVE_INFINITY) [this.second, this.runnerUp] = [this.end, this.lowest];
      this.lowest = cost;
      this.end = end;
    } else if (cost <= this.runnerUp) [this.second, this.runnerUp] = [end, cost];
  }
}

/** The end with the least cost of its own and of the signs it takes. */
const cheapestEnd = (slot: Slot, bars: readonly LaidBar[], offOf: (end: number) => number, fills = 0): ChosenEnd => {
  const candidates = candidatesFor(slot, bars, fills);
  const choice = new Choice(slot);
  // From the last back: the next start is the likeliest, and what lies far before it costs more by itself alone.
  for (let index = candidates.length - 1; index >= 0; index -= 1) {
    const end = candidates[index] as number;
    const off = offOf(end);
    if (choice.mayMatter(off)) choice.weigh(end, off + SIGN * signsOf(slot, bars, end));
  }
  return choice;
};

/** Percussion is written by its starts: until the next one or the end of its beat. */
export const strokeEnd = (slot: Slot, bars: readonly LaidBar[], context: StepContext): ChosenEnd => {
  const bar = bars[slot.bar];
  const meter = context.bars[slot.bar]?.meter;
  const sure = { second: null, margin: Number.POSITIVE_INFINITY };
  if (!bar || !meter) return { end: slot.onset + WRITTEN_PPQ, ...sure };
  const beat = writtenBeatsOf(meter).find((b) => slot.onset - bar.start < b.start + b.length);
  const beatEnd = beat ? bar.start + beat.start + beat.length : bar.end;
  return { end: Math.min(slot.next ?? Number.POSITIVE_INFINITY, beatEnd, bar.end), ...sure };
};

/**
 * How long the pickup is that a part begins with, in written units: what it has of a first bar that begins with silence, where
 * the next bar begins with a note; 0 where there is none. `notes` are in order of onset.
 */
export const pickupOfPart = (notes: readonly StepNote[], { bars, ppq }: StepContext): number => {
  const [first, second] = bars;
  const begins = notes[0]?.onset;
  if (!first || !second || begins === undefined || begins >= first.end) return 0;
  if (begins <= originOf(first, ppq) || !notes.some(({ onset }) => onset === first.end)) return 0;
  return Math.round(((first.end - begins) * WRITTEN_PPQ) / ppq);
};

/** A voice, the so-manieth of its part, with the place of each of its chords, in written units. */
export const laidOut = (list: readonly StepNote[], context: StepContext, voice: number, pickup = 0) => {
  const scale = WRITTEN_PPQ / context.ppq;
  const groups = byOnset(list);
  const onsets = writableOnsets(groups, context, scale);
  const bars = layBars(context.bars, onsets, scale, pickup);
  return { groups, bars, slots: slotsOf(groups, onsets, bars, scale, voice) };
};
