/** What can be set on each step: one record type a step, so that plans, mends and forms are checked by the compiler. */
import type { Length } from '../time/noteLengths.js';
import type { KeptFeel } from './keptFeel.js';

/** A grid: found beat by beat, or a note value as a fraction of a whole note (1/8 triplet is 1/12). */
export type Grid = 'auto' | number;

/** Which value all get. "typed" is the one beside it. */
export type Matched = 'first' | 'longest' | 'shortest' | 'median' | 'typed';

/** Parameters of De-duplicate. */
export interface DeDuplicateParameters {
  /** Starts no further apart than the shortest of these are doubles. */
  readonly windows: readonly Length[];
  /** A hidden note is a double where it is shorter than this share of the note that covers it… */
  readonly hiddenShare: number;
  /** …and shorter than this. */
  readonly hiddenShorterThan: Length;
  /** Also takes out notes that a part above has at the same time. */
  readonly acrossParts: boolean;
}

/** Parameters of Sustain to durations. */
export interface SustainParameters {
  /**
   * What ends a held note, besides the pedal and a new strike of its pitch. "voice" keeps the keys' own lengths and lets
   * Settle lengths fill the way to the next note of the voice: the pedal is sound, the fingers are the rhythm.
   */
  readonly limit: 'pedalUp' | 'nextAttack' | 'nextHarmony' | 'voice';
  /** The page shows the pedal as a line; on a selection it stays in Played. */
  readonly keepPedal: boolean;
}

/** Parameters of Read ornaments: what is looked for. */
export interface ReadOrnamentsParameters {
  /** Grace notes, and flams of percussion. */
  readonly graces: boolean;
  /** Trills, mordents and turns. */
  readonly ornaments: boolean;
  readonly tremolo: boolean;
}

/** Parameters of Read dynamics: what is written. */
export interface ReadDynamicsParameters {
  readonly levels: boolean;
  /** Where levels are written: swells between them. */
  readonly hairpins: boolean;
  readonly accents: boolean;
}

/** Parameters of Drop specks. */
export interface DropSpecksParameters {
  /** Shorter than the shortest of these. */
  readonly shorterThan: readonly Length[];
  /** And softer than this velocity; null judges by length alone. */
  readonly softerThan: number | null;
  /** Where more than this share of the notes is so short (percent), short is how the part is played: all stay. */
  readonly unlessMoreThan: number | null;
}

/** Parameters of Merge. */
export interface MergeParameters {
  /** Join notes that touch, or whose gap is no wider than this; null joins only notes that overlap. */
  readonly gap: Length | null;
  readonly velocity: 'first' | 'loudest';
  /**
   * Notes that overlap: "join" makes one of them all; "judge" joins a note and its double, and ends the first where its key is
   * struck again. Plans from before there was a choice join.
   */
  readonly overlaps?: 'join' | 'judge';
}

/** Parameters of Gather chords. */
export interface GatherParameters {
  /** From the first to the last start of a chord, at most. */
  readonly window: Length;
  readonly to: 'earliest' | 'middle' | 'loudest';
}

/** Parameters of Pull in the start. */
export interface PullInStartParameters {
  /** Starts this near before a bar line are pulled in. */
  readonly within: Length;
  /** After a silence of at least this. */
  readonly silence: Length;
}

/** Parameters of Quantize starts. */
export interface QuantizeStartsParameters {
  readonly grid: Grid;
  /** 0 to 100 %: how far of the way a start moves. */
  readonly strength: number;
  /** 50 to 75 %: where the second of two grid points lies; 50 is straight. Given grids only. */
  readonly swing: number;
  /** Starts no further off than this stay; null moves all. */
  readonly leaveAloneWithin: Length | null;
  /** Starts further off than this stay; null sets no limit. */
  readonly moveAtMost: Length | null;
  /**
   * How swung pairs are written: straight under a swing mark where they are played so, the same where they are drawn as
   * triplets too, or as triplets. Auto only.
   */
  readonly swung: 'asPlayed' | 'straight' | 'triplets';
  /** An unsteady hand is read by where the other parts begin as well. Auto only. */
  readonly hears: boolean;
  /** "keep": the length stays. "end": the end stays where it is. "both": the end goes to the grid too (a sixteenth on auto). */
  readonly lengths: 'keep' | 'end' | 'both';
}

/** Parameters of Quantize ends. */
export interface QuantizeEndsParameters {
  /** A note value as a fraction of a whole note. */
  readonly grid: number;
  /** 0 to 100 %: how far of the way an end moves. */
  readonly strength: number;
}

/** Parameters of Separate voices. */
export interface SeparateVoicesParameters {
  /** Voices on one staff, 1 to 4; one-note instruments have one. */
  readonly atMost: number;
  /** "auto": two staves where two hands are heard; "one": a single staff. */
  readonly hands: 'auto' | 'one';
}

/** Parameters of Trim overlaps. */
export interface TrimParameters {
  readonly against: 'samePitch' | 'anyPitch' | 'nextChord';
  /** Ticks to leave between the end and the next start. */
  readonly leave: number;
}

/** Parameters of Close gaps. */
export interface CloseGapsParameters {
  /** Gaps up to this are closed; longer ones are rests. */
  readonly upTo: Length;
  /** "note": the next start after the note's end. "chord": the next start after the note's own. */
  readonly to: 'note' | 'chord';
}

/** Parameters of Settle lengths. */
export interface SettleParameters {
  /** A chord that fills this share of the way to the next start may last until it (percent). */
  readonly fills: number;
  /** Write short notes as plain values with a dot over them. */
  readonly staccato: boolean;
  /** Mark notes that are held out where those about them are not. */
  readonly tenuto: boolean;
}

/** Parameters of Even chord ends. */
export interface EvenChordEndsParameters {
  readonly to: 'longest' | 'median' | 'lowest';
  /** Starts this near are one chord. */
  readonly window: Length;
}

/** Parameters of Shortest duration. */
export interface ShortestDurationParameters {
  readonly atLeast: Length;
  readonly action: 'lengthen' | 'remove';
  /** What lengthening stops at: the next start of its pitch, or any next start (as the page needs it). */
  readonly stopAt: 'samePitch' | 'anyPitch';
}

/** Parameters of Match lengths. */
export interface MatchLengthsParameters {
  readonly value: Matched;
  readonly typed: Length | null;
}

/** Parameters of Match velocity. */
export interface MatchVelocityParameters {
  readonly value: 'first' | 'loudest' | 'softest' | 'median' | 'typed';
  readonly typed: number;
}

/** Parameters of Velocity range. */
export interface VelocityRangeParameters {
  readonly floor: number;
  readonly ceiling: number;
}

/** Parameters of Velocity scale, applied in this order. */
export interface VelocityScaleParameters {
  /** Multiplies; 1 leaves as it is. */
  readonly factor: number;
  /** Adds. */
  readonly amount: number;
  /** Distance from the median, in percent; 100 leaves as it is. */
  readonly squeeze: number;
  /** Added at the end of the selection, and taken away at its start. */
  readonly tilt: number;
  /** Random change, up or down, at most. */
  readonly vary: number;
  readonly seed: number;
}

/** Parameters of Humanize. */
export interface HumanizeParameters {
  /** Standard deviation of starts, in milliseconds. */
  readonly timing: number;
  /** Late (positive) or early throughout, in milliseconds. */
  readonly lean: number;
  /** Standard deviation of velocity. */
  readonly velocity: number;
  readonly seed: number;
}

/** Parameters of Follow. */
export interface FollowParameters {
  /** The part to follow; 0 is none. */
  readonly part: number;
  /** Its starts, one by one, or how it is played at each place in the bar. Plans from before there was a choice take starts. */
  readonly takes?: 'starts' | 'feel';
  /** A feel that was kept, taken instead of the part's; null where it is the part's. */
  readonly kept?: KeptFeel | null;
  /** Only where the leader's start, or where its feel has the note, is this near. */
  readonly window: Length;
  /** 0 to 100 %: how far of the way a start moves. */
  readonly strength: number;
}

/** Parameters of Transpose. */
export interface TransposeParameters {
  readonly semitones: number;
  readonly octaves: number;
  /** Steps of the key; applied first. */
  readonly steps: number;
}

/** Parameters of Split evenly. */
export interface SplitParameters {
  /** Length of each repeat. */
  readonly value: Length;
  /** Cut once only, this far from the start. */
  readonly once: boolean;
}

/** Parameters of Every n-th. */
export interface EveryNthParameters {
  readonly n: number;
  /** Which of each n is meant, from 1. */
  readonly offset: number;
  /** "pick" changes nothing: the notes become the selection. */
  readonly action: 'keep' | 'drop' | 'pick';
}

/** Parameters of Stretch. */
export interface StretchParameters {
  /** New length over old, in percent: 200 is double. */
  readonly ratio: number;
  /** The point that stays where it is. */
  readonly about: 'start' | 'middle' | 'end';
  /** What the part plays after the notes. */
  readonly after: 'stays' | 'moves';
}

/** The parameters of every step, by the step's name in plans and files. */
export interface StepParameters {
  readonly deDuplicate: DeDuplicateParameters;
  readonly readOrnaments: ReadOrnamentsParameters;
  readonly readDynamics: ReadDynamicsParameters;
  readonly sustainToDurations: SustainParameters;
  readonly dropSpecks: DropSpecksParameters;
  readonly merge: MergeParameters;
  readonly gatherChords: GatherParameters;
  readonly pullInStart: PullInStartParameters;
  readonly quantizeStarts: QuantizeStartsParameters;
  readonly quantizeEnds: QuantizeEndsParameters;
  readonly separateVoices: SeparateVoicesParameters;
  readonly trimOverlaps: TrimParameters;
  readonly closeGaps: CloseGapsParameters;
  readonly settleLengths: SettleParameters;
  readonly evenChordEnds: EvenChordEndsParameters;
  readonly shortestDuration: ShortestDurationParameters;
  readonly matchLengths: MatchLengthsParameters;
  readonly matchVelocity: MatchVelocityParameters;
  readonly velocityRange: VelocityRangeParameters;
  readonly velocityScale: VelocityScaleParameters;
  readonly humanize: HumanizeParameters;
  readonly follow: FollowParameters;
  readonly transpose: TransposeParameters;
  readonly splitEvenly: SplitParameters;
  readonly everyNth: EveryNthParameters;
  readonly stretch: StretchParameters;
}

/** The name of a step in plans and files. */
export type StepId = keyof StepParameters;

/** Steps that say something of the page alone: they stand in plans, and are not run on a selection. */
export type PageStepId = 'readOrnaments' | 'readDynamics';
/** Steps that can be run on a selection. */
export type SelectionStepId = Exclude<StepId, PageStepId>;
