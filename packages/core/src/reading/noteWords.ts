/** Words for notes and times in reasons. */
import { instrumentById, isUnpitched } from '../instruments/instruments.js';
import { percussionSound } from '../instruments/percussionMap.js';
import type { Part } from '../model/arrangement.js';
import type { StepContext } from './context.js';

/** The ways of calling the twelve pitch classes, from C. In German style B is the English B flat, H the English B. */
export const NOTE_NAMES = {
  english: ['C', 'C♯', 'D', 'E♭', 'E', 'F', 'F♯', 'G', 'A♭', 'A', 'B♭', 'B'],
  german: ['C', 'Cis', 'D', 'Es', 'E', 'F', 'Fis', 'G', 'As', 'A', 'B', 'H'],
  solfège: ['Do', 'Do♯', 'Re', 'Mi♭', 'Mi', 'Fa', 'Fa♯', 'Sol', 'La♭', 'La', 'Si♭', 'Si'],
} as const;

/** How notes are called: the names, and the octave that middle C (60) is in. */
export interface Naming {
  readonly names: keyof typeof NOTE_NAMES;
  readonly middleC: 3 | 4 | 5;
}

/** Where nothing else is chosen: English names, 60 is C4 (scientific pitch notation). */
export const DEFAULT_NAMING: Naming = { names: 'english', middleC: 4 };

let naming = DEFAULT_NAMING;

/** Chooses how notes are called in this thread: once, before anything is named, for words that were made stay as they are. */
export const chooseNaming = (chosen: Naming): void => {
  naming = chosen;
};

/** How notes are called in this thread. */
export const chosenNaming = (): Naming => naming;

/** The twelve pitch classes by name, from C. */
export const pitchClassNames = (): readonly string[] => NOTE_NAMES[naming.names];

/** A pitch in words; 60 is C4, or as it was chosen. */
export const pitchName = (pitch: number): string =>
  `${pitchClassNames()[((pitch % 12) + 12) % 12]}${Math.floor(pitch / 12) - 5 + naming.middleC}`;

/** What a note is called in its part: its sound where it is percussion, else its pitch. */
export const noteName = (pitch: number, { instrument, percussion }: NamedIn): string =>
  isUnpitched(instrument) ? percussionSound(pitch, percussion).name : pitchName(pitch);

/** The same with its article: "a C4", "an F♯2", "an Open hi-hat". */
export const aNote = (pitch: number, context: NamedIn): string => {
  const name = noteName(pitch, context);
  const vowel = (isUnpitched(context.instrument) ? /^[AEIO]/ : /^([AEH]|F(?!a))/).test(name);
  return `${vowel ? 'an' : 'a'} ${name}`;
};

/** What a note of a part is called. */
export const noteNameOf = (
  { instrument, percussionMap = [] }: Pick<Part, 'instrument' | 'percussionMap'>,
  pitch: number,
): string => noteName(pitch, { instrument: instrumentById(instrument), percussion: percussionMap });

type NamedIn = Pick<StepContext, 'instrument' | 'percussion'>;

/** "1 note", "4 notes". */
export const countOfNotes = (count: number): string => `${count} ${count === 1 ? 'note' : 'notes'}`;

/** A length in ticks at a place, said in milliseconds. */
export const inMilliseconds = (lengthInTicks: number, tick: number, context: StepContext): string =>
  inWholeMilliseconds(Math.round(Math.abs(lengthInTicks) / context.tempoMap.ticksPerMillisecond(tick)));

const inWholeMilliseconds = (value: number): string => (value === 0 ? 'less than 1 ms' : `${value} ms`);
