/** Large and hostile uploads while others ask; and what memory is left when all is over. */
import { demoArrangement, demoMidi, writePlayedMidi } from '@crispfold/core';
import { asForm, type Tally, Tried } from './server.js';

/** The server takes no more than this, in megabytes. How long others wait is told, not judged: other work of the machine counts too. */
const MOST_MEGABYTES = 1024;
/** So many arrangements are opened, one after another. */
const OPENED = 200;

/** Twenty megabytes of the smallest messages that there are. */
const hostile = (): Uint8Array => {
  const bytes = new Uint8Array(20 * 1024 * 1024 - 64);
  bytes.set([0x4d, 0x54, 0x68, 0x64, 0, 0, 0, 6, 0, 0, 0, 1, 1, 0xe0, 0x4d, 0x54, 0x72, 0x6b]);
  new DataView(bytes.buffer).setUint32(18, bytes.length - 22);
  bytes.set([0x00, 0xd0, 0x40], 22);
  for (let at = 25; at + 1 < bytes.length; at += 2) bytes.set([0x00, 0x41], at);
  return bytes;
};

/** As many notes as a file may hold. */
const full = (): Uint8Array => {
  const demo = demoArrangement();
  const [flute] = demo.parts;
  if (!flute) throw new Error('The demo has parts.');
  const notes = Array.from({ length: 299_000 }, (_, at) => ({
    ...(flute.notes[at % flute.notes.length] as (typeof flute.notes)[number]),
    id: at + 1,
    onset: ((at >> 3) * 40) as (typeof flute.notes)[number]['onset'],
  }));
  return writePlayedMidi({ ...demo, parts: [{ ...flute, notes }] });
};

export const underLoad = async (): Promise<Tally> => {
  const problems: string[] = [];
  const server = new Tried();
  await server.start();
  let most = 0;
  /** Asks for something small over and over while `work` goes on. */
  const meanwhile = async <Value>(work: Promise<Value>): Promise<{ value: Value; worst: number }> => {
    let going = true;
    let worst = 0;
    const asking = (async () => {
      while (going) {
        const began = performance.now();
        await server.ask('/api/sentences').catch(() => problems.push('others were not answered'));
        worst = Math.max(worst, performance.now() - began);
        most = Math.max(most, await server.megabytes());
        await new Promise((resolve) => setTimeout(resolve, 15));
      }
    })();
    const value = await work;
    going = false;
    await asking;
    return { value, worst: Math.round(worst) };
  };
  await server.ask('/api/sentences');
  const atFirst = await server.megabytes();
  const ids: string[] = [];
  for (let at = 0; at < OPENED; at += 1) {
    const made = (await server.ask('/api/arrangements', asForm(['a.mid', demoMidi()]))).body as {
      open: { id: string };
    };
    ids.push(made.open.id);
  }
  for (const one of ids) await server.ask(`/api/arrangements/${one}`);
  const after200 = await server.megabytes();
  /** The answer is not looked into: this process would be held up, and take that for the server's slowness. */
  const send = async (form: RequestInit): Promise<number> => {
    const response = await fetch(new URL('/api/arrangements', server.address), form);
    const reader = response.body?.getReader();
    while (reader && !(await reader.read()).done);
    return response.status;
  };
  /** Making files holds this process up: lines that the server gave up meanwhile must be noticed before they are used. */
  const noticed = () => new Promise((resolve) => setTimeout(resolve, 100));
  const hostileFiles = asForm(['a.mid', hostile()], ['b.mid', hostile()], ['c.mid', hostile()]);
  await noticed();
  const three = await meanwhile(send(hostileFiles));
  if (three.value !== 422) problems.push(`three hostile files were answered ${three.value}`);
  const fullFile = asForm(['full.mid', full()]);
  await noticed();
  const large = await meanwhile(send(fullFile));
  if (large.value !== 201) problems.push(`the largest file was answered ${large.value}`);
  if (most > MOST_MEGABYTES) problems.push(`${most} MB while files were read`);
  await new Promise((resolve) => setTimeout(resolve, 10_000));
  const after = await server.megabytes();
  const stop = await server.end('SIGTERM');
  return {
    othersWaitedForHostileFiles: `${three.worst} ms`,
    othersWaitedForTheLargestFile: `${large.worst} ms`,
    mostMegabytes: most,
    megabytesAtFirst: atFirst,
    megabytesAfter200Opened: after200,
    megabytesAfterTheLargestFile: after,
    stop: `${stop} ms`,
    problems,
  };
};
