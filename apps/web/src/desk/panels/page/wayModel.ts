/** A way of playing in words and in sound: what stands ready, what is there already, and what a word typed brings with it. */

import type { Part, WaySound } from '@crispfold/core';

/** A word for a way of playing, the word that ends it (empty: no word), and how it sounds (null: on the page alone). */
export interface Way {
  readonly word: string;
  readonly back: string;
  readonly sound: WaySound | null;
}

/** Words that players read, with those that end them, and the General MIDI program that sounds so (common practice). */
const READY: readonly { readonly word: string; readonly back: string; readonly program?: number }[] = [
  { word: 'pizz.', back: 'arco', program: 45 },
  { word: 'trem.', back: 'ord.', program: 44 },
  { word: 'con sord.', back: 'senza sord.' },
  { word: 'mute', back: 'open', program: 59 },
  { word: 'stopped', back: 'open' },
  { word: 'sul pont.', back: 'ord.' },
  { word: 'sul tasto', back: 'ord.' },
  { word: 'col legno', back: 'arco' },
  { word: 'flutter-tongue', back: 'ord.' },
  { word: 'palm mute', back: 'ord.', program: 28 },
];

/** What a kind of sound begins with. */
export const FIRST_SOUND: { readonly [by in WaySound['by']]: WaySound } = {
  program: { by: 'program', program: 45 },
  controller: { by: 'controller', controller: 32, value: 127, rest: 0 },
  key: { by: 'key', pitch: 24 },
};

/** What it begins with. */
export const PIZZICATO: Way = {
  word: 'pizz.',
  back: 'arco',
  sound: { by: 'program', program: 45 },
};

/** The ways that the parts have already, by their word: the last of a word counts. */
export const waysOf = (parts: readonly Pick<Part, 'overrides'>[]): ReadonlyMap<string, Way> =>
  new Map(
    parts.flatMap(({ overrides }) =>
      (overrides?.list ?? []).flatMap((own) =>
        own.kind === 'way' ? [[own.word, { word: own.word, back: own.back, sound: own.sound ?? null }] as const] : [],
      ),
    ),
  );

/** The words to choose from: those there already, then those that stand ready. */
export const wordsToChoose = (known: ReadonlyMap<string, Way>): readonly string[] => [
  ...new Set([...known.keys(), ...READY.map(({ word }) => word)]),
];

/** What a word brings with it: its end and its sound, where it is there already or stands ready; else itself alone. */
export const wayOfWord = (word: string, known: ReadonlyMap<string, Way>): Partial<Way> => {
  const before = known.get(word);
  if (before) return before;
  const ready = READY.find((one) => one.word === word);
  if (!ready) return { word };
  return {
    word,
    back: ready.back,
    sound: ready.program === undefined ? null : { by: 'program', program: ready.program },
  };
};
