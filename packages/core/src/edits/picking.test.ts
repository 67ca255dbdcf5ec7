import { describe, expect, it } from 'vitest';
import type { Note, Part } from '../model/arrangement.js';
import type { Selection } from '../model/selection.js';
import { arrangementWith, note, partWith } from '../testing/kit.js';
import { fitAmong } from './fittingNote.js';
import { chordTones, fromHereOn, overlapping, sameBeats, samePitchClasses, samePitches } from './picking.js';

const flute = partWith([note(60, 0, 480), note(62, 480, 480), note(72, 1920, 480), note(60, 1910, 30)]);
const horn = partWith([note(48, 490, 200), note(60, 2400, 900), note(60, 3000, 200), note(64, 3300, 200)], {
  id: 2,
  name: 'Horn',
});
const music = arrangementWith([flute, horn]);
const { parts } = music;
const of = (part: Part, ...places: number[]): Selection =>
  new Map([[part.id, new Set(places.map((place) => (part.notes[place] as Note).id))]]);
/** The places in each part's list of what is selected. */
const told = (selection: Selection) =>
  parts.map((part) => part.notes.flatMap((n, place) => (selection.get(part.id)?.has(n.id) ? place : [])));

describe('picking by what is selected', () => {
  it('takes the same pitch, or its class, in the parts it is asked about', () => {
    expect(told(samePitches(music, of(flute, 0), parts))).toEqual([
      [0, 3],
      [1, 2],
    ]);
    expect(told(samePitches(music, of(flute, 0), [horn]))).toEqual([[], [1, 2]]);
    expect(told(samePitchClasses(music, of(flute, 0), parts))).toEqual([
      [0, 2, 3],
      [0, 1, 2],
    ]);
  });

  it('takes what begins from here on', () => {
    expect(told(fromHereOn(1920, parts))).toEqual([[2], [1, 2, 3]]);
  });

  it('takes the same beat of every bar, a note before the bar line with those on it', () => {
    expect(told(sameBeats(music, of(flute, 0), parts, 240))).toEqual([[0, 2, 3], []]);
    expect(told(sameBeats(music, of(flute, 1), parts, 240))).toEqual([[1], [0, 1]]);
  });

  it('takes what overlaps the same pitch, and not what only touches it', () => {
    expect(told(overlapping(parts))).toEqual([[], [1, 2]]);
    const touching = partWith([note(60, 0, 480), note(60, 480, 480)]);
    expect(overlapping([touching]).size).toBe(0);
    // Under a long one, also after a short one that ended before.
    const long = partWith([note(60, 0, 2000), note(60, 100, 10), note(60, 1500, 10)]);
    expect(overlapping([long]).get(1)?.size).toBe(3);
  });

  it('takes the top, bottom and inner tones of chords, and no single note', () => {
    const chords = partWith([note(60, 0, 480), note(64, 10, 480), note(67, 5, 480), note(72, 960, 480)]);
    const piece = arrangementWith([chords]);
    const all = new Map([[1, new Set(chords.notes.map((n) => n.id))]]);
    const pitches = (place: 'top' | 'bottom' | 'inner') => {
      const picked = chordTones(piece, all, place).get(1);
      return chords.notes.filter((n) => picked?.has(n.id)).map((n) => n.pitch);
    };
    expect([pitches('top'), pitches('bottom'), pitches('inner')]).toEqual([[67], [60], [64]]);
  });
});

describe('a drawn note', () => {
  const grid = { grid: 120, reach: 960, nearestLine: (tick: number) => Math.round(tick / 120) * 120 };
  const playing = [
    note(60, 495, 200, { velocity: 70 }),
    note(64, 489, 200, { velocity: 60 }),
    note(67, 500, 200, { velocity: 90 }),
    note(72, 1450, 200, { velocity: 100 }),
  ].sort((a, b) => a.onset - b.onset);

  it('joins the chord it is drawn into, in time and loudness', () => {
    expect(fitAmong(playing, 480, grid)).toEqual({ onset: 495, velocity: 70 });
  });

  it('stands between its neighbours, as late as the nearer', () => {
    expect(fitAmong(playing, 960, grid)).toEqual({ onset: 980, velocity: 95 });
    expect(fitAmong(playing, 1320, grid)).toEqual({ onset: 1330, velocity: 99 });
    expect(fitAmong(playing, 1800, grid)).toEqual({ onset: 1810, velocity: 100 });
  });

  it('is on its own where nothing is near, or all that is near is silent', () => {
    expect(fitAmong(playing, 5000, grid)).toBeNull();
    expect(fitAmong([note(60, 480, 100, { muted: true })], 480, grid)).toBeNull();
    expect(fitAmong([], 0, grid)).toBeNull();
  });
});
