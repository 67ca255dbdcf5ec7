/** What beats are found by: moments at which something begins, in whatever part, with how much speaks in each. */
import type { Arrangement, Note, PartId } from '../../model/arrangement.js';
import { median } from '../../model/statistics.js';
import { createTempoMap, type TempoMap } from '../../time/tempoMap.js';
import { finished, type Search } from './search.js';

/** Notes that begin together. */
export interface Strike {
  /** Seconds from tick 0. */
  readonly at: number;
  /** How many begin. */
  readonly count: number;
  /** How much is heard of it: long, loud and low notes weigh more; about 1 on average. */
  readonly weight: number;
}

/** Starts this near to the one before are one moment, up to so far from the first (seconds): chords, parts that play together. */
const [TOGETHER, FARTHEST] = [0.03, 0.08];
/** What is shorter (seconds), and softer than so much of the usual, is a key that was brushed. */
const [BRUSHED, SOFT] = [0.045, 0.6];
/** A length that weighs in full (seconds). */
const LONG = 0.8;

interface Start {
  readonly at: number;
  readonly length: number;
  readonly velocity: number;
  readonly pitch: number;
}

const isBrushed = ({ length, velocity }: Start, usual: number): boolean => length < BRUSHED && velocity < usual * SOFT;

const startsOf = (notes: readonly Note[], map: TempoMap): readonly Start[] =>
  notes.flatMap((note): Start[] => {
    if (note.muted) return [];
    const at = map.secondsAt(note.onset);
    const length = map.secondsAt(note.onset + note.duration) - at;
    return [{ at, length, velocity: note.velocity, pitch: note.pitch }];
  });

/** So many groups are weighed from one word to the next. */
const AT_A_TIME = 2000;

/** The moments at which notes of some parts begin, in order; muted notes and brushed keys are none. */
export const strikesOf = (arrangement: Arrangement, partIds?: ReadonlySet<PartId>): readonly Strike[] =>
  finished(searchStrikes(arrangement, partIds));

/** As {@link strikesOf}, a piece at a time. */
export function* searchStrikes(arrangement: Arrangement, partIds?: ReadonlySet<PartId>): Search<readonly Strike[]> {
  const map = createTempoMap(arrangement.tempos, arrangement.ppq);
  const starts: Start[] = [];
  for (const { id, notes } of arrangement.parts) {
    if (partIds && !partIds.has(id)) continue;
    for (const start of startsOf(notes, map)) starts.push(start);
    yield 0;
  }
  starts.sort((a, b) => a.at - b.at);
  yield 0;
  const usual = median(starts.map(({ velocity }) => velocity)) ?? 64;
  const middle = median(starts.map(({ pitch }) => pitch)) ?? 60;
  yield 0;
  const groups: Start[][] = [];
  for (const start of starts) {
    if (isBrushed(start, usual)) continue;
    const last = groups[groups.length - 1];
    const [first, before] = [last?.[0], last?.[last.length - 1]];
    if (last && first && before && start.at - before.at < TOGETHER && start.at - first.at < FARTHEST) last.push(start);
    else groups.push([start]);
  }
  const heard: Strike[] = [];
  for (const group of groups) {
    if (heard.length % AT_A_TIME === 0) yield 0;
    const weight = group.reduce(
      (sum, { length, velocity, pitch }) =>
        sum +
        (0.3 + Math.min(1, length / LONG)) *
          (velocity / usual) *
          (1 + 0.01 * Math.max(-20, Math.min(20, middle - pitch))),
      0,
    );
    heard.push({ at: median(group.map(({ at }) => at)) ?? 0, count: group.length, weight });
  }
  const mean = heard.reduce((sum, { weight }) => sum + weight, 0) / Math.max(1, heard.length);
  return heard.map((strike) => ({ ...strike, weight: strike.weight / Math.max(1e-9, mean) }));
}
