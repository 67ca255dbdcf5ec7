/** A score written, read in, and written again is the same score, sign by sign; and what comes in damaged is said. */
import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { strToU8, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { demoArrangement } from '../demo/demo.js';
import { MADE_STYLES, madeScore } from '../demo/madeScore.js';
import { perform } from '../demo/performer.js';
import { INSTRUMENTS, isUnpitched } from '../instruments/instruments.js';
import { addParts } from '../midi/addParts.js';
import { importMidi } from '../midi/importMidi.js';
import type { Arrangement } from '../model/arrangement.js';
import { applyEdit } from '../model/edit.js';
import { NO_OVERRIDES, type Override } from '../model/overrides.js';
import { buildScore, type ScoreOptions } from '../notation/buildScore.js';
import { readPitches } from '../notation/pitchReading.js';
import { runPlanOnAll } from '../plan/runPlan.js';
import { writtenMaps } from '../plan/writtenMaps.js';
import { cases } from '../testing/cases.js';
import { arrangementWith, note, partWith } from '../testing/kit.js';
import { ticks } from '../time/units.js';
import { writeMusicXml, writeMxl } from './writeMusicXml.js';

const scoreOf = (arrangement: Arrangement, options: ScoreOptions = {}) => {
  const layers = runPlanOnAll(arrangement);
  return buildScore(arrangement, layers, writtenMaps(arrangement), readPitches(arrangement, layers), options);
};
const xmlOf = (arrangement: Arrangement, options: ScoreOptions = {}): string =>
  writeMusicXml(scoreOf(arrangement, options));
const bring = (content: string | Uint8Array, name = 'score.musicxml') =>
  importMidi([{ name, bytes: typeof content === 'string' ? strToU8(content) : content }]);
const read = (content: string | Uint8Array) => {
  const result = bring(content);
  if (!result.ok) throw new Error(result.problem.message);
  return result.value;
};
/** Notes have ids of their own in each arrangement. */
const withoutIds = (musicXml: string): string => musicXml.replace(/ id="n[\d-]+"/g, '');

const expectSame = (arrangement: Arrangement, options: ScoreOptions = {}): Arrangement => {
  const written = xmlOf(arrangement, options);
  const { arrangement: back } = read(written);
  expect(withoutIds(xmlOf(back))).toBe(withoutIds(written));
  return back;
};

const exact = { seed: 9, ppq: 480, spread: 0, lengths: [1, 1], doubles: 0, specks: 0 } as const;

describe('written, read in, and written again', () => {
  it('the demo is the same file, and sounds as it was written', () => {
    const back = expectSame(demoArrangement());
    expect(back.title).toBe('Saltmarsh Lanterns');
    expect(back.parts.map(({ name }) => name)).toEqual(demoArrangement().parts.map(({ name }) => name));
    expect(back.parts.map(({ instrument }) => instrument)).toEqual(
      demoArrangement().parts.map(({ instrument }) => instrument),
    );
    const first = back.parts[0]?.notes[0];
    expect(first).toMatchObject({ onset: 0, duration: 2 * back.ppq });
  });

  it('compressed as well', () => {
    const packed = writeMxl(scoreOf(demoArrangement()));
    expect(withoutIds(xmlOf(read(packed).arrangement))).toBe(withoutIds(xmlOf(demoArrangement())));
  });

  it.each([0, 1, 2, 3, 4, 5, 6, 7, 8, 9])('thirty bars of planetblupi’s music00%i.mid (Debian)', (number) => {
    const name = `music00${number}.mid`;
    const { arrangement } = read(new Uint8Array(readFileSync(`/usr/share/planetblupi/music/${name}`)));
    const end = 30 * 4 * arrangement.ppq;
    const parts = arrangement.parts
      .map((part) => ({ ...part, notes: part.notes.filter(({ onset }) => onset < end) }))
      .filter(({ notes }) => notes.length > 0);
    expectSame({ ...arrangement, parts });
  });

  it('made scores', () => {
    const recipes = fc.record({
      seed: fc.integer({ min: 1, max: 1_000_000 }),
      kind: fc.constantFrom('line' as const, 'chords' as const, 'keyboard' as const, 'percussion' as const),
      style: fc.constantFrom(...MADE_STYLES),
      meter: fc.constantFrom(
        { numerator: 4, denominator: 4 },
        { numerator: 3, denominator: 4 },
        { numerator: 6, denominator: 8 },
        { numerator: 5, denominator: 8 },
      ),
      bars: fc.integer({ min: 1, max: 5 }),
      spread: fc.constantFrom(0, 20),
    });
    fc.assert(
      fc.property(recipes, ({ spread, ...recipe }) => {
        const composed = madeScore({ ...recipe, quartersPerMinute: 100 });
        // A single bar may be made of rests alone, and a file without a note is refused.
        fc.pre(composed.parts.some(({ notes }) => notes.length > 0));
        expectSame(perform(composed, { ...exact, spread, lengths: spread ? [0.7, 1.05] : [1, 1] }));
      }),
      cases(100),
    );
  });

  it.each(INSTRUMENTS.filter((own) => !isUnpitched(own)).map((own) => [own.name, own] as const))(
    '%s, in its transposition',
    (_, { id, lowest, highest }) => {
      const [low, high] = [Math.max(21, lowest), Math.min(108, highest)];
      const notes = Array.from({ length: 40 }, (_unused, k) =>
        note(low + Math.round(((high - low) * k) / 39), k * 240, 230),
      );
      const program = INSTRUMENTS.find((own) => own.id === id)?.programs[0] ?? null;
      expectSame(
        arrangementWith([
          partWith(notes, { instrument: id, name: INSTRUMENTS.find((own) => own.id === id)?.name ?? '', program }),
        ]),
      );
    },
  );

  it('signs put on by hand: marks, heads, slurs, hairpins, dynamics, words, clefs, breaks', () => {
    const notes = Array.from({ length: 16 }, (_, k) => note(67 + (k % 5), k * 480, 470));
    const id = (k: number) => (notes[k] as (typeof notes)[0]).id;
    const list: Override[] = [
      { kind: 'mark', noteId: id(0), mark: 'accent', on: true },
      { kind: 'mark', noteId: id(3), mark: 'fermata', on: true },
      { kind: 'mark', noteId: id(4), mark: 'trill', on: true },
      { kind: 'notehead', noteId: id(1), head: 'diamond' },
      { kind: 'staccato', noteId: id(2), on: true },
      { kind: 'slur', noteId: id(4), to: id(7) },
      { kind: 'slur', noteId: id(8), to: id(11) },
      { kind: 'glissando', noteId: id(12), to: id(13) },
      { kind: 'tuplet', noteId: id(14), from: 141_120 as never, length: 10_080 as never, actual: 9, normal: 8 },
      { kind: 'hairpin', noteId: id(5), to: id(9), way: 'louder' },
      { kind: 'pedal', noteId: id(2), to: id(7) },
      { kind: 'dynamic', noteId: id(0), dynamic: 'p' },
      { kind: 'dynamic', noteId: id(10), dynamic: 'f' },
      { kind: 'words', noteId: id(6), text: 'dolce & “cantabile”' },
      { kind: 'clef', bar: 3, staff: 1, clef: 'alto' },
      { kind: 'systemBreak', bar: 2 },
      { kind: 'pageBreak', bar: 4 },
      { kind: 'swing', bar: 1, swing: { percent: 67, pair: 'sixteenths' } },
      { kind: 'swing', bar: 3, swing: 'even' },
    ];
    const back = expectSame(arrangementWith([partWith(notes, { overrides: { ...NO_OVERRIDES, list } })]));
    // What it says of loudness is heard: soft, swelling, loud.
    const loud = back.parts[0]?.notes.map(({ velocity }) => velocity) ?? [];
    expect(loud[0]).toBe(49);
    expect(loud[10]).toBe(96);
    expect(loud[8]).toBeGreaterThan(loud[6] as number);
  });

  it('a pickup, a change of meter and of key, rehearsal marks, a slowing', () => {
    const notes = Array.from({ length: 24 }, (_, k) => note(60 + (k % 7), 1440 + k * 480, 440));
    const arrangement = arrangementWith([partWith(notes)], {
      meters: [
        { tick: ticks(0), numerator: 4, denominator: 4, pickup: ticks(1440) },
        { tick: ticks(1920 * 3), numerator: 3, denominator: 4 },
      ],
      keys: [
        { tick: ticks(0), fifths: 0, minor: false },
        { tick: ticks(1920 * 3), fifths: -3, minor: true },
      ],
      markers: [{ tick: ticks(1920 * 2), text: 'A' }],
      tempos: [0, 9600, 10_080, 10_560, 11_040].map((tick, step) => ({
        tick: ticks(tick),
        microsecondsPerQuarter: 500_000 + step * 30_000,
      })),
    });
    const back = expectSame(arrangement);
    expect(back.meters[0]?.pickup).toBe(0);
  });
});

const score = (bars: readonly string[], head = '') =>
  `<?xml version="1.0"?>${head}<score-partwise version="4.0"><part-list><score-part id="P1"><part-name>Flute</part-name></score-part></part-list><part id="P1">${bars
    .map(
      (bar, index) =>
        `<measure number="${index + 1}">${index === 0 ? '<attributes><divisions>2</divisions><time><beats>2</beats><beat-type>4</beat-type></time></attributes>' : ''}${bar}</measure>`,
    )
    .join('')}</part></score-partwise>`;
const quarter = (step: string, more = '') =>
  `<note><pitch><step>${step}</step><octave>5</octave></pitch><duration>2</duration>${more}<voice>1</voice><type>quarter</type></note>`;
const pitchesOf = (content: string) => read(content).arrangement.parts[0]?.notes.map(({ pitch }) => pitch);

describe('a score of others', () => {
  it('has its repeats and endings written out, and says so', () => {
    const bars = [
      `<barline location="left"><repeat direction="forward"/></barline>${quarter('C')}${quarter('D')}`,
      `<barline location="left"><ending number="1" type="start"/></barline>${quarter('E')}${quarter('E')}<barline location="right"><ending number="1" type="stop"/><repeat direction="backward"/></barline>`,
      `<barline location="left"><ending number="2" type="start"/></barline>${quarter('F')}${quarter('F')}<barline location="right"><ending number="2" type="discontinue"/></barline>`,
      `${quarter('G')}${quarter('G')}`,
    ];
    expect(pitchesOf(score(bars))).toEqual([72, 74, 76, 76, 72, 74, 77, 77, 79, 79]);
    expect(read(score(bars)).warnings.map(({ code }) => code)).toContain('repeats');
  });

  it('does not hand a grace note at the end of a voice to the next voice', () => {
    const grace = '<note><grace/><pitch><step>B</step><octave>4</octave></pitch><voice>1</voice></note>';
    const second = quarter('E').replaceAll('<voice>1</voice>', '<voice>2</voice>');
    const bars = [`${quarter('C')}${quarter('D')}${grace}<backup><duration>4</duration></backup>${second}${second}`];
    const { arrangement, warnings } = read(score(bars));
    expect(arrangement.parts[0]?.notes.map(({ pitch }) => pitch).sort()).toEqual([72, 74, 76, 76]);
    expect(warnings.map(({ message }) => message)).toEqual([
      '1 × grace note that no note follows: this is not shown here, and was left out.',
    ]);
  });

  it('joins tied notes, keeps chords together, grace notes before theirs, and counts what is not shown', () => {
    const bars = [
      `${quarter('C', '<tie type="start"/>')}${quarter('C', '<tie type="stop"/>')}`,
      `<note><cue/><pitch><step>B</step><octave>4</octave></pitch><voice>1</voice></note><note><grace/><pitch><step>B</step><octave>4</octave></pitch><voice>1</voice></note>${quarter('C')}<note><chord/><pitch><step>E</step><octave>5</octave></pitch><duration>2</duration><voice>1</voice></note>${quarter('D')}<note><grace/><pitch><step>F</step><octave>5</octave></pitch><voice>1</voice></note>`,
    ];
    const { arrangement, warnings } = read(score(bars));
    expect(arrangement.parts[0]?.notes.map(({ pitch, duration }) => [pitch, duration / arrangement.ppq])).toEqual([
      [72, 2],
      [71, 1 / 12],
      [72, 1],
      [76, 1],
      [74, 1],
    ]);
    expect(warnings.map(({ message }) => message)).toEqual([
      '1 × cue note: this is not shown here, and was left out.',
      '1 × grace note that no note follows: this is not shown here, and was left out.',
    ]);
  });

  it('may be timewise', () => {
    const timewise = `<score-timewise><part-list><score-part id="P1"><part-name>Flute</part-name></score-part></part-list><measure number="1"><part id="P1"><attributes><divisions>2</divisions></attributes>${quarter('C')}${quarter('D')}</part></measure><measure number="2"><part id="P1">${quarter('E')}</part></measure></score-timewise>`;
    expect(pitchesOf(timewise)).toEqual([72, 74, 76]);
  });

  it('stays on its page while its playing is shaped and another plan is run', () => {
    const { arrangement } = read(xmlOf(demoArrangement()));
    const shaped = {
      ...arrangement,
      parts: arrangement.parts.map((part) => ({
        ...part,
        plan: undefined,
        notes: part.notes.map((own) => ({ ...own, onset: ticks(own.onset + 300), velocity: 40 })),
      })),
    };
    expect(xmlOf(shaped).match(/<type>/g)?.length).toBe(xmlOf(arrangement).match(/<type>/g)?.length);
  });

  it('joins an arrangement that is open, its page with it', () => {
    const open = arrangementWith([partWith([note(60, 0, 1900)])], { ppq: 480 });
    const { arrangement } = read(score([`${quarter('C')}${quarter('D')}`]));
    const slurred: Arrangement = {
      ...arrangement,
      parts: arrangement.parts.map((part) => ({
        ...part,
        overrides: {
          ...NO_OVERRIDES,
          list: [{ kind: 'slur', noteId: part.notes[0]?.id ?? 0, to: part.notes[1]?.id ?? 0 }],
        },
      })),
    };
    const after = applyEdit(open, addParts(open, slurred).edit);
    const [, joined] = after.parts;
    expect(joined?.overrides?.list).toEqual([{ kind: 'slur', noteId: joined?.notes[0]?.id, to: joined?.notes[1]?.id }]);
    expect(new Set(after.parts.flatMap(({ notes }) => notes.map(({ id }) => id))).size).toBe(3);
  });
});

describe('what is no score, or a broken one', () => {
  const problemOf = (content: string | Uint8Array): string => {
    const result = bring(content);
    return result.ok ? '' : result.problem.message;
  };

  it('is told in words', () => {
    const whole = xmlOf(demoArrangement());
    expect(problemOf(whole.slice(0, whole.length / 2))).toMatch(/ends too soon or is damaged/);
    expect(problemOf('<html><body>Not found</body></html>')).toMatch(/not a score/);
    expect(problemOf('<score-partwise><part-list/></score-partwise>')).toMatch(/not one bar/);
    expect(problemOf(score(['<note><rest/><duration>4</duration></note>']))).toMatch(/not one note/);
    expect(problemOf(zipSync({ 'readme.txt': strToU8('hello') }))).toMatch(/no score in this compressed file/);
    expect(problemOf(writeMxl(scoreOf(demoArrangement())).slice(0, 500))).toMatch(/cannot be unpacked/);
  });

  it('is never expanded or fetched: entities stay as they are written (a billion laughs, an outside file)', () => {
    const laughs = `<!DOCTYPE lolz [<!ENTITY lol "lol"><!ENTITY lol2 "&lol;&lol;&lol;&lol;&lol;&lol;&lol;&lol;&lol;&lol;"><!ENTITY lol3 "&lol2;&lol2;&lol2;&lol2;&lol2;&lol2;&lol2;&lol2;">]>`;
    const named = (head: string, name: string) =>
      score([`${quarter('C')}${quarter('D')}`], head).replace('Flute', name);
    const began = performance.now();
    expect(read(named(laughs, '&lol3;')).arrangement.parts[0]?.name).not.toContain('lollol');
    const outside = '<!DOCTYPE a [<!ENTITY secret SYSTEM "file:///etc/passwd">]>';
    expect(read(named(outside, '&secret;')).arrangement.parts[0]?.name).not.toContain('root:');
    expect(performance.now() - began).toBeLessThan(5000);
    expect(read(named('', 'A &amp; B')).arrangement.parts[0]?.name).toBe('A & B');
  });

  it('never throws, whatever is broken in it', () => {
    const whole = xmlOf(demoArrangement(), { lastBar: 3 });
    fc.assert(
      fc.property(fc.nat(), fc.nat({ max: 40 }), fc.string({ maxLength: 8 }), (place, cut, put) => {
        const at = place % whole.length;
        bring(whole.slice(0, at) + put + whole.slice(at + cut));
      }),
      cases(200),
    );
  });
});
