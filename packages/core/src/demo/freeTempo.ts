/** A take with no click: played at a tempo of its own, in a file that knows nothing of it. */
import { type Arrangement, compareNotes, type Note } from '../model/arrangement.js';
import { createChance } from '../model/chance.js';
import { createTempoMap } from '../time/tempoMap.js';
import { ticks } from '../time/units.js';

/** How much longer a quarter lasts than it would, at a place in quarters. */
export type Bend = (quarters: number) => number;

/** A slow wander, phrases of four bars that press on and hold back, and a ritardando over the last two bars. */
export const freely = (seed: number, quartersPerBar: number, length: number, wander = 0.08): Bend => {
  const chance = createChance(seed * 97 + 3);
  const waves = [11, 23, 41].map((period) => ({
    period,
    phase: chance.between(0, 2 * Math.PI),
    size: chance.between(0.5, 1),
  }));
  const most = waves.reduce((sum, { size }) => sum + size, 0);
  const rubato = chance.between(0.02, 0.05);
  return (quarters) => {
    const slow = waves.reduce(
      (sum, { period, phase, size }) => sum + size * Math.sin((2 * Math.PI * quarters) / period + phase),
      0,
    );
    const along = (quarters % (4 * quartersPerBar)) / (4 * quartersPerBar);
    const phrase = rubato * Math.cos(2 * Math.PI * along);
    const toEnd = (length - quarters) / (2 * quartersPerBar);
    const ritardando = toEnd < 1 ? 0.5 * (1 - Math.max(0, toEnd)) ** 1.5 : 0;
    return (1 + (wander * slow) / most + phrase) * (1 + ritardando);
  };
};

/** On the click. */
export const steady: Bend = () => 1;

/** The last eight quarters slow down. */
export const slowsAtEnd =
  (length: number): Bend =>
  (quarters) =>
    1 + 0.6 * Math.max(0, 1 - (length - quarters) / 8);

/** The same take at a tempo of its own, in a file that says so many quarters a minute. */
export const atOwnTempo = (arrangement: Arrangement, bend: Bend, fileTempo: number): Arrangement => {
  const { ppq } = arrangement;
  const map = createTempoMap(arrangement.tempos, ppq);
  const end = Math.max(...arrangement.parts.flatMap(({ notes }) => notes.map((note) => note.onset + note.duration)));
  const steps = 24;
  // Seconds at each twenty-fourth of a quarter, by the middle of it.
  const times = [0];
  for (let step = 0; step <= (end / ppq) * steps + steps; step += 1) {
    const tick = (step * ppq) / steps;
    const lasts = map.secondsAt(tick + ppq / steps) - map.secondsAt(tick);
    times.push((times[step] as number) + lasts * bend((step + 0.5) / steps));
  }
  const moved = (tick: number): number => {
    const at = (tick / ppq) * steps;
    const low = Math.min(times.length - 2, Math.floor(at));
    const seconds = (times[low] as number) + (at - low) * ((times[low + 1] as number) - (times[low] as number));
    return Math.round((seconds * fileTempo * ppq) / 60);
  };
  return {
    ...arrangement,
    tempos: [{ tick: ticks(0), microsecondsPerQuarter: Math.round(60_000_000 / fileTempo) }],
    parts: arrangement.parts.map((part) => ({
      ...part,
      notes: part.notes
        .map((note): Note => {
          const onset = moved(note.onset);
          return {
            ...note,
            onset: ticks(onset),
            duration: ticks(Math.max(1, moved(note.onset + note.duration) - onset)),
          };
        })
        .sort(compareNotes),
      events: part.events.map((event) => ({ ...event, tick: ticks(moved(event.tick)) })),
    })),
  };
};
