/** Settings of a step or of Line up, beside the roll: what they would do is drawn on the notes, and can be heard. */

import type { Edit } from '@crispfold/core';
import { Headphones, X } from 'lucide-react';
import type { ReactNode } from 'react';
import { useEffect, useRef } from 'react';
import { Button } from '../../ui/Button.js';
import { hearTried } from '../actions/playing.js';
import { useAppDispatch } from '../session/desk.js';
import { useAppSelector } from '../state/root.js';
import { steppingActions } from '../state/steppingSlice.js';
import { useKeyOf } from './useKeyOf.js';

/** Offers an Edit to the roll and the player while it is shown. */
export const useTried = (edit: Edit | null): void => {
  const dispatch = useAppDispatch();
  useEffect(() => void dispatch(steppingActions.tried(edit)), [edit, dispatch]);
  useEffect(() => () => void dispatch(steppingActions.tried(null)), [dispatch]);
};

/** Plays the bars about what is tried, without it and then with it. */
const HearBoth = () => {
  const keyOf = useKeyOf();
  const dispatch = useAppDispatch();
  const edit = useAppSelector(({ stepping }) => stepping.tried);
  return (
    <Button
      title="Hear these bars without it, then with it"
      hint={keyOf('hearStep')}
      disabled={!edit}
      onClick={() => dispatch(hearTried())}
    >
      <Headphones size={14} aria-hidden /> Without, then with
    </Button>
  );
};

/** The end of a form whose Edit is tried: does it, or has it heard first. */
export const DoOrHear = ({ disabled, children }: { disabled: boolean; children: ReactNode }) => (
  <div className="flex flex-wrap gap-2">
    <Button look="main" type="submit" disabled={disabled}>
      {children}
    </Button>
    <HearBoth />
  </div>
);

export const SettingsPanel = ({
  title,
  explanation,
  onClose,
  onDigit,
  children,
}: {
  title: string;
  explanation: string;
  onClose: () => void;
  /** What a digit from 1 to 9 does here, where it means something. */
  onDigit?: (digit: number) => void;
  children: ReactNode;
}) => {
  const section = useRef<HTMLElement>(null);
  // Enter does it at once, Tab goes to the settings, and afterwards the keys are where they were.
  useEffect(() => {
    const before = document.activeElement;
    section.current?.focus({ preventScroll: true });
    return () => {
      if (before instanceof HTMLElement) before.focus({ preventScroll: true });
    };
  }, []);
  return (
    <section
      ref={section}
      tabIndex={-1}
      aria-label={title}
      className="min-h-0 flex-1 overflow-y-auto p-3 [outline-offset:-2px]"
      onKeyDown={(event) => {
        if (event.key === 'Enter' && event.target === section.current) {
          event.preventDefault();
          section.current?.querySelector('form')?.requestSubmit();
        }
        const digit = /^[1-9]$/.exec(event.key)?.[0];
        const typing = (event.target as Element).closest('input, select') !== null;
        if (digit && onDigit && !typing && !event.ctrlKey && !event.altKey) {
          event.preventDefault();
          event.stopPropagation();
          onDigit(Number(digit));
        }
        if (event.key !== 'Escape') return;
        event.stopPropagation();
        onClose();
      }}
    >
      <header className="flex items-start gap-2">
        <h2 className="flex-1 font-serif text-lg">{title}</h2>
        <Button look="quiet" aria-label="Close" title="Close" hint="Esc" className="!px-1" onClick={onClose}>
          <X size={16} aria-hidden />
        </Button>
      </header>
      <p className="pb-3 text-sm text-soft">{explanation}</p>
      {children}
    </section>
  );
};
