/** The page under the roll: the bars on view, engraved. A click on a note selects it in both. */

import type { Bar, PartId } from '@crispfold/core';
import { ChevronLeft, ChevronRight } from 'lucide-react';
import { type RefObject, useEffect, useMemo, useRef, useState } from 'react';
import { useStore } from 'react-redux';
import type { Revision } from '../../engine/protocol.js';
import { Button } from '../../ui/Button.js';
import { tiePage, turnPage } from '../actions/pageMoves.js';
import { useChooseHead, useHeadHint, useMarks } from '../controls/engraved/heads.js';
import { useMarkDrags } from '../controls/engraved/marks.js';
import { useKeyOf } from '../controls/useKeyOf.js';
import { useAppDispatch } from '../session/desk.js';
import { useRevision, useWorkState } from '../session/useWritten.js';
import { layoutActions } from '../state/layoutSlice.js';
import { selectBars } from '../state/maps.js';
import { selectView } from '../state/rollSelectors.js';
import { tickOfX } from '../state/rollView.js';
import { type RootState, useAppSelector } from '../state/root.js';
import { selectPageParts } from '../state/selectors.js';
import { switched } from '../state/switched.js';
import { usePageEntry } from './PageEntry.js';
import { pageGroups } from './pageGroups.js';
import { type BarRange, useEngraving } from './useEngraving.js';

/** More bars than these are not engraved at once: the strip says so. */
const MOST_BARS = 12;
/** The picture of a small score fills the strip's height, but no staff with its room gets lower than this. */
const LEAST_STAFF_PIXELS = 46;
/** …nor higher, with this room above and below all of them: one staff is not blown up to fill the strip. */
const MOST_STAFF_PIXELS = 110;
const MOST_MARGIN_PIXELS = 40;
/** Where there are more staves than fit the strip, all groups have one scale (pixels to the engraver's unit)… */
const SCALE = 0.58;
/** …and a staff that is not engraved yet takes so much room. */
const STAFF_PIXELS = 66;
/** Staves this near to the strip are engraved before they are seen. */
const AHEAD = '160px 0px';

/** The bars of the page: those that the roll shows, or as many from where it was turned to. */
const usePageBars = (): BarRange => {
  const view = useAppSelector(selectView);
  const bars = useAppSelector(selectBars);
  const apart = useAppSelector((state) => state.layout.pageApart);
  return useMemo(() => {
    const right = tickOfX(view, view.width);
    const seen = bars.filter((bar) => bar.end > view.left + 1 && bar.start < right - 1);
    const first = (seen[0]?.index ?? 0) + 1;
    const last = (seen[seen.length - 1]?.index ?? 0) + 1;
    if (apart !== null) {
      const from = Math.min(apart, bars.length);
      return { first: from, last: Math.min(bars.length, from + Math.min(MOST_BARS - 1, last - first)), cut: false };
    }
    return { first, last: Math.min(last, first + MOST_BARS - 1), cut: last - first >= MOST_BARS };
  }, [view, bars, apart]);
};

const Busy = () => useWorkState().kind === 'working' && <span className="text-fold-ink">working…</span>;

/** True once the element has come near the strip's window. */
const useSeen = (element: RefObject<HTMLElement | null>, always: boolean): boolean => {
  const [seen, setSeen] = useState(always);
  useEffect(() => {
    const target = element.current;
    if (always || !target) {
      setSeen(true);
      return undefined;
    }
    const observer = new IntersectionObserver(([entry]) => setSeen(entry?.isIntersecting ?? false), {
      root: target.parentElement,
      rootMargin: AHEAD,
    });
    observer.observe(target);
    return () => observer.disconnect();
  }, [element, always]);
  return seen;
};

const PageGroup = ({
  partIds,
  bars,
  alone,
  waits,
  atOnce,
  onShown,
  onDone,
}: {
  partIds: readonly PartId[];
  bars: BarRange;
  /** True where there is no other group: the picture fills the strip. */
  alone: boolean;
  /** True while what stands above it is still to be engraved. */
  waits: boolean;
  /** True for the group that a change is engraved in first. */
  atOnce: boolean;
  onDone: (revision: Revision) => void;
  onShown: (bars: BarRange | null) => void;
}) => {
  const selection = useAppSelector((state) => state.selecting.selection);
  const view = useAppSelector(selectView);
  const box = useRef<HTMLDivElement>(null);
  const seen = useSeen(box, alone);
  const { picture, problem } = useEngraving(partIds, bars, view, seen && !waits, onDone, atOnce);
  const { svg } = picture;
  // The same object for the same picture: a new one would make React build all of it again on every scroll of the roll.
  const html = useMemo(() => ({ __html: svg }), [svg]);

  useEffect(() => onShown(picture.bars), [picture.bars, onShown]);
  useMarks(box, svg, selection, partIds);

  const choose = useChooseHead(partIds);
  const sayHead = useHeadHint(partIds);
  const entry = usePageEntry(box, svg, picture.places);
  const marks = useMarkDrags(box);

  const tall = Number(/viewBox="0 0 \S+ (\S+?)"/.exec(svg)?.[1] ?? 0) * SCALE || partIds.length * STAFF_PIXELS;
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the roll offers the same by keyboard
    <div
      ref={box}
      role="group"
      aria-label={svg ? undefined : 'Staves that are being engraved'}
      className={`relative w-max [contain:layout_style] ${alone ? 'h-full' : ''} ${entry.on ? 'cursor-crosshair' : ''}`}
      style={alone || problem ? {} : { height: tall }}
      onClick={(event) => entry.onClick(event) || choose(event.target, event.shiftKey)}
      {...marks}
      onPointerMove={(event) => {
        if (marks.onPointerMove(event)) return;
        if (entry.on) entry.onPointerMove(event);
        else sayHead(event.target);
      }}
      onPointerLeave={entry.onPointerLeave}
    >
      {problem ? (
        <p role="alert" className="p-3">
          {problem}
        </p>
      ) : (
        <div
          className={
            alone
              ? 'h-full [&>svg]:h-full [&>svg]:max-h-[min(26rem,var(--most))] [&>svg]:min-h-[var(--least)] [&>svg]:w-auto [&>svg]:max-w-none'
              : 'h-full [&>svg]:h-full [&>svg]:w-auto [&>svg]:max-w-none'
          }
          style={
            {
              '--least': `${partIds.length * LEAST_STAFF_PIXELS}px`,
              '--most': `${MOST_MARGIN_PIXELS + partIds.length * MOST_STAFF_PIXELS}px`,
            } as React.CSSProperties
          }
          // biome-ignore lint/security/noDangerouslySetInnerHtml: the picture comes from our own engraver
          dangerouslySetInnerHTML={html}
        />
      )}
      {entry.over}
    </div>
  );
};

/** "bars 0 to 4", by the numbers that players say. */
const barsInWords = ({ first, last }: BarRange, bars: readonly Bar[]): string => {
  const [from, to] = [bars[first - 1]?.number ?? first, bars[last - 1]?.number ?? last];
  return from === to ? `bar ${from}` : `bars ${from} to ${to}`;
};

export const PageStrip = ({ onScore }: { onScore: () => void }) => {
  const keyOf = useKeyOf();
  const dispatch = useAppDispatch();
  const frontPartId = useAppSelector((state) => state.partsShown.frontPartId);
  const pageOfFrontOnly = useAppSelector((state) => state.layout.pageOfFrontOnly);
  const bars = usePageBars();
  const apart = useAppSelector((state) => state.layout.pageApart);
  const store = useStore<RootState>();
  const turning = { dispatch, getState: store.getState };
  const onWheel = useTurnByWheel(turning);
  // The bars named above the page are those of the picture: naming those in view would lay the page out on each scroll.
  const revision = useRevision();
  /** The newest revision of which the front part's page is engraved: the others come after it. */
  const [engraved, setEngraved] = useState<Revision>(0);
  const [named, setNamed] = useState<BarRange | null>(null);
  const allBars = useAppSelector(selectBars);

  useEffect(() => void dispatch(layoutActions.pageShows(named)), [named, dispatch]);
  useEffect(() => () => void dispatch(layoutActions.pageShows(null)), [dispatch]);

  const partIds = useAppSelector(selectPageParts);
  const groups = useMemo(() => pageGroups(partIds, frontPartId), [partIds, frontPartId]);

  return (
    <section aria-label="Page" className="flex h-full min-h-0 flex-col bg-sheet">
      <header className="flex items-center gap-3 border-y border-strong px-3 py-1 text-sm">
        <h2 className="font-serif text-base">Page</h2>
        <span className="text-soft">
          {named && barsInWords(named, allBars)}
          {named?.cut ? ', the first of those in view' : ''}
        </span>
        <span className="flex items-center">
          {TURNS.map(([way, words, id, Icon]) => (
            <Button
              key={id}
              look="quiet"
              className="!px-1"
              aria-label={words}
              title={words}
              hint={keyOf(id)}
              onClick={() => turnPage(turning, way)}
            >
              <Icon size={16} aria-hidden />
            </Button>
          ))}
        </span>
        {apart !== null && (
          <Button
            title="The page was turned apart from the roll"
            hint={keyOf('pageFollows')}
            onClick={() => tiePage(turning)}
          >
            Follow the roll
          </Button>
        )}
        <Busy />
        <Button title="Read whole pages" hint={keyOf('score')} onClick={onScore}>
          Score view
        </Button>
        <label className="ml-auto flex items-center gap-1.5">
          <input
            type="checkbox"
            className="accent-[var(--fold)]"
            checked={pageOfFrontOnly}
            onChange={() => dispatch(switched('pageOfFrontOnly'))}
          />
          Front part only
        </label>
      </header>
      {groups.length === 0 && <p className="p-3 text-soft">Every part is hidden. Show one to see its page.</p>}
      {groups.length > 0 && !named && <p className="p-3 text-soft">Engraving…</p>}
      <section
        aria-label="Engraved bars"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reached by keys
        tabIndex={0}
        className="engraved min-h-0 flex-1 overflow-auto"
        onWheel={onWheel}
      >
        {groups.map((partIds, index) => (
          <PageGroup
            key={groups.length === 1 ? 'all' : partIds.join()}
            partIds={partIds}
            bars={bars}
            alone={groups.length === 1}
            waits={index > 0 && engraved < revision}
            atOnce={index === 0}
            onDone={index === 0 ? setEngraved : ignore}
            onShown={index === 0 ? setNamed : ignore}
          />
        ))}
      </section>
    </section>
  );
};

const TURNS = [
  [-1, 'Bars before', 'pagePrevious', ChevronLeft],
  [1, 'Bars after', 'pageNext', ChevronRight],
] as const;

/** So far a wheel turns for one bar, in pixels. */
const PIXELS_PER_BAR = 60;

/** A wheel across turns the page by bars, once there is nothing more to scroll to within it. */
const useTurnByWheel = (turning: Parameters<typeof turnPage>[0]) => {
  const turned = useRef(0);
  return (event: React.WheelEvent<HTMLElement>) => {
    const across = event.shiftKey && event.deltaX === 0 ? event.deltaY : event.deltaX;
    if (Math.abs(across) <= (event.shiftKey ? 0 : Math.abs(event.deltaY))) return;
    const { scrollLeft, scrollWidth, clientWidth } = event.currentTarget;
    const more = across > 0 ? scrollLeft + clientWidth < scrollWidth - 1 : scrollLeft > 1;
    if (more) {
      turned.current = 0;
      return;
    }
    turned.current += across * (event.deltaMode === 1 ? 16 : 1);
    const bars = Math.trunc(turned.current / PIXELS_PER_BAR);
    if (bars === 0) return;
    turned.current -= bars * PIXELS_PER_BAR;
    turnPage(turning, bars > 0 ? 1 : -1, Math.abs(bars));
  };
};

const ignore = () => undefined;
