/** Decodes sound files piece by piece, and keeps nothing of what comes out: that they can be heard is what is asked. */
import type { FileHandle } from 'node:fs/promises';
import { FLACDecoder } from '@wasm-audio-decoders/flac';
import { OggVorbisDecoder } from '@wasm-audio-decoders/ogg-vorbis';
import { MPEGDecoder } from 'mpg123-decoder';
import { OggOpusDecoder } from 'ogg-opus-decoder';

/** So much of a file is decoded at a time, in bytes. */
const PIECE = 64 * 1024;
/** A decoder's complaint stands for about so many samples that were none: one frame of MPEG audio. */
const SAMPLES_OF_A_FAULT = 1152;

/** What a decoder says of a piece. */
interface Decoded {
  readonly samplesDecoded: number;
  readonly sampleRate: number;
  readonly errors?: readonly unknown[];
}

interface Decoder {
  readonly ready: Promise<void>;
  decode(bytes: Uint8Array): Decoded | Promise<Decoded>;
  flush?(): Decoded | Promise<Decoded>;
  free(): void;
}

/** What a file of sound may be packed as. */
export type Packing = 'flac' | 'mp3' | 'vorbis' | 'opus';

const DECODERS: { readonly [packing in Packing]: () => Decoder } = {
  flac: () => new FLACDecoder() as unknown as Decoder,
  mp3: () => new MPEGDecoder() as unknown as Decoder,
  vorbis: () => new OggVorbisDecoder() as unknown as Decoder,
  opus: () => new OggOpusDecoder() as unknown as Decoder,
};

/**
 * How long it sounds, in seconds; no more than a little beyond `most` is decoded. Null where nothing, or less than half of it,
 * is sound.
 */
export const secondsDecoded = async (
  handle: FileHandle,
  size: number,
  packing: Packing,
  most: number,
): Promise<number | null> => {
  const decoder = DECODERS[packing]();
  let samples = 0;
  let rate = 0;
  let faults = 0;
  const count = (piece: Decoded) => {
    samples += piece.samplesDecoded;
    faults += piece.errors?.length ?? 0;
    rate = piece.sampleRate || rate;
  };
  try {
    await decoder.ready;
    for (let at = 0; at < size && (rate === 0 || samples / rate <= most); at += PIECE) {
      const bytes = new Uint8Array(Math.min(PIECE, size - at));
      await handle.read(bytes, 0, bytes.length, at);
      count(await decoder.decode(bytes));
    }
    if (decoder.flush) count(await decoder.flush());
  } catch {
    // What cannot be decoded further has been said all there is of it.
  } finally {
    decoder.free();
  }
  return samples === 0 || faults * SAMPLES_OF_A_FAULT > samples ? null : samples / rate;
};
