/**
 * How many cases a property tries. `npm test` tries what finds a mistake made today; `CRISPFOLD_CASES` times as many are tried
 * where it is set: 5 before a release, a fifth where each of many breaks is looked for.
 */
const TIMES = Number(process.env.CRISPFOLD_CASES ?? 1);

/** Whether more than `npm test` tries is asked for: what else is long is then done whole as well. */
export const THOROUGH = TIMES > 1;

/** Options of a property for so many cases in `npm test`. */
export const cases = (count: number): { readonly numRuns: number } => ({
  numRuns: Math.max(1, Math.round(count * TIMES)),
});
