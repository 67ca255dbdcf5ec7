/** Made scores: seeded music in any of a few meters and styles, for measuring how much of a score a plan gives back. */

import { type Chance, createChance } from '../model/chance.js';
import { type Meter, ticksPerBar } from '../time/meterMap.js';
import { WRITTEN_PPQ, type WrittenUnits } from '../time/units.js';
import type { ComposedNote, ComposedPart, ComposedScore } from './composed.js';

/** The note values that a made score moves in. */
export const MADE_STYLES = ['plain', 'eighths', 'sixteenths', 'triplets', 'mixed'] as const;
export type MadeStyle = (typeof MADE_STYLES)[number];
/** What kind of part it holds. */
export type MadeKind = 'line' | 'chords' | 'keyboard' | 'percussion';

/** Everything that decides a made score; the same recipe makes the same score. */
export interface MadeRecipe {
  readonly seed: number;
  readonly kind: MadeKind;
  readonly style: MadeStyle;
  readonly meter: Meter;
  readonly bars: number;
  readonly quartersPerMinute: number;
  /** Keyboard only: one sustain pedal a bar. */
  readonly pedal?: boolean;
}

/** A rhythm of one group of the bar, in quarters; negative is a rest. */
type Cell = readonly number[];

const third = 1 / 3;
const SIMPLE: { readonly [style in Exclude<MadeStyle, 'mixed'>]: readonly Cell[] } = {
  plain: [[1], [1], [1, 1], [2], [1.5, 0.5], [3], [1, -1], [4]],
  eighths: [[1], [0.5, 0.5], [0.5, 0.5], [1.5, 0.5], [0.5, 1, 0.5], [2], [-0.5, 0.5], [0.5, -0.5], [-1]],
  sixteenths: [
    [1],
    [0.5, 0.5],
    [0.25, 0.25, 0.25, 0.25],
    [0.5, 0.25, 0.25],
    [0.25, 0.25, 0.5],
    [0.75, 0.25],
    [2],
    [-0.25, 0.25, 0.5],
    [-1],
  ],
  triplets: [[1], [third, third, third], [2 * third, third], [0.5, 0.5], [2], [third, 2 * third], [-1]],
};
const COMPOUND: { readonly [style in Exclude<MadeStyle, 'mixed'>]: readonly Cell[] } = {
  plain: [[1.5], [1.5], [1, 0.5], [3], [1.5, -1.5]],
  eighths: [[1.5], [0.5, 0.5, 0.5], [1, 0.5], [0.5, 1], [0.5, 0.5, -0.5], [-0.5, 0.5, 0.5], [3]],
  sixteenths: [
    [1.5],
    [0.5, 0.5, 0.5],
    [1, 0.5],
    [0.25, 0.25, 0.5, 0.5],
    [0.5, 0.25, 0.25, 0.5],
    [0.75, 0.25, 0.5],
    [1, 0.25, 0.25],
  ],
  triplets: [[1.5], [0.5, 0.5, 0.5], [1, 0.5], [0.75, 0.25, 0.5]],
};
const PAIR: { readonly [style in Exclude<MadeStyle, 'mixed'>]: readonly Cell[] } = {
  plain: [[1]],
  eighths: [[1], [0.5, 0.5], [-0.5, 0.5]],
  sixteenths: [[1], [0.5, 0.5], [0.5, 0.25, 0.25], [0.25, 0.25, 0.5]],
  triplets: [[1], [0.5, 0.5]],
};

const cellsFor = (table: typeof SIMPLE, style: MadeStyle): readonly Cell[] =>
  style === 'mixed' ? [...table.plain, ...table.eighths, ...table.sixteenths, ...table.triplets] : table[style];

/** The groups of a bar, in quarters: beats of a simple meter, dotted beats of a compound one, pairs and threes of 5/8. */
const groupsOf = (meter: Meter): readonly number[] => {
  if (meter.denominator === 8 && meter.numerator % 3 === 0) return Array(meter.numerator / 3).fill(1.5);
  if (meter.denominator === 8) return [1, 1.5];
  return Array((meter.numerator * 4) / meter.denominator).fill(1);
};

const lengthOf = (cell: Cell): number => cell.reduce((sum, value) => sum + Math.abs(value), 0);

const pick = <Item>(items: readonly Item[], chance: Chance): Item =>
  items[Math.floor(chance.next() * items.length)] as Item;

/** A rhythm for one bar: cells drawn until it is full. A long cell stands only where the bar's halves allow. */
const rhythmOfBar = (meter: Meter, style: MadeStyle, chance: Chance): number[] => {
  const groups = groupsOf(meter);
  const bar = groups.reduce((sum, g) => sum + g, 0);
  const rhythm: number[] = [];
  let at = 0;
  while (at < bar - 1e-6) {
    let start = 0;
    const group = groups.find((g) => {
      start += g;
      return at < start - 1e-6;
    }) as number;
    const table = group === 1.5 ? COMPOUND : meter.denominator === 8 ? PAIR : SIMPLE;
    const fits = cellsFor(table, style).filter((cell) => {
      const length = lengthOf(cell);
      if (length > bar - at + 1e-6) return false;
      return length <= group + 1e-6 || at % Math.min(2, length) < 1e-6;
    });
    const cell = pick(fits, chance);
    rhythm.push(...cell);
    at += lengthOf(cell);
  }
  return rhythm;
};

const units = (quarters: number): WrittenUnits => Math.round(quarters * WRITTEN_PPQ) as WrittenUnits;

const MAJOR = [0, 2, 4, 5, 7, 9, 11];
const scalePitch = (step: number): number => 60 + 12 * Math.floor(step / 7) + (MAJOR[((step % 7) + 7) % 7] as number);

interface Slot {
  readonly bar: number;
  readonly start: number;
  readonly length: number;
  readonly rest: boolean;
}

const slotsFor = (recipe: MadeRecipe, style: MadeStyle, chance: Chance): Slot[] => {
  const barLength = ticksPerBar(recipe.meter, 1);
  const slots: Slot[] = [];
  for (let bar = 0; bar < recipe.bars; bar += 1) {
    let at = bar * barLength;
    for (const value of rhythmOfBar(recipe.meter, style, chance)) {
      slots.push({ bar, start: at, length: Math.abs(value), rest: value < 0 });
      at += Math.abs(value);
    }
  }
  return slots;
};

const melody = (slots: readonly Slot[], low: number, high: number, chance: Chance): ComposedNote[] => {
  let step = Math.round((low + high) / 2);
  return slots
    .filter((slot) => !slot.rest)
    .map((slot) => {
      step += Math.round(chance.normal() * 1.8);
      if (step < low) step = low + 1;
      if (step > high) step = high - 1;
      return { pitch: scalePitch(step), onset: units(slot.start), duration: units(slot.length) };
    });
};

const ROOTS = [0, 3, 4, 5, 1, 0, 4, 2];

/** Triads one after another, each held until the next. */
const chordLine = (recipe: MadeRecipe, chance: Chance): ComposedNote[] => {
  const style = recipe.style === 'plain' ? 'plain' : 'eighths';
  return slotsFor(recipe, style, chance)
    .filter((slot) => !slot.rest)
    .flatMap((slot) => {
      const root = pick(ROOTS, chance) - (chance.chance(0.5) ? 7 : 0);
      return [0, 2, 4].map((third_) => ({
        pitch: scalePitch(root + third_),
        onset: units(slot.start),
        duration: units(slot.length),
      }));
    });
};

type LeftHand = 'block' | 'broken' | 'offBeat';

const leftHandOfBar = (meter: Meter, kind: LeftHand, root: number, start: number): ComposedNote[] => {
  const groups = groupsOf(meter);
  const bar = groups.reduce((sum, g) => sum + g, 0);
  const bass = scalePitch(root - 14);
  const chord = [root - 7, root - 5, root - 3].map(scalePitch);
  const at = (pitch: number, from: number, length: number): ComposedNote => ({
    pitch,
    onset: units(start + from),
    duration: units(length),
  });
  if (kind === 'block') {
    const half = bar === 4 ? 2 : bar;
    const notes: ComposedNote[] = [];
    for (let from = 0; from < bar; from += half)
      for (const pitch of [bass, ...chord]) notes.push(at(pitch, from, half));
    return notes;
  }
  if (kind === 'broken') {
    const figure = [bass, chord[0], chord[2], chord[1], chord[2], chord[0], chord[1], chord[2]] as number[];
    return Array.from({ length: Math.round(bar * 2) }, (_, i) => at(figure[i % 8] as number, i / 2, 0.5));
  }
  const notes: ComposedNote[] = [];
  let from = 0;
  for (const group of groups) {
    if (from === 0) notes.push(at(bass, 0, group));
    else if (group === 1) for (const pitch of chord) notes.push(at(pitch, from, 1));
    else for (const pitch of chord) notes.push(at(pitch, from + 0.5, 1));
    from += group;
  }
  return notes;
};

/** Two hands: melody over a held inner voice; bass with block, broken or off-beat chords, four bars of each at a time. */
const keyboard = (recipe: MadeRecipe, chance: Chance): ComposedNote[] => {
  const barLength = ticksPerBar(recipe.meter, 1);
  const notes = melody(slotsFor(recipe, recipe.style, chance), 7, 14, chance);
  let left: LeftHand = 'block';
  for (let bar = 0; bar < recipe.bars; bar += 1) {
    if (bar % 4 === 0) left = pick(['block', 'broken', 'offBeat'] as const, chance);
    const root = pick(ROOTS, chance);
    notes.push(...leftHandOfBar(recipe.meter, left, root - (root > 3 ? 7 : 0), bar * barLength));
    if (chance.chance(0.5)) {
      const pieces = barLength === 4 && chance.chance(0.5) ? 2 : 1;
      for (let piece = 0; piece < pieces; piece += 1) {
        notes.push({
          pitch: scalePitch(3 + Math.floor(chance.next() * 3)),
          onset: units(bar * barLength + (piece * barLength) / pieces),
          duration: units(barLength / pieces),
        });
      }
    }
  }
  return notes.sort((a, b) => a.onset - b.onset || a.pitch - b.pitch);
};

const KICK = 36;
const SNARE = 38;
const HAT = 42;

const percussion = (recipe: MadeRecipe, chance: Chance): ComposedNote[] => {
  const notes: ComposedNote[] = [];
  const add = (pitch: number, start: number) => notes.push({ pitch, onset: units(start), duration: units(0.25) });
  for (const slot of slotsFor(recipe, recipe.style, chance)) {
    if (!slot.rest) add(HAT, slot.start);
    if (!slot.rest && chance.chance(0.25)) add(chance.chance(0.5) ? KICK : SNARE, slot.start);
  }
  return notes;
};

const compose = (recipe: MadeRecipe, chance: Chance): ComposedNote[] => {
  switch (recipe.kind) {
    case 'line':
      return melody(slotsFor(recipe, recipe.style, chance), 0, 14, chance);
    case 'chords':
      return chordLine(recipe, chance);
    case 'keyboard':
      return keyboard(recipe, chance);
    case 'percussion':
      return percussion(recipe, chance);
    default:
      return recipe.kind satisfies never;
  }
};

const PLAYERS: { readonly [kind in MadeKind]: Pick<ComposedPart, 'name' | 'instrument' | 'channel' | 'program'> } = {
  line: { name: 'Flute', instrument: 'flute', channel: 0, program: 73 },
  chords: { name: 'Vibraphone', instrument: 'vibraphone', channel: 0, program: 11 },
  keyboard: { name: 'Piano', instrument: 'piano', channel: 0, program: 0 },
  percussion: { name: 'Drums', instrument: 'percussion', channel: 9, program: null },
};

/** Makes the score: one part. */
export const madeScore = (recipe: MadeRecipe): ComposedScore => {
  const chance = createChance(recipe.seed * 2654435761);
  const notes = compose(recipe, chance);
  return {
    title: `Made ${recipe.kind}, ${recipe.style}, ${recipe.meter.numerator}/${recipe.meter.denominator}`,
    meters: [{ ...recipe.meter, tick: 0 as WrittenUnits }],
    tempos: [{ tick: 0 as WrittenUnits, quartersPerMinute: recipe.quartersPerMinute }],
    markers: [],
    keys: [],
    parts: [
      {
        ...PLAYERS[recipe.kind],
        notes,
        pedal: recipe.kind === 'chords' ? 'chord' : recipe.kind === 'keyboard' && recipe.pedal ? 'bar' : 'none',
      },
    ],
  };
};
