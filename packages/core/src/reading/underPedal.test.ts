import { describe, expect, it } from 'vitest';
import { WRITTEN_PPQ } from '../time/units.js';
import { fingerCosts, type Held, type Reading } from './underPedal.js';

const QUARTER = WRITTEN_PPQ;
const EIGHTH = QUARTER / 2;
const SIXTEENTH = QUARTER / 4;

/** A note on the way to a next start, its keys down for so much, under a pedal that holds for two quarters. */
const held = (index: number, way: number, played: number, voice = 0, sounding = 2 * QUARTER): Held => ({
  onset: index * 2 * QUARTER,
  played,
  keysKnown: true,
  sounding,
  next: index * 2 * QUARTER + way,
  within: 0,
  voice,
});

const REST = 1.6;

/** Either until the next start, or half of the way; the rest costs a little. */
const readings = ({ onset, next }: Held): readonly Reading[] => [
  { end: next as number, cost: 0, signs: 1 },
  { end: onset + ((next as number) - onset) / 2, cost: 0, signs: REST },
];

/** The cheapest of the two. */
const readAs = (note: Held, notes: readonly Held[]): number => {
  const ends = readings(note);
  const costs = fingerCosts([notes], readings)(note, ends);
  return (ends[costs.indexOf(Math.min(...costs))] as Reading).end - note.onset;
};

/** Sixteenths, in which nobody rests, let go after these shares of their value in turn. */
const quick = (shares: readonly number[]): Held[] =>
  Array.from({ length: 80 }, (_, index) =>
    held(index, SIXTEENTH, (shares[index % shares.length] as number) * SIXTEENTH, 1),
  );

describe('fingers under a pedal', () => {
  it('tell a rest where the hand is never let go so early, and none where it often is', () => {
    const doubtful = held(100, QUARTER, 0.46 * QUARTER);
    expect(readAs(doubtful, quick([0.85, 0.9, 0.95, 1]))).toBe(EIGHTH);
    expect(readAs(doubtful, quick([0.45, 0.5, 0.6, 0.8]))).toBe(QUARTER);
  });

  it('tell it by the pedal’s own lifts: a hand may come up early for a pedal that lifts with the note', () => {
    const lifting = (index: number, share: number) => held(index, SIXTEENTH, share * SIXTEENTH, 1, SIXTEENTH);
    const early = Array.from({ length: 40 }, (_, index) => lifting(index, 0.42 + (index % 5) * 0.08));
    const notes = [...quick([0.85, 0.9, 0.95, 1]), ...early];
    expect(readAs(held(100, QUARTER, 0.46 * QUARTER), notes)).toBe(EIGHTH);
    expect(readAs(held(100, QUARTER, 0.62 * QUARTER, 0, QUARTER), notes)).toBe(QUARTER);
  });

  it('know which voice rests: the same fingers are read otherwise where all others last', () => {
    const some = quick([0.4, 0.6, 0.85, 0.95]);
    const lasting = Array.from({ length: 40 }, (_, index) =>
      held(index, QUARTER, (0.7 + (index % 4) * 0.1) * QUARTER, 0),
    );
    const resting = Array.from({ length: 40 }, (_, index) =>
      held(index, QUARTER, (0.2 + (index % 4) * 0.05) * QUARTER, 0),
    );
    const doubtful = held(100, QUARTER, 0.44 * QUARTER);
    expect(readAs(doubtful, [...some, ...lasting])).toBe(QUARTER);
    expect(readAs(doubtful, [...some, ...resting])).toBe(EIGHTH);
  });

  it('know from which place of the beat notes rest: one from there is read otherwise than one from elsewhere', () => {
    const some = quick([0.4, 0.6, 0.85, 0.95]);
    const lasting = Array.from({ length: 40 }, (_, index) => held(index, QUARTER, (0.7 + (index % 4) * 0.1) * QUARTER));
    const resting = Array.from({ length: 40 }, (_, index) => ({
      ...held(index, QUARTER, (0.2 + (index % 4) * 0.05) * QUARTER),
      within: EIGHTH,
    }));
    const doubtful = held(100, QUARTER, 0.45 * QUARTER);
    expect(readAs(doubtful, [...some, ...lasting, ...resting])).toBe(QUARTER);
    expect(readAs({ ...doubtful, within: EIGHTH }, [...some, ...lasting, ...resting])).toBe(EIGHTH);
  });

  it('know which voice rests from its notes that no pedal holds', () => {
    const some = quick([0.4, 0.6, 0.85, 0.95]);
    const open = (length: number, index: number) => held(index, QUARTER, length, 0, length);
    const lasting = Array.from({ length: 40 }, (_, index) => open(QUARTER, index));
    const resting = Array.from({ length: 40 }, (_, index) => open(EIGHTH, index));
    const sounds = (note: Held): readonly Reading[] =>
      readings(note).map((reading) => ({ ...reading, cost: Math.abs(reading.end - note.onset - note.sounding) }));
    const readBy = (notes: readonly Held[]): number => {
      const doubtful = held(100, QUARTER, 0.45 * QUARTER);
      const costs = fingerCosts([notes], (note) => (note.sounding > QUARTER ? readings(note) : sounds(note)));
      const [lasts, rests] = costs(doubtful, readings(doubtful)) as [number, number];
      return lasts < rests ? QUARTER : EIGHTH;
    };
    expect(readBy([...some, ...lasting])).toBe(QUARTER);
    expect(readBy([...some, ...resting])).toBe(EIGHTH);
  });

  it('are heard all, however many notes there are that no pedal holds', () => {
    const open = Array.from({ length: 8000 }, (_, index) => held(index, QUARTER, QUARTER, 2, QUARTER));
    const notes = [...quick([0.85, 0.9, 0.95, 1]), ...open];
    expect(readAs(held(100, QUARTER, 0.46 * QUARTER), notes)).toBe(EIGHTH);
  });

  it('say nothing where hardly a note is held, and nothing of a note that no pedal holds', () => {
    const soundAlone = (note: Held) => readings(note).map(({ signs }) => 0.7 * signs);
    const few = quick([0.9]).slice(0, 8);
    const one = few[0] as Held;
    expect(fingerCosts([few], readings)(one, readings(one))).toEqual(soundAlone(one));
    const cost = fingerCosts([quick([0.9])], readings);
    const free = held(3, QUARTER, QUARTER / 2, 0, QUARTER / 2);
    expect(cost(free, readings(free))).toEqual(soundAlone(free));
    const under = { ...free, sounding: QUARTER };
    expect(cost(under, readings(under))).not.toEqual(soundAlone(under));
    const unknown = { ...under, keysKnown: false };
    expect(cost(unknown, readings(unknown))).toEqual(soundAlone(unknown));
  });
});
