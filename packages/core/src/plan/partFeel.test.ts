import { describe, expect, it } from 'vitest';
import { isKeptFeel } from '../model/keptFeel.js';
import { arrangementWith, note, PPQ, partWith } from '../testing/kit.js';
import { partFeel } from './partFeel.js';

describe('the feel of a part', () => {
  it('says for each sixteenth of the bar how late and how loud it is, and how often it is met', () => {
    // Quarters: the second of each bar 24 ticks late (a tick is a millisecond here), the first 20 steps louder.
    const notes = Array.from({ length: 16 }, (_, quarter) =>
      note(60, quarter * PPQ + (quarter % 4 === 1 ? 24 : 0), 200, { velocity: quarter % 4 === 0 ? 84 : 64 }),
    );
    const arrangement = arrangementWith([partWith(notes)]);
    expect(partFeel(arrangement, 1)).toEqual({
      name: arrangement.parts[0]?.name,
      bar: 16,
      places: [
        { sixteenth: 0, late: 0, louder: 20, met: 4 },
        { sixteenth: 4, late: 24, louder: 0, met: 4 },
        { sixteenth: 8, late: 0, louder: 0, met: 4 },
        { sixteenth: 12, late: 0, louder: 0, met: 4 },
      ],
    });
    expect(isKeptFeel(partFeel(arrangement, 1))).toBe(true);
    expect(partFeel(arrangement, 9)).toBeNull();
    expect(partFeel(arrangementWith([partWith(notes.slice(0, 2))]), 1)).toBeNull();
  });
});
