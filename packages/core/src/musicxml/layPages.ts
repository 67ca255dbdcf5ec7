/** Whole pages, laid out by the engraver (Verovio): resting staves hidden where wished, a player's page turned where there is a rest. */
import type { Score, ScoreBar } from '../notation/score.js';
import { WRITTEN_PPQ } from '../time/units.js';
import { engraverOptions, type PageSetup } from './pageSetup.js';

/** The engraver, as far as pages are laid out with it. */
export interface PageEngraver {
  setOptions(options: Record<string, unknown>): void;
  loadData(data: string): boolean;
  getMEI(): string;
  getPageCount(): number;
  renderToSVG(page: number): string;
}

/** A hand needs so long to turn a page (judged: two quarters at a usual tempo). */
const TURN = 2 * WRITTEN_PPQ;

const restsAtEnd = ({ events, length }: ScoreBar): number => {
  const last = Math.max(
    0,
    ...events.filter(({ kind }) => kind === 'chord').map(({ start, length: own }) => start + own),
  );
  return length - last;
};
const restsAtStart = ({ events, length }: ScoreBar): number =>
  Math.min(length, ...events.filter(({ kind }) => kind === 'chord').map(({ start }) => start));

/** The numbers of the bars before which the player of a single part has time to turn the page; none in a score. */
export const pageTurns = ({ parts }: Score): readonly number[] => {
  const [part, ...others] = parts;
  if (!part || others.length > 0) return [];
  return part.bars.flatMap((bar, index) => {
    const before = part.bars[index - 1];
    return before && restsAtEnd(before) + restsAtStart(bar) >= TURN ? [bar.number] : [];
  });
};

/** The number of the first bar of each system, page by page, read from the pictures. */
const systemsOf = (pages: readonly string[]): number[][] =>
  pages.map((svg) =>
    svg
      .split(/class="system"/)
      .slice(1)
      .flatMap((system) => {
        const first = /id="b(\d+)"/.exec(system);
        return first ? [Number(first[1])] : [];
      }),
  );

/**
 * The same systems on pages that begin where a person had them begin (`forced`), and end early where the player can turn
 * them then: the first bar of each page. Not more than a third of a page is given up for a turn; null where the pages are
 * right as they are.
 */
export const turnedPages = (
  systems: readonly (readonly number[])[],
  turns: ReadonlySet<number>,
  forced: ReadonlySet<number> = new Set(),
): number[] | null => {
  const all = systems.flat();
  const full = Math.min(...(systems.length > 1 ? systems.slice(0, -1) : systems).map(({ length }) => length));
  const least = Math.ceil((full * 2) / 3);
  const starts: number[] = [];
  for (let from = 0; from < all.length; ) {
    starts.push(all[from] as number);
    const end = all.findIndex((bar, index) => index > from && forced.has(bar));
    const must = end < 0 ? all.length : end;
    if (must - from <= full) {
      from = must;
      continue;
    }
    let next = from + full;
    while (next > from + least && !turns.has(all[next] as number)) next -= 1;
    from = turns.has(all[next] as number) ? next : from + full;
  }
  const now = systems.map(([first]) => first);
  return starts.join() === now.join() ? null : starts;
};

const PRINT = /<print new-(system|page)="yes"\/>/g;

/** The bars at which a person has pages begin. */
const pagesForced = (musicXml: string): ReadonlySet<number> =>
  new Set(
    [...musicXml.matchAll(/<measure [^>]*id="b(\d+)"[^>]*>\s*<print new-page="yes"\/>/g)].map((found) =>
      Number(found[1]),
    ),
  );

/** Tells the engraver where systems and pages begin. */
const withBreaks = (musicXml: string, systems: ReadonlySet<number>, pages: ReadonlySet<number>): string =>
  musicXml.replace(PRINT, '').replace(/<measure [^>]*id="b(\d+)"[^>]*>/g, (tag, number) => {
    const bar = Number(number);
    if (pages.has(bar)) return `${tag}<print new-page="yes"/>`;
    return systems.has(bar) ? `${tag}<print new-system="yes"/>` : tag;
  });

/** True where all staves of a page stand on its paper. */
const fits = (svg: string): boolean => {
  const box = /class="definition-scale"[^>]*viewBox="0 0 ([\d.]+) ([\d.]+)"/.exec(svg);
  if (!box) return true;
  const margin = Number(/class="page-margin" transform="translate\([\d.-]+, ([\d.-]+)\)/.exec(svg)?.[1] ?? 0);
  const lowest = [...svg.matchAll(/<path d="M[\d.]+ ([\d.]+) L[\d.]+ \1"/g)].reduce(
    (low, found) => Math.max(low, Number(found[1])),
    0,
  );
  return lowest + margin <= Number(box[2]);
};

const load = (engraver: PageEngraver, data: string): void => {
  if (!engraver.loadData(data)) throw new Error('The engraver could not read the page.');
};

/**
 * Lays out pages; they are then rendered one by one. `turns` are the bars before which a player can turn ({@link pageTurns}).
 * Throws where the MusicXML cannot be read.
 */
export const layPages = (
  engraver: PageEngraver,
  musicXml: string,
  setup: PageSetup,
  turns: readonly number[] = [],
): void => {
  // Systems that a person has begin somewhere are kept, and the others flow about them.
  const broken = /<print new-/.test(musicXml) ? { breaks: 'smart', breaksSmartSb: 0 } : {};
  const options = { ...engraverOptions(setup), breaksSmartSb: 0.66, ...broken };
  const inSystems = musicXml.replaceAll('new-page=', 'new-system=');
  // The engraver hides staves only where its own format asks for it; MusicXML has no word for that.
  const loadHidden = (data: string) => {
    load(engraver, data);
    if (setup.restingStaves === 'hidden')
      load(engraver, engraver.getMEI().replace(/<scoreDef(?=[ >])/, '<scoreDef optimize="true"'));
  };
  engraver.setOptions(options);
  loadHidden(inSystems);
  const forced = pagesForced(musicXml);
  if (forced.size === 0 && (turns.length === 0 || engraver.getPageCount() < 2)) return;
  const rendered = () => Array.from({ length: engraver.getPageCount() }, (_, index) => engraver.renderToSVG(index + 1));
  const systems = systemsOf(rendered());
  const starts = turnedPages(systems, new Set(turns), forced);
  if (!starts) return;
  engraver.setOptions({ ...options, breaks: 'encoded' });
  loadHidden(withBreaks(musicXml, new Set(systems.flat()), new Set(starts.slice(1))));
  if (engraver.getPageCount() === starts.length && rendered().every(fits)) return;
  engraver.setOptions(options);
  loadHidden(inSystems);
};
