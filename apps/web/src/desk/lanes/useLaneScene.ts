/** A lane as the state has it. */
import { bendRange, type Lane, laneKey } from '@crispfold/core';
import { useMemo } from 'react';
import { frontOpen, somethingInReach } from '../actions/commands/conditions.js';
import { allInOrder, laneByPart, selectLaneParts } from '../state/laneParts.js';
import { selectMeterMap } from '../state/maps.js';
import { selectView } from '../state/rollSelectors.js';
import { useAppSelector } from '../state/root.js';
import { gridTicks, selectArrangement, selectFrontPart } from '../state/selectors.js';
import type { LaneScene } from './laneModel.js';
import { laneScale } from './strokes.js';

const NONE: ReadonlySet<number> = new Set();

/** See the file's head; `height` in pixels. */
export const useLaneScene = (lane: Lane, height: number): LaneScene => {
  const arrangement = useAppSelector(selectArrangement);
  const { tempos } = arrangement;
  const part = useAppSelector(selectFrontPart);
  const parts = useAppSelector(selectLaneParts);
  const { left, ticksPerPixel, width } = useAppSelector(selectView);
  const closed = useAppSelector(somethingInReach);
  const frontClosed = useAppSelector(frontOpen);
  const meterMap = useAppSelector(selectMeterMap);
  const unit = useAppSelector((state) => (state.editing.snapOn ? gridTicks(state) : 1));
  const selection = useAppSelector(({ selecting }) => selecting.selection);
  const hand = useAppSelector(({ lanes }) => lanes.hand);
  const chosenNow = useAppSelector(({ lanes }) => lanes.chosen);
  const partIds = useMemo(() => parts.map(({ id }) => id), [parts]);
  const byPart = useMemo(() => laneByPart({ tempos }, parts, lane), [tempos, parts, lane]);
  const points = useMemo(() => allInOrder(byPart.map((own) => own.points)), [byPart]);
  const selected = useMemo(
    () => (lane.kind === 'velocity' ? new Set(parts.flatMap(({ id }) => [...(selection.get(id) ?? NONE)])) : NONE),
    [lane, parts, selection],
  );
  const view = useMemo(() => ({ left, ticksPerPixel, width, height }), [left, ticksPerPixel, width, height]);
  const scale = useMemo(() => laneScale(lane, points), [lane, points]);
  return {
    lane,
    arrangement,
    meterMap,
    partIds,
    partId: lane.kind === 'tempo' ? null : (part?.id ?? null),
    front: part?.name ?? '',
    byPart,
    points,
    chosen: chosenNow.lane === laneKey(lane) ? chosenNow.ids : NONE,
    selected,
    view,
    scale,
    hand,
    unit,
    bends: part && lane.kind === 'pitchBend' ? bendRange(part) : 2,
    closed,
    frontClosed,
  };
};
