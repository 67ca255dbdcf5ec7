/** Which accidentals to draw: those that neither the key nor an earlier sign in the bar says. */
import { alterInKey, STEP_NAMES } from '../pitch/spelling.js';
import type { Neighbour, ScoreBar, ScoreEvent, ScoreNote } from './score.js';

/** Alteration of each step (C to B) in a signature of `fifths`. */
export const signatureAlters = (fifths: number): number[] => STEP_NAMES.map((_, step) => alterInKey(fifths, step));

/** Marks the accidentals of one bar. A sign holds to the bar's end for its own octave; a tied head needs none. */
export const accidentalsOf = (
  events: readonly Omit<ScoreEvent, 'beams'>[],
  fifths: number,
): Omit<ScoreEvent, 'beams'>[] => {
  const signature = signatureAlters(fifths);
  const inForce = new Map<string, number>();
  const shown = (note: ScoreNote): ScoreNote => {
    const { step, octave, alter } = note.spelling;
    const place = `${step}/${octave}`;
    const current = inForce.get(place) ?? signature[step];
    if (current === alter || note.tiedFrom) return note;
    inForce.set(place, alter);
    return { ...note, accidental: alter };
  };
  // A sign over an ornament holds for that ornament alone.
  const besideSign = (neighbour: Neighbour): Neighbour => {
    const { step, octave, alter } = neighbour.spelling;
    const current = inForce.get(`${step}/${octave}`) ?? signature[step];
    return current === alter ? neighbour : { ...neighbour, accidental: alter };
  };
  return events.map((event) => ({
    ...event,
    ...(event.graces ? { graces: event.graces.map(shown) } : {}),
    notes: event.notes.map(shown),
    ...(event.neighbours ? { neighbours: event.neighbours.map(besideSign) } : {}),
  }));
};

/** What a bar leaves altered on a staff at its end: notes (letter and octave) that differ from the signature. */
const leftAltered = ({ events, fifths }: ScoreBar, staff: number): ReadonlySet<string> => {
  const signature = signatureAlters(fifths);
  const altered = new Set<string>();
  const inOrder = events.filter((event) => event.staff === staff).sort((a, b) => a.start - b.start);
  for (const { notes } of inOrder) {
    for (const { spelling } of notes) {
      const place = `${spelling.step}/${spelling.octave}`;
      if (spelling.alter === signature[spelling.step]) altered.delete(place);
      else altered.add(place);
    }
  }
  return altered;
};

/**
 * Courtesy accidentals: a note that the bar before left altered, and that the key has plain again, says so once (common
 * practice; Gould, Behind Bars, 2011).
 */
export const withCourtesy = (bars: readonly ScoreBar[]): readonly ScoreBar[] =>
  bars.map((bar, index) => {
    const before = bars[index - 1];
    if (!before) return bar;
    const open = new Map([1, 2].map((staff) => [staff, new Set(leftAltered(before, staff))]));
    if ([...open.values()].every((places) => places.size === 0)) return bar;
    const told = new Set<ScoreEvent['notes'][number]>();
    for (const event of [...bar.events].sort((a, b) => a.start - b.start)) {
      for (const note of event.notes) {
        const place = `${note.spelling.step}/${note.spelling.octave}`;
        // A tie over the bar line carries its sign along; what follows it is still to be told.
        if (note.tiedFrom || !open.get(event.staff)?.delete(place)) continue;
        if (note.accidental === null) told.add(note);
      }
    }
    if (told.size === 0) return bar;
    const events = bar.events.map((event) => ({
      ...event,
      notes: event.notes.map((note) =>
        told.has(note) ? { ...note, accidental: note.spelling.alter, courtesy: true as const } : note,
      ),
    }));
    return { ...bar, events };
  });
