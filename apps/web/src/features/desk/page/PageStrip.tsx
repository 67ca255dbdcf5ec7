/** The page under the roll: the bars on view, engraved. A click on a note selects it in both. */
import { noteOfHead } from '@crispfold/core';
import { useEffect, useMemo, useRef, useState } from 'react';
import { useAppDispatch, useAppSelector } from '../../../app/store.js';
import { deskWorker, engraverWorker } from '../../../engine/engine.js';
import { deskActions } from '../deskSlice.js';
import { selectBars } from '../maps.js';
import { selectView } from '../roll/rollSlice.js';
import { tickOfX } from '../roll/rollView.js';
import { selectArrangement, selectShownParts } from '../selectors.js';
import { useWorking, useWritten } from '../useWritten.js';

/** More bars than these are not engraved at once: the strip says so. */
const MOST_BARS = 12;
/** The picture fills the strip's height, but no staff with its room gets lower than this. */
const LEAST_STAFF_PIXELS = 46;
/** How long the view must rest before the page follows it. */
const REST_MILLISECONDS = 150;

interface Range {
  readonly first: number;
  readonly last: number;
  readonly cut: boolean;
}

interface Picture {
  readonly svg: string;
  readonly shown: Range | null;
}

const useVisibleBars = (): Range => {
  const view = useAppSelector(selectView);
  const bars = useAppSelector(selectBars);
  return useMemo(() => {
    const right = tickOfX(view, view.width);
    const seen = bars.filter((bar) => bar.end > view.left + 1 && bar.start < right - 1);
    const first = seen[0]?.number ?? 1;
    const last = seen[seen.length - 1]?.number ?? 1;
    return { first, last: Math.min(last, first + MOST_BARS - 1), cut: last - first >= MOST_BARS };
  }, [view, bars]);
};

const Busy = () => useWorking() && <span className="text-fold-ink">working…</span>;

export const PageStrip = () => {
  const dispatch = useAppDispatch();
  const arrangement = useAppSelector(selectArrangement);
  const selection = useAppSelector((state) => state.desk.selection);
  const frontPartId = useAppSelector((state) => state.desk.frontPartId);
  const pageOfFrontOnly = useAppSelector((state) => state.desk.pageOfFrontOnly);
  const shown = useAppSelector(selectShownParts);
  const { serial } = useWritten();
  const { first, last, cut } = useVisibleBars();
  // The bars named above the page are those of the picture: naming those in view would lay the page out on each scroll.
  const [{ svg, shown: bars }, setPicture] = useState<Picture>({ svg: '', shown: null });
  const [problem, setProblem] = useState('');
  // The same object for the same picture: a new one would make React build all of it again on every scroll of the roll.
  const html = useMemo(() => ({ __html: svg }), [svg]);
  const picture = useRef<HTMLDivElement>(null);
  const newest = useRef(0);

  const partIds = useMemo(() => {
    const wanted = new Set(pageOfFrontOnly ? [frontPartId] : shown.map((part) => part.id));
    return arrangement.parts.map((part) => part.id).filter((id) => wanted.has(id));
  }, [pageOfFrontOnly, frontPartId, shown, arrangement.parts]);
  const partKey = partIds.join();

  const view = useAppSelector(selectView);
  const engraved = useRef({ key: '', serial: 0 });

  // While the roll scrolls the page waits: each move of the view puts it off anew. An edit is engraved at once.
  // biome-ignore lint/correctness/useExhaustiveDependencies: the view is what moves; the key stands for the ids
  useEffect(() => {
    const key = `${first}-${last} ${partKey}`;
    if (serial === 0 || (engraved.current.key === key && engraved.current.serial === serial)) return undefined;
    const edited = engraved.current.key === key;
    newest.current += 1;
    const turn = newest.current;
    const engrave = async () => {
      engraved.current = { key, serial };
      try {
        const musicXml = partIds.length > 0 ? await deskWorker().page(partIds, first, last) : '';
        if (turn !== newest.current) return;
        const drawn = musicXml ? await engraverWorker().engrave(musicXml) : '';
        if (turn !== newest.current) return;
        setPicture({ svg: drawn, shown: { first, last, cut } });
        setProblem('');
        performance.mark('crispfold-page');
      } catch (error) {
        setProblem(`The page could not be engraved: ${(error as Error).message}`);
      }
    };
    const timer = setTimeout(() => void engrave(), edited ? 0 : REST_MILLISECONDS);
    return () => clearTimeout(timer);
  }, [serial, first, last, partKey, view]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: a new picture needs its marks again
  useEffect(() => {
    const box = picture.current;
    if (!box) return;
    for (const head of box.querySelectorAll('g.note.chosen')) head.classList.remove('chosen');
    const chosen = new Set(selection);
    if (chosen.size === 0) return;
    for (const head of box.querySelectorAll('g.note')) {
      const id = noteOfHead(head.id);
      if (id !== undefined && chosen.has(id)) head.classList.add('chosen');
    }
  }, [svg, selection]);

  const choose = (target: EventTarget, adding: boolean) => {
    const head = (target as Element).closest('g.note');
    const id = head ? noteOfHead(head.id) : undefined;
    if (id === undefined) return;
    const part = arrangement.parts.find((candidate) => candidate.notes.some((note) => note.id === id));
    if (!part) return;
    const together = adding && part.id === frontPartId;
    dispatch(deskActions.partBroughtForward(part.id));
    dispatch(deskActions.selected(together ? [...selection, id] : [id]));
  };

  return (
    <section aria-label="Page" className="flex h-full min-h-0 flex-col bg-sheet">
      <header className="flex items-center gap-3 border-y border-strong px-3 py-1 text-sm">
        <h2 className="font-serif text-base">Page</h2>
        <span className="text-soft">
          {bars && (bars.first === bars.last ? `bar ${bars.first}` : `bars ${bars.first} to ${bars.last}`)}
          {bars?.cut ? ', the first of those in view' : ''}
        </span>
        <Busy />
        <label className="ml-auto flex items-center gap-1.5">
          <input
            type="checkbox"
            className="accent-[var(--fold)]"
            checked={pageOfFrontOnly}
            onChange={() => dispatch(deskActions.switched('pageOfFrontOnly'))}
          />
          Front part only
        </label>
      </header>
      {problem && (
        <p role="alert" className="p-3">
          {problem}
        </p>
      )}
      {!problem && !svg && (
        <p className="p-3 text-soft">
          {partIds.length === 0 ? 'Every part is hidden. Show one to see its page.' : 'Engraving…'}
        </p>
      )}
      {/* biome-ignore lint/a11y/useKeyWithClickEvents: the roll offers the same by keyboard */}
      <div
        ref={picture}
        data-testid="page"
        role="group"
        aria-label="Engraved bars"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reached by keys
        tabIndex={0}
        className="engraved min-h-0 flex-1 overflow-auto [&>svg]:h-full [&>svg]:w-auto [&>svg]:max-h-[26rem] [&>svg]:min-h-[var(--least)] [&>svg]:max-w-none"
        style={{ '--least': `${partIds.length * LEAST_STAFF_PIXELS}px` } as React.CSSProperties}
        onClick={(event) => choose(event.target, event.shiftKey)}
        // biome-ignore lint/security/noDangerouslySetInnerHtml: the picture comes from our own engraver
        dangerouslySetInnerHTML={html}
      />
    </section>
  );
};
