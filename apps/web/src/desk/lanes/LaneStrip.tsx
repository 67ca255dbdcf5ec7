/** One lane under the roll: seen with it, drawn in by pointer, its points chosen, moved and set by keyboard too. */

import {
  barPosition,
  bendRange,
  changePointsIn,
  drawInLane,
  drawVelocitiesIn,
  type Edit,
  isPedalLane,
  type Lane,
  type LanePoint,
  laneBounds,
  laneKey,
  laneName,
  laneValueInWords,
  type PointDrawn,
  pressAt,
  withinLane,
} from '@crispfold/core';
import { X } from 'lucide-react';
import { type KeyboardEvent, type PointerEvent, useCallback, useMemo, useRef, useState } from 'react';
import { Button } from '../../ui/Button.js';
import { CanvasLayer } from '../../ui/CanvasLayer.js';
import { frontOpen, somethingInReach } from '../actions/commands/conditions.js';
import { commitLane } from '../actions/commitLane.js';
import { usePalette } from '../controls/palette.js';
import { usePartLooks } from '../controls/partLook.js';
import { useAppDispatch, useDesk } from '../session/desk.js';
import { allInOrder, isOfOnePart, laneByPart, selectLaneParts, stemHues } from '../state/laneParts.js';
import { lanesActions } from '../state/lanesSlice.js';
import { selectBars, selectMeterMap } from '../state/maps.js';
import { NAMES_WIDTH } from '../state/rollLayout.js';
import { selectView } from '../state/rollSelectors.js';
import { rollActions } from '../state/rollSlice.js';
import { bringToView } from '../state/rollView.js';
import { useAppSelector } from '../state/root.js';
import { gridTicks, selectArrangement, selectFrontPart } from '../state/selectors.js';
import { hinted, said } from '../state/speechSlice.js';
import { paintLane } from './paintLane.js';
import {
  type LanePlace,
  type LaneView,
  laneScale,
  mergedByTick,
  pointsWithin,
  pointUnder,
  strokePoints,
  valueOfY,
  yOfValue,
} from './strokes.js';

const NONE: ReadonlySet<number> = new Set();

/** What the hand is about in a lane. */
type Drag =
  | { readonly kind: 'stroke'; readonly path: readonly LanePlace[] }
  | { readonly kind: 'move'; readonly from: LanePlace; readonly to: LanePlace; readonly along?: 'time' }
  | { readonly kind: 'box'; readonly from: LanePlace; readonly to: LanePlace; readonly adding: boolean };

/** A point where a drag has it. */
const movedBy =
  (lane: Lane, { from, to, along }: Extract<Drag, { kind: 'move' }>, snap: (tick: number) => number) =>
  ({ tick, value, ramp }: LanePoint): PointDrawn => {
    const by = to.tick - from.tick;
    // What is moved as a whole keeps its distances.
    const at = along === 'time' ? tick + snap(by) : snap(tick + by);
    return {
      tick: lane.kind === 'velocity' ? tick : Math.max(0, at),
      value: along === 'time' ? value : withinLane(lane, value + to.value - from.value),
      ramp,
    };
  };

export const LaneStrip = ({ lane, height }: { lane: Lane; height: number }) => {
  const { player } = useDesk();
  const dispatch = useAppDispatch();
  const arrangement = useAppSelector(selectArrangement);
  const { tempos } = arrangement;
  const part = useAppSelector(selectFrontPart);
  const parts = useAppSelector(selectLaneParts);
  const rollView = useAppSelector(selectView);
  const { left, ticksPerPixel, width } = rollView;
  const closed = useAppSelector(somethingInReach);
  const frontClosed = useAppSelector(frontOpen);
  const looks = usePartLooks();
  const bars = useAppSelector(selectBars);
  const meterMap = useAppSelector(selectMeterMap);
  const unit = useAppSelector((state) => (state.editing.snapOn ? gridTicks(state) : 1));
  const selection = useAppSelector(({ selecting }) => selecting.selection);
  const hand = useAppSelector(({ lanes }) => lanes.hand);
  const chosenNow = useAppSelector(({ lanes }) => lanes.chosen);
  const palette = usePalette();
  const box = useRef<HTMLDivElement>(null);
  const [drag, setDrag] = useState<Drag | null>(null);
  const key = laneKey(lane);
  const partId = lane.kind === 'tempo' ? null : (part?.id ?? null);
  const ids = useMemo(() => parts.map(({ id }) => id), [parts]);
  const byPart = useMemo(() => laneByPart({ tempos }, parts, lane), [tempos, parts, lane]);
  const points = useMemo(() => allInOrder(byPart.map((own) => own.points)), [byPart]);
  const chosen = chosenNow.lane === key ? chosenNow.ids : NONE;
  const selected = useMemo(
    () => (lane.kind === 'velocity' ? new Set(parts.flatMap(({ id }) => [...(selection.get(id) ?? NONE)])) : NONE),
    [lane, parts, selection],
  );
  const view = useMemo((): LaneView => ({ left, ticksPerPixel, width, height }), [left, ticksPerPixel, width, height]);
  const scale = useMemo(() => laneScale(lane, points), [lane, points]);
  const range = useMemo(() => (part && lane.kind === 'pitchBend' ? bendRange(part) : 2), [part, lane]);
  const words = (value: number) => laneValueInWords(lane, value, range);
  const snap = (tick: number) => (unit > 1 ? Math.round(tick / unit) * unit : Math.round(tick));

  const draft = useMemo((): readonly PointDrawn[] => {
    if (!drag) return [];
    if (drag.kind === 'stroke' && hand.tool !== 'choose')
      return strokePoints(lane, drag.path, { ...hand, tool: hand.tool, unit });
    return [];
  }, [drag, hand, lane, unit]);
  const moving = drag?.kind === 'move';
  /** Velocities of all parts are one layer: stems that begin together stand side by side. */
  const drawnLayers = useMemo(
    () =>
      lane.kind === 'velocity'
        ? [{ points, hue: (part && looks.get(part.id)?.hue) ?? palette.ink }]
        : // Of several parts those that have something here.
          (byPart.length === 1 ? byPart : byPart.filter((own) => own.points.length > 0)).map((own) => ({
            points: own.points,
            hue: (own.partId !== null && looks.get(own.partId)?.hue) || palette.ink,
          })),
    [lane, points, byPart, part, looks, palette],
  );
  const hueOf = useMemo(
    () => stemHues(lane, byPart, (id) => looks.get(id)?.hue ?? palette.ink),
    [lane, byPart, looks, palette],
  );
  /** What stays while others are dragged; made once for a drag. */
  const still = useMemo(
    () =>
      moving
        ? drawnLayers.map((own) => ({ ...own, points: own.points.filter(({ id }) => !chosen.has(id)) }))
        : drawnLayers,
    [moving, drawnLayers, chosen],
  );
  const layers = useMemo(() => {
    if (drag?.kind !== 'move') return drawnLayers;
    const move = movedBy(lane, drag, (tick) => tick);
    return still.map(({ points: rest, hue }, index) => {
      const own = drawnLayers[index]?.points ?? [];
      const moved = own.filter(({ id }) => chosen.has(id)).map((point) => ({ ...point, ...move(point) }));
      return { hue, points: mergedByTick(rest, moved) };
    });
  }, [drag, drawnLayers, still, chosen, lane]);
  const boxDrawn = drag?.kind === 'box' ? drag : null;
  const paint = useCallback(
    (canvas: CanvasRenderingContext2D) => {
      const toX = (tick: number) => (tick - view.left) / view.ticksPerPixel;
      const toY = (value: number) => yOfValue(view, scale, value);
      paintLane(canvas, view, {
        lane,
        layers,
        hueOf,
        scale,
        chosen,
        selected,
        bars,
        rest: laneBounds(lane).rest,
        draft,
        box: boxDrawn && {
          x1: toX(boxDrawn.from.tick),
          y1: toY(boxDrawn.from.value),
          x2: toX(boxDrawn.to.tick),
          y2: toY(boxDrawn.to.value),
        },
        palette,
      });
    },
    [view, lane, layers, hueOf, scale, chosen, selected, bars, draft, boxDrawn, palette],
  );

  const carryOut = (edit: Edit | null): Edit | null => dispatch(commitLane(edit));

  const placeOf = (event: PointerEvent): LanePlace & { readonly x: number; readonly y: number } => {
    const { left: from, top } = (box.current as HTMLDivElement).getBoundingClientRect();
    const [x, y] = [event.clientX - from, event.clientY - top];
    return { x, y, tick: view.left + x * view.ticksPerPixel, value: valueOfY(view, scale, y) };
  };
  const choose = (ids: ReadonlySet<number>) => dispatch(lanesActions.pointsChosen({ lane: key, ids }));

  /** False, and said why, where nothing in reach can be edited; or the front part, where a line goes into that one alone. */
  const mayEdit = (draws = false): boolean => {
    const why = lane.kind === 'tempo' ? null : draws && isOfOnePart(lane) ? frontClosed : closed;
    if (why === null) return true;
    dispatch(hinted(why));
    dispatch(said(why));
    return false;
  };

  const onPointerDown = (event: PointerEvent<HTMLDivElement>) => {
    if (event.button !== 0 || !mayEdit(hand.tool !== 'choose')) return;
    box.current?.setPointerCapture(event.pointerId);
    box.current?.focus({ preventScroll: true });
    const place = placeOf(event);
    if (hand.tool !== 'choose') {
      setDrag({ kind: 'stroke', path: [{ ...place, tick: hand.tool === 'free' ? place.tick : snap(place.tick) }] });
      return;
    }
    const under = pointUnder(points, view, scale, place.x, place.y);
    // A press of a pedal is taken as a whole, between its ends.
    const press =
      !under && isPedalLane(lane) && !event.shiftKey
        ? byPart.findLast((own) => pressAt(own.points, place.tick))
        : undefined;
    const held = press && pressAt(press.points, place.tick);
    if (held) {
      const ids = new Set([...(chosen.has(held.down.id) ? chosen : []), ...held.ids]);
      choose(ids);
      setDrag({ kind: 'move', from: place, to: place, along: 'time' });
      return;
    }
    if (!under) {
      setDrag({ kind: 'box', from: place, to: place, adding: event.shiftKey });
      return;
    }
    if (event.shiftKey) {
      const ids = new Set(chosen);
      if (!ids.delete(under.id)) ids.add(under.id);
      choose(ids);
      return;
    }
    if (!chosen.has(under.id)) choose(new Set([under.id]));
    setDrag({ kind: 'move', from: place, to: place });
  };

  const onPointerMove = (event: PointerEvent<HTMLDivElement>) => {
    const place = placeOf(event);
    const { bar, beat } = barPosition(meterMap, arrangement.ppq, Math.max(0, place.tick));
    const drawnIn = parts.length > 1 && hand.tool !== 'choose' && isOfOnePart(lane) ? `, drawn in ${part?.name}` : '';
    dispatch(hinted(`${laneName(lane)}: ${words(place.value)} at bar ${bar} beat ${beat}${drawnIn}`));
    if (!drag) return;
    if (drag.kind === 'stroke') {
      const next = { ...place, tick: hand.tool === 'free' ? place.tick : snap(place.tick) };
      setDrag({
        kind: 'stroke',
        path: hand.tool === 'free' ? [...drag.path, next] : [drag.path[0] as LanePlace, next],
      });
    } else setDrag({ ...drag, to: place });
  };

  const onPointerUp = () => {
    setDrag(null);
    if (!drag) return;
    if (drag.kind === 'stroke') {
      const edit = carryOut(
        lane.kind === 'velocity'
          ? drawVelocitiesIn(arrangement, ids, draft, selected)
          : drawInLane(arrangement, partId, lane, draft),
      );
      if (edit) dispatch(said(edit.label));
      return;
    }
    if (drag.kind === 'box') {
      const found = pointsWithin(points, drag.from, drag.to);
      choose(drag.adding ? new Set([...chosen, ...found]) : found);
      dispatch(said(`${found.size} points chosen`));
      return;
    }
    if (drag.from.tick === drag.to.tick && drag.from.value === drag.to.value) return;
    carryOut(changePointsIn(arrangement, ids, lane, chosen, movedBy(lane, drag, snap)));
  };

  const say = (point: LanePoint) => {
    const { bar, beat, tick } = barPosition(meterMap, arrangement.ppq, point.tick);
    const how = lane.kind === 'velocity' ? '' : point.ramp === null ? ', holds' : ', ramps';
    dispatch(
      said(
        `${laneName(lane)} ${words(point.value)}, bar ${bar} beat ${beat}${tick > 0 ? `, ${tick} ticks` : ''}${how}`,
      ),
    );
    dispatch(rollActions.viewSet(bringToView(rollView, point.tick)));
  };
  const change = (make: (point: LanePoint) => PointDrawn | null, verb?: string) => {
    if (!mayEdit()) return;
    const edit = carryOut(changePointsIn(arrangement, ids, lane, chosen, make, verb));
    if (edit) dispatch(said(edit.label));
  };

  const walk = (by: 1 | -1, adding: boolean) => {
    const at = points.findIndex(({ id }) => chosen.has(id));
    const from = at < 0 ? points.findIndex(({ tick }) => tick >= player.state.get().tick) - (by > 0 ? 1 : 0) : at;
    const next = points[Math.max(0, Math.min(points.length - 1, from + by))];
    if (!next) return;
    choose(adding ? new Set([...chosen, next.id]) : new Set([next.id]));
    say(next);
  };
  const putPoint = () => {
    if (!mayEdit(true)) return;
    const tick = snap(player.state.get().tick);
    const own = byPart.find((one) => one.partId === partId)?.points ?? [];
    const value = own.findLast((point) => point.tick <= tick)?.value ?? laneBounds(lane).rest;
    carryOut(drawInLane(arrangement, partId, lane, [{ tick, value, ramp: hand.ramps ? 0 : null }]));
    dispatch(said(`A point of ${words(value)} at the playhead`));
  };
  /** What a key does here; null leaves it to the commands. */
  const actOf = ({ key: pressed, shiftKey }: KeyboardEvent): (() => void) | null => {
    const step = (lane.kind === 'pitchBend' ? 128 : 1) * (shiftKey ? 10 : 1);
    switch (pressed) {
      case 'ArrowRight':
      case 'ArrowLeft':
        return () => walk(pressed === 'ArrowRight' ? 1 : -1, shiftKey);
      case 'ArrowUp':
        return () => change((point) => ({ ...point, value: point.value + step }));
      case 'ArrowDown':
        return () => change((point) => ({ ...point, value: point.value - step }));
      case 'Delete':
      case 'Backspace':
        return () => change(() => null, `Delete in ${laneName(lane)}`);
      case 'Insert':
        return putPoint;
      case 'h':
        return () => change((point) => ({ ...point, ramp: point.ramp === null ? 0 : null }), 'Hold or ramp');
      case 'Escape':
        return () => choose(NONE);
      default:
        return null;
    }
  };
  const onKeyDown = (event: KeyboardEvent<HTMLDivElement>) => {
    const act = event.ctrlKey || event.metaKey || event.altKey ? null : actOf(event);
    if (!act) return;
    event.preventDefault();
    event.stopPropagation();
    act();
  };

  const name = laneName(lane);
  const of =
    lane.kind === 'tempo'
      ? ''
      : parts.length > 1
        ? ` of the ${parts.length} parts in reach`
        : ` of ${part?.name ?? ''}`;
  return (
    <div className="relative flex border-t border-rule" style={{ height }}>
      <div
        className="flex shrink-0 flex-col justify-between overflow-hidden bg-desk py-0.5 pl-1 text-[0.7rem] leading-tight"
        style={{ width: NAMES_WIDTH }}
      >
        <span title={name}>{laneShort(lane)}</span>
        <Button
          look="quiet"
          className="!min-h-5 !w-5 !px-0.5"
          aria-label={`Take the lane ${name} away`}
          title="Take this lane away; its values stay"
          onClick={() => dispatch(lanesActions.laneTurned(key))}
        >
          <X size={12} aria-hidden />
        </Button>
      </div>
      <div
        ref={box}
        role="group"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: the lane takes the keys that walk from point to point
        tabIndex={0}
        aria-label={`Lane ${name}${of}. Arrows go from point to point and change them, Insert puts one at the playhead.`}
        data-testid={`lane-${key}`}
        className={`relative min-w-0 flex-1 touch-none select-none overflow-hidden [outline-offset:-2px] ${hand.tool === 'choose' ? '' : 'cursor-crosshair'}`}
        onPointerDown={onPointerDown}
        onPointerMove={onPointerMove}
        onPointerUp={onPointerUp}
        onPointerCancel={() => setDrag(null)}
        onKeyDown={onKeyDown}
      >
        <CanvasLayer width={width} height={height} paint={paint} />
      </div>
    </div>
  );
};

/** Its name in the narrow room beside it. */
const laneShort = (lane: Lane): string => {
  if (lane.kind === 'controller') return `CC ${lane.controller}`;
  return lane.kind === 'pitchBend'
    ? 'Bend'
    : lane.kind === 'channelPressure'
      ? 'Press.'
      : lane.kind === 'tempo'
        ? '♩ ='
        : 'Vel.';
};
