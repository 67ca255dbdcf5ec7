/** Saving: every change goes to the server's journal in order; "Saved" is said only when all of it is on disk there. */
import { type Edit, editTooLong, entryAt, historyLength, type JournalEntry, missingBetween } from '@crispfold/core';
import { toast } from 'sonner';
import { api } from '../../browser/api.js';
import { carriedOut, pieceActions } from '../state/pieceSlice.js';
import { rollActions } from '../state/rollSlice.js';
import { said } from '../state/speechSlice.js';
import type { Thunk } from './desk.js';
import { hasUnsaved } from './savingParts.js';

/** Has an entry of the journal carried out on the screen. */
export const carryOut =
  (entry: JournalEntry): Thunk =>
  (dispatch, getState) => {
    const after = carriedOut(getState().piece, entry);
    if (after) dispatch(pieceActions.entryMade(after));
  };

/** Carries an entry out on the screen; where ticks became finer by it, what is looked at and heard stays where it is. */
export const entryTaken =
  (entry: JournalEntry): Thunk =>
  (dispatch, getState, { player }) => {
    const before = getState().piece.arrangement?.ppq;
    dispatch(carryOut(entry));
    const { piece, roll } = getState();
    const factor = (piece.arrangement?.ppq ?? 1) / (before ?? 1);
    if (before === undefined || factor === 1) return;
    dispatch(pieceActions.ticksScaled(factor));
    dispatch(rollActions.viewSet({ ...roll, left: roll.left * factor, ticksPerPixel: roll.ticksPerPixel * factor }));
    const { tick, playing } = player.state.get();
    player.state.set({ playing, tick: tick * factor });
  };

export const enter =
  (entry: JournalEntry): Thunk =>
  (dispatch, getState, { saving }) => {
    // What is done now is no part of what was on its way to be undone.
    saving.goingTo = null;
    if (saving.windows?.follows) {
      saving.windows.want(entry);
      return;
    }
    const { position } = getState().piece.history;
    dispatch(entryTaken(entry));
    saving.outbox?.add(entry, position);
    saving.windows?.done(entry);
  };

/**
 * Carries out a change: on the screen at once, on disk as soon as may be. Nothing for null; one that makes the piece longer
 * than a piece can be is refused in words.
 */
export const commit =
  (edit: Edit | null): Thunk =>
  (dispatch, getState) => {
    const {
      piece: { arrangement },
    } = getState();
    if (!edit) return;
    const tooLong = arrangement && editTooLong(arrangement, edit);
    if (tooLong) toast.error(tooLong);
    else dispatch(enter({ kind: 'edit', edit }));
  };

/**
 * Goes to a place in the history: 0 is before the first entry. Edits on the way that lie on disk alone are fetched first.
 */
export const goToEntry =
  (position: number): Thunk =>
  (dispatch, getState, { saving }) => {
    const {
      piece: { history },
    } = getState();
    const target = Math.max(history.folded ?? 0, Math.min(position, historyLength(history)));
    const missing = target < history.skipped ? null : missingBetween(history, target);
    if (target < history.skipped || missing) {
      const onTheWay = saving.goingTo !== null;
      saving.goingTo = target;
      // What comes meanwhile is a step further, or back: the one on its way goes to where that leads.
      if (onTheWay) return;
      const loading = missing ? loadEdits(missing.from, missing.to, target < history.position) : loadOlderEntries();
      void dispatch(loading).then((loaded) => {
        const further = saving.goingTo;
        saving.goingTo = null;
        if (loaded && further !== null) dispatch(goToEntry(further));
      });
      return;
    }
    saving.goingTo = null;
    if (target !== history.position) dispatch(enter({ kind: 'goTo', position: target }));
  };

/** Fetches Edits of the history, those next to the pointer first; answers whether any came. */
const loadEdits =
  (from: number, to: number, lastFirst: boolean): Thunk<Promise<boolean>> =>
  async (dispatch, getState, { saving }) => {
    const {
      piece: { id },
    } = getState();
    if (!id) return false;
    try {
      // What is not yet on disk is not to be had from there.
      await saving.outbox?.flushed();
      const page = await api.edits(id, from, to, lastFirst);
      if (getState().piece.id !== id) return false;
      dispatch(pieceActions.editsArrived(page));
      return page.edits.length > 0;
    } catch (error) {
      toast.error((error as Error).message);
      return false;
    }
  };

/** Fetches entries of the history from further back; answers whether there were any. */
export const loadOlderEntries = (): Thunk<Promise<boolean>> => async (dispatch, getState) => {
  const {
    piece: { id, history },
  } = getState();
  if (!id || history.skipped <= (history.folded ?? 0)) return false;
  try {
    const { entries } = await api.history(id, history.skipped);
    const now = getState().piece;
    // Another arrangement, or the same entries asked for twice.
    if (now.id !== id || now.history.skipped !== history.skipped) return false;
    dispatch(pieceActions.olderEntriesArrived(entries));
    return entries.length > 0;
  } catch (error) {
    toast.error((error as Error).message);
    return false;
  }
};

const step =
  (by: 1 | -1): Thunk =>
  (dispatch, getState, { saving }) => {
    const {
      piece: { history },
    } = getState();
    const entry = entryAt(history, history.position - (by < 0 ? 1 : 0));
    dispatch(goToEntry((saving.goingTo ?? history.position) + by));
    if (entry) dispatch(said(`${by < 0 ? 'Taken back' : 'Done again'}: ${entry.label}`));
  };
export const undo = (): Thunk => step(-1);
export const redo = (): Thunk => step(1);

/** So long a file waits for the last changes to be kept, in milliseconds. */
const WAITS_FOR_SAVING = 5000;
const LOOKS_EACH = 50;

/** Waits until all changes are kept; false where they are not after some seconds. */
export const allSaved =
  (): Thunk<Promise<boolean>> =>
  async (_dispatch, _getState, { saving }) => {
    for (let waited = 0; hasUnsaved(saving) && waited < WAITS_FOR_SAVING; waited += LOOKS_EACH) {
      await new Promise((resolve) => setTimeout(resolve, LOOKS_EACH));
    }
    return !hasUnsaved(saving);
  };
