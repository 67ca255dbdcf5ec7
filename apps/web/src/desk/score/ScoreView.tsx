/** The score view: whole pages of the score or of one part, turned by key, zoomed, followed while they play, printed. */
import { type KeyboardEvent, useCallback, useMemo, useState } from 'react';
import { Dialog } from '../../ui/Dialog.js';
import { usePageWishes } from '../controls/pageWishes.js';
import { WishFields } from '../controls/WishFields.js';
import { useAppSelector } from '../state/root.js';
import { selectArrangement, selectPageParts } from '../state/selectors.js';
import { Printing } from './Printing.js';
import { ScoreHead } from './ScoreHead.js';
import { ScorePage } from './ScorePage.js';
import {
  fitNext,
  pageWidthIn,
  placeInWords,
  type ScoreKey,
  scoreKey,
  setUpOf,
  type Zoom,
  zoomedBy,
} from './scoreModel.js';
import { useScore } from './useScore.js';
import { useScorePlace, useSize } from './useScorePlace.js';

const ZOOM_STEP = 1.25;

export const ScoreView = ({ onClose }: { onClose: () => void }) => {
  const arrangementId = useAppSelector(({ piece }) => piece.id);
  const title = useAppSelector(({ piece }) => piece.arrangement?.title ?? '');
  const { parts } = useAppSelector(selectArrangement);
  const partIds = useAppSelector(selectPageParts);
  const [wishes, changeWishes] = usePageWishes(arrangementId);
  const [settingUp, setSettingUp] = useState(false);
  const [printing, setPrinting] = useState(false);
  const [zoom, setZoom] = useState<Zoom>('width');
  const { setup, head } = useMemo(() => setUpOf(wishes, partIds, parts, title), [wishes, partIds, parts, title]);
  const { laid, problem } = useScore(partIds, wishes, setup, head);
  const { box, width, height } = useSize();
  const { page, goTo, onScroll, playingBar } = useScorePlace(box, laid, height);
  const pageWidth = pageWidthIn(zoom, setup.paper, { width, height });
  const zoomBy = (way: 1 | -1) => setZoom(zoomedBy(ZOOM_STEP ** way, pageWidth, setup.paper));
  const endPrinting = useCallback(() => setPrinting(false), []);

  const act = (key: ScoreKey): void => {
    switch (key.kind) {
      case 'turn':
        goTo(page + key.by);
        break;
      case 'goTo':
        goTo(key.page === 'first' ? 1 : laid.pages);
        break;
      case 'zoom':
        zoomBy(key.way);
        break;
      case 'fit':
        setZoom(fitNext(zoom));
        break;
      case 'close':
        onClose();
        break;
      default:
        key satisfies never;
    }
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const key = event.ctrlKey || event.metaKey || event.altKey ? null : scoreKey(event.key);
    if (!key) return;
    event.preventDefault();
    act(key);
  };

  return (
    <section aria-label="Score" className="flex h-full min-h-0 flex-col bg-shade">
      <ScoreHead
        title={partIds.length === 1 ? head.part : 'Score'}
        place={placeInWords(page, laid)}
        onTurn={(by) => goTo(page + by)}
        zoom={zoom}
        onZoom={zoomBy}
        onFit={setZoom}
        onSetUp={() => setSettingUp(true)}
        onPrint={laid.whole && !printing ? () => setPrinting(true) : null}
        onClose={onClose}
      />
      {problem && (
        <p role="alert" className="border-b border-fold bg-selected px-4 py-2">
          {problem}
        </p>
      )}
      {partIds.length === 0 && <p className="p-4 text-soft">Every part is hidden. Show one to see its pages.</p>}
      <div
        ref={box}
        id="score-pages"
        role="group"
        aria-label="Pages. Page down and Page up turn them, Escape goes back to the Desk."
        // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reached by keys
        tabIndex={0}
        className="relative flex min-h-0 flex-1 flex-col items-center gap-6 overflow-auto p-6"
        onKeyDown={onKeyDown}
        onScroll={onScroll}
      >
        {Array.from({ length: laid.pages }, (_, index) => (
          <ScorePage
            // biome-ignore lint/suspicious/noArrayIndexKey: pages are known by their place
            key={index}
            number={index + 1}
            laid={laid}
            paper={setup.paper}
            width={pageWidth}
            partIds={partIds}
            playingBar={playingBar}
          />
        ))}
      </div>
      <Dialog
        open={settingUp}
        onOpenChange={setSettingUp}
        title="Page set-up"
        description="Of these pages, of what is printed, and of PDF files. It is remembered with this arrangement."
      >
        <WishFields wishes={wishes} change={changeWishes} />
      </Dialog>
      {printing && <Printing pages={laid.pages} onDone={endPrinting} />}
    </section>
  );
};
