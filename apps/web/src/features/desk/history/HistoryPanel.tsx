/** The history: every change by name. A click goes there. */
import { notesTouched } from '@crispfold/core';
import { useAppDispatch, useAppSelector } from '../../../app/store.js';
import { Button } from '../../../ui/Button.js';
import { counted } from '../../../ui/words.js';
import { goToEntry, loadOlderEntries } from '../saving.js';
import { selectDesk } from '../selectors.js';

export const HistoryPanel = () => {
  const dispatch = useAppDispatch();
  const { history } = useAppSelector(selectDesk);
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
        {history.skipped === 0 ? (
          line(0, 'As brought in', 0)
        ) : (
          <li className="border-b border-rule px-3 py-1.5">
            <Button title="Show entries from further back" onClick={() => void dispatch(loadOlderEntries())}>
              {counted(history.skipped, 'earlier entry', 'earlier entries')}…
            </Button>
          </li>
        )}
        {history.entries.map((edit, index) => line(history.skipped + index + 1, edit.label, notesTouched(edit)))}
      </ol>
    </section>
  );
};
