/** The score view: whole pages of the score or of one part, turned by key, zoomed, followed while they play, printed. */

import { barId, noteheadId, PAPERS, type PageSetup, pageSetupFor } from '@crispfold/core';
import { AppWindow, ArrowLeft, ChevronLeft, ChevronRight, FileSliders, Minus, Plus, Printer } from 'lucide-react';
import { type KeyboardEvent, useCallback, useEffect, useMemo, useRef, useState, useSyncExternalStore } from 'react';
import { createPortal } from 'react-dom';
import { useStore } from 'react-redux';
import { Button } from '../../ui/Button.js';
import { Dialog } from '../../ui/Dialog.js';
import { openScoreWindow } from '../actions/scoreWindow.js';
import { usePageWishes } from '../controls/pageWishes.js';
import { useKeyOf } from '../controls/useKeyOf.js';
import { WishFields } from '../controls/WishFields.js';
import { useAppDispatch, useDesk } from '../session/desk.js';
import { selectMeterMap } from '../state/maps.js';
import { selectView } from '../state/rollSelectors.js';
import { type RootState, useAppSelector } from '../state/root.js';
import { selectArrangement, selectedOnView, selectPageParts } from '../state/selectors.js';
import { said } from '../state/speechSlice.js';
import { switched } from '../state/switched.js';
import { ScorePage } from './ScorePage.js';
import { useScore } from './useScore.js';

/** How wide a page stands: as the window is, so that all of it is seen, or so many times the first. */
type Zoom = 'width' | 'page' | number;

const ZOOM_STEP = 1.25;
const SMALLEST = 0.25;
const LARGEST = 4;
/** Room about pages, in pixels. */
const ROOM = 24;

/** The bar under the playhead while it plays; null while it rests. */
const usePlayingBar = (): number | null => {
  const { player } = useDesk();
  const meterMap = useAppSelector(selectMeterMap);
  // The playhead moves with each frame; the view is drawn anew with each bar.
  return useSyncExternalStore(player.state.subscribe, () => {
    const { playing, tick } = player.state.get();
    return playing ? meterMap.barAt(tick).number : null;
  });
};

/** The size of an element as it is now. */
const useSize = () => {
  const box = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 800, height: 600 });
  useEffect(() => {
    const element = box.current;
    if (!element) return undefined;
    const observer = new ResizeObserver(() => setSize({ width: element.clientWidth, height: element.clientHeight }));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return { box, ...size };
};

/** All pages, for the printer alone. */
const Printing = ({ pages, onDone }: { pages: number; onDone: () => void }) => {
  const { score } = useDesk();
  const [pictures, setPictures] = useState<readonly string[]>([]);
  useEffect(() => {
    let over = false;
    const make = async () => {
      const made: string[] = [];
      for (let number = 1; number <= pages && !over; number += 1) made.push(await score.page(number));
      if (!over) setPictures(made);
    };
    void make().catch(onDone);
    return () => {
      over = true;
    };
  }, [pages, onDone, score]);
  useEffect(() => {
    if (pictures.length === 0) return;
    print();
    onDone();
  }, [pictures, onDone]);
  return createPortal(
    <div className="print-root">
      {pictures.map((svg, index) => (
        <div
          // biome-ignore lint/suspicious/noArrayIndexKey: pages are known by their place
          key={index}
          className="print-page"
          // biome-ignore lint/security/noDangerouslySetInnerHtml: the picture comes from our own engraver
          dangerouslySetInnerHTML={{ __html: svg }}
        />
      ))}
    </div>,
    document.body,
  );
};

export const ScoreView = ({ onClose }: { onClose: () => void }) => {
  const { score } = useDesk();
  const keyOf = useKeyOf();
  const dispatch = useAppDispatch();
  const store = useStore<RootState>();
  const arrangementId = useAppSelector(({ piece }) => piece.id);
  const title = useAppSelector(({ piece }) => piece.arrangement?.title ?? '');
  const frontOnly = useAppSelector(({ layout }) => layout.pageOfFrontOnly);
  const { parts } = useAppSelector(selectArrangement);
  const follow = useAppSelector(({ looking }) => looking.seeing.follow);
  const [zoom, setZoom] = useState<Zoom>('width');
  const [page, setPage] = useState(1);
  const [printing, setPrinting] = useState(false);
  const { box, width, height } = useSize();
  const playingBar = usePlayingBar();

  const partIds = useAppSelector(selectPageParts);
  const [wishes, changeWishes] = usePageWishes(arrangementId);
  const [settingUp, setSettingUp] = useState(false);
  const { setup, head } = useMemo(() => {
    const { paper, staff, barNumbers, restingStaves, composer, arranger } = wishes;
    const usual = pageSetupFor(partIds.length);
    const own: PageSetup = { paper, barNumbers, restingStaves, staff: staff ?? usual.staff };
    const single = partIds.length === 1 ? parts.find((part) => part.id === partIds[0]) : undefined;
    return { setup: own, head: { title, part: single?.name ?? '', composer, arranger } };
  }, [wishes, partIds, parts, title]);
  const { laid, problem } = useScore(partIds, wishes, setup, head);

  const { width: across, height: down } = PAPERS[setup.paper];
  const byWidth = Math.max(200, width - 2 * ROOM);
  const byHeight = Math.max(140, ((height - 2 * ROOM) * across) / down);
  const pageWidth =
    zoom === 'width' ? Math.min(byWidth, 1100) : zoom === 'page' ? Math.min(byWidth, byHeight) : across * 3 * zoom;

  const goTo = useCallback(
    (number: number, say = true) => {
      const to = Math.max(1, Math.min(laid.pages, number));
      box.current?.querySelector(`[data-page="${to}"]`)?.scrollIntoView({ block: 'start' });
      setPage(to);
      if (say) dispatch(said(`Page ${to} of ${laid.pages}${laid.whole ? '' : ' so far'}.`));
    },
    [laid, box, dispatch],
  );

  // It opens where one was: at the selected note, else at the first bar on view; and takes the keys.
  const opened = useRef(false);
  useEffect(() => {
    if (opened.current || laid.layout === 0) return;
    const state = store.getState();
    const [note] = selectedOnView(state);
    const bar = selectMeterMap(state).barAt(Math.max(0, selectView(state).left));
    const sought = note ? noteheadId({ noteId: note.id, piece: 1 }, 0) : barId(bar.number);
    if (laid.whole) opened.current = true;
    box.current?.focus();
    void score.pageOf(sought).then((number) => {
      if (number === 0) return;
      opened.current = true;
      goTo(number, false);
      dispatch(said(`Score view, page ${number} of ${laid.pages}${laid.whole ? '' : ' so far'}.`));
    });
  }, [laid, store, goTo, box, dispatch, score.pageOf]);

  // The page of the playing bar comes into view.
  useEffect(() => {
    if (playingBar === null || !follow) return;
    void score.pageOf(barId(playingBar)).then((number) => {
      const target = box.current?.querySelector(`[id="${barId(playingBar)}"]`) ?? null;
      if (target) target.scrollIntoView({ block: 'nearest' });
      else if (number > 0) goTo(number, false);
    });
  }, [playingBar, follow, goTo, box, score.pageOf]);

  const zoomBy = (factor: number) =>
    setZoom(Math.max(SMALLEST, Math.min(LARGEST, (pageWidth / (across * 3)) * factor)));

  const keys = new Map<string, () => void>([
    ['PageDown', () => goTo(page + 1)],
    ['PageUp', () => goTo(page - 1)],
    ['ArrowRight', () => goTo(page + 1)],
    ['ArrowLeft', () => goTo(page - 1)],
    ['Home', () => goTo(1)],
    ['End', () => goTo(laid.pages)],
    ['=', () => zoomBy(ZOOM_STEP)],
    ['+', () => zoomBy(ZOOM_STEP)],
    ['-', () => zoomBy(1 / ZOOM_STEP)],
    ['0', () => setZoom(zoom === 'width' ? 'page' : 'width')],
    ['Escape', onClose],
  ]);
  const onKeyDown = (event: KeyboardEvent) => {
    const act = keys.get(event.key);
    if (!act || event.ctrlKey || event.metaKey || event.altKey) return;
    event.preventDefault();
    act();
  };

  const onScroll = () => {
    const pages = [...(box.current?.querySelectorAll<HTMLElement>('[data-page]') ?? [])];
    const top = (box.current?.scrollTop ?? 0) + height / 3;
    const now = pages.filter(({ offsetTop }) => offsetTop <= top).pop();
    if (now) setPage(Number(now.dataset.page));
  };
  const endPrinting = useCallback(() => setPrinting(false), []);

  return (
    <section aria-label="Score" className="flex h-full min-h-0 flex-col bg-shade">
      <header className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-strong bg-desk px-3 py-1 text-sm">
        <Button title="Back to the roll" hint="Esc" onClick={onClose}>
          <ArrowLeft size={16} aria-hidden /> Desk
        </Button>
        <h2 className="font-serif text-base">{partIds.length === 1 ? head.part : 'Score'}</h2>
        <span className="flex items-center gap-1">
          <Button
            look="quiet"
            className="!px-1"
            aria-label="Page before"
            title="Page before"
            hint="Page up"
            onClick={() => goTo(page - 1)}
          >
            <ChevronLeft size={16} aria-hidden />
          </Button>
          <span className="whitespace-nowrap text-soft" role="group" aria-label="Place in the score">
            {laid.pages > 0
              ? `page ${Math.min(page, laid.pages)} of ${laid.pages}${laid.whole ? '' : ' so far'}`
              : 'engraving…'}
          </span>
          <Button
            look="quiet"
            className="!px-1"
            aria-label="Next page"
            title="Next page"
            hint="Page down"
            onClick={() => goTo(page + 1)}
          >
            <ChevronRight size={16} aria-hidden />
          </Button>
        </span>
        <span className="flex items-center gap-1">
          <Button
            look="quiet"
            className="!px-1"
            aria-label="Smaller"
            title="Smaller"
            hint="-"
            onClick={() => zoomBy(1 / ZOOM_STEP)}
          >
            <Minus size={16} aria-hidden />
          </Button>
          <select
            aria-label="Size of pages"
            className="min-h-8 border border-strong bg-sheet px-1"
            value={typeof zoom === 'number' ? 'own' : zoom}
            onChange={(event) => setZoom(event.target.value === 'page' ? 'page' : 'width')}
          >
            <option value="width">Fit the width</option>
            <option value="page">Fit the page</option>
            {typeof zoom === 'number' && <option value="own">{Math.round(zoom * 100)} %</option>}
          </select>
          <Button
            look="quiet"
            className="!px-1"
            aria-label="Larger"
            title="Larger"
            hint="+"
            onClick={() => zoomBy(ZOOM_STEP)}
          >
            <Plus size={16} aria-hidden />
          </Button>
        </span>
        <label className="flex items-center gap-1.5">
          <input
            type="checkbox"
            className="accent-[var(--fold)]"
            checked={frontOnly}
            onChange={() => dispatch(switched('pageOfFrontOnly'))}
          />
          Front part only
        </label>
        <Button className="ml-auto" title="Paper, staves, order, pitch and names" onClick={() => setSettingUp(true)}>
          <FileSliders size={16} aria-hidden /> Page set-up
        </Button>
        <Button
          title="In a window of its own, linked with this one"
          hint={keyOf('scoreWindow')}
          onClick={() => openScoreWindow(arrangementId)}
        >
          <AppWindow size={16} aria-hidden /> Own window
        </Button>
        <Button title="Print these pages" disabled={!laid.whole || printing} onClick={() => setPrinting(true)}>
          <Printer size={16} aria-hidden /> Print
        </Button>
        <span className="text-soft">PDF files: {keyOf('export')}</span>
      </header>
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
