/** Made lines that play together: each with a rhythm of its own in half of its bars, and that of all in the others. */
import { type Chance, createChance } from '../model/chance.js';
import { ticksPerBar } from '../time/meterMap.js';
import { WRITTEN_PPQ } from '../time/units.js';
import type { ComposedNote, ComposedPart, ComposedScore } from './composed.js';
import { type LineRecipe, madeLine } from './madeKinds.js';

/** How many of a part's bars have the rhythm of all. */
const SHARED = 0.5;

const barsOf = (notes: readonly ComposedNote[], barLength: number): ReadonlyMap<number, readonly ComposedNote[]> => {
  const bars = new Map<number, ComposedNote[]>();
  for (const note of notes) {
    const bar = Math.floor(note.onset / barLength);
    bars.set(bar, [...(bars.get(bar) ?? []), note]);
  }
  return bars;
};

/** The rhythm of some notes with the pitches of others, in turn. */
const withPitchesOf = (rhythm: readonly ComposedNote[], own: readonly ComposedNote[], chance: Chance): ComposedNote[] =>
  rhythm.map((note, index) => ({
    ...note,
    pitch: (own[index % Math.max(1, own.length)]?.pitch ?? note.pitch) + (chance.chance(0.3) ? 2 : 0),
  }));

/** A score of so many lines; the same for the same seed. */
export const linesTogether = (recipe: LineRecipe, count: number, seed: number): ComposedScore => {
  const chance = createChance(seed * 31 + 7);
  const line = (part: number) => madeLine(recipe, seed * 100 + part);
  const barLength = ticksPerBar(recipe.meter, WRITTEN_PPQ);
  const notesOf = (score: ComposedScore) => score.parts[0]?.notes ?? [];
  const first = line(0);
  const all = barsOf(notesOf(first), barLength);
  const parts = Array.from({ length: count }, (_, part): ComposedPart => {
    const own = barsOf(notesOf(line(part + 1)), barLength);
    const notes = Array.from({ length: recipe.bars }, (_, bar) =>
      chance.chance(SHARED) ? withPitchesOf(all.get(bar) ?? [], own.get(bar) ?? [], chance) : (own.get(bar) ?? []),
    ).flat();
    return { ...(first.parts[0] as ComposedPart), name: `${recipe.player.name} ${part + 1}`, notes };
  });
  return { ...first, title: `Made lines together, ${count}`, parts };
};
