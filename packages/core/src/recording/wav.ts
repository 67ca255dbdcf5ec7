/** A wav file of samples (RIFF WAVE, PCM of 16 bits; Microsoft and IBM, Multimedia Programming Interface 1.0, 1991). */
import type { Samples } from './attacks.js';

const HEADER = 44;

/** The bytes of a wav file with one channel; samples beyond -1 to 1 are cut. */
export const wavBytes = ({ rate, data }: Samples): Uint8Array => {
  const bytes = new Uint8Array(HEADER + 2 * data.length);
  const view = new DataView(bytes.buffer);
  const letters = (at: number, text: string) => {
    bytes.set(new TextEncoder().encode(text), at);
  };
  letters(0, 'RIFF');
  view.setUint32(4, bytes.length - 8, true);
  letters(8, 'WAVEfmt ');
  view.setUint32(16, 16, true);
  view.setUint16(20, 1, true);
  view.setUint16(22, 1, true);
  view.setUint32(24, rate, true);
  view.setUint32(28, 2 * rate, true);
  view.setUint16(32, 2, true);
  view.setUint16(34, 16, true);
  letters(36, 'data');
  view.setUint32(40, 2 * data.length, true);
  data.forEach((sample, index) => {
    view.setInt16(HEADER + 2 * index, Math.round(32767 * Math.max(-1, Math.min(1, sample))), true);
  });
  return bytes;
};
