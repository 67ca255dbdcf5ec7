/** What a person points at on an engraved page: which place and which pitch a point on a staff stands for. */
import { isUnpitched } from '../instruments/instruments.js';
import { hasPlace, percussionSound } from '../instruments/percussionMap.js';
import type { PartId } from '../model/arrangement.js';
import type { PercussionMap } from '../model/percussionMap.js';
import type { Score, ScoreBar, ScorePart } from '../notation/score.js';
import { LOWEST_LINE } from '../notation/staffPlaces.js';
import { alterInKey, pitchOfSpelling, STEP_NAMES } from '../pitch/spelling.js';
import type { Staff } from '../reading/stepNote.js';
import { noteheadId } from './writeMusicXml.js';

/** One bar of a staff as it is engraved. */
export interface PageBar {
  readonly number: number;
  /** Written units from the start of the piece, the end not included. */
  readonly start: number;
  readonly end: number;
  /** The step of the staff's lowest line, C0 being 0, as the clef says. */
  readonly lowestLine: number;
  /** Signature as the player reads it. */
  readonly fifths: number;
  /** Where notes sound an octave above or below what they are written as: under an octave line. */
  readonly octaves: readonly { readonly from: number; readonly to: number; readonly by: 1 | -1 }[];
}

/** A staff of the picture, in the order in which they stand from its top. */
export interface PageStaff {
  readonly partId: PartId;
  readonly staff: Staff;
  /** Semitones from what is written to what sounds. */
  readonly sounds: number;
  /** Set for a staff of unpitched sounds. */
  readonly percussion: PercussionMap | null;
  readonly bars: readonly PageBar[];
}

/** The staves of a picture, and where each head in it begins: its id and its place in written units. */
export interface PagePlaces {
  readonly staves: readonly PageStaff[];
  readonly heads: readonly (readonly [id: string, at: number])[];
}

const octavesOf = (bars: readonly ScoreBar[], staff: Staff): PageBar['octaves'][] => {
  let open: 'above' | 'below' | null = null;
  return bars.map(({ start, length, events }) => {
    const spans: { from: number; to: number; by: 1 | -1 }[] = [];
    let from = start;
    const close = (to: number) => {
      if (open && to > from) spans.push({ from, to, by: open === 'above' ? 1 : -1 });
    };
    for (const event of events) {
      if (event.staff !== staff) continue;
      if (event.octaveBegins) [open, from] = [event.octaveBegins, start + event.start];
      if (event.octaveEnds) {
        close(start + event.start + event.length);
        open = null;
      }
    }
    close(start + length);
    return spans;
  });
};

const stavesOf = (part: ScorePart): PageStaff[] =>
  part.clefs.map((_, index) => {
    const staff = (index + 1) as Staff;
    const octaves = octavesOf(part.bars, staff);
    return {
      partId: part.partId,
      staff,
      sounds: part.transposed ? part.instrument.transposeSemitones : 0,
      percussion: isUnpitched(part.instrument) ? part.percussion : null,
      bars: part.bars.map((bar, at) => ({
        number: bar.number,
        start: bar.start,
        end: bar.start + bar.length,
        lowestLine: LOWEST_LINE[bar.clefs[index] ?? 'treble'],
        fifths: bar.fifths,
        octaves: octaves[at] ?? [],
      })),
    };
  });

/** The places of a Score's picture. */
export const pagePlaces = ({ parts }: Score): PagePlaces => ({
  staves: parts.flatMap(stavesOf),
  heads: parts.flatMap(({ bars }) =>
    bars.flatMap((bar) =>
      bar.events.flatMap(({ start, notes }) =>
        notes.map((note) => [noteheadId(note, bar.number), bar.start + start] as const),
      ),
    ),
  ),
});

/** Sounds that a General MIDI file may name, by key. */
const PERCUSSION_KEYS = Array.from({ length: 128 }, (_, key) => key);

/**
 * The pitch that sounds where a person points: `step` counts lines and spaces from the lowest line, `at` is the place in
 * written units. On a percussion staff it is the sound that stands there, one of those `used` before any other; null where
 * none does, or where the pitch leaves what MIDI has.
 */
export const pitchPointedAt = (
  staff: PageStaff,
  bar: PageBar,
  step: number,
  at: number,
  used: ReadonlySet<number>,
): number | null => {
  const line = bar.lowestLine + step;
  const [letter, octave] = [((line % 7) + 7) % 7, Math.floor(line / 7)];
  if (staff.percussion) {
    const map = staff.percussion;
    const there = PERCUSSION_KEYS.filter((key) => {
      const sound = percussionSound(key, map);
      return hasPlace(key, map) && sound.step === STEP_NAMES[letter] && sound.octave === octave;
    });
    return there.find((key) => used.has(key)) ?? there[0] ?? null;
  }
  const by = bar.octaves.find(({ from, to }) => at >= from && at < to)?.by ?? 0;
  const written = pitchOfSpelling({ step: letter, alter: alterInKey(bar.fifths, letter), octave });
  const pitch = written + staff.sounds + 12 * by;
  return pitch >= 0 && pitch <= 127 ? pitch : null;
};
