/** Lengths as a person types them: note values, milliseconds or ticks. */

/** A length that keeps the unit it was typed in. `value` of a note is a fraction of a whole note (1/16 is 0.0625). */
export type Length =
  | { readonly unit: 'note'; readonly value: number }
  | { readonly unit: 'ms'; readonly value: number }
  | { readonly unit: 'ticks'; readonly value: number };

/** A length as a fraction of a whole note, for example `noteValue(1 / 16)`. */
export const noteValue = (fraction: number): Length => ({ unit: 'note', value: fraction });
/** A length in milliseconds. */
export const milliseconds = (value: number): Length => ({ unit: 'ms', value });

/** The length in ticks of `ppq` (not rounded), where a millisecond lasts `ticksPerMillisecond` ticks. */
export const lengthInTicks = (length: Length, ppq: number, ticksPerMillisecond: number): number => {
  switch (length.unit) {
    case 'note':
      return length.value * 4 * ppq;
    case 'ms':
      return length.value * ticksPerMillisecond;
    case 'ticks':
      return length.value;
    default:
      return length satisfies never;
  }
};

/** The shortest of several lengths, in ticks of `ppq`; remembers the last answer, since tempo seldom changes from note to note. */
export const shortestOf = (lengths: readonly Length[], ppq: number): ((ticksPerMillisecond: number) => number) => {
  let last = Number.NaN;
  let shortest = 0;
  return (ticksPerMillisecond) => {
    if (ticksPerMillisecond !== last) {
      last = ticksPerMillisecond;
      shortest = Math.min(...lengths.map((length) => lengthInTicks(length, ppq, ticksPerMillisecond)));
    }
    return shortest;
  };
};
