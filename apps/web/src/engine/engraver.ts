/** Engraves MusicXML with Verovio: what the worker does that stands away from the screen. */
import { withFlatGlyphs, withNudges } from '@crispfold/core';
import { expose } from 'comlink';
import { VerovioToolkit } from 'verovio/esm';
import createVerovioModule from 'verovio/wasm';
import { createScorePages } from './scorePages.js';

/** A bar with a metronome mark, whose notehead is a letter of the music font. */
const SOME_TEXT = `<score-partwise version="4.0"><part-list><score-part id="P1"><part-name/></score-part></part-list><part id="P1">
<measure number="1"><attributes><divisions>1</divisions><time><beats>1</beats><beat-type>4</beat-type></time></attributes>
<direction><direction-type><metronome><beat-unit>quarter</beat-unit><per-minute>60</per-minute></metronome></direction-type></direction>
<note><rest/><duration>1</duration><type>quarter</type></note></measure></part></score-partwise>`;

/** Made once, when first asked for. */
const once = <Value>(make: () => Promise<Value>): (() => Promise<Value>) => {
  let made: Promise<Value> | undefined;
  return () => {
    made ??= make();
    return made;
  };
};

/** An engraver, whose code is read at once. */
export const createEngraver = () => {
  const engraver = createVerovioModule();
  const toolkit = engraver.then((module) => new VerovioToolkit(module));
  /** Whole pages have a toolkit of their own: each holds one score. */
  const forPages = once(() => engraver.then((module) => new VerovioToolkit(module)));
  const worker = {
    ...createScorePages(forPages),

    /** Opens another line to it. */
    listen(port: MessagePort): void {
      expose(worker, port);
    },

    /** Answers once the engraver can be used. */
    async warm(): Promise<void> {
      await toolkit;
      await forPages();
    },

    /**
     * The music font, as a style of a page: a picture of a few bars is made without it, as reading it anew with each picture
     * takes longer than drawing them.
     */
    async textFont(): Promise<string> {
      const verovio = await toolkit;
      verovio.setOptions({ font: 'Leipzig', smuflTextFont: 'embedded' });
      verovio.loadData(SOME_TEXT);
      return /@font-face\s*\{[^}]*\}/.exec(verovio.renderToSVG(1))?.[0] ?? '';
    },

    /** SVG of one long system, sized by its view box; throws where the MusicXML cannot be read. Heads carry the ids of the file. */
    async engrave(musicXml: string): Promise<string> {
      const verovio = await toolkit;
      verovio.setOptions({
        scale: 40,
        breaks: 'none',
        adjustPageHeight: true,
        adjustPageWidth: true,
        pageMarginTop: 40,
        pageMarginBottom: 40,
        pageMarginLeft: 110,
        pageMarginRight: 30,
        header: 'none',
        footer: 'none',
        svgViewBox: true,
        // Without line breaks and indents: half as long, and as many fewer nodes for the browser to make.
        svgFormatRaw: true,
        spacingStaff: 6,
        font: 'Leipzig',
        smuflTextFont: 'none',
      });
      if (!verovio.loadData(musicXml)) throw new Error('the engraver could not read the page');
      return withFlatGlyphs(withNudges(verovio.renderToSVG(1), musicXml));
    },
  };
  return worker;
};

/** The worker as the screens see it. */
export type EngraverWorker = ReturnType<typeof createEngraver>;
