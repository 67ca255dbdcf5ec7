import { describe, expect, it } from 'vitest';
import { PIZZICATO, type Way, wayOfWord, waysOf, wordsToChoose } from './wayModel.js';

const none: ReadonlyMap<string, Way> = new Map();

describe('a word for a way of playing', () => {
  it('brings its end and its sound where it stands ready', () => {
    expect(wayOfWord('pizz.', none)).toEqual(PIZZICATO);
    expect(wayOfWord('trem.', none)).toEqual({ word: 'trem.', back: 'ord.', sound: { by: 'program', program: 44 } });
  });

  it('is of the page alone where no program sounds so', () => {
    expect(wayOfWord('con sord.', none)).toEqual({ word: 'con sord.', back: 'senza sord.', sound: null });
  });

  it('of one’s own changes nothing else', () => {
    expect(wayOfWord('whisper', none)).toEqual({ word: 'whisper' });
  });
});

describe('ways that parts have already', () => {
  const key = { by: 'key', pitch: 24 } as const;
  const parts = [
    {
      overrides: {
        list: [
          { kind: 'way', word: 'pizz.', back: 'bow', sound: key },
          { kind: 'way', word: 'airy', back: '' },
          { kind: 'words', text: 'dolce' },
        ],
      },
    },
    {},
  ] as unknown as Parameters<typeof waysOf>[0];

  it('are chosen again with their own end and sound, before what stands ready', () => {
    const known = waysOf(parts);
    expect(wayOfWord('pizz.', known)).toEqual({ word: 'pizz.', back: 'bow', sound: key });
    expect(wayOfWord('airy', known)).toEqual({ word: 'airy', back: '', sound: null });
  });

  it('are offered first, each word once, and nothing that is no way', () => {
    const words = wordsToChoose(waysOf(parts));
    expect(words.slice(0, 3)).toEqual(['pizz.', 'airy', 'trem.']);
    expect(words.filter((word) => word === 'pizz.')).toHaveLength(1);
    expect(words).not.toContain('dolce');
  });
});
