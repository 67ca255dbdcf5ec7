/**
 * What auto grid believes of a player: how beats divide, how late and how unsteady the hand is, and how played lengths
 * fill their slots. Timing is a slow drift (a first-order autoregressive process) seen through Gaussian noise, as in
 * Cemgil, Kappen, Desain and Honing, "On tempo tracking: tempogram representation and Kalman filtering", Journal of New
 * Music Research 29:4 (2000); divisions have prices, which are negative logarithms of how often they are met.
 */

/** One way to divide a beat. */
export interface Division {
  readonly points: number;
  /** Negative natural logarithm of how likely it is, up to a constant. */
  readonly price: number;
  readonly family: 'none' | 'duple' | 'triple' | 'swung' | 'other';
  /** Price of each of its places after the first where nothing starts; none where left out. */
  readonly empty?: number;
  /** Where its points are played, the beat's end included, as shares of it; evenly where left out. */
  readonly at?: readonly number[];
}

/** Tells divisions apart: how many points, below zero where they are not even. */
export const divisionKey = ({ points, at }: Division): number => (at ? -points : points);

/** What starts together: a note, a gathered chord, or a roll. Ticks. */
export interface Attack {
  /** First and last start in it. */
  readonly onset: number;
  readonly last: number;
  /** Played length, that of a chord's median tone. */
  readonly length: number;
  /** True where a pitch of the attack before is struck again. */
  readonly repeats: boolean;
  /** True where the key of the attack before came up to be struck again: how long that would have lasted nobody knows. */
  readonly cut: boolean;
  /** True where it sounds together with the attack before for a good part, as tones of one chord do. */
  readonly together: boolean;
}

/** How a part is played. Times in milliseconds. */
export interface TimingModel {
  /** Late throughout (positive) or early. */
  readonly lean: number;
  /** Standard deviation of each start about the drift. */
  readonly spread: number;
  /** Standard deviation of the drift; 0 for a player who keeps to the click. */
  readonly drift: number;
}

/** How the lengths of a line fill the way to the next start: shares of it; null where the part is no line. */
export interface FillModel {
  readonly low: number;
  readonly high: number;
  /** Price at most of a slot that is filled too little, and so holds a rest: one that begins on a beat or a plain part of it… */
  readonly rest: number;
  /** …or elsewhere. */
  readonly oddRest: number;
}

/** How much of a drift is left after one second. */
const DRIFT_KEPT_PER_SECOND = 0.8;

const division = (points: number, price: number, family: Division['family']): Division => ({ points, price, family });

/** Fives and sevens are met whole, seldom with most of their places empty. */
const whole = (points: number, price: number): Division => ({ ...division(points, price, 'other'), empty: 1 });

/** Beats that divide in two: undivided, 2, 4, 8; 3, 6; 5, 7. */
export const SIMPLE_BEAT: readonly Division[] = [
  division(1, 0.3, 'none'),
  division(2, 0.7, 'duple'),
  division(4, 1.7, 'duple'),
  division(3, 2.4, 'triple'),
  division(8, 6, 'duple'),
  division(6, 6.2, 'triple'),
  whole(5, 3.8),
  whole(7, 4.2),
];
/** Dotted beats: undivided, 3, 6, 12; 9, an eighth in three; 2, 4. */
export const COMPOUND_BEAT: readonly Division[] = [
  division(1, 0.3, 'none'),
  division(3, 0.7, 'triple'),
  division(6, 1.9, 'triple'),
  division(2, 5, 'duple'),
  division(12, 6.5, 'triple'),
  division(4, 6.5, 'duple'),
  division(9, 7, 'triple'),
];

/** What else a start that is exact may stand on: finer than a hand plays. */
export const EXACT_POINTS: { readonly simple: readonly number[]; readonly compound: readonly number[] } = {
  simple: [12, 16, 10, 14, 24, 32],
  compound: [24, 18, 48, 8],
};

/** Beats that stand for what is met in general, when a part's own habits are learnt. */
const PRIOR_BEATS = 8;
/** Learning makes no division cheaper by more than this: a rough hand must not teach that all is thirty-seconds. */
const MOST_LEARNT = 1.8;

/**
 * The divisions with prices that have learnt from how often a part uses each (beats by {@link divisionKey});
 * `prior` beats stand for what is met in general.
 */
export const learnt = (
  divisions: readonly Division[],
  counts: ReadonlyMap<number, number>,
  prior = PRIOR_BEATS,
): readonly Division[] => {
  const total = divisions.reduce((sum, d) => sum + (counts.get(divisionKey(d)) ?? 0), 0);
  const weights = divisions.map((d) => Math.exp(-d.price));
  const all = weights.reduce((sum, w) => sum + w, 0);
  return divisions
    .map((d, index) => {
      const met = (counts.get(divisionKey(d)) ?? 0) + (prior * (weights[index] as number)) / all;
      return { ...d, price: Math.max(d.price - MOST_LEARNT, -Math.log(met / (total + prior))) };
    })
    .sort((a, b) => a.price - b.price);
};

/** The Kalman filter's gains, the same for every reading of the starts, since they depend on times alone. */
export interface Gains {
  /** One over the standard deviation of the innovation at each attack, in ticks. */
  readonly precision: Float64Array;
  /** Share of an innovation that the drift takes over. */
  readonly gain: Float64Array;
  /** Share of the drift that is left at this attack of what it was at the one before. */
  readonly kept: Float64Array;
}

/** Works out the gains for attacks at these times (seconds), `ticksPerMillisecond` at each. */
export const gainsOf = (
  times: Float64Array,
  ticksPerMillisecond: Float64Array,
  { spread, drift }: TimingModel,
): Gains => {
  const count = times.length;
  const precision = new Float64Array(count);
  const gain = new Float64Array(count);
  const kept = new Float64Array(count);
  let variance = drift * drift;
  for (let index = 0; index < count; index += 1) {
    const gap = index === 0 ? 10 : (times[index] as number) - (times[index - 1] as number);
    const left = DRIFT_KEPT_PER_SECOND ** gap;
    variance = left * left * variance + (1 - left * left) * drift * drift;
    const innovation = variance + spread * spread;
    precision[index] = 1 / (Math.sqrt(innovation) * (ticksPerMillisecond[index] as number));
    gain[index] = variance / innovation;
    kept[index] = left;
    variance *= 1 - (gain[index] as number);
  }
  return { precision, gain, kept };
};

/** From this many standard deviations on a start's cost grows evenly (Huber's loss, 1964): a stumble is no thirty-second. */
const OUTLYING = 2.5;

/** Cost of an innovation of `distance` standard deviations. */
export const timingCost = (distance: number): number => {
  const size = Math.abs(distance);
  return size <= OUTLYING ? (size * size) / 2 : OUTLYING * (size - OUTLYING / 2);
};

/** How widely shares of a slot scatter about their usual band (share of a slot); judged by the lines of 15 to 60 ms. */
const FILL_SPREAD = 0.02;
/** …and so much more for a roll, by how long it takes: each of its tones has a length of its own. Judged by the harp. */
const ROLL_SPREAD = 0.25;
/** A note that sounds past its slot costs no more than this: a legato hand is no new rhythm; judged by lines and two takes. */
const MOST_OVERHANG = 4.5;

/**
 * Cost of a slot of `slot` ticks for a note that was played `length` ticks long, or a roll that took `unfolds` ticks; `rest`
 * is that of a rest at its end, at most.
 */
export const slotCost = ({ low, high }: FillModel, length: number, slot: number, rest: number, unfolds = 0): number => {
  const share = length / slot;
  const spread = FILL_SPREAD + (ROLL_SPREAD * unfolds) / slot;
  if (share > high) return Math.min(MOST_OVERHANG, ((share - high) / spread) ** 2 / 2);
  return share < low ? Math.min(rest, ((low - share) / spread) ** 2 / 2) : 0;
};
