/** Texts as they may be kept: whole characters, and no more of them than there is room for. */

/** Half of a pair of code units that stands alone: no character (Unicode 15, section 3.9, D75). */
const HALF = /\p{Surrogate}/gu;

/** True where every character is whole. */
export const isWholeText = (text: string): boolean => !/\p{Surrogate}/u.test(text);

/** The text with what is no character replaced, and cut to at most `most` UTF-16 code units, between characters. */
export const keptText = (text: string, most: number): string => {
  const cut = text.slice(0, most);
  const whole = cut.length < text.length ? cut.replace(/[\uD800-\uDBFF]$/, '') : cut;
  return whole.replace(HALF, '\uFFFD');
};
