/** Bars that go by a grid of their own. */

import { GRIDS, type Grid, gridOf, type Plan, selectedNotes, stepOf, withPassageGrid } from '@crispfold/core';
import { X } from 'lucide-react';
import { useState } from 'react';
import { Button } from '../../../ui/Button.js';
import { NumberField } from '../../../ui/NumberField.js';
import type { ChangePlan } from '../../actions/changePlan.js';
import { selectMeterMap } from '../../state/maps.js';
import { useAppSelector } from '../../state/root.js';
import { selectFrontPart } from '../../state/selectors.js';

const BOX = 'min-h-7 border border-strong bg-sheet px-1';

const nameOf = (grid: Grid | undefined): string => GRIDS.find((item) => item.grid === grid)?.name ?? 'as elsewhere';

/** Bars from the selection, else the loop, else bar 1. */
const useBarsInHand = (): readonly [number, number] => {
  const selection = useAppSelector(({ selecting }) => selecting.selection);
  const loop = useAppSelector(({ playback }) => playback.loop);
  const front = useAppSelector(selectFrontPart);
  const meterMap = useAppSelector(selectMeterMap);
  const onsets = front ? selectedNotes(selection, front).map((note) => note.onset) : [];
  if (onsets.length > 0) {
    return [meterMap.barAt(onsets[0] as number).number, meterMap.barAt(onsets[onsets.length - 1] as number).number];
  }
  return loop ? [meterMap.barAt(loop.start).number, meterMap.barAt(Math.max(loop.start, loop.end - 1)).number] : [1, 1];
};

export const Passages = ({ plan, change }: { plan: Plan; change: ChangePlan }) => {
  const [first, last] = useBarsInHand();
  const lowest = useAppSelector((state) => selectMeterMap(state).barAt(0).number);
  const [typed, setTyped] = useState<{ first: number; last: number } | null>(null);
  const from = typed?.first ?? first;
  const to = Math.max(from, typed?.last ?? last);
  return (
    <div className="flex flex-col gap-1 px-3 py-2">
      <h3 className="font-serif text-base">Bars with a grid of their own</h3>
      <ul>
        {plan.passages.map((passage) => {
          const grid = stepOf(passage, 'quantizeStarts')?.parameters.grid;
          const where =
            passage.firstBar === passage.lastBar
              ? `bar ${passage.firstBar}`
              : `bars ${passage.firstBar} to ${passage.lastBar}`;
          return (
            <li key={passage.firstBar} className="flex items-center justify-between">
              <span>
                {where}: {nameOf(grid)}
              </span>
              <Button
                look="quiet"
                aria-label={`Take out ${where}`}
                title="Let these bars go by the plan’s grid again"
                onClick={() =>
                  change(`${where} as elsewhere`, { ...plan, passages: plan.passages.filter((p) => p !== passage) })
                }
              >
                <X size={14} aria-hidden />
              </Button>
            </li>
          );
        })}
      </ul>
      <div className="flex flex-wrap items-center gap-1">
        <NumberField
          label="From bar"
          min={lowest}
          max={100_000}
          className="w-14"
          value={from}
          onTaken={(bar) => setTyped({ first: bar, last: Math.max(bar, to) })}
        />
        to
        <NumberField
          label="To bar"
          min={from}
          max={100_000}
          className="w-14"
          value={to}
          onTaken={(bar) => setTyped({ first: from, last: bar })}
        />
        <select
          aria-label="Grid of these bars"
          className={`${BOX} min-w-0 flex-1`}
          value=""
          onChange={(event) => {
            const grid = GRIDS.find((item) => item.id === event.target.value)?.grid;
            if (grid === undefined) return;
            change(`bars ${from} to ${to}: ${nameOf(grid)}`, withPassageGrid(plan, from, to, grid));
            setTyped(null);
          }}
        >
          <option value="" disabled>
            grid…
          </option>
          {GRIDS.filter((item) => item.grid !== gridOf(plan)).map((item) => (
            <option key={item.id} value={item.id}>
              {item.name}
            </option>
          ))}
        </select>
      </div>
    </div>
  );
};
