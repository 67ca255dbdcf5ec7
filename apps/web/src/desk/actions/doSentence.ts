/** Carrying a sentence out on the parts in reach. */

import { lineInWords, type Selection, type Sentence, type SentenceRun, selectionSize } from '@crispfold/core';
import { toast } from 'sonner';
import { isSessionOver } from '../../engine/protocol.js';
import { counted } from '../../ui/words.js';
import { askAsItStands } from '../session/asItStands.js';
import type { Thunk } from '../session/desk.js';
import { commit } from '../session/saving.js';
import type { RootState } from '../state/root.js';
import { selectingActions } from '../state/selectingSlice.js';
import { selectEditable, selectReached, selectWithin } from '../state/selectors.js';
import { said } from '../state/speechSlice.js';
import { tellDone } from './carryOutEdit.js';

/** A sentence as the worker is asked about it. */
export const askedOf = (state: RootState, sentence: Pick<Sentence, 'name' | 'lines'>) => ({
  sentence,
  selection: selectEditable(state) as Selection,
  reach: selectReached(state).map((part) => part.id),
  onlyShown: selectWithin(state),
});

/** A sentence by its name, or by what it says where it has none. */
export const titleOf = ({ name, lines }: Pick<Sentence, 'name' | 'lines'>): string =>
  name.trim() || lines.map(lineInWords).join(' ').slice(0, 120);

/** What is told where no note was changed. */
const wordsFor = ({ selection, lines }: SentenceRun, sentence: Pick<Sentence, 'name' | 'lines'>): string => {
  if (selection) return `${counted(selectionSize(selection), 'note')} selected.`;
  const none = lines.every(({ parts }) => parts.length === 0);
  return `${titleOf(sentence)}: ${none ? 'no note is like that.' : 'nothing changes.'}`;
};

/** Carries a sentence out as one Edit, with one entry of the history, and tells what it did. */
export const doSentence =
  (sentence: Pick<Sentence, 'name' | 'lines'>): Thunk<Promise<void>> =>
  async (dispatch, getState, { engine, again }) => {
    again.set(() => void dispatch(doSentence(sentence)));
    try {
      const run = await askAsItStands(getState, (state) => engine.ask('sentenceRun', askedOf(state, sentence)));
      const notices = [...new Set(run.lines.flatMap((line) => line.notices))].join(' ');
      if (run.edit) dispatch(commit(run.edit));
      if (run.onlyShown) dispatch(selectingActions.onlyTheseShown(run.onlyShown));
      if (run.selection) dispatch(selectingActions.selected(run.selection));
      if (run.edit) dispatch(tellDone(run.edit.label, notices));
      else {
        const words = wordsFor(run, sentence);
        toast(words, notices ? { description: notices } : {});
        dispatch(said([words, notices].filter(Boolean).join(' ')));
      }
    } catch (error) {
      if (!isSessionOver(error)) toast.error(`It could not be done: ${(error as Error).message}`);
    }
  };
