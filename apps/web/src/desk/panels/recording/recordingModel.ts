/** What the recording panel reads. No browser here. */

/**
 * Where the recording begins as it was typed, in seconds from bar 1, which may be below 0; after a + it is what is added to
 * `now`. Null where it is neither.
 */
export const offsetTyped = (text: string, now: number): number | null => {
  const [, plus, amount] = /^\s*(\+?)\s*([-−]?\d+(?:[.,]\d+)?)\s*s?\s*$/.exec(text) ?? [];
  if (amount === undefined) return null;
  const seconds = Number(amount.replace('−', '-').replace(',', '.'));
  return plus ? now + seconds : seconds;
};
