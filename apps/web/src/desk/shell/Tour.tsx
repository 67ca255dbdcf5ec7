/** The tour of a first visit: five steps on the demo, in a corner, each naming the place it is about; gone at a key. */

import { X } from 'lucide-react';
import { useEffect, useState } from 'react';
import { kept, keptAs } from '../../browser/kept.js';
import { Button } from '../../ui/Button.js';
import { useKeyOf } from '../controls/useKeyOf.js';
import { useAppDispatch } from '../session/desk.js';
import type { CommandId } from '../state/keyTable.js';
import { layoutActions } from '../state/layoutSlice.js';
import { useAppSelector } from '../state/root.js';
import { said } from '../state/speechSlice.js';

const STORED = 'crispfold-tour';

/** The arrangement that ships; the tour is about it. */
const DEMO = 'Saltmarsh Lanterns';

/** Where the browser keeps nothing it is shown once in the life of this page. */
const wasSeen = (): boolean => kept(STORED) !== null;

interface Step {
  readonly title: string;
  readonly words: (keyOf: (id: CommandId) => string) => string;
  /** What the step is about, to be outlined. */
  readonly about: string;
  readonly panel?: 'plan' | 'findings';
}

const STEPS: readonly Step[] = [
  {
    title: 'All parts in one view',
    words: (keyOf) =>
      `Six recorded parts lie in one roll. One is in front; ${keyOf('nextPart')} brings the next, ${keyOf('reach')} lets you select and edit in all of them.`,
    about: '#roll',
  },
  {
    title: 'As played, and as written',
    words: () =>
      'Drag the folded corner at the top right of the roll: left of it is what was played, right of it what players will read.',
    about: '#roll',
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
    words: (keyOf) =>
      `${keyOf('nextFinding')} goes to the next finding, which says why, and offers a mend where there is one.`,
    about: 'aside',
    panel: 'findings',
  },
  {
    title: 'Take it away',
    words: (keyOf) =>
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
  const title = useAppSelector(({ piece }) => piece.arrangement?.title);
  const dispatch = useAppDispatch();
  const shown = useAppSelector(({ layout }) => layout.tourStep);
  useEffect(() => {
    if (title === DEMO && !wasSeen()) dispatch(layoutActions.tourTurned(0));
    return () => void dispatch(layoutActions.tourTurned(null));
  }, [title, dispatch]);
  return shown === null ? null : <TourStep index={shown} />;
};

const TourStep = ({ index }: { index: number }) => {
  const keyOf = useKeyOf();
  const dispatch = useAppDispatch();
  const { title, words, about, panel } = STEPS[index] as Step;
  const [focused] = useState(() => document.activeElement);
  useOutline(about);
  useEffect(() => keptAs(STORED, 'seen'), []);
  useEffect(() => {
    if (panel) dispatch(layoutActions.panelShown(panel));
    dispatch(said(`${index + 1} of ${STEPS.length}. ${title}. ${words(keyOf)}`));
  }, [panel, dispatch, index, title, words, keyOf]);
  const end = () => {
    dispatch(layoutActions.tourTurned(null));
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
      <p>{words(keyOf)}</p>
      <span className="flex gap-1">
        <Button look="main" onClick={() => (last ? end() : dispatch(layoutActions.tourTurned(index + 1)))}>
          {last ? 'To work' : 'Next'}
        </Button>
        {index > 0 && <Button onClick={() => dispatch(layoutActions.tourTurned(index - 1))}>Back</Button>}
      </span>
    </section>
  );
};
