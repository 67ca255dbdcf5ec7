/** Marks over the score from the Page panel: moved and put back for the bar in hand, and kinds of them locked. */

import { nudgeOf, PAGE_MARK_NAMES, PAGE_MARKS, type PageMark } from '@crispfold/core';
import { ArrowDown, ArrowLeft, ArrowRight, ArrowUp } from 'lucide-react';
import { useState } from 'react';
import { Button } from '../../../ui/Button.js';
import { barInHand } from '../../actions/correcting.js';
import { moveMark } from '../../controls/engraved/marks.js';
import { useAppDispatch, useDesk } from '../../session/desk.js';
import { correctingActions } from '../../state/correctingSlice.js';
import { useAppSelector } from '../../state/root.js';
import { selectArrangement } from '../../state/selectors.js';

/** One press moves a mark by half a space of the staff. */
const STEP = 5;
const WAYS = [
  ['Left', ArrowLeft, { x: -STEP, y: 0 }],
  ['Right', ArrowRight, { x: STEP, y: 0 }],
  ['Up', ArrowUp, { x: 0, y: STEP }],
  ['Down', ArrowDown, { x: 0, y: -STEP }],
] as const;

export const MarkFields = () => {
  const dispatch = useAppDispatch();
  const [mark, setMark] = useState<PageMark>('tempo');
  const { player } = useDesk();
  const bar = useAppSelector((state) => barInHand(state, player));
  const arrangement = useAppSelector(selectArrangement);
  const locked = useAppSelector(({ correcting }) => correcting.marksLocked.includes(mark));
  const { x, y } = nudgeOf(arrangement, bar, mark);
  const name = PAGE_MARK_NAMES[mark];
  return (
    <>
      <select
        aria-label={`Mark of bar ${bar} that is moved`}
        className="min-h-7 min-w-24 flex-1 border border-strong bg-sheet px-1"
        value={mark}
        onChange={(event) => setMark(event.target.value as PageMark)}
      >
        {PAGE_MARKS.map((own) => (
          <option key={own} value={own}>
            {PAGE_MARK_NAMES[own]}
          </option>
        ))}
      </select>
      {WAYS.map(([words, Icon, by]) => (
        <Button
          key={words}
          className="!min-h-7 !px-1.5"
          aria-label={`${words}: ${name} of bar ${bar}`}
          title={`${words}: by half a space of the staff`}
          disabled={locked}
          onClick={() => dispatch(moveMark(bar, mark, by))}
        >
          <Icon size={14} aria-hidden />
        </Button>
      ))}
      <Button
        className="!min-h-7 !px-1.5"
        title={`The ${name} of bar ${bar} stands where the page puts it`}
        disabled={locked || (x === 0 && y === 0)}
        onClick={() => dispatch(moveMark(bar, mark, null))}
      >
        Put back
      </Button>
      <label className="flex items-center gap-1.5" title="Marks of this kind cannot be moved while they are locked">
        <input
          type="checkbox"
          className="accent-[var(--fold)]"
          checked={locked}
          onChange={() => dispatch(correctingActions.markLockTurned(mark))}
        />
        locked
      </label>
    </>
  );
};
