/** Damaged scores, MIDI files and archives: refused in words, or stored so that they can be had again whole. */
import { type Arrangement, demoArrangement, importMidi, preludeArrangement, prepareExport } from '@crispfold/core';
import { archiveBytes, readArchive } from '../apps/server/src/archive.js';
import { ArrangementStore } from '../apps/server/src/arrangementStore.js';
import { openDatabase } from '../apps/server/src/db/database.js';
import { notToBeKept } from '../apps/server/src/gate.js';
import { chanceFrom, damaged } from '../apps/server/src/testing/damaged.js';
import { goesRound } from '../apps/server/src/testing/goesRound.js';
import { type Tally, Tried } from './server.js';

/** One in so many of those that are read is exported too: a page takes longer than all else together. */
const EXPORTED = 10;

type Read = { readonly arrangement: Arrangement } | { readonly refused: string };

/** As the server reads a file, in this process: a thread for each of thousands would take longest of all. */
const readAs = (name: string, bytes: Uint8Array): Read => {
  if (name.endsWith('.zip')) {
    try {
      return { arrangement: readArchive(bytes).arrangement };
    } catch (error) {
      if ((error as { status?: number }).status !== 422) throw error;
      return { refused: (error as Error).message };
    }
  }
  const result = importMidi([{ name, bytes }]);
  return result.ok ? { arrangement: result.value.arrangement } : { refused: result.problem.message };
};

export const damagedScores = async (more: () => boolean): Promise<Tally> => {
  const problems: string[] = [];
  const counts = {
    files: 0,
    scores: 0,
    archives: 0,
    midi: 0,
    refused: 0,
    stored: 0,
    exported: 0,
    gateClosed: 0,
    slowest: 0,
  };
  const database = await openDatabase(new Tried().file, 'apps/server/migrations');
  const store = new ArrangementStore(database.db);
  const chance = chanceFrom(61);
  const sources = [preludeArrangement(), demoArrangement()].flatMap((piece) => {
    const write = prepareExport(piece);
    const archive = archiveBytes({ arrangement: piece, entries: [], position: 0 });
    return [
      ['scores', 'a.musicxml', write('musicxml')],
      ['scores', 'a.mxl', write('mxl')],
      ['midi', 'a.mid', write('midi-played')],
      ['archives', 'a.zip', archive],
    ] as const;
  });
  while (more() && problems.length < 5) {
    const seed = Math.floor(chance() * 2 ** 31);
    const [kind, name, bytes] = sources[Math.floor(chance() * sources.length)] as (typeof sources)[number];
    const began = performance.now();
    try {
      const read = readAs(name, damaged(bytes, seed, 1 + Math.floor(chance() * 3)));
      if ('refused' in read) {
        counts.refused += 1;
        if (!/[.]$/.test(read.refused)) problems.push(`file ${seed}: no sentence: ${read.refused}`);
      } else if (notToBeKept(read.arrangement)) counts.gateClosed += 1;
      else {
        const exported = counts.stored % EXPORTED === 0;
        for (const problem of await goesRound(store, read.arrangement, exported))
          problems.push(`file ${seed}: ${problem}`);
        counts.stored += 1;
        if (exported) counts.exported += 1;
      }
    } catch (error) {
      problems.push(`file ${seed} (${name}) threw ${(error as Error).stack?.slice(0, 400)}`);
    }
    counts.slowest = Math.max(counts.slowest, Math.round(performance.now() - began));
    counts.files += 1;
    counts[kind] += 1;
    if (counts.files % 50 === 0) await new Promise((resolve) => setImmediate(resolve));
  }
  await database.close();
  return { ...counts, problems };
};
