/** Times what is heard of a take: its beats, against sorting its notes; the shape and the attacks of a recording, against adding up its samples. */
import { readFileSync, writeFileSync } from 'node:fs';
import { findAttacks, findBeats, importMidi, median, peaksOfSamples, tempoMisfit } from '@crispfold/core';

/** Milliseconds of the middle of five turns, after one. */
const timed = (act: () => unknown): number => {
  act();
  return (
    median(
      Array.from({ length: 5 }, () => {
        const began = performance.now();
        act();
        return performance.now() - began;
      }),
    ) ?? 0
  );
};

const takes = ['music005.mid', 'music009.mid'].map((name) => {
  const read = importMidi([{ name, bytes: new Uint8Array(readFileSync(`/usr/share/planetblupi/music/${name}`)) }]);
  if (!read.ok) throw new Error(read.problem.message);
  const { arrangement } = read.value;
  const notes = arrangement.parts.flatMap((part) => part.notes);
  const sort = timed(() => [...notes].sort((a, b) => a.onset - b.onset || a.pitch - b.pitch));
  const beats = timed(() => findBeats(arrangement));
  // What is known of the same parts is not asked again: another list of them is.
  const check = timed(() => tempoMisfit({ ...arrangement, parts: [...arrangement.parts] }));
  return { name, notes: notes.length, sort, beats, check };
});

const RATE = 44_100;
const MINUTES = 10;
/** A tone a fifth of a second, each dying away, over a little noise. */
const data = Float32Array.from({ length: RATE * 60 * MINUTES }, (_, index) => {
  const within = index % (RATE / 5);
  return 0.6 * Math.exp(-within / 4000) * Math.sin(index * 0.07) + 0.001 * Math.sin(index * 1.7);
});
const sum = timed(() => data.reduce((total, sample) => total + Math.abs(sample), 0));
const recording = {
  minutes: MINUTES,
  sum,
  peaks: timed(() => peaksOfSamples(data)),
  attacks: timed(() => findAttacks({ rate: RATE, data })),
};
const result = { takes, recording };
console.log(result);
writeFileSync(process.argv[2] ?? 'bench-takes.json', JSON.stringify(result));
