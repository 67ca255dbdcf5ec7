/** A tempo map made of beats: each beat of the take stands on a beat of the page, and every note sounds when it did. */
import type { Arrangement } from '../model/arrangement.js';
import type { Edit } from '../model/edit.js';
import { beatsBefore, type FoundBeats } from '../reading/beats/findBeats.js';
import type { TempoChange } from '../time/tempoMap.js';
import { ticks } from '../time/units.js';
import { keepingTimes } from './keepingTimes.js';

/** Beats this near to a straight line are one tempo (seconds)… */
const STEADY = 0.02;
/** …where there are so many of them. */
const STEADY_BEATS = 12;
/** A first beat this near to the beginning is at the beginning (seconds). */
const A_HAIR = 0.012;
/** Beats are no farther off than this, in microseconds. */
const MOST_OWED = 100;
/** What a MIDI file can say, in microseconds a quarter. */
const SLOWEST = 16_777_215;

/** The straight line through times by their index: where it begins, and how much it rises. */
const lineThrough = (
  times: readonly number[],
  from: number,
  to: number,
): { readonly begins: number; readonly rises: number } => {
  const count = to - from + 1;
  const middle = (count - 1) / 2;
  let [mean, along, across] = [0, 0, 0];
  for (let index = from; index <= to; index += 1) mean += (times[index] as number) / count;
  for (let index = from; index <= to; index += 1) {
    along += (index - from - middle) * ((times[index] as number) - mean);
    across += (index - from - middle) ** 2;
  }
  const rises = along / Math.max(1e-9, across);
  return { begins: mean - middle * rises, rises };
};

const isSteady = (times: readonly number[], from: number, to: number): boolean => {
  const { begins, rises } = lineThrough(times, from, to);
  for (let index = from; index <= to; index += 1)
    if (Math.abs(begins + rises * (index - from) - (times[index] as number)) > STEADY) return false;
  return true;
};

/** The last beat up to which a steady stretch that begins at one goes; that beat itself where there is none. */
const steadyUntil = (times: readonly number[], from: number): number => {
  if (from + STEADY_BEATS >= times.length || !isSteady(times, from, from + STEADY_BEATS)) return from;
  let [good, step] = [from + STEADY_BEATS, STEADY_BEATS];
  while (step >= 1) {
    if (good + step < times.length && isSteady(times, from, good + step)) good += step;
    else step = Math.floor(step / 2);
  }
  return good;
};

/** Times with steady stretches drawn straight, so that a tempo that holds is one tempo. */
export const steadied = (times: readonly number[]): readonly number[] => {
  const result = [...times];
  for (let from = 0; from < times.length - 1; ) {
    const to = steadyUntil(times, from);
    if (to > from) {
      const { begins, rises } = lineThrough(times, from, to);
      for (let index = from; index <= to; index += 1) result[index] = begins + rises * (index - from);
    }
    from = Math.max(from + 1, to);
  }
  return result;
};

/** The tempi that put found beats on beats of the page, one for as long as it holds. */
export const temposOfBeats = (found: FoundBeats, ppq: number): readonly TempoChange[] => {
  const before = beatsBefore(found);
  const times = steadied(found.times);
  const first = times[0] ?? 0;
  const beat = Math.max(0.05, (times[1] ?? 1) - first);
  // What lies before the first beat takes the time that it took; where that is none at all, it begins at once.
  const lead = before > 0 && first > 0.05 * beat * before ? first : before * beat;
  const all =
    before === 0
      ? Math.abs(first) < A_HAIR
        ? times.map((time) => time - first)
        : [0, ...times.slice(1)]
      : [
          ...Array.from({ length: before }, (_, index) => (lead * index) / before),
          ...(lead === first ? times : times.map((time) => time - first + lead)),
        ];
  const tempos: TempoChange[] = [];
  const length = found.quarters * ppq;
  let owed = 0;
  for (let index = 0; index + 1 < all.length; index += 1) {
    const lasts = Math.max(0.01, (all[index + 1] as number) - (all[index] as number));
    const plain = (lasts / found.quarters) * 1e6;
    const wanted = plain + owed / found.quarters;
    const last = tempos[tempos.length - 1];
    // A tempo goes on where it is a microsecond off, as whole ones are all that a file can say, until that adds up.
    const same = last && Math.abs(last.microsecondsPerQuarter - plain) < 1.5 && Math.abs(owed) < MOST_OWED;
    const microsecondsPerQuarter = same
      ? last.microsecondsPerQuarter
      : Math.max(1, Math.min(SLOWEST, Math.round(wanted)));
    owed = (wanted - microsecondsPerQuarter) * found.quarters;
    if (!same) tempos.push({ tick: ticks(Math.round(index * length)), microsecondsPerQuarter });
  }
  return tempos;
};

/** The Edit that makes the beats of the take the beats of the page. Notes and messages sound when they did, to half a millisecond. */
export const followBeats = (arrangement: Arrangement, found: FoundBeats): Edit =>
  keepingTimes(arrangement, {
    label: 'Tempo from the take',
    changes: [
      {
        kind: 'arrangementFields',
        before: { tempos: arrangement.tempos },
        after: { tempos: temposOfBeats(found, arrangement.ppq) },
      },
    ],
  });
