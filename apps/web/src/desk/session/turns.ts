/** Work that is done one after the other, in the order in which it was asked for. */

/** See the file's head. */
export interface Turns {
  /** Does the work when all before it is done; resolves when it is. */
  readonly take: (work: () => Promise<void> | void) => Promise<void>;
}

export const createTurns = (): Turns => {
  let before: Promise<void> = Promise.resolve();
  return {
    take: (work) => {
      before = before.then(work);
      return before;
    },
  };
};
