import { describe, expect, it } from 'vitest';
import { applyEdit } from '../model/edit.js';
import { arrangementWith, note, partWith } from '../testing/kit.js';
import { ticks } from '../time/units.js';
import { moveKey, moveMeter } from './placeEdits.js';

const base = arrangementWith([partWith([note(60, 0, 480)])], {
  meters: [
    { tick: ticks(0), numerator: 4, denominator: 4 },
    { tick: ticks(3840), numerator: 3, denominator: 4 },
    { tick: ticks(6720), numerator: 2, denominator: 4 },
  ],
  keys: [
    { tick: ticks(0), fifths: 0, minor: false },
    { tick: ticks(3840), fifths: 2, minor: false },
  ],
});

describe('signs moved along the ruler', () => {
  it('a meter goes to the nearest bar line of what is left, and takes the place of one that stands there', () => {
    const [first, second, third] = base.meters;
    if (!first || !second || !third) throw new Error('no meters');
    expect(moveMeter(base, first, 1920)).toBeNull();
    expect(moveMeter(base, second, 3700)).toBeNull();
    expect(moveMeter(base, second, 100)).toBeNull();
    const earlier = moveMeter(base, second, 2100);
    expect(earlier && applyEdit(base, earlier).meters.map(({ tick }) => tick)).toEqual([0, 1920, 6720]);
    const upon = moveMeter(base, third, 3900);
    expect(upon && applyEdit(base, upon).meters).toEqual([first, { ...third, tick: 3840 }]);
  });

  it('a key goes to the nearest bar line', () => {
    const key = base.keys[1];
    if (!key) throw new Error('no key');
    expect(moveKey(base, key, 3900)).toBeNull();
    const later = moveKey(base, key, 5200);
    expect(later?.label).toBe('Move the key: D major');
    // The second bar of three quarters begins at 5280.
    expect(later && applyEdit(base, later).keys.map(({ tick }) => tick)).toEqual([0, 5280]);
  });
});
