/** How many of the selected notes steps would touch, as the lists and the menu say it. */

import { SELECTION_STEP_IDS, type Selection, type StepId, selectionSize } from '@crispfold/core';
import { useEffect, useState } from 'react';
import type { TriedStep } from '../../engine/protocol.js';
import { stepAsLast } from '../actions/doStep.js';
import { useDesk } from '../session/desk.js';
import { useRevision } from '../session/useWritten.js';
import { useAppSelector } from '../state/root.js';
import { selectEditable } from '../state/selectors.js';

/** Of more notes than these no counts are made ahead: trying every step would hold up the one that is chosen. */
const MOST_COUNTED = 8000;

/** Counts by step, for the steps asked about; none until they are known, or where they cannot be. */
export const useStepCounts = (wanted: readonly StepId[] | 'all' | 'none'): ReadonlyMap<StepId, number> => {
  const { engine } = useDesk();
  const selection: Selection = useAppSelector(selectEditable);
  const lastParameters = useAppSelector(({ stepping }) => stepping.lastParameters);
  const revision = useRevision();
  const [counts, setCounts] = useState<ReadonlyMap<StepId, number>>(new Map());
  const key = typeof wanted === 'string' ? wanted : wanted.join();
  // biome-ignore lint/correctness/useExhaustiveDependencies: a newer arrangement has other counts; the key stands for the steps
  useEffect(() => {
    let current = true;
    setCounts(new Map());
    const size = selectionSize(selection);
    const steps = wanted === 'all' ? SELECTION_STEP_IDS : wanted === 'none' ? [] : wanted;
    if (steps.length === 0 || size === 0 || size > MOST_COUNTED) return undefined;
    const tried = steps.map((step) => stepAsLast(lastParameters, step) as TriedStep);
    engine.ask('stepCounts', { selection, tried }).then(
      (answer) => current && setCounts(new Map(answer.counts)),
      () => undefined,
    );
    return () => {
      current = false;
    };
  }, [key, selection, lastParameters, revision]);
  return counts;
};
