import { beforeAll, describe, expect, it, vi } from 'vitest';
import type { Arrangement } from '../model/arrangement.js';
import { NO_OVERRIDES, type Overrides } from '../model/overrides.js';
import { buildScore, type ScoreOptions } from '../notation/buildScore.js';
import { readPitches } from '../notation/pitchReading.js';
import { runPlanOnAll } from '../plan/runPlan.js';
import { writtenMaps } from '../plan/writtenMaps.js';
import { arrangementWith, note, partWith } from '../testing/kit.js';
import { createVerovio } from '../testing/readBack.js';
import { layPages, type PageEngraver, pageTurns, turnedPages } from './layPages.js';
import { pageSetupFor } from './pageSetup.js';
import { writeMusicXml } from './writeMusicXml.js';

const scoreOf = (arrangement: Arrangement, options: ScoreOptions = {}) => {
  const layers = runPlanOnAll(arrangement);
  return buildScore(arrangement, layers, writtenMaps(arrangement), readPitches(arrangement, layers), options);
};
/** Eighths in all bars but some. */
const eighths = (bars: number, resting: (bar: number) => boolean) =>
  Array.from({ length: bars * 8 }, (_, k) => k)
    .filter((k) => !resting(1 + Math.floor(k / 8)))
    .map((k) => note(67 + (k % 5), k * 240, 230));

describe('where a player can turn the page (common practice: at a rest)', () => {
  it('is before a bar, where half a bar or more is silent about the bar line', () => {
    const quarters = [0, 1, 2, 4, 5, 6, 7, 8, 9, 10, 13, 14, 15].map((beat) => note(70, beat * 480, 460));
    // Bar 1 ends with a rest of one beat, bar 3 with one and bar 4 begins with one.
    expect(pageTurns(scoreOf(arrangementWith([partWith(quarters)])))).toEqual([4]);
  });

  it('is nowhere in a score: those who read it do not play', () => {
    const parts = [partWith(eighths(4, (bar) => bar === 2)), partWith([note(60, 0, 460)], { id: 2, name: 'Oboe' })];
    expect(pageTurns(scoreOf(arrangementWith(parts)))).toEqual([]);
  });

  const systems = [
    [1, 5, 9, 13, 17, 21],
    [25, 29, 33, 37, 41, 45],
    [49, 53],
  ];

  it('ends a page early, and never by more than a third of it', () => {
    expect(turnedPages(systems, new Set([21]))).toEqual([1, 21, 45]);
    expect(turnedPages(systems, new Set([17]))).toEqual([1, 17, 41]);
    expect(turnedPages(systems, new Set([13]))).toBeNull();
  });

  it('is left where it can be turned as it is, or nowhere', () => {
    expect(turnedPages(systems, new Set([25, 49]))).toBeNull();
    expect(turnedPages(systems, new Set())).toBeNull();
  });
});

describe('pages by Verovio', () => {
  let engraver: PageEngraver;
  beforeAll(async () => {
    engraver = (await createVerovio()).toolkit as unknown as PageEngraver;
  });
  const firstBars = () =>
    Array.from({ length: engraver.getPageCount() }, (_, page) =>
      Number(/id="b(\d+)" class="measure"/.exec(engraver.renderToSVG(page + 1))?.[1]),
    );

  it('end where the player rests, and hold all bars', () => {
    const part = arrangementWith([partWith(eighths(110, (bar) => bar % 9 === 0))]);
    const score = scoreOf(part, { longRests: true });
    const setup = pageSetupFor(1);
    layPages(engraver, writeMusicXml(score), setup);
    const before = firstBars();
    layPages(engraver, writeMusicXml(score), setup, pageTurns(score));
    const after = firstBars();
    const turns = new Set(pageTurns(score));
    const atRests = (pages: readonly number[]) => pages.slice(1).filter((bar) => turns.has(bar)).length;
    expect(atRests(after)).toBeGreaterThan(atRests(before));
    const all = Array.from({ length: engraver.getPageCount() }, (_, page) => engraver.renderToSVG(page + 1)).join('');
    // The engraver's own ids are drawn at random: one in a long while looks like a bar's.
    expect(all.match(/id="b\d+" class="measure"/g)).toHaveLength(110);
  });

  it('begin where a person has them begin, and the other systems flow about them', () => {
    const overrides: Overrides = {
      ...NO_OVERRIDES,
      list: [
        { kind: 'systemBreak', bar: 3 },
        { kind: 'pageBreak', bar: 9 },
      ],
    };
    const score = scoreOf(
      arrangementWith([
        partWith(
          eighths(60, () => false),
          { overrides },
        ),
      ]),
    );
    layPages(engraver, writeMusicXml(score), pageSetupFor(1));
    expect(firstBars().slice(0, 2)).toEqual([1, 9]);
    const systems = engraver.renderToSVG(1).split('class="system"').slice(1);
    expect(systems.map((system) => Number(/id="b(\d+)"/.exec(system)?.[1])).slice(0, 2)).toEqual([1, 3]);
  });

  it('leave resting staves out where that is wished, but for the first system', () => {
    const parts = [
      partWith(eighths(60, () => false)),
      partWith(
        eighths(60, (bar) => bar !== 60),
        { id: 2, name: 'Oboe', instrument: 'oboe' },
      ),
    ];
    const musicXml = writeMusicXml(scoreOf(arrangementWith(parts)));
    const staves = (restingStaves: 'shown' | 'hidden') => {
      layPages(engraver, musicXml, { ...pageSetupFor(2), restingStaves });
      return engraver
        .renderToSVG(1)
        .split('class="system"')
        .slice(1)
        .map(
          (system) => (system.match(/class="staff"/g)?.length ?? 0) / (system.match(/class="measure"/g)?.length ?? 1),
        );
    };
    expect(new Set(staves('shown'))).toEqual(new Set([2]));
    expect(staves('hidden').slice(0, 3)).toEqual([2, 1, 1]);
  });

  it('of a file that is none are refused', () => {
    vi.spyOn(console, 'error').mockImplementation(() => undefined);
    expect(() => layPages(engraver, 'no score', pageSetupFor(1))).toThrow('could not read');
  });
});
