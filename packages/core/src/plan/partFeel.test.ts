import { describe, expect, it } from 'vitest';
import { arrangementWith, note, PPQ, partWith } from '../testing/kit.js';
import { partFeel } from './partFeel.js';

describe('the feel of a part', () => {
  it('says for each sixteenth of the bar how late and how loud it is, and how often it is met', () => {
    // Quarters: the second of each bar 24 ticks late (a tick is a millisecond here), the first 20 steps louder.
    const notes = Array.from({ length: 16 }, (_, quarter) =>
      note(60, quarter * PPQ + (quarter % 4 === 1 ? 24 : 0), 200, { velocity: quarter % 4 === 0 ? 84 : 64 }),
    );
    const arrangement = arrangementWith([partWith(notes)]);
    expect(partFeel(arrangement, 1)).toEqual([
      { sixteenth: 0, late: 0, louder: 20, met: 4 },
      { sixteenth: 4, late: 24, louder: 0, met: 4 },
      { sixteenth: 8, late: 0, louder: 0, met: 4 },
      { sixteenth: 12, late: 0, louder: 0, met: 4 },
    ]);
    expect(partFeel(arrangement, 9)).toEqual([]);
    expect(partFeel(arrangementWith([partWith(notes.slice(0, 2))]), 1)).toEqual([]);
  });
});
