/** A feel that a person keeps under a name: how one bar of a part is played, to be laid on any other. */

/** One sixteenth of the bar. */
export interface FeltPlace {
  /** From 0, at the bar line. */
  readonly sixteenth: number;
  /** Milliseconds after its place; before it where negative, at the tempo of the piece's beginning. */
  readonly late: number;
  /** Steps of velocity above what is usual about it. */
  readonly louder: number;
  /** How often the part has a start there. */
  readonly met: number;
}

/** A feel by itself, apart from the part that it was learnt from. */
export interface KeptFeel {
  readonly name: string;
  /** Length of its bar, in sixteenths. */
  readonly bar: number;
  /** In order; at least one. */
  readonly places: readonly FeltPlace[];
}

/** Bars of more sixteenths than this are no bars. */
const LONGEST_FELT_BAR = 256;

/** True where a value of unknown origin is a kept feel. */
export const isKeptFeel = (value: unknown): value is KeptFeel => {
  if (typeof value !== 'object' || value === null) return false;
  const { name, bar, places } = value as Partial<KeptFeel>;
  const within = (number: unknown, least: number, most: number) =>
    typeof number === 'number' && number >= least && number <= most;
  return (
    typeof name === 'string' &&
    name.trim() !== '' &&
    Number.isInteger(bar) &&
    within(bar, 1, LONGEST_FELT_BAR) &&
    Array.isArray(places) &&
    places.length > 0 &&
    places.every(
      (place: Partial<FeltPlace> | null) =>
        place !== null &&
        Number.isInteger(place.sixteenth) &&
        within(place.sixteenth, 0, (bar as number) - 1) &&
        within(place.late, -1000, 1000) &&
        within(place.louder, -127, 127) &&
        Number.isInteger(place.met) &&
        within(place.met, 1, 1e9),
    )
  );
};
