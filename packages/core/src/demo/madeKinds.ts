/** Made lines of kinds that the made scores leave out: repeated notes, fives and sevens, short figures, chords to be rolled. */
import { type Chance, createChance } from '../model/chance.js';
import { type Meter, ticksPerBar } from '../time/meterMap.js';
import { WRITTEN_PPQ, type WrittenUnits } from '../time/units.js';
import type { ComposedNote, ComposedPart, ComposedScore } from './composed.js';

/** A rhythm in quarters; negative is a rest. */
type Cell = readonly number[];

/** What a made line is made of. */
export interface LineRecipe {
  readonly meter: Meter;
  readonly bars: number;
  /** Each fills a whole number of groups of the bar, and stands where one begins. */
  readonly cells: readonly Cell[];
  /** Share of notes that strike the pitch before again. */
  readonly repeats: number;
  /** Tones of each note, as steps of the scale above it. */
  readonly tones?: readonly number[];
  readonly quartersPerMinute: number;
  readonly player: Pick<ComposedPart, 'name' | 'instrument' | 'channel' | 'program'>;
}

const MAJOR = [0, 2, 4, 5, 7, 9, 11];
const scalePitch = (step: number): number => 60 + 12 * Math.floor(step / 7) + (MAJOR[((step % 7) + 7) % 7] as number);
const units = (quarters: number): WrittenUnits => Math.round(quarters * WRITTEN_PPQ) as WrittenUnits;
const lengthOf = (cell: Cell): number => cell.reduce((sum, value) => sum + Math.abs(value), 0);
const pick = <Item>(items: readonly Item[], chance: Chance): Item =>
  items[Math.floor(chance.next() * items.length)] as Item;

/** Makes the line; the same recipe and seed make the same one. */
export const madeLine = (recipe: LineRecipe, seed: number): ComposedScore => {
  const chance = createChance(seed * 2654435761 + 17);
  const barLength = ticksPerBar(recipe.meter, 1);
  const notes: ComposedNote[] = [];
  let step = 7;
  for (let bar = 0; bar < recipe.bars; bar += 1) {
    let at = 0;
    while (at < barLength - 1e-6) {
      const left = barLength - at;
      const fits = recipe.cells.filter((cell) => {
        const length = lengthOf(cell);
        return length <= left + 1e-6 && (length <= 1.5 || at % 2 < 1e-6);
      });
      for (const value of pick(fits, chance)) {
        if (value > 0) {
          if (!chance.chance(recipe.repeats)) step += Math.round(chance.normal() * 1.8) || 1;
          if (step < 3 || step > 15) step = 8;
          const onset = units(bar * barLength + at);
          const duration = (units(bar * barLength + at + value) - onset) as WrittenUnits;
          for (const tone of recipe.tones ?? [0]) notes.push({ pitch: scalePitch(step + tone), onset, duration });
        }
        at += Math.abs(value);
      }
    }
  }
  return {
    title: 'Made line',
    meters: [{ ...recipe.meter, tick: 0 as WrittenUnits }],
    tempos: [{ tick: 0 as WrittenUnits, quartersPerMinute: recipe.quartersPerMinute }],
    markers: [],
    keys: [],
    parts: [{ ...recipe.player, notes, pedal: 'none' }],
  };
};
