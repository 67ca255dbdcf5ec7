/**
 * Pitch spelling by ps13s1 (Meredith, "The ps13 pitch spelling algorithm", Journal of New Music Research 35:2, 2006):
 * each pitch class near a note votes, as a tonic, for the letter the note would have in its scale.
 */

/** A spelled pitch: letter as steps above C (0 to 6), alteration in semitones, octave as in C4 = 60. */
export interface Spelling {
  readonly step: number;
  readonly alter: number;
  readonly octave: number;
}

/** Letters by step. */
export const STEP_NAMES = ['C', 'D', 'E', 'F', 'G', 'A', 'B'] as const;
const NATURALS = [0, 2, 4, 5, 7, 9, 11];

/** Letters above the tonic for each interval in semitones, and the first note's letter (above A), after Meredith; from memory. */
const LETTERS_ABOVE_TONIC = [0, 1, 1, 2, 2, 3, 3, 4, 5, 5, 6, 6];
const FIRST_LETTER = [0, 1, 1, 2, 2, 3, 4, 4, 5, 5, 6, 6];
const NOTES_BEFORE = 10;
const NOTES_AFTER = 42;

const modulo = (value: number, by: number): number => ((value % by) + by) % by;

/** Position on the line of fifths: C 0, G 1, F -1, F sharp 6. */
export const lineOfFifths = ({ step, alter }: Spelling): number => ([0, 2, 4, -1, 1, 3, 5][step] as number) + 7 * alter;

/** Letters by the order in which a signature raises them; lowered ones come the other way round. */
const SHARPED = [3, 0, 4, 1, 5, 2, 6];

/** By how many semitones a signature of so many fifths (-7 to 7) alters a letter (0 for C). */
export const alterInKey = (fifths: number, step: number): number => {
  const rank = SHARPED.indexOf(step);
  return fifths > rank ? 1 : -fifths > 6 - rank ? -1 : 0;
};

/** The spelling of a pitch (0 to 127) with a given letter; the octave is the one that brings it nearest. */
export const spellWithStep = (pitch: number, step: number): Spelling => {
  const natural = NATURALS[step] as number;
  const alter = modulo(pitch - natural + 6, 12) - 6;
  return { step, alter, octave: Math.floor((pitch - alter - natural) / 12) - 1 };
};

/** A spelling with the letter of the note beside it, and another pitch, is as far from the key as so many fifths more. */
const SAME_LETTER = 8;

/** The spelling of a pitch that lies nearest to a key, for a note that is not spelled with the others: beside one of them. */
export const spellInKey = (pitch: number, fifths: number, beside?: Spelling): Spelling => {
  const distance = (spelling: Spelling) =>
    Math.abs(lineOfFifths(spelling) - (fifths + 2)) +
    (beside?.step === spelling.step && beside.alter !== spelling.alter ? SAME_LETTER : 0);
  const all = STEP_NAMES.map((_, step) => spellWithStep(pitch, step)).filter(({ alter }) => Math.abs(alter) <= 1);
  return all.reduce((best, spelling) => (distance(spelling) < distance(best) ? spelling : best));
};

/** Sounding pitch of a spelling (C4 = 60). */
export const pitchOfSpelling = ({ step, alter, octave }: Spelling): number =>
  (octave + 1) * 12 + (NATURALS[step] as number) + alter;

/** How many notes before and after a note have a say in its spelling, itself among those after. */
export const SPELLING_REACH = { before: NOTES_BEFORE, after: NOTES_AFTER - 1 } as const;

/**
 * Spells notes given in order of onset. `fifths` is the key signature: where the whole lies a full turn of the circle of
 * fifths away from it (D flat for C sharp), all of it turns back.
 */
export const spellPitches = (pitches: readonly number[], fifths: number): Spelling[] =>
  spellStretch(pitches, pitches[0], 0, pitches.length, fifths).flatMap((spelling) => spelling ?? []);

/**
 * Spells the notes [from, to) of a stretch as they are spelled in the whole piece, where `pitches` holds
 * {@link SPELLING_REACH} about them as far as the piece does, and `first` is the first pitch of the piece. `fifths` is the key
 * signature, or tells it for a note by its index. Notes that `wanted` does not take are left out: their place is empty.
 */
export const spellStretch = (
  pitches: readonly number[],
  first: number | undefined,
  from: number,
  to: number,
  fifths: number | ((index: number) => number),
  wanted: (index: number) => boolean = () => true,
): (Spelling | undefined)[] => {
  if (first === undefined) return [];
  const chromas = pitches.map((pitch) => modulo(pitch - 9, 12));
  const firstChroma = modulo(first - 9, 12);
  const tonicLetters = Array.from({ length: 12 }, (_, tonic) =>
    modulo((FIRST_LETTER[firstChroma] as number) - (LETTERS_ABOVE_TONIC[modulo(firstChroma - tonic, 12)] as number), 7),
  );
  const counts = Array<number>(12).fill(0);
  const count = (index: number, by: number) => {
    const chroma = chromas[index];
    if (chroma !== undefined) counts[chroma] = (counts[chroma] as number) + by;
  };
  for (let index = from - NOTES_BEFORE; index < from + NOTES_AFTER; index += 1) count(index, 1);
  /** By the notes about it, as they are counted when it is its turn. */
  const spelledAt = (index: number): Spelling => {
    const pitch = pitches[index] as number;
    const chroma = chromas[index] as number;
    const votes = Array<number>(7).fill(0);
    for (let tonic = 0; tonic < 12; tonic += 1) {
      const letter =
        ((LETTERS_ABOVE_TONIC[modulo(chroma - tonic, 12)] as number) + (tonicLetters[tonic] as number)) % 7;
      votes[letter] = (votes[letter] as number) + (counts[tonic] as number);
    }
    const letter = votes.indexOf(Math.max(...votes));
    const here = typeof fifths === 'number' ? fifths : fifths(index);
    return turnedTowards(spellWithStep(pitch, (letter + 5) % 7), pitch, here);
  };
  const spelled: (Spelling | undefined)[] = [];
  for (let index = from; index < to; index += 1) {
    spelled.push(wanted(index) ? spelledAt(index) : undefined);
    count(index + NOTES_AFTER, 1);
    count(index - NOTES_BEFORE, -1);
  }
  return spelled;
};

/** Keeps a spelling within reach of the key: at most two sharps or flats, and not a full turn of fifths away. */
const turnedTowards = (spelling: Spelling, pitch: number, fifths: number): Spelling => {
  const distance = (s: Spelling) => Math.abs(lineOfFifths(s) - (fifths + 2));
  if (Math.abs(spelling.alter) <= 1 && distance(spelling) <= 7) return spelling;
  const others = [0, 1, 6]
    .map((turn) => spellWithStep(pitch, (spelling.step + turn) % 7))
    .filter((s) => Math.abs(s.alter) <= 2);
  return others.reduce((best, s) => (distance(s) < distance(best) ? s : best), spelling);
};

/** A spelling moved by an interval of `semitones` and `steps` of the staff (both signed). */
export const transposeSpelling = (spelling: Spelling, semitones: number, steps: number): Spelling => {
  const pitch = pitchOfSpelling(spelling) + semitones;
  return spellWithStep(pitch, modulo(spelling.step + steps, 7));
};

/** How many fifths an interval moves a key signature: up a tone is 2, up a fifth 1. */
export const fifthsOfInterval = (semitones: number, steps: number): number => 7 * semitones - 12 * steps;
