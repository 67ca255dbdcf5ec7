import { beforeAll, describe, expect, it } from 'vitest';
import type { Arrangement, Note } from '../model/arrangement.js';
import { applyEdit, invertEdit } from '../model/edit.js';
import { selectionOf } from '../model/selection.js';
import { writeMusicXml } from '../musicxml/writeMusicXml.js';
import { buildScore } from '../notation/buildScore.js';
import { readPitches } from '../notation/pitchReading.js';
import type { Score } from '../notation/score.js';
import { runPlanOnAll } from '../plan/runPlan.js';
import { writtenMaps } from '../plan/writtenMaps.js';
import { arrangementWith, note, partWith } from '../testing/kit.js';
import { createOpenSheetMusicDisplay, createVerovio, headRows, soundingRows } from '../testing/readBack.js';
import { ticks } from '../time/units.js';
import { type PageWish, pageEdit } from './pageEdits.js';
import { ratioOf } from './tuplets.js';

let verovio: Awaited<ReturnType<typeof createVerovio>>;
let openSheetMusicDisplay: Awaited<ReturnType<typeof createOpenSheetMusicDisplay>>;
beforeAll(async () => {
  verovio = await createVerovio();
  openSheetMusicDisplay = await createOpenSheetMusicDisplay();
});

const scoreOf = (arrangement: Arrangement): Score => {
  const layers = runPlanOnAll(arrangement);
  return buildScore(arrangement, layers, writtenMaps(arrangement), readPitches(arrangement, layers));
};
const wished = (arrangement: Arrangement, wish: PageWish, notes: readonly Note[]) => {
  const layers = runPlanOnAll(arrangement);
  const selection = selectionOf(
    1,
    notes.map(({ id }) => id),
  );
  return pageEdit(
    {
      arrangement,
      selection,
      writtenOf: () => layers[0] ?? { notes: [] },
      reading: () => readPitches(arrangement, layers),
      barAt: writtenMaps(arrangement).meterMap.barAt,
    },
    wish,
  );
};
const done = (arrangement: Arrangement, wish: PageWish, notes: readonly Note[]): Arrangement => {
  const made = wished(arrangement, wish, notes);
  if (!made.ok) throw new Error(made.problem.message);
  expect(applyEdit(applyEdit(arrangement, made.value), invertEdit(made.value))).toEqual({
    ...arrangement,
    nextNoteId: expect.any(Number),
    parts: arrangement.parts.map((part) => ({ overrides: undefined, ...part })),
  });
  return applyEdit(arrangement, made.value);
};
const refused = (arrangement: Arrangement, wish: PageWish, notes: readonly Note[]): string => {
  const made = wished(arrangement, wish, notes);
  return made.ok ? '' : made.problem.message;
};
/** The first bar's signs: value, its tuplet, r for a rest. */
const signs = (arrangement: Arrangement): string =>
  (scoreOf(arrangement).parts[0]?.bars[0]?.events ?? [])
    .map(
      ({ kind, value, ratio }) =>
        `${kind === 'rest' ? 'r' : ''}${value.denominator}${'.'.repeat(value.dots)}${ratio ? `(${ratio.actual}:${ratio.normal})` : ''}`,
    )
    .join(' ');
const readAlike = (arrangement: Arrangement) => {
  const score = scoreOf(arrangement);
  const musicXml = writeMusicXml(score);
  expect(verovio.headRows(musicXml)).toEqual(headRows(score));
  expect(openSheetMusicDisplay(musicXml)).toEqual(soundingRows(score));
};

/** Starts in ticks of 480 to the quarter, each sounding to the next; the last to the end. */
const line = (starts: readonly number[], end = 1920): Note[] =>
  starts.map((at, k) => note(67 + (k % 5), at, (starts[k + 1] ?? end) - at));
const inBar = (notes: readonly Note[], ...meter: [number, number] | []) =>
  arrangementWith([partWith(notes)], ...(meter.length === 2 ? [{ meters: meterOf(meter) }] : []));
const meterOf = ([numerator, denominator]: [number, number]) => [{ tick: ticks(0), numerator, denominator }];

describe('the ratio of a tuplet', () => {
  // Common practice: Gould, Behind Bars (2011), ch. 6.
  it.each([
    [10_080, 3, '3:2'],
    [10_080, 5, '5:4'],
    [10_080, 6, '6:4'],
    [10_080, 9, '9:8'],
    [20_160, 3, '3:2'],
    [20_160, 7, '7:4'],
    [15_120, 2, '2:3'],
    [15_120, 4, '4:3'],
    [15_120, 5, '5:3'],
    [15_120, 7, '7:6'],
  ])('over %i units, %i notes: %s', (length, actual, ratio) => {
    const { actual: many, normal } = ratioOf(length, actual) ?? { actual: 0, normal: 0 };
    expect(`${many}:${normal}`).toBe(ratio);
  });

  it('four in a quarter, or three in a dotted one, are none', () => {
    expect(ratioOf(10_080, 4)).toBeNull();
    expect(ratioOf(15_120, 3)).toBeNull();
  });
});

describe('tuplets by hand', () => {
  const eighths = line([0, 240, 480, 720, 960]);
  const base = inBar(eighths);

  it('three notes become a triplet on the beat that they fill best', () => {
    const uneven = line([0, 120, 360, 480, 960]);
    expect(signs(inBar(uneven))).toBe('16 8 16 4 2');
    const made = done(inBar(uneven), { wish: 'tuplet', actual: 3 }, uneven.slice(0, 3));
    expect(signs(made)).toBe('8(3:2) 8(3:2) 8(3:2) 4 2');
    readAlike(made);
  });

  it.each([5, 6, 7, 9, 10, 12, 15])('%i notes in the time of a half', (actual) => {
    const notes = line([...Array.from({ length: actual }, (_, k) => Math.round((k * 960) / actual)), 960]);
    const made = done(inBar(notes), { wish: 'tuplet', actual }, notes.slice(0, actual));
    const { normal } = ratioOf(20_160, actual) ?? { normal: 0 };
    expect(signs(made)).toBe(`${`${2 * normal}(${actual}:${normal}) `.repeat(actual)}2`);
    readAlike(made);
  });

  it('two and four in a dotted beat', () => {
    const notes = line([0, 360, 720, 900, 1080, 1260], 1440);
    const base68 = inBar(notes, 6, 8);
    const duplet = done(base68, { wish: 'tuplet', actual: 2 }, notes.slice(0, 2));
    const four = done(duplet, { wish: 'tuplet', actual: 4 }, notes.slice(2, 6));
    expect(signs(four)).toBe('8(2:3) 8(2:3) 8(4:3) 8(4:3) 8(4:3) 8(4:3)');
    readAlike(four);
  });

  it('hold where the plan would read something else, and are changed by wishing another one', () => {
    const triplet = done(base, { wish: 'tuplet', actual: 3 }, eighths.slice(0, 2));
    expect(signs(triplet)).toBe('4(3:2) 8(3:2) 8 8 2');
    const five = done(triplet, { wish: 'tuplet', actual: 5 }, eighths.slice(0, 2));
    expect(signs(five)).toBe('8.(5:4) 8(5:4) 8 8 2');
    readAlike(five);
  });

  it('with fewer notes the places left over are rests or longer notes', () => {
    const two = line([0, 320, 480]);
    const made = done(inBar(two), { wish: 'tuplet', actual: 3 }, two.slice(0, 2));
    expect(signs(made)).toBe('4(3:2) 8(3:2) 2.');
  });

  it('take in what lies between, and go again to plain places', () => {
    const triplet = done(base, { wish: 'tuplet', actual: 3 }, eighths.slice(0, 3));
    expect(signs(triplet)).not.toBe(signs(base));
    const again = done(triplet, { wish: 'plain' }, eighths.slice(0, 1));
    expect(signs(again)).not.toContain(':');
    expect(scoreOf(again).parts[0]?.bars[0]?.events.filter(({ kind }) => kind === 'chord').length).toBeGreaterThan(4);
    // A triplet that the plan read is plain on request as well.
    const played = line([0, 160, 320, 480]);
    expect(signs(inBar(played))).toBe('8(3:2) 8(3:2) 8(3:2) 2.');
    expect(signs(done(inBar(played), { wish: 'plain' }, played.slice(1, 2)))).not.toContain(':');
  });

  it('let a note go at either end: it is plain, and the others stay a tuplet', () => {
    const played = line([0, 160, 320, 480]);
    expect(signs(inBar(played))).toBe('8(3:2) 8(3:2) 8(3:2) 2.');
    const last = done(inBar(played), { wish: 'freed' }, played.slice(2, 3));
    expect(signs(last)).toBe('8(3:2) 16(3:2) 8 2.');
    readAlike(last);
    const first = done(inBar(played), { wish: 'freed' }, played.slice(0, 1));
    expect(signs(first)).toMatch(/^8 (16|8)\(3:2\) (16|8)\(3:2\) 2\.$/);
    readAlike(first);
    // One that a person made as well; joined again it is as it was.
    const six = line([0, 80, 160, 240, 320, 400, 480]);
    const made = done(inBar(six), { wish: 'tuplet', actual: 6 }, six.slice(0, 6));
    const three = done(made, { wish: 'freed' }, six.slice(3, 6));
    expect(signs(three)).toBe('16(6:4) 16(6:4) 16(6:4) 32 16 32 2.');
    readAlike(three);
    expect(signs(done(last, { wish: 'tuplet', actual: 3 }, played.slice(0, 3)))).toBe('8(3:2) 8(3:2) 8(3:2) 2.');
  });

  it('do not let go what lies in their midst, nor all they have, nor where there is none', () => {
    const played = inBar(line([0, 160, 320, 480]));
    const own = played.parts[0]?.notes ?? [];
    expect(refused(played, { wish: 'freed' }, own.slice(1, 2))).toMatch(/in the midst of it/);
    expect(refused(played, { wish: 'freed' }, own.slice(0, 3))).toMatch(/no tuplet any more/);
    expect(refused(base, { wish: 'freed' }, eighths.slice(0, 1))).toMatch(/lie in no tuplet/);
  });

  it('that cannot be say why', () => {
    expect(refused(base, { wish: 'tuplet', actual: 4 }, eighths.slice(0, 4))).toMatch(/are no tuplet/);
    expect(refused(base, { wish: 'tuplet', actual: 11 }, eighths.slice(0, 2))).toMatch(/cannot say 11 even notes/);
    const many = line([0, 60, 120, 180, 240, 300, 360, 420, 480]);
    expect(refused(inBar(many), { wish: 'tuplet', actual: 3 }, many.slice(0, 8))).toMatch(/no room for 8 notes/);
    const over = line([1440, 1920, 2400], 2880);
    expect(refused(inBar(over), { wish: 'tuplet', actual: 3 }, over)).toMatch(/does not leave its bar/);
  });
});
