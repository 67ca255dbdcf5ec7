/** When the audio clock may rest: while nothing sounds it costs a laptop's battery as much as a page does that is being worked on. */

/** So long after the last sound, in milliseconds: tones have died away by then. */
const QUIET_MILLISECONDS = 4000;

/** What is told of sounds, so that `suspend` is called once when all has been quiet for `after` milliseconds. */
export interface Rest {
  /** Something sounds from now on, until it {@link ends}. */
  begins(what: string): void;
  /** It no longer does, or was never begun. */
  ends(what: string): void;
}

/** See {@link Rest}. */
export const createRest = (suspend: () => void, after = QUIET_MILLISECONDS): Rest => {
  const sounding = new Set<string>();
  let timer: ReturnType<typeof setTimeout> | undefined;
  return {
    begins: (what) => {
      sounding.add(what);
      clearTimeout(timer);
    },
    ends: (what) => {
      if (!sounding.delete(what) || sounding.size > 0) return;
      clearTimeout(timer);
      timer = setTimeout(suspend, after);
    },
  };
};
