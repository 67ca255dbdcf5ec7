import { describe, expect, it } from 'vitest';
import type { Arrangement } from '../model/arrangement.js';
import { applyEdit, invertEdit } from '../model/edit.js';
import { arrangementWith, note, partWith } from '../testing/kit.js';
import { ticks } from '../time/units.js';
import { keyInWords, type MapWish, mapEdit, readMeter } from './mapEdits.js';

const BAR = 1920;
const piece = arrangementWith([partWith([note(60, 0, 400), note(64, BAR * 5, 400)])]);
const wished = (
  wish: MapWish,
  bar: number,
  before: Arrangement = piece,
  found = [{ tick: ticks(0), fifths: 1, minor: false }],
) => {
  const made = mapEdit(before, bar, wish, found);
  if (!made.ok) throw new Error(made.problem.message);
  const after = applyEdit(before, made.value);
  expect(applyEdit(after, invertEdit(made.value))).toEqual(before);
  return { after, label: made.value.label };
};

describe('a key from a bar on', () => {
  it('keeps the key that was found before it', () => {
    const { after, label } = wished({ wish: 'key', fifths: -3, minor: true }, 3);
    expect(label).toBe('C minor from bar 3');
    expect(after.keys).toEqual([
      { tick: 0, fifths: 1, minor: false },
      { tick: BAR * 2, fifths: -3, minor: true },
    ]);
  });

  it('takes the place of one at the same bar, and is none where it says the same again', () => {
    const first = wished({ wish: 'key', fifths: 4, minor: false }, 1).after;
    expect(first.keys).toEqual([{ tick: 0, fifths: 4, minor: false }]);
    expect(wished({ wish: 'key', fifths: 4, minor: false }, 3, first).after.keys).toEqual(first.keys);
  });

  it('has the names that players say (common practice)', () => {
    expect([-7, -1, 0, 2, 7].map((fifths) => keyInWords({ fifths, minor: false }))).toEqual([
      'C♭ major',
      'F major',
      'C major',
      'D major',
      'C♯ major',
    ]);
    expect([-3, 0, 4].map((fifths) => keyInWords({ fifths, minor: true }))).toEqual(['C minor', 'A minor', 'C♯ minor']);
  });
});

describe('a meter from a bar on', () => {
  it('goes until the next change there is, with its groups', () => {
    const { after, label } = wished({ wish: 'meter', text: ' 2 + 2+3 / 8' }, 2);
    expect(label).toBe('2+2+3/8 from bar 2');
    expect(after.meters).toEqual([
      { tick: 0, numerator: 4, denominator: 4 },
      { tick: BAR, numerator: 7, denominator: 8, groups: [2, 2, 3] },
    ]);
    expect(wished({ wish: 'meter', text: '4/4' }, 2, after).after.meters).toEqual(piece.meters);
  });

  it('keeps a pickup that the first bar holds, and is refused for the pickup itself', () => {
    const padded = { ...piece, meters: [{ tick: ticks(0), numerator: 4, denominator: 4, pickup: ticks(1440) }] };
    expect(mapEdit(padded, 0, { wish: 'meter', text: '3/4' }, [])).toMatchObject({ ok: false });
    expect(wished({ wish: 'meter', text: '3/4' }, 1, padded).after.meters).toHaveLength(2);
  });

  it.each(['', '4', '0/4', '4/3', '4/4/4', '99/8', '2+/8', 'waltz'])('is not "%s"', (text) => {
    const made = readMeter(text);
    expect(made.ok ? '' : made.problem.message).toMatch(/^Type a meter as 3\/4/);
  });
});
