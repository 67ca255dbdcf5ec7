/** What is looked at now and then: the history, and charts of the front part. */
import { lazy, Suspense, useState } from 'react';
import type { CommandContext } from '../../actions/commands/command.js';
import { HistoryPanel } from './HistoryPanel.js';

/** Charts and their library come when first asked for. */
const ChartsPanel = lazy(() => import('./ChartsPanel.js'));

const HEADING = 'cursor-pointer border-b border-rule px-3 py-1.5 font-serif text-base hover:bg-shade';

export const MorePanel = ({ context }: { context: CommandContext }) => {
  const [charts, setCharts] = useState(false);
  return (
    <>
      <details open={charts} onToggle={(event) => setCharts(event.currentTarget.open)}>
        <summary className={HEADING}>Charts of the front part</summary>
        {charts && (
          <Suspense fallback={<p className="p-3 text-sm text-soft">Drawing the charts…</p>}>
            <ChartsPanel context={context} />
          </Suspense>
        )}
      </details>
      <details open>
        <summary className={HEADING}>History</summary>
        <HistoryPanel />
      </details>
    </>
  );
};
