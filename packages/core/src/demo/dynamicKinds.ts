/** Performances of scores with known dynamics, by which the reading of levels and hairpins is measured. */
import type { Arrangement, Note } from '../model/arrangement.js';
import { createChance } from '../model/chance.js';
import type { Dynamic } from '../model/noteSigns.js';
import { planOf } from '../plan/readyPlans.js';
import { runPlan } from '../plan/runPlan.js';
import { writtenMaps } from '../plan/writtenMaps.js';
import { LEVELS } from '../reading/dynamics.js';
import { WRITTEN_PPQ } from '../time/units.js';
import { MADE_STYLES, madeScore } from './madeScore.js';
import { perform } from './performer.js';

/** A level from a bar on, counted from 0. */
interface MarkedLevel {
  readonly bar: number;
  readonly level: Dynamic;
}

/** A swell over some bars; the end is the start of the level it leads to. */
interface MarkedSwell {
  readonly from: number;
  readonly to: number;
  readonly way: 'louder' | 'softer';
}

/** A part played with the dynamics that its score has. */
export interface DynamicSample {
  readonly levels: readonly MarkedLevel[];
  readonly swells: readonly MarkedSwell[];
  readonly bars: number;
  readonly arrangement: Arrangement;
}

/** One row of the report. */
export interface DynamicKind {
  readonly name: string;
  readonly sample: (seed: number, index: number) => DynamicSample;
}

/** What one sample gave. */
export interface DynamicsMeasured {
  readonly marks: number;
  /** At the right bar with the right level. */
  readonly right: number;
  readonly wrong: number;
  readonly swells: number;
  readonly swellsRight: number;
  readonly swellsWrong: number;
  readonly bars: number;
}

const BARS = 32;
const BAR = 4 * WRITTEN_PPQ;
const PPQ = 480;
const USED: readonly Dynamic[] = ['pp', 'p', 'mp', 'mf', 'f', 'ff'];
const velocityOf = new Map(LEVELS);

interface Hand {
  /** Standard deviation of single notes. */
  readonly spread: number;
  /** Share of changes that a swell leads to. */
  readonly swells: number;
  readonly kind: 'line' | 'chords';
  /** Levels change at any bar, not every four or eight. */
  readonly anywhere?: true;
  /** One level throughout. */
  readonly flat?: true;
}

const sampleOf =
  ({ spread, swells: share, kind, anywhere, flat }: Hand): DynamicKind['sample'] =>
  (seed, index) => {
    const style = MADE_STYLES[index % MADE_STYLES.length] as (typeof MADE_STYLES)[number];
    const recipe = {
      seed: seed * 1000 + index,
      kind,
      style,
      meter: { numerator: 4, denominator: 4 },
      bars: BARS,
    } as const;
    const score = madeScore({ ...recipe, quartersPerMinute: 80 + ((index * 37) % 50) });
    const chance = createChance(seed * 91 + index);
    const levels: MarkedLevel[] = [];
    const swells: MarkedSwell[] = [];
    const phrase = (by: number) => (anywhere ? 3 + Math.floor(by * 7) : 4 * (1 + Math.floor(by * 2)));
    for (let bar = 0; bar < BARS; bar += flat ? BARS : phrase(chance.next())) {
      const before = levels[levels.length - 1]?.level;
      const choices = USED.filter((level) => !before || Math.abs(USED.indexOf(level) - USED.indexOf(before)) >= 1);
      const level = choices[Math.floor(chance.next() * choices.length)] as Dynamic;
      // A hairpin leads further than to the next level.
      const far = before && Math.abs(USED.indexOf(level) - USED.indexOf(before)) > 1;
      if (before && far && chance.chance(share)) {
        const way = USED.indexOf(level) > USED.indexOf(before) ? 'louder' : 'softer';
        swells.push({ from: bar - (chance.chance(0.5) ? 1 : 2), to: bar, way });
      }
      levels.push({ bar, level });
    }
    // A mark stands where the first note after it does.
    const onsets = (score.parts[0]?.notes ?? []).map(({ onset }) => onset / BAR).sort((a, b) => a - b);
    const seen = levels.map((mark) => ({ ...mark, bar: Math.floor(onsets.find((at) => at >= mark.bar) ?? mark.bar) }));
    const own = chance.between(-7, 7);
    const loudAt = (bar: number): number => {
      const at = levels.filter((mark) => mark.bar <= bar).length - 1;
      const level = velocityOf.get(levels[at]?.level ?? 'mf') ?? 76;
      const swell = swells.find(({ from, to }) => bar >= from && bar < to);
      if (!swell) return level;
      const next = velocityOf.get(levels[at + 1]?.level ?? 'mf') ?? level;
      return level + ((next - level) * (bar - swell.from)) / (swell.to - swell.from);
    };
    const played = perform(score, {
      seed: seed * 77 + index,
      ppq: PPQ,
      spread: 12,
      lengths: [0.8, 1.02],
      doubles: 0.03,
      specks: 0.01,
    });
    const parts = played.parts.map((part) => ({
      ...part,
      notes: part.notes.map((note): Note => {
        // Doubles and brushes of other keys are soft, however loud the music is.
        if (note.velocity <= 30) return note;
        const beat = (note.onset / PPQ) % 4;
        const velocity =
          loudAt(note.onset / PPQ / 4) + own + spread * chance.normal() + (beat < 0.1 || beat > 3.9 ? 4 : 0);
        return { ...note, velocity: Math.round(Math.max(1, Math.min(127, velocity))) };
      }),
    }));
    return { levels: seen, swells, bars: BARS, arrangement: { ...played, parts } };
  };

/** All rows. */
export const DYNAMIC_KINDS: readonly DynamicKind[] = [
  { name: 'lines, levels', sample: sampleOf({ spread: 6, swells: 0, kind: 'line' }) },
  { name: 'lines, levels and hairpins', sample: sampleOf({ spread: 6, swells: 0.5, kind: 'line' }) },
  { name: 'lines, levels and hairpins, an uneven hand', sample: sampleOf({ spread: 9, swells: 0.5, kind: 'line' }) },
  { name: 'chords, levels and hairpins', sample: sampleOf({ spread: 6, swells: 0.5, kind: 'chords' }) },
  {
    name: 'lines, levels and hairpins, at any bar',
    sample: sampleOf({ spread: 6, swells: 0.5, kind: 'line', anywhere: true }),
  },
  { name: 'lines at one level', sample: sampleOf({ spread: 8, swells: 0, kind: 'line', flat: true }) },
];

/** Runs the plan that the sample's content asks for, and compares its marks with the score's. */
export const measureDynamics = ({ levels, swells, bars, arrangement }: DynamicSample): DynamicsMeasured => {
  const part = arrangement.parts[0];
  if (!part) throw new Error('A sample has one part.');
  const { notes } = runPlan(part, arrangement.ppq, writtenMaps(arrangement), planOf(part));
  const places = new Map(notes.map((note) => [note.id, note.onset / BAR]));
  const found = notes.flatMap(({ onset, signs }) =>
    signs?.dynamic ? [{ bar: Math.floor(onset / BAR), level: signs.dynamic }] : [],
  );
  const hairpins = notes.flatMap(({ onset, signs }) =>
    signs?.hairpin ? [{ from: onset / BAR, to: places.get(signs.hairpin.to) ?? 0, way: signs.hairpin.way }] : [],
  );
  // A part at one level has no marks.
  const asked = levels.length > 1 ? levels : [];
  const right = asked.filter((mark) => found.some(({ bar, level }) => bar === mark.bar && level === mark.level)).length;
  const meets = (a: { from: number; to: number; way: string }, b: MarkedSwell) =>
    a.way === b.way && Math.min(a.to, b.to) - Math.max(a.from, b.from) >= 0.5 * (b.to - b.from);
  return {
    marks: asked.length,
    right,
    wrong: found.length - right,
    swells: swells.length,
    swellsRight: swells.filter((swell) => hairpins.some((one) => meets(one, swell))).length,
    swellsWrong: hairpins.filter((one) => !swells.some((swell) => meets(one, swell))).length,
    bars,
  };
};
