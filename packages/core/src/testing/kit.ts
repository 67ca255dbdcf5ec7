/** What tests build their music with. */

import { instrumentById } from '../instruments/instruments.js';
import type { Arrangement, Note, Part, PartEvent } from '../model/arrangement.js';
import { createMadeIds } from '../model/madeIds.js';
import type { PercussionMap } from '../model/percussionMap.js';
import type { WrittenNote } from '../plan/written.js';
import type { StepContext } from '../reading/context.js';
import type { StepNote } from '../reading/stepNote.js';
import { createMeterMap, type Meter } from '../time/meterMap.js';
import { createTempoMap } from '../time/tempoMap.js';
import { ticks, type WrittenUnits } from '../time/units.js';

/** At 480 PPQ and 125 quarters a minute one tick is one millisecond: places in tests read as both. */
export const PPQ = 480;
const MILLISECOND_TICKS = 480_000;

let nextId = 1;

/** Notes have ids from 1 on again: each file of tests begins so, as if it were alone. */
export const beginIds = (): void => {
  nextId = 1;
};

/** A note by place: pitch, onset, duration, velocity. */
export const note = (pitch: number, onset: number, duration: number, more: Partial<StepNote> = {}): StepNote => ({
  id: nextId++,
  pitch,
  onset: ticks(onset),
  duration: ticks(duration),
  velocity: 80,
  channel: 0,
  ...more,
});

/** A step's context in 4/4, or another meter, where a tick is a millisecond. */
export const contextIn = (
  meter: Meter = { numerator: 4, denominator: 4 },
  more: {
    readonly events?: readonly PartEvent[];
    readonly instrument?: string;
    readonly percussion?: PercussionMap;
    readonly until?: number;
  } = {},
): StepContext => {
  const meterMap = createMeterMap([{ tick: ticks(0), ...meter }], PPQ);
  return {
    ppq: PPQ,
    tempoMap: createTempoMap([{ tick: ticks(0), microsecondsPerQuarter: MILLISECOND_TICKS }], PPQ),
    meterMap,
    bars: meterMap.barsTo(more.until ?? PPQ * 4 * 64),
    events: more.events ?? [],
    instrument: instrumentById(more.instrument ?? 'flute'),
    percussion: more.percussion ?? [],
    fifths: 0,
    newId: createMadeIds(new Map()).newId,
    swing: null,
    strikesOf: () => [],
    earlierParts: () => [],
    otherParts: () => [],
  };
};

/** Presses and lifts of the sustain pedal, in turn, at the given ticks. */
export const pedal = (...places: number[]): PartEvent[] =>
  places.map((tick, index) => ({
    id: index + 1,
    kind: 'controller',
    tick: ticks(tick),
    channel: 0,
    controller: 64,
    value: index % 2 === 0 ? 127 : 0,
  }));

/** "C4 0+480" for each note: what tests compare. */
export const placesOf = (notes: readonly { pitch: number; onset: number; duration: number }[]): string[] =>
  notes.map((n) => `${n.pitch} ${n.onset}+${n.duration}`);

/** A part around notes. */
export const partWith = (notes: readonly Note[], more: Partial<Part> = {}): Part => ({
  id: 1,
  name: 'Flute',
  instrument: 'flute',
  channel: 0,
  program: 73,
  events: [],
  notes,
  ...more,
});

/** An arrangement around parts, in 4/4. */
export const arrangementWith = (parts: readonly Part[], more: Partial<Arrangement> = {}): Arrangement => ({
  title: 'Test piece',
  ppq: PPQ,
  tempos: [{ tick: ticks(0), microsecondsPerQuarter: MILLISECOND_TICKS }],
  meters: [{ tick: ticks(0), numerator: 4, denominator: 4 }],
  keys: [],
  markers: [],
  parts,
  silentTracks: [],
  nextNoteId: Math.max(0, ...parts.flatMap((part) => part.notes.map((n) => n.id))) + 1,
  nextPartId: Math.max(0, ...parts.map((part) => part.id)) + 1,
  nextEventId: Math.max(0, ...parts.flatMap((part) => part.events.map((event) => event.id))) + 1,
  ...more,
});

/** A Written note; onset and duration in quarters. */
export const written = (
  pitch: number,
  onset: number,
  duration: number,
  more: Partial<WrittenNote> = {},
): WrittenNote => {
  const id = nextId++;
  return {
    id,
    sources: [id],
    pitch,
    onset: Math.round(onset * 10080) as WrittenUnits,
    duration: Math.round(duration * 10080) as WrittenUnits,
    velocity: 80,
    channel: 0,
    staccato: false,
    voice: 1,
    staff: 1,
    ...more,
  };
};
