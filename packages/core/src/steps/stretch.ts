/** Stretch: half, double, or any ratio, about a point. */

import { endOf } from '../model/arrangement.js';
import { placed } from '../reading/stepNote.js';
import { eachNote, type Step } from './step.js';

/** Starts and lengths together. What follows the notes moves only if asked, and on a selection alone; pedals stay. */
export const stretch: Step<'stretch'> = {
  id: 'stretch',
  name: 'Stretch',
  explanation: 'Makes a passage longer or shorter, starts and lengths alike. What follows it stays, unless asked.',
  defaults: { ratio: 100, about: 'start', after: 'stays' },
  fields: {
    ratio: { kind: 'number', label: 'To', min: 10, max: 800, unit: '%' },
    about: {
      kind: 'choice',
      label: 'About',
      choices: [
        { value: 'start', label: 'its first start' },
        { value: 'middle', label: 'its middle' },
        { value: 'end', label: 'its last end' },
      ],
    },
    after: {
      kind: 'choice',
      label: 'What follows',
      choices: [
        { value: 'stays', label: 'stays' },
        { value: 'moves', label: 'moves with its end' },
      ],
    },
  },
  once: true,
  sees: 'selected',
  run: (notes, _context, { ratio, about, after }) => {
    let start = Number.POSITIVE_INFINITY;
    let end = 0;
    for (const note of notes) {
      if (note.muted) continue;
      start = Math.min(start, note.onset);
      end = Math.max(end, endOf(note));
    }
    // Nothing may be pushed before bar 1.
    const wanted = { start, middle: (start + end) / 2, end }[about];
    const origin = ratio > 100 ? Math.min(wanted, (start * ratio) / (ratio - 100)) : wanted;
    const result = eachNote(notes, (note) => {
      const onset = Math.round(origin + ((note.onset - origin) * ratio) / 100);
      const duration = Math.max(Math.min(1, note.duration), Math.round((note.duration * ratio) / 100));
      if (onset === note.onset && duration === note.duration) return null;
      return { to: placed(note, onset, duration), reason: `stretched to ${ratio} %` };
    });
    const by = Math.round(origin + ((end - origin) * ratio) / 100) - end;
    return after === 'moves' && by !== 0 && result.changes.length > 0
      ? { ...result, follows: { from: end, by } }
      : result;
  },
};
