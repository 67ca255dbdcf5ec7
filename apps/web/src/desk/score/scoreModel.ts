/** The score view without a browser: how large its pages are, and what its keys do. */
import { PAPERS, type PageSetup, type Paper, type Part, type PartId, pageSetupFor } from '@crispfold/core';

/** Pages as wide as the room, as large as the whole of one is seen, or of a size of one's own: 1 is life-size on a usual screen. */
export type Zoom = 'width' | 'page' | number;

const [SMALLEST, LARGEST] = [0.25, 4];
/** Room about pages, in pixels. */
const ROOM = 24;
/** The least and the most that a page fits itself to, in pixels. */
const [NARROWEST, WIDEST, LOWEST] = [200, 1100, 140];
/** Pixels to a millimetre at life-size. */
const LIFE_SIZE = 3;

/** The width of a page in pixels, in a room of so many. */
export const pageWidthIn = (
  zoom: Zoom,
  paper: Paper,
  room: { readonly width: number; readonly height: number },
): number => {
  const { width: across, height: down } = PAPERS[paper];
  if (typeof zoom === 'number') return across * LIFE_SIZE * zoom;
  const byWidth = Math.max(NARROWEST, room.width - 2 * ROOM);
  if (zoom === 'width') return Math.min(byWidth, WIDEST);
  return Math.min(byWidth, Math.max(LOWEST, ((room.height - 2 * ROOM) * across) / down));
};

/** A size so many times as large as pages of this width, within what can be read. */
export const zoomedBy = (factor: number, pageWidth: number, paper: Paper): number =>
  Math.max(SMALLEST, Math.min(LARGEST, (pageWidth / (PAPERS[paper].width * LIFE_SIZE)) * factor));

/** What a key does in the score view; null leaves it to the commands. */
export type ScoreKey =
  | { readonly kind: 'turn'; readonly by: number }
  | { readonly kind: 'goTo'; readonly page: 'first' | 'last' }
  | { readonly kind: 'zoom'; readonly way: 1 | -1 }
  | { readonly kind: 'fit' }
  | { readonly kind: 'close' };

const KEYS: { readonly [key: string]: ScoreKey } = {
  PageDown: { kind: 'turn', by: 1 },
  PageUp: { kind: 'turn', by: -1 },
  ArrowRight: { kind: 'turn', by: 1 },
  ArrowLeft: { kind: 'turn', by: -1 },
  Home: { kind: 'goTo', page: 'first' },
  End: { kind: 'goTo', page: 'last' },
  '=': { kind: 'zoom', way: 1 },
  '+': { kind: 'zoom', way: 1 },
  '-': { kind: 'zoom', way: -1 },
  '0': { kind: 'fit' },
  Escape: { kind: 'close' },
};

/** See {@link ScoreKey}. */
export const scoreKey = (key: string): ScoreKey | null => (Object.hasOwn(KEYS, key) ? (KEYS[key] ?? null) : null);

/** The other of the two ways in which pages fit. */
export const fitNext = (zoom: Zoom): Zoom => (zoom === 'width' ? 'page' : 'width');

/** "page 3 of 12", "page 1 of 4 so far"; nothing is laid out yet where there are no pages. */
export const placeInWords = (
  page: number,
  { pages, whole }: { readonly pages: number; readonly whole: boolean },
): string => (pages > 0 ? `page ${Math.min(page, pages)} of ${pages}${whole ? '' : ' so far'}` : 'engraving…');

/** What a person wishes of pages, as far as they are laid out by it. */
interface Wished extends Omit<PageSetup, 'staff'> {
  readonly staff: PageSetup['staff'] | null;
  readonly composer: string;
  readonly arranger: string;
}

/** How pages are set up, and what stands over the first: a single part's name too. */
export const setUpOf = (wishes: Wished, partIds: readonly PartId[], parts: readonly Part[], title: string) => {
  const { paper, staff, barNumbers, restingStaves, composer, arranger } = wishes;
  const setup: PageSetup = { paper, barNumbers, restingStaves, staff: staff ?? pageSetupFor(partIds.length).staff };
  const single = partIds.length === 1 ? parts.find((part) => part.id === partIds[0]) : undefined;
  return { setup, head: { title, part: single?.name ?? '', composer, arranger } };
};
