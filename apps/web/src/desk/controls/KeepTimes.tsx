/** What a change of tempo does with the notes: one question, asked where a tempo is changed. */
import { useValue } from '../../ui/valueStore.js';
import { laneHand } from '../state/laneState.js';

export const KeepTimes = () => {
  const hand = useValue(laneHand);
  return (
    <label className="flex items-center gap-1.5">
      Tempo:
      <select
        aria-label="A change of tempo"
        className="min-h-7 min-w-0 border border-strong bg-sheet px-1"
        value={hand.keepTimes ? 'times' : 'bars'}
        onChange={({ target }) => laneHand.set({ ...hand, keepTimes: target.value === 'times' })}
      >
        <option value="bars">notes keep their bars</option>
        <option value="times">notes keep their time</option>
      </select>
    </label>
  );
};
