/** How a player brings about what a score says by signs: grace notes, trills, rolls, levels and swells. */
import type { Note } from '../model/arrangement.js';
import type { Chance } from '../model/chance.js';
import { LEVELS } from '../reading/dynamics.js';
import { ticks } from '../time/units.js';
import type { ComposedDynamic, ComposedNote } from './composed.js';

type Draft = Omit<Note, 'id'>;

/** Milliseconds. */
const GRACE_BEFORE: readonly [number, number] = [48, 62];
const TRILL_TONE: readonly [number, number] = [76, 88];

/** A note as its sign has it played, and the tones that this adds. `perMs` is ticks in a millisecond. */
export const ornamented = (
  note: Draft,
  { trill, grace }: Pick<ComposedNote, 'trill' | 'grace'>,
  perMs: number,
  chance: Chance,
): { readonly main: Draft; readonly added: readonly Draft[] } => {
  const { onset, duration, pitch } = note;
  if (grace !== undefined) {
    const from = Math.max(0, Math.round(onset - chance.between(...GRACE_BEFORE) * perMs));
    return { main: note, added: [{ ...note, pitch: grace, onset: ticks(from), duration: ticks(onset - from) }] };
  }
  if (!trill) return { main: note, added: [] };
  const count = Math.max(6, Math.round(duration / (chance.between(...TRILL_TONE) * perMs)));
  const tones = Array.from({ length: count }, (_, index): Draft => {
    const from = Math.round(onset + (duration * index) / count + (index > 0 ? chance.between(-4, 4) * perMs : 0));
    const length = Math.round((duration / count) * chance.between(0.82, 0.95));
    return { ...note, pitch: pitch + (index % 2) * trill, onset: ticks(from), duration: ticks(length) };
  });
  return { main: tones[0] ?? note, added: tones.slice(1) };
};

/** How loud a part is at a place, by its dynamics; null where it has none. */
export const loudnessOfPart = (dynamics: readonly ComposedDynamic[] | undefined): ((at: number) => number | null) => {
  const velocities = new Map<string, number>(LEVELS);
  return (at) => {
    if (!dynamics || dynamics.length === 0) return null;
    let level = velocities.get('mf') ?? 0;
    for (let index = 0; index < dynamics.length; index += 1) {
      const own = dynamics[index] as ComposedDynamic;
      if (own.at > at) break;
      const next = dynamics[index + 1];
      if (own.level !== 'louder' && own.level !== 'softer') level = velocities.get(own.level) ?? level;
      else if (next && next.at > at) {
        const goal = velocities.get(next.level) ?? level;
        return level + ((goal - level) * (at - own.at)) / (next.at - own.at);
      }
    }
    return level;
  };
};
