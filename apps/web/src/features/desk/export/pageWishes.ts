/** What a person wants of printed pages, remembered for each arrangement in this browser. */
import { type PagesBody, pagesBodySchema } from '@crispfold/contract';

/** How pages are to be laid out, whatever is on them. */
export type PageWishes = Omit<PagesBody, 'what' | 'partIds' | 'concertPitch'>;

const USUAL: PageWishes = { paper: 'a4', staff: null, barNumbers: 'systems', order: 'own', composer: '', arranger: '' };

const keyOf = (id: string | null): string => `crispfold-pages-${id}`;

/** What was wanted last, or what is usual. */
export const readWishes = (id: string | null): PageWishes => {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(keyOf(id)) ?? 'null');
    const whole = { ...USUAL, ...(kept as object), what: 'score', partIds: null, concertPitch: false };
    const {
      what: _,
      partIds: __,
      concertPitch: ___,
      ...wishes
    } = pagesBodySchema.validateSync(whole, { strict: true });
    return wishes as PageWishes;
  } catch {
    return USUAL;
  }
};

/** Keeps what is wanted; a browser that keeps nothing forgets it. */
export const rememberWishes = (id: string | null, wishes: PageWishes): void => {
  try {
    localStorage.setItem(keyOf(id), JSON.stringify(wishes));
  } catch {
    // Nothing is lost but the choice.
  }
};
