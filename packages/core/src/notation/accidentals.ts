/** Which accidentals to draw: those that neither the key nor an earlier sign in the bar says. */
import type { ScoreEvent } from './score.js';

/** Order in which sharps enter a signature, as steps above C: F C G D A E B. */
const SHARP_ORDER = [3, 0, 4, 1, 5, 2, 6];

/** Alteration of each step (C to B) in a signature of `fifths`. */
export const signatureAlters = (fifths: number): number[] => {
  const alters = Array<number>(7).fill(0);
  for (let index = 0; index < Math.abs(fifths); index += 1) {
    const step = fifths > 0 ? SHARP_ORDER[index] : SHARP_ORDER[6 - index];
    if (step !== undefined) alters[step] = Math.sign(fifths);
  }
  return alters;
};

/** Marks the accidentals of one bar. A sign holds to the bar's end for its own octave; a tied head needs none. */
export const accidentalsOf = (
  events: readonly Omit<ScoreEvent, 'beams'>[],
  fifths: number,
): Omit<ScoreEvent, 'beams'>[] => {
  const signature = signatureAlters(fifths);
  const inForce = new Map<string, number>();
  return events.map((event) => ({
    ...event,
    notes: event.notes.map((note) => {
      const { step, octave, alter } = note.spelling;
      const place = `${step}/${octave}`;
      const current = inForce.get(place) ?? signature[step];
      if (current === alter || note.tiedFrom) return note;
      inForce.set(place, alter);
      return { ...note, accidental: alter };
    }),
  }));
};
