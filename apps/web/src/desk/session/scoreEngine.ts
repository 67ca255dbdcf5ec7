/** Who lays out the score: the engraver that is warm, for few bars; a worker of its own for many, given up when it is not wanted. */
import type { Engines } from '../../engine/engine.js';
import type { ScorePages } from '../../engine/scorePages.js';

/** See the file's head. */
export class ScoreEngine {
  private far: ReturnType<Engines['farScorePages']> | null = null;
  /** True while the far worker lays out a score: until then it hears nothing else. */
  private laying = false;
  /** Who has the layout that is shown. */
  private shown: ScorePages | null = null;
  /** Its first page, engraved before anything else is asked of them. */
  private firstPage: Promise<string> | null = null;
  private layouts = 0;

  constructor(private readonly engines: Pick<Engines, 'farScorePages' | 'nearScorePages'>) {}

  /** A number for a layout, each another. */
  nextLayout(): number {
    this.layouts += 1;
    return this.layouts;
  }

  /** Lays out a score, a short one at once; a longer one that is still being laid out is given up. Answers its pages. */
  async lay(short: boolean, ...asks: Parameters<ScorePages['lay']>): Promise<number> {
    if (this.laying) {
      this.far?.end();
      [this.far, this.laying] = [null, false];
    }
    if (short) {
      const near = this.engines.nearScorePages();
      const pages = await near.lay(...asks);
      this.nowShown(near);
      return pages;
    }
    this.far ??= this.engines.farScorePages();
    const own = this.far;
    this.laying = true;
    try {
      const pages = await own.pages.lay(...asks);
      this.nowShown(own.pages);
      return pages;
    } finally {
      if (own === this.far) this.laying = false;
    }
  }

  /** Gives up the worker of long scores. */
  end(): void {
    this.far?.end();
    [this.far, this.laying, this.shown, this.firstPage] = [null, false, null, null];
  }

  /** SVG of a page, from 1, of the score that was laid out last. */
  async page(number: number): Promise<string> {
    return number === 1 && this.firstPage ? this.firstPage : this.theShown().page(number);
  }

  /** The page on which something stands, by its id; 0 for none. */
  async pageOf(id: string): Promise<number> {
    return this.theShown().pageOf(id);
  }

  private nowShown(pages: ScorePages): void {
    this.shown = pages;
    this.firstPage = pages.page(1);
    this.firstPage.catch(() => undefined);
  }

  private theShown(): ScorePages {
    if (!this.shown) throw new Error('no score was laid out');
    return this.shown;
  }
}
