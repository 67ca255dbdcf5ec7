import { describe, expect, it } from 'vitest';
import { ACCURACY_KINDS } from '../demo/accuracyKinds.js';
import type { Part } from '../model/arrangement.js';
import { createChance } from '../model/chance.js';
import { planOf } from '../plan/readyPlans.js';
import { runPlan } from '../plan/runPlan.js';
import { writtenMaps } from '../plan/writtenMaps.js';
import { deDuplicate } from '../steps/deDuplicate.js';
import { dropSpecks } from '../steps/dropSpecks.js';
import { arrangementWith, contextIn, note, partWith, placesOf } from '../testing/kit.js';
import { ticks } from '../time/units.js';
import { heldToNext, isStruckAgain, playedRoughly } from './roughHand.js';
import type { StepNote } from './stepNote.js';

/** A made line in sixteenths, as an accuracy row has it. */
const sampleOf = (name: string) => {
  const kind = ACCURACY_KINDS.find((own) => own.name === name);
  if (!kind) throw new Error(name);
  return kind.sample(100, 13);
};

const context = contextIn();
/** Sixteen bars of quarters and eighths by a hand that is so unsteady (milliseconds, which are ticks here). */
const line = (spread: number): StepNote[] => {
  const chance = createChance(11);
  return Array.from({ length: 16 }, (_, bar) =>
    [0, 480, 960, 1200, 1440].map((at, index) => {
      const onset = Math.max(0, Math.round(bar * 1920 + at + chance.normal() * spread));
      return note(60 + ((bar * 5 + index * 3) % 12), onset, index === 2 || index === 3 ? 200 : 400);
    }),
  ).flat();
};
/** The line with some notes of one pitch far above it. */
const withMore = (spread: number, ...more: readonly StepNote[]) =>
  [...line(spread), ...more].sort((a, b) => a.onset - b.onset);
/** A key that is struck at bar 9, and again 34 ms later, as hard. */
const strokes = (firstVelocity = 80) => [
  note(84, 15_540, 14, { velocity: firstVelocity }),
  note(84, 15_574, 200, { velocity: 80 }),
];

describe('an unsteady hand', () => {
  it('is told by how far its starts lie from their places; a few do not tell, and what is drawn has none', () => {
    expect(playedRoughly(line(45), context)).toBe(true);
    expect(playedRoughly(line(14), context)).toBe(false);
    expect(playedRoughly(line(0), context)).toBe(false);
    expect(playedRoughly(line(45).slice(0, 12), context)).toBe(false);
  });

  it('is not one that swings', () => {
    const chance = createChance(3);
    const swung = Array.from({ length: 96 }, (_, k) =>
      note(60 + ((k * 5) % 12), Math.round((k >> 1) * 480 + (k % 2) * 305 + chance.normal() * 8 + 40), 180),
    );
    expect(playedRoughly(swung, context)).toBe(false);
  });

  it('strikes a key again where it came up in between and is as loud; a bounce, a double and a soft one are none', () => {
    const [first, again] = strokes() as [StepNote, StepNote];
    expect(isStruckAgain(first, again, context)).toBe(true);
    const at = (onset: number, velocity = 80) => note(84, onset, 200, { velocity });
    expect(isStruckAgain(first, at(15_548), context)).toBe(false);
    expect(isStruckAgain(first, at(15_574, 40), context)).toBe(false);
    expect(isStruckAgain({ ...first, velocity: 40 }, again, context)).toBe(false);
    expect(isStruckAgain({ ...first, duration: ticks(100) }, again, context)).toBe(false);
  });

  it('keeps strokes that come near each other, which of a steady hand are a double, or a speck', () => {
    const doubles = (notes: readonly StepNote[]) =>
      deDuplicate.run(notes, context, deDuplicate.defaults).changes.filter(({ to }) => to === null).length;
    const near = [note(84, 15_540, 14), note(84, 15_564, 200)];
    expect(doubles(withMore(45, ...near))).toBe(0);
    expect(doubles(withMore(14, ...near))).toBe(1);
    expect(doubles(withMore(45, note(84, 15_540, 300), note(84, 15_564, 200)))).toBe(1);
    const specks = (notes: readonly StepNote[]) =>
      dropSpecks.run(notes, context, dropSpecks.defaults).changes.map(({ from }) => from.duration);
    expect(specks(withMore(45, ...strokes()))).toEqual([]);
    expect(specks(withMore(14, ...strokes()))).toEqual([14]);
    expect(specks(withMore(45, ...strokes(30)))).toEqual([14]);
  });

  it('plays no grace note that sounds on far into its note', () => {
    const graces = (spread: number, length: number) => {
      const notes = [
        ...line(spread).map((own) => ({ ...own, onset: ticks(own.onset < 15_360 ? own.onset : own.onset + 1920) })),
        note(72, 15_790, length),
        note(74, 15_850, 700),
      ].sort((a, b) => a.onset - b.onset);
      const arrangement = arrangementWith([partWith(notes)]);
      const [part] = arrangement.parts;
      const written = part && runPlan(part, 480, writtenMaps(arrangement), planOf(part));
      return written?.notes.flatMap(({ signs }) => signs?.graces ?? []).map(({ pitch }) => pitch);
    };
    expect(graces(45, 95)).toEqual([]);
    expect(graces(45, 60)).toEqual([72]);
    expect(graces(14, 95)).toEqual([72]);
  });
});

describe('the figures that a part plays', () => {
  it('decide where an unsteady hand leaves a place open, now and then, and the reason says so', () => {
    const said = (kind: string) => {
      const { arrangement } = sampleOf(kind);
      const part = arrangement.parts[0] as Part;
      const { steps } = runPlan(part, arrangement.ppq, writtenMaps(arrangement), planOf(part));
      const reasons = steps.flatMap(({ changes }) => changes.map(({ reason }) => reason));
      return reasons.filter((reason) => reason.includes(', in a figure that this part often plays')).length;
    };
    expect(said('lines, 60 ms')).toBeGreaterThan(0);
    expect(said('lines, 60 ms')).toBeLessThan(20);
    expect(said('short figures, simple, 12 ms')).toBe(0);
  });
});

describe('notes that were held until the next start', () => {
  it('are as long as the way to it on the page, where it lies further away than it was played', () => {
    const [first, short, last] = [note(60, 100, 150), note(62, 280, 60), note(64, 480, 400)];
    const lengths = heldToNext([[[first]], [[short]], [[last]]], [0, 240, 480]);
    expect([...lengths].map(([{ pitch }, length]) => [pitch, length])).toEqual([[60, 200]]);
    expect(heldToNext([[[first]], [[short]]], [100, 320]).size).toBe(0);
    expect(heldToNext([[[first]], [[short], [last]]], [0, 240]).size).toBe(0);
  });

  it('are written whole, and say why', () => {
    const notes = line(45).map((own, index) =>
      // Late by an eighth's half, and let go where the next begins.
      index === 40 ? { ...own, onset: ticks(8 * 1920 + 100), duration: ticks(360) } : own,
    );
    const next = notes[41] as StepNote;
    const late = notes[40] as StepNote;
    notes[40] = { ...late, duration: ticks(next.onset - late.onset - 4) };
    const arrangement = arrangementWith([partWith(notes)]);
    const [part] = arrangement.parts;
    const written = part && runPlan(part, 480, writtenMaps(arrangement), planOf(part));
    const found = written?.notes.filter(({ id }) => id === late.id) ?? [];
    expect(placesOf(found)).toEqual([`${late.pitch} ${8 * 4 * 10080}+10080`]);
    const reasons = written?.steps.flatMap(({ changes }) => changes.filter(({ noteId }) => noteId === late.id));
    expect(reasons?.some(({ reason }) => reason.endsWith(', held until the next start'))).toBe(true);
  });
});
