/** What a tune in ABC notation 2.1 says of keys and names of notes, read without its lengths: for checking spellings. */
import { keyOf } from '../demo/remembered/abc.js';
import { alterInKey, pitchOfSpelling, type Spelling, STEP_NAMES } from '../pitch/spelling.js';

const fullMode = (text: string): string =>
  text.replace(/^([A-G][#b]?)\s*(dor|mix|phr|lyd|m)\w*/i, (_, tonic: string, mode: string) =>
    mode.toLowerCase() === 'm' ? `${tonic}m` : `${tonic}${mode[0]?.toUpperCase()}${mode.slice(1).toLowerCase()}`,
  );

const SIGNS: { readonly [sign: string]: number } = { '^^': 2, '^': 1, '=': 0, _: -1, __: -2 };

/** The names by which a tune writes each pitch, and its first key as fifths (null where it is none of the usual). */
export interface AbcNames {
  readonly fifths: number | null;
  readonly names: ReadonlyMap<number, readonly Spelling[]>;
}

/** Reads all voices of one tune; `text` begins with its `X:` line. */
export const abcNames = (text: string): AbcNames => {
  const names = new Map<number, Spelling[]>();
  let first: number | null | undefined;
  let fifths = 0;
  let own = new Map<number, number>();
  const setKey = (said: string) => {
    const words = said.replace(/%.*/, '').trim();
    const [plain = ''] = fullMode(words).split(/[\s^_=]/);
    const known = /^[A-G][#b]?(m|Dor|Mix|Phr|Lyd)?$/.test(plain);
    fifths = known ? keyOf(plain).fifths : 0;
    own = new Map(
      [...words.matchAll(/(\^\^|\^|=|__|_)([A-Ga-g])/g)].map(([, sign, letter]) => [
        STEP_NAMES.indexOf((letter as string).toUpperCase() as 'C'),
        SIGNS[sign as string] as number,
      ]),
    );
    if (first === undefined) first = known && own.size === 0 ? fifths : null;
  };
  for (const line of text.split('\n')) {
    const field = /^([A-Za-z]):(.*)$/.exec(line);
    if (field) {
      if (field[1] === 'K') setKey(field[2] as string);
      continue;
    }
    if (line.startsWith('%')) continue;
    let accidentals = new Map<number, number>();
    const music = line.replace(/%.*|"[^"]*"|![^!]*!|\+[^+]*\+/g, '');
    for (const [token, key, sign = '', letter, octaves = ''] of music.matchAll(
      /\[K:([^\]]*)\]|\[[A-Za-z]:[^\]]*\]|(\^\^|\^|=|__|_)?([A-Ga-g])([,']*)|\|/g,
    )) {
      if (key !== undefined) setKey(key);
      if (token === '|') accidentals = new Map();
      if (!letter) continue;
      const step = STEP_NAMES.indexOf(letter.toUpperCase() as 'C');
      const octave =
        (letter === letter.toLowerCase() ? 5 : 4) +
        [...octaves].reduce((sum, mark) => sum + (mark === ',' ? -1 : 1), 0);
      const place = octave * 7 + step;
      if (sign) accidentals.set(place, SIGNS[sign] as number);
      const alter = accidentals.get(place) ?? own.get(step) ?? alterInKey(fifths, step);
      const spelling = { step, alter, octave };
      const pitch = pitchOfSpelling(spelling);
      names.set(pitch, [...(names.get(pitch) ?? []), spelling]);
    }
  }
  return { fifths: first ?? null, names };
};
