/** What the library shows of an arrangement at a glance: worked out when the Desk is quiet, and kept by the server. */

import { type Arrangement, type BarReadability, meanReadability } from '@crispfold/core';
import { useEffect } from 'react';
import { useStore } from 'react-redux';
import { api } from '../../browser/api.js';
import type { EngineLine } from '../../engine/engine.js';
import { notDismissed } from '../state/findings.js';
import type { RootState } from '../state/root.js';
import { useDesk } from './desk.js';

/** After the last change and check it is quiet for so long (milliseconds): when it was opened, and later, when one works. */
const [FIRST_QUIET, QUIET] = [3000, 30_000];
/** Of more parts and notes than these the reading is left out: it would keep the worker from the page. */
const MOST = { parts: 24, notes: 20_000 };

const readingOf = async ({ parts }: Arrangement, engine: EngineLine) => {
  const notes = parts.reduce((sum, part) => sum + part.notes.length, 0);
  if (parts.length > MOST.parts || notes > MOST.notes) return null;
  const bars: BarReadability[] = [];
  for (const { id } of parts) bars.push(...(await engine.ask('readability', { partId: id })).bars);
  return meanReadability(bars);
};

/** While the Desk is open, tells the server how the arrangement stands. What fails is tried after the next change. */
export const useGlance = (): void => {
  const store = useStore<RootState>();
  const { engine, saving } = useDesk();
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    let told: unknown = null;
    const tell = async () => {
      const {
        piece: { id, arrangement },
        saving: { saveState },
        checks,
      } = store.getState();
      if (!id || !arrangement || arrangement === told || saveState !== 'saved' || !checks.ran) return;
      if (saving.windows?.follows) return;
      told = arrangement;
      const open = notDismissed(checks.all, arrangement.parts);
      const reads = await readingOf(arrangement, engine);
      const wrong = open.filter(({ severity }) => severity === 'wrong').length;
      // What was changed in the meantime is told of in its turn.
      if (store.getState().piece.arrangement === arrangement)
        await api.glance(id, { findings: open.length, wrong, reads });
    };
    const later = () => {
      clearTimeout(timer);
      timer = setTimeout(() => void tell().catch(() => undefined), told === null ? FIRST_QUIET : QUIET);
    };
    const leave = store.subscribe(later);
    later();
    return () => {
      clearTimeout(timer);
      leave();
    };
  }, [store, engine, saving]);
};
