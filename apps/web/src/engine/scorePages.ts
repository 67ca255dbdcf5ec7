/** Lays out a whole score in a worker, and engraves its pages one by one. */
import { layPages, type PageHead, type PageSetup, withFlatGlyphs, withNudges, withPageHead } from '@crispfold/core';
import type { VerovioToolkit } from 'verovio/esm';

/** What a worker offers of a score; pages are counted from 1. */
export const createScorePages = (toolkit: () => Promise<VerovioToolkit>) => {
  let drawn: { readonly musicXml: string; readonly setup: PageSetup; readonly head: PageHead } | null = null;
  return {
    /** Lays out a score, its pages turned where `turns` lets a player; answers how many pages it has. Throws where the MusicXML cannot be read. */
    async lay(musicXml: string, setup: PageSetup, head: PageHead, turns: readonly number[]): Promise<number> {
      const verovio = await toolkit();
      layPages(verovio, musicXml, setup, turns);
      drawn = { musicXml, setup, head };
      return verovio.getPageCount();
    },

    /** SVG of a page. */
    async page(number: number): Promise<string> {
      if (!drawn) throw new Error('no score was laid out');
      const { musicXml, head, setup } = drawn;
      const picture = withNudges((await toolkit()).renderToSVG(number), musicXml);
      return withFlatGlyphs(withPageHead(picture, head, number, setup));
    },

    /** The page on which a bar or a notehead stands, by its id; 0 where it stands on none. */
    async pageOf(id: string): Promise<number> {
      return (await toolkit()).getPageWithElement(id);
    },
  };
};

/** The same, as a screen sees it. */
export type ScorePages = ReturnType<typeof createScorePages>;
