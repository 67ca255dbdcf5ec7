/** Lanes: the values that a part, or the piece, has over time, each lane a list of points that hold or ramp to the next. */
import type { Arrangement, EventId, NoteId, Part, PartEvent, TrackEvent } from '../model/arrangement.js';
import { PEDAL_CONTROLLERS, PEDAL_DOWN } from '../reading/pedal.js';
import { type Ease, onRamp } from '../time/ramps.js';
import { lastIndexAtOrBefore } from '../time/search.js';
import { DEFAULT_MICROSECONDS_PER_QUARTER, quartersPerMinute, type TempoChange } from '../time/tempoMap.js';
import { ticks } from '../time/units.js';

/** What a lane shows. */
export type Lane =
  | { readonly kind: 'velocity' }
  | { readonly kind: 'controller'; readonly controller: number }
  | { readonly kind: 'pitchBend' }
  | { readonly kind: 'channelPressure' }
  /** In quarters a minute, of all parts. */
  | { readonly kind: 'tempo' };

/** Lanes of messages that a part holds. */
export type MessageLane = Exclude<Lane, { readonly kind: 'velocity' | 'tempo' }>;

/** A value at a place, in ticks; `ramp` is the ease with which it goes to the next, null where it holds. */
export interface LanePoint {
  readonly id: EventId | NoteId;
  readonly tick: number;
  readonly value: number;
  readonly ramp: Ease | null;
  /** Where a ramp of the tempo leads, where that is not the next point. */
  readonly to?: number;
}

/** Tells lanes apart. */
export const laneKey = (lane: Lane): string => (lane.kind === 'controller' ? `cc${lane.controller}` : lane.kind);

/** The lane of a key; undefined for anything else. */
export const laneOfKey = (key: string): Lane | undefined => {
  const controller = /^cc(\d{1,3})$/.exec(key);
  if (controller)
    return Number(controller[1]) < 128 ? { kind: 'controller', controller: Number(controller[1]) } : undefined;
  return key === 'velocity' || key === 'pitchBend' || key === 'channelPressure' || key === 'tempo'
    ? { kind: key }
    : undefined;
};

/** Controllers by name (MIDI 1.0 Detailed Specification, table 3); the others are known by their number. */
const CONTROLLERS: { readonly [controller: number]: string } = {
  0: 'bank',
  1: 'modulation',
  2: 'breath',
  4: 'foot',
  5: 'portamento time',
  7: 'volume',
  8: 'balance',
  10: 'pan',
  11: 'expression',
  64: 'sustain pedal',
  65: 'portamento',
  66: 'sostenuto',
  67: 'soft pedal',
  68: 'legato',
  69: 'hold 2',
  71: 'resonance',
  72: 'release time',
  73: 'attack time',
  74: 'brightness',
  91: 'reverb',
  93: 'chorus',
};

/** "Velocity", "Controller 11 expression", "Tempo". */
export const laneName = (lane: Lane): string => {
  switch (lane.kind) {
    case 'velocity':
      return 'Velocity';
    case 'controller': {
      const name = CONTROLLERS[lane.controller];
      return `Controller ${lane.controller}${name ? ` ${name}` : ''}`;
    }
    case 'pitchBend':
      return 'Pitch bend';
    case 'channelPressure':
      return 'Channel pressure';
    case 'tempo':
      return 'Tempo';
    default:
      return lane satisfies never;
  }
};

/** The least and the most that a lane's points can be, and the value that says nothing. */
export interface LaneBounds {
  readonly least: number;
  readonly most: number;
  readonly rest: number;
}

/** Slowest and fastest tempo that a person sets, in quarters a minute. */
const TEMPO_BOUNDS: LaneBounds = { least: 5, most: 400, rest: 120 };

/** See {@link LaneBounds}. */
export const laneBounds = (lane: Lane): LaneBounds => {
  if (lane.kind === 'tempo') return TEMPO_BOUNDS;
  if (lane.kind === 'velocity') return { least: 1, most: 127, rest: 80 };
  if (lane.kind === 'pitchBend') return { least: 0, most: 16_383, rest: 8192 };
  return { least: 0, most: 127, rest: lane.kind === 'controller' && [7, 11].includes(lane.controller) ? 100 : 0 };
};

/** The range of a part's bend in semitones each way: as it sets it by the registered parameter 0, or 2 (MIDI 1.0). */
export const bendRange = ({ events }: Pick<Part, 'events'>): number => {
  let range = rangeByEvents.get(events);
  if (range === undefined) {
    range = bendRangeOf(events);
    rangeByEvents.set(events, range);
  }
  return range;
};

/** Asked row by row and point by point: found once for the same events. */
const rangeByEvents = new WeakMap<readonly PartEvent[], number>();

const bendRangeOf = (events: readonly PartEvent[]): number => {
  let chosen = { coarse: 127, fine: 127 };
  let range = 2;
  for (const event of events) {
    if (event.kind !== 'controller') continue;
    if (event.controller === 101) chosen = { ...chosen, coarse: event.value };
    else if (event.controller === 100) chosen = { ...chosen, fine: event.value };
    else if (event.controller === 6 && chosen.coarse === 0 && chosen.fine === 0 && event.value > 0) range = event.value;
  }
  return range;
};

/** A value in a lane's own words: "84", "+0.50 semitones", "♩ = 96". */
export const laneValueInWords = (lane: Lane, value: number, range = 2): string => {
  if (lane.kind === 'tempo') return `♩ = ${Math.round(value * 100) / 100}`;
  if (lane.kind !== 'pitchBend') return String(Math.round(value));
  const semitones = ((value - 8192) / 8192) * range;
  return `${semitones >= 0 ? '+' : '−'}${Math.abs(semitones).toFixed(2)} semitones`;
};

/** True for a message that a lane shows. */
export const isInLane = (event: TrackEvent, lane: MessageLane): boolean =>
  event.kind === lane.kind &&
  (lane.kind !== 'controller' || (event as { controller: number }).controller === lane.controller);

const pointsByEvents = new WeakMap<readonly PartEvent[], Map<string, readonly LanePoint[]>>();

/** The points of a part's lane in order; notes' velocities at their starts. Made once for the same events. */
export const lanePoints = (
  part: Pick<Part, 'notes' | 'events'>,
  lane: Exclude<Lane, { kind: 'tempo' }>,
): readonly LanePoint[] => {
  if (lane.kind === 'velocity')
    return part.notes.map(({ id, onset, velocity }) => ({ id, tick: onset, value: velocity, ramp: null }));
  let known = pointsByEvents.get(part.events);
  if (!known) {
    known = new Map();
    pointsByEvents.set(part.events, known);
  }
  const key = laneKey(lane);
  let points = known.get(key);
  if (!points) {
    points = part.events.flatMap((event) =>
      isInLane(event, lane)
        ? [
            {
              id: event.id,
              tick: event.tick,
              value: (event as { value: number }).value,
              ramp: (event as { ramp?: number }).ramp ?? null,
            },
          ]
        : [],
    );
    known.set(key, points);
  }
  return points;
};

/** The points of the tempo lane; their ids are their places in the list. */
export const tempoPoints = (tempos: readonly TempoChange[]): readonly LanePoint[] =>
  tempos.map(({ tick, microsecondsPerQuarter, ramp }, id) => {
    // A ramp that leads to the next tempo goes along when that one is changed.
    const leadsElsewhere = ramp && ramp.to !== tempos[id + 1]?.microsecondsPerQuarter;
    return {
      id,
      tick,
      value: quartersPerMinute(microsecondsPerQuarter),
      ramp: ramp ? ramp.ease : null,
      ...(leadsElsewhere ? { to: quartersPerMinute(ramp.to) } : {}),
    };
  });

/** The lanes in which parts have something, velocity first; the tempo is always one. */
export const lanesWith = (parts: readonly Pick<Part, 'events'>[]): readonly Lane[] => {
  const controllers = new Set<number>();
  const kinds = new Set<string>();
  for (const { events } of parts) {
    for (const event of events) {
      if (event.kind === 'controller') controllers.add(event.controller);
      else kinds.add(event.kind);
    }
  }
  return [
    { kind: 'velocity' },
    { kind: 'tempo' },
    ...[...controllers].sort((a, b) => a - b).map((controller): Lane => ({ kind: 'controller', controller })),
    ...(kinds.has('pitchBend') ? [{ kind: 'pitchBend' } as const] : []),
    ...(kinds.has('channelPressure') ? [{ kind: 'channelPressure' } as const] : []),
  ];
};

/** The value of a lane at a place: of the point before it, on its way where it ramps; `rest` before the first. */
export const valueAt = (points: readonly LanePoint[], tick: number, rest: number): number => {
  const at = lastIndexAtOrBefore(points, tick, (point) => point.tick);
  const point = points[at];
  if (!point) return rest;
  const next = points[at + 1];
  if (point.ramp === null || !next) return point.value;
  return onRamp(point.value, point.to ?? next.value, (tick - point.tick) / (next.tick - point.tick), point.ramp);
};

/** The tempo where none is said, in quarters a minute (Standard MIDI File 1.0). */
export const TEMPO_OF_SILENCE = quartersPerMinute(DEFAULT_MICROSECONDS_PER_QUARTER);

/** The tempo at a place, in quarters a minute. */
export const tempoAt = (tempos: readonly TempoChange[], tick: number): number =>
  valueAt(tempoPoints(tempos), tick, TEMPO_OF_SILENCE);

/** An arrangement's points in a lane: of one part, or the tempo's. */
export const pointsOf = (
  { tempos }: Pick<Arrangement, 'tempos'>,
  part: Part | undefined,
  lane: Lane,
): readonly LanePoint[] => (lane.kind === 'tempo' ? tempoPoints(tempos) : part ? lanePoints(part, lane) : []);

const laneOfEvent = (event: TrackEvent): string | null =>
  event.kind === 'controller'
    ? `${event.channel} ${event.controller}`
    : event.kind === 'pitchBend' || event.kind === 'channelPressure'
      ? `${event.channel} ${event.kind}`
      : null;

/**
 * The messages as a file holds them: each ramp as single values, one where the rounded value changes and never more than one
 * each millisecond. `ticksPerMillisecond` says how many ticks that is at a place.
 */
export const expandedEvents = <Event extends TrackEvent>(
  events: readonly Event[],
  ticksPerMillisecond: (tick: number) => number,
): readonly Event[] => {
  if (!events.some((event) => 'ramp' in event && event.ramp !== undefined)) return events;
  const next = new Map<string, Event>();
  const result: Event[][] = [];
  for (let index = events.length - 1; index >= 0; index -= 1) {
    const event = events[index] as Event;
    const key = laneOfEvent(event);
    const after = key === null ? undefined : next.get(key);
    if (key !== null) next.set(key, event);
    result.push('ramp' in event && event.ramp !== undefined ? rampSteps(event, after, ticksPerMillisecond) : [event]);
  }
  return result
    .reverse()
    .flat()
    .sort((a, b) => a.tick - b.tick);
};

const rampSteps = <Event extends TrackEvent>(
  event: Event,
  next: Event | undefined,
  ticksPerMillisecond: (tick: number) => number,
): Event[] => {
  const { ramp, ...first } = event as Event & { value: number; ramp: number };
  const steps = [first as unknown as Event];
  const target = (next as { value?: number } | undefined)?.value;
  if (!next || target === undefined || next.tick <= event.tick) return steps;
  const length = next.tick - event.tick;
  let said: number = first.value;
  let last: number = event.tick;
  for (let tick = event.tick + 1; tick < next.tick; tick += 1) {
    if (tick - last < ticksPerMillisecond(tick)) continue;
    const value = Math.round(onRamp(first.value, target, (tick - event.tick) / length, ramp));
    // The last value is the next point's own.
    if (value === said || value === target) continue;
    steps.push({ ...first, tick: ticks(tick), value } as unknown as Event);
    said = value;
    last = tick;
  }
  return steps;
};

/** True for the lane of a pedal. */
export const isPedalLane = (lane: Lane): boolean =>
  lane.kind === 'controller' && PEDAL_CONTROLLERS.has(lane.controller);

/** A press of a pedal: its points from going down to coming up, which is null where it never does. */
export interface PedalPress {
  readonly down: LanePoint;
  readonly up: LanePoint | null;
  /** All its points, half pedal between them too. */
  readonly ids: readonly number[];
}

/** The presses in a pedal's lane, in order. */
export const pedalPresses = (points: readonly LanePoint[]): readonly PedalPress[] => {
  const presses: { down: LanePoint; up: LanePoint | null; ids: number[] }[] = [];
  let open: (typeof presses)[number] | null = null;
  for (const point of points) {
    if (point.value >= PEDAL_DOWN) {
      if (!open) {
        open = { down: point, up: null, ids: [] };
        presses.push(open);
      }
      open.ids.push(point.id);
    } else if (open) {
      open.up = point;
      open.ids.push(point.id);
      open = null;
    }
  }
  return presses;
};

/** The press that lasts at a place. */
export const pressAt = (points: readonly LanePoint[], tick: number): PedalPress | undefined =>
  pedalPresses(points).find(({ down, up }) => down.tick <= tick && (up === null || tick < up.tick));

/** The points between the first and the last of those that are chosen: without them the presses are one. */
export const betweenPresses = (points: readonly LanePoint[], chosen: ReadonlySet<number>): ReadonlySet<number> => {
  const presses = pedalPresses(points).filter(({ ids }) => ids.some((id) => chosen.has(id)));
  const [first, last] = [presses[0], presses[presses.length - 1]];
  if (!first || !last || first === last) return new Set();
  const gone = points.filter(
    ({ id, tick }) =>
      tick > first.down.tick && id !== last.up?.id && tick <= (last.up?.tick ?? Number.POSITIVE_INFINITY),
  );
  return new Set(gone.map(({ id }) => id));
};
