/** Remembered music as a score that can be performed and compared. */
import type { Meter } from '../../time/meterMap.js';
import { ticksPerBar } from '../../time/meterMap.js';
import { WRITTEN_PPQ, type WrittenUnits } from '../../time/units.js';
import type { ComposedScore } from '../composed.js';
import { type AbcMusic, readAbc, type SpelledNote } from './abc.js';
import type { Tune } from './melodies.js';

/** A tune read: its notes with names and voices, and what its head says. */
export interface RememberedScore extends AbcMusic {
  readonly title: string;
  readonly meter: Meter;
}

const fraction = (text: string): readonly [number, number] => {
  const [above, below] = text.split('/').map(Number) as [number, number];
  return [above, below];
};

/** Reads a tune; throws where a bar does not add up. */
export const rememberedScore = ([title, key, meterText, unit, ...voices]: Tune): RememberedScore => {
  const [numerator, denominator] = fraction(meterText);
  const meter = { numerator, denominator };
  const [one, of] = fraction(unit);
  try {
    return { title, meter, ...readAbc(voices, key, meter, one / of) };
  } catch (error) {
    throw new Error(`${title}: ${(error as Error).message}`);
  }
};

/** Notes as they stand in a piece whose first bar is padded with rests up to the pickup. */
export const padded = ({ notes, pickup, meter }: RememberedScore): SpelledNote[] => {
  const by = pickup === 0 ? 0 : ticksPerBar(meter, WRITTEN_PPQ) - pickup;
  return notes.map((note) => ({ ...note, onset: (note.onset + by) as WrittenUnits }));
};

/** The score as one part for an instrument, its key said or kept back. */
export const asComposed = (
  score: RememberedScore,
  instrument: { readonly instrument: string; readonly program: number },
  quartersPerMinute: number,
  saysKey = true,
): ComposedScore => ({
  title: score.title,
  meters: [{ ...score.meter, tick: 0 as WrittenUnits }],
  tempos: [{ tick: 0 as WrittenUnits, quartersPerMinute }],
  markers: [],
  keys: saysKey ? [{ tick: 0 as WrittenUnits, fifths: score.fifths, minor: score.minor }] : [],
  parts: [{ name: score.title, channel: 0, ...instrument, notes: padded(score), pedal: 'none' }],
});
