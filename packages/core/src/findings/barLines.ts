/** Bar lines that lie elsewhere than the music says: a pickup that the file counts as the first beats of bar 1. */
import { instrumentById, isUnpitched } from '../instruments/instruments.js';
import { firstOnset, withBarLinesMoved } from '../meter/pickup.js';
import type { Arrangement, Part } from '../model/arrangement.js';
import { type BarLineNote, type BarLineSign, type BarPhase, barPhases } from '../reading/barLines.js';
import { tempoMisfit } from '../reading/beats/tempoFits.js';
import { createMeterMap, pickupOf, shownMeters, ticksPerBar } from '../time/meterMap.js';
import type { Check, Noticed } from './finding.js';

/** A pickup is offered where it is so likely; judged by remembered tunes, of which those without one must not be told. */
const LIKELY = 0.7;
/** Shorter pieces tell too little, in bars. */
const FEWEST_BARS = 4;

const SIGN_WORDS: Readonly<Record<Exclude<BarLineSign, 'usual'>, string>> = {
  starts: 'fewer notes are held over them',
  long: 'the longer notes begin there',
  ending: 'the last note then has its usual place',
  loud: 'the louder notes begin there',
  harmony: 'the harmony changes there',
};

/** What speaks most for a place against the first, in words. */
const reasonsFor = (best: BarPhase, first: BarPhase): string => {
  const kinds = Object.keys(SIGN_WORDS) as (keyof typeof SIGN_WORDS)[];
  const gain = (kind: keyof typeof SIGN_WORDS) => best.signs[kind] - first.signs[kind];
  const most = kinds.filter((kind) => gain(kind) > 0.3).sort((a, b) => gain(b) - gain(a));
  return most
    .slice(0, 2)
    .map((kind) => SIGN_WORDS[kind])
    .join(', and ');
};

const lengthWords = (length: number, ppq: number): string => {
  const eighths = Math.round((length * 2) / ppq);
  const [count, name] = eighths % 2 === 0 ? [eighths / 2, 'quarter'] : [eighths, 'eighth'];
  return count === 1 ? `a ${name}`.replace('a e', 'an e') : `${count} ${name}s`;
};

const likeliest = (phases: readonly BarPhase[]): BarPhase | undefined =>
  phases.reduce<BarPhase | undefined>((a, b) => (a && a.likelihood >= b.likelihood ? a : b), undefined);

/** The pickup that hides in a piece's first bar, in ticks, and why; null where none is likely. */
export const hiddenPickup = (arrangement: Arrangement): { readonly length: number; readonly reason: string } | null => {
  const { meters, ppq, parts } = arrangement;
  if (pickupOf(meters) !== null || meters.some(({ tick }) => tick > 0)) return null;
  if ((firstOnset(parts) ?? ppq) >= ppq / 8) return null;
  const { meter } = createMeterMap(meters, ppq).barAt(0);
  const notesOf = (some: readonly Part[]): BarLineNote[] =>
    some.flatMap((part) => part.notes.filter((note) => !note.muted));
  const notes = notesOf(parts);
  const pitched = parts.filter((part) => !isUnpitched(instrumentById(part.instrument)));
  const last = notes.reduce((latest, { onset }) => Math.max(latest, onset), 0);
  if (last < FEWEST_BARS * ticksPerBar(meter, ppq)) return null;
  const phases = barPhases(notes, meter, ppq);
  const best = likeliest(phases);
  // Drums and tune have to agree: a fill or a backbeat is no pickup.
  if (pitched.length < parts.length && likeliest(barPhases(notesOf(pitched), meter, ppq))?.pickup !== best?.pickup)
    return null;
  const first = phases[0];
  if (!best || !first || best.pickup === 0 || best.likelihood < LIKELY) return null;
  const why = reasonsFor(best, first);
  return {
    length: best.pickup,
    reason: `the piece seems to begin with a pickup of ${lengthWords(best.pickup, ppq)}${why ? `: with the bar lines moved, ${why}` : ''}`,
  };
};

/** One finding a piece, on its first part that has notes. */
export const pickup: Check = {
  name: 'Bar lines',
  explanation: 'The bar lines lie beside those of the music. Moving them moves no note.',
  severity: 'likely',
  compares: true,
  run: ({ arrangement, part, notes }): readonly Noticed[] => {
    if (arrangement.parts.find((other) => other.notes.some((note) => !note.muted))?.id !== part.id) return [];
    // Bars of a tempo that was not played say nothing of bar lines.
    const hidden = tempoMisfit(arrangement) ? null : hiddenPickup(arrangement);
    const meters = hidden && withBarLinesMoved(arrangement, hidden.length);
    if (!hidden || !meters) return [];
    const [shown] = shownMeters(meters);
    return [
      {
        noteIds: notes.filter(({ onset }) => onset < hidden.length).map(({ id }) => id),
        tick: 0,
        reason: hidden.reason,
        mend: {
          where: 'barLines',
          label: `Begin with a pickup, ${shown?.numerator}/${shown?.denominator} after it`,
          pickup: hidden.length,
        },
      },
    ];
  },
};
