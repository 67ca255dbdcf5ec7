/** Engraved pages to a PDF file with its fonts embedded. */
/// <reference path="./modules.d.ts" />
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import path from 'node:path';
import { PAPERS, type PageSetup } from '@crispfold/core';
import { create, type Font } from 'fontkit';
import PDFDocument from 'pdfkit';
import drawSvg from 'svg-to-pdfkit';
import { musicFace, printable } from './printable.js';

const require = createRequire(import.meta.url);
const fontFile = (name: string, file: string): string =>
  path.join(path.dirname(require.resolve(`${name}/package.json`)), file);

const STYLES = ['400-normal', '400-italic', '700-normal', '700-italic'] as const;
type Style = (typeof STYLES)[number];
const DEJAVU: { readonly [style in Style]: string } = {
  '400-normal': 'DejaVuSerif.ttf',
  '400-italic': 'DejaVuSerif-Italic.ttf',
  '700-normal': 'DejaVuSerif-Bold.ttf',
  '700-italic': 'DejaVuSerif-BoldItalic.ttf',
};
/** What the Latin face has; any other letter takes the wider one. */
const LATIN = /^[\u0020-\u007e\u00a0-\u00ff\u2013\u2014\u2018-\u201d\u2022\u2026\u20ac]*$/;
/** Music signs among words are drawn, in no face. */
const MUSIC_SIGNS = /[\ue000-\uf8ff]/g;
const POINTS_PER_MILLIMETRE = 72 / 25.4;

type Face = 'latin' | 'wide';

const fileOf = (face: Face, style: Style): string =>
  face === 'latin'
    ? fontFile('@fontsource/tinos', `files/tinos-latin-${style}.woff`)
    : fontFile('dejavu-fonts-ttf', `ttf/${DEJAVU[style]}`);

const openFaces = new Map<Face, Font>();
const boldFace = (face: Face): Font => {
  const font = openFaces.get(face) ?? (create(readFileSync(fileOf(face, '700-normal'))) as Font);
  openFaces.set(face, font);
  return font;
};

/** A PDF of engraved pages; `title` stands in its properties. */
export const pdfOf = async (pages: readonly string[], { paper }: PageSetup, title: string): Promise<Uint8Array> => {
  const { width, height } = PAPERS[paper];
  const size: [number, number] = [width * POINTS_PER_MILLIMETRE, height * POINTS_PER_MILLIMETRE];
  const document = new PDFDocument({
    autoFirstPage: false,
    size,
    margin: 0,
    info: { Title: title, Creator: 'Crisp Fold' },
  });
  for (const style of STYLES) {
    for (const face of ['latin', 'wide'] as const) document.registerFont(`${face} ${style}`, fileOf(face, style));
  }
  const music = pages.map(musicFace).find((face) => face !== null) ?? null;
  const chunks: Buffer[] = [];
  document.on('data', (chunk: Buffer) => chunks.push(chunk));
  const ended = new Promise<void>((resolve, reject) => {
    document.once('end', resolve);
    document.once('error', reject);
  });
  for (const own of pages) {
    document.addPage({ size, margin: 0 });
    // Verovio names the Times face; where its words need more than Latin letters, the whole page takes the wider face.
    const texts = [...own.matchAll(/>([^<]*)<\/(?:text|tspan)>/g)].map((match) => match[1] ?? '');
    const face = texts.every((text) => LATIN.test(text.replace(MUSIC_SIGNS, '').trim())) ? 'latin' : 'wide';
    const page = printable(own, music && { music, words: boldFace(face) });
    drawSvg(document, page, 0, 0, {
      width: size[0],
      height: size[1],
      fontCallback: (_family, bold, italic) => `${face} ${bold ? '700' : '400'}-${italic ? 'italic' : 'normal'}`,
      warningCallback: () => undefined,
    });
  }
  document.end();
  await ended;
  return new Uint8Array(Buffer.concat(chunks));
};
