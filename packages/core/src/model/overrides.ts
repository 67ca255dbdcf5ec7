/**
 * Overrides: what a person corrected on the page, kept with the part. They are laid on when Written is made, so they
 * outlive another run of the plan. Each kind is one member of a versioned union; a new kind is added here, given its key,
 * and applied where its layer is made (`plan/applyOverrides.ts`, `notation/pitchReading.ts`, `notation`).
 */

import type { WrittenUnits } from '../time/units.js';
import type { ClefName } from './clefs.js';
import type { NoteId } from './ids.js';
import type { Dynamic, Mark, NoteSigns } from './noteSigns.js';
import type { Notehead } from './percussionMap.js';
import type { Swing } from './swing.js';

/** The version of the union below, as stored. */
export const OVERRIDES_VERSION = 1;

/** The longest words over a note. */
export const LONGEST_WORDS = 120;

/** What brings a way of playing about where it is heard: another program, a controller, or a key that commands it. */
export type WaySound =
  | { readonly by: 'program'; readonly program: number }
  /** The value it has, and the one it goes back to. */
  | { readonly by: 'controller'; readonly controller: number; readonly value: number; readonly rest: number }
  | { readonly by: 'key'; readonly pitch: number };

/** A correction of one Written note; `noteId` is its id, a made one where a step of the plan made the note. */
export type NoteOverride =
  /** Letter and accidental: `step` C to B, `alter` in semitones from -2 to 2. */
  | {
      readonly kind: 'spelling';
      readonly noteId: NoteId;
      readonly step: 'C' | 'D' | 'E' | 'F' | 'G' | 'A' | 'B';
      readonly alter: number;
    }
  /** Voice on its staff, 1 to 4. */
  | { readonly kind: 'voice'; readonly noteId: NoteId; readonly voice: number }
  | { readonly kind: 'staff'; readonly noteId: NoteId; readonly staff: 1 | 2 }
  /** Where it is written to begin and to end. */
  | { readonly kind: 'writtenStart'; readonly noteId: NoteId; readonly at: WrittenUnits }
  | { readonly kind: 'writtenEnd'; readonly noteId: NoteId; readonly at: WrittenUnits }
  | { readonly kind: 'staccato'; readonly noteId: NoteId; readonly on: boolean }
  /** Heard and not written. */
  | { readonly kind: 'soundOnly'; readonly noteId: NoteId }
  /** A sign on its chord. */
  | { readonly kind: 'mark'; readonly noteId: NoteId; readonly mark: Mark; readonly on: boolean }
  | { readonly kind: 'notehead'; readonly noteId: NoteId; readonly head: Notehead }
  | { readonly kind: 'stem'; readonly noteId: NoteId; readonly way: 'up' | 'down' }
  /** Beamed together with the chord before, or broken from it. */
  | { readonly kind: 'beam'; readonly noteId: NoteId; readonly joined: boolean }
  /** Tied to the next chord of its voice that has its pitch. */
  | { readonly kind: 'tie'; readonly noteId: NoteId }
  /**
   * A tuplet that holds this note, whatever the page would make of its places: `actual` notes in the time of `normal`, from a
   * place on and so long.
   */
  | {
      readonly kind: 'tuplet';
      readonly noteId: NoteId;
      readonly from: WrittenUnits;
      readonly length: WrittenUnits;
      readonly actual: number;
      readonly normal: number;
    }
  /** Written as a grace note of another. */
  | { readonly kind: 'grace'; readonly noteId: NoteId; readonly to: NoteId }
  /** From this note to another of the part. */
  | { readonly kind: 'slur'; readonly noteId: NoteId; readonly to: NoteId }
  | { readonly kind: 'glissando'; readonly noteId: NoteId; readonly to: NoteId }
  /** A pedal line from this note to the end of another; what is heard stays. */
  | { readonly kind: 'pedal'; readonly noteId: NoteId; readonly to: NoteId }
  | { readonly kind: 'hairpin'; readonly noteId: NoteId; readonly to: NoteId; readonly way: 'louder' | 'softer' }
  | { readonly kind: 'dynamic'; readonly noteId: NoteId; readonly dynamic: Dynamic }
  | { readonly kind: 'words'; readonly noteId: NoteId; readonly text: string }
  /** A way of playing, from this note to another: its word over the first, the word that ends it over what follows. */
  | {
      readonly kind: 'way';
      readonly noteId: NoteId;
      readonly to: NoteId;
      readonly word: string;
      /** Empty where nothing is said at its end. */
      readonly back: string;
      /** What brings it about in sound; left out where nothing does. */
      readonly sound?: WaySound;
    }
  /** Its place, length, voice and staff on the page are held by other corrections while its playing is shaped; its signs here. */
  | { readonly kind: 'held'; readonly noteId: NoteId; readonly signs?: NoteSigns };

/** A note that is written and not heard; `id` is a note id of its own. */
export interface PageOnlyNote {
  readonly kind: 'pageOnly';
  readonly id: NoteId;
  readonly pitch: number;
  readonly onset: WrittenUnits;
  readonly duration: WrittenUnits;
  readonly voice: number;
  readonly staff: 1 | 2;
}

/** Marks over the score that can be moved by hand: the tempo's, rehearsal marks, the bar's number. */
export const PAGE_MARKS = ['tempo', 'rehearsal', 'number'] as const;
/** One of them. */
export type PageMark = (typeof PAGE_MARKS)[number];
/** So far a mark can be moved, in tenths of the space between two staff lines. */
export const FURTHEST_NUDGE = 200;

/** A correction of one bar, by its number (0 is a pickup). */
export type BarOverride =
  | { readonly kind: 'systemBreak'; readonly bar: number }
  | { readonly kind: 'pageBreak'; readonly bar: number }
  /** From this bar on pairs are played long and short, or are even again; in place of what the plan says there. */
  | { readonly kind: 'swing'; readonly bar: number; readonly swing: Swing | 'even' }
  /** A kind of mark of this bar moved to the right and up, in tenths of the space between two staff lines. */
  | { readonly kind: 'nudge'; readonly bar: number; readonly mark: PageMark; readonly x: number; readonly y: number }
  /** The clef of a staff from this bar on, until another one is set. */
  | { readonly kind: 'clef'; readonly bar: number; readonly staff: 1 | 2; readonly clef: ClefName };

/** True for a correction of a bar. */
export const isBarOverride = (override: Override): override is BarOverride => 'bar' in override;

/** One correction. */
export type Override = NoteOverride | PageOnlyNote | BarOverride;

/** All corrections of a part, at most one for each key. */
export interface Overrides {
  readonly version: typeof OVERRIDES_VERSION;
  readonly list: readonly Override[];
}

/** What two overrides share where one takes the other's place. */
export const overrideKey = (override: Override): string => {
  switch (override.kind) {
    case 'pageOnly':
      return `${override.kind}:${override.id}`;
    case 'systemBreak':
    case 'pageBreak':
    case 'swing':
      return `${override.kind}:${override.bar}`;
    case 'nudge':
      return `${override.kind}:${override.bar}:${override.mark}`;
    case 'clef':
      return `${override.kind}:${override.bar}:${override.staff}`;
    case 'mark':
      return `${override.kind}:${override.noteId}:${override.mark}`;
    case 'spelling':
    case 'voice':
    case 'staff':
    case 'writtenStart':
    case 'writtenEnd':
    case 'staccato':
    case 'soundOnly':
    case 'notehead':
    case 'stem':
    case 'beam':
    case 'tie':
    case 'tuplet':
    case 'grace':
    case 'slur':
    case 'glissando':
    case 'pedal':
    case 'hairpin':
    case 'dynamic':
    case 'words':
    case 'way':
    case 'held':
      return `${override.kind}:${override.noteId}`;
    default:
      return override satisfies never;
  }
};

/** No corrections. */
export const NO_OVERRIDES: Overrides = { version: OVERRIDES_VERSION, list: [] };
