/** Note values by name. */

/** Note values by name, longest first, as fractions of a whole note: the one list for words and menus. */
export const NOTE_VALUES: readonly (readonly [fraction: number, name: string])[] = [
  [1, 'whole'],
  [3 / 4, 'dotted half'],
  [1 / 2, 'half'],
  [3 / 8, 'dotted quarter'],
  [1 / 4, 'quarter'],
  [3 / 16, 'dotted eighth'],
  [1 / 6, 'quarter of a triplet'],
  [1 / 8, 'eighth'],
  [3 / 32, 'dotted sixteenth'],
  [1 / 12, 'eighth of a triplet'],
  [1 / 16, 'sixteenth'],
  [1 / 24, 'sixteenth of a triplet'],
  [1 / 32, 'thirty-second'],
  [1 / 64, 'sixty-fourth'],
];

/** A length in words: the nearest value, "about" where it is not that value to the tick. */
export const lengthInWords = (ticks: number, ppq: number): string => {
  const fraction = ticks / ppq / 4;
  const [value, name] = NOTE_VALUES.reduce((best, candidate) =>
    Math.abs(Math.log(candidate[0] / fraction)) < Math.abs(Math.log(best[0] / fraction)) ? candidate : best,
  );
  return Math.abs(value - fraction) < 0.0025 ? name : `about ${/^[aeio]/.test(name) ? 'an' : 'a'} ${name}`;
};

const named = (fraction: number): string | undefined =>
  NOTE_VALUES.find(([value]) => Math.abs(value - fraction) < 1e-6)?.[1];

/** A written length in words: one value, or two that are tied; about one where more would be needed. */
export const writtenLengthInWords = (units: number, ppq: number): string => {
  const fraction = units / ppq / 4;
  const one = named(fraction);
  if (one) return one;
  for (const [value, name] of NOTE_VALUES) {
    const rest = value < fraction ? named(fraction - value) : undefined;
    if (rest) return `${name} tied to ${/^[aeio]/.test(rest) ? 'an' : 'a'} ${rest}`;
  }
  return lengthInWords(units, ppq);
};
