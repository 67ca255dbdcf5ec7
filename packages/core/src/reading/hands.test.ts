import { describe, expect, it } from 'vitest';
import { madeScore } from '../demo/madeScore.js';
import { perform } from '../demo/performer.js';
import { instrumentById } from '../instruments/instruments.js';
import { playedContext } from '../plan/context.js';
import { runPlanOnAll } from '../plan/runPlan.js';
import { contextIn, note } from '../testing/kit.js';
import { playsTwoHanded, splitHands } from './hands.js';

const piano = instrumentById('piano');
const chords = (...list: number[][]) => list.flatMap((chord, k) => chord.map((pitch) => note(pitch, k * 480, 440)));

describe('two hands', () => {
  it('are heard in wide chords, not in a line, and not in an instrument of one staff', () => {
    const wide = chords([40, 52, 67, 72], [43, 55, 67, 74], [36, 48, 64, 76]);
    expect(playsTwoHanded(wide, piano)).toBe(true);
    expect(playsTwoHanded(wide, instrumentById('violin'))).toBe(false);
    const line = Array.from({ length: 30 }, (_, k) => note(36 + k * 2, k * 240, 230));
    expect(playsTwoHanded(line, piano)).toBe(false);
    expect(playsTwoHanded(chords([60, 64, 67], [62, 65, 69]), piano)).toBe(false);
  });
});

describe('which hand plays what', () => {
  const staves = (notes: ReturnType<typeof chords>) => {
    const found = splitHands(notes, contextIn(undefined, { instrument: 'piano' }));
    return notes.map((n) => found.get(n.id));
  };

  it('follows the hands up and down', () => {
    expect(staves(chords([48, 52, 72, 76], [60, 64, 81, 84], [48, 52, 72, 76]))).toEqual([
      2, 2, 1, 1, 2, 2, 1, 1, 2, 2, 1, 1,
    ]);
  });

  it('has two voices of a chorale on each staff, a tenor above middle C with the bass', () => {
    const four = chords([48, 62, 67, 72], [50, 62, 65, 74], [52, 64, 67, 72], [53, 60, 69, 72], [48, 64, 67, 72]);
    expect(staves(four)).toEqual(Array(5).fill([2, 2, 1, 1]).flat());
  });

  it('lets a run that begins in the left hand go on there', () => {
    const run = Array.from({ length: 12 }, (_, k) => note(48 + 2 * k, 1920 + k * 120, 110));
    const found = staves([
      ...chords([40, 47, 72, 76], [43, 50, 74, 79], [40, 47, 72, 76]),
      note(84, 1920, 1900),
      ...run,
    ]);
    expect(found.slice(13)).toEqual(Array(12).fill(2));
  });

  it('leaves a broken chord under a held note to the free hand, and the tones of a roll to the hand that rolls them', () => {
    // The right hand holds a tune in half notes while the other goes up into its reach and back.
    const broken = (at: number) => [60, 67, 64, 67].map((pitch, k) => note(pitch, at + k * 240, 200));
    const bar = (at: number, tune: number) => {
      const [first, ...rest] = broken(at);
      return [first as ReturnType<typeof note>, note(tune, at, 920), ...rest];
    };
    const found = staves([...bar(0, 72), ...bar(960, 76), ...bar(1920, 74)]);
    expect(found).toEqual([2, 1, 2, 2, 2, 2, 1, 2, 2, 2, 2, 1, 2, 2, 2]);
    // Sixty milliseconds from tone to tone: the first is held under the next by nature, however near the other hand lies.
    const rolled = [note(50, 1920, 900), note(57, 1980, 840)];
    expect(staves([note(48, 0, 460), note(64, 0, 460), ...rolled])).toEqual([2, 1, 2, 2]);
  });

  it('leaves a figure that rocks to and fro to the hand that plays it, where the tune above comes down and rests', () => {
    // Broken triads in eighths as in many a sonata (common practice); at its end the tune has a fifth above them, then a rest.
    const figure = [60, 67, 64, 67].flatMap((pitch, k) =>
      [0, 1, 2].map((turn) => note(pitch, turn * 960 + k * 240, 230)),
    );
    const tune = [note(84, 0, 460), note(79, 480, 460), note(81, 960, 460), note(76, 1440, 460), note(74, 1920, 230)];
    const found = staves([...figure, ...tune].sort((a, b) => a.onset - b.onset));
    const byPitch = [...figure, ...tune]
      .sort((a, b) => a.onset - b.onset)
      .map(({ pitch }, k) => [pitch > 70, found[k]]);
    expect(byPitch.filter(([above, staff]) => staff !== (above ? 1 : 2))).toEqual([]);
  });

  it('gives no hand more than it spans, and no more keys than fingers', () => {
    const found = staves(chords([36, 40, 43, 48, 52, 55, 60]));
    expect(found.filter((staff) => staff === 2).length).toBeLessThanOrEqual(5);
    expect(found.filter((staff) => staff === 1).length).toBeLessThanOrEqual(5);
  });

  it('keeps a melody in the right hand while it dips below middle C', () => {
    const melody = [67, 64, 60, 57, 60, 64].map((pitch, k) => note(pitch, k * 480, 440));
    const bass = [36, 43, 36, 43, 36, 43].map((pitch, k) => note(pitch, k * 480, 440));
    const all = [...melody, ...bass].sort((a, b) => a.onset - b.onset || a.pitch - b.pitch);
    const found = splitHands(all, contextIn(undefined, { instrument: 'piano' }));
    expect(melody.map((n) => found.get(n.id))).toEqual([1, 1, 1, 1, 1, 1]);
    expect(bass.map((n) => found.get(n.id))).toEqual([2, 2, 2, 2, 2, 2]);
  });

  it.each([1, 2, 3, 4])('is right for nearly every note of a made keyboard piece (seed %i)', (seed) => {
    const recipe = { seed, kind: 'keyboard', style: 'eighths', bars: 24, quartersPerMinute: 100 } as const;
    const score = madeScore({ ...recipe, meter: { numerator: 4, denominator: 4 } });
    const hand = { seed, ppq: 480, spread: 15, lengths: [0.78, 1.05] as const, doubles: 0, specks: 0, rolled: 0.1 };
    const arrangement = perform(score, hand);
    const [part] = arrangement.parts;
    if (!part) throw new Error('no part');
    const found = splitHands(part.notes, playedContext(arrangement, part));
    const wrong = part.notes.filter((n) => found.get(n.id) !== (n.pitch >= 62 ? 1 : 2));
    // Its left hand now and then spans more than a hand does; there the right one helps out.
    expect(wrong.length / part.notes.length).toBeLessThan(0.045);
  });
});

describe('a keyboard part through its plan', () => {
  it('has each hand on its staff, with three against two where the hands play so', () => {
    const right = Array.from({ length: 24 }, (_, k) =>
      note(72 + (k % 5), Math.round((k * 480) / 3) + (k % 3) - 1, 150),
    );
    const left = Array.from({ length: 16 }, (_, k) => note(40 + (k % 4), k * 240 + (k % 2), 220));
    const notes = [...right, ...left].sort((a, b) => a.onset - b.onset || a.pitch - b.pitch);
    const part = { id: 1, name: 'Piano', instrument: 'piano', channel: 0, program: 0, events: [], notes };
    const [layer] = runPlanOnAll({
      title: '',
      ppq: 480,
      tempos: [],
      meters: [],
      keys: [],
      markers: [],
      silentTracks: [],
      nextNoteId: 1000,
      nextPartId: 2,
      nextEventId: 1,
      parts: [part],
    });
    const upper = layer?.notes.filter((n) => n.staff === 1).map((n) => (n.onset % 10080) / 3360) ?? [];
    const lower = layer?.notes.filter((n) => n.staff === 2).map((n) => (n.onset % 10080) / 5040) ?? [];
    expect(new Set(upper)).toEqual(new Set([0, 1, 2]));
    expect(new Set(lower)).toEqual(new Set([0, 1]));
  });
});
