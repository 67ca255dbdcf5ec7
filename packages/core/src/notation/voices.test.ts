/** Several voices on a staff, and two staves: what the Score says of them. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { instrumentById } from '../instruments/instruments.js';
import { writeMusicXml } from '../musicxml/writeMusicXml.js';
import type { Written, WrittenNote } from '../plan/written.js';
import { writtenMaps } from '../plan/writtenMaps.js';
import { cases } from '../testing/cases.js';
import { arrangementWith, note, partWith, written } from '../testing/kit.js';
import { ticks } from '../time/units.js';
import { buildScore } from './buildScore.js';
import { readPitches } from './pitchReading.js';
import type { Score, ScoreBar, ScoreEvent } from './score.js';

const scoreOf = (notes: WrittenNote[], instrument = 'piano'): Score => {
  const arrangement = arrangementWith([partWith([note(60, 0, 480 * 16)], { instrument })], {
    keys: [{ tick: ticks(0), fifths: 0, minor: false }],
  });
  const layer: Written = {
    partId: 1,
    steps: [],
    swings: [],
    pedals: [],
    notes: [...notes].sort((a, b) => a.onset - b.onset || a.pitch - b.pitch || a.id - b.id),
  };
  return buildScore(arrangement, [layer], writtenMaps(arrangement), readPitches(arrangement, [layer]));
};
const firstBar = (score: Score): ScoreBar => score.parts[0]?.bars[0] as ScoreBar;
const shown = (event: ScoreEvent): string => {
  const dots = '.'.repeat(event.value.dots);
  const heads = event.notes.map((head) => head.soundingPitch).join('+');
  return `${event.staff}/${event.voice} ${event.kind} ${event.wholeBar ? 'bar' : event.value.denominator + dots}${heads ? ` ${heads}` : ''}`;
};
const eventsOf = (notes: WrittenNote[], instrument?: string) => firstBar(scoreOf(notes, instrument)).events.map(shown);
const low = { voice: 2 };
const left = { staff: 2 as const };

describe('two voices on a staff', () => {
  const melody = [written(72, 0, 1), written(74, 1, 1), written(76, 2, 2)];

  it('stand one after the other, the upper first', () => {
    expect(eventsOf([...melody, written(60, 0, 4, low)])).toEqual([
      '1/1 chord 4 72',
      '1/1 chord 4 74',
      '1/1 chord 2 76',
      '1/2 chord 1 60',
    ]);
  });

  it('have stems up and down; a voice alone has them free', () => {
    const { events } = firstBar(scoreOf([...melody, written(60, 0, 4, low)]));
    expect(events.map((event) => event.stem)).toEqual(['up', 'up', 'up', 'down']);
    expect(firstBar(scoreOf(melody)).events.map((event) => event.stem)).toEqual([null, null, null]);
  });

  it('the lower one is silent without rests where it has nothing to say', () => {
    expect(eventsOf([...melody, written(60, 1, 1, low)]).slice(3)).toEqual([
      '1/2 gap 4',
      '1/2 chord 4 60',
      '1/2 gap 2',
    ]);
  });

  it('a second voice that has the staff to itself shows its rests', () => {
    expect(eventsOf([written(60, 0, 2, low)])).toEqual(['1/2 chord 2 60', '1/2 rest 2']);
  });

  it('an accidental in one voice holds for the other', () => {
    const { events } = firstBar(scoreOf([written(66, 0, 2), written(67, 2, 2), written(66, 2, 2, low)]));
    const marks = events.flatMap((event) => event.notes.filter((head) => head.soundingPitch === 66));
    expect(marks.map((head) => head.accidental !== null)).toEqual([true, false]);
  });

  it('may be triplets against eighths', () => {
    const thirds = [0, 1, 2].map((k) => written(72, k / 3, 1 / 3));
    const events = eventsOf([...thirds, written(72, 1, 3), written(60, 0, 0.5, low), written(62, 0.5, 0.5, low)]);
    expect(events.slice(0, 3)).toEqual(['1/1 chord 8 72', '1/1 chord 8 72', '1/1 chord 8 72']);
    expect(events.filter((event) => event.startsWith('1/2 chord'))).toEqual(['1/2 chord 8 60', '1/2 chord 8 62']);
  });
});

describe('two staves', () => {
  it('stand where a note is on the second; each has its clef', () => {
    const score = scoreOf([written(72, 0, 4), written(40, 0, 2, left), written(43, 2, 2, left)]);
    expect(score.parts[0]?.clefs).toEqual(['treble', 'bass']);
    expect(firstBar(score).events.map(shown)).toEqual(['1/1 chord 1 72', '2/1 chord 2 40', '2/1 chord 2 43']);
    expect(scoreOf([written(72, 0, 4)]).parts[0]?.clefs).toEqual(['treble']);
  });

  it('a staff with nothing has a whole-bar rest', () => {
    const score = scoreOf([written(72, 0, 4), written(40, 4, 4, left)]);
    expect(firstBar(score).events.map(shown)).toEqual(['1/1 chord 1 72', '2/1 rest bar']);
  });

  it('an accidental holds for its own staff alone', () => {
    const { events } = firstBar(scoreOf([written(66, 0, 4), written(66, 2, 2, left), written(60, 0, 2, left)]));
    const marks = events.flatMap((event) => event.notes.filter((head) => head.soundingPitch === 66));
    expect(marks.map((head) => head.accidental !== null)).toEqual([true, true]);
  });
});

describe('in MusicXML', () => {
  const xml = writeMusicXml(
    scoreOf([written(72, 0, 4), written(60, 0, 1, low), written(60, 2, 1, low), written(40, 0, 4, left)]),
  );

  it('voices are numbered by staff, and each goes back to the bar’s start', () => {
    const bar = xml.slice(xml.indexOf('<measure number="1"'), xml.indexOf('<measure number="2"'));
    expect(bar.match(/<voice>\d/g)).toEqual(['<voice>1', '<voice>2', '<voice>2', '<voice>2', '<voice>2', '<voice>5']);
    expect(bar.match(/<(backup|forward)>/g)).toEqual(['<backup>', '<forward>', '<forward>', '<backup>']);
    expect(bar).toContain('<staves>2</staves>');
    expect(bar.match(/<clef number="\d">/g)).toEqual(['<clef number="1">', '<clef number="2">']);
  });

  it('a part on one staff says nothing of staves', () => {
    const plain = writeMusicXml(scoreOf([written(72, 0, 4)]));
    expect(plain).not.toMatch(/<staves>|<staff>|<backup>|number="1"><sign>/);
  });
});

describe('any voices', () => {
  it('each adds up to its bar exactly', () => {
    const someNotes = fc.array(
      fc.record({
        pitch: fc.integer({ min: 36, max: 90 }),
        onset: fc.integer({ min: 0, max: 63 }),
        length: fc.integer({ min: 1, max: 24 }),
        voice: fc.constantFrom(1, 2),
        staff: fc.constantFrom(1 as const, 2 as const),
      }),
      { minLength: 1, maxLength: 40 },
    );
    fc.assert(
      fc.property(someNotes, (drafts) => {
        const notes = drafts.map((d) =>
          written(d.pitch, d.onset / 4, d.length / 4, { voice: d.voice, staff: d.staff }),
        );
        for (const bar of scoreOf(notes).parts[0]?.bars ?? []) {
          const sums = new Map<string, number>();
          for (const { staff, voice, start, length } of bar.events) {
            const key = `${staff}/${voice}`;
            expect(start).toBe(sums.get(key) ?? 0);
            sums.set(key, start + length);
          }
          for (const sum of sums.values()) expect(sum).toBe(bar.length);
        }
      }),
      cases(60),
    );
  });

  it('an instrument of one staff keeps its clef', () => {
    expect(scoreOf([written(40, 0, 4)], 'cello').parts[0]?.clefs).toEqual([instrumentById('cello').clef]);
  });
});
