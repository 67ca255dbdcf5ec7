/**
 * Sentences: Where conditions, do changes. Plain data that can be kept, shared and read aloud. A sentence has lines, done in
 * order, each seeing what the one before left. The conditions of a line are ways, of which one must be met (or); all
 * conditions of a way must be met (and); each may be turned round (not).
 */
import type { FindingKind } from '../findings/registry.js';
import type { PlanStep } from '../model/plan.js';
import type { Length } from '../time/noteLengths.js';

/** Where other notes are looked for: in the note's own part, or in all parts in reach. */
export type Among = 'part' | 'reach';

/** Pitches that become others, all at once: each note moves once. */
export type PitchList = readonly (readonly [from: number, to: number])[];

/** What can be set on each condition. */
export interface ConditionParameters {
  readonly velocity: { readonly from: number; readonly to: number };
  readonly shorter: { readonly than: Length };
  readonly longer: { readonly than: Length };
  readonly shorterThanSelected: { readonly [none: string]: never };
  readonly pitch: { readonly from: number; readonly to: number };
  /** 0 is C. */
  readonly pitchClass: { readonly pitchClass: number };
  readonly inKey: { readonly [none: string]: never };
  readonly bars: { readonly from: number; readonly to: number };
  readonly onBeat: { readonly within: Length };
  /** `grid` is a fraction of a whole note. */
  readonly offGrid: { readonly grid: number; readonly moreThan: Length };
  readonly chord: {
    readonly place: 'top' | 'bottom' | 'inner' | 'alone';
    readonly among: Among;
    /** Tones of the same pitch class count as well: the bass with its octave doubling. */
    readonly octaves: boolean;
  };
  readonly overlaps: { readonly among: Among };
  readonly neighbour: { readonly within: Length; readonly pitch: 'any' | 'same'; readonly among: Among };
  readonly sticksOut: { readonly way: 'louder' | 'softer'; readonly by: number };
  readonly part: { readonly name: string };
  readonly instrument: { readonly instrument: string };
  /** 1 to 16. */
  readonly channel: { readonly channel: number };
  readonly voice: { readonly voice: number };
  readonly hand: { readonly hand: 'right' | 'left' };
  readonly staff: { readonly staff: number };
  readonly finding: { readonly finding: FindingKind };
  readonly selected: { readonly [none: string]: never };
  readonly muted: { readonly [none: string]: never };
  readonly everyNth: { readonly n: number; readonly first: number; readonly of: 'all' | 'pitch' };
}

/** The name of a kind of condition. */
export type ConditionKind = keyof ConditionParameters;

/** One condition; `not` turns it round. */
export type Condition<Kind extends ConditionKind = ConditionKind> = {
  readonly [Key in Kind]: { readonly kind: Key; readonly not: boolean; readonly parameters: ConditionParameters[Key] };
}[Kind];

/** What can be set on each change. */
export interface ChangeParameters {
  readonly select: { readonly [none: string]: never };
  readonly addToSelection: { readonly [none: string]: never };
  readonly takeFromSelection: { readonly [none: string]: never };
  readonly showOnly: { readonly [none: string]: never };
  readonly delete: { readonly [none: string]: never };
  readonly mute: { readonly [none: string]: never };
  readonly sound: { readonly [none: string]: never };
  /** Strength in percent. */
  readonly ontoGrid: { readonly grid: number; readonly strength: number };
  readonly later: { readonly by: Length };
  readonly earlier: { readonly by: Length };
  readonly setLength: { readonly to: Length };
  readonly multiplyLength: { readonly factor: number };
  readonly lengthen: { readonly by: Length };
  readonly shorten: { readonly by: Length };
  readonly lengthAtLeast: { readonly length: Length };
  readonly lengthAtMost: { readonly length: Length };
  readonly setVelocity: { readonly to: number };
  readonly addVelocity: { readonly by: number };
  readonly multiplyVelocity: { readonly factor: number };
  readonly velocityAtLeast: { readonly velocity: number };
  readonly velocityAtMost: { readonly velocity: number };
  /** Percent of the way. */
  readonly nearerToNeighbours: { readonly share: number };
  readonly setPitch: { readonly to: number };
  readonly semitones: { readonly by: number };
  readonly keySteps: { readonly by: number };
  readonly pitchList: { readonly list: PitchList };
  readonly sendTo: { readonly name: string };
  readonly step: { readonly step: PlanStep };
}

/** The name of a kind of change. */
export type ChangeKind = keyof ChangeParameters;

/** One change. */
export type SentenceChange<Kind extends ChangeKind = ChangeKind> = {
  readonly [Key in Kind]: { readonly kind: Key; readonly parameters: ChangeParameters[Key] };
}[Kind];

/** One line: where one of the ways is met, the changes are made in order. */
export interface SentenceLine {
  readonly where: readonly (readonly Condition[])[];
  readonly do: readonly SentenceChange[];
}

/** The version of the stored form. */
export const SENTENCE_VERSION = 1;

/** A sentence under its name. */
export interface Sentence {
  readonly version: typeof SENTENCE_VERSION;
  readonly name: string;
  /** A letter or digit that carries it out, after the key of the list of sentences. */
  readonly key?: string | undefined;
  readonly lines: readonly SentenceLine[];
}

/** Lines of a sentence, ways of a line, conditions of a way and changes of a line, at most. */
export const MOST_OF_SENTENCE = 50;
/** Characters of a name, at most. */
export const LONGEST_SENTENCE_NAME = 60;
/** Sentences of a file, at most. */
export const MOST_SENTENCES = 500;
/** Pairs of a list of pitches: each pitch once. */
export const MOST_PITCHES = 128;

/** What a part of a sentence may hold: screens, files and their checks are made of these. */
export type SentenceField =
  | {
      readonly kind: 'number';
      readonly label: string;
      readonly min: number;
      readonly max: number;
      readonly unit?: string;
    }
  | {
      readonly kind: 'choice';
      readonly label: string;
      readonly choices: readonly { readonly value: string | number | boolean; readonly label: string }[];
    }
  | { readonly kind: 'length'; readonly label: string }
  /** A pitch from 0 to 127. */
  | { readonly kind: 'pitch'; readonly label: string }
  | { readonly kind: 'pitches'; readonly label: string }
  /** The name of a part. */
  | { readonly kind: 'part'; readonly label: string }
  /** A clean-up step with its parameters. */
  | { readonly kind: 'step'; readonly label: string };

/** How a kind is said: `{from}` stands for a field. */
export interface Wording<Parameters> {
  readonly words: string;
  readonly defaults: Parameters;
  readonly fields: { readonly [Key in keyof Parameters]: SentenceField };
}
