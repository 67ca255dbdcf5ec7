/**
 * What the Desk and its worker say to each other: every request and every answer, in one place.
 *
 * Each request names the session (one opening of one arrangement) and the revision of the arrangement that it is about;
 * each answer names the session it belongs to and the revision it covers, which is never older than the request's. The
 * Desk keeps, part by part, the answer that covers the newest revision, and drops those of another session.
 *
 * A call rejects with {@link SessionOver} where the worker has moved on to another session, with {@link NotYet} where it
 * has not been told of the revision asked for, and with whatever went wrong in the computation; the Desk then shows a
 * failed state and can ask again.
 */

import type { BarsAsked } from '@crispfold/contract';
import type {
  Arrangement,
  BarMend,
  BarReadability,
  Edit,
  ExportAbout,
  ExportKind,
  Finding,
  FoundBeats,
  LineReport,
  ListedCorrection,
  MapWish,
  NoteId,
  PagePlaces,
  PageWish,
  Part,
  PartId,
  Plan,
  Result,
  Selection,
  Sentence,
  SentenceRun,
  StepChange,
  StepEdit,
  StepId,
  StepParameters,
  TimingOffsets,
  Written,
} from '@crispfold/core';
import type { PackedNotes, PackedPlayed } from './packedNotes.js';

/** One opening of one arrangement; no two in the life of a page are the same. */
export type Session = number;
/** Grows with each change of the arrangement within a session. */
export type Revision = number;

/** One picture of the page; 0 is none. */
export type PictureId = number;

/** What every answer carries. */
export interface Covered {
  readonly session: Session;
  readonly covers: Revision;
}

/** An arrangement but for its parts. */
export type Header = Omit<Arrangement, 'parts'>;

/** A part that changed. Its notes, events and corrections are left out where they are those of the last time: they are most of it. */
export type PartNews = Omit<Part, 'notes' | 'events'> &
  Partial<Pick<Part, 'events'>> & { readonly packed?: PackedPlayed; readonly overridesKept?: true };

/** How many notes one step of a plan touched; `place` is the step's in the plan's list. */
export interface StepCount {
  readonly step: StepId;
  readonly place: number;
  readonly count: number;
}

/** What the screens need of a part's Written layer; reasons are asked for note by note. */
export interface WrittenLayer {
  readonly partId: PartId;
  /** The revision from which it was made. */
  readonly covers: Revision;
  readonly notes: Written['notes'];
  /** One for each step that ran. */
  readonly touched: readonly StepCount[];
  /** Why this plan, where the part has none of its own. */
  readonly suggestion: string;
}

/** The layer on its way to the screens. */
export type PackedLayer = Omit<WrittenLayer, 'notes'> & { readonly packed: PackedNotes };

/** One step's change to one note; `vetoed` where the person told it to leave the note alone. */
export interface NoteReason {
  readonly step: StepId;
  readonly place: number;
  readonly change: StepChange;
  readonly vetoed: boolean;
}

/** A step with its parameters, as it is tried on a selection. */
export type TriedStep = {
  readonly [Id in StepId]: { readonly step: Id; readonly parameters: Partial<StepParameters[Id]> };
}[StepId];

/** A sentence, and what it is about. */
export interface SentenceAsked {
  readonly sentence: Pick<Sentence, 'name' | 'lines'>;
  readonly selection: Selection;
  readonly reach: readonly PartId[];
  readonly onlyShown: Selection | null;
}

/** What is to be taken away: all parts where none are named, all bars where none are. */
export interface ExportAsked {
  readonly partIds: readonly PartId[] | null;
  readonly bars: BarsAsked | null;
  readonly concertPitch: boolean;
  readonly order: 'own' | 'families';
}

/** What is asked and answered, by the name of the call. */
export interface Calls {
  /** Tells the arrangement as it stands; `parts` are those that changed since the last telling, `order` all ids. */
  tell: {
    readonly asks: { readonly header: Header; readonly parts: readonly PartNews[]; readonly order: readonly PartId[] };
    readonly answers: object;
  };
  /** The next Written layers that are new, those of `first` before others; `left` says how many are still to be made. */
  layers: {
    readonly asks: { readonly first: readonly PartId[] };
    readonly answers: { readonly layers: readonly PackedLayer[]; readonly left: number };
  };
  /** What the checks notice, for the parts where that is new since the last answer; null where a newer telling came. */
  findings: {
    readonly asks: object;
    readonly answers: {
      readonly parts: readonly { readonly partId: PartId; readonly findings: readonly Finding[] }[] | null;
    };
  };
  /**
   * Some bars (from 1) of some parts, engraved. `shown` is the picture that the screen has of them; the SVG is left out
   * where that would be the same, and where the arrangement changed before it could be made. With it comes what its staves
   * and heads stand for.
   */
  page: {
    readonly asks: {
      readonly partIds: readonly PartId[];
      readonly firstBar: number;
      readonly lastBar: number;
      readonly shown: PictureId;
    };
    readonly answers: {
      readonly picture: PictureId;
      readonly svg: string | null;
      readonly places: PagePlaces | null;
    };
  };
  /**
   * MusicXML of all bars of some parts, or of those up to `lastBar` (from 1), to be engraved page by page; and the bars
   * before which a player has time to turn.
   */
  score: {
    readonly asks: {
      readonly partIds: readonly PartId[];
      readonly lastBar: number | null;
      readonly concertPitch: boolean;
      readonly order: 'own' | 'families';
    };
    readonly answers: { readonly musicXml: string; readonly bars: number; readonly turns: readonly number[] };
  };
  /** What the plan did to one Played note, step by step, and what it would have done but for a veto. */
  reasons: {
    readonly asks: { readonly partId: PartId; readonly noteId: NoteId };
    readonly answers: { readonly reasons: readonly NoteReason[] };
  };
  /** The Edit that a wish about the page makes of selected notes; the problem in words where it cannot be. */
  correct: {
    readonly asks: { readonly selection: Selection; readonly wish: PageWish };
    readonly answers: { readonly made: Result<Edit> };
  };
  /** The Edit that changes key or meter from a bar on, by its number. */
  changeMap: {
    readonly asks: { readonly bar: number; readonly wish: MapWish };
    readonly answers: { readonly made: Result<Edit> };
  };
  /** All corrections of the page, part by part. */
  corrections: {
    readonly asks: object;
    readonly answers: {
      readonly parts: readonly { readonly partId: PartId; readonly list: readonly ListedCorrection[] }[];
    };
  };
  /** The Edit that a step would make of selected notes. */
  stepEdit: {
    readonly asks: { readonly selection: Selection; readonly tried: TriedStep };
    readonly answers: StepEdit;
  };
  /** How many of the selected notes some steps would touch, with the parameters of last time. */
  stepCounts: {
    readonly asks: { readonly selection: Selection; readonly tried: readonly TriedStep[] };
    readonly answers: { readonly counts: readonly (readonly [StepId, number])[] };
  };
  /** How many notes each line of a sentence would pick, and which the chosen line does. */
  sentenceCounts: {
    readonly asks: SentenceAsked & { readonly line: number };
    readonly answers: {
      readonly lines: readonly Omit<LineReport, 'picked'>[];
      readonly picked: Selection;
    };
  };
  /** What a sentence does, to be carried out or tried. */
  sentenceRun: { readonly asks: SentenceAsked; readonly answers: SentenceRun };
  /** Distances of starts from the grid, as played and as written, in milliseconds. */
  timing: {
    readonly asks: { readonly partId: PartId; readonly only: ReadonlySet<NoteId> | null };
    readonly answers: TimingOffsets;
  };
  /**
   * The beats of the take: of some parts (all for null), or of attacks in seconds from tick 0. A long take is searched a
   * piece at a time: `done` is the share so far, and to ask the same again goes on. At 1 the beats are there.
   */
  beats: {
    readonly asks: { readonly partIds: readonly PartId[] | null; readonly attacks: readonly number[] | null };
    readonly answers: { readonly done: number; readonly found: FoundBeats | null };
  };
  /** How much there is to read in each bar of a part, before and after its plan. */
  readability: {
    readonly asks: { readonly partId: PartId };
    readonly answers: { readonly bars: readonly BarReadability[] };
  };
  /** What would make hard bars of a part easier to read, bar by bar of those asked for; bars without a mend are left out. */
  barMends: {
    readonly asks: { readonly partId: PartId; readonly bars: readonly number[] };
    readonly answers: { readonly mends: readonly BarMend[] };
  };
  /** A part as another plan would write it: some bars (from 1) engraved, and how much there is to read. */
  planTried: {
    readonly asks: {
      readonly partId: PartId;
      readonly plan: Plan;
      readonly firstBar: number;
      readonly lastBar: number;
    };
    readonly answers: { readonly svg: string; readonly notes: number; readonly bars: readonly BarReadability[] };
  };
  /** One file to take away. */
  exportFile: {
    readonly asks: ExportAsked & { readonly kind: ExportKind };
    readonly answers: { readonly bytes: Uint8Array };
  };
  /** What a reader will find in the score that these wishes make. */
  exportAbout: { readonly asks: ExportAsked; readonly answers: { readonly about: ExportAbout } };
}

/** The name of a call. */
export type CallName = keyof Calls;
/** One request, of any call. */
export type DeskRequest<Name extends CallName = CallName> = {
  readonly [Key in Name]: {
    readonly session: Session;
    readonly revision: Revision;
    readonly call: Key;
    readonly asks: Calls[Key]['asks'];
  };
}[Name];
/** The answer to a call. */
export type AnswerTo<Name extends CallName> = Covered & Calls[Name]['answers'];

/** The worker as the screens see it: one door. */
export interface DeskWorker {
  ask<Name extends CallName>(request: DeskRequest<Name>): Promise<AnswerTo<Name>>;
  /** Has its code compiled ahead of the first request; ends with that. */
  warm(): Promise<void>;
  /** Opens the line on which pages go to be engraved, past the screen; says whether changes may be pretended meanwhile. */
  engraveOver(port: MessagePort, rehearses: boolean): void;
}

/** Thrown where a request belongs to a session that is over. Nobody waits for its answer any more. */
export class SessionOver extends Error {
  override readonly name = 'SessionOver';
}

/** Thrown where a request is about a revision that the worker has not been told of: a bug, or calls out of order. */
export class NotYet extends Error {
  override readonly name = 'NotYet';
}

/** True for a {@link SessionOver}, also one that came across from a worker, where classes are lost. */
export const isSessionOver = (error: unknown): boolean => error instanceof Error && error.name === 'SessionOver';
