/** Changes that the server makes itself: parts added from files, and the way back to a kept point. */
import { toast } from 'sonner';
import { api, newRequestId } from '../../browser/api.js';
import type { Thunk } from './desk.js';
import { carryOut } from './saving.js';
import type { Saving } from './savingParts.js';

/** What the server does by itself is done in the window that writes. */
const elsewhereOnly = ({ windows }: Saving): boolean => {
  if (!windows?.follows) return false;
  toast.error('Do that in the window that was open first: this one follows it.');
  return true;
};

/** Adds files as parts to the open arrangement. */
export const addPartsFromFiles =
  (files: readonly File[]): Thunk<Promise<void>> =>
  async (dispatch, getState, { saving }) => {
    const {
      piece: { id },
    } = getState();
    const { outbox, windows } = saving;
    if (elsewhereOnly(saving) || !id || !outbox) return;
    const left = new AbortController();
    const telling = toast.loading('Reading the files…', {
      action: { label: 'Cancel', onClick: () => left.abort() },
      duration: Number.POSITIVE_INFINITY,
    });
    try {
      await outbox.flushed();
      const { edit, revision, warnings } = await api.addParts(id, files, left.signal);
      outbox.advanced(revision);
      dispatch(carryOut({ kind: 'edit', edit }));
      windows?.restated();
      toast.success(edit.label);
      for (const warning of warnings.slice(0, 4)) toast.warning(warning.message, { duration: 9000 });
    } catch (error) {
      if (!left.signal.aborted) toast.error((error as Error).message, { duration: 9000 });
    } finally {
      toast.dismiss(telling);
    }
  };

/** Makes the arrangement again what it was at a kept point, as a change of its own. */
export const goToPoint =
  (point: number): Thunk<Promise<void>> =>
  async (dispatch, getState, { saving }) => {
    const {
      piece: { id },
    } = getState();
    const { outbox, windows } = saving;
    if (elsewhereOnly(saving) || !id || !outbox) return;
    try {
      await outbox.flushed();
      const { edit, revision } = await api.backToPoint(id, point, newRequestId());
      outbox.advanced(revision);
      dispatch(carryOut({ kind: 'edit', edit }));
      windows?.restated();
      toast.success(edit.label);
    } catch (error) {
      toast.error((error as Error).message, { duration: 9000 });
    }
  };
