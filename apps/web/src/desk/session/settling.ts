/** What a person decides where changes could not be saved: of an earlier visit, beside another window, refused, in the bin. */
import { toast } from 'sonner';
import { api } from '../../browser/api.js';
import type { FoundChanges, KeptChanges } from '../../browser/keptChanges.js';
import { savingActions } from '../state/savingSlice.js';
import type { Thunk } from './desk.js';
import type { Outbox } from './outbox.js';

export const NONE_FOUND: FoundChanges = { changes: [], keys: [] };

/** What an earlier visit made and could not save; what reached the server after all is forgotten. */
export const lookForUnsent = async (kept: KeptChanges, id: string): Promise<FoundChanges> => {
  const all = await kept.found(id);
  const names = [...new Set(all.changes.flatMap(({ requestId }) => requestId ?? []))];
  const arrived = new Set<string>();
  for (const name of names) if (await api.written(id, name)) arrived.add(name);
  const waits = all.changes.map(({ requestId }) => requestId === null || !arrived.has(requestId));
  await kept.forget(all.keys.filter((_, at) => !waits[at]));
  return { changes: all.changes.filter((_, at) => waits[at]), keys: all.keys.filter((_, at) => waits[at]) };
};

/** Does something with what an earlier visit could not save, looked for once more: part of it may have arrived meanwhile. */
const withUnsent =
  (work: (kept: KeptChanges, found: FoundChanges, own: Outbox) => Promise<void>): Thunk<Promise<void>> =>
  async (dispatch, _getState, { saving, page }) => {
    const own = saving.outbox;
    const kept = await page.keptChanges();
    if (!own || !kept) return;
    try {
      await work(kept, await lookForUnsent(kept, own.id), own);
      dispatch(savingActions.unsentFound(null));
    } catch (error) {
      toast.error((error as Error).message);
    }
  };

/** Brings back what an earlier visit could not save. */
export const bringUnsentBack = (): Thunk<Promise<void>> => withUnsent((kept, found, own) => own.bringBack(kept, found));

/** Discards what an earlier visit could not save. */
export const discardUnsent = (): Thunk<Promise<void>> => withUnsent((kept, { keys }) => kept.forget(keys));

/** Takes the arrangement out of the bin, and saves what waited meanwhile. */
export const bringBackFromBin =
  (): Thunk<Promise<void>> =>
  async (_dispatch, _getState, { saving: { outbox } }) => {
    if (!outbox) return;
    try {
      await api.restore(outbox.id);
      await outbox.resume();
    } catch (error) {
      toast.error((error as Error).message);
    }
  };

/** After a change in another window: put this window's changes on top. */
export const takeOver =
  (): Thunk<Promise<void>> =>
  async (_dispatch, _getState, { saving: { outbox } }) => {
    try {
      await outbox?.takeOver();
    } catch (error) {
      toast.error((error as Error).message);
    }
  };

/** After a refusal: take the change back that was refused, and save the rest. */
export const takeRefusedBack =
  (): Thunk<Promise<void>> =>
  async (_dispatch, _getState, { saving: { outbox } }) => {
    try {
      await outbox?.takeBack();
    } catch (error) {
      toast.error((error as Error).message);
    }
  };
