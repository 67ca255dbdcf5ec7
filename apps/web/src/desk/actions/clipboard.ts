/** Copy, cut and paste: through the system's clipboard where the browser gives one, else within the application. */

import { copiedAsText, copiedFromText } from '@crispfold/contract';
import {
  type Copied,
  copyNotes,
  countOfNotes,
  deleteNotes,
  pasteNotes,
  rescaleTicks,
  selectionSize,
} from '@crispfold/core';
import { toast } from 'sonner';
import type { Desk, Thunk } from '../session/desk.js';
import { commit } from '../session/saving.js';
import type { RootState } from '../state/root.js';
import { selectingActions } from '../state/selectingSlice.js';
import { selectArrangement, selectEditable, selectOpenIds } from '../state/selectors.js';
import { said } from '../state/speechSlice.js';
import type { CommandContext } from './commands/command.js';

const say =
  (words: string, failed = false): Thunk =>
  (dispatch) => {
    if (failed) toast.error(words);
    dispatch(said(words));
  };

/** Copies the selection. */
export const copySelection = ({ dispatch, getState, desk: { clipboard } }: CommandContext): void => {
  const state = getState();
  const selection = selectEditable(state);
  const copied = copyNotes(selectArrangement(state), selection);
  clipboard.set(copied);
  if (!copied) return;
  const done = `${countOfNotes(selectionSize(selection))} copied`;
  const here = `${done}, for this window: the browser gives no clipboard here.`;
  const written = navigator.clipboard?.writeText(copiedAsText(copied));
  if (!written) {
    toast(here);
    dispatch(say(here));
    return;
  }
  written.then(
    () => dispatch(say(`${done}.`)),
    () => dispatch(say(here)),
  );
};

/** Copies the selection and takes it out. */
export const cutSelection = (context: CommandContext): void => {
  copySelection(context);
  const state = context.getState();
  const edit = deleteNotes(selectArrangement(state), selectEditable(state));
  context.dispatch(commit(edit && { ...edit, label: edit.label.replace('Delete', 'Cut') }));
};

/** What is on the clipboard: text that is not ours is told from none at all. `own` is what this window copied last. */
const fromClipboard = async (own: Copied | null): Promise<Copied | null | 'foreign'> => {
  const { clipboard } = navigator;
  if (typeof clipboard?.readText !== 'function') return own;
  try {
    const text = await clipboard.readText();
    if (text === '') return own;
    return copiedFromText(text) ?? 'foreign';
  } catch {
    // Not allowed to read it: what this window copied is still at hand.
    return own;
  }
};

/** Pastes at a tick, or, for null, into the bars that the notes were copied from. */
export const pasteAt =
  (where: ((state: RootState, desk: Desk) => number) | null) =>
  async ({ dispatch, getState, desk }: CommandContext): Promise<void> => {
    const copied = await fromClipboard(desk.clipboard.get());
    if (copied === 'foreign') {
      dispatch(say('What is on the clipboard is text, and no notes from Crisp Fold. Nothing was pasted.', true));
      return;
    }
    if (!copied) {
      dispatch(say('Nothing was copied yet.', true));
      return;
    }
    const state = getState();
    const arrangement = selectArrangement(state);
    const at = where ? where(state, desk) : rescaleTicks(copied.from, copied.ppq, arrangement.ppq);
    const made = pasteNotes(arrangement, copied, at, state.partsShown.frontPartId, selectOpenIds(state));
    if (!made.ok) {
      dispatch(say(made.problem.message, true));
      return;
    }
    dispatch(commit(made.value.edit));
    dispatch(selectingActions.selected(made.value.selection));
    dispatch(say(made.value.edit.label));
  };
