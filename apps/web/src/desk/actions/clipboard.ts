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
import { commit } from '../session/saving.js';

import { deskActions } from '../state/deskSlice.js';
import type { RootState } from '../state/root.js';
import { selectArrangement, selectEditable, selectOpenIds } from '../state/selectors.js';
import { spoken } from '../state/speak.js';
import type { CommandContext } from './commands/command.js';

/** The application's own clipboard: what was copied last in this window. */
let own: Copied | null = null;

const say = (words: string, failed = false): void => {
  if (failed) toast.error(words);
  spoken.set(words);
};

/** Copies the selection. */
export const copySelection = ({ getState }: CommandContext): void => {
  const state = getState();
  const selection = selectEditable(state);
  own = copyNotes(selectArrangement(state), selection);
  if (!own) return;
  const done = `${countOfNotes(selectionSize(selection))} copied`;
  const here = `${done}, for this window: the browser gives no clipboard here.`;
  const written = navigator.clipboard?.writeText(copiedAsText(own));
  if (!written) {
    toast(here);
    say(here);
    return;
  }
  written.then(
    () => say(`${done}.`),
    () => say(here),
  );
};

/** Copies the selection and takes it out. */
export const cutSelection = (context: CommandContext): void => {
  copySelection(context);
  const state = context.getState();
  const edit = deleteNotes(selectArrangement(state), selectEditable(state));
  context.dispatch(commit(edit && { ...edit, label: edit.label.replace('Delete', 'Cut') }));
};

/** What is on the clipboard: text that is not ours is told from none at all. */
const fromClipboard = async (): Promise<Copied | null | 'foreign'> => {
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
  (where: ((state: RootState) => number) | null) =>
  async ({ dispatch, getState }: CommandContext): Promise<void> => {
    const copied = await fromClipboard();
    if (copied === 'foreign') {
      say('What is on the clipboard is text, and no notes from Crisp Fold. Nothing was pasted.', true);
      return;
    }
    if (!copied) {
      say('Nothing was copied yet.', true);
      return;
    }
    const state = getState();
    const arrangement = selectArrangement(state);
    const at = where ? where(state) : rescaleTicks(copied.from, copied.ppq, arrangement.ppq);
    const made = pasteNotes(arrangement, copied, at, state.desk.frontPartId, selectOpenIds(state));
    if (!made.ok) {
      say(made.problem.message, true);
      return;
    }
    dispatch(commit(made.value.edit));
    dispatch(deskActions.selected(made.value.selection));
    say(made.value.edit.label);
  };
