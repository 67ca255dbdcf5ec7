/** What a change of tempo does with the notes: one question, asked where a tempo is changed. */

import { useAppDispatch } from '../session/desk.js';
import { lanesActions } from '../state/lanesSlice.js';
import { useAppSelector } from '../state/root.js';

export const KeepTimes = () => {
  const dispatch = useAppDispatch();
  const hand = useAppSelector(({ lanes }) => lanes.hand);
  return (
    <label className="flex items-center gap-1.5">
      Tempo:
      <select
        aria-label="A change of tempo"
        className="min-h-7 min-w-0 border border-strong bg-sheet px-1"
        value={hand.keepTimes ? 'times' : 'bars'}
        onChange={({ target }) => dispatch(lanesActions.handSet({ keepTimes: target.value === 'times' }))}
      >
        <option value="bars">notes keep their bars</option>
        <option value="times">notes keep their time</option>
      </select>
    </label>
  );
};
