/** A seeded performer: turns a score as composed into a recording with human timing and human litter. */

import { instrumentById, isUnpitched } from '../instruments/instruments.js';
import { withPickupFound } from '../meter/pickup.js';
import {
  type Arrangement,
  compareNotes,
  type Note,
  type Part,
  type TrackEvent,
  withEventIds,
} from '../model/arrangement.js';
import { type Chance, createChance } from '../model/chance.js';
import { createMeterMap, type MeterMap } from '../time/meterMap.js';
import { createTempoMap, type TempoChange, type TempoMap } from '../time/tempoMap.js';
import { rescaleTicks, ticks, WRITTEN_PPQ } from '../time/units.js';
import type { ComposedNote, ComposedPart, ComposedScore } from './composed.js';
import { loudnessOfPart, ornamented } from './ornamentsPlayed.js';
import { swungScore } from './swung.js';

/** How human the performance is. Times in milliseconds, shares from 0 to 1. */
export interface Performance {
  readonly seed: number;
  readonly ppq: number;
  /** Standard deviation of starts. */
  readonly spread: number;
  /** Played length over written length, lowest and highest. */
  readonly lengths: readonly [number, number];
  /** Share of notes with a double hidden under them. */
  readonly doubles: number;
  /** Share of notes with a brush of a neighbouring key. */
  readonly specks: number;
  /** The part that comes in early, and by how many milliseconds its first note does. */
  readonly earlyEntry?: { readonly part: string; readonly by: number };
  /** Late throughout, by so much. */
  readonly lean?: number;
  /** Standard deviation of a slow wandering about the click. */
  readonly drift?: number;
  /** Share of chords of three notes and more that are rolled. */
  readonly rolled?: number;
}

/** The demo's performance. */
export const DEMO_PERFORMANCE: Performance = {
  seed: 1871,
  ppq: 480,
  spread: 11,
  lengths: [0.8, 1.04],
  doubles: 0.04,
  specks: 0.02,
  earlyEntry: { part: 'Horn in F', by: 45 },
};

/** Shares of the written length that keys are held under a pedal, and that strokes last. */
const UNDER_PEDAL: readonly [number, number] = [0.3, 0.5];
/** With one pedal a bar, three notes in five are let go early. */
const EARLY_UNDER_PEDAL: readonly [number, number] = [0.4, 0.8];
const LET_GO_EARLY = 0.6;
/** Milliseconds for which a pedal is up at least, from one press to the next. */
const FOOT_UP = 20;
/** Milliseconds from tone to tone of a chord that is to be rolled. */
const ROLL_STEP = 42;
/** Standard deviation of a note's velocity where the part's level is given. */
const LEVEL_SPREAD = 5;
/** How much of the wandering is kept from one start to the next. */
const DRIFT_MEMORY = 0.92;
/** From here up, keys belong to the right hand. */
const RIGHT_HAND = 62;
const STROKES: readonly [number, number] = [0.2, 0.3];

type Draft = Omit<Note, 'id'>;

/** A score performed, as an arrangement whose parts hold the recording. The same seed gives the same notes. */
export const perform = (score: ComposedScore, performance: Performance): Arrangement => {
  const toTicks = (units: number) => rescaleTicks(units, WRITTEN_PPQ, performance.ppq);
  const tempos: TempoChange[] = score.tempos.map((tempo) => ({
    tick: toTicks(tempo.tick),
    microsecondsPerQuarter: Math.round(60_000_000 / tempo.quartersPerMinute),
  }));
  const tempoMap = createTempoMap(tempos, performance.ppq);
  const meters = score.meters.map((meter) => ({ ...meter, tick: toTicks(meter.tick) }));
  const meterMap = createMeterMap(meters, performance.ppq);
  let nextNoteId = 1;
  let nextEventId = 1;
  const parts = swungScore(score).parts.map((part, index): Part => {
    const player = createPlayer(part, performance, tempoMap, createChance(performance.seed + 7919 * index), meterMap);
    const { notes, added, events } = player();
    const firstEvent = nextEventId;
    nextEventId += events.length;
    return {
      id: index + 1,
      name: part.name,
      instrument: part.instrument,
      channel: part.channel,
      program: part.program,
      events: withEventIds(events, firstEvent),
      notes: [...notes, ...added].map((note) => ({ ...note, id: nextNoteId++ })).sort(compareNotes),
    };
  });
  return {
    title: score.title,
    ppq: performance.ppq,
    tempos,
    meters: withPickupFound({ meters, ppq: performance.ppq, parts }),
    keys: score.keys.map((key) => ({ ...key, tick: toTicks(key.tick) })),
    markers: score.markers.map((marker) => ({ ...marker, tick: toTicks(marker.tick) })),
    parts,
    silentTracks: [],
    nextNoteId,
    nextPartId: parts.length + 1,
    nextEventId,
  };
};

const createPlayer =
  (part: ComposedPart, performance: Performance, tempoMap: TempoMap, chance: Chance, meterMap: MeterMap) =>
  (): { notes: Draft[]; added: Draft[]; events: TrackEvent[] } => {
    const perMs = (tick: number) => tempoMap.ticksPerMillisecond(tick);
    let drift = performance.drift ? chance.normal() : 0;
    const place = (tick: number): number => {
      if (performance.drift) drift = DRIFT_MEMORY * drift + Math.sqrt(1 - DRIFT_MEMORY ** 2) * chance.normal();
      const off = chance.normal() * performance.spread + (performance.lean ?? 0) + drift * (performance.drift ?? 0);
      return Math.max(0, Math.round(tick + off * perMs(tick)));
    };
    const unpitched = isUnpitched(instrumentById(part.instrument));
    const notes: Draft[] = [];
    /** Tones that signs add; they draw on chances of their own, so that the rest is played as it would be without. */
    const added: Draft[] = [];
    const signs = createChance(performance.seed + 31);
    const loudAt = loudnessOfPart(part.dynamics);
    const events: TrackEvent[] = [];
    const chords = chordsOf(part.notes, performance.ppq);
    const shares = part.pedal === 'chord' ? UNDER_PEDAL : unpitched ? STROKES : performance.lengths;
    let pedalledBar = 0;
    /** A foot comes up before it goes down again: where the next chord is early, it does so early. */
    const press = ([down, up]: readonly [PedalEvent, PedalEvent]) => {
      const before = events[events.length - 1] as PedalEvent | undefined;
      const pressed = events[events.length - 2];
      const latest = down.tick - Math.round(FOOT_UP * perMs(down.tick));
      if (before && pressed && before.tick > latest)
        events[events.length - 1] = { ...before, tick: ticks(Math.max(pressed.tick + 1, latest)) };
      events.push(down, up);
    };
    chords.forEach((chord, index) => {
      const early = index === 0 && performance.earlyEntry?.part === part.name ? performance.earlyEntry.by : 0;
      const arrival = Math.max(0, place(chord.tick) - Math.round(early * perMs(chord.tick)));
      const bar = meterMap.barAt(chord.tick);
      if (part.pedal === 'chord') {
        const end = arrival + Math.max(...chord.tones.map((tone) => tone.length));
        press(pedalFor(part.channel, arrival, end, perMs, chance));
      } else if (part.pedal === 'bar' && bar.number !== pedalledBar) {
        press(pedalFor(part.channel, arrival, bar.end, perMs, chance));
        pedalledBar = bar.number;
      }
      // The hands are two players; one hand's chord is now and then rolled upwards.
      const hands = [chord.tones.filter((t) => t.pitch < RIGHT_HAND), chord.tones.filter((t) => t.pitch >= RIGHT_HAND)];
      const twoHands = part.instrument === 'piano';
      for (const tones of twoHands ? hands.filter((list) => list.length > 0) : [chord.tones]) {
        const own = twoHands ? Math.round((chance.normal() * performance.spread * perMs(arrival)) / 2) : 0;
        const rolled = tones.length >= 3 && isRolled(performance, chance);
        const gap = rolled ? chance.between(22, 38) : 0;
        tones.forEach((tone, rank) => {
          const apart = rolled ? gap * rank : chord.tones.length > 1 ? looseness(perMs(arrival), chance) : 0;
          const letGo = part.pedal === 'bar' && chance.chance(LET_GO_EARLY);
          const [low, high] = letGo ? EARLY_UNDER_PEDAL : shares;
          const length = Math.max(1, Math.round(tone.length * chance.between(low, high)));
          const velocity = Math.round(
            Math.min(118, Math.max(28, 72 + 9 * chance.normal() + (index % 4 === 0 ? 8 : 0))),
          );
          const unfolds = tone.composed.rolled ? ROLL_STEP * rank : 0;
          const onset = ticks(Math.max(0, arrival + own + Math.round((apart + unfolds) * perMs(arrival))));
          const meant = loudAt(tone.composed.onset);
          const draft = {
            pitch: tone.pitch,
            onset,
            duration: ticks(length),
            velocity: meant === null ? velocity : Math.round(meant + LEVEL_SPREAD * signs.normal()),
            channel: part.channel,
          };
          const played = ornamented(draft, tone.composed, perMs(arrival), signs);
          notes.push(played.main);
          added.push(...played.added);
        });
      }
    });
    letGoBeforeRepeats(notes, perMs);
    return { notes: [...notes, ...(unpitched ? [] : litterFor(notes, performance, perMs, chance))], added, events };
  };

const isRolled = ({ rolled }: Performance, chance: Chance): boolean => !!rolled && chance.chance(rolled);

/** How many milliseconds from its chord a tone is struck: whole ticks. */
const looseness = (ticksPerMs: number, chance: Chance): number =>
  Math.round(chance.between(-7, 7) * ticksPerMs) / ticksPerMs;

interface ComposedChord {
  readonly tick: number;
  readonly tones: { readonly pitch: number; readonly length: number; readonly composed: ComposedNote }[];
}

const chordsOf = (notes: readonly ComposedNote[], ppq: number): ComposedChord[] => {
  const chords: ComposedChord[] = [];
  for (const note of [...notes].sort((a, b) => a.onset - b.onset || a.pitch - b.pitch)) {
    const tick = rescaleTicks(note.onset, WRITTEN_PPQ, ppq);
    const tone = { pitch: note.pitch, length: rescaleTicks(note.duration, WRITTEN_PPQ, ppq), composed: note };
    const last = chords[chords.length - 1];
    if (last?.tick === tick) last.tones.push(tone);
    else chords.push({ tick, tones: [tone] });
  }
  return chords;
};

type PedalEvent = Extract<TrackEvent, { kind: 'controller' }>;

/** Down just after the chord, up just before its end. */
const pedalFor = (
  channel: number,
  arrival: number,
  end: number,
  perMs: (tick: number) => number,
  chance: Chance,
): readonly [PedalEvent, PedalEvent] => {
  const down = Math.round(arrival + chance.between(30, 70) * perMs(arrival));
  const up = Math.round(end - chance.between(45, 75) * perMs(end));
  return [
    { kind: 'controller', tick: ticks(down), channel, controller: 64, value: 127 },
    { kind: 'controller', tick: ticks(Math.max(down + 1, up)), channel, controller: 64, value: 0 },
  ];
};

/** A key must come up before it can go down again. */
const letGoBeforeRepeats = (notes: Draft[], perMs: (tick: number) => number): void => {
  const last = new Map<number, number>();
  notes.forEach((note, index) => {
    const before = last.get(note.pitch);
    const earlier = before === undefined ? undefined : notes[before];
    if (before !== undefined && earlier) {
      const latest = note.onset - Math.round(18 * perMs(note.onset));
      if (earlier.onset + earlier.duration > latest) {
        notes[before] = { ...earlier, duration: ticks(Math.max(1, latest - earlier.onset)) };
      }
    }
    last.set(note.pitch, index);
  });
};

const litterFor = (
  notes: readonly Draft[],
  performance: Performance,
  perMs: (tick: number) => number,
  chance: Chance,
): Draft[] => {
  const litter: Draft[] = [];
  for (const note of notes) {
    if (chance.chance(performance.doubles)) {
      const length = Math.min(note.duration * 0.2, 60 * perMs(note.onset));
      const onset = note.onset + chance.between(0.05, 0.6) * (note.duration - length);
      if (length >= 2)
        litter.push({ ...note, onset: ticks(Math.round(onset)), duration: ticks(Math.round(length)), velocity: 30 });
    }
    if (chance.chance(performance.specks)) {
      const onset = Math.max(0, Math.round(note.onset + chance.between(-12, 12) * perMs(note.onset)));
      const length = Math.max(1, Math.round(chance.between(12, 30) * perMs(note.onset)));
      litter.push({
        ...note,
        pitch: note.pitch + (chance.chance(0.5) ? 1 : -1),
        onset: ticks(onset),
        duration: ticks(length),
        velocity: 24,
      });
    }
  }
  return litter;
};
