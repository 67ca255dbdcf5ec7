/** Who lays out the score: the engraver that is warm, for few bars; a worker of its own for many, given up when it is not wanted. */
import { farScorePages, nearScorePages } from '../../engine/engine.js';
import type { ScorePages } from '../../engine/scorePages.js';

let far: ReturnType<typeof farScorePages> | null = null;
/** True while the far worker lays out a score: until then it hears nothing else. */
let laying = false;
/** Who has the layout that is shown. */
let shown: ScorePages | null = null;
/** Its first page, engraved before anything else is asked of them. */
let firstPage: Promise<string> | null = null;

const nowShown = (pages: ScorePages): void => {
  shown = pages;
  firstPage = pages.page(1);
  firstPage.catch(() => undefined);
};

/** Lays out a score, a short one at once; a longer one that is still being laid out is given up. Answers its pages. */
export const layScore = async (short: boolean, ...asks: Parameters<ScorePages['lay']>): Promise<number> => {
  if (laying) {
    far?.end();
    [far, laying] = [null, false];
  }
  if (short) {
    const pages = await nearScorePages().lay(...asks);
    nowShown(nearScorePages());
    return pages;
  }
  far ??= farScorePages();
  const own = far;
  laying = true;
  try {
    const pages = await own.pages.lay(...asks);
    nowShown(own.pages);
    return pages;
  } finally {
    if (own === far) laying = false;
  }
};

/** Gives up the worker of long scores. */
export const endLongScores = (): void => {
  far?.end();
  [far, laying, shown, firstPage] = [null, false, null, null];
};

const theShown = (): ScorePages => {
  if (!shown) throw new Error('no score was laid out');
  return shown;
};

/** SVG of a page, from 1, of the score that was laid out last. */
export const scorePage = async (number: number): Promise<string> =>
  number === 1 && firstPage ? firstPage : theShown().page(number);

/** The page on which something stands, by its id; 0 for none. */
export const pageOfId = async (id: string): Promise<number> => theShown().pageOf(id);
