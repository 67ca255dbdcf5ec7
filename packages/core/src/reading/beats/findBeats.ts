/** The beat of a take that followed no click, or another than its file says: when each beat is, and which begin bars. */
import type { Arrangement, PartId } from '../../model/arrangement.js';
import { median } from '../../model/statistics.js';
import { beatsOfMeter, createMeterMap, DEFAULT_METER, type Meter } from '../../time/meterMap.js';
import { createTempoMap, DEFAULT_MICROSECONDS_PER_QUARTER } from '../../time/tempoMap.js';
import { type Placed, placeStrikes } from './beatSearch.js';
import { beatTimes } from './beatTimes.js';
import { ALMOST, finished, type Search } from './search.js';
import { type Strike, searchStrikes } from './strikes.js';

/** Beats as they were found, or as a person put them right. */
export interface FoundBeats {
  /** Seconds from tick 0, rising. */
  readonly times: readonly number[];
  /** Which beat of its bar the first one is, from 0. */
  readonly firstInBar: number;
  /** Beats a bar. */
  readonly perBar: number;
  /** Length of a beat, in quarters. */
  readonly quarters: number;
}

/** Where a file says nothing of its own, music is likeliest at so many beats a minute (common practice: andante to allegro). */
const LIKELY = 100;
/** …and at so many where beats divide in three. */
const LIKELY_COMPOUND = 66;

/** How beats go in a meter: whether they divide in three, how many a bar has, and how long one is in quarters. */
export const beatOf = (
  meter: Meter = DEFAULT_METER,
): { readonly compound: boolean; readonly perBar: number; readonly quarters: number } => {
  const beats = beatsOfMeter(meter, 1);
  const compound = beats.every((beat) => beat.compound);
  return compound || beats.every(({ length }) => length === beats[0]?.length)
    ? { compound, perBar: beats.length, quarters: beats[0]?.length ?? 1 }
    : // Beats of different lengths are counted in the unit that they are made of.
      { compound: false, perBar: meter.numerator, quarters: 4 / meter.denominator };
};

/** The likeliest beat in seconds: what the file says, where it says something of its own. */
const likelyBeat = (arrangement: Arrangement, compound: boolean, quarters: number): number => {
  const said = arrangement.tempos[0]?.microsecondsPerQuarter ?? DEFAULT_MICROSECONDS_PER_QUARTER;
  if (said !== DEFAULT_MICROSECONDS_PER_QUARTER) return (said / 1e6) * quarters;
  return 60 / (compound ? LIKELY_COMPOUND : quarters < 1 ? 2 * LIKELY : LIKELY);
};

/** Less time than this before the first beat is the first beat's own, in beats. */
const LEAST_ROOM = 0.3;

/** How many beats the page has before the first one found: as the bar asks, and as near as can be to the time that there is. */
export const beatsBefore = ({
  times,
  firstInBar,
  perBar,
}: Pick<FoundBeats, 'times' | 'firstInBar' | 'perBar'>): number => {
  const [first = 0, second = 1] = times;
  const room = first / Math.max(0.05, second - first);
  // Where there is time before a first bar, it is a bar: notes stay where they are.
  const least = firstInBar === 0 && room > LEAST_ROOM ? 1 : 0;
  const bars = Math.max(least, Math.round((room - firstInBar) / perBar));
  return firstInBar + bars * perBar;
};

/** How much a beat of the bar is leant on, from its place: the first most, the middle somewhat (common practice). */
const leant = (beat: number, perBar: number): number =>
  beat === 0 ? 1 : perBar % 2 === 0 && beat === perBar / 2 ? 0.35 : 0;
/** The piece begins where the file does: so much is said for a first bar at tick 0, where a beat falls there. */
const AT_START = 0.25;
/** …within so much of a beat. */
const NEAR_START = 0.2;
/** So much is said for a bar that begins with the first strike, where that is on a beat, and with the last. */
const [AT_FIRST, AT_LAST] = [0.12, 0.06];

/** How much each beat of the page is leant on, by the bars of the arrangement's meters. */
const leantOnPage = ({ meters, ppq }: Arrangement, quarters: number, count: number): Float64Array => {
  const map = createMeterMap(meters, ppq);
  const length = quarters * ppq;
  return Float64Array.from({ length: count }, (_, beat) => {
    const place = Math.round(beat * length);
    const bar = map.barAt(place);
    const [inBar, perBar] = [(place - bar.start) / length, (bar.end - bar.start) / length];
    return Number.isInteger(inBar) ? leant(inBar, perBar) : 0;
  });
};

/** Which beat of the bar beat 0 is: strikes on the beat weigh most where bars begin. */
const barPhase = (
  arrangement: Arrangement,
  strikes: readonly Strike[],
  placed: readonly Placed[],
  { times, perBar, quarters }: Pick<FoundBeats, 'times' | 'perBar' | 'quarters'>,
  start: number,
): number => {
  const lead = beatsBefore({ times, firstInBar: 0, perBar }) + 2 * perBar;
  const leantAt = leantOnPage(arrangement, quarters, lead + times.length + 1);
  const onBeat = placed.filter(({ position }) => position === Math.round(position));
  const total = onBeat.reduce((sum, { strike }) => sum + (strikes[strike] as Strike).weight, 0);
  let best = { phase: 0, score: Number.NEGATIVE_INFINITY };
  for (let phase = 0; phase < perBar; phase += 1) {
    const before = beatsBefore({ times, firstInBar: phase, perBar });
    const weight = onBeat.reduce(
      (sum, { strike, position }) => sum + (strikes[strike] as Strike).weight * (leantAt[position + before] ?? 0),
      0,
    );
    // Beat `start` lies at the file's own beginning.
    const beginning = Number.isNaN(start) ? 0 : (((start + phase) % perBar) + perBar) % perBar === 0 ? AT_START : 0;
    const beginsBar = (beat: number | undefined) => beat !== undefined && leantAt[beat + before] === 1;
    const ends = (beginsBar(placed[0]?.position) ? AT_FIRST : 0) + (beginsBar(placed.at(-1)?.position) ? AT_LAST : 0);
    const score = weight / Math.max(1e-9, total) + beginning + ends;
    if (score > best.score) best = { phase, score };
  }
  return best.phase;
};

/** The last beats are taken to be slower where the last notes would be so many times as long as what is left of their bar. */
const [HELD_LEAST, HELD_MOST] = [1.06, 1.9];
/** …in a piece that slows down already: its last beat is so many times as long as the middle one of so many. */
const [SLOWS, OF_LAST] = [1.05, 9];

/** Beats after the last strike, where the piece goes on to slow down under its last notes: these end with their bar (common practice). */
const beatsUnderLast = (
  times: readonly number[],
  { firstInBar, perBar }: Pick<FoundBeats, 'firstInBar' | 'perBar'>,
  end: number,
): readonly number[] => {
  const last = times.length - 1;
  const [from, beat] = [times[last] as number, (times[last] as number) - (times[last - 1] as number)];
  const lengths = times.slice(1).map((time, index) => time - (times[index] as number));
  if (beat < SLOWS * (median(lengths.slice(-OF_LAST)) ?? beat)) return [];
  const left = perBar - ((last + firstInBar) % perBar);
  const held = (end - from) / (left * Math.max(0.05, beat));
  if (held < HELD_LEAST || held > HELD_MOST) return [];
  return Array.from({ length: left }, (_, index) => from + ((end - from) * (index + 1)) / left);
};

/** When the last note ends, in seconds. */
const lastEnd = ({ parts, tempos, ppq }: Arrangement, partIds?: ReadonlySet<PartId>): number => {
  const sounding = parts.filter(({ id }) => !partIds || partIds.has(id)).flatMap(({ notes }) => notes);
  const tick = sounding.reduce(
    (most, { onset, duration, muted }) => (muted ? most : Math.max(most, onset + duration)),
    0,
  );
  return createTempoMap(tempos, ppq).secondsAt(tick);
};

/** What is listened to: notes of these parts (all where left out), or the attacks of a recording (seconds from tick 0). */
export interface BeatsHeard {
  readonly partIds?: ReadonlySet<PartId>;
  readonly attacks?: readonly number[];
}

/** The beats of an arrangement's take; null where too little begins to tell. */
export const findBeats = (arrangement: Arrangement, heard: BeatsHeard = {}): FoundBeats | null =>
  finished(searchBeats(arrangement, heard));

/** As {@link findBeats}, a piece at a time, so that whoever asked can see how far it is, and give it up. */
export function* searchBeats(arrangement: Arrangement, heard: BeatsHeard = {}): Search<FoundBeats | null> {
  const { partIds, attacks } = heard;
  const strikes =
    attacks?.map((at): Strike => ({ at, count: 1, weight: 1 })) ?? (yield* searchStrikes(arrangement, partIds));
  return yield* beatsAmong(arrangement, strikes, heard);
}

/** As {@link searchBeats}, among strikes that are known. */
export function* beatsAmong(
  arrangement: Arrangement,
  strikes: readonly Strike[],
  { partIds, attacks }: BeatsHeard = {},
): Search<FoundBeats | null> {
  const { compound, perBar, quarters } = beatOf(arrangement.meters[0]);
  const together =
    arrangement.parts.filter(({ id, notes }) => notes.length > 0 && (!partIds || partIds.has(id))).length > 1;
  const placed = yield* placeStrikes(strikes, {
    compound,
    together,
    likely: likelyBeat(arrangement, compound, quarters),
  });
  if (placed.length < 4) return null;
  const last = Math.ceil((placed[placed.length - 1] as Placed).position + 1e-9);
  if (last < 3) return null;
  yield ALMOST;
  const times = beatTimes(strikes, placed, 0, last);
  // What lies before the first beat goes at its tempo.
  const beat = Math.max(0.05, (times[1] as number) - (times[0] as number));
  const start = -(times[0] as number) / beat;
  const atStart =
    Math.abs(start - Math.round(start)) < NEAR_START && start > -2 * perBar ? Math.round(start) : Number.NaN;
  const firstInBar = barPhase(arrangement, strikes, placed, { times, perBar, quarters }, atStart);
  const under = attacks ? [] : beatsUnderLast(times, { firstInBar, perBar }, lastEnd(arrangement, partIds));
  return { times: [...times, ...under], firstInBar, perBar, quarters };
}
