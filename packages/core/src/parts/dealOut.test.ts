import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { instrumentById } from '../instruments/instruments.js';
import type { Arrangement, Note, Part } from '../model/arrangement.js';
import { applyEdit, invertEdit } from '../model/edit.js';
import { selectionOf } from '../model/selection.js';
import { cases } from '../testing/cases.js';
import { arrangementWith, note, partWith } from '../testing/kit.js';
import { type DealOut, dealOut, dealOutByVoice, voicesOfChords } from './dealOut.js';

const runs = cases(60);
const PLAIN: Omit<DealOut, 'targets'> = { fewer: 'rest', more: 'stay', keep: false };

const quartet = ['violin', 'violin', 'viola', 'cello'].map((instrument, index) =>
  partWith([], { id: index + 2, name: `${instrument} ${index + 1}`, instrument, channel: index + 1 }),
);
/** Chords in one part, above empty ones: each list is sounded for a quarter. */
const chordsOver = (chords: readonly (readonly number[])[], parts: readonly Part[] = quartet): Arrangement => {
  const notes = chords.flatMap((pitches, at) =>
    [...pitches].sort((a, b) => a - b).map((pitch) => note(pitch, at * 480, 470)),
  );
  return arrangementWith([partWith(notes, { id: 1, name: 'Sketch', instrument: 'piano' }), ...parts]);
};
const all = (arrangement: Arrangement) => selectionOf(1, arrangement.parts[0]?.notes.map((n) => n.id) ?? []);
const TARGETS = [2, 3, 4, 5];
const lines = (arrangement: Arrangement) => arrangement.parts.map((part) => part.notes.map((n) => n.pitch));

describe('dealing out', () => {
  it('gives the voices of four-part chords to four parts, top to bottom', () => {
    // The first chords of a cadence in C, from memory.
    const music = chordsOver([
      [76, 67, 60, 48],
      [77, 69, 60, 53],
      [74, 67, 59, 55],
      [72, 67, 60, 48],
    ]);
    const made = dealOut(music, all(music), { ...PLAIN, targets: TARGETS });
    const after = applyEdit(music, made.edit ?? { label: '', changes: [] });
    expect(lines(after)).toEqual([[], [76, 77, 74, 72], [67, 69, 67, 67], [60, 60, 59, 60], [48, 53, 55, 48]]);
    expect(after.parts[1]?.notes.every((n) => n.channel === 1)).toBe(true);
    expect(made).toMatchObject({ stayed: 0, unfit: [] });
    expect(made.edit?.label).toBe('Deal out: 4 notes to violin 1, 4 to violin 2, 4 to viola 3, 4 to cello 4');
    expect(voicesOfChords(music, all(music))).toBe(4);
  });

  it('lets the part rest whose line the smaller chord would break, or doubles', () => {
    const music = chordsOver([
      [76, 67, 60, 48],
      [77, 60, 48],
    ]);
    const resting = applyEdit(music, dealOut(music, all(music), { ...PLAIN, targets: TARGETS }).edit as never);
    expect(lines(resting)).toEqual([[], [76, 77], [67], [60, 60], [48, 48]]);
    const doubling = dealOut(music, all(music), { ...PLAIN, fewer: 'double', targets: TARGETS });
    const doubled = applyEdit(music, doubling.edit as never);
    expect(doubled.parts.slice(1).every((part) => part.notes.length === 2)).toBe(true);
    expect(new Set(doubled.parts.flatMap((part) => part.notes.map((n) => n.id))).size).toBe(8);
  });

  it('leaves what nobody can take where it is, inner and doubled tones first, or gives two to one', () => {
    const music = chordsOver([[84, 76, 72, 67, 48]]);
    const left = dealOut(music, all(music), { ...PLAIN, targets: TARGETS });
    expect(left.stayed).toBe(1);
    // 72 is doubled by 84 and 48.
    expect(lines(applyEdit(music, left.edit as never))).toEqual([[72], [84], [76], [67], [48]]);
    const together = dealOut(music, all(music), { ...PLAIN, more: 'together', targets: TARGETS });
    expect(together.stayed).toBe(0);
    expect(
      lines(applyEdit(music, together.edit as never))
        .flat()
        .sort(),
    ).toEqual([48, 67, 72, 76, 84]);
  });

  it('keeps to ranges, and says what does not fit', () => {
    const two = [
      partWith([], { id: 2, name: 'Flute', instrument: 'flute' }),
      partWith([], { id: 3, name: 'Cello', instrument: 'cello' }),
    ];
    // A single low tone is the cello's, not the upper part's.
    const music = chordsOver([[40]], two);
    expect(lines(applyEdit(music, dealOut(music, all(music), { ...PLAIN, targets: [2, 3] }).edit as never))).toEqual([
      [],
      [],
      [40],
    ]);
    const low = chordsOver([[40]], two);
    const forced = dealOutByVoice(low, all(low), [[2]], false);
    expect(forced.unfit).toEqual([{ partId: 2, low: 1, high: 0, together: 0 }]);
    const both = chordsOver([[74, 67]], two);
    expect(dealOutByVoice(both, all(both), [[2], [2]], false).unfit).toEqual([
      { partId: 2, low: 0, high: 0, together: 1 },
    ]);
  });

  it('goes voice by voice where a person says, doubled or left', () => {
    const music = chordsOver([
      [76, 67, 60],
      [77, 69, 60],
    ]);
    const made = dealOutByVoice(music, all(music), [[2, 3], [], [5]], false);
    expect(lines(applyEdit(music, made.edit as never))).toEqual([[67, 69], [76, 77], [76, 77], [], [60, 60]]);
    expect(made.stayed).toBe(2);
    const kept = dealOutByVoice(music, all(music), [[2]], true);
    expect(lines(applyEdit(music, kept.edit as never))).toEqual([[60, 67, 76, 60, 69, 77], [76, 77], [], [], []]);
    expect(dealOutByVoice(music, all(music), [[1]], false).edit).toBeNull();
    expect(dealOut(music, all(music), { ...PLAIN, targets: [] }).edit).toBeNull();
  });

  it('gives large chords and many parts straight down the order', () => {
    const many = Array.from({ length: 12 }, (_, index) =>
      partWith([], { id: index + 2, name: `Part ${index}`, instrument: 'piano' }),
    );
    const music = chordsOver([Array.from({ length: 13 }, (_, index) => 40 + index)], many);
    const made = dealOut(music, all(music), { ...PLAIN, targets: many.map((part) => part.id) });
    expect(made.stayed).toBe(1);
    const dealt = lines(applyEdit(music, made.edit as never));
    expect([dealt[1], dealt[12], dealt[0]]).toEqual([[52], [40], [41]]);
  });
});

const anyChords = fc.array(fc.uniqueArray(fc.integer({ min: 40, max: 88 }), { minLength: 1, maxLength: 6 }), {
  minLength: 1,
  maxLength: 8,
});

describe('properties of dealing out', () => {
  it('loses no note, keeps the order of voices, and is taken back to the same', () => {
    fc.assert(
      fc.property(
        anyChords,
        fc.constantFrom('rest', 'double'),
        fc.constantFrom('stay', 'together'),
        (chords, fewer, more) => {
          const music = chordsOver(chords);
          const made = dealOut(music, all(music), { targets: TARGETS, fewer, more, keep: false });
          const after = made.edit ? applyEdit(music, made.edit) : music;
          const ids = (arrangement: Arrangement) => arrangement.parts.flatMap((part) => part.notes.map((n) => n.id));
          const now = ids(after);
          expect(new Set(now).size).toBe(now.length);
          for (const id of ids(music)) expect(now).toContain(id);
          if (made.edit) expect(applyEdit(after, invertEdit(made.edit)).parts).toEqual(music.parts);
          const at = (part: Part, onset: number): readonly Note[] => part.notes.filter((n) => n.onset === onset);
          chords.forEach((_, index) => {
            const [, ...parts] = after.parts;
            const taken = parts.map((part) => at(part, index * 480).map((n) => n.pitch));
            for (let upper = 0; upper < taken.length; upper += 1) {
              for (const lower of taken.slice(upper + 1)) {
                for (const pitch of lower) expect((taken[upper] ?? []).every((own) => own >= pitch)).toBe(true);
              }
            }
          });
          expect(made.stayed === 0 || more === 'stay').toBe(true);
        },
      ),
      runs,
    );
  });

  it('keeps to the ranges wherever the order lets it', () => {
    fc.assert(
      fc.property(anyChords, (chords) => {
        const four = chords.map((chord) => chord.slice(0, 4));
        const music = chordsOver(four);
        const made = dealOut(music, all(music), { ...PLAIN, targets: TARGETS });
        const ranges = quartet.map((part) => instrumentById(part.instrument));
        // For each chord the fewest tones out of range that any way in order has.
        const fewest = four.map((chord) => {
          const tones = [...chord].sort((a, b) => b - a);
          const best = (tone: number, part: number): number => {
            if (tone === tones.length) return 0;
            if (part === ranges.length) return Number.POSITIVE_INFINITY;
            const range = ranges[part] as (typeof ranges)[number];
            const pitch = tones[tone] as number;
            const out = pitch < range.lowest || pitch > range.highest ? 1 : 0;
            return Math.min(best(tone, part + 1), out + best(tone + 1, part + 1));
          };
          return best(0, 0);
        });
        const out = made.unfit.reduce((sum, { low, high }) => sum + low + high, 0);
        expect(out).toBe(fewest.reduce((sum, count) => sum + count, 0));
      }),
      runs,
    );
  });
});
