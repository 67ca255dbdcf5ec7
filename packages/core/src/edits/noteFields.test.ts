import { describe, expect, it } from 'vitest';
import { type Arrangement, endOf, type Note } from '../model/arrangement.js';
import { applyEdit } from '../model/edit.js';
import type { Selection } from '../model/selection.js';
import { chooseNaming, DEFAULT_NAMING, pitchName } from '../reading/noteWords.js';
import { arrangementWith, note, partWith } from '../testing/kit.js';
import { ticks } from '../time/units.js';
import {
  changeField,
  fieldSpans,
  fieldText,
  lengthOfText,
  type NoteField,
  pitchOfText,
  readFieldEntry,
} from './noteFields.js';

// At 480 PPQ and 125 quarters a minute one tick is one millisecond.
const music = arrangementWith(
  [
    partWith([note(60, 490, 400, { velocity: 34 }), note(64, 1925, 200, { velocity: 96 })]),
    partWith([note(48, 2420, 960, { velocity: 50, channel: 3 })], { id: 2, name: 'Cello' }),
  ],
  {
    meters: [
      { tick: ticks(0), numerator: 4, denominator: 4 },
      { tick: ticks(3840), numerator: 3, denominator: 4 },
    ],
  },
);
const all: Selection = new Map(music.parts.map((part) => [part.id, new Set(part.notes.map((n) => n.id))]));

const typed = (field: NoteField, text: string, arrangement: Arrangement = music) => {
  const entry = readFieldEntry(field, text);
  return entry.ok ? changeField(arrangement, all, field, entry.value) : entry;
};
const notes = (field: NoteField, text: string): Note[] => {
  const made = typed(field, text);
  if (!made.ok) throw new Error(made.problem.message);
  const after = made.value.edit ? applyEdit(music, made.value.edit) : music;
  return after.parts.flatMap((part) => [...part.notes].sort((a, b) => a.id - b.id));
};
const problem = (field: NoteField, text: string): string => {
  const made = typed(field, text);
  return made.ok ? '' : made.problem.code;
};

describe('what is typed into a field', () => {
  it.each([
    ['C4', 60],
    ['f#3', 54],
    ['B♭2', 46],
    ['Bb2', 46],
    ['Cb4', 59],
    ['G9', 127],
    ['0', 0],
    ['127', 127],
  ])('%s is a pitch', (text, pitch) => expect(pitchOfText(text)).toBe(pitch));

  it.each(['english', 'german', 'solfège'] as const)('in %s names every pitch is read as it is called', (names) => {
    for (const middleC of [3, 4, 5] as const) {
      chooseNaming({ names, middleC });
      for (let pitch = 0; pitch < 128; pitch += 1)
        expect([pitch, pitchOfText(pitchName(pitch))]).toEqual([pitch, pitch]);
    }
    chooseNaming({ names: 'german', middleC: 3 });
    expect(['b3', 'h3', 'Eses3', 'As3', 'Dis3'].map(pitchOfText)).toEqual([70, 71, 62, 68, 63]);
    chooseNaming({ names: 'solfège', middleC: 4 });
    expect(['sol#4', 'SI4', 'mi♭3'].map(pitchOfText)).toEqual([68, 71, 51]);
    chooseNaming(DEFAULT_NAMING);
  });
  it.each(['H4', 'C', '128', 'C99', 'A9', ''])('%s is none', (text) => expect(pitchOfText(text)).toBeUndefined());

  it.each([
    ['240', { unit: 'ticks', value: 240 }],
    ['250 ms', { unit: 'ms', value: 250 }],
    ['1/8', { unit: 'note', value: 1 / 8 }],
    ['1/8.', { unit: 'note', value: 3 / 16 }],
    ['1/8t', { unit: 'note', value: 1 / 12 }],
  ])('%s is a length', (text, length) => expect(lengthOfText(text)).toEqual(length));

  it('that makes no sense says what would be understood', () => {
    expect(problem('velocity', '*0')).toBe('bad-factor');
    expect(problem('velocity', '/x')).toBe('bad-factor');
    expect(problem('pitch', '*2')).toBe('no-factor');
    expect(problem('start', '*2')).toBe('no-factor');
    expect(problem('pitch', '+10 ms')).toBe('bad-amount');
    expect(problem('pitch', '+1.5')).toBe('bad-amount');
    expect(problem('pitch', 'loud')).toBe('bad-pitch');
    expect(problem('start', 'bar 9999')).toBe('bad-place');
    expect(problem('start', '1.0')).toBe('bad-place');
    expect(problem('start', '100001')).toBe('too-far');
    expect(problem('start', '100000')).toBe('too-long');
    expect(problem('length', '0')).toBe('bad-length');
    expect(problem('velocity', '0')).toBe('bad-number');
    expect(problem('velocity', '128')).toBe('bad-number');
    expect(problem('channel', '17')).toBe('bad-number');
    expect(problem('beat', '0')).toBe('bad-number');
    expect(problem('beat', '9')).toBe('no-beat');
  });

  it('changes nothing, and complains of nothing, where nothing is selected', () => {
    const entry = readFieldEntry('beat', '9');
    const made = entry.ok && changeField(music, new Map(), 'beat', entry.value);
    expect(made).toEqual({ ok: true, value: { edit: null, notice: '' } });
  });
});

describe('a field of several notes', () => {
  it('takes a value, or what is added, taken away, multiplied and divided', () => {
    expect(notes('velocity', '80').map((n) => n.velocity)).toEqual([80, 80, 80]);
    expect(notes('velocity', '*0.5').map((n) => n.velocity)).toEqual([17, 48, 25]);
    expect(notes('velocity', '/2').map((n) => n.velocity)).toEqual([17, 48, 25]);
    expect(notes('velocity', '-30').map((n) => n.velocity)).toEqual([4, 66, 20]);
    expect(notes('pitch', 'D5').map((n) => n.pitch)).toEqual([74, 74, 74]);
    expect(notes('pitch', '+12').map((n) => n.pitch)).toEqual([72, 76, 60]);
    expect(notes('length', '1/8').map((n) => n.duration)).toEqual([240, 240, 240]);
    expect(notes('length', '*2').map((n) => n.duration)).toEqual([800, 400, 1920]);
    expect(notes('length', '+10 ms').map((n) => n.duration)).toEqual([410, 210, 970]);
    expect(notes('channel', '4').map((n) => n.channel)).toEqual([3, 3, 3]);
    expect(notes('end', '+1/16').map(endOf)).toEqual([1010, 2245, 3500]);
    expect(notes('end', '3.1').map(endOf)).toEqual([3840, 3840, 3840]);
  });

  it('changes the bar, the beat or the tick alone: a note keeps its own lateness', () => {
    expect(notes('start', '2.3.7').map((n) => n.onset)).toEqual([2887, 2887, 2887]);
    expect(notes('start', '-1/8').map((n) => n.onset)).toEqual([250, 1685, 2180]);
    // bar 1 beat 2 + 10, bar 2 beat 1 + 5, bar 2 beat 2 + 20
    expect(notes('beat', '3').map((n) => n.onset)).toEqual([970, 2885, 2900]);
    expect(notes('beat', '+1').map((n) => n.onset)).toEqual([970, 2405, 2900]);
    expect(notes('bar', '3').map((n) => n.onset)).toEqual([4330, 3845, 4340]);
    expect(notes('bar', '+1').map((n) => n.onset)).toEqual([2410, 3845, 4340]);
    expect(notes('tick', '0').map((n) => n.onset)).toEqual([480, 1920, 2400]);
  });

  it('says what was kept within bounds, and which notes have no such beat', () => {
    expect(typed('velocity', '+60')).toMatchObject({ value: { notice: '1 note kept within what can be.' } });
    expect(typed('end', '2.1')).toMatchObject({ value: { notice: '2 notes kept within what can be.' } });
    const late = arrangementWith([partWith([note(60, 0, 10), note(62, 3840, 10)])], { meters: music.meters });
    const entry = readFieldEntry('beat', '4');
    const chosen = new Map([[1, new Set(late.parts[0]?.notes.map((n) => n.id))]]);
    const made = entry.ok && changeField(late, chosen, 'beat', entry.value);
    expect(made).toMatchObject({ value: { notice: '1 note left: there is no such bar or beat.' } });
  });

  it('shows one value or the span, in words', () => {
    expect(fieldSpans(music, all).get('velocity')).toEqual({ least: 34, most: 96 });
    expect(fieldSpans(music, all).get('channel')).toEqual({ least: 1, most: 4 });
    expect(fieldSpans(music, all).get('beat')).toEqual({ least: 1, most: 2 });
    expect(fieldSpans(music, all).get('start')).toEqual({ least: 490, most: 2420 });
    expect(fieldSpans(music, new Map()).size).toBe(0);
    expect(fieldText(music, 'pitch', 60)).toBe('C4');
    expect(fieldText(music, 'start', 2420)).toBe('2.2.20');
    expect(fieldText(music, 'length', 240)).toBe('240');
  });

  it('names what was done in which part', () => {
    expect(typed('velocity', '*0.5')).toMatchObject({
      value: { edit: { label: 'Loudness: 2 notes in Flute, 1 in Cello' } },
    });
  });
});
