/** How many of the selected notes each step would touch, as the menu and the command list say it. */
import { type Selection, type StepId, selectionSize } from '@crispfold/core';
import { useEffect, useState } from 'react';
import { useAppSelector } from '../../../app/store.js';
import { askWorker } from '../../../engine/engine.js';
import { selectEditable } from '../selectors.js';
import { useRevision } from '../useWritten.js';

/** Counts by step, while `wanted`; none until they are known, or where they cannot be. */
export const useStepCounts = (wanted: boolean): ReadonlyMap<StepId, number> => {
  const selection: Selection = useAppSelector(selectEditable);
  const revision = useRevision();
  const [counts, setCounts] = useState<ReadonlyMap<StepId, number>>(new Map());
  // biome-ignore lint/correctness/useExhaustiveDependencies: a newer arrangement has other counts
  useEffect(() => {
    let current = true;
    setCounts(new Map());
    if (!wanted || selectionSize(selection) === 0) return undefined;
    askWorker('stepCounts', { selection }).then(
      (answer) => current && setCounts(new Map(answer.counts)),
      () => undefined,
    );
    return () => {
      current = false;
    };
  }, [wanted, selection, revision]);
  return counts;
};
