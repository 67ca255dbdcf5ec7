/** The picture of some bars of some parts: asked for when they change, kept until a newer one is there. */

import type { PagePlaces, PartId } from '@crispfold/core';
import { useEffect, useRef, useState } from 'react';
import { isSessionOver, type Revision } from '../../engine/protocol.js';
import { useDesk } from '../session/desk.js';
import { useComplete, usePageComing, useRevision, useRevisions } from '../session/useWritten.js';

/** Bars from the first to the last; `cut` where more are in view. */
export interface BarRange {
  readonly first: number;
  readonly last: number;
  readonly cut: boolean;
}

/** A picture and what it shows. */
export interface Picture {
  readonly svg: string;
  readonly bars: BarRange | null;
  /** What its staves and heads stand for. */
  readonly places: PagePlaces | null;
}

/** How long the view must rest before the page follows it. */
const REST_MILLISECONDS = 150;

const NOTHING_YET: Picture = { svg: '', bars: null, places: null };

/**
 * Engraves while `wanted`. While the view moves the page waits: `moving` is anything that changes with it. An edit is
 * engraved at once. A page that would look the same as the last one is not engraved again.
 */
export const useEngraving = (
  partIds: readonly PartId[],
  { first, last, cut }: BarRange,
  moving: unknown,
  wanted: boolean,
  /** Told each revision that has been engraved, or could not be. */
  onDone: (revision: Revision) => void,
  /** True where a change is asked for as it is made, while the screen draws it; else once `wanted` says so. */
  atOnce: boolean,
): { readonly picture: Picture; readonly problem: string } => {
  const { engine } = useDesk();
  const revisions = useRevisions();
  const revision = useRevision();
  const pageComing = usePageComing();
  // When all plans have run, spellings may differ from what the parts known so far suggested.
  const settled = useComplete();
  const [picture, setPicture] = useState<Picture>(NOTHING_YET);
  const [problem, setProblem] = useState('');
  const partKey = partIds.join();
  const place = `${first}-${last} ${partKey}`;
  const shown = useRef({ picture: 0, place: '' });
  const newest = useRef(0);
  /** Asks for the picture as the view stands; null while none is wanted, or while the view moves. */
  const ask = useRef<(() => Promise<void>) | null>(null);

  // biome-ignore lint/correctness/useExhaustiveDependencies: the place stands for bars and parts
  useEffect(() => {
    const engrave = async () => {
      const asked = revisions.get();
      if (asked === 0) return;
      newest.current += 1;
      const turn = newest.current;
      try {
        const known = shown.current.place === place ? shown.current.picture : 0;
        const bars = { partIds, firstBar: first, lastBar: last, shown: known };
        const page = engine.ask('page', bars);
        if (atOnce) pageComing(page);
        const { picture: id, svg, places } = await page;
        if (turn !== newest.current) return;
        if (svg !== null) {
          shown.current = { picture: id, place };
          setPicture({ svg, bars: { first, last, cut }, places });
        }
        setProblem('');
        onDone(asked);
        performance.mark('crispfold-page', { detail: { revision: asked, parts: partKey } });
      } catch (error) {
        if (!isSessionOver(error) && turn === newest.current) {
          setProblem(`The page could not be engraved: ${(error as Error).message}`);
          onDone(asked);
        }
      }
    };
    ask.current = null;
    // What was asked for another view is not shown in this one.
    newest.current += 1;
    if (!wanted) return undefined;
    const follows = shown.current.place !== '' && shown.current.place !== place;
    const begin = () => {
      ask.current = engrave;
      void engrave();
    };
    if (!follows) {
      begin();
      return undefined;
    }
    const timer = setTimeout(begin, REST_MILLISECONDS);
    return () => clearTimeout(timer);
  }, [atOnce ? 0 : revision, settled, place, wanted, shown.current.place === place ? null : moving]);

  useEffect(() => (atOnce ? revisions.subscribe(() => void ask.current?.()) : undefined), [revisions, atOnce]);

  return { picture, problem };
};
