/** The lanes under the roll: which there are, the tools for them, and the values of the points that are chosen. */

import {
  betweenPresses,
  changePoints,
  changePointsIn,
  isPedalLane,
  type Lane,
  type LanePoint,
  laneBounds,
  laneKey,
  laneName,
  laneOfKey,
  lanesWith,
  placeInNumbers,
  placeTyped,
  pointsOf,
  readValueEntry,
  thinLaneIn,
} from '@crispfold/core';
import { type FormEvent, Fragment, useMemo, useRef, useState } from 'react';
import { toast } from 'sonner';
import { Button } from '../../ui/Button.js';
import { NumberField } from '../../ui/NumberField.js';
import { counted } from '../../ui/words.js';
import { commitLane } from '../actions/commitLane.js';
import { KeepTimes } from '../controls/KeepTimes.js';
import { useKeyOf } from '../controls/useKeyOf.js';
import { useAppDispatch } from '../session/desk.js';
import { commit } from '../session/saving.js';
import { allInOrder, laneByPart, selectLaneParts } from '../state/laneParts.js';
import { FOLDED, LANE_HEIGHTS, LANE_TOOLS, type LaneTool, lanesActions } from '../state/lanesSlice.js';
import { layoutActions } from '../state/layoutSlice.js';
import { selectMeterMap } from '../state/maps.js';
import { useAppSelector } from '../state/root.js';
import { selectArrangement } from '../state/selectors.js';
import { said } from '../state/speechSlice.js';
import { LaneStrip } from './LaneStrip.js';

const TOOL_NAMES: { readonly [tool in LaneTool]: string } = {
  choose: 'Choose',
  free: 'Free',
  line: 'Straight',
  curve: 'Curve',
};

/** The common controllers that a person may add where a part has none of them yet (MIDI 1.0). */
const COMMON = [1, 2, 7, 10, 11, 64, 66, 67, 74];
/** How tall lanes are, in pixels; a person may have them taller or lower. */
const HEIGHTS = [48, 72, 112, 168];

/** Arrow keys change a lane's height by so many pixels. */
const LANE_STEP = 16;

const INPUT = 'min-h-7 w-20 border border-strong bg-sheet px-1 tabular-nums';

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

const LanesBar = ({ lanes, onTaller }: { lanes: readonly Lane[]; onTaller: (by: 1 | -1) => void }) => {
  const keyOf = useKeyOf();
  const dispatch = useAppDispatch();
  const hand = useAppSelector(({ lanes }) => lanes.hand);
  const parts = useAppSelector(selectLaneParts);
  const there = useMemo(() => {
    const known = lanesWith(parts);
    const more = COMMON.map((controller): Lane => ({ kind: 'controller', controller }));
    const all: readonly Lane[] = [...known, ...more, { kind: 'pitchBend' }, { kind: 'channelPressure' }];
    return [...new Map(all.map((lane) => [laneKey(lane), lane])).values()];
  }, [parts]);
  const shown = new Set(lanes.map(laneKey));
  return (
    <div className="flex flex-wrap items-center gap-x-2 gap-y-1 bg-desk px-2 py-1 text-sm">
      <h2 className="font-serif text-base">Lanes</h2>
      <select
        aria-label="Add a lane"
        className="min-h-7 w-24 border border-strong bg-sheet px-1"
        value=""
        onChange={({ target }) => target.value !== '' && dispatch(lanesActions.laneTurned(target.value))}
      >
        <option value="">Add…</option>
        {there
          .filter((lane) => !shown.has(laneKey(lane)))
          .map((lane) => (
            <option key={laneKey(lane)} value={laneKey(lane)}>
              {laneName(lane)}
            </option>
          ))}
      </select>
      <span className="flex" role="group" aria-label="What the pointer does in a lane">
        {LANE_TOOLS.map((tool) => (
          <Button
            key={tool}
            className="!px-2"
            pressed={hand.tool === tool}
            onClick={() => dispatch(lanesActions.handSet({ tool }))}
          >
            {TOOL_NAMES[tool]}
          </Button>
        ))}
      </span>
      {hand.tool === 'curve' && (
        <NumberField
          label="How curved, from -1 to 1"
          className="w-14"
          min={-1}
          max={1}
          step={0.1}
          value={hand.ease}
          onTaken={(ease) => dispatch(lanesActions.handSet({ ease }))}
        />
      )}
      <label
        className="flex items-center gap-1.5"
        title="New points ramp to the next; otherwise each holds until the next"
      >
        <input
          type="checkbox"
          className="accent-[var(--fold)]"
          checked={hand.ramps}
          onChange={() => dispatch(lanesActions.handSet({ ramps: !hand.ramps }))}
        />
        ramps
      </label>
      <ChosenPoints />
      {shown.has('tempo') && <KeepTimes />}
      <span className="ml-auto flex gap-1">
        <Button
          look="quiet"
          className="!px-2"
          title="Slow down and return, or speed up"
          hint={keyOf('slowDown')}
          onClick={() => dispatch(layoutActions.toolShown('slowDown'))}
        >
          Slow down…
        </Button>
        <Button
          look="quiet"
          className="!px-1.5"
          aria-label="Lower lanes"
          title="Lower lanes"
          onClick={() => onTaller(-1)}
        >
          −
        </Button>
        <Button
          look="quiet"
          className="!px-1.5"
          aria-label="Taller lanes"
          title="Taller lanes"
          onClick={() => onTaller(1)}
        >
          +
        </Button>
        <Button
          look="quiet"
          className="!px-2"
          hint={keyOf('noLanes')}
          title="Take all lanes away"
          onClick={() => dispatch(lanesActions.lanesShown([]))}
        >
          Close
        </Button>
      </span>
    </div>
  );
};

/** The place and the value of the chosen points, typed exactly; hold or ramp; away with them. */
const ChosenPoints = () => {
  const dispatch = useAppDispatch();
  const arrangement = useAppSelector(selectArrangement);
  const parts = useAppSelector(selectLaneParts);
  const meterMap = useAppSelector(selectMeterMap);
  const { lane: key, ids } = useAppSelector(({ lanes }) => lanes.chosen);
  const [value, setValue] = useState('');
  const [place, setPlace] = useState('');
  const lane = laneOfKey(key);
  const points = useMemo(
    () =>
      lane
        ? allInOrder(laneByPart(arrangement, parts, lane).map((own) => own.points)).filter(({ id }) => ids.has(id))
        : [],
    [arrangement, parts, lane, ids],
  );
  const [first] = points;
  if (!lane || !first) return null;
  const values = points.map((point) => point.value);
  const [least, most] = [Math.min(...values), Math.max(...values)].map((own) => Math.round(own * 100) / 100);
  const change = (make: (point: LanePoint) => Pick<LanePoint, 'tick' | 'value' | 'ramp'> | null, verb?: string) => {
    const edit = dispatch(
      commitLane(
        changePointsIn(
          arrangement,
          parts.map(({ id }) => id),
          lane,
          ids,
          make,
          verb,
        ),
      ),
    );
    if (edit) dispatch(said(edit.label));
  };
  const takeValue = (event: FormEvent) => {
    event.preventDefault();
    if (value.trim() !== '') {
      const entry = readValueEntry(value);
      if (entry) {
        const { least, most } = laneBounds(lane);
        const beyond = points.filter((point) => entry(point.value) < least || entry(point.value) > most).length;
        change((point) => ({ ...point, value: entry(point.value) }));
        if (beyond > 0) toast.message(`${counted(beyond, 'value')} held within ${least} to ${most}.`);
      } else toast.error('A value is a number, or + − * / and a number.');
    }
    if (place.trim() !== '') {
      const to = placeTyped(meterMap, arrangement.ppq, place);
      if (to.ok) change((point) => ({ ...point, tick: point.tick + to.value - first.tick }));
      else toast.error(to.problem.message);
    }
    setValue('');
    setPlace('');
  };
  return (
    <form className="flex flex-wrap items-center gap-1.5" onSubmit={takeValue}>
      <span className="text-soft">{counted(points.length, 'point')}</span>
      <input
        aria-label="Value of the chosen points"
        className={INPUT}
        placeholder={least === most ? String(least) : `${least} to ${most}`}
        value={value}
        onChange={(event) => setValue(event.target.value)}
      />
      {lane.kind !== 'velocity' && (
        <>
          <input
            aria-label="Place of the first chosen point"
            className={INPUT}
            placeholder={placeInNumbers(meterMap, arrangement.ppq, first.tick)}
            value={place}
            onChange={(event) => setPlace(event.target.value)}
          />
          <Button
            className="!px-1.5"
            title="Hold until the next point, or ramp to it (H in the lane)"
            onClick={() => change((point) => ({ ...point, ramp: point.ramp === null ? 0 : null }), 'Hold or ramp')}
          >
            {first.ramp === null ? 'Ramp' : 'Hold'}
          </Button>
          <Button
            className="!px-1.5"
            title="Delete in the lane"
            onClick={() => change(() => null, `Delete in ${laneName(lane)}`)}
          >
            Delete
          </Button>
        </>
      )}
      {isPedalLane(lane) && (
        <Button
          className="!px-1.5"
          title="Makes the presses from the first chosen one to the last one press"
          onClick={() => {
            const own = parts.find((part) => betweenPresses(pointsOf(arrangement, part, lane), ids).size > 0);
            const between = betweenPresses(pointsOf(arrangement, own, lane), ids);
            dispatch(commit(changePoints(arrangement, own?.id ?? null, lane, between, () => null, 'Join presses')));
            if (between.size === 0) toast.message('Choose two presses of the pedal first.');
          }}
        >
          Join
        </Button>
      )}
      {lane.kind !== 'velocity' && lane.kind !== 'tempo' && (
        <Button
          className="!px-1.5"
          title="Fewer points in the whole lane, no value off by more than one step"
          onClick={() => {
            const edit = thinLaneIn(
              arrangement,
              parts.map(({ id }) => id),
              lane,
            );
            dispatch(commit(edit));
            dispatch(said(edit?.label ?? 'This lane has no point too many.'));
            if (!edit) toast.message('This lane has no point too many.');
          }}
        >
          Thin
        </Button>
      )}
      <button type="submit" className="sr-only">
        Take these values
      </button>
    </form>
  );
};
