/** The score and the players' parts of an arrangement as PDF files. */
import {
  type Arrangement,
  buildScore,
  type PageSetup,
  type PartId,
  pageSetupFor,
  pageTurns,
  readPitches,
  runPlanOnAll,
  writeMusicXml,
  writtenMaps,
} from '@crispfold/core';
import { engravePages } from './engraver.js';
import { pdfOf } from './pdf.js';

/** What a person chose for the pages. */
export interface PressOptions {
  /** One file of all chosen parts, or one file for each of them. */
  readonly what: 'score' | 'parts';
  /** All parts where left out. */
  readonly partIds?: readonly PartId[];
  /** Bars counted from 1, a pickup too; the whole piece where left out. */
  readonly firstBar?: number;
  readonly lastBar?: number;
  readonly concertPitch?: boolean;
  readonly order?: 'own' | 'families';
  /** What differs from the usual set-up for so many parts. */
  readonly setup?: Partial<PageSetup>;
  readonly composer?: string;
  readonly arranger?: string;
}

/** A file made, by the name of the part it is for; null for the score. */
export interface PressedFile {
  readonly part: string | null;
  readonly pages: number;
  readonly bytes: Uint8Array;
}

/** Makes the files; the plan is run once. Throws where a page cannot be engraved. */
export const pressFiles = async (arrangement: Arrangement, options: PressOptions): Promise<readonly PressedFile[]> => {
  const maps = writtenMaps(arrangement);
  const written = runPlanOnAll(arrangement);
  const reading = readPitches(arrangement, written);
  const chosen = arrangement.parts.map(({ id }) => id).filter((id) => !options.partIds || options.partIds.includes(id));
  if (chosen.length === 0) throw new Error('No part was chosen.');
  const { composer = '', arranger = '', concertPitch = false, order = 'own', firstBar, lastBar } = options;
  const bars = { ...(firstBar ? { firstBar } : {}), ...(lastBar ? { lastBar } : {}) };
  const press = async (partIds: readonly PartId[], single: boolean): Promise<PressedFile> => {
    const laid = { ...bars, partIds, concertPitch, order, longRests: single };
    const score = buildScore(arrangement, written, maps, reading, laid);
    if (score.bars.length === 0) throw new Error('These bars are not in the piece.');
    const part = single ? (score.parts[0]?.name ?? '') : null;
    const setup: PageSetup = { ...pageSetupFor(partIds.length), ...options.setup };
    const head = { title: arrangement.title, part: part ?? '', composer, arranger };
    const pages = await engravePages(writeMusicXml(score, 'dense'), setup, head, pageTurns(score));
    const title = part === null ? arrangement.title : `${arrangement.title}, ${part}`;
    return { part, pages: pages.length, bytes: await pdfOf(pages, setup, title) };
  };
  if (options.what === 'score') return [await press(chosen, chosen.length === 1)];
  const files: PressedFile[] = [];
  for (const id of chosen) files.push(await press([id], true));
  return files;
};
