import { describe, expect, it } from 'vitest';
import { applyEdit } from '../model/edit.js';
import { arrangementWith, partWith } from '../testing/kit.js';
import { drawRepeats } from './noteEdits.js';

const repeated = (duration: number, unit: number): string => {
  const empty = arrangementWith([partWith([])]);
  const edit = drawRepeats(empty, 1, { pitch: 60, onset: 100, duration, velocity: 80 }, unit);
  const [part] = edit ? applyEdit(empty, edit).parts : [];
  return (part?.notes ?? []).map((note) => `${note.onset}+${note.duration}`).join(' ');
};

describe('a note drawn as repeats', () => {
  it('is cut into as many as fit, the last as long as what is left', () => {
    expect(repeated(480, 120)).toBe('100+120 220+120 340+120 460+120');
    expect(repeated(300, 120)).toBe('100+120 220+120 340+60');
    expect(repeated(90, 120)).toBe('100+90');
  });

  it('has whole ticks, and no last one for a thousandth of a repeat', () => {
    expect(repeated(321, 160.4)).toBe('100+160 260+160 420+1');
    expect(repeated(3, 0.2)).toBe('100+1 101+1 102+1');
    expect(repeated(480.1, 120)).toBe('100+120 220+120 340+120 460+120');
  });
});
