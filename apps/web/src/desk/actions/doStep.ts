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
import { isSessionOver, type TriedStep } from '../../engine/protocol.js';
import { counted, grouped } from '../../ui/words.js';
import { askAsItStands } from '../session/asItStands.js';
import type { Thunk } from '../session/desk.js';
import { commit } from '../session/saving.js';
import { layoutActions } from '../state/layoutSlice.js';
import type { RootState } from '../state/root.js';
import { selectingActions } from '../state/selectingSlice.js';
import { selectArrangement, selectEditable, selectFrontPart, selectOpenParts } from '../state/selectors.js';
import { said } from '../state/speechSlice.js';
import type { SteppingState } from '../state/steppingSlice.js';
import { steppingActions } from '../state/steppingSlice.js';
import { tellDone } from './carryOutEdit.js';

/** The step with the parameters that it was last carried out with. */
export const stepAsLast = (last: SteppingState['lastParameters'], step: StepId): PlanStep =>
  planStep(step, last[step] ?? {});

/**
 * Carries a step out on what is selected, as one Edit, and tells what was done with the way back. With nothing selected,
 * what may have been meant is offered instead.
 */
export const doStep =
  (step: StepId, tried?: TriedStep): Thunk<Promise<void>> =>
  (dispatch, getState, { steps }) => {
    const selection = selectEditable(getState());
    if (selectionSize(selection) === 0) {
      dispatch(layoutActions.stepOffered(step));
      return Promise.resolve();
    }
    const {
      piece: { id },
    } = getState();
    return steps.take(() => (getState().piece.id === id ? dispatch(carryOutStep(step, tried, selection)) : undefined));
  };

/** Carries a step out, on what is selected now, or else on what was when it was asked for. */
const carryOutStep =
  (step: StepId, tried: TriedStep | undefined, asked: Selection): Thunk<Promise<void>> =>
  async (dispatch, getState, { engine }) => {
    const selectionOf = (state: RootState): Selection => {
      const now = selectEditable(state);
      return selectionSize(now) > 0 ? now : selectionWithin(asked, selectArrangement(state));
    };
    const parameters = tried ?? (stepAsLast(getState().stepping.lastParameters, step) as TriedStep);
    try {
      const outcome = await askAsItStands(getState, (state) =>
        engine.ask('stepEdit', { selection: selectionOf(state), tried: parameters }),
      );
      dispatch(steppingActions.parametersUsed(parameters));
      const { name } = stepById(step);
      if (outcome.picked) {
        dispatch(selectingActions.selected(outcome.picked));
        dispatch(said(`${counted(outcome.touched, 'note')} selected.`));
      } else if (outcome.edit) {
        dispatch(commit(outcome.edit));
        dispatch(steppingActions.doubtsFound(outcome.doubts));
        const doubtful =
          outcome.doubts.length > 0 ? `${counted(outcome.doubts.length, 'start')} could have gone either way.` : '';
        const description = [outcome.notice, doubtful].filter(Boolean).join(' ');
        dispatch(tellDone(outcome.edit.label, description));
      } else {
        const words = `${name}: nothing to do on this selection.`;
        toast(words, outcome.notice ? { description: outcome.notice } : {});
        dispatch(said(words));
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
