/** The score as laid out: its first pages within a moment, all of them after it, and anew when the arrangement changes. */

import type { PageHead, PageSetup, PartId } from '@crispfold/core';
import { useEffect, useState } from 'react';
import { isSessionOver } from '../../engine/protocol.js';
import type { PageWishes } from '../controls/pageWishes.js';
import { useDesk } from '../session/desk.js';
import { useComplete, useRevision } from '../session/useWritten.js';

/** A layout; each has a number of its own, so that pages know that they are out of date. */
export interface LaidScore {
  readonly layout: number;
  readonly pages: number;
  /** False while only its first pages are there. */
  readonly whole: boolean;
}

/** So many bars are laid out first: a page and a little more. */
const FIRST_BARS = 24;
/** A score of so many bars is laid out within a moment by the engraver that is warm. */
const MOST_BARS_NEAR = 100;
/** How long changes must rest before the score is laid out anew, in milliseconds. */
const REST = 250;

const NOTHING: LaidScore = { layout: 0, pages: 0, whole: false };

/** Lays out the parts; asks again with each change of what it is given. */
export const useScore = (
  partIds: readonly PartId[],
  content: Pick<PageWishes, 'concertPitch' | 'order'>,
  setup: PageSetup,
  head: PageHead,
): { readonly laid: LaidScore; readonly problem: string } => {
  const { engine, score } = useDesk();
  const revision = useRevision();
  const complete = useComplete();
  const [laid, setLaid] = useState(NOTHING);
  const [problem, setProblem] = useState('');
  const key = JSON.stringify([partIds, content, setup, head]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: the key stands for parts, wishes, set-up and head
  useEffect(() => {
    if (revision === 0 || !complete || partIds.length === 0) return undefined;
    let over = false;
    const lay = async (lastBar: number | null): Promise<boolean> => {
      const { concertPitch, order } = content;
      const { musicXml, bars, turns } = await engine.ask('score', { partIds, lastBar, concertPitch, order });
      if (over) return true;
      const whole = lastBar === null || bars <= lastBar;
      const pages = await score.lay(lastBar !== null || bars <= MOST_BARS_NEAR, musicXml, setup, head, turns);
      if (over) return true;
      const layout = score.nextLayout();
      setLaid({ layout, pages, whole });
      setProblem('');
      performance.mark('crispfold-score', { detail: { pages, whole } });
      return whole;
    };
    const begin = async () => {
      try {
        if (!(await lay(FIRST_BARS))) await lay(null);
      } catch (error) {
        if (!over && !isSessionOver(error)) setProblem(`The score could not be laid out: ${(error as Error).message}`);
      }
    };
    const timer = setTimeout(() => void begin(), laid.layout === 0 ? 0 : REST);
    return () => {
      over = true;
      clearTimeout(timer);
    };
  }, [revision, complete, key]);

  useEffect(() => () => score.end(), [score]);

  return { laid, problem };
};
