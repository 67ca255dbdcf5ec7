/** MusicXML to engraved pages, with Verovio in Node. */
/// <reference path="./modules.d.ts" />
import { engraverOptions, type PageHead, type PageSetup, withPageHead } from '@crispfold/core';
import { VerovioToolkit } from 'verovio/esm';
import createVerovioModule from 'verovio/wasm';

let toolkit: Promise<VerovioToolkit> | undefined;

/** SVG of each page, with its head; throws where the MusicXML cannot be read. */
export const engravePages = async (musicXml: string, setup: PageSetup, head: PageHead): Promise<readonly string[]> => {
  toolkit ??= createVerovioModule().then((module) => new VerovioToolkit(module));
  const verovio = await toolkit;
  verovio.setOptions(engraverOptions(setup));
  if (!verovio.loadData(musicXml)) throw new Error('The engraver could not read the page.');
  return Array.from({ length: verovio.getPageCount() }, (_, index) =>
    withPageHead(verovio.renderToSVG(index + 1), head, index + 1, setup),
  );
};
