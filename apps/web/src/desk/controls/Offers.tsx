/** What may have been meant by a step with nothing selected: two buttons, with counts. */

import { type StepId, stepById } from '@crispfold/core';
import { useEffect, useMemo, useRef } from 'react';
import { useStore } from 'react-redux';
import { Button } from '../../ui/Button.js';
import { doStep, offersFor } from '../actions/doStep.js';
import { useAppDispatch } from '../session/desk.js';
import { layoutActions } from '../state/layoutSlice.js';
import { type RootState, useAppSelector } from '../state/root.js';
import { selectingActions } from '../state/selectingSlice.js';
import { selectFrontPart, selectOpenParts } from '../state/selectors.js';
import { said } from '../state/speechSlice.js';

/** Buttons that select what may have been meant; `then` goes on with it. */
export const Offers = ({ step, then }: { step: StepId; then?: () => void }) => {
  const dispatch = useAppDispatch();
  const store = useStore<RootState>();
  const open = useAppSelector(selectOpenParts);
  const front = useAppSelector(selectFrontPart);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the offers are of these parts
  const offers = useMemo(() => offersFor(store.getState()), [store, open, front]);
  if (offers.length === 0) {
    return <p className="text-sm text-soft">Every part is hidden or locked. Show or unlock one.</p>;
  }
  return (
    <span className="flex flex-wrap gap-2">
      {offers.map(({ words, selection }) => (
        <Button
          key={words}
          title={then ? `${stepById(step).name} on ${words}` : `Select ${words}`}
          onClick={() => {
            dispatch(selectingActions.selected(selection()));
            then?.();
          }}
        >
          {words}
        </Button>
      ))}
    </span>
  );
};

/** A bar over the foot where a step was asked for with nothing selected. */
export const OfferBar = () => {
  const dispatch = useAppDispatch();
  const step = useAppSelector(({ layout }) => layout.stepOffered);
  const bar = useRef<HTMLElement>(null);
  const end = () => dispatch(layoutActions.stepOffered(null));
  useEffect(() => {
    if (!step) return;
    dispatch(said(`Nothing is selected. ${stepById(step).name} on what?`));
    bar.current?.querySelector('button')?.focus();
  }, [step, dispatch]);
  if (!step) return null;
  return (
    <section
      ref={bar}
      aria-label={`${stepById(step).name} on what?`}
      className="flex items-center gap-3 border-t border-fold bg-selected px-3 py-1.5 text-sm"
      onKeyDown={(event) => {
        if (event.key !== 'Escape') return;
        event.stopPropagation();
        end();
      }}
    >
      <span>
        Nothing is selected. <b>{stepById(step).name}</b> on
      </span>
      <Offers
        step={step}
        then={() => {
          end();
          void dispatch(doStep(step));
        }}
      />
      <Button look="quiet" onClick={end}>
        Nothing
      </Button>
    </section>
  );
};
