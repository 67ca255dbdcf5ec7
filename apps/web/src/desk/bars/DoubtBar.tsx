/** A walk through starts that the last quantize could have put on another line: go, hear, and turn each by a key. */

import { Button } from '../../ui/Button.js';
import type { CommandContext } from '../actions/commands/command.js';
import { showDoubt, turnDoubt } from '../actions/commands/findingCommands.js';
import { barsAbout } from '../actions/looking.js';
import { playRange } from '../actions/playing.js';
import { useKeyOf } from '../controls/useKeyOf.js';
import { useAppDispatch } from '../session/desk.js';
import { useAppSelector } from '../state/root.js';
import { selectDoubts } from '../state/selectors.js';
import { steppingActions } from '../state/steppingSlice.js';

export const DoubtBar = ({ context }: { context: CommandContext }) => {
  const keyOf = useKeyOf();
  const dispatch = useAppDispatch();
  const doubts = useAppSelector(selectDoubts);
  const at = Math.min(
    useAppSelector(({ stepping }) => stepping.doubtAt),
    doubts.length - 1,
  );
  const doubt = doubts[at];
  if (!doubt) return null;
  const go = (step: 1 | -1) => showDoubt(context, (at + step + doubts.length) % doubts.length);
  const hear = () => context.dispatch(playRange(barsAbout(context.getState(), doubt.now, doubt.now + 1, 0)));
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
      <Button look="quiet" title="End the walk" onClick={() => dispatch(steppingActions.doubtsFound([]))}>
        Done
      </Button>
    </section>
  );
};
