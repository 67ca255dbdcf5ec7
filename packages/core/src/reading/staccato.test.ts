import { describe, expect, it } from 'vitest';
import { WRITTEN_PPQ } from '../time/units.js';
import { staccatoShares } from './staccato.js';

/** Notes one after another: the way to the next start, and how much of it each sounds, in quarters. */
const sounding = (list: readonly (readonly [slot: number, sounds: number])[]) => {
  let at = 0;
  return list.map(([slot, sounds]) => {
    const onset = at * WRITTEN_PPQ;
    at += slot;
    return { onset, sounding: sounds * WRITTEN_PPQ, next: at * WRITTEN_PPQ };
  });
};
const dots = (list: Parameters<typeof sounding>[0]) =>
  staccatoShares(sounding(list)).map((share) => (share > 0 ? 1 : 0));
const short = [0.5, 0.15] as const;
const full = [0.5, 0.45] as const;

describe('staccato', () => {
  it('is a state that a passage has, begun and ended where the playing changes', () => {
    expect(dots([full, full, short, short, short, short, short, full, full])).toEqual([0, 0, 1, 1, 1, 1, 1, 0, 0]);
  });

  it('is not one short note, nor notes with rests after them', () => {
    expect(dots([full, full, short, full, full])).toEqual([0, 0, 0, 0, 0]);
    expect(dots([full, [1, 0.46], full, [1, 0.47], full, [1, 0.45], full])).toEqual([0, 0, 0, 0, 0, 0, 0]);
  });

  it('leaves out what a short passage holds: a half note before a rest, played to its end', () => {
    expect(dots([short, short, short, [3, 1.9], short, short, short])).toEqual([1, 1, 1, 0, 1, 1, 1]);
    expect(dots([short, short, short, [3, 0.3], short, short, short])).toEqual([1, 1, 1, 1, 1, 1, 1]);
  });

  it('is likelier than a rest within half a beat, and not within a beat', () => {
    expect(dots([full, full, [0.5, 0.17], [0.5, 0.17], full, full])).toEqual([0, 0, 1, 1, 0, 0]);
    expect(dots([full, full, [1, 0.34], [1, 0.34], full, full])).toEqual([0, 0, 0, 0, 0, 0]);
  });

  it('holds over a long note within it, and over one that is a little longer', () => {
    const list = [short, short, [0.5, 0.21], short, [2, 0.2], short, short, short] as const;
    expect(dots(list)).toEqual([1, 1, 1, 1, 1, 1, 1, 1]);
  });

  it('says what share of their values the notes of the passage sound for', () => {
    const [share] = staccatoShares(sounding([short, short, short, short, short]));
    expect(share).toBeCloseTo(0.3, 5);
  });
});
