/** The history: every change by name. A click goes there. */

import type { KeptPointItem } from '@crispfold/contract';
import { useEffect, useState } from 'react';
import { api } from '../../../browser/api.js';
import { Button } from '../../../ui/Button.js';
import { counted, sinceWhen } from '../../../ui/words.js';
import { useAppDispatch } from '../../session/desk.js';
import { goToEntry, loadOlderEntries } from '../../session/saving.js';
import { goToPoint } from '../../session/serverChanges.js';
import { useAppSelector } from '../../state/root.js';

export const HistoryPanel = () => {
  const dispatch = useAppDispatch();
  const history = useAppSelector(({ piece }) => piece.history);
  const folded = history.folded ?? 0;
  const line = (position: number, label: string, touched: number) => {
    const current = position === history.position;
    return (
      <li key={position}>
        <button
          type="button"
          aria-current={current ? 'step' : undefined}
          onClick={() => dispatch(goToEntry(position))}
          className={`flex w-full gap-2 border-b border-rule px-3 py-1.5 text-left text-sm ${
            current
              ? 'bg-selected font-semibold'
              : position > history.position
                ? 'text-soft italic hover:bg-shade'
                : 'hover:bg-shade'
          }`}
          title={touched > 0 ? `${touched} notes touched` : undefined}
        >
          <span className="w-6 shrink-0 text-right tabular-nums text-soft">{position}</span>
          <span className="min-w-0 flex-1">{label}</span>
        </button>
      </li>
    );
  };
  return (
    <section aria-label="History">
      <p className="px-3 py-2 text-sm text-soft">
        Click an entry to go there. What comes after it stays until you change something.
      </p>
      <ol className="border-t border-rule">
        {history.skipped === 0 && line(0, 'As brought in', 0)}
        {folded > 0 && history.skipped <= folded && <KeptPoints folded={folded} />}
        {history.skipped > folded && (
          <li className="border-b border-rule px-3 py-1.5">
            <Button title="Show entries from further back" onClick={() => void dispatch(loadOlderEntries())}>
              {counted(history.skipped - folded, 'earlier entry', 'earlier entries')}…
            </Button>
          </li>
        )}
        {history.entries.map(({ label, touched }, index) => line(history.skipped + index + 1, label, touched))}
      </ol>
    </section>
  );
};

/** What is kept of changes that were folded away: a few points to go back to. */
const KeptPoints = ({ folded }: { folded: number }) => {
  const dispatch = useAppDispatch();
  const id = useAppSelector(({ piece }) => piece.id);
  const [points, setPoints] = useState<readonly KeptPointItem[]>([]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another fold has other points
  useEffect(() => {
    if (id) api.points(id).then(setPoints, () => undefined);
  }, [id, folded]);
  return (
    <li className="border-b border-rule px-3 py-1.5 text-sm">
      <p className="text-soft">
        {counted(folded, 'change')} before these {folded === 1 ? 'was' : 'were'} folded away. Kept of them:
      </p>
      <ul aria-label="Kept points">
        {points.map(({ revision, position, writtenAt }) => (
          <li key={revision}>
            <Button
              look="quiet"
              className="!px-0 text-left"
              title="Makes the arrangement again what it was then; that can be undone"
              onClick={() => void dispatch(goToPoint(revision))}
            >
              After {counted(position, 'change')}, {sinceWhen(writtenAt)}
            </Button>
          </li>
        ))}
      </ul>
    </li>
  );
};
