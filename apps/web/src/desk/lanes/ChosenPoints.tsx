/** The place and the value of the chosen points, typed exactly; hold or ramp; away with them; what is done to the lane. */

import {
  betweenPresses,
  changePoints,
  changePointsIn,
  isPedalLane,
  type Lane,
  type LanePoint,
  laneName,
  laneOfKey,
  type MessageLane,
  type PointDrawn,
  placeInNumbers,
  pointsOf,
  thinLaneIn,
} from '@crispfold/core';
import { type FormEvent, useMemo, useState } from 'react';
import { toast } from 'sonner';
import { Button } from '../../ui/Button.js';
import { counted } from '../../ui/words.js';
import { commitLane } from '../actions/commitLane.js';
import { useAppDispatch } from '../session/desk.js';
import { commit } from '../session/saving.js';
import { allInOrder, laneByPart, selectLaneParts } from '../state/laneParts.js';
import { selectMeterMap } from '../state/maps.js';
import { useAppSelector } from '../state/root.js';
import { selectArrangement } from '../state/selectors.js';
import { said } from '../state/speechSlice.js';
import { placeForPoints, type TypedForPoints, valueForPoints, valuesOf } from './pointsTyped.js';

const INPUT = 'min-h-7 w-20 border border-strong bg-sheet px-1 tabular-nums';

/** The chosen points of the lane that has any, in order. */
const useChosen = () => {
  const arrangement = useAppSelector(selectArrangement);
  const parts = useAppSelector(selectLaneParts);
  const { lane: key, ids } = useAppSelector(({ lanes }) => lanes.chosen);
  const lane = laneOfKey(key);
  const points = useMemo(
    () =>
      lane
        ? allInOrder(laneByPart(arrangement, parts, lane).map((own) => own.points)).filter(({ id }) => ids.has(id))
        : [],
    [arrangement, parts, lane, ids],
  );
  return { lane, points, ids };
};

/** Changes points of a lane in the parts in reach, and says it. */
const useChange = (lane: Lane, ids: ReadonlySet<number>) => {
  const dispatch = useAppDispatch();
  const arrangement = useAppSelector(selectArrangement);
  const parts = useAppSelector(selectLaneParts);
  const partIds = parts.map(({ id }) => id);
  return (make: (point: LanePoint) => PointDrawn | null, verb?: string) => {
    const edit = dispatch(commitLane(changePointsIn(arrangement, partIds, lane, ids, make, verb)));
    if (edit) dispatch(said(edit.label));
  };
};

export const ChosenPoints = () => {
  const { lane, points, ids } = useChosen();
  const [first] = points;
  if (!lane || !first) return null;
  return <PointFields lane={lane} first={first} points={points} ids={ids} />;
};

const PointFields = ({
  lane,
  first,
  points,
  ids,
}: {
  lane: Lane;
  first: LanePoint;
  points: readonly LanePoint[];
  ids: ReadonlySet<number>;
}) => {
  const { ppq } = useAppSelector(selectArrangement);
  const meterMap = useAppSelector(selectMeterMap);
  const change = useChange(lane, ids);
  const [value, setValue] = useState('');
  const [place, setPlace] = useState('');
  const take = (typed: TypedForPoints) => {
    if (!typed) return;
    if (!typed.change) toast.error(typed.told);
    else {
      change(typed.change);
      if (typed.told) toast.message(typed.told);
    }
  };
  const takeBoth = (event: FormEvent) => {
    event.preventDefault();
    take(valueForPoints(value, lane, points));
    take(placeForPoints(place, meterMap, ppq, first));
    setValue('');
    setPlace('');
  };
  return (
    <form className="flex flex-wrap items-center gap-1.5" onSubmit={takeBoth}>
      <span className="text-soft">{counted(points.length, 'point')}</span>
      <input
        aria-label="Value of the chosen points"
        className={INPUT}
        placeholder={valuesOf(points)}
        value={value}
        onChange={(event) => setValue(event.target.value)}
      />
      {lane.kind !== 'velocity' && (
        <>
          <input
            aria-label="Place of the first chosen point"
            className={INPUT}
            placeholder={placeInNumbers(meterMap, ppq, first.tick)}
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
      {isPedalLane(lane) && <Join lane={lane} ids={ids} />}
      {lane.kind !== 'velocity' && lane.kind !== 'tempo' && <Thin lane={lane} />}
      <button type="submit" className="sr-only">
        Take these values
      </button>
    </form>
  );
};

/** The presses from the first chosen one to the last become one. */
const Join = ({ lane, ids }: { lane: Lane; ids: ReadonlySet<number> }) => {
  const dispatch = useAppDispatch();
  const arrangement = useAppSelector(selectArrangement);
  const parts = useAppSelector(selectLaneParts);
  const join = () => {
    const own = parts.find((part) => betweenPresses(pointsOf(arrangement, part, lane), ids).size > 0);
    const between = betweenPresses(pointsOf(arrangement, own, lane), ids);
    dispatch(commit(changePoints(arrangement, own?.id ?? null, lane, between, () => null, 'Join presses')));
    if (between.size === 0) toast.message('Choose two presses of the pedal first.');
  };
  return (
    <Button
      className="!px-1.5"
      title="Makes the presses from the first chosen one to the last one press"
      onClick={join}
    >
      Join
    </Button>
  );
};

/** Fewer points in the whole lane. */
const Thin = ({ lane }: { lane: MessageLane }) => {
  const dispatch = useAppDispatch();
  const arrangement = useAppSelector(selectArrangement);
  const parts = useAppSelector(selectLaneParts);
  const thin = () => {
    const edit = thinLaneIn(
      arrangement,
      parts.map(({ id }) => id),
      lane,
    );
    dispatch(commit(edit));
    dispatch(said(edit?.label ?? 'This lane has no point too many.'));
    if (!edit) toast.message('This lane has no point too many.');
  };
  return (
    <Button
      className="!px-1.5"
      title="Fewer points in the whole lane, no value off by more than one step"
      onClick={thin}
    >
      Thin
    </Button>
  );
};
