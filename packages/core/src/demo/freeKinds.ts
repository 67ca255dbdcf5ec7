/** Takes that followed no click, or another than their file says: by which the tempo from the take is measured. */
import { followBeats } from '../edits/followBeats.js';
import type { Arrangement, Part } from '../model/arrangement.js';
import { applyEdit } from '../model/edit.js';
import { planOf } from '../plan/readyPlans.js';
import { runPlan } from '../plan/runPlan.js';
import { writtenMaps } from '../plan/writtenMaps.js';
import { findBeats } from '../reading/beats/findBeats.js';
import { WRITTEN_PPQ, type WrittenUnits } from '../time/units.js';
import { type Accuracy, accuracyOf } from './accuracy.js';
import type { ComposedNote, ComposedPart, ComposedScore } from './composed.js';
import { atOwnTempo, type Bend, freely, slowsAtEnd, steady } from './freeTempo.js';
import { type LineRecipe, madeLine } from './madeKinds.js';
import { type MadeStyle, madeScore } from './madeScore.js';
import { type Performance, perform } from './performer.js';
import { MELODIES } from './remembered/melodies.js';
import { asComposed, padded, rememberedScore } from './remembered/rememberedScore.js';

/** A take with what was composed, part by part. */
export interface FreeSample {
  readonly title: string;
  readonly composed: readonly (readonly ComposedNote[])[];
  readonly arrangement: Arrangement;
}

/** One row of the report. */
export interface FreeKind {
  readonly name: string;
  /** Note F1, exact durations, exact bars that are aimed at. */
  readonly asked: readonly [number, number, number];
  readonly sample: (seed: number, index: number) => FreeSample;
  /** True where the file's tempo is the one played. */
  readonly onClick?: true;
}

const PPQ = 480;
const FLUTE = { name: 'Flute', instrument: 'flute', channel: 0, program: 73 };

const HAND: Omit<Performance, 'seed'> = { ppq: PPQ, spread: 15, lengths: [0.78, 1.05], doubles: 0.04, specks: 0.02 };
const third = 1 / 3;
const CELLS: readonly LineRecipe['cells'][] = [
  [[1], [0.5, 0.5], [2], [1.5, 0.5], [0.5, 0.25, 0.25], [-1]],
  [[1], [0.5, 0.5], [0.25, 0.25, 0.25, 0.25], [1.5, 0.5], [0.75, 0.25], [2]],
  [[2], [1], [4], [1.5, 0.5], [0.5, 0.5]],
  [[1], [third, third, third], [0.5, 0.5], [2], [1.5, 0.5]],
];
const METERS = [
  { numerator: 4, denominator: 4 },
  { numerator: 3, denominator: 4 },
];

/** One line: a made one, or a melody from memory. */
const lineScore = (seed: number, index: number, tempo: number): ComposedScore => {
  if (index % 2 === 0) {
    const tune = rememberedScore(MELODIES[(index / 2) % MELODIES.length] as (typeof MELODIES)[number]);
    const score = asComposed(tune, FLUTE, tempo);
    return { ...score, parts: score.parts.map((part) => ({ ...part, notes: padded(tune) })) };
  }
  const meter = METERS[(index >> 1) % 2] as (typeof METERS)[number];
  const cells = CELLS[(index >> 1) % CELLS.length] as LineRecipe['cells'];
  return madeLine(
    { meter, bars: 24, cells, repeats: 0.15, quartersPerMinute: tempo, player: FLUTE },
    seed * 1000 + index,
  );
};

const PLAYERS: readonly Pick<ComposedPart, 'name' | 'instrument' | 'channel' | 'program'>[] = [
  FLUTE,
  { name: 'Oboe', instrument: 'oboe', channel: 1, program: 68 },
  { name: 'Violin', instrument: 'violin', channel: 2, program: 40 },
  { name: 'Cello', instrument: 'cello', channel: 3, program: 42 },
];

/** Four lines of different motion, together. */
const ensembleScore = (seed: number, index: number, tempo: number): ComposedScore => {
  const meter = METERS[index % 2] as (typeof METERS)[number];
  const made = PLAYERS.map((player, part) =>
    madeLine(
      {
        meter,
        bars: 24,
        cells: CELLS[(index + part) % CELLS.length] as LineRecipe['cells'],
        repeats: 0.15,
        quartersPerMinute: tempo,
        player,
      },
      seed * 1000 + index * 7 + part,
    ),
  );
  return { ...(made[0] as ComposedScore), parts: made.flatMap(({ parts }) => parts) };
};

const COMPOUND_CELLS: readonly LineRecipe['cells'][] = [
  [[1.5], [0.5, 0.5, 0.5], [1, 0.5], [3]],
  [[1.5], [0.5, 0.5, 0.5], [1, 0.5], [0.75, 0.25, 0.5], [0.5, 0.25, 0.25, 0.5]],
];
/** Bars of one meter after another; an eighth stays as long as it was. */
const CHANGES: readonly (readonly (readonly [meter: LineRecipe['meter'], bars: number])[])[] = [
  [
    [{ numerator: 4, denominator: 4 }, 8],
    [{ numerator: 6, denominator: 8 }, 10],
    [{ numerator: 4, denominator: 4 }, 6],
  ],
  [
    [{ numerator: 6, denominator: 8 }, 12],
    [{ numerator: 3, denominator: 4 }, 12],
  ],
  [
    [{ numerator: 4, denominator: 4 }, 7],
    [{ numerator: 2, denominator: 4 }, 1],
    [{ numerator: 4, denominator: 4 }, 8],
    [{ numerator: 3, denominator: 4 }, 8],
  ],
];

/** Four lines together whose meter changes. */
const changingScore = (seed: number, index: number, tempo: number): ComposedScore => {
  const meters: ComposedScore['meters'][number][] = [];
  const notes = PLAYERS.map((): ComposedNote[] => []);
  let from = 0;
  for (const [place, [meter, bars]] of (CHANGES[index % CHANGES.length] as (typeof CHANGES)[number]).entries()) {
    meters.push({ ...meter, tick: from as WrittenUnits });
    PLAYERS.forEach((player, part) => {
      const all = meter.denominator === 8 ? COMPOUND_CELLS : CELLS;
      const cells = all[(index + part + place) % all.length] as LineRecipe['cells'];
      const own = madeLine(
        { meter, bars, cells, repeats: 0.15, quartersPerMinute: tempo, player },
        seed * 1000 + index * 7 + part + place * 97,
      );
      for (const note of own.parts[0]?.notes ?? [])
        notes[part]?.push({ ...note, onset: (note.onset + from) as WrittenUnits });
    });
    from += (bars * meter.numerator * 4 * WRITTEN_PPQ) / meter.denominator;
  }
  const parts = PLAYERS.map((player, part): ComposedPart => ({ ...player, notes: notes[part] ?? [], pedal: 'none' }));
  return {
    title: 'Made, the meter changes',
    meters,
    tempos: [{ tick: 0 as WrittenUnits, quartersPerMinute: tempo }],
    markers: [],
    keys: [],
    parts,
  };
};

const STYLES: readonly MadeStyle[] = ['plain', 'eighths', 'sixteenths', 'mixed'];
const keyboardScore = (seed: number, index: number, tempo: number): ComposedScore =>
  madeScore({
    seed: seed * 1000 + index,
    kind: 'keyboard',
    style: STYLES[index % STYLES.length] as MadeStyle,
    meter: METERS[(index >> 2) % 2] as (typeof METERS)[number],
    bars: 24,
    quartersPerMinute: tempo,
  });

const lengthOf = (score: ComposedScore): number =>
  Math.max(...score.parts.flatMap(({ notes }) => notes.map(({ onset, duration }) => (onset + duration) / WRITTEN_PPQ)));
const tempoOf = (index: number): number => 76 + ((index * 37) % 45);

const taken =
  (
    score: (seed: number, index: number, tempo: number) => ComposedScore,
    bendOf: (score: ComposedScore, seed: number) => Bend,
    {
      tempo = tempoOf,
      file = () => 120,
      hand = {},
    }: { tempo?: (index: number) => number; file?: (played: number) => number; hand?: Partial<Performance> } = {},
  ): FreeKind['sample'] =>
  (seed, index) => {
    const played = tempo(index);
    const composed = score(seed, index, played);
    const arrangement = perform(composed, { ...HAND, ...hand, seed: seed * 77 + index });
    return {
      title: `${composed.title} ${index}`,
      composed: composed.parts.map(({ notes }) => notes),
      arrangement: atOwnTempo(arrangement, bendOf(composed, seed * 131 + index), file(played)),
    };
  };

const free = (score: ComposedScore, seed: number): Bend => {
  const [meter] = score.meters;
  return freely(seed, meter ? (meter.numerator * 4) / meter.denominator : 4, lengthOf(score));
};

/** All rows, in the order of the report. */
export const FREE_KINDS: readonly FreeKind[] = [
  {
    name: 'played at 96, the file says 120',
    asked: [0.99, 0.99, 0.98],
    sample: taken(lineScore, () => steady, { tempo: () => 96 }),
  },
  {
    name: 'the file is 1 % fast',
    asked: [0.995, 0.99, 0.98],
    sample: taken(lineScore, () => steady, { file: (played) => played * 1.01 }),
  },
  { name: 'several parts, wander, rubato, ritardando', asked: [0.97, 0.96, 0.95], sample: taken(ensembleScore, free) },
  {
    name: 'several parts, the same, and the meter changes',
    asked: [0.97, 0.96, 0.95],
    sample: taken(changingScore, free),
  },
  {
    name: 'the last eight quarters slow down, else on the click',
    asked: [0.99, 0.99, 0.98],
    sample: taken(lineScore, (score) => slowsAtEnd(lengthOf(score)), { file: (played) => played }),
  },
  {
    name: 'solo keyboard, wander, rubato, ritardando',
    asked: [0.95, 0.93, 0.85],
    sample: taken(keyboardScore, free, { hand: { doubles: 0, specks: 0 } }),
  },
  { name: 'a lone flute, wander, rubato, ritardando', asked: [0.85, 0.83, 0.78], sample: taken(lineScore, free) },
  {
    name: 'lines on the click, tracked all the same',
    asked: [0.995, 0.99, 0.98],
    sample: taken(lineScore, () => steady, { file: (played) => played }),
    onClick: true,
  },
  {
    name: 'several parts on the click, tracked all the same',
    asked: [0.995, 0.99, 0.98],
    sample: taken(ensembleScore, () => steady, { file: (played) => played }),
    onClick: true,
  },
];

/** What one sample gave: as the file says, and with the tempo from the take. */
export interface FreeMeasured {
  readonly title: string;
  readonly asFile: Accuracy;
  readonly fromTake: Accuracy;
}

const together = (all: readonly Accuracy[]): Accuracy => {
  const mean = (of: (one: Accuracy) => number) => all.reduce((sum, one) => sum + of(one), 0) / Math.max(1, all.length);
  return {
    noteF1: mean(({ noteF1 }) => noteF1),
    exactDurations: mean(({ exactDurations }) => exactDurations),
    exactBars: mean(({ exactBars }) => exactBars),
    wrongBars: [...new Set(all.flatMap(({ wrongBars }) => wrongBars))].sort((a, b) => a - b),
  };
};

const written = (arrangement: Arrangement, composed: FreeSample['composed']): Accuracy => {
  const maps = writtenMaps(arrangement);
  return together(
    arrangement.parts.map((part: Part, index) =>
      accuracyOf(composed[index] ?? [], runPlan(part, arrangement.ppq, maps, planOf(part)).notes, maps.bars),
    ),
  );
};

/** Runs the plans on the take as its file says, and with its own tempo. */
export const measureFree = ({ title, composed, arrangement }: FreeSample): FreeMeasured => {
  const found = findBeats(arrangement);
  const followed = found ? applyEdit(arrangement, followBeats(arrangement, found)) : arrangement;
  return { title, asFile: written(arrangement, composed), fromTake: written(followed, composed) };
};
