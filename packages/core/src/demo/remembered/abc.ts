/**
 * Reads music written down in a small part of ABC notation 2.1 (an open standard): notes, rests, chords, ties, broken
 * rhythm, tuplets, keys with modes, meters. A first bar that is too short is a pickup; a last one may be cut short.
 */
import { alterInKey, lineOfFifths, pitchOfSpelling, type Spelling } from '../../pitch/spelling.js';
import { type Meter, ticksPerBar } from '../../time/meterMap.js';
import { WRITTEN_PPQ, type WrittenUnits } from '../../time/units.js';
import type { ComposedNote } from '../composed.js';

/** A note as composed, with the name it is written by and the voice it is in. */
export interface SpelledNote extends ComposedNote {
  readonly spelling: Spelling;
  /** From 1, in the order in which the voices were given. */
  readonly voice: number;
}

/** What the voices of one piece hold; the music begins on the pickup, at 0. */
export interface AbcMusic {
  readonly notes: readonly SpelledNote[];
  /** Length of the pickup; 0 where the piece begins with a whole bar. */
  readonly pickup: WrittenUnits;
  readonly fifths: number;
  readonly minor: boolean;
}

const LETTERS = 'CDEFGAB';
/** Fifths that a mode lies below the major key on its tonic. */
const MODES: { readonly [mode: string]: number } = { '': 0, m: -3, Dor: -2, Mix: -1, Phr: -4, Lyd: 1 };

/** "F#m" or "DDor" to a key signature. */
export const keyOf = (text: string): { readonly fifths: number; readonly minor: boolean } => {
  const match = /^([A-G])([#b]?)(m|Dor|Mix|Phr|Lyd)?$/.exec(text);
  if (!match) throw new Error(`Not a key: ${text}`);
  const [, letter, sign, mode = ''] = match as unknown as [string, string, string, string | undefined];
  const tonic = { step: LETTERS.indexOf(letter), alter: sign === '#' ? 1 : sign === 'b' ? -1 : 0, octave: 4 };
  return { fifths: lineOfFifths(tonic) + (MODES[mode] as number), minor: mode === 'm' };
};

const TOKEN =
  /\s*(?:(\|+)|\((\d)|(>|<)|(-)|(\[)|(\])(\d*(?:\/\d*)?)|(z)(\d*(?:\/\d*)?)|([_^=]*)([A-Ga-g])([,']*)(\d*(?:\/\d*)?))/y;

const multiplier = (text: string): number => {
  if (text === '') return 1;
  const [above, below] = text.split('/') as [string, string | undefined];
  return (above === '' ? 1 : Number(above)) / (below === undefined ? 1 : below === '' ? 2 : Number(below));
};

/** How many of a tuplet's notes there are in the time of how many, in a simple or a compound meter. */
const TUPLETS: { readonly [count: number]: number } = { 2: 3, 3: 2, 4: 3, 5: 4, 6: 4, 7: 4 };

interface Draft {
  spelling: Spelling;
  start: number;
  length: number;
}

/** One voice. `unit` is the length of a plain letter, in whole notes. */
const readVoice = (text: string, fifths: number, meter: Meter, unit: number, voice: number) => {
  const barLength = ticksPerBar(meter, WRITTEN_PPQ);
  const notes: Draft[] = [];
  let at = 0;
  let barStart = 0;
  let pickup = 0;
  let bars = 0;
  let tuplet = { left: 0, factor: 1 };
  let broken = 1;
  let before: { readonly from: number; readonly notes: readonly Draft[]; length: number } = {
    from: 0,
    notes: [],
    length: 0,
  };
  let accidentals = new Map<string, number>();
  let chord: Draft[] | null = null;
  let tied: readonly Draft[] = [];
  const lengthOf = (times: string): number => {
    let length = multiplier(times) * unit * 4 * WRITTEN_PPQ * broken;
    broken = 1;
    if (tuplet.left > 0) {
      length *= tuplet.factor;
      tuplet = { ...tuplet, left: tuplet.left - 1 };
    }
    return length;
  };
  const advance = (length: number, own: readonly Draft[]) => {
    const continued = own.map((note) =>
      tied.find((other) => pitchOfSpelling(other.spelling) === pitchOfSpelling(note.spelling)),
    );
    own.forEach((note, index) => {
      const first = continued[index];
      if (first) first.length += note.length;
      else notes.push(note);
    });
    tied = [];
    before = { from: at, notes: own.map((note, index) => continued[index] ?? note), length };
    at += length;
  };
  const endBar = () => {
    const length = Math.round(at - barStart);
    if (length === 0) return;
    if (bars === 0 && length < barLength) pickup = length;
    else if (length !== barLength)
      throw new Error(`Bar ${bars} of voice ${voice} does not add up: …${text.slice(0, 40)}`);
    bars += 1;
    barStart = at;
    accidentals = new Map();
  };
  TOKEN.lastIndex = 0;
  while (TOKEN.lastIndex < text.length) {
    const from = TOKEN.lastIndex;
    const match = TOKEN.exec(text);
    if (!match) {
      if (text.slice(from).trim() === '') break;
      throw new Error(`Not ABC: ${text.slice(from, from + 20)}`);
    }
    const [
      ,
      bar,
      count,
      dot,
      tie,
      open,
      close,
      chordTimes = '',
      rest,
      restTimes = '',
      sign = '',
      letter,
      octaves = '',
      times = '',
    ] = match;
    if (bar) endBar();
    else if (count) {
      const actual = Number(count);
      tuplet = { left: actual, factor: (TUPLETS[actual] as number) / actual };
    } else if (dot) {
      const change = (before.length * (dot === '>' ? 1 : -1)) / 2;
      for (const note of before.notes) note.length += change;
      at += change;
      broken = dot === '>' ? 0.5 : 1.5;
    } else if (tie) tied = before.notes;
    else if (open) chord = [];
    else if (close) {
      const tones = chord ?? [];
      chord = null;
      for (const tone of tones) tone.length *= multiplier(chordTimes);
      advance(tones[0]?.length ?? 0, tones);
    } else if (rest) advance(lengthOf(restTimes), []);
    else if (letter) {
      const step = LETTERS.indexOf(letter.toUpperCase());
      const octave =
        4 + (letter === letter.toLowerCase() ? 1 : 0) + octaves.split("'").length - octaves.split(',').length;
      const place = `${step}/${octave}`;
      if (sign) accidentals.set(place, sign === '=' ? 0 : sign.startsWith('^') ? sign.length : -sign.length);
      const alter = accidentals.get(place) ?? alterInKey(fifths, step);
      const length = chord && chord.length > 0 ? (chord[0] as Draft).length : lengthOf(times);
      const note = { spelling: { step, alter, octave }, start: at, length };
      if (chord) chord.push(note);
      else advance(length, [note]);
    }
  }
  return { notes, pickup, end: at };
};

/** Reads the voices of a piece, one string each, the uppermost first. */
export const readAbc = (voices: readonly string[], key: string, meter: Meter, unit: number): AbcMusic => {
  const { fifths, minor } = keyOf(key);
  const read = voices.map((text, index) => readVoice(text, fifths, meter, unit, index + 1));
  if (read.some(({ end, pickup }) => Math.abs(end - (read[0]?.end ?? 0)) > 1 || pickup !== read[0]?.pickup)) {
    throw new Error(`The voices are not as long as each other: ${read.map(({ end }) => end / WRITTEN_PPQ).join(', ')}`);
  }
  return {
    notes: read.flatMap(({ notes }, index) =>
      notes.map(
        ({ spelling, start, length }): SpelledNote => ({
          spelling,
          voice: index + 1,
          pitch: pitchOfSpelling(spelling),
          onset: Math.round(start) as WrittenUnits,
          duration: (Math.round(start + length) - Math.round(start)) as WrittenUnits,
        }),
      ),
    ),
    pickup: (read[0]?.pickup ?? 0) as WrittenUnits,
    fifths,
    minor,
  };
};
