/** The lanes under the roll: which there are, and how tall each is. */

import { type Lane, laneKey, laneName, laneOfKey } from '@crispfold/core';
import { Fragment, useMemo, useRef, useState } from 'react';
import { useAppDispatch } from '../session/desk.js';
import { FOLDED, LANE_HEIGHTS, lanesActions } from '../state/lanesSlice.js';
import { useAppSelector } from '../state/root.js';
import { LaneStrip } from './LaneStrip.js';
import { LanesBar } from './LanesBar.js';

/** How tall lanes are, in pixels; a person may have them taller or lower. */
const HEIGHTS = [48, 72, 112, 168];

/** Arrow keys change a lane's height by so many pixels. */
const LANE_STEP = 16;

export const LanesBlock = () => {
  const keys = useAppSelector(({ lanes }) => lanes.lanes);
  if (keys.length === 0) return null;
  return <ShownLanes keys={keys} />;
};

const ShownLanes = ({ keys }: { keys: readonly string[] }) => {
  const [tall, setTall] = useState(1);
  const lanes = useMemo(() => keys.flatMap((key) => laneOfKey(key) ?? []), [keys]);
  const height = HEIGHTS[tall] as number;
  const heights = useAppSelector(({ lanes }) => lanes.heights);
  const dispatch = useAppDispatch();
  const allTaller = (by: 1 | -1) => {
    dispatch(lanesActions.heightsForgotten());
    setTall(Math.max(0, Math.min(HEIGHTS.length - 1, tall + by)));
  };
  return (
    <section aria-label="Lanes" className="flex h-full min-h-0 flex-col">
      <LanesBar lanes={lanes} onTaller={allTaller} />
      <div className="min-h-0 overflow-y-auto overflow-x-hidden">
        {lanes.map((lane) => {
          const key = laneKey(lane);
          const own = heights[key] ?? height;
          return (
            <Fragment key={key}>
              <LaneStrip lane={lane} height={own} />
              <LaneEdge lane={lane} height={own} />
            </Fragment>
          );
        })}
      </div>
    </section>
  );
};

/** The lower edge of a lane: dragged, or moved by arrow keys, to have it taller, lower or folded. */
const LaneEdge = ({ lane, height }: { lane: Lane; height: number }) => {
  const key = laneKey(lane);
  const dispatch = useAppDispatch();
  const from = useRef<{ y: number; height: number } | null>(null);
  const resize = (to: number) => dispatch(lanesActions.laneResized({ lane: key, height: to }));
  return (
    <div
      role="separator"
      aria-orientation="horizontal"
      aria-label={`Height of the lane ${laneName(lane)}`}
      aria-valuenow={height}
      aria-valuemin={FOLDED}
      aria-valuemax={LANE_HEIGHTS[1]}
      tabIndex={0}
      title="Drag to have this lane taller or lower; double-click folds it, or out again"
      className="h-1.5 cursor-row-resize touch-none bg-shade hover:bg-selected"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        from.current = { y: event.clientY, height };
      }}
      onPointerMove={(event) => {
        if (from.current) resize(from.current.height + event.clientY - from.current.y);
      }}
      onPointerUp={() => {
        from.current = null;
      }}
      onDoubleClick={() => resize(height === FOLDED ? (HEIGHTS[1] as number) : FOLDED)}
      onKeyDown={(event) => {
        if (event.key !== 'ArrowUp' && event.key !== 'ArrowDown') return;
        event.preventDefault();
        event.stopPropagation();
        const step = event.key === 'ArrowDown' ? LANE_STEP : -LANE_STEP;
        resize(height === FOLDED && step > 0 ? LANE_HEIGHTS[0] : height + step);
      }}
    />
  );
};
