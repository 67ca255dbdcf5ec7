/** Follow: takes timing from another part. */

import { inMilliseconds } from '../reading/noteWords.js';
import { placed } from '../reading/stepNote.js';
import { lengthInTicks, noteValue } from '../time/noteLengths.js';
import { lastIndexAtOrBefore } from '../time/search.js';
import { eachNote, type Step, unchanged } from './step.js';

/** Notes with no start of the leader near them stay. */
export const follow: Step<'follow'> = {
  id: 'follow',
  name: 'Follow',
  explanation: 'Moves starts to those of another part. Notes with no start of that part near them stay; so do lengths.',
  defaults: { part: 0, window: noteValue(1 / 16), strength: 100 },
  fields: {
    part: { kind: 'part', label: 'Part to follow' },
    window: { kind: 'length', label: 'Where it starts within' },
    strength: { kind: 'number', label: 'Strength', min: 0, max: 100, unit: '%' },
  },
  once: true,
  sees: 'selected',
  looksAt: ({ part }) => (part === 0 ? {} : { parts: [part] }),
  run: (notes, context, { part, window, strength }) => {
    const leader = part === 0 ? [] : context.onsetsOf(part);
    if (leader.length === 0) return unchanged(notes);
    return eachNote(notes, (note) => {
      const at = lastIndexAtOrBefore(leader, note.onset, (onset) => onset);
      const near = [leader[at], leader[at + 1]].filter((onset) => onset !== undefined);
      const target = near.reduce((best, onset) =>
        Math.abs(onset - note.onset) < Math.abs(best - note.onset) ? onset : best,
      );
      const reach = lengthInTicks(window, context.ppq, context.tempoMap.ticksPerMillisecond(note.onset));
      const shift = Math.round(((target - note.onset) * strength) / 100);
      if (shift === 0 || Math.abs(target - note.onset) > reach) return null;
      const reason = `${inMilliseconds(shift, note.onset, context)} ${shift > 0 ? 'before' : 'after'} the part it follows`;
      return { to: placed(note, note.onset + shift, note.duration), reason };
    });
  },
};
