/** How pages are set up for screen, print and PDF: paper, staff size, heads; and what the engraver (Verovio) is told of it. */

/** Papers by their size in millimetres (ISO 216; ANSI/ASME Y14.1). */
export const PAPERS = {
  a4: { name: 'A4', width: 210, height: 297 },
  letter: { name: 'Letter', width: 215.9, height: 279.4 },
} as const;

/** The name of a paper. */
export type Paper = keyof typeof PAPERS;

/** What a person chooses for pages. */
export interface PageSetup {
  readonly paper: Paper;
  /** Height of a staff of five lines, in millimetres. */
  readonly staff: number;
  /** Where bar numbers stand: at each system, each so many bars, or nowhere. */
  readonly barNumbers: 'systems' | 'none' | number;
  /** Whether staves that rest for a whole system are left out of it; the first system shows all. */
  readonly restingStaves: 'shown' | 'hidden';
}

/** Staff heights that can be chosen, in millimetres: a score of many staves to a part for a stand (common practice). */
export const STAFF_SIZES = [4, 4.5, 5, 5.5, 6, 6.5, 7, 7.5, 8] as const;

/** A part is read from a stand, a score from a desk (Gould, Behind Bars, 2011: 7 mm and from 3.7 to 6.5 mm). */
export const pageSetupFor = (parts: number): PageSetup => ({
  paper: 'a4',
  staff: parts === 1 ? 7 : parts <= 4 ? 6 : parts <= 8 ? 5 : 4,
  barNumbers: 'systems',
  restingStaves: 'shown',
});

/** Pages are measured in tenths of a millimetre. */
const UNITS = 10;
/** Verovio's staff is 72 units high at full scale. */
const FULL_STAFF = 7.2;
const MARGIN = 13;
/** Room for the head: title and names on the first page, title and page number on the others. */
const HEAD = 27;

/** The engraver's options for whole pages. */
export const engraverOptions = ({ paper, staff, barNumbers, restingStaves }: PageSetup): Record<string, unknown> => {
  const { width, height } = PAPERS[paper];
  const scale = (staff / FULL_STAFF) * 100;
  const inUnits = (millimetres: number) => Math.round((millimetres * UNITS * 100) / scale);
  return {
    scale,
    pageWidth: inUnits(width),
    pageHeight: inUnits(height),
    pageMarginTop: inUnits(HEAD),
    pageMarginBottom: inUnits(MARGIN),
    pageMarginLeft: inUnits(MARGIN),
    pageMarginRight: inUnits(MARGIN),
    adjustPageHeight: false,
    adjustPageWidth: false,
    breaks: 'auto',
    breaksNoWidow: true,
    condense: restingStaves === 'hidden' ? 'encoded' : 'none',
    condenseTempoPages: true,
    multiRestStyle: 'block',
    justifyVertically: true,
    header: 'none',
    footer: 'none',
    svgViewBox: true,
    svgRemoveXlink: true,
    spacingStaff: 10,
    mnumInterval: typeof barNumbers === 'number' ? barNumbers : barNumbers === 'none' ? 100_000 : 0,
    font: 'Leipzig',
  };
};

/** What stands over the music. */
export interface PageHead {
  readonly title: string;
  /** Of whom the page is, on a player's part; empty on a score. */
  readonly part: string;
  readonly composer: string;
  readonly arranger: string;
}

const escaped = (text: string): string =>
  text.replace(/[&<>"]/g, (sign) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[sign] as string);

type Anchor = 'start' | 'middle' | 'end';

const words = (text: string, x: number, y: number, size: number, anchor: Anchor, style = ''): string =>
  text === ''
    ? ''
    : `<text x="${x}" y="${y}" font-family="Tinos, Times, serif" font-size="${size}px" text-anchor="${anchor}"${style} fill="currentColor" stroke="none">${escaped(text)}</text>`;

/** The engraved page with its head; `page` counts from 1. */
export const withPageHead = (
  svg: string,
  head: PageHead,
  page: number,
  { paper }: Pick<PageSetup, 'paper'>,
): string => {
  const width = PAPERS[paper].width * UNITS;
  const [left, middle, right] = [MARGIN * UNITS, width / 2, width - MARGIN * UNITS];
  const lines =
    page === 1
      ? [
          words(head.title, middle, 130, 64, 'middle'),
          words(head.part, left, 205, 40, 'start', ' font-weight="bold"'),
          words(head.composer, right, 185, 34, 'end'),
          words(head.arranger, right, 225, 34, 'end'),
        ]
      : [
          words(head.title, middle, 115, 34, 'middle', ' font-style="italic"'),
          words(head.part, left, 115, 34, 'start', ' font-weight="bold"'),
          words(String(page), right, 115, 34, 'end'),
        ];
  const end = svg.lastIndexOf('</svg>');
  return `${svg.slice(0, end)}<g class="page-head">${lines.join('')}</g>${svg.slice(end)}`;
};
