/** Kinds of music and of playing by which the default plan is measured besides the made scores: each gives samples. */
import { instrumentById, isUnpitched } from '../instruments/instruments.js';
import { importMidi } from '../midi/importMidi.js';
import { writePlayedMidi } from '../midi/writeMidi.js';
import {
  type Arrangement,
  compareNotes,
  type Note,
  type Part,
  type PartEvent,
  withEventIds,
} from '../model/arrangement.js';
import { type Chance, createChance } from '../model/chance.js';
import type { Swing } from '../model/swing.js';
import { planOf } from '../plan/readyPlans.js';
import { runPlan } from '../plan/runPlan.js';
import { writtenMaps } from '../plan/writtenMaps.js';
import type { Meter } from '../time/meterMap.js';
import { rescaleTicks, ticks, WRITTEN_PPQ, type WrittenUnits } from '../time/units.js';
import { type Accuracy, accuracyOf } from './accuracy.js';
import { type AccuracyCase, recipeOf } from './accuracyCases.js';
import type { ComposedNote, ComposedScore } from './composed.js';
import { linesTogether } from './linesTogether.js';
import { type LineRecipe, madeLine } from './madeKinds.js';
import { madeScore } from './madeScore.js';
import { type Performance, perform } from './performer.js';
import { MELODIES } from './remembered/melodies.js';
import { OTHER_PIECES, PIECES, type RememberedPiece } from './remembered/pieces.js';
import { asComposed, padded, rememberedScore } from './remembered/rememberedScore.js';

/** Music as composed, and as it came from a player. */
export interface AccuracySample {
  readonly title: string;
  readonly composed: readonly ComposedNote[];
  /** The staff each composed note stands on, in the same order; undefined for parts of one staff. */
  readonly staves?: readonly (1 | 2)[];
  readonly arrangement: Arrangement;
}

/** One row of the report. */
export interface AccuracyKind {
  readonly name: string;
  /** Note F1, exact durations, exact bars that are aimed at. */
  readonly asked: readonly [number, number, number];
  /** Share of notes on the composed staff that is aimed at. */
  readonly askedStaff?: number;
  /** How many samples differ; more only repeat with other seeds. */
  readonly sample: (seed: number, index: number) => AccuracySample;
}

/** What one sample gave. */
export interface KindMeasured {
  readonly title: string;
  readonly plan: Accuracy;
  /** Share of notes on the composed staff; null for parts of one staff. */
  readonly staff: number | null;
  readonly lost: number;
  readonly notes: number;
}

const PPQ = 480;
const FLUTE = { name: 'Flute', instrument: 'flute', channel: 0, program: 73 };
const PIANO = { name: 'Piano', instrument: 'piano', channel: 0, program: 0 };
const HARP = { name: 'Harp', instrument: 'harp', channel: 0, program: 46 };
const DRUMS = { name: 'Drums', instrument: 'percussion', channel: 9, program: null };
const FOUR_FOUR: Meter = { numerator: 4, denominator: 4 };
const SIX_EIGHT: Meter = { numerator: 6, denominator: 8 };

/** The notes with no human touch at all: starts and ends as composed. */
const untouched = (score: ComposedScore): Arrangement => {
  const performed = perform(score, { seed: 1, ppq: PPQ, spread: 0, lengths: [1, 1], doubles: 0, specks: 0 });
  return {
    ...performed,
    parts: performed.parts.map((part, index) => ({
      ...part,
      notes: (score.parts[index]?.notes ?? [])
        .map(({ pitch, onset, duration }, at): Note => {
          const start = rescaleTicks(onset, WRITTEN_PPQ, PPQ);
          return {
            id: at + 1,
            pitch,
            onset: ticks(start),
            duration: ticks(rescaleTicks(onset + duration, WRITTEN_PPQ, PPQ) - start),
            velocity: 80,
            channel: part.channel,
          };
        })
        .sort(compareNotes),
    })),
  };
};

const hand = (seed: number, more: Partial<Performance> = {}): Performance => ({
  seed,
  ppq: PPQ,
  spread: 15,
  lengths: [0.78, 1.05],
  doubles: 0.04,
  specks: 0.02,
  ...more,
});

type Play = (score: ComposedScore, seed: number) => Arrangement;
const played =
  (more: Partial<Performance> = {}): Play =>
  (score, seed) =>
    perform(score, hand(seed, more));

/** Notes of the one part changed after it was played. */
const withNotes =
  (play: Play, change: (notes: readonly Note[], chance: Chance, perMs: number) => readonly Omit<Note, 'id'>[]): Play =>
  (score, seed) => {
    const arrangement = play(score, seed);
    const perMs = PPQ * (arrangement.tempos[0] ? 1000 / arrangement.tempos[0].microsecondsPerQuarter : 0.002);
    const parts = arrangement.parts.map((part) => ({
      ...part,
      notes: change(part.notes, createChance(seed + 5), perMs)
        .map((note, index) => ({ ...note, id: index + 1 }))
        .sort(compareNotes),
    }));
    const nextNoteId = 1 + Math.max(...parts.map(({ notes }) => notes.length));
    return { ...arrangement, parts, nextNoteId };
  };

/** The performer's doubles and specks are no louder. */
const LITTER = 30;

/** The first of two strokes on one key runs into the second by so many milliseconds, at so many of them. */
const running = (play: Play, [low, high]: readonly [number, number], share: number): Play =>
  withNotes(play, (notes, chance, perMs) => {
    const next = new Map<number, number>();
    return [...notes]
      .reverse()
      .map((note) => {
        // Litter is no stroke.
        if (note.velocity <= LITTER) return note;
        const after = next.get(note.pitch);
        next.set(note.pitch, note.onset);
        if (after === undefined || after <= note.onset) return note;
        const gap = after - note.onset - note.duration;
        if (gap > 60 * perMs || !chance.chance(share)) return note;
        return { ...note, duration: ticks(Math.round(after - note.onset + chance.between(low, high) * perMs)) };
      })
      .reverse();
  });

/** Every few notes short: runs of four to ten at 22 to 42 % of their length. */
const byPassages: (play: Play) => Play = (play) =>
  withNotes(play, (notes, chance) => {
    let left = 0;
    let short = false;
    return notes.map((note) => {
      if (left <= 0) {
        short = !short;
        left = Math.round(chance.between(6, 14));
      }
      left -= 1;
      // Notes of a beat and less are played short; a long note is held out.
      return short && note.duration < 1.1 * PPQ
        ? { ...note, duration: ticks(Math.max(1, Math.round(note.duration * chance.between(0.24, 0.46)))) }
        : note;
    });
  });

const share =
  (low: number, high: number) =>
  (play: Play): Play =>
    withNotes(play, (notes, chance) =>
      notes.map((note) => ({
        ...note,
        duration: ticks(Math.max(1, Math.round(note.duration * chance.between(low, high)))),
      })),
    );

/** Two takes of one part, one over the other. */
const twoTakes: Play = (score, seed) =>
  withNotes(played(), (notes) => [...notes, ...(perform(score, hand(seed + 999)).parts[0]?.notes ?? [])])(score, seed);

/** Played long and short: the second of each pair comes at `percent` of it. */
const swung =
  (percent: number, play: Play, pair: Swing['pair'] = 'eighths'): Play =>
  (score, seed) =>
    play(
      { ...score, swings: [{ percent, pair, from: 0 as WrittenUnits, to: Number.MAX_VALUE as WrittenUnits }] },
      seed,
    );

/** Chords rolled upwards over 80 to 200 ms, from the beat on or towards it. */
const rolled = (towards: boolean): Play =>
  withNotes(played({ doubles: 0, specks: 0 }), (notes, chance, perMs) => {
    const chords = new Map<number, Note[]>();
    for (const note of notes) {
      const near = [...chords.keys()].reverse().find((onset) => Math.abs(onset - note.onset) < 40 * perMs);
      const key = near ?? note.onset;
      chords.set(key, [...(chords.get(key) ?? []), note]);
    }
    return [...chords.values()].flatMap((chord) => {
      const span = chance.between(80, 200) * perMs;
      return [...chord]
        .sort((a, b) => a.pitch - b.pitch)
        .map((note, rank) => {
          const shift = Math.round(span * (rank / Math.max(1, chord.length - 1) - (towards ? 1 : 0)));
          const onset = Math.max(0, note.onset + shift);
          return { ...note, onset: ticks(onset), duration: ticks(Math.max(20, note.onset + note.duration - onset)) };
        });
    });
  });

/** Soft strokes between, and flams: a softer stroke 25 to 45 ms before the main one. */
const withFlams: Play = withNotes(played({ spread: 10, doubles: 0, specks: 0 }), (notes, chance, perMs) =>
  notes.flatMap((note) => {
    if (note.pitch !== 38 || !chance.chance(0.15)) return [note];
    const early = Math.max(0, Math.round(note.onset - chance.between(25, 45) * perMs));
    return [{ ...note, onset: ticks(early), velocity: 40 }, note];
  }),
);

const made = (
  recipe: Omit<LineRecipe, 'quartersPerMinute' | 'bars'>,
  play: Play,
  tempo: readonly [number, number] = [84, 128],
) =>
  ((seed, index) => {
    const quartersPerMinute = tempo[0] + ((index * 37) % (tempo[1] - tempo[0] + 1));
    const score = madeLine({ ...recipe, bars: 24, quartersPerMinute }, seed * 1000 + index);
    return {
      title: `${recipe.player.name} ${index}`,
      composed: score.parts[0]?.notes ?? [],
      arrangement: play(score, seed * 77 + index),
    };
  }) satisfies AccuracyKind['sample'];

const melodies =
  (play: Play): AccuracyKind['sample'] =>
  (seed, index) => {
    const tune = rememberedScore(MELODIES[index % MELODIES.length] as (typeof MELODIES)[number]);
    const score = asComposed(tune, FLUTE, 92 + ((index * 31) % 40));
    return { title: tune.title, composed: padded(tune), arrangement: play(score, seed * 77 + index) };
  };

const FOUR_VOICES = PIECES.filter(({ kind }) => kind === 'fourVoices');
const TWO_HANDS = PIECES.filter(({ kind }) => kind === 'twoHands');

const pieces =
  (all: readonly RememberedPiece[], play: Play): AccuracyKind['sample'] =>
  (seed, index) => {
    const { tune, upper } = all[index % all.length] as RememberedPiece;
    const read = rememberedScore(tune);
    // Two voices that meet on one note are one key.
    const seen = new Map<string, number>();
    const notes = padded(read)
      .sort((a, b) => a.onset - b.onset || a.pitch - b.pitch || b.duration - a.duration)
      .filter((note) => {
        const until = seen.get(`${note.pitch}`) ?? -1;
        if (until > note.onset) return false;
        seen.set(`${note.pitch}`, note.onset + note.duration);
        return true;
      });
    const score = asComposed(read, PIANO, 76 + ((index * 31) % 30));
    const own: ComposedScore = { ...score, parts: score.parts.map((part) => ({ ...part, notes })) };
    return {
      title: read.title,
      composed: notes,
      staves: notes.map(({ voice }) => (voice <= upper ? 1 : 2)),
      arrangement: play(own, seed * 77 + index),
    };
  };

const SIMPLE = [[1], [0.5, 0.5], [0.5, 0.25, 0.25], [1.5, 0.5], [2], [-1], [0.25, 0.25, 0.5]];
const third = 1 / 3;
const line = (cells: LineRecipe['cells'], meter = FOUR_FOUR, repeats = 0.15) => ({
  cells,
  meter,
  repeats,
  player: FLUTE,
});
const repeated = { ...line(SIMPLE, FOUR_FOUR, 0.6), player: PIANO };
const FIVES = [[1], [0.5, 0.5], [0.2, 0.2, 0.2, 0.2, 0.2], [2], Array<number>(7).fill(1 / 7), [0.4, 0.2, 0.4]];
const THIRTY_SECONDS = [
  [0.5, 0.5],
  [1],
  Array<number>(8).fill(0.125),
  [0.125, 0.125, 0.25, 0.5],
  [0.5, 0.125, 0.125, 0.125, 0.125],
];
const SHORT_SIMPLE = [
  [1],
  [0.5, 0.5],
  [0.375, 0.125, 0.5],
  [0.375, 0.125, 0.375, 0.125],
  [third / 2, third / 2, third / 2, 0.5],
  [0.5, third / 2, third / 2, third / 2],
];
const SHORT_COMPOUND = [
  [1.5],
  [0.5, 0.5, 0.5],
  [0.375, 0.125, 0.5, 0.5],
  [third / 2, third / 2, third / 2, 0.5, 0.5],
  [1, 0.5],
  [1, third / 2, third / 2, third / 2],
];
const CHORDS = { cells: [[2], [1], [4], [1, -1]], meter: FOUR_FOUR, repeats: 0.1, tones: [0, 2, 4, 7], player: HARP };

/** Eighths for the most part, now and then three in a beat. */
const SWINGING = [[0.5, 0.5], [0.5, 0.5], [0.5, 0.5], [1], [1], [1.5, 0.5], [0.5, 1, 0.5], [2], [-0.5, 0.5], [-1]];
const WITH_TRIPLETS = [...SWINGING, [third, third, third]];
const SIXTEENTHS = [[0.25, 0.25, 0.25, 0.25], [0.5, 0.25, 0.25], [0.25, 0.25, 0.5], [0.5, 0.5], [1], [1.5, 0.5], [2]];
const DOTTED = [[0.75, 0.25], [0.75, 0.25], [0.5, 0.5], [1], [1.5, 0.5], [2], [-1]];

/** Grace notes a step or two beside some notes, 40 to 70 ms before them; what sounded before is let go for them. */
const graced = (play: Play): Play =>
  withNotes(play, (notes, chance, perMs) =>
    notes.flatMap((note, index) => {
      const before = notes[index - 1];
      if (note.velocity <= LITTER || note.duration < 200 * perMs || !chance.chance(0.2)) return [note];
      if (before && note.onset - before.onset < 200 * perMs) return [note];
      const onset = Math.round(note.onset - chance.between(40, 70) * perMs);
      if (onset < 0) return [note];
      const length = Math.round((note.onset - onset) * chance.between(0.8, 1.2));
      const pitch = note.pitch + Math.round(chance.between(1, 2)) * (chance.chance(0.6) ? -1 : 1);
      return [{ ...note, pitch, onset: ticks(onset), duration: ticks(length), velocity: note.velocity - 8 }, note];
    }),
  );

/** Tones one after the other from `from` on, each so many milliseconds after the one before, the last until `to`. */
const figure = (
  note: Note,
  pitches: readonly number[],
  gaps: (index: number) => number,
  perMs: number,
  share = 1,
): Omit<Note, 'id'>[] => {
  let at = note.onset as number;
  const end = note.onset + note.duration;
  return pitches.map((pitch, index) => {
    const onset = at;
    at += Math.round(gaps(index) * perMs);
    const until = index === pitches.length - 1 ? end : at;
    const duration = Math.max(10, Math.round((until - onset) * (index === pitches.length - 1 ? 1 : share)));
    return { ...note, pitch, onset: ticks(onset), duration: ticks(duration) };
  });
};

/** Trills, mordents and turns on some of the longer notes. */
const ornamented = (play: Play): Play =>
  withNotes(play, (notes, chance, perMs) =>
    notes.flatMap((note) => {
      const length = note.duration / perMs;
      if (note.velocity <= LITTER || length < 420 || !chance.chance(0.35)) return [note];
      const [above, below] = [chance.chance(0.5) ? 2 : 1, chance.chance(0.5) ? 2 : 1];
      const { pitch } = note;
      const which = chance.next();
      if (which < 0.4) {
        const mean = chance.between(68, 105);
        const count = Math.max(6, Math.floor(length / mean));
        const pitches = Array.from({ length: count }, (_, k) => (k % 2 === 0 ? pitch : pitch + above));
        return figure(note, pitches, () => (length / count) * chance.between(0.88, 1.12), perMs, 0.9);
      }
      const quick = chance.between(50, 80);
      const pitches =
        which < 0.55
          ? [pitch, pitch - below, pitch]
          : which < 0.7
            ? [pitch, pitch + above, pitch]
            : [pitch + above, pitch, pitch - below, pitch];
      return figure(note, pitches, () => quick * chance.between(0.88, 1.12), perMs, 0.95);
    }),
  );

/** Some of the longer notes struck again and again. */
const trembling = (play: Play): Play =>
  withNotes(play, (notes, chance, perMs) =>
    notes.flatMap((note) => {
      const length = note.duration / perMs;
      if (note.velocity <= LITTER || length < 480 || !chance.chance(0.4)) return [note];
      const count = Math.round(length / chance.between(62, 95));
      const pitches = Array<number>(count).fill(note.pitch);
      return figure(
        note,
        pitches,
        () => (length / count) * chance.between(0.92, 1.08),
        perMs,
        chance.between(0.55, 0.9),
      );
    }),
  );

/** A beat of drums with soft strokes between. */
const drums =
  (play: Play): AccuracyKind['sample'] =>
  (seed, index) => {
    const base = madeLine(
      { ...line([[1]]), bars: 16, quartersPerMinute: 84 + ((index * 37) % 45), player: DRUMS },
      seed + index,
    );
    const chance = createChance(seed * 31 + index);
    const notes: ComposedNote[] = [];
    const at = (pitch: number, quarters: number, length = 0.25) =>
      notes.push({
        pitch,
        onset: Math.round(quarters * WRITTEN_PPQ) as never,
        duration: Math.round(length * WRITTEN_PPQ) as never,
      });
    for (let bar = 0; bar < 16; bar += 1) {
      for (let eighth = 0; eighth < 8; eighth += 1) {
        const start = bar * 4 + eighth / 2;
        at(42, start);
        if (chance.chance(0.12)) for (const part of [1, 2, 3]) at(42, start + part / 8, 0.125);
        if (eighth % 4 === 2) at(38, start);
        else if (chance.chance(0.2)) at(38, start + 0.25);
        if (eighth % 4 === 0 || chance.chance(0.15)) at(36, start);
      }
    }
    const score = { ...base, parts: base.parts.map((part) => ({ ...part, notes })) };
    return { title: `Drums ${index}`, composed: notes, arrangement: play(score, seed * 77 + index) };
  };

const kind = (
  name: string,
  asked: AccuracyKind['asked'],
  sample: AccuracyKind['sample'],
  askedStaff?: number,
): AccuracyKind => ({ name, asked, sample, ...(askedStaff ? { askedStaff } : {}) });

type Asked = AccuracyKind['asked'];
const WIDE: readonly Asked[] = [
  [0.985, 0.975, 0.955],
  [0.965, 0.945, 0.905],
  [0.94, 0.91, 0.84],
];

/** The made lines of the first table, by a hand that is rougher still. */
const lines = (spread: number): AccuracyKind['sample'] => {
  const row: AccuracyCase = {
    name: '',
    kinds: ['line', 'line', 'chords'],
    pedal: false,
    performance: { spread, lengths: [0.78, 1.05], doubles: 0.04, specks: 0.02 },
    required: [0, 0, 0],
  };
  return (seed, index) => {
    const score = madeScore(recipeOf(row, seed, index));
    return {
      title: score.title,
      composed: score.parts[0]?.notes ?? [],
      arrangement: played({ spread })(score, seed * 77 + index),
    };
  };
};

/** Values of a pedal that is down in full, and of one pressed half-way: both hold; and how far a half pedal comes up. */
const PEDAL_VALUES = { full: 127, half: 70, halfUp: 34 } as const;

/**
 * Keyboard with two to four pedals a bar, some of them half, and every few bars a bass note caught by the sostenuto. Keys
 * go up early where a pedal holds to the end of the note.
 */
const severalPedals: AccuracyKind['sample'] = (seed, index) => {
  const recipe = { seed: seed * 1000 + index, kind: 'keyboard', style: 'eighths', meter: FOUR_FOUR } as const;
  const score = madeScore({ ...recipe, bars: 24, quartersPerMinute: 72 + ((index * 31) % 40) });
  const [part] = score.parts;
  if (!part) throw new Error('A keyboard score has a part.');
  const chance = createChance(seed * 31 + index);
  const arrangement = perform(score, hand(seed * 77 + index, { doubles: 0, specks: 0 }));
  const perMs = PPQ * (score.tempos[0]?.quartersPerMinute ?? 100) * (1 / 60_000);
  const events: Omit<Extract<PartEvent, { kind: 'controller' }>, 'id'>[] = [];
  const put = (controller: number, tick: number, value: number) =>
    events.push({ kind: 'controller', tick: ticks(Math.max(0, Math.round(tick))), channel: 0, controller, value });
  const holds: { readonly from: number; readonly to: number }[] = [];
  for (let bar = 0; bar < 24; bar += 1) {
    const each = chance.chance(0.5) ? 2 : 1;
    for (let beat = 0; beat < 4; beat += each) {
      if (chance.chance(0.2)) continue;
      const [from, to] = [(bar * 4 + beat) * PPQ, (bar * 4 + beat + each) * PPQ];
      const half = chance.chance(0.3);
      put(64, from + chance.between(30, 70) * perMs, half ? PEDAL_VALUES.half : PEDAL_VALUES.full);
      put(64, to - chance.between(45, 75) * perMs, half ? PEDAL_VALUES.halfUp : 0);
      holds.push({ from, to });
    }
  }
  const ends = new Map(
    part.notes.map((note) => {
      const start = rescaleTicks(note.onset, WRITTEN_PPQ, PPQ);
      return [`${note.pitch} ${start}`, start + rescaleTicks(note.duration, WRITTEN_PPQ, PPQ)];
    }),
  );
  const composedEnd = (note: Note): number | undefined => {
    for (let off = 0; off <= 60; off += 1)
      for (const at of [note.onset - off, note.onset + off]) {
        const end = ends.get(`${note.pitch} ${at}`);
        if (end !== undefined) return end;
      }
    return undefined;
  };
  const short = (note: Note, share: number): Note => ({
    ...note,
    duration: ticks(Math.max(1, Math.round(note.duration * share))),
  });
  const notes = arrangement.parts[0]?.notes.map((note) => {
    const end = composedEnd(note);
    if (end !== undefined && note.pitch < 55 && end - note.onset > 1.5 * PPQ && chance.chance(0.3)) {
      put(66, note.onset + 80 * perMs, PEDAL_VALUES.full);
      put(66, end - 60 * perMs, 0);
      return short(note, chance.between(0.3, 0.6));
    }
    const held = holds.some(({ from, to }) => end !== undefined && to === end && from <= note.onset + 60);
    return held ? short(note, chance.between(0.45, 0.95)) : note;
  });
  const parts = arrangement.parts.map((own) => ({
    ...own,
    notes: notes ?? own.notes,
    events: withEventIds(
      events.sort((a, b) => a.tick - b.tick),
      1,
    ),
  }));
  return {
    title: score.title,
    composed: part.notes,
    arrangement: { ...arrangement, parts, nextEventId: events.length + 1 },
  };
};

/** One of eight lines, each late or early throughout by its own amount. */
const ownLean: AccuracyKind['sample'] = (seed, index) => {
  const score = madeScore({ ...recipeOf(LINES_OF_EIGHT, seed, index) });
  const lean = createChance(seed * 13 + index).between(-30, 30);
  return {
    title: score.title,
    composed: score.parts[0]?.notes ?? [],
    arrangement: played({ spread: 40, lean })(score, seed * 77 + index),
  };
};

/** How many lines play together, and what their beats are made of. */
const TOGETHER = 8;
const CELLS_TOGETHER = [SIMPLE, [[1], [0.5, 0.5], [third, third, third], [2], [-1]], [...SIMPLE, [0.75, 0.25]]];

/** Lines that play together, each late or early throughout by its own amount; the first is looked at. */
const linesOfOwnLean: AccuracyKind['sample'] = (seed, index) => {
  const cells = CELLS_TOGETHER[index % CELLS_TOGETHER.length] as LineRecipe['cells'];
  const recipe = { ...line(cells), bars: 24, quartersPerMinute: 84 + ((index * 37) % 45) };
  const score = linesTogether(recipe, TOGETHER, seed * 1000 + index);
  const chance = createChance(seed * 13 + index);
  const takes = score.parts.map((part, which) =>
    played({ spread: 40, lean: chance.between(-30, 30) })({ ...score, parts: [part] }, seed * 77 + index * 8 + which),
  );
  const parts = takes.flatMap((take, which) => take.parts.map((part): Part => ({ ...part, id: which + 1 })));
  return {
    title: score.title,
    composed: score.parts[0]?.notes ?? [],
    arrangement: { ...(takes[0] as Arrangement), parts, nextPartId: parts.length + 1 },
  };
};

const LINES_OF_EIGHT: AccuracyCase = {
  name: '',
  kinds: ['line'],
  pedal: false,
  performance: { spread: 40, lengths: [0.78, 1.05], doubles: 0.04, specks: 0.02 },
  required: [0, 0, 0],
};

/** All rows, in the order of the report. */
export const ACCURACY_KINDS: readonly AccuracyKind[] = [
  kind('melodies from memory, no human touch', [1, 1, 0.995], melodies(untouched)),
  kind('melodies from memory, 15 ms', [0.998, 0.995, 0.985], melodies(played())),
  kind('four voices in one track, no human touch', [1, 1, 0.98], pieces(FOUR_VOICES, untouched), 0.97),
  kind('four voices in one track, 15 ms', [0.99, 0.98, 0.95], pieces(FOUR_VOICES, played()), 0.97),
  kind('two hands in one track, no human touch', [1, 1, 0.98], pieces(TWO_HANDS, untouched), 0.97),
  kind('two hands in one track, 15 ms', [0.99, 0.98, 0.94], pieces(TWO_HANDS, played()), 0.97),
  kind('two hands, other pieces, no human touch', [1, 1, 0.98], pieces(OTHER_PIECES, untouched), 0.97),
  kind('two hands, other pieces, 15 ms', [0.99, 0.98, 0.94], pieces(OTHER_PIECES, played()), 0.97),
  kind('repeats, the first runs into the second', [0.995, 0.99, 0.97], made(repeated, running(played(), [5, 80], 0.9))),
  kind(
    'lines, repeats may overlap by 5 to 45 ms',
    [0.999, 0.995, 0.985],
    made(line(SIMPLE, FOUR_FOUR, 0.3), running(played(), [5, 45], 0.5)),
  ),
  kind('two takes laid over each other', [0.997, 0.99, 0.97], made(line(SIMPLE), twoTakes)),
  kind(
    '32nds of one pitch, 50 to 90 % long',
    [0.99, 0.95, 0.85],
    made(line(THIRTY_SECONDS, FOUR_FOUR, 0.6), share(0.6, 0.95)(played({ spread: 6 })), [60, 84]),
  ),
  kind('fives and sevens, no human touch', [1, 1, 1], made(line(FIVES), untouched)),
  kind('fives and sevens, 12 ms', [0.99, 0.985, 0.97], made(line(FIVES), played({ spread: 12 }), [60, 84])),
  kind('short figures, simple, no human touch', [1, 1, 1], made(line(SHORT_SIMPLE), untouched)),
  kind('short figures, compound, no human touch', [1, 1, 1], made(line(SHORT_COMPOUND, SIX_EIGHT), untouched)),
  kind('short figures, simple, 12 ms', [0.995, 0.99, 0.98], made(line(SHORT_SIMPLE), played({ spread: 12 }), [60, 84])),
  kind(
    'short figures, compound, 12 ms',
    [0.995, 0.99, 0.98],
    made(line(SHORT_COMPOUND, SIX_EIGHT), played({ spread: 12 }), [60, 84]),
  ),
  kind('staccato by passages', [1, 0.97, 0.95], made(line(SIMPLE), byPassages(played({ doubles: 0 })))),
  kind('percussion with flams and soft strokes', [0.99, 0, 0], drums(withFlams)),
  kind('rolled chords of a harp, from the beat', [0.98, 0.97, 0.9], made(CHORDS, rolled(false))),
  kind('rolled chords of a harp, to the beat', [0.96, 0.94, 0.85], made(CHORDS, rolled(true))),
  kind('keyboard: several pedals a bar, half pedal, sostenuto', [1, 0.965, 0.82], severalPedals),
  kind('grace notes, 40 to 70 ms before', [0.985, 0.98, 0.95], made(line(SIMPLE), graced(played()))),
  kind('trills, mordents, turns', [0.96, 0.95, 0.9], made(line(SIMPLE), ornamented(played()), [84, 112])),
  kind('tremolo', [0.97, 0.95, 0.92], made(line(SIMPLE), trembling(played({ doubles: 0 })))),
  kind('swung eighths, 58 %', [0.995, 0.99, 0.98], made(line(SWINGING), swung(58, played()))),
  kind('swung eighths, 62 %', [0.995, 0.99, 0.98], made(line(WITH_TRIPLETS), swung(62, played()))),
  kind('swung eighths, 67 %', [0.995, 0.99, 0.98], made(line(WITH_TRIPLETS), swung(67, played()))),
  kind(
    'swung sixteenths, 62 %',
    [0.995, 0.99, 0.98],
    made(line(SIXTEENTHS), swung(62, played({ spread: 10 }), 'sixteenths'), [72, 100]),
  ),
  kind('dotted eighths and sixteenths, not swung', [0.995, 0.99, 0.98], made(line(DOTTED), played())),
  kind('eight lines together, 40 ms, each with its own lean', [0.993, 0.988, 0.977], linesOfOwnLean),
  kind('lines, 40 ms, each with its own lean', [0.993, 0.988, 0.977], ownLean),
  ...[40, 50, 60].map((spread, index) => kind(`lines, ${spread} ms`, WIDE[index] as Asked, lines(spread))),
];

/** As it comes from a file, which pairs the ends of one pitch first on with first off; its part keeps its instrument. */
const throughFile = (arrangement: Arrangement): Arrangement => {
  const read = importMidi([{ name: 'Take.mid', bytes: writePlayedMidi(arrangement) }]);
  if (!read.ok) throw new Error(read.problem.message);
  const { parts } = read.value.arrangement;
  return {
    ...arrangement,
    parts: arrangement.parts.map((part, index) => {
      const { notes, events } = parts[index] ?? { notes: [], events: [] };
      return { ...part, notes, events };
    }),
  };
};

/** Runs the plan that the sample's content asks for, and compares. */
export const measureKind = ({ title, composed, staves, arrangement: played }: AccuracySample): KindMeasured => {
  const arrangement = throughFile(played);
  const part = arrangement.parts[0];
  if (!part) throw new Error('A sample has one part.');
  const maps = writtenMaps(arrangement);
  const { notes } = runPlan(part, arrangement.ppq, maps, planOf(part));
  const plan = accuracyOf(composed, notes, maps.bars, isUnpitched(instrumentById(part.instrument)));
  const found = new Map(notes.map((note) => [`${note.onset}:${note.pitch}`, note.staff]));
  let [right, known] = [0, 0];
  composed.forEach((note, index) => {
    const staff = found.get(`${note.onset}:${note.pitch}`);
    if (staff === undefined) return;
    known += 1;
    if (staff === staves?.[index]) right += 1;
  });
  return {
    title,
    plan,
    staff: staves ? right / Math.max(1, known) : null,
    lost: Math.max(0, composed.length - notes.length),
    notes: composed.length,
  };
};
