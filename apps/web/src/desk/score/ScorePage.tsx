/** One page of the score: engraved when it comes near, its noteheads can be chosen, the playing bar is marked. */

import { barId, PAPERS, type Paper, type PartId } from '@crispfold/core';
import { memo, useEffect, useMemo, useRef, useState } from 'react';
import { useChooseHead, useHeadHint, useMarks } from '../controls/engraved/heads.js';
import { useMarkDrags } from '../controls/engraved/marks.js';
import { useDesk } from '../session/desk.js';
import { useAppSelector } from '../state/root.js';
import type { LaidScore } from './useScore.js';

/** Pages this near to the window are engraved before they are seen. */
const AHEAD = '900px 0px';

/** Engraves the page while it is near, again for each layout; keeps the old picture until the new one is there. */
const usePicture = (number: number, layout: number, near: boolean): string => {
  const { score } = useDesk();
  const [svg, setSvg] = useState('');
  useEffect(() => {
    if (!near || layout === 0) return undefined;
    let over = false;
    void score.page(number).then(
      (picture) => !over && setSvg(picture),
      () => undefined,
    );
    return () => {
      over = true;
    };
  }, [number, layout, near, score]);
  return svg;
};

export const ScorePage = memo(
  ({
    number,
    laid,
    paper,
    width,
    partIds,
    playingBar,
  }: {
    number: number;
    laid: LaidScore;
    paper: Paper;
    /** In pixels. */
    width: number;
    partIds: readonly PartId[];
    /** The bar that is being played, where it may stand on this page. */
    playingBar: number | null;
  }) => {
    const box = useRef<HTMLElement>(null);
    const [near, setNear] = useState(false);
    const selection = useAppSelector((state) => state.selecting.selection);
    const choose = useChooseHead(partIds);
    const sayHead = useHeadHint(partIds);
    const marks = useMarkDrags(box);
    useEffect(() => {
      const target = box.current;
      if (!target) return undefined;
      const observer = new IntersectionObserver(([entry]) => setNear(entry?.isIntersecting ?? false), {
        root: target.closest('#score-pages'),
        rootMargin: AHEAD,
      });
      observer.observe(target);
      return () => observer.disconnect();
    }, []);
    const svg = usePicture(number, laid.layout, near);
    const html = useMemo(() => ({ __html: svg }), [svg]);
    useMarks(box, svg, selection, partIds);

    // biome-ignore lint/correctness/useExhaustiveDependencies: a new picture needs its mark again
    useEffect(() => {
      const bar = playingBar === null ? null : box.current?.querySelector(`[id="${barId(playingBar)}"]`);
      bar?.classList.add('playing');
      return () => bar?.classList.remove('playing');
    }, [playingBar, svg]);

    const { width: across, height: down } = PAPERS[paper];
    return (
      // biome-ignore lint/a11y/useKeyWithClickEvents: the roll offers the same by keyboard
      <section
        ref={box}
        aria-label={`Page ${number}`}
        data-page={number}
        className="engraved score-page shrink-0 border border-strong bg-sheet shadow-md [&_svg]:h-full [&_svg]:w-full"
        style={{ width, height: (width * down) / across }}
        onClick={(event) => choose(event.target, event.shiftKey)}
        {...marks}
        onPointerMove={(event) => marks.onPointerMove(event) || sayHead(event.target)}
      >
        {svg === '' ? (
          <p className="p-6 text-soft">Engraving page {number}…</p>
        ) : (
          <div
            className="h-full"
            // biome-ignore lint/security/noDangerouslySetInnerHtml: the picture comes from our own engraver
            dangerouslySetInnerHTML={html}
          />
        )}
      </section>
    );
  },
);
