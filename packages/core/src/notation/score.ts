/** The Score: what stands on the page, sign by sign, each knowing the notes it came from. */

import type { Instrument } from '../instruments/instruments.js';
import type { NoteValue } from '../meter/noteValues.js';
import type { Ratio } from '../meter/zones.js';
import type { NoteId, PartId } from '../model/arrangement.js';
import type { ClefName } from '../model/clefs.js';
import type { Dynamic, Mark } from '../model/noteSigns.js';
import type { PageMark } from '../model/overrides.js';
import type { Notehead, PercussionMap } from '../model/percussionMap.js';
import type { Swing } from '../model/swing.js';
import type { Spelling } from '../pitch/spelling.js';
import type { Staff } from '../reading/stepNote.js';
import type { Meter } from '../time/meterMap.js';
import type { TempoWords } from './tempoMarks.js';

/** A notehead. */
export interface ScoreNote {
  /** The Written note it shows, and every Played note behind it. */
  readonly noteId: NoteId;
  readonly sources: readonly NoteId[];
  readonly soundingPitch: number;
  /** As written for the player. */
  readonly spelling: Spelling;
  /** The accidental to draw, in semitones; null where the key or the bar already says it. */
  readonly accidental: number | null;
  /** Set where that accidental only reminds. */
  readonly courtesy?: true;
  /** Its shape, where a person chose one. */
  readonly head?: Notehead;
  readonly tiedFrom: boolean;
  readonly tiedTo: boolean;
  /** Counts the tied pieces of one note from 1. */
  readonly piece: number;
}

/** How a sign's beams go, level by level: level 1 joins eighths, 2 sixteenths. */
export type BeamState = 'begin' | 'continue' | 'end' | 'forward hook' | 'backward hook';

/** A neighbour of an ornament. */
export interface Neighbour {
  readonly side: 'above' | 'below';
  readonly spelling: Spelling;
  /** The accidental to draw at the sign, in semitones; null where the key or the bar already says it. */
  readonly accidental: number | null;
}

/** A chord (one head or more) or a rest. Start and length are written units from the bar's start. */
export interface ScoreEvent {
  /** A "gap" takes time and is not drawn: where a second voice has nothing to say. */
  readonly kind: 'chord' | 'rest' | 'gap';
  /** Staff from the top, and voice on it, both from 1. */
  readonly staff: Staff;
  readonly voice: number;
  /** Set where another voice sounds on the staff in this bar. */
  readonly stem: 'up' | 'down' | null;
  readonly start: number;
  readonly length: number;
  readonly value: NoteValue;
  readonly ratio: Ratio | null;
  readonly tuplet: 'start' | 'stop' | 'both' | null;
  readonly wholeBar: boolean;
  /** Low to high; empty for a rest. */
  readonly notes: readonly ScoreNote[];
  readonly staccato: boolean;
  /** Grace notes before it, one after another. */
  readonly graces?: readonly ScoreNote[];
  /** The neighbours that its ornament goes to, as they were played: what is no tone of the key is said at the sign. */
  readonly neighbours?: readonly Neighbour[];
  /** Set where an arpeggio sign stands before the chord. */
  readonly arpeggio?: true;
  /** Signs that a person put on it. */
  readonly marks?: readonly Mark[];
  readonly dynamic?: Dynamic;
  readonly words?: string;
  /** Slurs and hairpins that begin and end with it; a number tells those of a part apart that run at once. */
  readonly spans?: readonly SpanEdge[];
  /** Set on the first chord under an octave line, and on the last one. */
  readonly octaveBegins?: 'above' | 'below';
  readonly octaveEnds?: 'above' | 'below';
  readonly beams: readonly BeamState[];
}

/** One end of a slur, a glissando, a pedal line or a hairpin. */
export interface SpanEdge {
  readonly what: 'slur' | 'glissando' | 'pedal' | 'louder' | 'softer';
  readonly end: 'start' | 'stop';
  readonly number: number;
}

/** One bar of one part. */
export interface ScoreBar {
  readonly number: number;
  /** Written units from the start of the piece. */
  readonly start: number;
  readonly length: number;
  /** Voice after voice, staff after staff; each voice fills the bar. */
  readonly events: readonly ScoreEvent[];
  /** Where the pedal goes down and up, offsets from the bar's start. */
  readonly pedals: readonly { readonly offset: number; readonly type: 'start' | 'stop' }[];
  /** Where the bar begins to swing, what is written straight being played long and short; or is even again. */
  readonly swings: readonly (Swing | 'even')[];
  /** Signature as the player reads it. */
  readonly fifths: number;
  /** The clef of each staff, from the top. */
  readonly clefs: readonly ClefName[];
}

/** What all parts share in a bar. */
export interface BarSigns {
  readonly number: number;
  readonly meter: Meter;
  /** True where the meter must be shown again. */
  readonly newMeter: boolean;
  readonly newKey: boolean;
  /** Shorter than its meter: cut by a change within the bar, a pickup, or the last bar that completes it. */
  readonly short: boolean;
  readonly pickup: boolean;
  /** Where a person has a system or a page begin here. */
  readonly breaks?: 'system' | 'page';
  /** Marks that a person moved, to the right and up, in tenths of a staff's space. */
  readonly nudges?: { readonly [mark in PageMark]?: { readonly x: number; readonly y: number } };
  /** Tempi as they sound, offset in written units from the bar's start, and what the page says of each. */
  readonly tempos: readonly {
    readonly offset: number;
    readonly quartersPerMinute: number;
    readonly words: TempoWords;
  }[];
  readonly markers: readonly { readonly offset: number; readonly text: string }[];
}

/** One player's part. */
export interface ScorePart {
  readonly partId: PartId;
  readonly name: string;
  readonly abbreviation: string;
  readonly instrument: Instrument;
  readonly channel: number;
  readonly program: number | null;
  /** How its percussion sounds are written. */
  readonly percussion: PercussionMap;
  /** One for each staff, from the top. */
  readonly clefs: readonly ClefName[];
  readonly minor: boolean;
  /** Written minus sounding, as for the player; zero in a score in concert pitch. */
  readonly transposed: boolean;
  readonly bars: readonly ScoreBar[];
}

/** A score, or the bars of one that are on view. */
export interface Score {
  readonly title: string;
  readonly bars: readonly BarSigns[];
  readonly parts: readonly ScorePart[];
  /** True where bars of rest of a single part are written as one sign. */
  readonly longRests: boolean;
}
