/** Work that is done a piece at a time, so that whoever asked can do other things in between, or give it up. */

/** A search that says from time to time which share of it is done, from 0 to 1, and answers at its end. */
export type Search<Answer> = Generator<number, Answer, void>;

/** What it says before its last piece: 1 is for one that has answered. */
export const ALMOST = 0.999;

/** What a search answers, with nobody watching it. */
export const finished = <Answer>(search: Search<Answer>): Answer => {
  for (;;) {
    const step = search.next();
    if (step.done) return step.value;
  }
};
