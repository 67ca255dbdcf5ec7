import { describe, expect, it } from 'vitest';
import { contextIn, note } from '../testing/kit.js';
import type { StepNote } from './stepNote.js';
import { assignVoices } from './voices.js';

/** Half a second to the quarter. */
const QUARTER = 480;
const BAR = 4 * QUARTER;

const voicesOf = (hand: readonly StepNote[]): number[] => {
  const found = new Map<number, number>();
  assignVoices(hand, 2, contextIn(), found);
  return hand.map(({ id }) => found.get(id) ?? 1);
};

/** A bar of quarters above, the pedal down until its end, or none. */
const tune = (bar: number, pedal: boolean, pitches: readonly number[] = [79, 81, 77, 79]): StepNote[] =>
  pitches.map((pitch, k) => under(note(pitch, bar * BAR + k * QUARTER, 440), pedal ? bar * BAR + BAR - 60 : undefined));

const under = (one: StepNote, soundsTo: number | undefined): StepNote =>
  soundsTo === undefined ? one : { ...one, soundsTo };

/** A note below, from one quarter on, its key down so long. */
const below = (bar: number, from: number, keys: number, pedal = true, pitch = 65): StepNote =>
  under(note(pitch, bar * BAR + from * QUARTER, keys), pedal ? bar * BAR + BAR - 60 : undefined);

const EARLY = 430;
const HELD = 2 * BAR;

describe('an inner voice under the pedal', () => {
  /** Three bars in which the fingers hold the note below themselves. */
  const clear = (pedal = true) => [0, 1, 2].flatMap((bar) => [below(bar, 0, 900, pedal), ...tune(bar, pedal)]);
  const lastOf = (hand: readonly StepNote[], count: number) => voicesOf(hand).slice(-count);

  it('is one also where its fingers came up early, once it was plainly held elsewhere', () => {
    const doubtful = (bar: number) => [below(bar, 0, EARLY), ...tune(bar, true)];
    expect(lastOf([...clear(), ...doubtful(3)], 5)).toEqual([2, 1, 1, 1, 1]);
    expect(lastOf([...clear().slice(0, 10), ...doubtful(3)], 5)).toEqual([1, 1, 1, 1, 1]);
    // Most of those that might be held are not: they are chords.
    const chords = [3, 4, 5, 6, 7, 8, 9, 10].flatMap(doubtful);
    expect(lastOf([...clear(), ...chords], 5)).toEqual([1, 1, 1, 1, 1]);
    expect(lastOf([...clear(), ...chords.slice(0, 30)], 5)).toEqual([2, 1, 1, 1, 1]);
  });

  it('is none without the pedal, whose sound alone holds it', () => {
    expect(lastOf([...clear(false), below(3, 0, EARLY, false), ...tune(3, false)], 5)).toEqual([1, 1, 1, 1, 1]);
  });

  it('goes on where its next note begins, though the pedal holds the last one', () => {
    const two = [below(3, 0, EARLY), ...tune(3, true), below(3, 2, HELD, true, 67)].sort((a, b) => a.onset - b.onset);
    const voices = lastOf([...clear(), ...two], 6);
    two.forEach(({ pitch }, index) => {
      expect(voices[index]).toBe(pitch < 70 ? 2 : 1);
    });
  });

  it('has a lone note of its height, and leaves one of the tune’s to the tune', () => {
    const lone = (pitch: number) => {
      const hand = [...tune(3, true).slice(0, 2), below(3, 2, EARLY, true, pitch), ...tune(3, true).slice(3)];
      return lastOf([...clear(), ...hand], 4);
    };
    expect(lone(65)).toEqual([1, 1, 2, 1]);
    expect(lone(67)).toEqual([1, 1, 1, 1]);
  });

  it('is no chord that the next one follows', () => {
    const thirds = tune(3, true).flatMap((one) => [under(note(one.pitch - 14, one.onset, EARLY), one.soundsTo), one]);
    expect(new Set(lastOf([...clear(), ...thirds.slice(0, 6)], 4))).toEqual(new Set([1]));
  });
});
