/** Pickups: a first bar that is not whole. Found in a file that comes in, and set or taken away by a person. */
import type { Arrangement, Part } from '../model/arrangement.js';
import type { Change, Edit } from '../model/edit.js';
import { overridesChange } from '../model/edit.js';
import { isBarOverride } from '../model/overrides.js';
import type { Passage } from '../model/plan.js';
import {
  createMeterMap,
  DEFAULT_METER,
  type Meter,
  type MeterChange,
  pickupOf,
  ticksPerBar,
} from '../time/meterMap.js';
import { ticks } from '../time/units.js';

/** A first bar that is silent for so much of it is a pickup padded with rests; judged by tunes remembered. */
const LEAST_SILENCE = 1 / 2;
/** A first meter lasts so many thirty-seconds: what is no multiple of them is no bar that one could write. */
const PICKUP_UNIT = 1 / 8;
/** A start this near to a place of the eighths belongs there, in quarters. */
const NEAR_EIGHTH = 0.15;

const firstMeter = (meters: readonly MeterChange[]): Meter => meters.find(({ tick }) => tick <= 0) ?? DEFAULT_METER;

/** True where the first meter lasts one bar or less, and the bars after it are longer. */
const beginsWithShortBar = (meters: readonly MeterChange[], ppq: number): boolean => {
  const [first, second] = meters;
  if (!first || !second || first.tick > 0) return false;
  return (
    second.tick % (ppq * PICKUP_UNIT) === 0 &&
    second.tick <= ticksPerBar(first, ppq) &&
    second.tick < ticksPerBar(second, ppq)
  );
};

/** Where music that begins at `onset` (ticks) begins on the page: on an eighth where it is near one, else on a sixteenth. */
const placeOfFirst = (onset: number, ppq: number): number => {
  const eighth = Math.round((onset * 2) / ppq) * (ppq / 2);
  if (Math.abs(eighth - onset) <= NEAR_EIGHTH * ppq) return Math.round(eighth);
  return Math.round(Math.round((onset * 4) / ppq) * (ppq / 4));
};

/** Where the first note that is not muted begins, in ticks; null where there is none. */
export const firstOnset = (parts: readonly Pick<Part, 'notes'>[]): number | null => {
  const first = Math.min(
    ...parts.map(({ notes }) => notes.find((note) => !note.muted)?.onset ?? Number.POSITIVE_INFINITY),
  );
  return Number.isFinite(first) ? first : null;
};

/** Where the page would begin if the first bar were a pickup, in ticks; null where it cannot be one. */
export const possiblePickup = ({
  meters,
  ppq,
  parts,
}: Pick<Arrangement, 'meters' | 'ppq' | 'parts'>): number | null => {
  if (beginsWithShortBar(meters, ppq)) return 0;
  const onset = firstOnset(parts);
  if (onset === null) return null;
  const bar = createMeterMap(
    meters.map(({ pickup: _, ...change }) => change),
    ppq,
  ).barAt(0);
  const place = placeOfFirst(onset, ppq);
  return place > 0 && place < bar.end ? place : null;
};

/** The meters of what came in, its first bar a pickup where it is a short one or silent for half of it. */
export const withPickupFound = (arrangement: Pick<Arrangement, 'meters' | 'ppq' | 'parts'>): readonly MeterChange[] => {
  const { meters, ppq } = arrangement;
  const begins = possiblePickup(arrangement);
  if (begins === null) return meters;
  if (begins > 0 && begins < ticksPerBar(firstMeter(meters), ppq) * LEAST_SILENCE) return meters;
  return meters.map((change, index) => (index === 0 ? { ...change, pickup: ticks(begins) } : change));
};

/** The Edit that gives the arrangement other meters; what is kept by bar numbers stays with its bars. */
const metersEdit = (arrangement: Arrangement, meters: readonly MeterChange[], label: string): Edit => {
  const by = Number(pickupOf(arrangement.meters) !== null) - Number(pickupOf(meters) !== null);
  const renumbered = (passage: Passage): Passage => ({
    ...passage,
    firstBar: Math.max(0, passage.firstBar + by),
    lastBar: Math.max(0, passage.lastBar + by),
  });
  const changes = arrangement.parts.flatMap((part): Change[] => {
    const { plan } = part;
    const breaks = (part.overrides?.list ?? []).filter(isBarOverride);
    const moved = breaks.map((override) => ({ ...override, bar: Math.max(0, override.bar + by) }));
    return [
      ...(plan && plan.passages.length > 0
        ? [
            {
              kind: 'partFields',
              partId: part.id,
              before: { plan },
              after: { plan: { ...plan, passages: plan.passages.map(renumbered) } },
            } as const,
          ]
        : []),
      ...(breaks.length > 0 ? [overridesChange(part, moved, breaks)] : []),
    ];
  });
  return {
    label,
    changes: [
      { kind: 'arrangementFields', before: { meters: arrangement.meters }, after: { meters } },
      ...(by === 0 ? [] : changes),
    ],
  };
};

/**
 * The Edit that makes the first bar a pickup, or a whole bar again; null where it cannot be one, since music begins with
 * the bar.
 */
export const pickupEdit = (arrangement: Arrangement): Edit | null => {
  const { meters } = arrangement;
  if (pickupOf(meters) !== null) {
    const whole = meters.map(({ pickup: _, ...change }) => change);
    return metersEdit(arrangement, whole, 'Count the first bar as bar 1');
  }
  const begins = possiblePickup(arrangement);
  if (begins === null) return null;
  const [first, ...more] = meters.length > 0 ? meters : [{ tick: ticks(0), ...DEFAULT_METER }];
  return metersEdit(
    arrangement,
    [{ ...(first as MeterChange), pickup: ticks(begins) }, ...more],
    'Count the first bar as a pickup',
  );
};

/** A length as a meter: the plainest that says it exactly; null where none does. */
export const meterOfLength = (length: number, ppq: number): Meter | null => {
  for (const denominator of [4, 8, 16, 32]) {
    const numerator = (length * denominator) / (ppq * 4);
    if (Number.isInteger(numerator) && numerator >= 1) return { numerator, denominator };
  }
  return null;
};

/**
 * The meters with the bar lines moved, so that what begins at tick 0 is a pickup of `length` ticks; null where there is
 * more than one meter, where the pickup would be no shorter than a bar, or no meter says its length.
 */
export const withBarLinesMoved = (
  { meters, ppq }: Pick<Arrangement, 'meters' | 'ppq'>,
  length: number,
): readonly MeterChange[] | null => {
  const meter = firstMeter(meters);
  if (meters.some(({ tick }) => tick > 0) || length >= ticksPerBar(meter, ppq)) return null;
  const short = meterOfLength(length, ppq);
  if (!short) return null;
  const { numerator, denominator, groups } = meter;
  const whole = { numerator, denominator, ...(groups ? { groups } : {}) };
  return [
    { tick: ticks(0), ...short, pickup: ticks(0) },
    { tick: ticks(length), ...whole },
  ];
};

/** The Edit that moves the bar lines so; null where it cannot be done. */
export const barLinesEdit = (arrangement: Arrangement, length: number): Edit | null => {
  const meters = withBarLinesMoved(arrangement, length);
  return meters && metersEdit(arrangement, meters, 'Move the bar lines');
};
