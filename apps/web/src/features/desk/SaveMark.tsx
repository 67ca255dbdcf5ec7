/** Says how the work stands on disk, and offers the way out where another window has written. */
import { useAppDispatch, useAppSelector } from '../../app/store.js';
import { Button } from '../../ui/Button.js';
import { Dialog } from '../../ui/Dialog.js';
import { counted } from '../../ui/words.js';
import type { SaveState } from './deskSlice.js';
import { rescueCopy } from './rescueCopy.js';
import { bringUnsentBack, discardUnsent, openArrangement, takeOutOfBin, takeOver, takeRefusedBack } from './saving.js';
import { selectDesk } from './selectors.js';
import { timeInWords } from './unsent.js';

const WORDS = {
  saved: 'Saved',
  saving: 'Saving…',
  waiting: 'Not saved yet: the server does not answer. Trying again.',
  elsewhere: '',
  refused: 'Not saved.',
  inTheBin: 'Not saved: in the bin.',
} as const;

const LOUD: ReadonlySet<SaveState> = new Set(['waiting', 'refused', 'inTheBin']);

export const SaveMark = () => {
  const { saveState } = useAppSelector(selectDesk);
  return (
    <span
      role="status"
      data-testid="save-state"
      className={`text-sm ${LOUD.has(saveState) ? 'font-semibold text-fold-ink' : 'text-soft'}`}
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

/** A bar across the Desk while the arrangement lies in the bin. */
export const InTheBinBar = () => {
  const dispatch = useAppDispatch();
  const { saveState, arrangement } = useAppSelector(selectDesk);
  if (saveState !== 'inTheBin' || !arrangement) return null;
  return (
    <div role="alert" className="flex items-center gap-3 border-b border-fold bg-selected px-4 py-2">
      <p className="flex-1">
        <b>This arrangement was put in the bin.</b> Your latest changes are kept here but not saved.
      </p>
      <Button look="main" onClick={() => void dispatch(takeOutOfBin())}>
        Take it out of the bin and save
      </Button>
      <Button title="All parts as they stand here, as one MIDI file" onClick={() => rescueCopy(arrangement)}>
        Download a copy
      </Button>
    </div>
  );
};

/** Asks what to do with changes that an earlier visit could not save. */
export const UnsentDialog = () => {
  const dispatch = useAppDispatch();
  const { unsent } = useAppSelector(selectDesk);
  return (
    <Dialog
      open={unsent !== null}
      // Neither Escape nor a click beside it decides; the same is asked at the next opening.
      onOpenChange={() => undefined}
      title="Changes that were not saved"
      description={
        unsent
          ? `${counted(unsent.count, 'change')} from ${timeInWords(unsent.at)} did not reach the server. This browser kept them.`
          : ''
      }
    >
      <div className="flex justify-end gap-2">
        <Button onClick={() => void dispatch(discardUnsent())}>Discard</Button>
        <Button look="main" autoFocus onClick={() => void dispatch(bringUnsentBack())}>
          Bring them back
        </Button>
      </div>
    </Dialog>
  );
};
