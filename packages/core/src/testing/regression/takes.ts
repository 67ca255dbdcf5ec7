/** Small pieces full of what goes wrong in a take, the same each time: what answers are kept of. */
import { type Arrangement, compareNotes, type Note, type Part, type PartEvent } from '../../model/arrangement.js';
import { type Chance, createChance } from '../../model/chance.js';
import { ticks } from '../../time/units.js';
import { arrangementWith, PPQ } from '../kit.js';

/** How a part of a rough take is made. */
interface Recipe {
  readonly name: string;
  readonly instrument: string;
  readonly channel: number;
  readonly program: number | null;
  /** Lowest and highest pitch. */
  readonly pitches: readonly [number, number];
  /** How likely more tones begin with one. */
  readonly chords: number;
  /** How likely presses of the pedal are, bar by bar. */
  readonly pedals: number;
}

const SLOTS = [240, 240, 480, 480, 120, 160, 320, 720, 960] as const;

/** Notes of a hand that hurries, holds, strikes twice and brushes keys. */
const roughNotes = (recipe: Recipe, bars: number, chance: Chance): Note[] => {
  const notes: Note[] = [];
  const [low, high] = recipe.pitches;
  const add = (pitch: number, onset: number, duration: number, velocity: number, muted = false) =>
    notes.push({
      id: recipe.channel * 1000 + notes.length + 1,
      pitch,
      onset: ticks(Math.max(0, Math.round(onset))),
      duration: ticks(Math.max(0, Math.round(duration))),
      velocity: Math.max(1, Math.min(127, Math.round(velocity))),
      channel: recipe.channel,
      ...(muted ? { muted: true } : {}),
    });
  for (let at = 0; at < bars * 4 * PPQ; ) {
    const slot = SLOTS[Math.floor(chance.next() * SLOTS.length)] as number;
    const pitch = Math.round(chance.between(low, high));
    const onset = at + chance.normal() * 14 + (chance.chance(0.04) ? 70 : 0);
    const length = slot * chance.between(chance.chance(0.2) ? 0.25 : 0.7, chance.chance(0.1) ? 1.7 : 1.08);
    const loud = 72 + 24 * Math.sin(at / 4000) + chance.normal() * 8 + (chance.chance(0.05) ? 36 : 0);
    if (chance.chance(0.9)) add(pitch, onset, length, loud, chance.chance(0.03));
    for (let tone = 1; chance.chance(recipe.chords) && tone < 4; tone += 1)
      add(pitch + tone * 4, onset + chance.between(0, 28) * tone, length * chance.between(0.8, 1.1), loud - tone * 4);
    if (chance.chance(0.06)) add(pitch, onset + chance.between(4, 40), length * 0.9, loud * 0.8);
    if (chance.chance(0.05)) add(pitch + 1, onset + 6, chance.between(0, 25), loud * 0.4);
    if (chance.chance(0.04)) add(pitch, onset + length * 0.6, slot, loud);
    at += chance.chance(0.08) ? slot * 2 : slot;
  }
  if (recipe.pedals > 0) add(low - 12, bars * 3 * PPQ, bars * 8 * PPQ, 70);
  return notes.sort(compareNotes);
};

const roughPedals = ({ pedals, channel }: Recipe, bars: number, chance: Chance): PartEvent[] =>
  Array.from({ length: bars }, (_, bar) => bar)
    .flatMap((bar) => {
      if (!chance.chance(pedals)) return [];
      const down = Math.round(bar * 4 * PPQ + chance.between(10, 80));
      const up = Math.round(bar * 4 * PPQ + chance.between(900, 1900));
      const controller = chance.chance(0.2) ? 66 : 64;
      return [
        { tick: down, value: chance.chance(0.2) ? 70 : 127, controller },
        ...(chance.chance(0.9) ? [{ tick: up, value: 0, controller }] : []),
      ];
    })
    .map((event, index) => ({
      id: channel * 1000 + index + 1,
      kind: 'controller' as const,
      ...event,
      tick: ticks(event.tick),
      channel,
    }));

const RECIPES: readonly Recipe[] = [
  { name: 'Flute', instrument: 'flute', channel: 0, program: 73, pitches: [58, 86], chords: 0.02, pedals: 0 },
  { name: 'Piano', instrument: 'piano', channel: 1, program: 0, pitches: [36, 84], chords: 0.5, pedals: 0.7 },
  { name: 'Drums', instrument: 'percussion', channel: 9, program: null, pitches: [35, 51], chords: 0.3, pedals: 0 },
];

/** A rough take of three parts: a line, a keyboard with pedals, percussion; `bars` of 4/4 long. */
export const roughTake = (seed: number, bars = 8): Arrangement => {
  const parts = RECIPES.map((recipe, index): Part => {
    const chance = createChance(seed * 31 + index);
    const { name, instrument, channel, program } = recipe;
    const notes = roughNotes(recipe, bars, chance);
    return { id: index + 1, name, instrument, channel, program, notes, events: roughPedals(recipe, bars, chance) };
  });
  return arrangementWith(parts, { title: `Rough ${seed}`, nextNoteId: 100_000, nextEventId: 100_000 });
};

/** The same in bars of 3/4 and 6/8, with a pickup, two keys and a tempo that changes. */
export const roughTakeInThree = (seed: number): Arrangement => ({
  ...roughTake(seed, 6),
  meters: [
    { tick: ticks(0), numerator: 3, denominator: 4, pickup: ticks(960) },
    { tick: ticks(5 * 1440), numerator: 6, denominator: 8 },
  ],
  keys: [
    { tick: ticks(0), fifths: -3, minor: true },
    { tick: ticks(5 * 1440), fifths: 2, minor: false },
  ],
  tempos: [
    { tick: ticks(0), microsecondsPerQuarter: 480_000 },
    { tick: ticks(2880), microsecondsPerQuarter: 600_000 },
    { tick: ticks(5760), microsecondsPerQuarter: 750_000 },
  ],
  markers: [{ tick: ticks(1440), text: 'Here' }],
});
