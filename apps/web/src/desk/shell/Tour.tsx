/** The tour of a first visit: five steps on the demo, in a corner, each naming the place it is about; gone at a key. */

import { X } from 'lucide-react';
import { useEffect, useState } from 'react';
import { Button } from '../../ui/Button.js';
import { useValue } from '../../ui/valueStore.js';
import { keyOf } from '../actions/commands/ownKeys.js';
import { useAppDispatch } from '../session/dispatching.js';
import { deskActions } from '../state/deskSlice.js';
import { useAppSelector } from '../state/root.js';
import { spoken } from '../state/speak.js';
import { tourStep } from '../state/tour.js';

const STORED = 'crispfold-tour';

/** The arrangement that ships; the tour is about it. */
const DEMO = 'Saltmarsh Lanterns';

const wasSeen = (): boolean => {
  try {
    return localStorage.getItem(STORED) !== null;
  } catch {
    // Where the browser keeps nothing, nobody is told the same each time.
    return true;
  }
};

interface Step {
  readonly title: string;
  readonly words: () => string;
  /** What the step is about, to be outlined. */
  readonly about: string;
  readonly panel?: 'plan' | 'findings';
}

const STEPS: readonly Step[] = [
  {
    title: 'All parts in one view',
    words: () =>
      `Six recorded parts lie in one roll. One is in front; ${keyOf('nextPart')} brings the next, ${keyOf('reach')} lets you select and edit in all of them.`,
    about: '[data-testid="roll"]',
  },
  {
    title: 'As played, and as written',
    words: () =>
      'Drag the folded corner at the top right of the roll: left of it is what was played, right of it what players will read.',
    about: '[data-testid="roll"]',
  },
  {
    title: 'The plan makes the page',
    words: () =>
      'Each step says how many notes it touches. Switch one off, open it, leave single notes out: the page follows, what was played stays.',
    about: 'aside',
    panel: 'plan',
  },
  {
    title: 'What the checks noticed',
    words: () =>
      `${keyOf('nextFinding')} goes to the next finding, which says why, and offers a mend where there is one.`,
    about: 'aside',
    panel: 'findings',
  },
  {
    title: 'Take it away',
    words: () =>
      `Export gives MusicXML, PDF and MIDI, of the page or of the take. ${keyOf('commands')} lists every command with its key.`,
    about: 'header',
  },
];

/** Outlines what a step is about, while it is shown. */
const useOutline = (about: string): void => {
  useEffect(() => {
    const element = document.querySelector(about);
    element?.setAttribute('data-toured', '');
    return () => element?.removeAttribute('data-toured');
  }, [about]);
};

export const Tour = () => {
  const title = useAppSelector(({ desk }) => desk.arrangement?.title);
  const shown = useValue(tourStep);
  useEffect(() => {
    if (title === DEMO && !wasSeen()) tourStep.set(0);
    return () => tourStep.set(null);
  }, [title]);
  return shown === null ? null : <TourStep index={shown} />;
};

const TourStep = ({ index }: { index: number }) => {
  const dispatch = useAppDispatch();
  const { title, words, about, panel } = STEPS[index] as Step;
  const [focused] = useState(() => document.activeElement);
  useOutline(about);
  useEffect(() => {
    try {
      localStorage.setItem(STORED, 'seen');
    } catch {
      // Then it is shown once in the life of this page.
    }
  }, []);
  useEffect(() => {
    if (panel) dispatch(deskActions.panelShown(panel));
    spoken.set(`${index + 1} of ${STEPS.length}. ${title}. ${words()}`);
  }, [panel, dispatch, index, title, words]);
  const end = () => {
    tourStep.set(null);
    if (focused instanceof HTMLElement) focused.focus({ preventScroll: true });
  };
  const last = index === STEPS.length - 1;
  return (
    <section
      aria-label="Tour"
      className="fixed bottom-12 left-[13.5rem] z-20 flex w-96 max-w-[calc(100vw-2rem)] flex-col gap-2 border border-fold bg-sheet p-3 text-sm shadow-xl"
    >
      <div className="flex items-start gap-2">
        <h2 className="flex-1 font-serif text-base">
          {title}{' '}
          <span className="text-soft">
            {index + 1} of {STEPS.length}
          </span>
        </h2>
        <Button look="quiet" className="!px-1" aria-label="End the tour" onClick={end}>
          <X size={14} aria-hidden />
        </Button>
      </div>
      <p>{words()}</p>
      <span className="flex gap-1">
        <Button look="main" onClick={() => (last ? end() : tourStep.set(index + 1))}>
          {last ? 'To work' : 'Next'}
        </Button>
        {index > 0 && <Button onClick={() => tourStep.set(index - 1)}>Back</Button>}
      </span>
    </section>
  );
};
