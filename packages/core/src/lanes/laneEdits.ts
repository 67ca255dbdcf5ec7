/** What a hand does in a lane: points drawn, moved, set, deleted, made to hold or to ramp, thinned. Each is one Edit. */
import type { Arrangement, Part, PartEvent, PartId } from '../model/arrangement.js';
import { type Change, type Edit, eventsChange, notesChange } from '../model/edit.js';
import { type Ease, onRamp } from '../time/ramps.js';
import type { TempoChange } from '../time/tempoMap.js';
import { ticks } from '../time/units.js';
import {
  isInLane,
  type Lane,
  type LanePoint,
  laneBounds,
  laneName,
  lanePoints,
  type MessageLane,
  TEMPO_OF_SILENCE,
  tempoPoints,
  valueAt,
} from './lanes.js';

/** A point without its id. */
export type PointDrawn = Pick<LanePoint, 'tick' | 'value' | 'ramp'>;

/** The slowest tempo that a MIDI file can say, in microseconds a quarter. */
const SLOWEST = 16_777_215;

/** Microseconds a quarter of a tempo, whatever it is: one that a file brought stays as it was. */
const microseconds = (value: number): number => Math.max(1, Math.min(SLOWEST, Math.round(60_000_000 / value)));

/** A value within a lane's bounds; whole but for the tempo. */
export const withinLane = (lane: Lane, value: number): number => {
  const { least, most } = laneBounds(lane);
  const bounded = Math.max(least, Math.min(most, value));
  return lane.kind === 'tempo' ? bounded : Math.round(bounded);
};

const partOf = ({ parts }: Arrangement, id: PartId | null): Part | undefined => parts.find((part) => part.id === id);
const counted = (count: number, what: string): string => `${count} ${what}${count === 1 ? '' : 's'}`;

const edited = (label: string, change: Change | undefined): Edit | null =>
  change ? { label, changes: [change] } : null;

/** The tempi as points say them; the first stands at the start, where the piece must have one. */
const temposOf = (points: readonly (PointDrawn & { readonly to?: number })[]): TempoChange[] => {
  const sorted = [...points].sort((a, b) => a.tick - b.tick);
  const last = new Map(sorted.map((point) => [Math.max(0, Math.round(point.tick)), point]));
  const list = [...last];
  return list.map(([tick, { value, ramp, to }], index): TempoChange => {
    const next = list[index + 1]?.[1];
    return {
      tick: ticks(index === 0 ? 0 : tick),
      microsecondsPerQuarter: microseconds(value),
      ...(ramp !== null && next ? { ramp: { to: microseconds(to ?? next.value), ease: ramp } } : {}),
    };
  });
};

/** The change of tempo that leads to these points; undefined where nothing differs. */
const tempoChange = (arrangement: Arrangement, points: Parameters<typeof temposOf>[0]): Change | undefined => {
  const tempos = temposOf(points);
  if (tempos.length === 0 || JSON.stringify(tempos) === JSON.stringify(arrangement.tempos)) return undefined;
  return { kind: 'arrangementFields', before: { tempos: arrangement.tempos }, after: { tempos } };
};

const eventOf = (lane: MessageLane, channel: number, { tick, value, ramp }: PointDrawn): Omit<PartEvent, 'id'> =>
  ({
    tick: ticks(Math.max(0, Math.round(tick))),
    ...lane,
    channel,
    value: withinLane(lane, value),
    ...(ramp === null ? {} : { ramp }),
  }) as unknown as Omit<PartEvent, 'id'>;

/** One point a place, the last that was drawn there; in order. */
const tidied = (points: readonly PointDrawn[]): PointDrawn[] =>
  [...new Map(points.map((point) => [Math.max(0, Math.round(point.tick)), point]))]
    .sort(([a], [b]) => a - b)
    .map(([tick, point]) => ({ ...point, tick }));

/**
 * Puts points in the place of all that the lane has from the first of them to the last. In the velocity lane the notes that
 * begin there take the values of the line (those of `only`, where it is not empty).
 */
export const drawInLane = (
  arrangement: Arrangement,
  partId: PartId | null,
  lane: Lane,
  drawn: readonly PointDrawn[],
  only: ReadonlySet<number> = new Set(),
): Edit | null => {
  const points = tidied(drawn);
  const [first, last] = [points[0], points[points.length - 1]];
  if (!first || !last) return null;
  const inside = (tick: number) => tick >= first.tick && tick <= last.tick;
  if (lane.kind === 'tempo') {
    const kept = tempoPoints(arrangement.tempos).filter(({ tick }) => !inside(tick));
    const bounded = points.map((point) => ({ ...point, value: withinLane(lane, point.value) }));
    return edited(`Tempo: ${counted(points.length, 'point')}`, tempoChange(arrangement, [...kept, ...bounded]));
  }
  const part = partOf(arrangement, partId);
  if (!part) return null;
  if (lane.kind === 'velocity') return velocities(part, points, only);
  const kept = part.events.filter((event) => !isInLane(event, lane) || !inside(event.tick));
  const made = points.map(
    (point, index) => ({ ...eventOf(lane, part.channel, point), id: arrangement.nextEventId + index }) as PartEvent,
  );
  return edited(
    `${laneName(lane)}: ${counted(points.length, 'point')} in ${part.name}`,
    eventsChange(part.id, part.events, [...kept, ...made]),
  );
};

/** Velocities along a line of points. */
const velocities = (part: Part, points: readonly PointDrawn[], only: ReadonlySet<number>): Edit | null => {
  const [first, last] = [points[0] as PointDrawn, points[points.length - 1] as PointDrawn];
  let at = 0;
  let count = 0;
  const after = part.notes.map((note) => {
    if (note.onset < first.tick || note.onset > last.tick || (only.size > 0 && !only.has(note.id))) return note;
    while (at + 1 < points.length && (points[at + 1] as PointDrawn).tick <= note.onset) at += 1;
    const [from, to] = [points[at] as PointDrawn, points[at + 1]];
    const value =
      from.ramp === null || !to
        ? from.value
        : onRamp(from.value, to.value, (note.onset - from.tick) / (to.tick - from.tick), from.ramp);
    const velocity = withinLane({ kind: 'velocity' }, value);
    if (velocity === note.velocity) return note;
    count += 1;
    return { ...note, velocity };
  });
  return edited(`Velocity: ${counted(count, 'note')} in ${part.name}`, notesChange(part.id, part.notes, after));
};

/** Points of a lane changed one by one; null takes a point away. The first tempo stays at the start. */
export const changePoints = (
  arrangement: Arrangement,
  partId: PartId | null,
  lane: Lane,
  ids: ReadonlySet<number>,
  change: (point: LanePoint) => PointDrawn | null,
  verb = laneName(lane),
): Edit | null => {
  if (ids.size === 0) return null;
  const label = (name: string) => `${verb}: ${counted(ids.size, lane.kind === 'velocity' ? 'note' : 'point')}${name}`;
  if (lane.kind === 'tempo') {
    const points = tempoPoints(arrangement.tempos).flatMap((point) => {
      if (!ids.has(point.id)) return [point];
      const changed = change(point);
      const after = changed && { ...changed, value: withinLane(lane, changed.value) };
      // The start of the piece has a tempo, whatever becomes of the others.
      return after ? [point.id === 0 ? { ...after, tick: 0 } : after] : point.id === 0 ? [point] : [];
    });
    return edited(label(''), tempoChange(arrangement, points));
  }
  const part = partOf(arrangement, partId);
  if (!part) return null;
  if (lane.kind === 'velocity') {
    const after = part.notes.map((note) => {
      if (!ids.has(note.id)) return note;
      const point = change({ id: note.id, tick: note.onset, value: note.velocity, ramp: null });
      return point ? { ...note, velocity: withinLane(lane, point.value) } : note;
    });
    return edited(label(` in ${part.name}`), notesChange(part.id, part.notes, after));
  }
  const points = new Map(lanePoints(part, lane).map((point) => [point.id, point]));
  const after = part.events.flatMap((event): PartEvent[] => {
    const point = ids.has(event.id) ? points.get(event.id) : undefined;
    if (!point) return [event];
    const next = change(point);
    return next ? [{ ...eventOf(lane, (event as { channel: number }).channel, next), id: event.id } as PartEvent] : [];
  });
  return edited(label(` in ${part.name}`), eventsChange(part.id, part.events, after));
};

/**
 * The fewest points that say the same to within one step of the lane's values: each stretch that runs straight becomes a ramp,
 * each that stays a single point (Ramer 1972, Douglas and Peucker 1973).
 */
export const thinned = (points: readonly PointDrawn[], tolerance = 1): readonly PointDrawn[] => {
  if (points.length < 3) return points;
  const keep = new Set([0, points.length - 1]);
  const stretches: [number, number][] = [[0, points.length - 1]];
  for (let stretch = stretches.pop(); stretch; stretch = stretches.pop()) {
    const [from, to] = stretch;
    const [a, b] = [points[from] as PointDrawn, points[to] as PointDrawn];
    let worst = tolerance;
    let at = -1;
    for (let index = from + 1; index < to; index += 1) {
      const point = points[index] as PointDrawn;
      const off = Math.abs(
        point.value - onRamp(a.value, b.value, (point.tick - a.tick) / Math.max(1, b.tick - a.tick), 0),
      );
      if (off > worst) [worst, at] = [off, index];
    }
    if (at < 0) continue;
    keep.add(at);
    stretches.push([from, at], [at, to]);
  }
  const kept = [...keep].sort((a, b) => a - b).map((index) => points[index] as PointDrawn);
  return kept.map((point, index) => {
    const next = kept[index + 1];
    return { tick: point.tick, value: point.value, ramp: next && next.value !== point.value ? 0 : null };
  });
};

/** The lane of a part with fewer points; null where it has no fewer. Steps that hold for long stay steps. */
export const thinLane = (arrangement: Arrangement, partId: PartId, lane: MessageLane): Edit | null => {
  const part = partOf(arrangement, partId);
  if (!part) return null;
  const before = lanePoints(part, lane);
  const after = thinned(before);
  if (after.length >= before.length) return null;
  const edit = drawInLane(arrangement, partId, lane, after);
  return (
    edit && { ...edit, label: `Thin ${laneName(lane)} of ${part.name}: ${before.length} points to ${after.length}` }
  );
};

/** A change of tempo over a passage. */
export interface Slowing {
  readonly from: number;
  readonly to: number;
  /** Where it leads, in quarters a minute. */
  readonly target: number;
  readonly ease: Ease;
  /** True where the tempo of before is there again from `to` on, exactly. */
  readonly returns: boolean;
}

/** Slows down (or speeds up) over a passage; where it returns, the old tempo stands again at its very end. */
export const slowDown = (arrangement: Arrangement, { from, to, target, ease, returns }: Slowing): Edit | null => {
  const points = tempoPoints(arrangement.tempos);
  if (to <= from) return null;
  const start = valueAt(points, from, TEMPO_OF_SILENCE);
  const after = valueAt(points, to, TEMPO_OF_SILENCE);
  const kept = points.filter(({ tick }) => tick < from || tick > to);
  const goal = withinLane({ kind: 'tempo' }, target);
  const made = [
    ...kept,
    { tick: from, value: start, ramp: ease, to: goal },
    { tick: to, value: returns ? after : goal, ramp: null },
  ];
  const verb = goal < start ? 'Slow down' : 'Speed up';
  return edited(
    `${verb} to ♩ = ${Math.round(goal * 10) / 10}${returns ? ' and return' : ''}`,
    tempoChange(arrangement, made),
  );
};

/**
 * A pause on what sounds from one place to another: it lasts so many times as long, and the old tempo is there again at its
 * very end. Null where nothing would change.
 */
export const pauseOn = (
  arrangement: Arrangement,
  { from, to, times }: { readonly from: number; readonly to: number; readonly times: number },
): Edit | null => {
  if (to <= from || times <= 0) return null;
  const points = tempoPoints(arrangement.tempos);
  const after = valueAt(points, to, TEMPO_OF_SILENCE);
  const held = points.map((point, index) => {
    const next = points[index + 1];
    const inside = point.tick >= from && point.tick < to;
    if (!inside) return point;
    // A ramp that runs through it goes on as much slower.
    const goal = point.ramp === null || !next ? {} : { to: (point.to ?? next.value) / times };
    return { ...point, value: point.value / times, ...goal };
  });
  const begins = points.some(({ tick }) => tick === from);
  const ends = points.some(({ tick }) => tick === to);
  const made = [
    ...held,
    ...(begins ? [] : [{ tick: from, value: valueAt(points, from, TEMPO_OF_SILENCE) / times, ramp: null }]),
    ...(ends ? [] : [{ tick: to, value: after, ramp: null }]),
  ];
  return edited(`Pause, ${Math.round(times * 100) / 100} times as long`, tempoChange(arrangement, made));
};
