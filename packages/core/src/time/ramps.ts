/** Ramps: a value that moves to another over a stretch, straight or with an ease. */

/**
 * How a ramp moves: 0 is straight; towards 1 it starts slowly and ends fast, towards -1 the other way round. From -1 to 1.
 */
export type Ease = number;

/** The exponent of an ease: 1 is straight, 4 the most curved. */
const exponentOf = (ease: Ease): number => 4 ** Math.min(1, Math.abs(ease));

/** How much of the way is gone when `share` of the time is, both from 0 to 1. */
export const easedShare = (share: number, ease: Ease): number => {
  const gone = Math.max(0, Math.min(1, share));
  return ease >= 0 ? gone ** exponentOf(ease) : 1 - (1 - gone) ** exponentOf(ease);
};

/** The value at `share` of the way from one value to another. */
export const onRamp = (from: number, to: number, share: number, ease: Ease): number =>
  from + (to - from) * easedShare(share, ease);

/**
 * Seconds that a stretch of `quarters` lasts while the tempo goes from one number of quarters a minute to another: in closed
 * form where it is straight, by Simpson's rule else (1024 pieces: within a microsecond over a minute).
 */
export const secondsOfRamp = (from: number, to: number, ease: Ease, quarters: number): number => {
  if (quarters <= 0) return 0;
  if (from === to) return (quarters * 60) / from;
  if (ease === 0) return (60 * quarters * Math.log(to / from)) / (to - from);
  const pieces = 1024;
  const lasts = (share: number) => 60 / onRamp(from, to, share, ease);
  let sum = lasts(0) + lasts(1);
  for (let piece = 1; piece < pieces; piece += 1) sum += lasts(piece / pieces) * (piece % 2 === 1 ? 4 : 2);
  return (sum * quarters) / (3 * pieces);
};
