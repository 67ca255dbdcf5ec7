/**
 * How many cases a property tries. `npm test` tries what finds a mistake made today; `CRISPFOLD_CASES` times as many are tried
 * where it is set: 10 before a release, a quarter where each of many breaks is looked for.
 */
const TIMES = Number(process.env.CRISPFOLD_CASES ?? 1);

/** Options of a property for so many cases in `npm test`. */
export const cases = (count: number): { readonly numRuns: number } => ({
  numRuns: Math.max(1, Math.round(count * TIMES)),
});
