/** PDF files of an arrangement, made within the thread; several go into one zip. */
import type { PagesBody } from '@crispfold/contract';
import type { Arrangement } from '@crispfold/core';
import { pressFiles } from '@crispfold/press';
import { zipSync } from 'fflate';

/** What the thread is asked for. */
export interface PressAsked {
  readonly arrangement: Arrangement;
  readonly body: PagesBody;
}

/** What it answers. */
export type PressAnswer =
  | { readonly ok: true; readonly bytes: Uint8Array; readonly mediaType: string; readonly name: string }
  | { readonly ok: false; readonly message: string };

/** Letters of any script, digits and a few signs: what every file system takes. */
const fileName = (text: string): string =>
  text
    .replace(/[^\p{L}\p{N} ,._()'’-]/gu, '-')
    .trim()
    .slice(0, 120) || 'Crisp Fold';

/** Makes the files that a body asks for. */
export const pressedAnswer = async ({ arrangement, body }: PressAsked): Promise<PressAnswer> => {
  try {
    const { what, partIds, bars, concertPitch, order, paper, staff, barNumbers, restingStaves, composer, arranger } =
      body;
    const files = await pressFiles(arrangement, {
      what,
      concertPitch,
      order,
      composer,
      arranger,
      ...(partIds === null ? {} : { partIds }),
      ...(bars === null ? {} : { firstBar: bars.first, lastBar: bars.last }),
      setup: { paper, barNumbers, restingStaves, ...(staff === null ? {} : { staff }) },
    });
    const title = fileName(arrangement.title);
    const [first] = files;
    if (!first) return { ok: false, message: 'No part was chosen.' };
    if (files.length === 1) {
      const name = what === 'score' ? title : `${title}, ${fileName(first.part ?? '')}`;
      return { ok: true, bytes: first.bytes, mediaType: 'application/pdf', name: `${name}.pdf` };
    }
    const entries: { [name: string]: Uint8Array } = {};
    files.forEach(({ part, bytes }, index) => {
      entries[`${String(index + 1).padStart(2, '0')} ${fileName(part ?? '')}.pdf`] = bytes;
    });
    // PDF files are compressed already.
    const bytes = zipSync(entries, { level: 0 });
    return { ok: true, bytes, mediaType: 'application/zip', name: `${title}, parts.zip` };
  } catch (error) {
    return { ok: false, message: (error as Error).message };
  }
};
