/** The bar over the lanes: lanes to add, what the pointer does in them, the chosen points, the lanes' height. */

import { type Lane, laneKey, laneName, lanesWith } from '@crispfold/core';
import { useMemo } from 'react';
import { Button } from '../../ui/Button.js';
import { NumberField } from '../../ui/NumberField.js';
import { KeepTimes } from '../controls/KeepTimes.js';
import { useKeyOf } from '../controls/useKeyOf.js';
import { useAppDispatch } from '../session/desk.js';
import { selectLaneParts } from '../state/laneParts.js';
import { LANE_TOOLS, type LaneTool, lanesActions } from '../state/lanesSlice.js';
import { layoutActions } from '../state/layoutSlice.js';
import { useAppSelector } from '../state/root.js';
import { ChosenPoints } from './ChosenPoints.js';

const TOOL_NAMES: { readonly [tool in LaneTool]: string } = {
  choose: 'Choose',
  free: 'Free',
  line: 'Straight',
  curve: 'Curve',
};

/** The common controllers that a person may add where a part has none of them yet (MIDI 1.0). */
const COMMON = [1, 2, 7, 10, 11, 64, 66, 67, 74];

export const LanesBar = ({ lanes, onTaller }: { lanes: readonly Lane[]; onTaller: (by: 1 | -1) => void }) => {
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
