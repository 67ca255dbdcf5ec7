import { describe, expect, it } from 'vitest';
import { breathes, type TempoAt, tempoToSay, tempoWordsOf } from './tempoMarks.js';

const BAR = 4;
/** Tempi by beat: "0:120 16:100". */
const wordsOf = (text: string, end = 100, breathing = false) => {
  const changes = text.split(' ').map((change): TempoAt => {
    const [at, quartersPerMinute] = change.split(':').map(Number) as [number, number];
    return { at, quartersPerMinute };
  });
  return tempoWordsOf(changes, BAR, end, breathing);
};

describe('what the page says of the tempo (common practice)', () => {
  it('marks the first tempo, and each that lasts', () => {
    expect(wordsOf('0:120 16:100')).toEqual(['metronome', 'metronome']);
  });

  it('does not repeat a tempo that is the same to a player', () => {
    expect(wordsOf('0:120 16:121 32:120')).toEqual(['metronome', null, null]);
    // Little by little is a change all the same.
    expect(wordsOf('0:120 16:122 32:124 48:126')).toEqual(['metronome', null, 'metronome', null]);
  });

  it('says of a take that breathes its middle tempo, and only what truly slows down', () => {
    const tempi = Array.from({ length: 40 }, (_, beat) => Math.round(98 + 8 * Math.sin(beat / 2)));
    const slowing = [92, 84, 75, 66];
    const text = [...tempi, ...slowing].map((tempo, beat) => `${beat}:${tempo}`).join(' ');
    const words = wordsOf(text, 44, true);
    expect(words.filter(Boolean)).toEqual(['metronome', 'rit.']);
    expect(words.indexOf('rit.')).toBeGreaterThan(36);
    const changes = [...tempi, ...slowing].map((quartersPerMinute, at) => ({ at, quartersPerMinute }));
    expect(breathes(changes, BAR)).toBe(true);
    expect(breathes(changes.slice(0, 12), BAR)).toBe(false);
    expect(tempoToSay(changes, true)).toBeCloseTo(98, -1);
    expect(tempoToSay(changes, false)).toBe(98);
    expect(tempoToSay([], true)).toBe(120);
  });

  it('says rit. where it begins, and takes it back', () => {
    expect(wordsOf('0:120 12:114 13:108 14:102 15:96 16:120')).toEqual([
      'metronome',
      'rit.',
      null,
      null,
      null,
      'a tempo',
    ]);
  });

  it('says accel., and the tempo that it reaches and keeps', () => {
    expect(wordsOf('0:90 12:96 13:102 14:110 15:120')).toEqual(['metronome', 'accel.', null, null, 'metronome']);
  });

  it('says rit. alone at the end of the piece', () => {
    expect(wordsOf('0:120 96:110 97:100 98:90 99:70')).toEqual(['metronome', 'rit.', null, null, null]);
  });

  it('turns from one way to the other', () => {
    expect(wordsOf('0:100 8:106 9:112 10:120 11:112 12:106 13:100 14:92 15:100')).toEqual([
      'metronome',
      'accel.',
      null,
      null,
      'rit.',
      null,
      null,
      null,
      'a tempo',
    ]);
  });

  it('leaves a tempo that follows a player’s own wandering alone', () => {
    const wandering = Array.from({ length: 60 }, (_, beat) => `${beat}:${100 + 3 * Math.sin(beat * 1.7)}`).join(' ');
    expect(wordsOf(wandering, 60).filter((words) => words !== null)).toEqual(['metronome']);
  });

  it('has nothing to say of no tempo', () => {
    expect(tempoWordsOf([], BAR, 100)).toEqual([]);
  });
});
