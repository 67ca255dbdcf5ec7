/**
 * Overrides: what a person corrected on the page, kept with the part. They are laid on when Written is made, so they
 * outlive another run of the plan. Each kind is one member of a versioned union; a new kind is added here, given its key,
 * and applied where its layer is made (`plan/applyOverrides.ts`, `notation/pitchReading.ts`, `notation`).
 */
import type { WrittenUnits } from '../time/units.js';
import type { NoteId } from './ids.js';

/** The version of the union below, as stored. */
export const OVERRIDES_VERSION = 1;

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
  | { readonly kind: 'soundOnly'; readonly noteId: NoteId };

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

/** A correction of one bar, numbered from 1. Kinds are added with the screens that make them. */
export type BarOverride = { readonly kind: 'systemBreak'; readonly bar: number };

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
      return `${override.kind}:${override.bar}`;
    case 'spelling':
    case 'voice':
    case 'staff':
    case 'writtenStart':
    case 'writtenEnd':
    case 'staccato':
    case 'soundOnly':
      return `${override.kind}:${override.noteId}`;
    default:
      return override satisfies never;
  }
};

/** No corrections. */
export const NO_OVERRIDES: Overrides = { version: OVERRIDES_VERSION, list: [] };
