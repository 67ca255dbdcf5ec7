/** Pages for players and for the desk: PDF of the score, of one part, or of all parts in one zip. */
import type { PagesBody } from '@crispfold/contract';
import { PAPERS, type Paper, type PartId, STAFF_SIZES } from '@crispfold/core';
import { type ReactNode, useState } from 'react';
import { toast } from 'sonner';
import { api } from '../../../app/api.js';
import { useAppSelector } from '../../../app/store.js';
import { Button } from '../../../ui/Button.js';
import { saveFile } from '../../../ui/saveFile.js';
import { allSaved } from '../saving.js';
import { type PageWishes, readWishes, rememberWishes } from './pageWishes.js';

const BOX = 'min-h-8 border border-strong bg-sheet px-1';

const Line = ({ label, children }: { label: string; children: ReactNode }) => (
  // biome-ignore lint/a11y/noLabelWithoutControl: the control is what it holds
  <label className="flex items-center gap-2">
    <span className="w-24">{label}</span>
    {children}
  </label>
);

const BAR_NUMBERS: readonly (readonly [value: PageWishes['barNumbers'], words: string])[] = [
  ['systems', 'at each system'],
  [1, 'at each bar'],
  [5, 'each five bars'],
  [10, 'each ten bars'],
  ['none', 'nowhere'],
];

export const PagesSection = ({
  partIds,
  concertPitch,
}: {
  partIds: readonly PartId[] | null;
  concertPitch: boolean;
}) => {
  const id = useAppSelector(({ desk }) => desk.id);
  const [wishes, setWishes] = useState(() => readWishes(id));
  const [making, setMaking] = useState(false);
  const change = (changed: Partial<PageWishes>) => {
    const next = { ...wishes, ...changed };
    setWishes(next);
    rememberWishes(id, next);
  };

  const make = async (what: PagesBody['what']) => {
    if (!id) return;
    setMaking(true);
    try {
      if (!(await allSaved())) throw new Error('your last changes are not saved yet.');
      const { name, content } = await api.pages(id, { ...wishes, what, partIds, concertPitch });
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
      <div className="my-2 grid grid-cols-1 gap-x-6 gap-y-1.5 text-sm sm:grid-cols-2">
        <Line label="Composer">
          <input
            className={`${BOX} min-w-0 flex-1`}
            maxLength={200}
            value={wishes.composer}
            onChange={(event) => change({ composer: event.target.value })}
          />
        </Line>
        <Line label="Paper">
          <select
            className={BOX}
            value={wishes.paper}
            onChange={(event) => change({ paper: event.target.value as Paper })}
          >
            {Object.entries(PAPERS).map(([paper, { name }]) => (
              <option key={paper} value={paper}>
                {name}
              </option>
            ))}
          </select>
        </Line>
        <Line label="Arranger">
          <input
            className={`${BOX} min-w-0 flex-1`}
            maxLength={200}
            value={wishes.arranger}
            onChange={(event) => change({ arranger: event.target.value })}
          />
        </Line>
        <Line label="Staff">
          <select
            className={BOX}
            value={wishes.staff ?? ''}
            onChange={(event) => change({ staff: event.target.value === '' ? null : Number(event.target.value) })}
          >
            <option value="">as suits</option>
            {STAFF_SIZES.map((size) => (
              <option key={size} value={size}>
                {size} mm
              </option>
            ))}
          </select>
        </Line>
        <Line label="Score order">
          <select
            className={BOX}
            value={wishes.order}
            onChange={(event) => change({ order: event.target.value as PageWishes['order'] })}
          >
            <option value="own">as in the list</option>
            <option value="families">by families</option>
          </select>
        </Line>
        <Line label="Bar numbers">
          <select
            className={BOX}
            value={String(wishes.barNumbers)}
            onChange={(event) => {
              const found = BAR_NUMBERS.find(([value]) => String(value) === event.target.value);
              if (found) change({ barNumbers: found[0] });
            }}
          >
            {BAR_NUMBERS.map(([value, words]) => (
              <option key={value} value={String(value)}>
                {words}
              </option>
            ))}
          </select>
        </Line>
      </div>
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
