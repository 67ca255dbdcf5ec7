/** What a person wants of printed pages and of what is exported, remembered for each arrangement in this browser. */
import { type PagesBody, pagesBodySchema } from '@crispfold/contract';
import { useState } from 'react';

/** How pages are to be laid out, whatever is on them. */
export type PageWishes = Omit<PagesBody, 'what' | 'partIds' | 'bars'>;

const USUAL: PageWishes = {
  paper: 'a4',
  staff: null,
  barNumbers: 'systems',
  restingStaves: 'shown',
  order: 'own',
  concertPitch: false,
  composer: '',
  arranger: '',
};

const keyOf = (id: string | null): string => `crispfold-pages-${id}`;

/** What was wanted last, or what is usual. */
export const readWishes = (id: string | null): PageWishes => {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(keyOf(id)) ?? 'null');
    const whole = { ...USUAL, ...(kept as object), what: 'score', partIds: null, bars: null };
    const { what: _, partIds: __, bars: ___, ...wishes } = pagesBodySchema.validateSync(whole, { strict: true });
    return wishes as PageWishes;
  } catch {
    return USUAL;
  }
};

/** The wishes, and how they are changed; a browser that keeps nothing forgets them. */
export const usePageWishes = (id: string | null): readonly [PageWishes, (changed: Partial<PageWishes>) => void] => {
  const [wishes, setWishes] = useState(() => readWishes(id));
  const change = (changed: Partial<PageWishes>) => {
    const next = { ...wishes, ...changed };
    setWishes(next);
    try {
      localStorage.setItem(keyOf(id), JSON.stringify(next));
    } catch {
      // Nothing is lost but the choice.
    }
  };
  return [wishes, change];
};
