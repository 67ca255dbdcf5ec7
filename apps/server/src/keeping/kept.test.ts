import { createHash } from 'node:crypto';
import { copyFileSync, existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { demoArrangement, LONGEST_RECORDING, wavBytes } from '@crispfold/core';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { ask, newFile, type Running, startServer, upload } from '../testing/running.js';
import { smallSoundFont } from '../testing/smallSoundFont.js';
import { clearOnce } from './clearing.js';
import { lookAt } from './looks.js';

const DAY = 86_400_000;
const inDays = (days: number): Date => new Date(Date.now() + days * DAY);
const wavOf = (frequency: number): Uint8Array =>
  wavBytes({ rate: 8000, data: Float32Array.from({ length: 900 }, (_, at) => Math.sin(at / frequency)) });
const hashOf = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

/** Adds a recording to a new arrangement of a server; answers where it is to be had. */
const addTo = async (server: Running, bytes: Uint8Array): Promise<string> => {
  const id = await server.store.create(demoArrangement());
  const { status, body } = await ask(server, `/${id}/recordings`, upload(['take.wav', bytes]));
  expect(status).toBe(201);
  return `/${id}/recordings/${body.id}`;
};
const bytesAt = async (server: Running, address: string): Promise<Uint8Array> =>
  new Uint8Array(await (await fetch(server.base + address)).arrayBuffer());
const keptIn = (folder: string): string[] =>
  existsSync(folder) ? readdirSync(folder).filter((name) => /^[0-9a-f]{64}$/.test(name)) : [];

describe('files kept beside several databases', () => {
  let first: Running;
  let second: Running;
  beforeEach(async () => {
    const file = newFile('first.sqlite');
    first = await startServer(file);
    second = await startServer(path.join(path.dirname(file), 'second.sqlite'));
  });
  afterEach(async () => {
    await first.stop();
    await second.stop();
  });

  it('are kept once where they are the same, and each database keeps its own whatever the other does', async () => {
    const both = wavOf(5);
    const [one, two] = [await addTo(first, both), await addTo(second, both)];
    const alone = await addTo(first, wavOf(9));
    expect(keptIn(first.recordings.files.folder).sort()).toEqual([hashOf(both), hashOf(wavOf(9))].sort());
    // A SoundFont of one takes none from the other.
    await fetch(new URL('/api/soundfont', first.base), upload(['A.sf2', smallSoundFont()]));
    await fetch(new URL('/api/soundfont', second.base), upload(['B.sf2', smallSoundFont({ end: 9 })]));
    const item = await first.soundFont.item();
    for (const day of [1, 40, 80]) {
      await first.recordings.files.clearUnnamed(inDays(day));
      await second.recordings.files.clearUnnamed(inDays(day));
      await second.soundFont.files.clearUnnamed(inDays(day));
    }
    expect(await bytesAt(first, one)).toEqual(both);
    expect(await bytesAt(second, two)).toEqual(both);
    expect(await bytesAt(first, alone)).toEqual(wavOf(9));
    const font = await (await fetch(new URL(`/api/soundfont/${item?.id}`, first.base))).arrayBuffer();
    expect(new Uint8Array(font)).toEqual(smallSoundFont());
  });

  it('stay through a backup that is put in place and given up again', async () => {
    const { file } = first.database;
    const early = path.join(path.dirname(file), 'early copy');
    await first.database.checkpoint();
    copyFileSync(file, early);
    const late = await addTo(first, wavOf(7));
    await first.stop();
    copyFileSync(file, `${early} of the newer`);
    const putInPlace = (copy: string) => {
      for (const ending of ['', '-wal', '-shm']) rmSync(file + ending, { force: true });
      copyFileSync(copy, file);
    };
    putInPlace(early);
    first = await startServer(file);
    await first.recordings.files.leaveList();
    await first.recordings.files.clearUnnamed(inDays(0));
    await first.recordings.files.clearUnnamed(inDays(29));
    await first.stop();
    putInPlace(`${early} of the newer`);
    first = await startServer(file);
    expect(await bytesAt(first, late)).toEqual(wavOf(7));
  });

  it('go after thirty days without a name, and that is told in the library and no more than once', async () => {
    const address = await addTo(first, wavOf(7));
    const [, id = ''] = address.split('/');
    await first.store.remove(id);
    await first.store.removeForGood(id);
    await second.recordings.files.leaveList();
    const kept = [{ what: 'recording', files: first.recordings.files }];
    await clearOnce(kept, first.notices, inDays(0));
    await clearOnce(kept, first.notices, inDays(29));
    expect(keptIn(first.recordings.files.folder)).toHaveLength(1);
    expect(await first.notices.list()).toEqual([]);
    await clearOnce(kept, first.notices, inDays(31));
    await clearOnce(kept, first.notices, inDays(32));
    expect(keptIn(first.recordings.files.folder)).toEqual([]);
    const told = (await (await fetch(new URL('/api/notices', first.base))).json()) as { id: number; text: string }[];
    expect(told.map(({ text }) => text)).toEqual([
      '1 recording that no arrangement has used for 30 days was deleted (0.0 MB).',
    ]);
    await fetch(new URL(`/api/notices/${told[0]?.id}`, first.base), { method: 'DELETE' });
    expect(await first.notices.list()).toEqual([]);
  });

  it('stay as long as a database lies there that has left no list', async () => {
    const address = await addTo(first, wavOf(7));
    const [, id = ''] = address.split('/');
    await second.recordings.files.leaveList();
    copyFileSync(first.database.file, path.join(path.dirname(first.database.file), 'a copy.sqlite'));
    await first.store.remove(id);
    await first.store.removeForGood(id);
    for (const day of [0, 31, 62]) await first.recordings.files.clearUnnamed(inDays(day));
    expect(keptIn(first.recordings.files.folder)).toHaveLength(1);
  });

  it('leave nothing in the work folder, kept or refused', async () => {
    const id = await first.store.create(demoArrangement());
    await Promise.all([
      ...Array.from({ length: 24 }, (_, at) => ask(first, `/${id}/recordings`, upload(['a.wav', wavOf(at + 2)]))),
      ask(first, `/${id}/recordings`, upload(['a.wav', 'no sound'])),
    ]);
    await expect.poll(() => readdirSync(first.workFolder)).toEqual([]);
    expect(await first.recordings.all()).toHaveLength(20);
  });
});

const MP3 = path.resolve(import.meta.dirname, '../../../../e2e/files/three-tones.mp3');

describe('a file that is to be kept', () => {
  const noise = Buffer.from(Array.from({ length: 200_000 }, (_, at) => (at * 7919 + ((at * at) >> 3)) & 255));
  const folder = path.dirname(newFile());
  let made = 0;
  const look = (kind: 'recording' | 'soundFont', bytes: Uint8Array | string) => {
    made += 1;
    mkdirSync(folder, { recursive: true });
    const file = path.join(folder, `${made}`);
    writeFileSync(file, bytes);
    return lookAt({ kind, file });
  };
  const wav = wavOf(5);
  const changed = (bytes: Uint8Array, change: (view: DataView) => void): Uint8Array => {
    const copy = new Uint8Array(bytes);
    change(new DataView(copy.buffer));
    return copy;
  };

  it.each(['flac', 'mp3', 'ogg'])('is decoded: %s', async (ending) => {
    const file = path.resolve(import.meta.dirname, `../../../../e2e/files/three-tones.${ending}`);
    expect(await lookAt({ kind: 'recording', file })).toMatchObject({ ok: true });
  });

  it.each([
    ['twelve bytes that begin as a wav file does', 'RIFF....WAVE'],
    ['a script behind a tag of an mp3 file', `ID3<script>${'alert(1);'.repeat(900)}</script>`],
    ['an mp3 file before a great deal that is none', Buffer.concat([readFileSync(MP3), noise])],
    ['a wav file without samples', wav.subarray(0, 44)],
    ['a wav file of a format that nobody plays', changed(wav, (view) => view.setUint16(20, 2, true))],
    ['a wav file whose frames have no length', changed(wav, (view) => view.setUint16(32, 0, true))],
    ['a wav file of no rate', changed(wav, (view) => view.setUint32(24, 0, true))],
    ['the head of an ogg file before noise', `OggS${'\u0003x7'.repeat(4000)}`],
    ['the head of a flac file before noise', `fLaC${'\u0003x7'.repeat(4000)}`],
  ])('is refused as a recording: %s', async (_, bytes) => {
    expect(await look('recording', bytes)).toMatchObject({
      ok: false,
      message: expect.stringContaining('no recording'),
    });
  });

  it('is refused where it is longer than a recording may be', async () => {
    const slow = changed(wav, (view) => view.setUint32(24, 1, true));
    const long = new Uint8Array(44 + 2 * (LONGEST_RECORDING + 1));
    long.set(slow.subarray(0, 44));
    new DataView(long.buffer).setUint32(40, long.length - 44, true);
    expect(await look('recording', long)).toMatchObject({ message: expect.stringContaining('longer than 30 minutes') });
  });

  it('is kept where it was cut off, as far as it goes', async () => {
    expect(await look('recording', wav.subarray(0, 700))).toMatchObject({ ok: true, mediaType: 'audio/wav' });
  });

  it.each([
    ['twelve bytes', 'RIFF\u0004\0\0\0sfbk'],
    ['no samples’ table', smallSoundFont({ without: 'shdr' })],
    ['no presets', smallSoundFont({ without: 'phdr' })],
    ['a sample that ends beyond what is there', smallSoundFont({ end: 65 })],
    ['cut off', smallSoundFont().subarray(0, 300)],
  ])('is refused as a SoundFont: %s', async (_, bytes) => {
    expect(await look('soundFont', bytes)).toMatchObject({ ok: false });
  });

  it('is taken as a SoundFont where its tables hold together', async () => {
    expect(await look('soundFont', smallSoundFont())).toMatchObject({ ok: true, hash: hashOf(smallSoundFont()) });
  });
});
