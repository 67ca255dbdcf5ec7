/**
 * Ornaments in a take: grace notes, flams, mordents, turns, trills, tremolos, glissandi. Each is a figure of tones that follow each
 * other faster than the music around them moves, with pitches that its sign says (common practice; speeds from "memory" of
 * players' habits and from the made rows of docs/accuracy.md). What lies exactly on the grid is drawn, and taken at its word.
 */
import { isUnpitched } from '../instruments/instruments.js';
import { endOf } from '../model/arrangement.js';
import type { HeardTone, NoteSigns } from '../model/noteSigns.js';
import { median } from '../model/statistics.js';
import { type Beat, beatsOfBars } from '../time/meterMap.js';
import type { StepContext } from './context.js';
import { playedRoughly } from './roughHand.js';
import type { StepNote } from './stepNote.js';
import { liesOnGrid } from './untouched.js';

/** What is looked for. */
export interface OrnamentsSought {
  readonly graces: boolean;
  readonly ornaments: boolean;
  readonly tremolo: boolean;
}

/** An ornament: the note that is written, with its signs, and the tones that are not. */
export interface Ornament {
  readonly kind: 'grace' | 'flam' | 'mordent' | 'turn' | 'trill' | 'tremolo' | 'glissando';
  /** The note as it was played. */
  readonly main: StepNote;
  readonly onset: number;
  readonly duration: number;
  readonly signs: NoteSigns;
  /** The tones that are no notes of their own, in order. */
  readonly others: readonly StepNote[];
}

/** A grace note comes between these before its note (milliseconds), and up to so many in a row. */
const GRACE = { least: 22, most: 76 } as const;
/** What comes no earlier than this (milliseconds) tells whether a part has thirty-seconds there. */
const MAY_BE_GRACE = 135;
const MOST_GRACES = 3;
/** Several are no further apart than this (milliseconds). */
const SEVERAL_GRACES = 62;
/** It is let go no later than so long into its note (milliseconds), and lasts at most so long. */
const GRACE_OVERLAPS = 45;
/** …and an unsteady hand's no later than this share of its way: what sounds on is a note that came late. */
const ROUGH_OVERLAPS = 1.25;
const GRACE_LASTS = 125;
/** It is no further from its note than this (semitones). */
const GRACE_REACH = 12;
/** Its note lasts so many times as long as it comes before, and no shorter than this (milliseconds). */
const MUCH_LONGER = 2.4;
const MAIN_LASTS = 130;
/** The note before it begins so many times further away: else it is a run. */
const STANDS_APART = 1.7;
/** A flam's first stroke is so much softer, and comes no earlier (milliseconds). */
const SOFTER = 0.75;
const FLAM_MOST = 55;
/** Tones of an ornament follow each other within these (milliseconds). */
const QUICK = { least: 32, most: 135 } as const;
/** On average faster than this (milliseconds), and than this share of a quarter: slower ones are notes. */
const QUICK_ON_AVERAGE = 112;
/** Figures of few tones are hurried more, or they might be any notes (milliseconds). */
const HURRIED = 92;
const SHARE_OF_QUARTER = 0.21;
/** The longest way between two of them is at most so many times the shortest. */
const EVEN_ENOUGH = 2.6;
/** A tone is on a line of eighths, or off it, by so much of a quarter. */
const ON_LINE = 0.06;
const OFF_LINE = 0.12;
/** Tones as slow as this (milliseconds) may be sixteenth triplets, if they are that to so many milliseconds. */
const SLOW_ENOUGH = 80;
const TRIPLET_TO = 12;
/** A neighbour is within so many semitones. */
const NEIGHBOUR = 2;
/** A trill has at least so many tones, a tremolo so many. */
const TRILL_TONES = 6;
const TREMOLO_TONES = 6;
/** A tremolo is so fast, or strays so far from thirty-seconds from its first tone to its last (milliseconds). */
const TREMOLO_FAST = 84;
const MEASURED_TO = 45;
/**
 * A glissando has at least so many tones, the one it leads to among them, and goes so far (semitones), by steps of no more
 * than so many: scales of any kind, and black keys.
 */
const GLISSANDO = { tones: 7, reach: 7, step: 3 } as const;
/** Its tones follow each other within these (milliseconds), on average as fast as no hand plays note after note… */
const GLIDES = { least: 8, most: 90, onAverage: 58 } as const;
/** …and faster than thirty-seconds would, by so much. */
const FASTER_THAN_THIRTY_SECONDS = 0.85;
/** It lasts so long (quarters), or there is nothing to write it from. */
const LASTS_LEAST = 0.2;
/** After the quick tones of a mordent or turn the last one lasts so many times as long as one of them. */
const STAYS = 2.2;

/** Finds the ornaments of a part; notes in order of onset. No note is in two of them. */
export const ornamentsIn = (
  notes: readonly StepNote[],
  context: StepContext,
  sought: OrnamentsSought,
): readonly Ornament[] => {
  const found: Ornament[] = [];
  const taken = new Set<StepNote>();
  const before: number[] = [];
  let beats: readonly Beat[] | undefined;
  const drawn = (tones: readonly StepNote[]): boolean => {
    beats ??= beatsOfBars(context.bars, context.ppq);
    const all = beats;
    return tones.every(({ onset }) => liesOnGrid(onset, all));
  };
  const reader = new FigureReader(notes, context);
  const unpitched = isUnpitched(context.instrument);
  // Nothing that is further apart than this at the fastest tempo is looked at.
  const near = (QUICK.most / 1000) * FASTEST * context.ppq;
  for (let index = 0; index + 1 < notes.length; index += 1) {
    const note = notes[index] as StepNote;
    if (taken.has(note) || !reader.hasNear(index, near)) continue;
    const figures = !unpitched && reader.mayBeginFigure(index);
    const ornament =
      (sought.ornaments && !unpitched ? reader.glissando(index) : null) ??
      (sought.tremolo && figures ? reader.tremolo(index) : null) ??
      (sought.ornaments && figures ? (reader.trill(index) ?? reader.turn(index) ?? reader.mordent(index)) : null) ??
      (sought.graces && (unpitched || reader.mayBeGrace(index)) ? reader.graces(index, taken) : null);
    if (ornament?.kind === 'grace') before.push(thirtySecondsBefore(ornament, context));
    if (!ornament || comesTooEarly(ornament, context) || drawn([...ornament.others, ornament.main])) continue;
    const all = [ornament.main, ...ornament.others];
    if (all.some((tone) => taken.has(tone))) continue;
    for (const tone of all) taken.add(tone);
    found.push(ornament);
  }
  const usual = median(before) ?? 0;
  return found.filter((ornament) => ornament.kind !== 'grace' || !isThirtySecond(ornament, usual, context));
};

/** Thirty-seconds slower than this (milliseconds) can be told from grace notes: they stand where they are written. */
const TOLD_FROM_GRACE = 78;
/** A grace note comes nearer than this to its note, in thirty-seconds; and so do most of a part. */
const NEARER = 0.86;
const MOSTLY_NEARER = 0.76;

/** How long a grace note comes before the next tone, in ticks. */
const comesBefore = ({ main, others }: Ornament): number => (main.onset - (others[0] ?? main).onset) / others.length;

const thirtySecondsBefore = (grace: Ornament, { ppq }: StepContext): number => comesBefore(grace) / (ppq / 8);

const comesTooEarly = (ornament: Ornament, { tempoMap }: StepContext): boolean =>
  ornament.kind === 'grace' && comesBefore(ornament) > GRACE.most * tempoMap.ticksPerMillisecond(ornament.onset);

/** True for a grace note that may as well be a thirty-second, in a part whose others may as well. */
const isThirtySecond = (grace: Ornament, usual: number, context: StepContext): boolean =>
  context.ppq / 8 >= TOLD_FROM_GRACE * context.tempoMap.ticksPerMillisecond(grace.onset) &&
  (thirtySecondsBefore(grace, context) > NEARER || usual > MOSTLY_NEARER);

/** Quarters a second. */
const FASTEST = 5;

const heard = (note: StepNote, from: number): HeardTone => ({
  id: note.id,
  pitch: note.pitch,
  velocity: note.velocity,
  at: note.onset - from,
  duration: note.duration,
});

/** Ticks from one tone of a figure to the next, on average. */
const meanGap = (tones: readonly StepNote[]): number =>
  ((tones[tones.length - 1] as StepNote).onset - (tones[0] as StepNote).onset) / (tones.length - 1);

class FigureReader {
  constructor(
    private readonly notes: readonly StepNote[],
    private readonly context: StepContext,
  ) {}

  /** True where another note begins soon after. */
  hasNear(index: number, near: number): boolean {
    const [note, next] = [this.notes[index], this.notes[index + 1]];
    return !!note && !!next && next.onset - note.onset <= near;
  }

  /** True where a note of the same pitch or a neighbour follows quickly: few do, and only those are looked at further. */
  mayBeginFigure(index: number): boolean {
    const note = this.notes[index] as StepNote;
    const perMs = this.perMs(note);
    for (let at = index + 1; at < this.notes.length; at += 1) {
      const { onset, pitch } = this.notes[at] as StepNote;
      const gap = onset - note.onset;
      if (gap > QUICK.most * perMs) return false;
      if (gap >= QUICK.least * perMs && Math.abs(pitch - note.pitch) <= NEIGHBOUR) return true;
    }
    return false;
  }

  /** True where a note is as short as grace notes are. */
  mayBeGrace(index: number): boolean {
    const note = this.notes[index] as StepNote;
    return note.duration <= GRACE_LASTS * this.perMs(note);
  }

  private perMs({ onset }: StepNote): number {
    return this.context.tempoMap.ticksPerMillisecond(onset);
  }

  /** The next note after another that fits and follows quickly; undefined where there is none. */
  private next(index: number, fits: (note: StepNote) => boolean): number | undefined {
    const note = this.notes[index] as StepNote;
    const perMs = this.perMs(note);
    for (let at = index + 1; at < this.notes.length; at += 1) {
      const other = this.notes[at] as StepNote;
      const gap = other.onset - note.onset;
      if (gap > QUICK.most * perMs) return undefined;
      if (gap >= QUICK.least * perMs && fits(other)) return at;
    }
    return undefined;
  }

  /** Notes that follow each other quickly from one on, as long as each fits. */
  private run(index: number, fits: (note: StepNote, count: number, before: StepNote) => boolean): StepNote[] {
    const tones = [this.notes[index] as StepNote];
    for (let at: number | undefined = index; at !== undefined; ) {
      const before = this.notes[at] as StepNote;
      at = this.next(at, (note) => fits(note, tones.length, before));
      if (at !== undefined) tones.push(this.notes[at] as StepNote);
    }
    return tones;
  }

  /** True where tones follow each other faster than notes do, and about evenly. */
  private isQuick(tones: readonly StepNote[], slowest: number = QUICK_ON_AVERAGE): boolean {
    const first = tones[0] as StepNote;
    const mean = meanGap(tones);
    if (mean > slowest * this.perMs(first) || mean > SHARE_OF_QUARTER * this.context.ppq) return false;
    let [least, most] = [Number.POSITIVE_INFINITY, 0];
    for (let at = 1; at < tones.length; at += 1) {
      const gap = (tones[at] as StepNote).onset - (tones[at - 1] as StepNote).onset;
      least = Math.min(least, gap);
      most = Math.max(most, gap);
    }
    return most <= EVEN_ENOUGH * least;
  }

  /** One note for all tones of a figure, from the first to the end of the last. */
  private one(kind: Ornament['kind'], main: StepNote, tones: readonly StepNote[], signs: NoteSigns): Ornament {
    const onset = (tones[0] as StepNote).onset;
    const end = Math.max(...tones.map(endOf));
    return {
      kind,
      main,
      onset,
      duration: end - onset,
      signs: { ...signs, tones: tones.map((tone) => heard(tone, onset)) },
      others: tones.filter((tone) => tone !== main),
    };
  }

  /** One pitch again and again. */
  tremolo(index: number): Ornament | null {
    const first = this.notes[index] as StepNote;
    const tones = this.run(index, ({ pitch }) => pitch === first.pitch);
    if (tones.length < TREMOLO_TONES || !this.isQuick(tones)) return null;
    const last = tones[tones.length - 1] as StepNote;
    const mean = meanGap(tones);
    const thirtySecond = this.context.ppq / 8;
    const off = Math.abs(last.onset - first.onset - thirtySecond * (tones.length - 1));
    const measured = off <= MEASURED_TO * this.perMs(first);
    if (mean > TREMOLO_FAST * this.perMs(first) && measured) return null;
    return this.one('tremolo', first, tones, { marks: ['tremolo'] });
  }

  /** Tones that run one way to the note that they lead to: the first is written, as long as they last. */
  glissando(index: number): Ornament | null {
    const first = this.notes[index] as StepNote;
    const perMs = this.perMs(first);
    const tones = [first];
    let way = 0;
    for (let at = index + 1; at < this.notes.length; at += 1) {
      const before = tones[tones.length - 1] as StepNote;
      const note = this.notes[at] as StepNote;
      const gap = note.onset - before.onset;
      if (gap > GLIDES.most * perMs) break;
      const by = note.pitch - before.pitch;
      if (gap < GLIDES.least * perMs || by === 0 || Math.abs(by) > GLISSANDO.step) continue;
      if (way !== 0 && Math.sign(by) !== way) continue;
      way = Math.sign(by);
      tones.push(note);
    }
    const to = tones[tones.length - 1] as StepNote;
    if (tones.length < GLISSANDO.tones || Math.abs(to.pitch - first.pitch) < GLISSANDO.reach) return null;
    const { ppq } = this.context;
    const thirtySecond = (ppq / 8) * FASTER_THAN_THIRTY_SECONDS;
    if (!this.isQuick(tones, GLIDES.onAverage) || meanGap(tones) > thirtySecond) return null;
    const duration = to.onset - first.onset;
    if (duration < LASTS_LEAST * ppq) return null;
    const run = tones.slice(0, -1);
    const signs = { glissando: { to: to.id }, tones: run.map((tone) => heard(tone, first.onset)) };
    return { kind: 'glissando', main: first, onset: first.onset, duration, signs, others: run.slice(1) };
  }

  /** Two neighbours by turns; the lower one is written. */
  trill(index: number): Ornament | null {
    const first = this.notes[index] as StepNote;
    let other: number | undefined;
    const tones = this.run(index, ({ pitch }, count, before) => {
      if (count === 1) {
        if (pitch === first.pitch || Math.abs(pitch - first.pitch) > NEIGHBOUR) return false;
        other = pitch;
        return true;
      }
      return pitch === (before.pitch === other ? first.pitch : other);
    });
    if (tones.length < TRILL_TONES || !this.isQuick(tones)) return null;
    const lower = Math.min(first.pitch, other ?? first.pitch);
    const main = tones.find(({ pitch }) => pitch === lower) as StepNote;
    return this.one('trill', main, tones, { marks: ['trill'] });
  }

  /** The neighbour above, the note, the neighbour below, and the note, which stays; the note may come first as well. */
  turn(index: number): Ornament | null {
    const first = this.notes[index] as StepNote;
    const tones = this.run(index, (_, count) => count < 5);
    for (const from of [1, 0]) {
      // With the note first there are five tones, and its own pitch is the first.
      const [above, main, below, stays] = tones.slice(from) as [StepNote?, StepNote?, StepNote?, StepNote?];
      if (!above || !main || !below || !stays || main.pitch !== stays.pitch) continue;
      if (from === 1 && first.pitch !== main.pitch) continue;
      const shape = isNeighbour(above.pitch - main.pitch) && isNeighbour(main.pitch - below.pitch);
      const all = tones.slice(0, from + 4);
      if (!shape || !this.isQuick(all, HURRIED) || !this.stays(all) || this.isMeasured(all)) continue;
      return this.one('turn', stays, all, { marks: ['turn'] });
    }
    return null;
  }

  /** The note, a neighbour, and the note, which stays. */
  mordent(index: number): Ornament | null {
    const first = this.notes[index] as StepNote;
    const tones = this.run(index, ({ pitch }, count) =>
      count === 1
        ? pitch !== first.pitch && Math.abs(pitch - first.pitch) <= NEIGHBOUR
        : count === 2 && pitch === first.pitch,
    );
    if (tones.length !== 3 || !this.isQuick(tones, HURRIED) || !this.stays(tones) || this.isMeasured(tones))
      return null;
    const lower = (tones[1] as StepNote).pitch < first.pitch;
    return this.one('mordent', tones[2] as StepNote, tones, { marks: [lower ? 'mordent' : 'upperMordent'] });
  }

  /**
   * True where a figure of few tones leads to the beat, or keeps to sixteenth triplets, as notes do: an ornament begins where
   * its note stands.
   */
  private isMeasured(tones: readonly StepNote[]): boolean {
    const [first, last] = [tones[0] as StepNote, tones[tones.length - 1] as StepNote];
    const { ppq } = this.context;
    const eighth = ppq / 2;
    const off = ({ onset }: StepNote) => Math.abs(onset - Math.round(onset / eighth) * eighth) / ppq;
    if (off(last) <= ON_LINE && off(first) >= OFF_LINE) return true;
    const mean = meanGap(tones);
    const perMs = this.perMs(first);
    return mean >= SLOW_ENOUGH * perMs && Math.abs(mean - ppq / 6) <= TRIPLET_TO * perMs;
  }

  /** True where the last tone of a figure is held while the others hurried by. */
  private stays(tones: readonly StepNote[]): boolean {
    return (tones[tones.length - 1] as StepNote).duration >= STAYS * meanGap(tones);
  }

  /** Up to three short notes close before a longer one. */
  graces(index: number, taken: ReadonlySet<StepNote>): Ornament | null {
    const first = this.notes[index] as StepNote;
    const perMs = this.perMs(first);
    const unpitched = isUnpitched(this.context.instrument);
    const tones: StepNote[] = [first];
    let at = index;
    while (tones.length <= MOST_GRACES) {
      const before = tones[tones.length - 1] as StepNote;
      const next = this.graceGoesTo(at, perMs, unpitched);
      if (next === undefined || taken.has(this.notes[next] as StepNote)) return null;
      const main = this.notes[next] as StepNote;
      tones.push(main);
      at = next;
      const gap = main.onset - before.onset;
      if (main.duration >= Math.max(MUCH_LONGER * gap, MAIN_LASTS * perMs) || unpitched) break;
    }
    const main = tones.pop() as StepNote;
    if (tones.length > MOST_GRACES || !tones.every((tone) => this.isGraceOf(tone, main, perMs, unpitched))) return null;
    const step = (main.onset - first.onset) / tones.length;
    if (tones.length > 1 && step > SEVERAL_GRACES * perMs) return null;
    if (!unpitched && this.comesFromRun(index, step, first)) return null;
    return {
      kind: unpitched ? 'flam' : 'grace',
      main,
      onset: main.onset,
      duration: main.duration,
      signs: { graces: tones.map((tone) => heard(tone, main.onset)) },
      others: tones,
    };
  }

  private graceGoesTo(index: number, perMs: number, unpitched: boolean): number | undefined {
    const grace = this.notes[index] as StepNote;
    for (let at = index + 1; at < this.notes.length; at += 1) {
      const { onset, pitch } = this.notes[at] as StepNote;
      const gap = (onset - grace.onset) / perMs;
      if (gap > (unpitched ? FLAM_MOST : MAY_BE_GRACE)) return undefined;
      const reach = Math.abs(pitch - grace.pitch);
      // A tone that begins with it makes it a chord.
      if (!unpitched && gap < GRACE.least && reach <= GRACE_REACH) return undefined;
      if (gap >= GRACE.least && (unpitched ? reach === 0 : reach > 0 && reach <= GRACE_REACH)) return at;
    }
    return undefined;
  }

  private isGraceOf(tone: StepNote, main: StepNote, perMs: number, unpitched: boolean): boolean {
    if (unpitched) return tone.velocity <= SOFTER * main.velocity;
    return (
      tone.duration <= GRACE_LASTS * perMs &&
      tone.duration <= main.duration / 2 &&
      endOf(tone) <= main.onset + GRACE_OVERLAPS * perMs &&
      (tone.duration <= ROUGH_OVERLAPS * (main.onset - tone.onset) || !playedRoughly(this.notes, this.context))
    );
  }

  /** True where another note of the line begins as shortly before it: then it is one of a run. */
  private comesFromRun(index: number, step: number, { onset, pitch }: StepNote): boolean {
    for (let at = index - 1; at >= 0; at -= 1) {
      const before = this.notes[at] as StepNote;
      if (onset - before.onset > STANDS_APART * step) return false;
      if (Math.abs(before.pitch - pitch) <= GRACE_REACH) return true;
    }
    return false;
  }
}

const isNeighbour = (semitones: number): boolean => semitones >= 1 && semitones <= NEIGHBOUR;
