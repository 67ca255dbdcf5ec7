/** Stretch: half, double, or any ratio, about the first start. */
import { eachNote, placed, type Step } from './step.js';

/** Parameters of Stretch. */
export interface StretchParameters {
  /** New length over old, in percent: 200 is double. */
  readonly ratio: number;
}

/** Starts and lengths together. What follows the notes stays where it is. */
export const stretch: Step<StretchParameters> = {
  id: 'stretch',
  name: 'Stretch',
  explanation: 'Makes a passage longer or shorter about its first start. What follows it stays.',
  defaults: { ratio: 100 },
  fields: { ratio: { kind: 'number', label: 'To', min: 10, max: 800, unit: '%' } },
  once: true,
  sees: 'selected',
  run: (notes, _context, { ratio }) => {
    const origin = notes.reduce((low, n) => (n.muted ? low : Math.min(low, n.onset)), Number.POSITIVE_INFINITY);
    return eachNote(notes, (note) => {
      const onset = Math.round(origin + ((note.onset - origin) * ratio) / 100);
      const duration = Math.max(Math.min(1, note.duration), Math.round((note.duration * ratio) / 100));
      if (onset === note.onset && duration === note.duration) return null;
      return { to: placed(note, onset, duration), reason: `stretched to ${ratio} %` };
    });
  },
};
