/**
 * Recordings and SoundFonts: a great many at once, killed half-way, of two databases in one folder, a backup put in place and
 * taken back. What was acknowledged comes back byte for byte; others are answered meanwhile.
 */
import { createHash } from 'node:crypto';
import { copyFileSync, existsSync, mkdirSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import path from 'node:path';
import { Worker } from 'node:worker_threads';
import { demoArrangement, demoMidi, prepareExport, wavBytes } from '@crispfold/core';
import { smallSoundFont } from '../apps/server/src/testing/smallSoundFont.js';
import { asForm, asJson, chanceOf, type Tally, Tried } from './server.js';

/** A wav file of so many bytes of sound, each time another. */
const wavOf = (bytes: number, seed: number): Uint8Array => {
  const wav = wavBytes({ rate: 44_100, data: new Float32Array(Math.floor(bytes / 2)) });
  const view = new DataView(wav.buffer);
  const chance = chanceOf(seed);
  for (let at = 44; at + 4 <= wav.length; at += 4096) view.setUint32(at, chance() * 2 ** 32);
  return wav;
};

const hashOf = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

const createdBy = async (server: Tried): Promise<string> =>
  ((await server.ask('/api/arrangements', asForm(['a.mid', demoMidi()]))).body as { open: { id: string } }).open.id;

const add = (server: Tried, id: string, bytes: Uint8Array) =>
  server.ask(`/api/arrangements/${id}/recordings`, asForm(['take.wav', bytes]));

const comesBack = async (server: Tried, id: string, recording: string, hash: string): Promise<boolean> => {
  const response = await fetch(new URL(`/api/arrangements/${id}/recordings/${recording}`, server.address));
  return response.status === 200 && hashOf(new Uint8Array(await response.arrayBuffer())) === hash;
};

/** Saves one change after another in a thread of its own: this process is held up by what it sends. */
const ASKING = `
const { parentPort, workerData } = require('node:worker_threads');
let going = true;
parentPort.once('message', () => { going = false; });
(async () => {
  let asked = 0, refused = 0, worst = 0;
  while (going) {
    const entries = [{ kind: 'edit', edit: { label: 'meanwhile ' + asked, changes: [] } }];
    const began = performance.now();
    const { status } = await fetch(workerData, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ baseRevision: asked - refused, entries }),
    });
    worst = Math.max(worst, performance.now() - began);
    asked += 1;
    if (status !== 200) refused += 1;
    await new Promise((resolve) => setTimeout(resolve, 20));
  }
  parentPort.postMessage({ asked, refused, worst });
})();
`;

const askMeanwhile = (address: string) => {
  const worker = new Worker(ASKING, { eval: true, workerData: address });
  return {
    end: () =>
      new Promise<{ asked: number; refused: number; worst: number }>((resolve, reject) => {
        worker.once('message', resolve);
        worker.once('error', reject);
        worker.postMessage('end');
      }),
  };
};

/** Ten recordings of a hundred megabytes at once; then forty-five small ones, of which twenty are kept; then backups from elsewhere. */
export const manyRecordings = async (): Promise<Tally> => {
  const problems: string[] = [];
  const server = new Tried();
  await server.start();
  const id = await createdBy(server);
  const large = Array.from({ length: 10 }, (_, at) => wavOf(100 * 1024 * 1024, at + 1));
  // Making them held this process up.
  await new Promise((resolve) => setTimeout(resolve, 500));
  const others = askMeanwhile(new URL(`/api/arrangements/${id}/journal`, server.address).href);
  let most = 0;
  const watching = setInterval(() => {
    void server.megabytes().then((now) => {
      most = Math.max(most, now);
    });
  }, 100);
  const began = performance.now();
  const answers = await Promise.all(large.map((bytes) => add(server, id, bytes)));
  const took = performance.now() - began;
  const { asked, refused, worst } = await others.end();
  clearInterval(watching);
  if (refused > 0) problems.push(`${refused} edits meanwhile were refused`);
  for (const { status } of answers) if (status !== 201) problems.push(`a large recording was answered ${status}`);
  const other = await createdBy(server);
  const many = await Promise.all(Array.from({ length: 45 }, (_, at) => add(server, other, wavOf(20_000, 100 + at))));
  const kept = many.filter(({ status }) => status === 201).length;
  if (kept !== 20) problems.push(`of 45 recordings at once ${kept} were kept`);
  const elsewhere = await Promise.all(
    Array.from({ length: 12 }, () =>
      fetch(new URL('/api/backup?recordings=true', server.address), { headers: { 'Sec-Fetch-Site': 'cross-site' } }),
    ),
  );
  if (elsewhere.some(({ status }) => status !== 403)) problems.push('another site took a backup');
  // Twelve of our own, given up half-way.
  await Promise.all(
    Array.from({ length: 12 }, async () => {
      const left = new AbortController();
      const asking = fetch(new URL('/api/backup?recordings=true', server.address), { signal: left.signal });
      setTimeout(() => left.abort(), 400);
      await asking.then((response) => response.arrayBuffer()).catch(() => undefined);
    }),
  );
  const left = () => readdirSync(`${server.file}.work`);
  for (let looks = 0; looks < 100 && left().length > 0; looks += 1)
    await new Promise((resolve) => setTimeout(resolve, 100));
  const copies = left().length;
  if (copies > 0) problems.push(`left in the work folder: ${left().join(', ')}`);
  await server.end('SIGKILL');
  await server.start();
  await server.end('SIGTERM');
  rmSync(server.folder, { recursive: true, force: true });
  return {
    recordingsAtOnce: 10,
    seconds: Math.round(took / 1000),
    editsMeanwhile: asked,
    othersWaited: `${Math.round(worst)} ms`,
    mostMegabytes: most,
    keptOf45: kept,
    copiesLeft: copies,
    problems,
  };
};

interface Kept {
  readonly recording: string;
  readonly hash: string;
}

/** Two databases in one folder, each with recordings and a SoundFont; one gives way to its backup and comes back. */
export const twoDatabases = async (more: () => boolean): Promise<Tally> => {
  const problems: string[] = [];
  const counts = { rounds: 0, recordings: 0, soundFonts: 0, restarts: 0, backupsPutInPlace: 0 };
  const first = new Tried();
  const second = new Tried(first.folder, 'other.sqlite');
  await Promise.all([first.start(), second.start()]);
  const chance = chanceOf(31);
  const ids = new Map([
    [first, await createdBy(first)],
    [second, await createdBy(second)],
  ]);
  const kept = new Map<Tried, Kept[]>([
    [first, []],
    [second, []],
  ]);
  const fonts = new Map<Tried, string>();
  const check = async (server: Tried, when: string): Promise<void> => {
    for (const { recording, hash } of kept.get(server) ?? [])
      if (!(await comesBack(server, ids.get(server) as string, recording, hash)))
        problems.push(`${when}: a recording is not there any more`);
    const font = fonts.get(server);
    if (!font) return;
    const item = (await server.ask('/api/soundfont')).body as { id: string } | null;
    const response = await fetch(new URL(`/api/soundfont/${item?.id}`, server.address));
    if (hashOf(new Uint8Array(await response.arrayBuffer())) !== font)
      problems.push(`${when}: the SoundFont is not there any more`);
  };
  const everyFile = ['', '-wal', '-shm'];
  for (let round = 0; (more() || round < 3) && problems.length === 0; round += 1) {
    for (const server of [first, second]) {
      // Some are the same in both.
      const seed = chance() < 0.4 ? 7 : round * 2 + (server === first ? 1000 : 2001);
      const bytes = wavOf(30_000, seed);
      if ((kept.get(server)?.length ?? 0) < 20) {
        const answer = await add(server, ids.get(server) as string, bytes);
        if (answer.status !== 201) problems.push(`a recording was answered ${answer.status}`);
        else kept.get(server)?.push({ recording: (answer.body as { id: string }).id, hash: hashOf(bytes) });
        counts.recordings += 1;
      }
      const font = smallSoundFont({ end: 10 + Math.floor(chance() * 40) });
      if ((await server.ask('/api/soundfont', asForm(['Hall.sf2', font]))).status !== 201)
        problems.push('a SoundFont was refused');
      fonts.set(server, hashOf(font));
      counts.soundFonts += 1;
    }
    // The first one gives way to a backup of its beginning, is served so, and comes back.
    if (chance() < 0.5) {
      await first.end('SIGTERM');
      const aside = path.join(first.folder, 'aside');
      mkdirSync(aside, { recursive: true });
      for (const ending of everyFile) {
        try {
          copyFileSync(first.file + ending, path.join(aside, `first${ending}`));
        } catch {
          // There is none.
        }
        rmSync(first.file + ending, { force: true });
      }
      await first.start();
      await createdBy(first);
      await first.end(chance() < 0.5 ? 'SIGKILL' : 'SIGTERM');
      for (const ending of everyFile) {
        rmSync(first.file + ending, { force: true });
        try {
          copyFileSync(path.join(aside, `first${ending}`), first.file + ending);
        } catch {
          // There was none.
        }
      }
      await first.start();
      counts.backupsPutInPlace += 1;
    }
    for (const server of [first, second]) {
      if (chance() < 0.6) {
        await server.end(chance() < 0.5 ? 'SIGKILL' : 'SIGTERM');
        await server.start();
        counts.restarts += 1;
      }
      await check(server, `round ${round}`);
    }
    counts.rounds += 1;
  }
  await Promise.all([first.end(), second.end()]);
  return { ...counts, problems };
};

/** Killed while recordings are brought in: what was acknowledged is there, byte for byte, and the folder holds nothing half. */
export const killedWithRecordings = async (more: () => boolean): Promise<Tally> => {
  const problems: string[] = [];
  const chance = chanceOf(47);
  const counts = { kills: 0, acknowledged: 0, scores: 0, underWay: 0 };
  const server = new Tried();
  const score = prepareExport(demoArrangement())('mxl');
  const broughtIn: string[] = [];
  const folder = path.join(server.folder, 'recordings');
  await server.start();
  let id = await createdBy(server);
  let kept: Kept[] = [];
  let seed = 0;
  const work = async (): Promise<void> => {
    for (;;) {
      if (kept.length >= 18) {
        id = await createdBy(server);
        kept = [];
      }
      if (chance() < 0.4) {
        const made = await server.ask('/api/arrangements', asForm(['a.mxl', score]));
        if (made.status !== 201) problems.push(`a score was answered ${made.status}`);
        else broughtIn.push((made.body as { open: { id: string } }).open.id);
        counts.scores += 1;
        continue;
      }
      seed += 1;
      const bytes = wavOf(200_000 + Math.floor(chance() * 3_000_000), seed);
      counts.underWay += 1;
      const answer = await add(server, id, bytes);
      if (answer.status === 422) {
        // What was under way at a kill may have got through, and counts.
        id = await createdBy(server);
        kept = [];
        continue;
      }
      if (answer.status !== 201) problems.push(`a recording was answered ${answer.status}`);
      else kept.push({ recording: (answer.body as { id: string }).id, hash: hashOf(bytes) });
      counts.acknowledged += 1;
    }
  };
  while (more() && problems.length === 0) {
    const working = work().catch(() => undefined);
    await new Promise((resolve) => setTimeout(resolve, 50 + chance() * 900));
    await server.end('SIGKILL');
    counts.kills += 1;
    await working;
    await server.start();
    for (const { recording, hash } of kept)
      if (!(await comesBack(server, id, recording, hash))) problems.push('an acknowledged recording is not there');
    const listed = new Set(((await server.ask('/api/arrangements')).body as { id: string }[]).map((own) => own.id));
    for (const own of broughtIn) if (!listed.has(own)) problems.push('an acknowledged score is not there');
    const newest = broughtIn[broughtIn.length - 1];
    if (newest && (await server.ask(`/api/arrangements/${newest}`)).status !== 200)
      problems.push('an acknowledged score does not open');
    const files = existsSync(folder) ? readdirSync(folder) : [];
    for (const name of files.filter((own) => /^[0-9a-f]{64}$/.test(own)))
      if (chance() < 0.1 && hashOf(readFileSync(path.join(folder, name))) !== name)
        problems.push('a file is not what its name says');
  }
  await server.end();
  rmSync(server.folder, { recursive: true, force: true });
  return { ...counts, problems };
};
