/** Opening an arrangement: among other windows that show it, and with what an earlier visit could not save. */
import { wholeArrangement } from '@crispfold/contract';
import { toast } from 'sonner';
import { api } from '../../browser/api.js';
import { partsShownActions } from '../state/partsShownSlice.js';
import { pieceActions } from '../state/pieceSlice.js';
import type { RootState } from '../state/root.js';
import { savingActions } from '../state/savingSlice.js';
import { selectingActions } from '../state/selectingSlice.js';
import type { AppDispatch, Desk, Thunk } from './desk.js';
import { Outbox, type OutboxEnds } from './outbox.js';
import { carryOut, enter, entryTaken } from './saving.js';
import { endSaving } from './savingParts.js';
import { lookForUnsent, NONE_FOUND } from './settling.js';
import { browserLock, canBeLinked, DeskWindows, type WindowEnds } from './windows.js';

/** What of an arrangement is damaged, and what that means. */
const lostInWords = (lost: readonly string[]): string =>
  `Part of this arrangement is damaged and was left out: ${lost.join(', ')}. What is whole is open; take a backup before you go on.`;

/** What the outbox tells the Desk. */
const outboxEnds = (dispatch: AppDispatch, { saving, page }: Desk): OutboxEnds => ({
  keptChanges: page.keptChanges,
  stands: (state) => dispatch(savingActions.saveStateChanged(state)),
  refused: (label, reason) => dispatch(savingActions.changeRefused({ label, reason })),
  opened: (newest) => dispatch(pieceActions.opened(newest)),
  carryOut: (entry) => dispatch(carryOut(entry)),
  restated: () => saving.windows?.restated(),
  saved: (revision) => saving.windows?.saved(revision),
});

/** How this window takes part among several on one arrangement. */
const windowEnds = (id: string, dispatch: AppDispatch, getState: () => RootState, desk: Desk): WindowEnds => ({
  channel: (name) => new BroadcastChannel(name),
  lock: browserLock,
  standing: () => {
    const {
      piece: { arrangement, history },
    } = getState();
    const { outbox } = desk.saving;
    if (!arrangement || !outbox || getState().piece.id !== id) return null;
    const open = { id, revision: outbox.savedRevision, changedAt: '', arrangement, history };
    return { open, unsaved: outbox.unsaved };
  },
  view: () => {
    const {
      selecting: { selection },
      partsShown: { frontPartId },
      saving: { saveState },
    } = getState();
    return { selection, frontPartId, saveState };
  },
  carryOut: (entry) => dispatch(enter(entry)),
  take: (entry) => dispatch(entryTaken(entry)),
  stand: (open) => dispatch(pieceActions.opened(open)),
  look: ({ selection, frontPartId, saveState }) => {
    // What has to be settled there is not settled here.
    const settled = saveState === 'saved' || saveState === 'saving' ? saveState : 'waiting';
    if (desk.saving.windows?.follows && settled !== getState().saving.saveState)
      dispatch(savingActions.saveStateChanged(settled));
    if (frontPartId !== null) dispatch(partsShownActions.partBroughtForward(frontPartId));
    dispatch(selectingActions.selected(selection));
  },
  playhead: (state) => desk.player.follow(state),
  write: (revision, unsaved) => {
    const outbox = new Outbox(id, revision, outboxEnds(dispatch, desk));
    desk.saving.outbox = outbox;
    void outbox.takeUp(unsaved);
    toast.message('The other window was closed: from here on this one keeps what you change.');
  },
});

/** Opens an arrangement on the Desk. */
export const openArrangement =
  (id: string): Thunk<Promise<void>> =>
  async (dispatch, getState, desk) => {
    const { saving, page } = desk;
    endSaving(saving);
    const own = saving.opening;
    dispatch(pieceActions.opening(id));
    page.engines.warm();
    try {
      const link = canBeLinked() ? new DeskWindows(id, windowEnds(id, dispatch, getState, desk)) : null;
      saving.windows = link;
      const how = link ? await link.join() : 'alone';
      if (own !== saving.opening) {
        link?.close();
        return;
      }
      if (how === 'alone') saving.windows = null;
      if (how === 'follows') return;
      const open = page.justOpened.take(id) ?? (await api.open(id));
      // An opening that answers late must not take the place of a newer one.
      if (own !== saving.opening) return;
      saving.outbox = new Outbox(id, open.revision, outboxEnds(dispatch, desk));
      const { arrangement, lost } = wholeArrangement(open.arrangement);
      dispatch(pieceActions.opened({ ...open, arrangement }));
      if (lost.length > 0) toast.error(lostInWords(lost), { duration: Number.POSITIVE_INFINITY });
      void dispatch(askAboutUnsent(id, own));
    } catch (error) {
      if (own === saving.opening) dispatch(pieceActions.openFailed((error as Error).message));
    }
  };

/** Asks what to do with changes of an earlier visit, where there are any. */
const askAboutUnsent =
  (id: string, opening: number): Thunk<Promise<void>> =>
  async (dispatch, _getState, { saving, page }) => {
    const kept = await page.keptChanges();
    const { changes } = (kept && (await lookForUnsent(kept, id).catch(() => null))) ?? NONE_FOUND;
    const [first] = changes;
    if (opening === saving.opening)
      dispatch(savingActions.unsentFound(first ? { count: changes.length, at: first.at } : null));
  };
