/** Says how the work stands on disk, and offers the ways out where something stands in the way. */

import type { Arrangement } from '@crispfold/core';
import type { ReactNode } from 'react';
import { Button } from '../../ui/Button.js';
import { Dialog } from '../../ui/Dialog.js';
import { counted } from '../../ui/words.js';
import { useAppDispatch } from '../session/desk.js';
import { openArrangement } from '../session/opening.js';
import { rescueCopy } from '../session/rescueCopy.js';
import { bringBackFromBin, bringUnsentBack, discardUnsent, takeOver, takeRefusedBack } from '../session/settling.js';

import { timeInWords } from '../session/unsent.js';
import { useAppSelector } from '../state/root.js';
import type { SaveState } from '../state/savingSlice.js';

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
  const saveState = useAppSelector(({ saving }) => saving.saveState);
  return (
    <span role="status" className={`text-sm ${LOUD.has(saveState) ? 'font-semibold text-fold-ink' : 'text-soft'}`}>
      {WORDS[saveState]}
    </span>
  );
};

/** A bar across the Desk: what stands in the way of saving, and the ways out. */
const InTheWay = ({ title, children, ways }: { title: string; children: ReactNode; ways: ReactNode }) => (
  <div role="alert" className="flex items-center gap-3 border-b border-fold bg-selected px-4 py-2">
    <p className="flex-1">
      <b>{title}</b> {children}
    </p>
    {ways}
  </div>
);

const DownloadCopy = ({ arrangement }: { arrangement: Arrangement }) => (
  <Button title="All parts as they stand here, as one MIDI file" onClick={() => rescueCopy(arrangement)}>
    Download a copy
  </Button>
);

/** While another window's change stands in the way. */
export const ElsewhereBar = () => {
  const dispatch = useAppDispatch();
  const saveState = useAppSelector(({ saving }) => saving.saveState);
  const id = useAppSelector(({ piece }) => piece.id);
  if (saveState !== 'elsewhere' || !id) return null;
  return (
    <InTheWay
      title="This arrangement was changed in another window."
      ways={
        <>
          <Button look="main" onClick={() => void dispatch(takeOver())}>
            Take over: put mine on top
          </Button>
          <Button onClick={() => void dispatch(openArrangement(id))}>Reload: drop mine</Button>
        </>
      }
    >
      Your latest change is kept here but not saved.
    </InTheWay>
  );
};

/** While a change that the server would not take waits for the person. */
export const RefusedBar = () => {
  const dispatch = useAppDispatch();
  const refused = useAppSelector(({ saving }) => saving.refused);
  const arrangement = useAppSelector(({ piece }) => piece.arrangement);
  if (!refused || !arrangement) return null;
  return (
    <InTheWay
      title={`“${refused.label}” could not be saved.`}
      ways={
        <>
          <Button look="main" onClick={() => void dispatch(takeRefusedBack())}>
            Take it back, save the rest
          </Button>
          <DownloadCopy arrangement={arrangement} />
        </>
      }
    >
      {refused.reason} It is kept here; what was made before it is saved.
    </InTheWay>
  );
};

/** While the arrangement lies in the bin. */
export const InTheBinBar = () => {
  const dispatch = useAppDispatch();
  const saveState = useAppSelector(({ saving }) => saving.saveState);
  const arrangement = useAppSelector(({ piece }) => piece.arrangement);
  if (saveState !== 'inTheBin' || !arrangement) return null;
  return (
    <InTheWay
      title="This arrangement was put in the bin."
      ways={
        <>
          <Button look="main" onClick={() => void dispatch(bringBackFromBin())}>
            Bring it back and save
          </Button>
          <DownloadCopy arrangement={arrangement} />
        </>
      }
    >
      Your latest changes are kept here but not saved.
    </InTheWay>
  );
};

/** Asks what to do with changes that an earlier visit could not save. */
export const UnsentDialog = () => {
  const dispatch = useAppDispatch();
  const unsent = useAppSelector(({ saving }) => saving.unsent);
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
