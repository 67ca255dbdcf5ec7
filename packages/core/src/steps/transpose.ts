/** Transpose: by semitones, octaves, or steps of the key. */
import { MAJOR_SCALE } from '../pitch/scales.js';
import { countOfNotes } from '../reading/noteWords.js';
import { eachNote, type Step } from './step.js';

/** `pitch` moved by steps of the major scale with this signature; a note outside the scale keeps its distance to it. */
const byScale = (pitch: number, steps: number, fifths: number): number => {
  const tonic = (((fifths * 7) % 12) + 12) % 12;
  const height = pitch - tonic;
  const octave = Math.floor(height / 12);
  const inOctave = height - octave * 12;
  let degree = 6;
  while ((MAJOR_SCALE[degree] as number) > inOctave) degree -= 1;
  const raised = inOctave - (MAJOR_SCALE[degree] as number);
  const target = degree + steps;
  return tonic + 12 * (octave + Math.floor(target / 7)) + (MAJOR_SCALE[((target % 7) + 7) % 7] as number) + raised;
};

/** A note that would leave 0…127 stays where it is. */
export const transpose: Step<'transpose'> = {
  id: 'transpose',
  name: 'Transpose',
  explanation:
    'Moves pitches by semitones, octaves or steps of the key. Times stay; so does what would leave 0 to 127.',
  defaults: { semitones: 0, octaves: 0, steps: 0 },
  fields: {
    semitones: { kind: 'number', label: 'Semitones', min: -48, max: 48 },
    octaves: { kind: 'number', label: 'Octaves', min: -6, max: 6 },
    steps: { kind: 'number', label: 'Steps of the key', min: -28, max: 28 },
  },
  once: true,
  sees: 'selected',
  run: (notes, context, { semitones, octaves, steps }) => {
    let beyond = 0;
    const result = eachNote(notes, (note) => {
      const scaled = steps === 0 ? note.pitch : byScale(note.pitch, steps, context.fifths);
      const pitch = scaled + semitones + 12 * octaves;
      if (pitch < 0 || pitch > 127) beyond += 1;
      if (pitch === note.pitch || pitch < 0 || pitch > 127) return null;
      return {
        to: { ...note, pitch },
        reason: `${Math.abs(pitch - note.pitch)} semitones ${pitch > note.pitch ? 'up' : 'down'}`,
      };
    });
    return beyond === 0
      ? result
      : { ...result, notice: `Left alone, as they would leave 0 to 127: ${countOfNotes(beyond)}.` };
  },
};
