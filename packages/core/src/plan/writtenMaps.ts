/** The time maps of an arrangement in written units, shared by its parts. */
import { type Arrangement, lastTick, type Part, type PartId } from '../model/arrangement.js';
import type { Override } from '../model/overrides.js';
import type { SwungPassage } from '../model/swing.js';
import type { StepContext } from '../reading/context.js';
import { sharedSwing } from '../reading/swing.js';
import { type Bar, createMeterMap, type MeterMap, pickupOf } from '../time/meterMap.js';
import { createTempoMap, type TempoMap } from '../time/tempoMap.js';
import { rescaleTicks, WRITTEN_PPQ } from '../time/units.js';
import { earlierPartsOf, otherPartsOf } from './context.js';

/** Tempo, meter, bars and key of an arrangement, and what the parts know of each other. */
export interface WrittenMaps {
  readonly tempoMap: TempoMap;
  readonly meterMap: MeterMap;
  readonly bars: readonly Bar[];
  readonly fifths: number;
  /** The same for the same times. */
  readonly key: string;
  /** Starts of a part as played, rising. */
  readonly strikesOf: StepContext['strikesOf'];
  /** Where the parts swing together. */
  readonly swing: SwungPassage | null;
  /** Notes of the parts above one. */
  readonly earlierPartsOf: (part: Part) => StepContext['earlierParts'];
  readonly otherPartsOf: (part: Part) => StepContext['otherParts'];
}

/** A note that begins this much before a pickup, in quarters, belongs to it still; an earlier one shows the whole bar. */
const EARLY_FOR_PICKUP = 1 / 4;

/** Where the page begins, in ticks: at a padded pickup, unless a note lies before it. */
export const pageBegins = ({ meters, parts, ppq }: Pick<Arrangement, 'meters' | 'parts' | 'ppq'>): number => {
  const pickup = pickupOf(meters) ?? 0;
  if (pickup === 0) return 0;
  const earliest = pickup - ppq * EARLY_FOR_PICKUP;
  // Notes are in order: those that matter come first.
  const before = parts.some(({ notes }) => {
    for (const note of notes) {
      if (note.onset >= earliest) return false;
      if (!note.muted) return true;
    }
    return false;
  });
  return before ? 0 : pickup;
};

const lasts = new WeakMap<readonly Override[], number>();

/** How far a person has the page reach, whatever is played; once for each list of corrections. */
const heldTo = (list: readonly Override[]): number => {
  if (list.length === 0) return 0;
  let last = lasts.get(list);
  if (last === undefined) {
    last = 0;
    for (const override of list) {
      if (override.kind === 'writtenEnd' || override.kind === 'writtenStart') last = Math.max(last, override.at);
      else if (override.kind === 'pageOnly') last = Math.max(last, override.onset + override.duration);
    }
    lasts.set(list, last);
  }
  return last;
};

type Times = Pick<WrittenMaps, 'tempoMap' | 'meterMap' | 'bars'>;

/** The times last worked out, by what they were made of: what is the same stays the same object, and results hang on it. */
const lastTimes = new Map<string, Times>();
const MOST_TIMES = 2;

const timesOf = (key: string, make: () => Omit<Times, 'bars'>, end: number): Times => {
  const known = lastTimes.get(key);
  const { tempoMap, meterMap } = known ?? make();
  const bars = meterMap.barsTo(end);
  const times = known?.bars.length === bars.length ? known : { tempoMap, meterMap, bars };
  lastTimes.delete(key);
  lastTimes.set(key, times);
  for (const oldest of lastTimes.keys()) if (lastTimes.size > MOST_TIMES) lastTimes.delete(oldest);
  return times;
};

/** Builds the maps in written units; bars reach a full bar past the last note, as played or as a person has it written. */
export const writtenMaps = (
  arrangement: Pick<Arrangement, 'ppq' | 'tempos' | 'meters' | 'keys' | 'parts'>,
): WrittenMaps => {
  const scaled = <Item extends { readonly tick: number }>(items: readonly Item[]) =>
    items.map((item) => ({ ...item, tick: rescaleTicks(item.tick, arrangement.ppq, WRITTEN_PPQ) }));
  const begins = rescaleTicks(pageBegins(arrangement), arrangement.ppq, WRITTEN_PPQ);
  const played = rescaleTicks(lastTick(arrangement.parts), arrangement.ppq, WRITTEN_PPQ);
  const end = Math.max(played, ...arrangement.parts.map(({ overrides }) => heldTo(overrides?.list ?? [])));
  const made = JSON.stringify([arrangement.ppq, arrangement.tempos, arrangement.meters, begins]);
  const { tempoMap, meterMap, bars } = timesOf(
    made,
    () => ({
      tempoMap: createTempoMap(scaled(arrangement.tempos), WRITTEN_PPQ),
      meterMap: createMeterMap(scaled(arrangement.meters), WRITTEN_PPQ, begins),
    }),
    end + WRITTEN_PPQ * 4,
  );
  const beats = JSON.stringify([arrangement.ppq, arrangement.meters, begins]);
  const swing = sharedSwing(arrangement.parts, WRITTEN_PPQ / arrangement.ppq, { bars, ppq: WRITTEN_PPQ }, beats);
  return {
    tempoMap,
    meterMap,
    bars,
    swing,
    fifths: arrangement.keys[0]?.fifths ?? 0,
    key: JSON.stringify([arrangement.ppq, arrangement.tempos, arrangement.meters, arrangement.keys, begins, swing]),
    earlierPartsOf: (part) => earlierPartsOf(arrangement, part, WRITTEN_PPQ),
    otherPartsOf: (part) => otherPartsOf(arrangement, part, WRITTEN_PPQ),
    strikesOf: (partId) =>
      arrangement.parts
        .find((part) => part.id === partId)
        ?.notes.map(({ onset, velocity }) => ({
          onset: rescaleTicks(onset, arrangement.ppq, WRITTEN_PPQ),
          velocity,
        })) ?? [],
  };
};
