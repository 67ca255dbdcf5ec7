/** Says how the work stands on disk, and offers the way out where another window has written. */
import { useAppDispatch, useAppSelector } from '../../app/store.js';
import { Button } from '../../ui/Button.js';
import { rescueCopy } from './rescueCopy.js';
import { openArrangement, takeOver, takeRefusedBack } from './saving.js';
import { selectDesk } from './selectors.js';

const WORDS = {
  saved: 'Saved',
  saving: 'Saving…',
  waiting: 'Not saved yet: the server does not answer. Trying again.',
  elsewhere: '',
  refused: 'Not saved.',
} as const;

export const SaveMark = () => {
  const { saveState } = useAppSelector(selectDesk);
  return (
    <span
      role="status"
      data-testid="save-state"
      className={`text-sm ${saveState === 'waiting' || saveState === 'refused' ? 'font-semibold text-fold-ink' : 'text-soft'}`}
    >
      {WORDS[saveState]}
    </span>
  );
};

/** A bar across the Desk while another window's change stands in the way. */
export const ElsewhereBar = () => {
  const dispatch = useAppDispatch();
  const { saveState, id } = useAppSelector(selectDesk);
  if (saveState !== 'elsewhere' || !id) return null;
  return (
    <div role="alert" className="flex items-center gap-3 border-b border-fold bg-selected px-4 py-2">
      <p className="flex-1">
        <b>This arrangement was changed in another window.</b> Your latest change is kept here but not saved.
      </p>
      <Button look="main" onClick={() => void dispatch(takeOver())}>
        Take over: put mine on top
      </Button>
      <Button onClick={() => void dispatch(openArrangement(id))}>Reload: drop mine</Button>
    </div>
  );
};

/** A bar across the Desk while a change that the server would not take waits for the person. */
export const RefusedBar = () => {
  const dispatch = useAppDispatch();
  const { refused, arrangement } = useAppSelector(selectDesk);
  if (!refused || !arrangement) return null;
  return (
    <div role="alert" className="flex items-center gap-3 border-b border-fold bg-selected px-4 py-2">
      <p className="flex-1">
        <b>“{refused.label}” could not be saved.</b> {refused.reason} It is kept here; what was made before it is saved.
      </p>
      <Button look="main" onClick={() => void dispatch(takeRefusedBack())}>
        Take it back, save the rest
      </Button>
      <Button title="All parts as they stand here, as one MIDI file" onClick={() => rescueCopy(arrangement)}>
        Download a copy
      </Button>
    </div>
  );
};
