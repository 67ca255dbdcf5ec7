/**
 * The instrument table. Ranges (sounding, as MIDI numbers) and transpositions: orchestration handbooks, common practice.
 * Programs: General MIDI 1 sound set, numbered from 0. Adding an instrument means adding one row.
 */

import type { ClefName } from '../model/clefs.js';

/** Families, which share a sound and an order in the score. */
export type Family =
  | 'woodwind'
  | 'brass'
  | 'mallet'
  | 'percussion'
  | 'keyboard'
  | 'plucked'
  | 'voice'
  | 'strings'
  | 'other';

/** What the plan, the page and the roll need to know of an instrument. */
export interface Instrument {
  readonly id: string;
  readonly name: string;
  readonly abbreviation: string;
  readonly family: Family;
  /** Lowest and highest sounding pitch. */
  readonly lowest: number;
  readonly highest: number;
  /** Sounding minus written pitch in semitones and staff steps (B flat clarinet: -2 and -1). */
  readonly transposeSemitones: number;
  readonly transposeSteps: number;
  readonly clef: ClefName;
  /** True where only one note can sound at a time. */
  readonly oneNote: boolean;
  /** General MIDI programs that mean this instrument; the first is its own. */
  readonly programs: readonly number[];
}

const row = (
  id: string,
  name: string,
  abbreviation: string,
  family: Family,
  [lowest, highest]: readonly [number, number],
  clef: ClefName,
  oneNote: boolean,
  programs: readonly number[],
  [transposeSemitones, transposeSteps]: readonly [number, number] = [0, 0],
): Instrument => ({
  id,
  name,
  abbreviation,
  family,
  lowest,
  highest,
  clef,
  oneNote,
  programs,
  transposeSemitones,
  transposeSteps,
});

/** Id of the instrument for the percussion channel. */
export const PERCUSSION_ID = 'percussion';

/** All instruments, in score order. */
export const INSTRUMENTS: readonly Instrument[] = [
  row('piccolo', 'Piccolo', 'Picc.', 'woodwind', [74, 108], 'treble', true, [72], [12, 7]),
  row('flute', 'Flute', 'Fl.', 'woodwind', [59, 98], 'treble', true, [73, 75, 77, 78, 79]),
  row('recorder', 'Recorder', 'Rec.', 'woodwind', [65, 91], 'treble', true, [74]),
  row('oboe', 'Oboe', 'Ob.', 'woodwind', [58, 91], 'treble', true, [68]),
  row('englishHorn', 'English horn', 'E. H.', 'woodwind', [52, 81], 'treble', true, [69], [-7, -4]),
  row('clarinet', 'Clarinet in B♭', 'Cl.', 'woodwind', [50, 94], 'treble', true, [71], [-2, -1]),
  row('bassClarinet', 'Bass clarinet in B♭', 'B. Cl.', 'woodwind', [34, 77], 'treble', true, [], [-14, -8]),
  row('bassoon', 'Bassoon', 'Bn.', 'woodwind', [34, 75], 'bass', true, [70]),
  row('sopranoSax', 'Soprano saxophone', 'S. Sax.', 'woodwind', [56, 87], 'treble', true, [64], [-2, -1]),
  row('altoSax', 'Alto saxophone', 'A. Sax.', 'woodwind', [49, 80], 'treble', true, [65], [-9, -5]),
  row('tenorSax', 'Tenor saxophone', 'T. Sax.', 'woodwind', [44, 75], 'treble', true, [66], [-14, -8]),
  row('baritoneSax', 'Baritone saxophone', 'B. Sax.', 'woodwind', [36, 68], 'treble', true, [67], [-21, -12]),
  row('horn', 'Horn in F', 'Hn.', 'brass', [35, 77], 'treble', true, [60], [-7, -4]),
  row('trumpet', 'Trumpet in B♭', 'Tpt.', 'brass', [52, 84], 'treble', true, [56, 59], [-2, -1]),
  row('trombone', 'Trombone', 'Tbn.', 'brass', [40, 72], 'bass', true, [57]),
  row('tuba', 'Tuba', 'Tba.', 'brass', [28, 65], 'bass', true, [58]),
  row('timpani', 'Timpani', 'Timp.', 'percussion', [36, 60], 'bass', false, [47]),
  row(
    PERCUSSION_ID,
    'Percussion',
    'Perc.',
    'percussion',
    [0, 127],
    'percussion',
    false,
    [112, 113, 114, 115, 116, 117, 118],
  ),
  row('tambourine', 'Tambourine', 'Tamb.', 'percussion', [0, 127], 'percussion', false, []),
  row('glockenspiel', 'Glockenspiel', 'Glock.', 'mallet', [79, 108], 'treble', false, [9, 14], [24, 14]),
  row('xylophone', 'Xylophone', 'Xyl.', 'mallet', [65, 108], 'treble', false, [13], [12, 7]),
  row('vibraphone', 'Vibraphone', 'Vib.', 'mallet', [53, 89], 'treble', false, [11]),
  row('marimba', 'Marimba', 'Mar.', 'mallet', [36, 96], 'treble', false, [12]),
  row('celesta', 'Celesta', 'Cel.', 'keyboard', [60, 108], 'treble', false, [8, 10], [12, 7]),
  row('harp', 'Harp', 'Hp.', 'plucked', [23, 103], 'treble', false, [46]),
  row('piano', 'Piano', 'Pno.', 'keyboard', [21, 108], 'treble', false, [0, 1, 2, 3, 4, 5, 6, 7]),
  row('organ', 'Organ', 'Org.', 'keyboard', [24, 108], 'treble', false, [16, 17, 18, 19, 20, 21, 23]),
  row('harmonica', 'Harmonica', 'Harm.', 'woodwind', [48, 96], 'treble', false, [22]),
  row(
    'guitar',
    'Guitar',
    'Gtr.',
    'plucked',
    [40, 88],
    'treble8below',
    false,
    [24, 25, 26, 27, 28, 29, 30, 31],
    [-12, -7],
  ),
  row(
    'bassGuitar',
    'Bass guitar',
    'B. Gtr.',
    'plucked',
    [28, 67],
    'bass',
    true,
    [33, 34, 35, 36, 37, 38, 39],
    [-12, -7],
  ),
  row('voice', 'Voice', 'Vo.', 'voice', [40, 84], 'treble', false, [52, 53, 54]),
  row('violin', 'Violin', 'Vln.', 'strings', [55, 103], 'treble', false, [40, 110]),
  row('viola', 'Viola', 'Vla.', 'strings', [48, 91], 'alto', false, [41]),
  row('cello', 'Cello', 'Vc.', 'strings', [36, 84], 'bass', true, [42]),
  row('doubleBass', 'Double bass', 'Db.', 'strings', [28, 67], 'bass', true, [32, 43], [-12, -7]),
  row('strings', 'Strings', 'Str.', 'strings', [28, 103], 'treble', false, [44, 45, 48, 49, 50, 51]),
  row('other', 'Instrument', 'Inst.', 'other', [0, 127], 'treble', false, []),
];

const byId = new Map(INSTRUMENTS.map((instrument) => [instrument.id, instrument]));
const byProgram = new Map(INSTRUMENTS.flatMap((i) => i.programs.map((program) => [program, i] as const)));

/** MIDI channel of percussion, counted from 0 (General MIDI 1: channel 10). */
export const PERCUSSION_CHANNEL = 9;

/** The instrument with this id; the plain "Instrument" where it is unknown. */
export const instrumentById = (id: string): Instrument => byId.get(id) ?? (byId.get('other') as Instrument);

/** The instrument for the percussion channel. */
export const UNPITCHED: Instrument = byId.get(PERCUSSION_ID) as Instrument;

/** The instrument for a General MIDI program (0 to 127). */
export const instrumentForProgram = (program: number | null): Instrument =>
  (program !== null && byProgram.get(program)) || instrumentById('other');

/**
 * The instrument whose name stands in a track's name as whole words, one or several of them ("Clarinet 2", "Solo Cello",
 * "Horns"), longest match first; else undefined. A piece of a word is none: a hornpipe is no horn.
 */
export const instrumentForName = (name: string): Instrument | undefined => {
  const words = ` ${(name.toLowerCase().match(/[\p{L}\p{M}]+/gu) ?? []).join(' ')} `;
  return namesLongestFirst.find(([plain]) => words.includes(` ${plain} `) || words.includes(` ${plain}s `))?.[1];
};

const namesLongestFirst: readonly (readonly [string, Instrument])[] = INSTRUMENTS.filter((i) => i.id !== 'other')
  .map((i) => [i.name.toLowerCase().replace(/ in .*$/, ''), i] as const)
  .sort((a, b) => b[0].length - a[0].length);

/** True for parts written as unpitched percussion. */
export const isUnpitched = (instrument: Instrument): boolean => instrument.clef === 'percussion';

const TWO_STAVES = new Set(['piano', 'organ', 'celesta', 'harp', 'marimba', 'other']);

/** True for instruments that may be written on two staves; whether a part is depends on what it plays. */
export const mayHaveTwoStaves = (instrument: Instrument): boolean => TWO_STAVES.has(instrument.id);
