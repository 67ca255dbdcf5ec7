/** Whether the file's tempo is the one that was played. */
import type { Arrangement } from '../../model/arrangement.js';
import { median } from '../../model/statistics.js';
import { beatsOfMeter, type Meter } from '../../time/meterMap.js';
import { createTempoMap } from '../../time/tempoMap.js';
import { huber, placesOf } from './beatSearch.js';
import { beatOf, beatsAmong, type FoundBeats } from './findBeats.js';
import { ALMOST, finished, type Search } from './search.js';
import { type Strike, searchStrikes } from './strikes.js';

/** Fewer beats or strikes tell too little. */
const [FEWEST_BEATS, FEWEST_STRIKES] = [12, 16];
/** A beat of the take is elsewhere than one of the file where it is off by so much (of a beat)… */
const OFF = 0.22;
/** …on its way there where it is off by so much… */
const DRIFTS = 0.12;
/** …and that speaks against the file where it is so for so many of the beats that follow each other. */
const FEWEST_OFF = 4;
/** …or for so many of the last. */
const FEWEST_AT_END = 3;
/** How far strikes are from their places at the least, in seconds (standard deviation). */
const SPREAD = 0.018;
/** Of playing as rough as this nothing can be told (seconds). */
const ROUGHEST = 0.031;
/** A strike that stands nowhere costs no more than this. */
const NOWHERE = 6;
/** How much a beat differs from the one before, as a logarithm (standard deviation). */
const TEMPO_MOVES = 0.06;
/** So much likelier must the take's own beats be than the file's (natural logarithm). Set on seeds below 9000. */
const LIKELIER = 12;
/** Where the beats are elsewhere, strikes agree so much more with the take's own: a rough hand agrees badly with both. */
const AGREES_MORE = 0.28;
/** The end of a take that slows down there: so many beats at the most… */
const MOST_AT_END = 8;
/** …where less tells for it… */
const [LIKELIER_AT_END, AGREES_MORE_AT_END] = [9, 0.14];
/**
 * …or hardly any, where it is so much likelier and the hand is no rougher than this (seconds): the last strikes may be few, and
 * half notes stand on a beat of either…
 */
const [FAR_LIKELIER_AT_END, HARDLY_MORE, NOT_ROUGH] = [20, -0.2, 0.02];
/** …or plainly more, where no more than two of the last beats are elsewhere… */
const PLAINLY_MORE = 0.5;
/** …if the last beats of the file agree so much less with strikes than all do. */
const SLIPS_BY = 0.06;

/** What was found where the tempo does not fit. */
export interface TempoMisfit {
  readonly found: FoundBeats;
  /** The first beat that is elsewhere, in ticks. */
  readonly tick: number;
  /** How many beats are elsewhere, of how many. */
  readonly off: number;
  readonly beats: number;
}

/** Each strike's distance from the nearest place of the beat, in seconds, and what the place costs. */
const distances = (
  strikes: readonly Strike[],
  compound: boolean,
  beatAt: (time: number) => number,
): readonly { readonly off: number; readonly cost: number }[][] =>
  strikes.map(({ at }) => {
    const beat = beatAt(at);
    const length = 0.02 / Math.max(1e-6, beatAt(at + 0.01) - beatAt(at - 0.01));
    const part = beat - Math.floor(beat);
    return placesOf(compound).flatMap((place) =>
      (place.at === 0 ? [0, 1] : [place.at]).map((own) => ({ off: Math.abs(part - own) * length, cost: place.cost })),
    );
  });

/** How unlikely strikes are among beats: their distances from places, and what the places cost. */
const unlikelihood = (all: ReturnType<typeof distances>, strikes: readonly Strike[], spread: number): number =>
  all.reduce((sum, ways, index) => {
    const own = spread / Math.sqrt(Math.min(3, (strikes[index] as Strike).count));
    const best = ways.reduce((least, { off, cost }) => Math.min(least, off ** 2 / (2 * own ** 2) + cost), NOWHERE);
    return sum + best;
  }, 0);

const nearest = (all: ReturnType<typeof distances>): number =>
  median(all.map((ways) => ways.reduce((least, { off, cost }) => (cost < 3 ? Math.min(least, off) : least), 1))) ?? 0;

/** So many stretches must speak against the file. */
const FEWEST_APART = 1;
/** A stretch that is judged by itself: so many beats, of at least so many strikes; the next begins two beats later. */
const [STRETCH, FEWEST_IN_STRETCH] = [6, 4];
/** Strikes agree with beats of the file where this is reached, and clearly with the take's own where that is (0 to 1). */
const [AGREES, AGREES_CLEARLY] = [0.4, 0.6];

/** How strikes agree with beats: on the beat, with halves, or with thirds, whichever is most (mean of cosines, -1 to 1). */
const agreement = (
  strikes: readonly Strike[],
  beatAt: (time: number) => number,
  divisions: readonly number[] = [1, 2, 3],
): number => {
  const heard = strikes.map(({ at, weight }) => ({ beat: beatAt(at), weight }));
  const total = heard.reduce((sum, { weight }) => sum + weight, 0);
  return divisions.reduce((most, parts) => {
    const sum = heard.reduce((all, { beat, weight }) => all + weight * Math.cos(2 * Math.PI * parts * beat), 0);
    return Math.max(most, sum / Math.max(1e-9, total));
  }, -1);
};

/** The lateness of the whole against the file's beats, so that one who leans is not taken for one with a tempo of his own. */
const leanOf = (strikes: readonly Strike[], beatAt: (time: number) => number): number => {
  let best = { lean: 0, most: -1 };
  for (let lean = -0.06; lean <= 0.0601; lean += 0.01) {
    const most = agreement(strikes, (time) => beatAt(time - lean));
    if (most > best.most + 1e-6) best = { lean, most };
  }
  return best.lean;
};

/** Of more strikes than this the file is believed where they agree with it on the whole: the search takes its time. */
const MANY_STRIKES = 3000;
const AGREES_ON_THE_WHOLE = 0.3;

/** True where no stretch of the file's own beats speaks against them, so that none of the take's need be sought. */
const agreesThroughout = (strikes: readonly Strike[], beatAt: (time: number) => number): boolean => {
  if (strikes.length > MANY_STRIKES && agreement(strikes, beatAt, [1, 2, 3, 4]) > AGREES_ON_THE_WHOLE) return true;
  const places = strikes.map(({ at }) => beatAt(at));
  let from = 0;
  for (let index = 0; index < strikes.length; index += 1) {
    while ((places[index] as number) - (places[from] as number) > STRETCH) from += 1;
    const stretch = strikes.slice(from, index + 1);
    if (stretch.length >= FEWEST_IN_STRETCH && agreement(stretch, beatAt) < AGREES) return false;
  }
  return true;
};

/** True where the last strikes agree less with the file's beats than all of them do: it may slow down there. */
const slipsAtEnd = (strikes: readonly Strike[], beatAt: (time: number) => number): boolean => {
  if (strikes.length > MANY_STRIKES) return false;
  const from = beatAt((strikes[strikes.length - 1] as Strike).at) - MOST_AT_END;
  const last = strikes.slice(strikes.findIndex(({ at }) => beatAt(at) > from));
  return agreement(last, beatAt) < agreement(strikes, beatAt) - SLIPS_BY;
};

/** By how much more strikes of a stretch of time agree with the take's own beats than with the file's (-2 to 2). */
const agreesMore = (
  strikes: readonly Strike[],
  [begins, ends]: readonly [number, number],
  times: readonly number[],
  beatAt: (time: number) => number,
): number => {
  const inside = strikes.filter(({ at }) => at >= begins - 0.05 && at < ends);
  return agreement(inside, among(times)) - agreement(inside, beatAt);
};

/** By how much more strikes must agree with the take's own beats at its end, where so many of these are elsewhere. */
const agreesMoreAtEnd = (off: number, isFarLikelier: boolean): number => {
  if (off < FEWEST_AT_END) return PLAINLY_MORE;
  return off >= FEWEST_OFF && isFarLikelier ? HARDLY_MORE : AGREES_MORE_AT_END;
};

/** The longest run of beats that are elsewhere: the first, and the one after the last. */
const longestRun = (off: readonly boolean[]): readonly [first: number, end: number] => {
  let [first, end, run] = [0, 0, 0];
  off.forEach((isOff, index) => {
    run = isOff ? run + 1 : 0;
    if (run > end - first) [first, end] = [index - run + 1, index + 1];
  });
  return [first, end];
};

/** In how many stretches strikes agree with the take's own beats and not with the file's. */
const stretchesApart = (
  strikes: readonly Strike[],
  times: readonly number[],
  beatAt: (time: number) => number,
): number => {
  const own = among(times);
  let [apart, from] = [0, 0];
  for (let beat = 0; beat + STRETCH / 2 < times.length; beat += 2) {
    const [begins, ends] = [times[beat] as number, times[Math.min(times.length - 1, beat + STRETCH)] as number];
    while (from < strikes.length && (strikes[from] as Strike).at < begins - 0.05) from += 1;
    let to = from;
    while (to < strikes.length && (strikes[to] as Strike).at < ends - 0.05) to += 1;
    const inside = strikes.slice(from, to);
    if (inside.length < FEWEST_IN_STRETCH) continue;
    if (agreement(inside, beatAt) < AGREES && agreement(inside, own) > AGREES_CLEARLY) apart += 1;
  }
  return apart;
};

/** What it costs that beats differ from each other. */
const unevenness = (times: readonly number[]): number => {
  let sum = 0;
  for (let index = 2; index < times.length; index += 1) {
    const before = Math.max(1e-3, (times[index - 1] as number) - (times[index - 2] as number));
    const now = Math.max(1e-3, (times[index] as number) - (times[index - 1] as number));
    sum += huber(Math.log(now / before) / TEMPO_MOVES);
  }
  return sum;
};

/** Beats up to the last strike: those under the last notes are as these end, and no strike says so. */
const upToLast = (times: readonly number[], strikes: readonly Strike[]): readonly number[] => {
  const end = strikes[strikes.length - 1]?.at ?? 0;
  const after = times.findIndex((time) => time >= end - OFF);
  return after < 0 ? times : times.slice(0, after + 1);
};

/** The place of a time among beats, in beats from the first. */
const among =
  (times: readonly number[]) =>
  (time: number): number => {
    let [low, high] = [0, times.length - 2];
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if ((times[middle] as number) <= time) low = middle;
      else high = middle - 1;
    }
    const [from, to] = [times[low] as number, times[low + 1] as number];
    return low + (time - from) / Math.max(1e-6, to - from);
  };

/** True for a meter as 5/8: counted in eighths, which come too fast for a rough hand to be told from one with a tempo of its own. */
const hasUnevenBeats = (meter: Meter): boolean => new Set(beatsOfMeter(meter, 1).map(({ length }) => length)).size > 1;

const known = new WeakMap<
  Arrangement['parts'],
  { readonly arrangement: Arrangement; readonly misfit: TempoMisfit | null }
>();

/**
 * What speaks against the file's tempo; null where nothing does, where too little begins to tell, or where the
 * beats of one bar differ in length. Worked out once for the same notes and tempi.
 */
export const tempoMisfit = (arrangement: Arrangement): TempoMisfit | null => finished(searchMisfit(arrangement));

/** As {@link tempoMisfit}, a piece at a time: what was found is known afterwards. */
export function* searchMisfit(arrangement: Arrangement): Search<TempoMisfit | null> {
  const before = known.get(arrangement.parts);
  if (before && before.arrangement.tempos === arrangement.tempos && before.arrangement.meters === arrangement.meters)
    return before.misfit;
  const misfit = yield* misfitOf(arrangement);
  known.set(arrangement.parts, { arrangement, misfit });
  return misfit;
}

function* misfitOf(arrangement: Arrangement): Search<TempoMisfit | null> {
  if (arrangement.meters.some(hasUnevenBeats)) return null;
  const strikes = yield* searchStrikes(arrangement);
  if (strikes.length < FEWEST_STRIKES) return null;
  const map = createTempoMap(arrangement.tempos, arrangement.ppq);
  // The first meter's beat is counted throughout, as it is where beats are found.
  const { compound, quarters } = beatOf(arrangement.meters[0]);
  const fileBeat = (time: number) => map.ticksAt(time) / arrangement.ppq / quarters;
  // As the whole is late, or early, against the file.
  const leaning = (some: readonly Strike[]) => {
    const lean = leanOf(some, fileBeat);
    return (time: number) => fileBeat(time - lean);
  };
  const beatAt = leaning(strikes.slice(0, MANY_STRIKES));
  yield 0;
  const agrees = agreesThroughout(strikes, beatAt);
  if (agrees && !slipsAtEnd(strikes, beatAt)) return null;
  yield 0;
  const found = yield* beatsAmong(arrangement, strikes);
  if (!found || found.times.length < FEWEST_BEATS) return null;
  yield ALMOST;
  // Which beats are elsewhere than the file's, counted on from the first.
  const [first = 0] = found.times;
  const shift = Math.round(fileBeat(first));
  const away = found.times.map((time, index) => Math.abs(fileBeat(time) - index - shift));
  const off = away.map((by) => by > OFF);
  // A tempo that slows down takes a beat or two to be elsewhere: those on their way there count.
  const isAtEnd = ([from, to]: readonly [number, number]) => to === away.length && to - from <= MOST_AT_END;
  const drifts = longestRun(away.map((by) => by > DRIFTS));
  const goesBy = (away.at(-1) ?? 0) > OFF && isAtEnd(drifts) ? drifts : longestRun(off);
  const slowsAtEnd = isAtEnd(goesBy);
  const [begins, ends] = goesBy;
  if (ends - begins < (slowsAtEnd ? FEWEST_AT_END : FEWEST_OFF)) return null;
  const from = found.times[begins] as number;
  const [own, file] = [distances(strikes, compound, among(found.times)), distances(strikes, compound, fileBeat)];
  const spread = Math.max(SPREAD, nearest(own) * 1.5);
  if (spread > ROUGHEST) return null;
  const gain =
    unlikelihood(file, strikes, spread) -
    unlikelihood(own, strikes, spread) -
    unevenness(upToLast(found.times, strikes));
  const allAt = strikes.length > MANY_STRIKES ? leaning(strikes) : beatAt;
  const more = agreesMore(strikes, [from, found.times[ends] ?? Number.POSITIVE_INFINITY], found.times, allAt);
  const isFarLikelier = !agrees && spread < NOT_ROUGH && gain >= FAR_LIKELIER_AT_END;
  const plain = slowsAtEnd
    ? gain >= LIKELIER_AT_END && more >= agreesMoreAtEnd(off.slice(begins).filter(Boolean).length, isFarLikelier)
    : !agrees && gain >= LIKELIER && more >= AGREES_MORE && stretchesApart(strikes, found.times, allAt) >= FEWEST_APART;
  if (!plain) return null;
  return {
    found,
    tick: Math.max(0, Math.round(map.ticksAt(from))),
    off: off.filter(Boolean).length,
    beats: found.times.length,
  };
}
