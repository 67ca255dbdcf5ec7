/** What was deleted: it comes back, or goes for good. */
import type { BinItem } from '@crispfold/contract';
import { useCallback, useEffect, useState } from 'react';
import { toast } from 'sonner';
import { api } from '../browser/api.js';
import { Button } from '../ui/Button.js';
import { counted, sinceWhen } from '../ui/words.js';
import { loadLibrary } from './librarySlice.js';
import { useAppDispatch } from './libraryStore.js';

const onDay = (iso: string): string =>
  new Date(iso).toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year: 'numeric' });

export const Bin = () => {
  const dispatch = useAppDispatch();
  const [items, setItems] = useState<readonly BinItem[] | null>(null);
  /** The one that is about to go for good: asked once more. */
  const [going, setGoing] = useState<string | null>(null);
  const load = useCallback(
    () =>
      api.bin().then(setItems, (error: Error) => {
        setItems([]);
        toast.error(error.message);
      }),
    [],
  );
  useEffect(() => void load(), [load]);
  const carryOut = async (work: () => Promise<unknown>) => {
    await work().catch((error: Error) => toast.error(error.message));
    setGoing(null);
    await Promise.all([load(), dispatch(loadLibrary())]);
  };
  if (!items) return <p className="py-4 text-soft">Looking into the bin…</p>;
  if (items.length === 0) return <p className="py-4 text-soft">The bin is empty.</p>;
  return (
    <ul className="min-h-0 flex-1 overflow-auto" aria-label="Bin">
      {items.map((item) => (
        <li key={item.id} className="grid grid-cols-[1fr_auto] items-center gap-4 border-b border-rule py-3 pr-1">
          <div className="min-w-0">
            <p className="truncate font-serif text-xl">{item.title}</p>
            <p className="text-sm text-soft">
              {counted(item.parts.length, 'part')}, {counted(item.bars, 'bar')} · deleted {sinceWhen(item.deletedAt)},
              goes on {onDay(item.goesAt)}
            </p>
          </div>
          <div className="flex gap-1">
            {going === item.id ? (
              <>
                <Button look="main" onClick={() => void carryOut(() => api.removeForGood(item.id))}>
                  Yes, with its history
                </Button>
                <Button onClick={() => setGoing(null)}>Keep it</Button>
              </>
            ) : (
              <>
                <Button
                  aria-label={`Bring ${item.title} back`}
                  onClick={() => void carryOut(() => api.restore(item.id))}
                >
                  Bring back
                </Button>
                <Button look="quiet" aria-label={`Delete ${item.title} for good`} onClick={() => setGoing(item.id)}>
                  Delete for good…
                </Button>
              </>
            )}
          </div>
        </li>
      ))}
    </ul>
  );
};
