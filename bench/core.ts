/// <reference path="../packages/press/src/modules.d.ts" />
/** Times the way of a file through the computation: import, default plan, score, MusicXML. */
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import {
  type Arrangement,
  barsOfPiece,
  buildScore,
  compareNotes,
  importMidi,
  type Note,
  readPitches,
  runPlanOnAll,
  ticks,
  writeMusicXml,
  writePlayedMidi,
  writtenMaps,
} from '@crispfold/core';
import { VerovioToolkit } from 'verovio/esm';
import createVerovioModule from 'verovio/wasm';

/** Counted runs of each; the median stands. */
const RUNS = 5;
const SET = '/usr/share/planetblupi/music';

/** A made arrangement: eight lines of eighths and triplets with a human hand, `count` notes in all. */
const made = (count: number): Uint8Array => {
  const perPart = Math.round(count / 8);
  let seed = 7;
  const random = () => {
    seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0;
    return seed / 4294967296;
  };
  const parts = Array.from({ length: 8 }, (_, part) => ({
    id: part + 1,
    name: `Line ${part + 1}`,
    instrument: 'flute',
    channel: part,
    program: 73,
    events: [],
    notes: Array.from({ length: perPart }, (_, index): Note => {
      const onset = Math.max(0, Math.round(index * 240 + (random() - 0.5) * 24));
      const duration = Math.round(240 * (0.8 + random() * 0.25));
      return {
        id: part * perPart + index + 1,
        pitch: 60 + Math.floor(random() * 24),
        onset: ticks(onset),
        duration: ticks(duration),
        velocity: 60 + Math.floor(random() * 40),
        channel: part,
      };
    }).sort(compareNotes),
  }));
  const empty = importMidi([{ name: 'a.mid', bytes: new Uint8Array(readFileSync(path.join(SET, 'music000.mid'))) }]);
  if (!empty.ok) throw new Error(empty.problem.message);
  const arrangement: Arrangement = {
    ...empty.value.arrangement,
    title: 'Made',
    ppq: 480,
    silentTracks: [],
    markers: [],
    keys: [],
    parts,
  };
  return writePlayedMidi(arrangement);
};

const arrange = (name: string, bytes: Uint8Array): Arrangement => {
  const result = importMidi([{ name, bytes }]);
  if (!result.ok) throw new Error(result.problem.message);
  return result.value.arrangement;
};

interface Row {
  readonly name: string;
  readonly notes: number;
  readonly bars: number;
  /** Milliseconds, medians; the sort is of the same notes by start and pitch, in the same run. */
  readonly sort: number;
  readonly import: number;
  readonly plan: number;
  readonly musicXml: number;
  /** Verovio's loading of that file, once; null for made notes. */
  readonly verovio: number | null;
}

const verovio = new VerovioToolkit(await createVerovioModule());
verovio.setOptions({ breaks: 'none' });

const measure = (name: string, bytes: Uint8Array, withVerovio: boolean): Row => {
  const arrangement = arrange(name, bytes);
  const notes = arrangement.parts.flatMap((part) => part.notes);
  const shuffled = notes
    .map((note, index) => ({ note, key: Math.imul(index, 2654435761) >>> 0 }))
    .sort((a, b) => a.key - b.key)
    .map(({ note }) => note);
  const written = runPlanOnAll(arrangement);
  const maps = writtenMaps(arrangement);
  const times = (work: () => unknown): number => {
    const taken: number[] = [];
    for (let turn = 0; turn <= RUNS; turn += 1) {
      const began = performance.now();
      work();
      // The first one warms up.
      if (turn > 0) taken.push(performance.now() - began);
    }
    return taken.sort((a, b) => a - b)[RUNS >> 1] as number;
  };
  let turns = 0;
  /** The same at a tempo that nothing has been worked out for yet. */
  const anew = (): Arrangement => {
    turns += 1;
    const [first, ...others] = arrangement.tempos;
    const microsecondsPerQuarter = (first?.microsecondsPerQuarter ?? 500_000) + turns;
    return { ...arrangement, tempos: [{ tick: ticks(0), microsecondsPerQuarter }, ...others] };
  };
  let loading: number | null = null;
  if (withVerovio) {
    const musicXml = writeMusicXml(buildScore(arrangement, written, maps, readPitches(arrangement, written)), 'dense');
    const began = performance.now();
    verovio.loadData(musicXml);
    loading = performance.now() - began;
  }
  return {
    verovio: loading,
    name,
    notes: notes.length,
    bars: barsOfPiece(written, maps).length,
    sort: times(() => [...shuffled].sort((a, b) => a.onset - b.onset || a.pitch - b.pitch)),
    import: times(() => arrange(name, bytes)),
    plan: times(() => runPlanOnAll(anew())),
    musicXml: times(() => writeMusicXml(buildScore(arrangement, written, maps, readPitches(arrangement, written)))),
  };
};

const rows: Row[] = [];
for (const name of readdirSync(SET)
  .filter((file) => file.endsWith('.mid'))
  .sort()) {
  rows.push(measure(name, new Uint8Array(readFileSync(path.join(SET, name))), true));
}
for (const count of [25_000, 50_000, 100_000])
  rows.push(measure(`${count / 1000} thousand made notes`, made(count), false));
writeFileSync(process.argv[2] ?? 'bench-core.json', JSON.stringify(rows));
