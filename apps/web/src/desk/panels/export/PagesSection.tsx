/** Pages for players and for the desk: PDF of the score, of one part, or of all parts in one zip. */

import type { PagesBody } from '@crispfold/contract';
import { useState } from 'react';
import { toast } from 'sonner';
import { api } from '../../../browser/api.js';
import { Button } from '../../../ui/Button.js';
import { saveFile } from '../../../ui/saveFile.js';
import type { PageWishes } from '../../controls/pageWishes.js';
import { WishFields } from '../../controls/WishFields.js';
import { useAppDispatch } from '../../session/desk.js';
import { allSaved } from '../../session/saving.js';
import { useAppSelector } from '../../state/root.js';

export const PagesSection = ({
  partIds,
  bars,
  wishes,
  change,
}: Pick<PagesBody, 'partIds' | 'bars'> & {
  wishes: PageWishes;
  change: (changed: Partial<PageWishes>) => void;
}) => {
  const dispatch = useAppDispatch();
  const id = useAppSelector(({ piece }) => piece.id);
  const [making, setMaking] = useState(false);

  const make = async (what: PagesBody['what']) => {
    if (!id) return;
    setMaking(true);
    try {
      if (!(await dispatch(allSaved()))) throw new Error('your last changes are not saved yet.');
      const { name, content } = await api.pages(id, { ...wishes, what, partIds, bars });
      saveFile(name, content, content.type);
      toast.success(`${name} is in your downloads`);
    } catch (error) {
      toast.error(`The pages could not be made: ${(error as Error).message}`);
    } finally {
      setMaking(false);
    }
  };

  return (
    <section aria-label="Pages" className="mt-4 border-t border-strong pt-3">
      <h3 className="font-serif text-lg">Pages to print</h3>
      <WishFields wishes={wishes} change={change} />
      <div className="flex flex-wrap items-center gap-3">
        <Button disabled={making} onClick={() => void make('score')}>
          {partIds?.length === 1 ? 'The part as PDF' : 'The score as PDF'}
        </Button>
        {partIds?.length !== 1 && (
          <Button disabled={making} onClick={() => void make('parts')}>
            Each part as PDF, in one zip
          </Button>
        )}
        {making && <span className="text-sm text-fold-ink">making pages…</span>}
      </div>
    </section>
  );
};
