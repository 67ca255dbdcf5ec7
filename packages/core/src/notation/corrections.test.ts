import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import type { Arrangement, NoteId } from '../model/arrangement.js';
import { DYNAMICS, MARKS } from '../model/noteSigns.js';
import { NO_OVERRIDES, type Override } from '../model/overrides.js';
import { writeMusicXml } from '../musicxml/writeMusicXml.js';
import { runPlanOnAll } from '../plan/runPlan.js';
import { writtenMaps } from '../plan/writtenMaps.js';
import { cases } from '../testing/cases.js';
import { arrangementWith, note, partWith } from '../testing/kit.js';
import { createOpenSheetMusicDisplay, createVerovio, headRows, soundingRows } from '../testing/readBack.js';
import type { WrittenUnits } from '../time/units.js';
import { buildScore, type ScoreOptions } from './buildScore.js';
import { readPitches } from './pitchReading.js';

/** Two bars of eighths, with a quarter held at the end of each. */
const notes = [0, 240, 480, 720, 960, 1440, 1920, 2160, 2400, 2640, 2880, 3360].map((onset, k) =>
  note([67, 69, 71, 72, 72, 67][k % 6] as number, onset, onset % 1920 < 960 ? 230 : 470),
);
const ids = notes.map(({ id }) => id);
const id = (index: number): NoteId => ids[index] as NoteId;

const corrected = (list: readonly Override[], instrument = 'flute'): Arrangement =>
  arrangementWith([partWith(notes, { instrument, overrides: { ...NO_OVERRIDES, list } })]);
const scoreOf = (arrangement: Arrangement, options: ScoreOptions = {}) => {
  const layers = runPlanOnAll(arrangement);
  return buildScore(arrangement, layers, writtenMaps(arrangement), readPitches(arrangement, layers), options);
};
const xmlOf = (...list: Override[]) => writeMusicXml(scoreOf(corrected(list)));
const eventsOf = (...list: Override[]) => scoreOf(corrected(list)).parts[0]?.bars.flatMap(({ events }) => events) ?? [];

let verovio: Awaited<ReturnType<typeof createVerovio>>;
let openSheetMusicDisplay: Awaited<ReturnType<typeof createOpenSheetMusicDisplay>>;
beforeAll(async () => {
  verovio = await createVerovio();
  openSheetMusicDisplay = await createOpenSheetMusicDisplay();
});

describe('signs put on by hand', () => {
  it('stand on their chord and nowhere else', () => {
    const marked = eventsOf({ kind: 'mark', noteId: id(2), mark: 'accent', on: true });
    expect(
      marked
        .map(({ marks }) => marks?.join() ?? '')
        .join(' ')
        .trim(),
    ).toBe('accent');
    expect(marked[2]?.marks).toEqual(['accent']);
  });

  it('stand on a chord of which one tone alone has them', () => {
    const chord = [note(60, 0, 1920), note(64, 0, 1920), note(67, 0, 1920)];
    const override: Override = { kind: 'mark', noteId: chord[1]?.id as NoteId, mark: 'accent', on: true };
    const part = partWith(chord, { instrument: 'piano', overrides: { ...NO_OVERRIDES, list: [override] } });
    const [event] = scoreOf(arrangementWith([part])).parts[0]?.bars[0]?.events ?? [];
    expect(event?.notes).toHaveLength(3);
    expect(event?.marks).toEqual(['accent']);
  });

  it.each(MARKS)('%s is written so that Verovio shows it', (mark) => {
    const musicXml = xmlOf({ kind: 'mark', noteId: id(5), mark, on: true });
    expect(verovio.load(musicXml)).toBe(true);
    const classes = {
      accent: 'artic',
      tenuto: 'artic',
      marcato: 'artic',
      arpeggio: 'arpeg',
      upperMordent: 'mordent',
      tremolo: 'bTrem',
    } as const;
    const svg = verovio.toolkit.renderToSVG(1);
    // One note alone is not rolled.
    if (mark !== 'arpeggio')
      expect(svg).toMatch(new RegExp(`class="${mark in classes ? classes[mark as 'accent'] : mark}"`));
  });

  it('dynamics, hairpins and words stand at their notes (read by Verovio)', () => {
    verovio.load(
      xmlOf(
        { kind: 'dynamic', noteId: id(0), dynamic: 'mp' },
        { kind: 'hairpin', noteId: id(1), to: id(4), way: 'louder' },
        { kind: 'words', noteId: id(5), text: 'dolce' },
        { kind: 'slur', noteId: id(6), to: id(9) },
      ),
    );
    const svg = verovio.toolkit.renderToSVG(1);
    for (const what of ['dynam', 'hairpin', 'dir', 'slur']) expect(svg).toContain(`class="${what}"`);
    expect(svg).toContain('dolce');
    const mei = verovio.toolkit.getMEI();
    expect(mei).toMatch(new RegExp(`<slur[^>]*startid="#n${id(6)}"[^>]*endid="#n${id(9)}"`));
    expect(verovio.warnings).toEqual([]);
  });

  it('a slur that an excerpt cuts has no half of it there', () => {
    const arrangement = corrected([{ kind: 'slur', noteId: id(4), to: id(8) }]);
    expect(writeMusicXml(scoreOf(arrangement))).toContain('<slur');
    expect(writeMusicXml(scoreOf(arrangement, { firstBar: 1, lastBar: 1 }))).not.toContain('<slur');
  });

  it('heads, stems and beams are as a person has them', () => {
    const events = eventsOf(
      { kind: 'notehead', noteId: id(0), head: 'diamond' },
      { kind: 'stem', noteId: id(4), way: 'up' },
      { kind: 'beam', noteId: id(2), joined: false },
      { kind: 'beam', noteId: id(7), joined: false },
    );
    expect(events[0]?.notes[0]?.head).toBe('diamond');
    expect(events[4]?.stem).toBe('up');
    const beams = events.map(({ beams: own }) => own[0] ?? '-');
    expect(beams.slice(0, 4)).toEqual(['begin', 'end', 'begin', 'end']);
    expect(beams.slice(6, 10)).toEqual(['-', 'begin', 'continue', 'end']);
  });

  it('a beam can go on over the middle of the bar', () => {
    const eighths = Array.from({ length: 8 }, (_, k) => note(67 + k, k * 240, 230));
    const joined = { kind: 'beam', noteId: (eighths[4] as (typeof eighths)[0]).id, joined: true } as const;
    const beams = (list: readonly Override[]) =>
      scoreOf(arrangementWith([partWith(eighths, { overrides: { ...NO_OVERRIDES, list } })]))
        .parts[0]?.bars[0]?.events.map(({ beams: own }) => own[0]?.[0])
        .join('');
    expect(beams([])).toBe('bccebcce');
    expect(beams([joined])).toBe('bcccccce');
  });

  it('two notes of one pitch are tied, and sound as one to other readers', () => {
    const events = eventsOf({ kind: 'tie', noteId: id(3) });
    expect(events[3]?.notes[0]).toMatchObject({ tiedTo: true, soundingPitch: 72 });
    expect(events[4]?.notes[0]).toMatchObject({ tiedFrom: true });
    const musicXml = xmlOf({ kind: 'tie', noteId: id(3) });
    expect(openSheetMusicDisplay(musicXml)).toContain('1.500 1.500 72');
    // To a note of another pitch nothing is tied.
    expect(xmlOf({ kind: 'tie', noteId: id(0) })).not.toContain('<tie');
  });

  it('a clef stands from its bar on, until the next one', () => {
    const score = scoreOf(
      corrected([
        { kind: 'clef', bar: 2, staff: 1, clef: 'alto' },
        { kind: 'clef', bar: 9, staff: 1, clef: 'bass' },
      ]),
    );
    expect(score.parts[0]?.bars.map(({ clefs }) => clefs[0])).toEqual(['treble', 'alto']);
    expect(writeMusicXml(score).match(/<sign>C<\/sign>/g)).toHaveLength(1);
  });

  it('systems and pages begin where a person has them begin', () => {
    expect(xmlOf({ kind: 'systemBreak', bar: 2 })).toMatch(/<measure number="2"[^>]*>\s*<print new-system="yes"/);
    expect(xmlOf({ kind: 'systemBreak', bar: 2 }, { kind: 'pageBreak', bar: 2 })).toMatch(
      /<measure number="2"[^>]*>\s*<print new-page="yes"/,
    );
  });
});

/** Any correction of one of the notes, also of one that is not there. */
const anyCorrection = fc.nat({ max: notes.length }).chain((index): fc.Arbitrary<Override> => {
  const noteId = ids[index] ?? 999_999;
  const to = fc.nat({ max: notes.length - 1 }).map((other) => ids[other] as NoteId);
  const fixed = <Made extends Override>(made: Made): fc.Arbitrary<Override> => fc.constant(made);
  return fc.oneof(
    // Verovio plays an arpeggio's notes one after the other, so that its times are no longer those of the page.
    fc
      .constantFrom(...MARKS.filter((mark) => mark !== 'arpeggio'))
      .chain((mark) => fc.boolean().map((on): Override => ({ kind: 'mark', noteId, mark, on }))),
    fc.constantFrom(...DYNAMICS).map((dynamic): Override => ({ kind: 'dynamic', noteId, dynamic })),
    fc.boolean().map((joined): Override => ({ kind: 'beam', noteId, joined })),
    fc.constantFrom('up' as const, 'down' as const).map((way): Override => ({ kind: 'stem', noteId, way })),
    to.map((end): Override => ({ kind: 'slur', noteId, to: end })),
    to.map((end): Override => ({ kind: 'hairpin', noteId, to: end, way: 'softer' })),
    fc.nat({ max: 80_000 }).map((at): Override => ({ kind: 'writtenStart', noteId, at: at as never })),
    fc.nat({ max: 120_000 }).map((at): Override => ({ kind: 'writtenEnd', noteId, at: at as never })),
    fc.integer({ min: 1, max: 4 }).map((voice): Override => ({ kind: 'voice', noteId, voice })),
    fixed({ kind: 'tie', noteId }),
    to.map((end): Override => ({ kind: 'glissando', noteId, to: end })),
    fc
      .record({
        from: fc.nat({ max: 16 }).map((half) => (half * 5040) as WrittenUnits),
        length: fc.constantFrom(5040, 10_080, 15_120, 20_160, 40_320).map((own) => own as WrittenUnits),
        ratio: fc.constantFrom<[number, number][]>([3, 2], [5, 4], [6, 4], [7, 4], [9, 8], [2, 3], [4, 3]),
      })
      .map(
        ({ from, length, ratio: [actual, normal] }): Override => ({
          kind: 'tuplet',
          noteId,
          from,
          length,
          actual,
          normal,
        }),
      ),
    fixed({ kind: 'staff', noteId, staff: 2 }),
    fixed({ kind: 'soundOnly', noteId }),
    fixed({ kind: 'held', noteId }),
    fixed({ kind: 'words', noteId, text: 'a < b' }),
    fixed({ kind: 'notehead', noteId, head: 'x' }),
    fixed({ kind: 'clef', bar: index % 4, staff: 1, clef: 'bass' }),
  );
});

describe('any corrections', () => {
  it('leave bars that add up, and a file that other readers read as we wrote it', () => {
    fc.assert(
      fc.property(fc.array(anyCorrection, { maxLength: 14 }), (list) => {
        const score = scoreOf(corrected(list, 'piano'));
        for (const part of score.parts) {
          for (const bar of part.bars) {
            const sums = new Map<string, number>();
            for (const { staff, voice, length } of bar.events)
              sums.set(`${staff} ${voice}`, (sums.get(`${staff} ${voice}`) ?? 0) + length);
            expect(new Set(sums.values())).toEqual(new Set([bar.length]));
          }
        }
        const musicXml = writeMusicXml(score);
        expect(verovio.headRows(musicXml)).toEqual(headRows(score));
      }),
      cases(60),
    );
  });
});

it('an untouched part costs nothing: its bars are the same', () => {
  const plain = corrected([]);
  expect(writeMusicXml(scoreOf(plain))).toBe(
    writeMusicXml(scoreOf({ ...plain, parts: plain.parts.map(({ overrides: _, ...rest }) => rest) })),
  );
  expect(soundingRows(scoreOf(plain)).length).toBe(notes.length);
});
