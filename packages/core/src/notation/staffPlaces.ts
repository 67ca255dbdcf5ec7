/**
 * Where a staff needs another clef for a long passage, and where an octave line spares ledger lines (common practice; Gould,
 * Behind Bars, 2011). Read from the Written notes alone, so that an excerpt looks as the whole does.
 */
import type { Instrument } from '../instruments/instruments.js';
import type { NoteId } from '../model/arrangement.js';
import type { ClefName } from '../model/clefs.js';
import type { WrittenNote } from '../plan/written.js';
import { firstIndexAtOrAfter } from '../time/search.js';
import { WRITTEN_PPQ } from '../time/units.js';

/** A stretch of notes that stand an octave lower ("above", 8va) or higher ("below", 8vb) than they sound. */
export interface OctaveLine {
  readonly side: 'above' | 'below';
  readonly noteIds: ReadonlySet<NoteId>;
}

/** The step of a clef's lowest line; C0 is step 0. */
export const LOWEST_LINE: { readonly [clef in ClefName]: number } = {
  treble: 30,
  // Its players read it like the treble clef; the octave is the instrument's.
  treble8below: 30,
  alto: 24,
  tenor: 22,
  bass: 18,
  percussion: 30,
};
const TOP_LINE = 8;

/** Steps of the twelve pitches as they are usually spelled. */
const STEPS = [0, 0, 1, 2, 2, 3, 3, 4, 4, 5, 6, 6];
const stepOf = (pitch: number): number =>
  (Math.floor(pitch / 12) - 1) * 7 + (STEPS[((pitch % 12) + 12) % 12] as number);

/** Ledger lines of a step in a clef; above the staff positive, below negative. */
const ledgerLines = (step: number, clef: ClefName): number => {
  const above = step - LOWEST_LINE[clef] - TOP_LINE;
  const below = LOWEST_LINE[clef] - step;
  return above > 1 ? above >> 1 : below > 1 ? -(below >> 1) : 0;
};

/** Clefs that players of an instrument read besides their own (common practice: Adler, The Study of Orchestration, 2002). */
const ALSO_READ: { readonly [instrument: string]: readonly ClefName[] } = {
  bassoon: ['tenor'],
  trombone: ['tenor'],
  cello: ['tenor', 'treble'],
  doubleBass: ['tenor', 'treble'],
  viola: ['treble'],
  horn: ['bass'],
  piano: ['treble', 'bass'],
  organ: ['treble', 'bass'],
  harp: ['treble', 'bass'],
  celesta: ['treble', 'bass'],
  marimba: ['treble', 'bass'],
  strings: ['treble', 'bass'],
  other: ['treble', 'bass'],
};

/** What a change of clef costs a reader, in notes on the third ledger line (all weights here are judged). */
const CHANGE = 8;

/** How hard a note is to read for its ledger lines: the first two are read at sight. */
const effort = (lines: number): number => Math.max(0, Math.abs(lines) - 2);
/** Of two clefs that are read at sight, the one with fewer; of two with as few, the one that players meet first. */
const FEWER = 0.2;
const FURTHER = 0.2;

/** A note that a player's own clef has on the staff, or nearly, is missed there. */
const MISSED = 1;

/**
 * The clef of each bar of a staff: the instrument's own, but for passages so long and so far from it that a change is the
 * lesser evil. `starts` are where bars begin; `raised` is written minus sounding pitch in semitones.
 */
export const clefsOfBars = (
  instrument: Instrument,
  own: ClefName,
  notes: readonly WrittenNote[],
  starts: readonly number[],
  raised: number,
): readonly ClefName[] => {
  const read = [own, ...(ALSO_READ[instrument.id] ?? []).filter((clef) => clef !== own)];
  if (read.length === 1) return starts.map(() => own);
  /** Of each bar and clef: the least effort so far, and the clef before. */
  let costs: readonly number[] = read.map((_, which) => (which === 0 ? 0 : CHANGE));
  const before: number[][] = [];
  starts.forEach((start, bar) => {
    const from = firstIndexAtOrAfter(notes, start, onsetOf);
    const to = firstIndexAtOrAfter(notes, starts[bar + 1] ?? Number.POSITIVE_INFINITY, onsetOf);
    const efforts = read.map((clef, rank) => {
      let sum = 0;
      for (let index = from; index < to; index += 1) {
        const step = stepOf((notes[index] as WrittenNote).pitch + raised);
        const lines = ledgerLines(step, clef);
        sum += effort(lines) + FEWER * Math.abs(lines) + FURTHER * Math.max(0, rank - 1);
        if (clef !== own && Math.abs(ledgerLines(step, own)) <= 1) sum += MISSED;
      }
      return sum;
    });
    const least = costs.indexOf(Math.min(...costs));
    const changed = (costs[least] as number) + CHANGE;
    // As late as can be: a change stands right before the notes that want it.
    before.push(costs.map((cost, which) => (changed <= cost ? least : which)));
    costs = costs.map((cost, which) => Math.min(cost, changed) + (efforts[which] as number));
  });
  let which = costs.indexOf(Math.min(...costs));
  const clefs: ClefName[] = [];
  for (let bar = starts.length - 1; bar >= 0; bar -= 1) {
    clefs[bar] = read[which] as ClefName;
    which = before[bar]?.[which] as number;
  }
  return clefs;
};

const onsetOf = (note: WrittenNote): number => note.onset;

/** Whose players read octave lines; winds, brass and voices read their ledger lines (common practice). */
const readsOctaveLines = ({ family, id }: Instrument): boolean =>
  family === 'keyboard' || family === 'mallet' || id === 'harp' || id === 'violin' || id === 'other';

/** What an octave line costs a reader, as {@link CHANGE} does; what a note under it does that needs none; the fewest chords. */
const LINE = 8;
const NEEDLESS = 0.3;
const FEWEST = 3;
/** A line does not go on through a silence of so long. */
const SOON = 4 * WRITTEN_PPQ;
const OCTAVE = 7;

interface Moment {
  readonly at: number;
  readonly ids: NoteId[];
  readonly voices: Set<number>;
  lowest: number;
  highest: number;
}

/** Notes that begin together, in order. */
const momentsOf = (notes: readonly WrittenNote[], raised: number): Moment[] => {
  const moments: Moment[] = [];
  for (const { id, pitch, onset, voice } of notes) {
    const step = stepOf(pitch + raised);
    let last = moments[moments.length - 1];
    if (!last || last.at !== onset) {
      last = { at: onset, ids: [], voices: new Set(), lowest: step, highest: step };
      moments.push(last);
    }
    last.ids.push(id);
    last.voices.add(voice);
    last.lowest = Math.min(last.lowest, step);
    last.highest = Math.max(last.highest, step);
  }
  return moments;
};

/** The octave lines of a staff: `clefAt` says its clef at a place. Only where one voice has the staff. */
export const octaveLinesOf = (
  instrument: Instrument,
  notes: readonly WrittenNote[],
  clefAt: (at: number) => ClefName,
  raised: number,
): readonly OctaveLine[] => {
  if (!readsOctaveLines(instrument)) return [];
  const moments = momentsOf(notes, raised);
  return (['above', 'below'] as const).flatMap((side) =>
    stretchesUnder(moments, side, clefAt)
      .filter((stretch) => stretch.length >= FEWEST)
      .map((stretch) => ({ side, noteIds: new Set(stretch.flatMap(({ ids }) => ids)) })),
  );
};

/** The chords that are read with less effort an octave away, the line's own effort counted. */
const stretchesUnder = (
  moments: readonly Moment[],
  side: OctaveLine['side'],
  clefAt: (at: number) => ClefName,
): Moment[][] => {
  const moved = side === 'above' ? -OCTAVE : OCTAVE;
  let plain = 0;
  let under = LINE;
  /** Of each chord: whether the best way to have it plain, or under a line, has the one before it under one; and which. */
  const before: { readonly plain: boolean; readonly under: boolean; readonly begins: boolean }[] = [];
  moments.forEach(({ at, lowest, highest, voices }, index) => {
    const clef = clefAt(at);
    const effortAt = (by: number) =>
      Math.max(effort(ledgerLines(highest + by, clef)), effort(ledgerLines(lowest + by, clef)));
    const least = Math.min(plain, under);
    const late = index > 0 && at - (moments[index - 1] as Moment).at > SOON;
    const begins = late || least + LINE < under;
    before.push({ plain: under < plain, under: begins ? under < plain : true, begins });
    [plain, under] = [
      least + effortAt(0),
      voices.size > 1 || !fitsUnder(lowest, highest, moved, clef)
        ? Number.POSITIVE_INFINITY
        : (begins ? least + LINE : under) + effortAt(moved) + (effortAt(0) === 0 ? NEEDLESS : 0),
    ];
  });
  const stretches: Moment[][] = [];
  let inside = under < plain;
  let open = false;
  for (let index = moments.length - 1; index >= 0; index -= 1) {
    const from = before[index];
    if (inside) {
      if (!open) stretches.unshift([]);
      stretches[0]?.unshift(moments[index] as Moment);
      open = from?.begins === false;
    }
    inside = (inside ? from?.under : from?.plain) ?? false;
  }
  return stretches;
};

/** Moved by an octave, a chord stays on the staff or within a ledger line of it, on the side that it comes from too. */
const fitsUnder = (lowest: number, highest: number, moved: number, clef: ClefName): boolean =>
  moved < 0 ? ledgerLines(lowest + moved, clef) >= -1 : ledgerLines(highest + moved, clef) <= 1;
