/** Scores that say what no score can: refused in words, or read to something that a screen can show. */
import { strToU8, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { importMidi } from '../midi/importMidi.js';
import { LARGEST_UNPACKED_SCORE, MOST_ELEMENTS } from '../model/limits.js';

const note = '<note><pitch><step>C</step><octave>5</octave></pitch><duration>1</duration></note>';
const score = (bar: string, { head = '', divisions = '1', beats = '4', beatType = '4' } = {}): string =>
  `<score-partwise>${head}<part-list><score-part id="P1"><part-name>Flute</part-name></score-part></part-list>
  <part id="P1"><measure number="7"><attributes><divisions>${divisions}</divisions>
  <time><beats>${beats}</beats><beat-type>${beatType}</beat-type></time></attributes>${bar}</measure></part></score-partwise>`;
const bring = (text: string | Uint8Array) =>
  importMidi([{ name: 'a.musicxml', bytes: typeof text === 'string' ? strToU8(text) : text }]);
const wordsOf = (text: string | Uint8Array): string => {
  const result = bring(text);
  return result.ok ? 'read' : result.problem.message;
};
const read = (text: string) => {
  const result = bring(text);
  if (!result.ok) throw new Error(result.problem.message);
  return result.value;
};

describe('a score that says what no score can', () => {
  it.each(['1e308', '-4', '0', 'four', 'NaN', '', '1e9'])(
    'is refused by name: a quarter of %s divisions',
    (divisions) => {
      expect(wordsOf(score(note, { divisions }))).toContain(
        `In bar 7 this score divides the quarter into “${divisions}”`,
      );
    },
  );

  it.each(['1e20', '-1', 'long', '9e15', '1e308'])('is refused by name: a note of %s', (duration) => {
    const long = note.replace('<duration>1<', `<duration>${duration}<`);
    expect(wordsOf(score(long))).toContain(`Something in bar 7 of this score lasts “${duration}”`);
  });

  it.each(['<backup><duration>1e15</duration></backup>', '<forward><duration>9e15</duration></forward>'])(
    'is refused by name: %s',
    (going) => {
      expect(wordsOf(score(`${note}${going}${note}`))).toContain('which no bar can hold');
    },
  );

  it('is refused where a bar never ends', () => {
    const forward = '<forward><duration>200</duration></forward>';
    expect(wordsOf(score(`${forward.repeat(3)}${note}`))).toContain('longer than 64 whole notes');
  });

  it('begins a note that lies before its bar with the bar', () => {
    const { arrangement } = read(score(`<backup><duration>9</duration></backup>${note}`));
    expect(arrangement.parts[0]?.notes.map(({ onset }) => onset)).toEqual([0]);
    const five = read(score(`<backup><duration>9</duration></backup>${note.repeat(5)}`)).arrangement;
    expect(five.meters[0]).toMatchObject({ numerator: 5, denominator: 4 });
  });

  it.each([
    ['4e20', '4'],
    ['4', '5'],
    ['300', '4'],
    ['2+2.5', '8'],
  ])('keeps the meter before where it says %s/%s, and tells that', (beats, beatType) => {
    const { arrangement, warnings } = read(score(note.repeat(4), { beats, beatType }));
    expect(arrangement.meters[0]).toMatchObject({ numerator: 4, denominator: 4 });
    expect(warnings.map(({ message }) => message)).toContain('1 × meter: this is not shown here, and was left out.');
  });

  it.each([
    '<key><fifths>1e308</fifths></key>',
    '<key><fifths>2.5</fifths></key>',
    '<transpose><chromatic>1e300</chromatic></transpose>',
    '<transpose><chromatic>0.5</chromatic><octave-change>900</octave-change></transpose>',
  ])('ends, whatever its attributes say: %s', (attributes) => {
    expect(['read', expect.any(String)]).toContainEqual(
      wordsOf(score(`<attributes>${attributes}</attributes>${note}`)),
    );
  });

  it('counts notes that repeats make of a few, and gives up at the most', () => {
    const repeated = `<barline location="left"><repeat direction="forward"/></barline>${note.repeat(40)}
      <barline location="right"><repeat direction="backward" times="1000000"/></barline>`;
    expect(wordsOf(score(repeated, { divisions: '40' }))).toMatch(/more than 300,000 notes/);
  });

  it('leaves out a note of an octave that there is not', () => {
    const high = note.replace('<octave>5<', '<octave>1e308<');
    expect(read(score(`${high}${note}`)).arrangement.parts[0]?.notes.map(({ pitch }) => pitch)).toEqual([72]);
  });

  it('is read to its last bar, however many it has; bars that repeats make are bounded, and that is said', () => {
    const bars = Array.from({ length: 20_100 }, (_, at) => `</measure><measure number="${at + 8}">${note}`).join('');
    expect(read(score(`${note}${bars}`)).arrangement.parts[0]?.notes).toHaveLength(20_101);
    const repeat = '<barline location="right"><repeat direction="backward" times="30000"/></barline>';
    const { arrangement, warnings } = read(score(`${note}${repeat}</measure><measure number="8">${note}`));
    expect(arrangement.parts[0]?.notes).toHaveLength(20_000);
    expect(warnings.map(({ code }) => code)).toContain('repeatsCut');
  });

  it('that is deeper than a score can be is none', () => {
    expect(wordsOf('<a>'.repeat(200_000))).toContain('damaged');
  });

  it('keeps every number whole', () => {
    const odd = `<note><pitch><step>C</step><alter>7.2</alter><octave>4.3</octave></pitch><duration>1</duration></note>${note.replace('</duration>', '</duration><voice>1.5</voice>')}`;
    const [part] = read(score(odd)).arrangement.parts;
    expect(part?.notes).toHaveLength(1);
    for (const own of part?.overrides?.list ?? [])
      if (own.kind === 'voice') expect(Number.isInteger(own.voice)).toBe(true);
  });

  it('holds no half of a character in its names', () => {
    const cut = `<work><work-title>${'x'.repeat(199)}😀</work-title></work>`;
    expect(read(score(note, { head: cut })).arrangement.title).toBe('x'.repeat(199));
  });

  it('is bounded in its signs, and in what it unpacks to', () => {
    expect(wordsOf(`<score-partwise>${'<a/>'.repeat(MOST_ELEMENTS + 1)}</score-partwise>`)).toContain('signs');
    const blanks = new Uint8Array(LARGEST_UNPACKED_SCORE + 1).fill(32);
    expect(wordsOf(zipSync({ 'score.xml': [blanks, { level: 1 }] }))).toContain('larger than a score can be');
  });

  it('tells how far it is, and can be stopped', () => {
    const told: number[] = [];
    importMidi([{ name: 'a.musicxml', bytes: strToU8(score(note)) }], (bytes) => told.push(bytes));
    expect(told.reduce((sum, bytes) => sum + bytes, 0)).toBeGreaterThan(100);
    class Stop extends Error {}
    const stop = () => {
      throw new Stop();
    };
    expect(() => importMidi([{ name: 'a.musicxml', bytes: strToU8(score(note)) }], stop)).toThrow(Stop);
  });
});
