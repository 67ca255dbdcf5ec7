/** MusicXML to engraved pages, with Verovio in Node. */
/// <reference path="./modules.d.ts" />
import { layPages, type PageHead, type PageSetup, withNudges, withPageHead } from '@crispfold/core';
import { VerovioToolkit } from 'verovio/esm';
import createVerovioModule from 'verovio/wasm';

let toolkit: Promise<VerovioToolkit> | undefined;

/** SVG of each page, with its head, turned where `turns` lets the player; throws where the MusicXML cannot be read. */
export const engravePages = async (
  musicXml: string,
  setup: PageSetup,
  head: PageHead,
  turns: readonly number[],
): Promise<readonly string[]> => {
  toolkit ??= createVerovioModule().then((module) => new VerovioToolkit(module));
  const verovio = await toolkit;
  layPages(verovio, musicXml, setup, turns);
  return Array.from({ length: verovio.getPageCount() }, (_, index) =>
    withPageHead(withNudges(verovio.renderToSVG(index + 1), musicXml), head, index + 1, setup),
  );
};
