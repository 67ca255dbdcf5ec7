/** What a file is that is to be kept: looked at whole, and decoded, before anything of it is stored. */
import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import type { FileHandle } from 'node:fs/promises';
import { pipeline } from 'node:stream/promises';
import { LONGEST_RECORDING } from '@crispfold/core';
import { type Packing, secondsDecoded } from './decode.js';
import { isSoundFont } from './lookAtSoundFont.js';
import { secondsOfWav } from './lookAtWav.js';
import { withFile } from './riff.js';

/** A file, and what it is to be. */
export interface LookAsked {
  readonly kind: 'recording' | 'soundFont';
  readonly file: string;
}

/** What it is, and the SHA-256 of what it holds; or why it is refused, in a sentence. */
export type LookAnswer =
  | { readonly ok: true; readonly mediaType: string; readonly hash: string }
  | { readonly ok: false; readonly message: string };

/** Looks at one file. */
export type Look = (asked: LookAsked) => Promise<LookAnswer>;

interface Heard {
  readonly mediaType: string;
  readonly seconds: number | null;
}

const NO_RECORDING =
  'This file is no recording that can be read: it is neither wav, flac, mp3 nor ogg, or it is damaged.';
const NO_SOUNDFONT = 'This file is no SoundFont (.sf2 or .sf3), or it is damaged.';
const MINUTES = LONGEST_RECORDING / 60;

/** Enough of a file to tell its kind: of an Ogg file its first packet too (RFC 3533: the page's head is 27 bytes and more). */
const HEAD = 64;

const startsWith = (head: string, letters: string, at = 0): boolean => head.slice(at, at + letters.length) === letters;

/** What an Ogg file is packed as, by its first packet (Xiph.org, Vorbis I; RFC 7845; the FLAC to Ogg mapping). */
const packingOfOgg = (head: string): Packing | null => {
  const packet = head.slice(27 + head.charCodeAt(26));
  if (startsWith(packet, '\x01vorbis')) return 'vorbis';
  if (startsWith(packet, 'OpusHead')) return 'opus';
  return startsWith(packet, '\x7fFLAC') ? 'flac' : null;
};

/** By how a file begins: RIFF WAVE; RFC 9639; RFC 3533; ISO/IEC 11172-3 with or without an ID3 tag. */
const heard = async (handle: FileHandle, size: number): Promise<Heard | null> => {
  const bytes = Buffer.alloc(HEAD);
  await handle.read(bytes, 0, HEAD, 0);
  const head = bytes.toString('latin1');
  const decoded = (packing: Packing) => secondsDecoded(handle, size, packing, LONGEST_RECORDING);
  if (startsWith(head, 'RIFF') && startsWith(head, 'WAVE', 8))
    return { mediaType: 'audio/wav', seconds: await secondsOfWav(handle, size) };
  if (startsWith(head, 'fLaC')) return { mediaType: 'audio/flac', seconds: await decoded('flac') };
  if (startsWith(head, 'OggS')) {
    const packing = packingOfOgg(head);
    return { mediaType: 'audio/ogg', seconds: packing && (await decoded(packing)) };
  }
  const isMpeg = startsWith(head, 'ID3') || (bytes[0] === 0xff && ((bytes[1] ?? 0) & 0xe6) === 0xe2);
  return isMpeg ? { mediaType: 'audio/mpeg', seconds: await decoded('mp3') } : null;
};

/** Hashes a file, and has it on disk for good. */
const hashOf = async (file: string): Promise<string> => {
  await withFile(file, (handle) => handle.sync());
  const hash = createHash('sha256');
  await pipeline(createReadStream(file), hash);
  return hash.digest('hex');
};

/** Looks at one file, in the thread it is called in. */
export const lookAt: Look = async ({ kind, file }) => {
  if (kind === 'soundFont') {
    if (!(await withFile(file, isSoundFont))) return { ok: false, message: NO_SOUNDFONT };
    return { ok: true, mediaType: 'application/octet-stream', hash: await hashOf(file) };
  }
  const found = await withFile(file, heard);
  if (!found || found.seconds === null) return { ok: false, message: NO_RECORDING };
  if (found.seconds > LONGEST_RECORDING)
    return { ok: false, message: `This recording is longer than ${MINUTES} minutes.` };
  return { ok: true, mediaType: found.mediaType, hash: await hashOf(file) };
};
