import { describe, expect, it } from 'vitest';
import type { Moment } from './sound/player.js';
import { createTakeRecorder } from './takeRecorder.js';

/** The music began 10 s after the clock. */
const at = (music: number, turns = 0): Moment => ({ music, clock: music + 10 + turns * 4 });

describe('a take under way', () => {
  it('keeps when keys were struck and how long they were held', () => {
    const take = createTakeRecorder(null);
    take.strike(60, 90, at(1));
    take.strike(64, 70, at(1.5));
    take.letGo(60, at(2.25));
    take.letGo(64, at(1.75));
    take.letGo(99, at(3));
    expect(take.count).toBe(2);
    expect(take.end(at(5)).notes).toEqual([
      { pitch: 60, velocity: 90, start: 1, length: 1.25, pass: 0 },
      { pitch: 64, velocity: 70, start: 1.5, length: 0.25, pass: 0 },
    ]);
  });
  it('ends what is still held, and what is struck again', () => {
    const take = createTakeRecorder(null);
    take.strike(60, 90, at(1));
    take.strike(60, 80, at(2));
    expect(take.end(at(2.5)).notes.map(({ start, length }) => [start, length])).toEqual([
      [1, 1],
      [2, 0.5],
    ]);
  });
  it('tells the passes of a loop apart, and lets no note sound over its turn', () => {
    // The loop is from 0 to 4 s: held over the turn, the key is let go in the next pass.
    const take = createTakeRecorder(4);
    take.strike(60, 90, at(3.5));
    take.strike(62, 90, at(0.5, 1));
    take.letGo(60, at(0.75, 1));
    take.letGo(62, at(1, 1));
    take.message({ kind: 'controller', controller: 64, value: 127 }, at(2, 1));
    const { notes, events } = take.end(at(2, 1));
    expect(notes).toEqual([
      { pitch: 60, velocity: 90, start: 3.5, length: 0.5, pass: 0 },
      { pitch: 62, velocity: 90, start: 0.5, length: 0.5, pass: 1 },
    ]);
    expect(events.map(({ pass }) => pass)).toEqual([1]);
  });
});
