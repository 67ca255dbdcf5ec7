import { describe, expect, it } from 'vitest';
import { instrumentById } from '../instruments/instruments.js';
import type { WrittenNote } from '../plan/written.js';
import { written } from '../testing/kit.js';
import { clefsOfBars, octaveLinesOf } from './staffPlaces.js';

const EIGHTH = 5040;
const BAR = 8 * EIGHTH;

/** Bars of eighths, each bar on its pitches in turn. */
const bars = (...pitches: readonly (readonly number[])[]): WrittenNote[] =>
  pitches.flatMap((own, bar) =>
    own.length === 0
      ? []
      : Array.from({ length: 8 }, (_, k) => ({
          ...written(own[k % own.length] as number, 0, 1),
          onset: (bar * BAR + k * EIGHTH) as WrittenNote['onset'],
          duration: EIGHTH as WrittenNote['duration'],
        })),
  );
const clefs = (
  instrument: string,
  own: ReturnType<typeof instrumentById>['clef'],
  notes: readonly WrittenNote[],
  count: number,
) =>
  clefsOfBars(
    instrumentById(instrument),
    own,
    notes,
    Array.from({ length: count }, (_, bar) => bar * BAR),
    0,
  );
const LOW = [43, 48, 50];
const HIGH = [76, 79, 77];

describe('clefs (Gould, Behind Bars, 2011: changes for passages, not for single notes)', () => {
  it('a cello stays in its own for a few high notes', () => {
    const notes = bars(LOW, LOW, LOW).map((note, index) => (index === 9 ? { ...note, pitch: 69 } : note));
    expect(clefs('cello', 'bass', notes, 3)).toEqual(['bass', 'bass', 'bass']);
  });

  it('a cello reads a high passage in the tenor clef, from its first bar to its last', () => {
    expect(clefs('cello', 'bass', bars(LOW, [], [64, 66, 67], [65, 67, 64], [67, 64, 65], [], LOW), 7)).toEqual([
      'bass',
      'bass',
      'tenor',
      'tenor',
      'tenor',
      'tenor',
      'bass',
    ]);
  });

  it('and a still higher one in the treble clef', () => {
    expect(clefs('cello', 'bass', bars(LOW, HIGH, HIGH, HIGH, HIGH, LOW), 6)).toEqual([
      'bass',
      'treble',
      'treble',
      'treble',
      'treble',
      'bass',
    ]);
  });

  it('instruments of one clef never change it', () => {
    expect(new Set(clefs('flute', 'treble', bars([96], [96], [96]), 3))).toEqual(new Set(['treble']));
    expect(new Set(clefs('tuba', 'bass', bars([64], [65], [64]), 3))).toEqual(new Set(['bass']));
  });
});

describe('octave lines', () => {
  const lines = (instrument: string, notes: readonly WrittenNote[], clef: 'treble' | 'bass' = 'treble') =>
    octaveLinesOf(instrumentById(instrument), notes, () => clef, 0).map(({ side, noteIds }) => ({
      side,
      notes: notes.flatMap(({ id }, index) => (noteIds.has(id) ? [index] : [])),
    }));

  it('stand over what would pile up ledger lines, and over nothing else', () => {
    expect(lines('piano', bars([72], [91, 95], [93, 96], [72]))).toEqual([
      { side: 'above', notes: Array.from({ length: 16 }, (_, k) => 8 + k) },
    ]);
  });

  it('go on over lower notes in between, as long as those stay on the staff', () => {
    expect(lines('piano', bars([72], [96, 84, 95], [93, 79, 98], [72]))[0]?.notes.length).toBeGreaterThanOrEqual(15);
  });

  it('are not drawn for three ledger lines, nor for one high note', () => {
    expect(lines('piano', bars([88], [86]))).toEqual([]);
    expect(
      lines(
        'piano',
        bars([72], [72]).map((note, index) => (index === 3 ? { ...note, pitch: 98 } : note)),
      ),
    ).toEqual([]);
  });

  it('end where a bar is silent', () => {
    expect(lines('piano', bars([96], [], [], [96])).map(({ notes }) => notes.length)).toEqual([8, 8]);
  });

  it('stand under what lies deep', () => {
    expect(lines('piano', bars([40], [24, 26], [25], [43]), 'bass')).toEqual([
      { side: 'below', notes: Array.from({ length: 16 }, (_, k) => 8 + k) },
    ]);
  });

  it('are not for winds, who read their ledger lines (common practice)', () => {
    expect(lines('flute', bars([96], [95]))).toEqual([]);
  });

  it('are not drawn over two voices', () => {
    const notes = bars([96], [95]).map((note, index) => ({ ...note, voice: 1 + (index % 2) }));
    const together = notes.map((note, index) => ({ ...note, onset: notes[index - (index % 2)]?.onset ?? note.onset }));
    expect(lines('piano', together)).toEqual([]);
  });
});
