/** Whether a RIFF WAVE file holds samples that a browser plays. */
import type { FileHandle } from 'node:fs/promises';
import { bytesOf, chunksIn } from './riff.js';

/** Formats of samples: PCM, IEEE float, A-law, mu-law, and the one that names these in a field of its own. */
const FORMATS = new Set([1, 3, 6, 7]);
const EXTENSIBLE = 0xfffe;

/** How long it lasts, in seconds; null where it is none. A file that was cut off lasts as long as what is there. */
export const secondsOfWav = async (handle: FileHandle, size: number): Promise<number | null> => {
  const chunks = await chunksIn(handle, 12, size);
  const format = chunks.find(({ id }) => id === 'fmt ');
  const data = chunks.find(({ id }) => id === 'data');
  if (!format || !data || format.end - format.start < 16) return null;
  const said = await bytesOf(handle, format.start, Math.min(format.end, format.start + 40));
  const tag = said.getUint16(0, true);
  const own = tag === EXTENSIBLE && said.byteLength >= 26 ? said.getUint16(24, true) : tag;
  const [channels, rate, block, bits] = [
    said.getUint16(2, true),
    said.getUint32(4, true),
    said.getUint16(12, true),
    said.getUint16(14, true),
  ];
  const fits = channels > 0 && bits % 8 === 0 && bits > 0 && bits <= 64 && block === (channels * bits) / 8;
  if (!FORMATS.has(own) || !fits || rate === 0 || data.end - data.start < block) return null;
  return (data.end - data.start) / block / rate;
};
