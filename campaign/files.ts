/** Real files and made ones, damaged in thousands of ways, read in one process: none takes long, much, or ends in a stack trace. */
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { demoMidi, importMidi, madeScore, perform, writePlayedMidi } from '@crispfold/core';
import { chanceOf, type Tally } from './server.js';

/** Real music: Debian's package planetblupi-music-midi, where it is there. */
const REAL = '/usr/share/planetblupi/music';
const SLOWEST = 5000;
const MOST_MEGABYTES = 500;

const sources = (): Uint8Array[] => {
  const real = existsSync(REAL)
    ? readdirSync(REAL)
        .filter((name) => name.endsWith('.mid'))
        .map((name) => new Uint8Array(readFileSync(path.join(REAL, name))))
    : [];
  const made = (['line', 'keyboard', 'percussion'] as const).map((kind, at) =>
    writePlayedMidi(
      perform(
        madeScore({
          seed: at + 1,
          kind,
          style: 'mixed',
          meter: { numerator: 4, denominator: 4 },
          bars: 24,
          quartersPerMinute: 100,
        }),
        { seed: 3, ppq: 480, spread: 10, lengths: [0.8, 1.04], doubles: 0, specks: 0 },
      ),
    ),
  );
  return [demoMidi(), ...made, ...real];
};

/** One damage: bytes changed, cut out, doubled, put in; a length that lies; the end cut off. */
const damage = (bytes: Uint8Array, chance: () => number): Uint8Array => {
  const at = (most = bytes.length) => Math.floor(chance() * most);
  const copy = new Uint8Array(bytes);
  switch (Math.floor(chance() * 7)) {
    case 0:
      for (let times = 1 + at(40); times > 0; times -= 1) copy[at()] = at(256);
      return copy;
    case 1:
      return copy.subarray(0, at());
    case 2: {
      const from = at();
      return new Uint8Array([...copy.subarray(0, from), ...copy.subarray(from + at(200))]);
    }
    case 3: {
      const from = at();
      const piece = copy.subarray(from, from + at(400));
      return new Uint8Array([...copy.subarray(0, from), ...piece, ...piece, ...copy.subarray(from)]);
    }
    case 4:
      // A header or a track that says something untrue of itself.
      for (let times = 0; times < 3; times += 1) copy[4 + at(26)] = at(256);
      return copy;
    case 5: {
      const from = at();
      return new Uint8Array([
        ...copy.subarray(0, from),
        ...Array.from({ length: at(60) }, () => 128 + at(128)),
        ...copy.subarray(from),
      ]);
    }
    default:
      for (let from = at(); from < copy.length; from += 1 + at(90)) copy[from] = 0xff;
      return copy;
  }
};

export const damagedFiles = async (more: () => boolean): Promise<Tally> => {
  const chance = chanceOf(11);
  const problems: string[] = [];
  const all = sources();
  let files = 0;
  let read = 0;
  let slowest = 0;
  let largest = 0;
  while (more()) {
    let bytes = all[Math.floor(chance() * all.length)] as Uint8Array;
    for (let times = 1 + Math.floor(chance() * 3); times > 0; times -= 1) bytes = damage(bytes, chance);
    const began = performance.now();
    try {
      const result = importMidi([{ name: 'damaged.mid', bytes }]);
      if (result.ok) {
        read += 1;
        // What was read can be written, and read again.
        const again = importMidi([{ name: 'again.mid', bytes: writePlayedMidi(result.value.arrangement) }]);
        if (!again.ok) problems.push(`what was read of file ${files} cannot be read again: ${again.problem.message}`);
      } else if (!/[.]$/.test(result.problem.message)) problems.push(`no sentence: ${result.problem.message}`);
    } catch (error) {
      problems.push(`file ${files} threw ${(error as Error).stack?.slice(0, 300)}`);
    }
    const took = performance.now() - began;
    slowest = Math.max(slowest, took);
    if (took > SLOWEST) problems.push(`file ${files} took ${Math.round(took)} ms`);
    files += 1;
    if (files % 50 === 0) {
      const { heapUsed } = process.memoryUsage();
      largest = Math.max(largest, heapUsed / 1024 / 1024);
      if (heapUsed / 1024 / 1024 > MOST_MEGABYTES)
        problems.push(`${Math.round(heapUsed / 1024 / 1024)} MB after file ${files}`);
      await new Promise((resolve) => setImmediate(resolve));
    }
  }
  return {
    files,
    read,
    refused: files - read,
    slowestMilliseconds: Math.round(slowest),
    megabytes: Math.round(largest),
    problems,
  };
};
