/** The library's arrangements: searched, put in order, chosen several at once; and the bin. */
import type { LibraryItem } from '@crispfold/contract';
import { useState } from 'react';
import { toast } from 'sonner';
import { api } from '../browser/api.js';
import { Button } from '../ui/Button.js';
import { counted } from '../ui/words.js';
import { Bin } from './Bin.js';
import { LibraryRow } from './LibraryRow.js';
import { loadLibrary } from './librarySlice.js';
import { useAppDispatch } from './libraryStore.js';
import { LIBRARY_ORDERS, type LibraryOrder, ORDER_NAMES, shelved, tagsInUse } from './listed.js';

const BOX = 'min-h-8 border border-strong bg-sheet px-2';

export const Shelf = ({ items }: { readonly items: readonly LibraryItem[] }) => {
  const dispatch = useAppDispatch();
  const [typed, setTyped] = useState('');
  const [tag, setTag] = useState<string | null>(null);
  const [order, setOrder] = useState<LibraryOrder>('changed');
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [binShown, setBinShown] = useState(false);
  const tags = tagsInUse(items);
  const inForce = tag !== null && tags.includes(tag) ? tag : null;
  const listed = shelved(items, typed, inForce, order);
  // What is not listed is not chosen either: nothing unseen is deleted.
  const taken = listed.filter(({ id }) => chosen.has(id));

  const each = async (work: (id: string) => Promise<unknown>, ids: readonly string[]) => {
    for (const id of ids) await work(id).catch((error: Error) => toast.error(error.message));
    await dispatch(loadLibrary());
  };
  const removeChosen = async () => {
    const ids = taken.map(({ id }) => id);
    await each(api.remove, ids);
    setChosen(new Set());
    toast(`${counted(ids.length, 'arrangement')} deleted`, {
      duration: 10_000,
      action: { label: 'Undo', onClick: () => void each(api.restore, ids) },
    });
  };
  const turn = (id: string) => {
    const next = new Set(chosen);
    if (!next.delete(id)) next.add(id);
    setChosen(next);
  };

  return (
    <section aria-labelledby="arrangements" className="flex min-h-0 flex-1 flex-col">
      <div className="flex flex-wrap items-end gap-x-3 gap-y-2 border-b border-strong pb-1">
        <h2 id="arrangements" className="font-serif text-xl">
          {binShown ? 'Bin' : 'Arrangements'}
        </h2>
        {!binShown && (
          <>
            <input
              type="search"
              aria-label="Search the library"
              placeholder="title, part or tag"
              className={`${BOX} ml-auto w-52`}
              value={typed}
              onChange={(event) => setTyped(event.target.value)}
            />
            {tags.length > 0 && (
              <select
                aria-label="Tag"
                className={BOX}
                value={inForce ?? ''}
                onChange={(event) => setTag(event.target.value || null)}
              >
                <option value="">all tags</option>
                {tags.map((own) => (
                  <option key={own}>{own}</option>
                ))}
              </select>
            )}
            <select
              aria-label="Order"
              className={BOX}
              value={order}
              onChange={(event) => setOrder(event.target.value as LibraryOrder)}
            >
              {LIBRARY_ORDERS.map((own) => (
                <option key={own} value={own}>
                  {ORDER_NAMES[own]}
                </option>
              ))}
            </select>
          </>
        )}
        <Button
          look="quiet"
          className={binShown ? 'ml-auto' : ''}
          pressed={binShown}
          onClick={() => setBinShown(!binShown)}
        >
          {binShown ? 'Back to the arrangements' : 'Bin'}
        </Button>
      </div>
      {binShown ? (
        <Bin />
      ) : (
        <>
          {taken.length > 0 && (
            <p className="flex items-center gap-3 border-b border-rule bg-selected px-2 py-1 text-sm">
              <span role="status" className="flex-1">
                {counted(taken.length, 'arrangement')} chosen
              </span>
              <Button className="!min-h-7" onClick={() => void removeChosen()}>
                Delete them
              </Button>
              <Button className="!min-h-7" onClick={() => setChosen(new Set())}>
                Choose none
              </Button>
            </p>
          )}
          {items.length > 0 && listed.length === 0 && (
            <p className="py-4 text-soft">Nothing here has all of these words.</p>
          )}
          <ul className="min-h-0 flex-1 overflow-auto" aria-label="Arrangements">
            {listed.map((item) => (
              <LibraryRow
                key={item.id}
                item={item}
                chosen={chosen.has(item.id)}
                onChosen={() => turn(item.id)}
                onTag={setTag}
              />
            ))}
          </ul>
        </>
      )}
    </section>
  );
};
