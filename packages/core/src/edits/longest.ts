/** What no edit goes beyond: the longest piece. */
import { type Arrangement, endOf } from '../model/arrangement.js';
import type { Edit } from '../model/edit.js';
import { LONGEST_HOURS, MOST_BARS } from '../model/limits.js';
import { createMeterMap } from '../time/meterMap.js';
import { createTempoMap } from '../time/tempoMap.js';

/** Why a piece cannot reach to a tick, in words; null where it can. */
export const beyondLongest = (arrangement: Arrangement, tick: number): string | null => {
  const hours = createTempoMap(arrangement.tempos, arrangement.ppq).secondsAt(tick) / 3600;
  const bars = createMeterMap(arrangement.meters, arrangement.ppq).barAt(tick).index + 1;
  if (hours <= LONGEST_HOURS && bars <= MOST_BARS) return null;
  return `The piece would be longer than ${LONGEST_HOURS} hours or ${MOST_BARS.toLocaleString('en')} bars. Nothing was changed.`;
};

/** Why an Edit would make the piece too long, in words; null where it would not. What was too long already may stay; O(changed). */
export const editTooLong = (arrangement: Arrangement, edit: Edit): string | null => {
  let [before, after] = [0, 0];
  for (const change of edit.changes) {
    if (change.kind !== 'notes') continue;
    for (const note of change.added) after = Math.max(after, endOf(note));
    for (const pair of change.changed) {
      before = Math.max(before, endOf(pair.before));
      after = Math.max(after, endOf(pair.after));
    }
  }
  return after > before ? beyondLongest(arrangement, after) : null;
};
