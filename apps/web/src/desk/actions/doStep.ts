/** Carrying a step out on the selection, with the parameters of last time or others. */

import {
  type PlanStep,
  planStep,
  type Selection,
  type StepId,
  selectionSize,
  selectionWhere,
  selectionWithin,
  stepById,
} from '@crispfold/core';
import { toast } from 'sonner';
import { askWorker } from '../../engine/engine.js';
import { isSessionOver, type TriedStep } from '../../engine/protocol.js';
import { counted, grouped } from '../../ui/words.js';
import { askAsItStands } from '../session/asItStands.js';
import type { AppDispatch } from '../session/dispatching.js';
import { commit } from '../session/saving.js';
import { type DeskState, deskActions } from '../state/deskSlice.js';
import type { RootState } from '../state/root.js';
import { selectArrangement, selectEditable, selectFrontPart, selectOpenParts } from '../state/selectors.js';
import { spoken } from '../state/speak.js';
import { tellDone } from './carryOutEdit.js';

type Thunk<Done> = (dispatch: AppDispatch, getState: () => RootState) => Done;

/** The step with the parameters that it was last carried out with. */
export const stepAsLast = (last: DeskState['lastParameters'], step: StepId): PlanStep =>
  planStep(step, last[step] ?? {});

/** Ends when the steps asked for so far are done: they are carried out in the order in which they were asked for. */
let inTurn: Promise<void> = Promise.resolve();

/**
 * Carries a step out on what is selected, as one Edit, and tells what was done with the way back. With nothing selected,
 * what may have been meant is offered instead.
 */
export const doStep =
  (step: StepId, tried?: TriedStep): Thunk<Promise<void>> =>
  (dispatch, getState) => {
    const selection = selectEditable(getState());
    if (selectionSize(selection) === 0) {
      dispatch(deskActions.stepOffered(step));
      return Promise.resolve();
    }
    const { id } = getState().desk;
    inTurn = inTurn.then(() =>
      getState().desk.id === id ? dispatch(carryOutStep(step, tried, selection)) : undefined,
    );
    return inTurn;
  };

/** Carries a step out, on what is selected now, or else on what was when it was asked for. */
const carryOutStep =
  (step: StepId, tried: TriedStep | undefined, asked: Selection): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const selectionOf = (state: RootState): Selection => {
      const now = selectEditable(state);
      return selectionSize(now) > 0 ? now : selectionWithin(asked, selectArrangement(state));
    };
    const parameters = tried ?? (stepAsLast(getState().desk.lastParameters, step) as TriedStep);
    try {
      const outcome = await askAsItStands(getState, (state) =>
        askWorker('stepEdit', { selection: selectionOf(state), tried: parameters }),
      );
      dispatch(deskActions.parametersUsed(parameters));
      const { name } = stepById(step);
      if (outcome.picked) {
        dispatch(deskActions.selected(outcome.picked));
        spoken.set(`${counted(outcome.touched, 'note')} selected.`);
      } else if (outcome.edit) {
        dispatch(commit(outcome.edit));
        dispatch(deskActions.doubtsFound(outcome.doubts));
        const doubtful =
          outcome.doubts.length > 0 ? `${counted(outcome.doubts.length, 'start')} could have gone either way.` : '';
        const description = [outcome.notice, doubtful].filter(Boolean).join(' ');
        dispatch(tellDone(outcome.edit.label, description));
      } else {
        const words = `${name}: nothing to do on this selection.`;
        toast(words, outcome.notice ? { description: outcome.notice } : {});
        spoken.set(words);
      }
    } catch (error) {
      if (!isSessionOver(error)) toast.error(`It could not be done: ${(error as Error).message}`);
    }
  };

/** What may have been meant by a step with nothing selected: all of the front part, or of all parts that can be edited. */
export const offersFor = (state: RootState) => {
  const open = selectOpenParts(state);
  const front = selectFrontPart(state);
  const own = open.filter((part) => part.id === front?.id);
  const total = open.reduce((sum, part) => sum + part.notes.length, 0);
  const offers = own.map((part) => ({ words: `all ${part.notes.length} of ${part.name}`, parts: own }));
  if (open.length > 1) {
    offers.push({ words: `all ${grouped(total)} of the ${open.length} shown parts`, parts: [...open] });
  }
  return offers.map(({ words, parts }) => ({ words, selection: () => selectionWhere(parts, () => true) }));
};
