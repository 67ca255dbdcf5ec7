/** What the checks notice at their very bounds. At 480 PPQ and a tick a millisecond. */
import { describe, expect, it } from 'vitest';
import type { Arrangement, Part } from '../model/arrangement.js';
import { READY_PLANS } from '../plan/readyPlans.js';
import { runPlan } from '../plan/runPlan.js';
import { writtenMaps } from '../plan/writtenMaps.js';
import type { StepNote } from '../reading/stepNote.js';
import { planStep } from '../steps/registry.js';
import { arrangementWith, note, partWith, pedal } from '../testing/kit.js';
import { ticks } from '../time/units.js';
import { type FindingKind, findingsOf } from './registry.js';

const found = (kind: FindingKind, notes: StepNote[], more: Partial<Part> = {}, piece: Partial<Arrangement> = {}) => {
  const arrangement = arrangementWith([partWith(notes, more)], piece);
  const part = arrangement.parts[0] as Part;
  const layer = runPlan(part, arrangement.ppq, writtenMaps(arrangement));
  return findingsOf(arrangement, part, layer).filter((finding) => finding.kind === kind);
};
const line = () => Array.from({ length: 16 }, (_, k) => note(60 + (k % 5), 1920 + k * 480, 440));

describe('overlaps of one pitch', () => {
  it('are none where the second begins just where the first ends', () => {
    const at = (onset: number) => found('samePitchOverlap', [...line(), note(72, 0, 400), note(72, onset, 300)]).length;
    expect([at(399), at(400)]).toEqual([1, 0]);
  });
});

describe('two at once', () => {
  it('is none for legato, nor beside a note that ended', () => {
    const over = (length: number) => found('twoAtOnce', [...line(), note(72, 0, length), note(74, 480, 400)]).length;
    expect([over(480 + 60), over(480 + 62)]).toEqual([0, 1]);
    // A long note sounds under two that follow it, and is told with each.
    expect(found('twoAtOnce', [...line(), note(72, 0, 1400), note(74, 480, 300), note(76, 960, 300)])).toHaveLength(2);
  });

  it('offers to end the first, and that one alone', () => {
    const [told] = found('twoAtOnce', [...line(), note(72, 0, 900), note(74, 480, 400)]);
    expect(told?.mend?.noteIds).toEqual([told?.noteIds[0]]);
  });
});

describe('hung notes', () => {
  it('last many times as long as the part’s own notes do', () => {
    // Notes of a bar and a half each: three bars are nothing out of the way, twelve such notes are.
    const slow = Array.from({ length: 40 }, (_, k) => note(60 + (k % 5), 960 + k * 2880, 2880));
    const over = (length: number) => found('hungNotes', [note(40, 0, length), ...slow], { instrument: 'piano' }).length;
    expect([over(12 * 2880 - 1), over(12 * 2880)]).toEqual([0, 1]);
  });
});

describe('wider than a hand', () => {
  it('says in which hand, and moves its far note towards the others', () => {
    const beats = [0, 1, 2, 3, 4, 5, 6, 7];
    const told = (extra: number) =>
      found(
        'widerThanHand',
        beats.flatMap((k) =>
          [36, 43, 48, 67, 72, 76, ...(k === 4 ? [extra] : [])].map((pitch) => note(pitch, k * 960, 900)),
        ),
        { instrument: 'piano' },
      ).map(({ reason, mend }) => `${reason}; ${mend?.label}`);
    expect(told(95)).toEqual(['G4 to B6 in the right hand; Move G4 an octave up']);
    expect(told(22)).toEqual(['B♭0 to C3 in the left hand; Move C3 an octave down']);
  });
});

describe('out of range', () => {
  it('goes down by whole octaves where a phrase lies too high', () => {
    const high = found('outOfRange', [...line(), note(108, 30_000, 400), note(110, 30_480, 400)]);
    expect(high).toHaveLength(1);
    expect(high[0]?.mend).toMatchObject({ parameters: { octaves: -1 }, label: 'Move the phrase down an octave' });
    expect(high[0]?.reason).toContain('above');
    expect(high[0]?.reason).toContain('1 more of the phrase is out of range');
  });
});

describe('uneven chord ends', () => {
  const chord = (length: number) => [note(60, 1920, length), note(64, 1920, 900), note(67, 1920, 900)];
  const uneven = (notes: StepNote[], more: Partial<Part> = {}) =>
    found('unevenEnds', [...line().map((n) => ({ ...n, onset: n.onset + 9600 }) as StepNote), ...notes], {
      instrument: 'piano',
      ...more,
    }).length;

  it('are none while a pedal holds them, from the tick it goes down to the tick it lifts', () => {
    expect(uneven(chord(500))).toBe(1);
    // The first tone ends at tick 2420.
    expect(uneven(chord(500), { events: pedal(1000, 2421) })).toBe(0);
    expect(uneven(chord(500), { events: pedal(1000, 2420) })).toBe(1);
    expect(uneven(chord(500), { events: pedal(2420, 5000) })).toBe(0);
  });
});

describe('hung notes', () => {
  it('are far longer than the others, four bars at least, with many notes after their start', () => {
    const hung = (length: number, after = 16) =>
      found('hungNotes', [note(50, 0, length), ...line().slice(0, after)], { instrument: 'piano' }).length;
    expect(hung(9 * 480)).toBe(0);
    expect(hung(14 * 480 * 4)).toBe(1);
    expect(hung(14 * 480 * 4, 7)).toBe(0);
  });
});

describe('what is far off the grid', () => {
  it('is told where it was played, goes to the sixteenth, and keeps its key while the notes do', () => {
    const tempos = [{ tick: ticks(0), microsecondsPerQuarter: 1_000_000 }];
    const notes = Array.from({ length: 40 }, (_, k) =>
      note(60 + (k % 7), k === 20 ? k * 480 + 38 : k * 480 + ((k * 7) % 21), 440),
    );
    const [told, ...more] = found('farOffGrid', notes, {}, { tempos });
    expect(more).toEqual([]);
    expect(told).toMatchObject({ tick: 20 * 480 + 38, severity: 'look', noteIds: [notes[20]?.id] });
    expect(told?.mend).toMatchObject({ step: 'quantizeStarts', parameters: { grid: 1 / 16 } });
    expect(told?.key).toBe(`farOffGrid:${notes[20]?.id}`);
  });
});

describe('a start that could have gone either way', () => {
  it('can be moved to the eighth, and is no muted one', () => {
    const plan = { ...READY_PLANS.line, steps: [planStep('quantizeStarts', { grid: 1 / 4 })] };
    const half = (muted: boolean) =>
      found('eitherWay', [...line(), note(72, 480 + 215, 100, muted ? { muted } : {})], { plan });
    expect(half(true)).toEqual([]);
    expect(half(false)).toHaveLength(1);
    expect(half(false)[0]?.mend).toMatchObject({ where: 'notes', parameters: { grid: 1 / 8 } });
  });
});

describe('keys', () => {
  it('name eight notes of a finding at most', () => {
    const notes = Array.from({ length: 24 }, (_, k) => note(110, k * 480, 440));
    const [told] = found('outOfRange', notes);
    expect(told?.key.split('.')).toHaveLength(8);
    expect(told?.noteIds).toHaveLength(24);
  });
});

describe('a pedal that never lifts', () => {
  it('is told of the notes that end where it goes down or later', () => {
    const [told] = found('pedalNeverLifts', [note(60, 0, 480), note(62, 0, 481), note(64, 480, 400)], {
      instrument: 'piano',
      events: pedal(480),
    });
    expect(told?.noteIds).toHaveLength(3);
    const [later] = found('pedalNeverLifts', [note(60, 0, 480), note(62, 0, 481), note(64, 480, 400)], {
      instrument: 'piano',
      events: pedal(481),
    });
    expect(later?.noteIds).toHaveLength(2);
  });
});
