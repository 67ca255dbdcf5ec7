import { describe, expect, it } from 'vitest';
import { contextIn, note } from '../testing/kit.js';
import { settleLengths } from './settleLengths.js';

/** Lengths in quarters after settling; notes as [onset, played length] in quarters. */
const settled = (places: [number, number][], context = contextIn(undefined, { until: 480 * 16 })) =>
  settleLengths
    .run(
      places.map(([onset, length], index) =>
        note(60 + (index % 12), Math.round(onset * 480), Math.round(length * 480)),
      ),
      context,
      settleLengths.defaults,
    )
    .notes.map((n) => Math.round((n.duration / 480) * 1000) / 1000);

describe('Settle lengths', () => {
  it('lets a note last until the next start where it fills most of the way', () => {
    expect(
      settled([
        [0, 0.85],
        [1, 0.95],
        [2, 1.8],
      ]),
    ).toEqual([1, 1, 2]);
  });

  it('leaves a rest on the beat where a note stops clearly short', () => {
    expect(
      settled([
        [0, 0.9],
        [2, 0.9],
        [3, 0.9],
      ]),
    ).toEqual([1, 1, 1]);
  });

  it('takes the same stop for a late end in a quarter, and for a rest in a half', () => {
    // All else is played for four fifths of its value at the least.
    const joined = Array.from({ length: 12 }, (_, k): [number, number] => [k, 0.8 + (k % 3) * 0.08]);
    const after: [number, number][] = [
      [12, 0.73],
      [13, 0.9],
      [14, 1.46],
      [16, 0.9],
    ];
    expect(settled([...joined, ...after]).slice(12, 15)).toEqual([1, 1, 1.5]);
  });

  it('ends a piece that begins with a pickup so that its last bar completes that', () => {
    // Three four; quarters from beat 3 on, and a last note that could be two bars, or a beat less (common practice: a beat less).
    const three = contextIn({ numerator: 3, denominator: 4 }, { until: 480 * 12 });
    const from = (first: number, last: number, without?: number) =>
      settled(
        [
          ...[2, 3, 4, 5].filter((at) => at >= first && at !== without).map((at): [number, number] => [at, 0.88]),
          [6, last],
        ],
        three,
      ).at(-1);
    expect(from(2, 4.7)).toBe(5);
    expect(from(2, 5.2)).toBe(5);
    // What plainly fills the bar does.
    expect(from(2, 5.9)).toBe(6);
    // No pickup: it begins with a whole bar, or with a rest that no bar line follows.
    expect(from(3, 4.7)).toBe(6);
    expect(from(2, 4.7, 3)).toBe(6);
    const { changes } = settleLengths.run(
      [2, 3, 4, 5, 6].map((at) => note(60 + at, at * 480, at === 6 ? 2250 : 420)),
      three,
      settleLengths.defaults,
    );
    expect(changes.at(-1)?.reason).toBe('ends so that the last bar completes the pickup');
  });

  it('settles chord tones together', () => {
    const context = contextIn(undefined, { until: 480 * 8 });
    const chord = [note(60, 0, 430), note(64, 0, 460), note(67, 0, 380), note(60, 480, 400)];
    const { notes } = settleLengths.run(chord, context, settleLengths.defaults);
    expect(notes.slice(0, 3).map((n) => n.duration)).toEqual([480, 480, 480]);
  });

  it('keeps dotted values between a dotted quarter and an eighth', () => {
    expect(
      settled([
        [0, 1.3],
        [1.5, 0.45],
        [2, 1.9],
      ]),
    ).toEqual([1.5, 0.5, 2]);
  });

  it('keeps triplet values in a triplet', () => {
    expect(
      settled([
        [0, 0.6],
        [2 / 3, 0.3],
        [1, 0.9],
      ]),
    ).toEqual([0.667, 0.333, 1]);
  });

  it('writes a run of short notes as plain values with staccato dots', () => {
    const run = [0, 1, 2, 3].map((beat) => note(60 + beat, beat * 480, 150));
    const { notes } = settleLengths.run(
      [...run, note(72, 1920, 480)],
      contextIn(undefined, { until: 480 * 8 }),
      settleLengths.defaults,
    );
    expect(notes.slice(0, 4).map((n) => [n.duration, n.staccato])).toEqual(Array(4).fill([480, true]));
  });

  it('writes a rest after a short note that is followed late, no half with a dot', () => {
    const run = Array.from({ length: 8 }, (_, k) => note(60 + k, k * 480, 140));
    const { notes } = settleLengths.run(
      [...run, note(72, 3840, 120), note(74, 4800, 150), note(76, 5280, 140)],
      contextIn(undefined, { until: 480 * 12 }),
      settleLengths.defaults,
    );
    expect(notes.slice(7, 10).map((n) => [n.duration, n.staccato])).toEqual(Array(3).fill([480, true]));
  });

  it('reads a rest from the keys under a pedal that holds on, and says so', () => {
    // Sixteenths held for nearly all of their value, then quarters, one of them for less than half.
    const quick = Array.from({ length: 16 }, (_, k) => note(72 + (k % 5), k * 120, 108));
    const quarters = [430, 216, 440, 425].map((played, k) => note(60 + k, 1920 + k * 480, played));
    const held = [...quick, ...quarters, note(72, 3840, 1900)].map((n) => ({ ...n, soundsTo: 5760 }));
    const { notes, changes } = settleLengths.run(held, contextIn(undefined, { until: 5760 }), settleLengths.defaults);
    expect(notes.slice(16, 20).map((n) => n.duration)).toEqual([480, 240, 480, 480]);
    const reasons = changes.filter(({ noteId }) => noteId === quarters[1]?.id).map(({ reason }) => reason);
    expect(reasons).toEqual(['under the pedal, its key was let go as for this value']);
  });

  it('gives the last short note before a rest a value that ends with its beat', () => {
    const run = (last: number): [number, number][] => [0, 0.5, 1, 1.5, 2, last].map((at) => [at, 0.17]);
    // An eighth after the beat, and a rest of a quarter: no quarter over the next beat.
    const bars: [number, number][] = [
      [0, 0.4],
      [1, 0.18],
      [1.5, 0.14],
      [2, 0.17],
      [2.5, 0.22],
      [4, 0.14],
      [4.5, 0.11],
      [5, 0.14],
    ];
    expect(settled(bars).slice(0, 5)).toEqual([1, 0.5, 0.5, 0.5, 0.5]);
    // A sixteenth before the beat that sounds for less of itself than it might.
    const short = settled([...run(2.5).map(([at]): [number, number] => [at, 0.14]), [3, 0.14], [3.75, 0.1], [5, 0.14]]);
    expect(short[7]).toBe(0.25);
  });

  it('writes a note that a short passage holds at its own length', () => {
    const run = [0, 0.5, 1, 1.5].map((at): [number, number] => [at, 0.15]);
    expect(settled([...run, [2, 1.9], [5, 0.15], [5.5, 0.15], [6, 0.15]])[4]).toBe(2);
  });

  it('leaves staccato alone where it is switched off', () => {
    const run = [0, 1, 2, 3].map((beat) => note(60 + beat, beat * 480, 200));
    const { notes } = settleLengths.run(run, contextIn(undefined, { until: 480 * 8 }), {
      ...settleLengths.defaults,
      staccato: false,
    });
    expect(notes.every((n) => !n.staccato && n.duration === 240)).toBe(true);
  });

  it('fills a dotted beat in 6/8', () => {
    const lilt = contextIn({ numerator: 6, denominator: 8 }, { until: 480 * 6 });
    expect(
      settled(
        [
          [0, 0.9],
          [1, 0.45],
          [1.5, 1.4],
        ],
        lilt,
      ),
    ).toEqual([1, 0.5, 1.5]);
  });

  it('writes percussion to the next stroke or the end of the beat', () => {
    const drums = contextIn(undefined, { instrument: 'percussion', until: 480 * 8 });
    expect(
      settled(
        [
          [0, 0.1],
          [0.5, 0.1],
          [2, 0.1],
        ],
        drums,
      ),
    ).toEqual([0.5, 0.5, 1]);
  });

  it('marks a note that is held out among short ones, where it is asked to, and says why', () => {
    const places = Array.from({ length: 16 }, (_, eighth) => note(67, eighth * 240, eighth === 8 ? 237 : 86));
    const context = contextIn(undefined, { until: 480 * 8 });
    const marksWith = (tenuto: boolean) =>
      settleLengths
        .run(places, context, { ...settleLengths.defaults, tenuto })
        .notes.map((n) => n.signs?.marks?.join());
    expect(
      marksWith(true)
        .map((marks, index) => (marks ? `${index} ${marks}` : ''))
        .filter(Boolean),
    ).toEqual(['8 tenuto']);
    expect(marksWith(false).every((mark) => mark === undefined)).toBe(true);
    const { changes } = settleLengths.run(places, context, settleLengths.defaults);
    expect(changes.find(({ noteId }) => noteId === places[8]?.id)?.reason).toMatch(/a tenuto$/);
  });
});
