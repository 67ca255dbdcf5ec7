/**
 * What a hand does in a lane, by pointer and by keys: each answers what comes of it, and changes nothing itself. No browser
 * here.
 */
import {
  type Arrangement,
  barPosition,
  changePointsIn,
  drawInLane,
  drawVelocitiesIn,
  type Edit,
  isPedalLane,
  type Lane,
  type LanePoint,
  laneBounds,
  laneName,
  laneValueInWords,
  type MeterMap,
  type PartId,
  type PointDrawn,
  pressAt,
  withinLane,
} from '@crispfold/core';
import { isOfOnePart, type PointsOfPart } from '../state/laneParts.js';
import type { LaneHand } from '../state/lanesSlice.js';
import {
  type LanePlace,
  type LaneScale,
  type LaneView,
  pointsWithin,
  pointUnder,
  strokePoints,
  valueOfY,
} from './strokes.js';

/** All that a lane's gestures depend on besides the hand's place. */
export interface LaneScene {
  readonly lane: Lane;
  readonly arrangement: Arrangement;
  readonly meterMap: MeterMap;
  /** The parts in reach, and whose line is drawn: the front part, null for the tempo, which is nobody's. */
  readonly partIds: readonly PartId[];
  readonly partId: PartId | null;
  /** The front part's name. */
  readonly front: string;
  readonly byPart: readonly PointsOfPart[];
  /** All of them in order of place. */
  readonly points: readonly LanePoint[];
  readonly chosen: ReadonlySet<number>;
  /** Notes that are selected in the roll, in the velocity lane. */
  readonly selected: ReadonlySet<number>;
  readonly view: LaneView;
  readonly scale: LaneScale;
  readonly hand: LaneHand;
  /** Ticks of the grid; 1 where snapping is off. */
  readonly unit: number;
  /** Semitones of a bend. */
  readonly bends: number;
  /** Why nothing in reach, and why not the front part, can be edited; null where it can. */
  readonly closed: string | null;
  readonly frontClosed: string | null;
}

/** What the hand is about in a lane. */
export type Drag =
  | { readonly kind: 'stroke'; readonly path: readonly LanePlace[] }
  | { readonly kind: 'move'; readonly from: LanePlace; readonly to: LanePlace; readonly along?: 'time' }
  | { readonly kind: 'box'; readonly from: LanePlace; readonly to: LanePlace; readonly adding: boolean };

/** What comes of it; what is left out stays as it is. */
export interface LaneOutcome {
  readonly drag?: Drag | null;
  readonly chosen?: ReadonlySet<number>;
  readonly edit?: Edit | null;
  /** Said once it is done; `edit` says the Edit's own label. */
  readonly words?: string;
  readonly label?: true;
  /** Why it is not done. */
  readonly refused?: string;
  /** A place that is brought to view. */
  readonly shows?: number;
}

/** A place on the screen, with what it means in the lane. */
export interface Pressed extends LanePlace {
  readonly x: number;
  readonly y: number;
}

const NOBODY: ReadonlySet<number> = new Set<number>();

/** The place at so many pixels from the lane's upper left. */
export const placeAt = ({ view, scale }: Pick<LaneScene, 'view' | 'scale'>, x: number, y: number): Pressed => ({
  x,
  y,
  tick: view.left + x * view.ticksPerPixel,
  value: valueOfY(view, scale, y),
});

const snapped = (tick: number, unit: number): number => (unit > 1 ? Math.round(tick / unit) * unit : Math.round(tick));

/** Why no hand may change anything here; where it `draws`, a line goes into the front part alone. Null where it may. */
const refusal = ({ lane, closed, frontClosed }: LaneScene, draws: boolean): string | null => {
  if (lane.kind === 'tempo') return null;
  return draws && isOfOnePart(lane) ? frontClosed : closed;
};

const valueInWords = ({ lane, bends }: LaneScene, value: number): string => laneValueInWords(lane, value, bends);

/** A point where a drag has it; `unit` is 1 while it is only drawn. */
export const movedBy =
  (lane: Lane, { from, to, along }: Extract<Drag, { kind: 'move' }>, unit: number) =>
  ({ tick, value, ramp }: LanePoint): PointDrawn => {
    const by = to.tick - from.tick;
    // What is moved as a whole keeps its distances.
    const at = along === 'time' ? tick + snapped(by, unit) : snapped(tick + by, unit);
    return {
      tick: lane.kind === 'velocity' ? tick : Math.max(0, at),
      value: along === 'time' ? value : withinLane(lane, value + to.value - from.value),
      ramp,
    };
  };

/** What letting go of a stroke would leave. */
export const draftOf = (
  { lane, hand, unit }: Pick<LaneScene, 'lane' | 'hand' | 'unit'>,
  drag: Drag | null,
): readonly PointDrawn[] =>
  drag?.kind === 'stroke' && hand.tool !== 'choose'
    ? strokePoints(lane, drag.path, { ...hand, tool: hand.tool, unit })
    : [];

/** Beginning to choose, or to move what is chosen. */
const grasped = (scene: LaneScene, place: Pressed, adding: boolean): LaneOutcome => {
  const { lane, points, view, scale, byPart, chosen } = scene;
  const under = pointUnder(points, view, scale, place.x, place.y);
  if (under) {
    if (!adding) return { drag: { kind: 'move', from: place, to: place }, ...chosenUnless(chosen, under.id) };
    const ids = new Set(chosen);
    if (!ids.delete(under.id)) ids.add(under.id);
    return { chosen: ids };
  }
  // A press of a pedal is taken as a whole, between its ends.
  const whole = isPedalLane(lane) && !adding ? byPart.findLast((own) => pressAt(own.points, place.tick)) : undefined;
  const held = whole && pressAt(whole.points, place.tick);
  if (!held) return { drag: { kind: 'box', from: place, to: place, adding } };
  return {
    chosen: new Set([...(chosen.has(held.down.id) ? chosen : []), ...held.ids]),
    drag: { kind: 'move', from: place, to: place, along: 'time' },
  };
};

const chosenUnless = (chosen: ReadonlySet<number>, id: number): LaneOutcome =>
  chosen.has(id) ? {} : { chosen: new Set([id]) };

const strokePlace = ({ hand, unit }: LaneScene, place: LanePlace): LanePlace =>
  hand.tool === 'free' ? place : { ...place, tick: snapped(place.tick, unit) };

/** The hand goes down; `adding` with Shift. */
export const pressed = (scene: LaneScene, place: Pressed, adding: boolean): LaneOutcome => {
  const { hand } = scene;
  const why = refusal(scene, hand.tool !== 'choose');
  if (why !== null) return { refused: why };
  if (hand.tool === 'choose') return grasped(scene, place, adding);
  return { drag: { kind: 'stroke', path: [strokePlace(scene, place)] } };
};

/** The hand goes on. */
export const dragged = (scene: LaneScene, drag: Drag, place: LanePlace): Drag => {
  if (drag.kind !== 'stroke') return { ...drag, to: place };
  const next = strokePlace(scene, place);
  const [first = next] = drag.path;
  return { kind: 'stroke', path: scene.hand.tool === 'free' ? [...drag.path, next] : [first, next] };
};

/** What lies under the hand, in words. */
export const hintAt = (scene: LaneScene, { tick, value }: LanePlace): string => {
  const { lane, meterMap, arrangement, partIds, hand, front } = scene;
  const { bar, beat } = barPosition(meterMap, arrangement.ppq, Math.max(0, tick));
  const drawnIn = partIds.length > 1 && hand.tool !== 'choose' && isOfOnePart(lane) ? `, drawn in ${front}` : '';
  return `${laneName(lane)}: ${valueInWords(scene, value)} at bar ${bar} beat ${beat}${drawnIn}`;
};

/** The hand lets go. */
export const released = (scene: LaneScene, drag: Drag): LaneOutcome => {
  const { lane, arrangement, partIds, partId, points, chosen, selected, unit } = scene;
  switch (drag.kind) {
    case 'stroke': {
      const draft = draftOf(scene, drag);
      const edit =
        lane.kind === 'velocity'
          ? drawVelocitiesIn(arrangement, partIds, draft, selected)
          : drawInLane(arrangement, partId, lane, draft);
      return { drag: null, edit, label: true };
    }
    case 'box': {
      const found = pointsWithin(points, drag.from, drag.to);
      const ids = drag.adding ? new Set([...chosen, ...found]) : found;
      return { drag: null, chosen: ids, words: `${found.size} points chosen` };
    }
    case 'move': {
      if (drag.from.tick === drag.to.tick && drag.from.value === drag.to.value) return { drag: null };
      const edit = changePointsIn(arrangement, partIds, lane, chosen, movedBy(lane, drag, unit));
      return { drag: null, edit };
    }
    default:
      return drag satisfies never;
  }
};

/** Changes each chosen point; `verb` names the change. */
const change = (scene: LaneScene, make: (point: LanePoint) => PointDrawn | null, verb?: string): LaneOutcome => {
  const why = refusal(scene, false);
  if (why !== null) return { refused: why };
  const { arrangement, partIds, lane, chosen } = scene;
  return { edit: changePointsIn(arrangement, partIds, lane, chosen, make, verb), label: true };
};

const pointInWords = (scene: LaneScene, point: LanePoint): string => {
  const { lane, meterMap, arrangement } = scene;
  const { bar, beat, tick } = barPosition(meterMap, arrangement.ppq, point.tick);
  const how = lane.kind === 'velocity' ? '' : point.ramp === null ? ', holds' : ', ramps';
  const ticks = tick > 0 ? `, ${tick} ticks` : '';
  return `${laneName(lane)} ${valueInWords(scene, point.value)}, bar ${bar} beat ${beat}${ticks}${how}`;
};

/** Goes to the point before or after, from the chosen one or the playhead. */
const walked = (scene: LaneScene, by: 1 | -1, adding: boolean, playhead: number): LaneOutcome => {
  const { points, chosen } = scene;
  const at = points.findIndex(({ id }) => chosen.has(id));
  const from = at < 0 ? points.findIndex(({ tick }) => tick >= playhead) - (by > 0 ? 1 : 0) : at;
  const next = points[Math.max(0, Math.min(points.length - 1, from + by))];
  if (!next) return {};
  const ids = adding ? new Set([...chosen, next.id]) : new Set([next.id]);
  return { chosen: ids, words: pointInWords(scene, next), shows: next.tick };
};

/** Puts a point at the playhead, of the value that holds there. */
const put = (scene: LaneScene, playhead: number): LaneOutcome => {
  const why = refusal(scene, true);
  if (why !== null) return { refused: why };
  const { arrangement, partId, lane, byPart, hand, unit } = scene;
  const tick = snapped(playhead, unit);
  const own = byPart.find((one) => one.partId === partId)?.points ?? [];
  const value = own.findLast((point) => point.tick <= tick)?.value ?? laneBounds(lane).rest;
  return {
    edit: drawInLane(arrangement, partId, lane, [{ tick, value, ramp: hand.ramps ? 0 : null }]),
    words: `A point of ${valueInWords(scene, value)} at the playhead`,
  };
};

/** What a key does here, `large` with Shift; null leaves it to the commands. */
export const keyPressed = (scene: LaneScene, key: string, large: boolean, playhead: number): LaneOutcome | null => {
  const { lane } = scene;
  const step = (lane.kind === 'pitchBend' ? 128 : 1) * (large ? 10 : 1);
  switch (key) {
    case 'ArrowRight':
      return walked(scene, 1, large, playhead);
    case 'ArrowLeft':
      return walked(scene, -1, large, playhead);
    case 'ArrowUp':
      return change(scene, (point) => ({ ...point, value: point.value + step }));
    case 'ArrowDown':
      return change(scene, (point) => ({ ...point, value: point.value - step }));
    case 'Delete':
    case 'Backspace':
      return change(scene, () => null, `Delete in ${laneName(lane)}`);
    case 'Insert':
      return put(scene, playhead);
    case 'h':
      return change(scene, (point) => ({ ...point, ramp: point.ramp === null ? 0 : null }), 'Hold or ramp');
    case 'Escape':
      return { chosen: NOBODY };
    default:
      return null;
  }
};

/** What it is called by those who cannot see it. */
export const laneLabel = ({ lane, partIds, front }: LaneScene): string => {
  const whose = partIds.length > 1 ? ` of the ${partIds.length} parts in reach` : ` of ${front}`;
  const of = lane.kind === 'tempo' ? '' : whose;
  return `Lane ${laneName(lane)}${of}. Arrows go from point to point and change them, Insert puts one at the playhead.`;
};

/** Its name in the narrow room beside it. */
export const laneShort = (lane: Lane): string => {
  switch (lane.kind) {
    case 'controller':
      return `CC ${lane.controller}`;
    case 'pitchBend':
      return 'Bend';
    case 'channelPressure':
      return 'Press.';
    case 'tempo':
      return '♩ =';
    case 'velocity':
      return 'Vel.';
    default:
      return lane satisfies never;
  }
};
