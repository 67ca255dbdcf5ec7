/** Typed results for the edges, where bad input is expected. */

/** What was wrong, as a short code for programs and a sentence for musicians. */
export interface Problem {
  readonly code: string;
  readonly message: string;
}

/** Either a value or the problem that stood in its way. */
export type Result<Value> =
  | { readonly ok: true; readonly value: Value }
  | { readonly ok: false; readonly problem: Problem };

/** A good result. */
export const success = <Value>(value: Value): Result<Value> => ({ ok: true, value });
/** A failed result. */
export const failure = (code: string, message: string): Result<never> => ({ ok: false, problem: { code, message } });
