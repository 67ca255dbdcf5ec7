/** A walk through starts that the last quantize could have put on another line: go, hear, and turn each by a key. */

import { useStore } from 'react-redux';
import { Button } from '../../ui/Button.js';
import type { CommandContext } from '../actions/commands/command.js';
import { showDoubt, turnDoubt } from '../actions/commands/findingCommands.js';
import { keyOf } from '../actions/commands/ownKeys.js';
import { barsAbout } from '../actions/looking.js';
import { playRange } from '../actions/playing.js';
import { useAppDispatch } from '../session/dispatching.js';
import { deskActions } from '../state/deskSlice.js';
import { type RootState, useAppSelector } from '../state/root.js';
import { selectDoubts } from '../state/selectors.js';

export const DoubtBar = ({ context }: { context: CommandContext }) => {
  const dispatch = useAppDispatch();
  const store = useStore<RootState>();
  const doubts = useAppSelector(selectDoubts);
  const at = Math.min(
    useAppSelector(({ desk }) => desk.doubtAt),
    doubts.length - 1,
  );
  const doubt = doubts[at];
  if (!doubt) return null;
  const go = (step: 1 | -1) => showDoubt(context, (at + step + doubts.length) % doubts.length);
  const hear = () => playRange(store.getState(), barsAbout(store.getState(), doubt.now, doubt.now + 1, 0));
  return (
    <section
      aria-label="Starts that could have gone either way"
      className="flex items-center gap-2 border-t border-strong bg-shade px-3 py-1 text-sm"
    >
      <span className="flex-1">
        Could have gone either way:{' '}
        <b className="tabular-nums">
          {at + 1} of {doubts.length}
        </b>
      </span>
      <Button hint={keyOf('previousDoubt')} title="The doubtful start before" onClick={() => go(-1)}>
        Before
      </Button>
      <Button hint={keyOf('nextDoubt')} title="The next doubtful start" onClick={() => go(1)}>
        Next
      </Button>
      <Button title="Hear its bar" onClick={hear}>
        Hear
      </Button>
      <Button look="main" hint={keyOf('otherLine')} title="Put it on the other line" onClick={() => turnDoubt(context)}>
        The other line
      </Button>
      <Button look="quiet" title="End the walk" onClick={() => dispatch(deskActions.doubtsFound([]))}>
        Done
      </Button>
    </section>
  );
};
