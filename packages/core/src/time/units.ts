/** Units of time as types, so that ticks, written units and seconds cannot be mixed by accident. */

declare const unit: unique symbol;
type Unit<Name extends string> = number & { readonly [unit]: Name };

/** Position or length in ticks of an arrangement's PPQ; a whole number, 0 or more for positions. */
export type Ticks = Unit<'Ticks'>;
/** Position or length on the page: whole units, {@link WRITTEN_PPQ} to the quarter. */
export type WrittenUnits = Unit<'WrittenUnits'>;
/** Wall-clock time in seconds. */
export type Seconds = Unit<'Seconds'>;
/** Wall-clock time in milliseconds. */
export type Millis = Unit<'Millis'>;

/** Written units to the quarter: exact for divisions by 2, 3, 5 and 7 and for every value to the 128th. */
export const WRITTEN_PPQ = 10080;

/** Marks a number as ticks. */
export const ticks = (value: number): Ticks => value as Ticks;
/** Marks a number as written units. */
export const writtenUnits = (value: number): WrittenUnits => value as WrittenUnits;
/** Marks a number as seconds. */
export const seconds = (value: number): Seconds => value as Seconds;
/** Marks a number as milliseconds. */
export const millis = (value: number): Millis => value as Millis;

/** Rescales a tick position from one PPQ to another, to the nearest whole tick. */
export const rescaleTicks = (value: number, fromPpq: number, toPpq: number): Ticks =>
  ticks(fromPpq === toPpq ? value : Math.round((value * toPpq) / fromPpq));

const greatestCommonDivisor = (a: number, b: number): number => (b === 0 ? a : greatestCommonDivisor(b, a % b));

/** Least common multiple of two positive whole numbers. */
export const leastCommonMultiple = (a: number, b: number): number => (a / greatestCommonDivisor(a, b)) * b;
