/**
 * An engraved picture made ready for print. The engraver says strokes and bold words in a style sheet, and music signs among
 * words in a font that PDF writers cannot cut down: here strokes and weights become attributes, and those signs shapes.
 */
import { create, type Font } from 'fontkit';

/** The music face, as the engraver puts it into its pictures; null where no words need it. */
export const musicFace = (svg: string): Font | null => {
  const found = /font-family:\s*'?Leipzig'?[^}]*?base64,([A-Za-z0-9+/=]+)/.exec(svg);
  return found?.[1] ? (create(Buffer.from(found[1], 'base64')) as Font) : null;
};

/** What the engraver's style sheet says of groups, by their class. */
const WORDS: readonly (readonly [name: string, attributes: string])[] = [
  ['reh', 'font-weight="bold"'],
  ['tempo', 'font-weight="bold"'],
  ['ending', 'font-weight="bold"'],
  ['dir', 'font-style="italic"'],
  ['dynam', 'font-style="italic"'],
  ['mNum', 'font-style="italic"'],
];

const MUSIC_WORDS = /<tspan[^>]*font-family="Leipzig"[^>]*font-size="([\d.]+)px"[^>]*>([^<]*)<\/tspan>/;
const MOVED_BY = /<text x="([\d.-]+)" y="([\d.-]+)"/;

/** Words before the next music sign, with the size of each. */
const WORDS_BEFORE = /<tspan[^>]*font-size="([\d.]+)px"[^>]*>([^<]+)<\/tspan>/g;

/** The faces that a page's words and signs are drawn in. */
export interface Faces {
  readonly music: Font;
  /** That of words said with a tempo, to know where a sign after them stands. */
  readonly words: Font;
}

/** A line of words whose music signs are drawn, each after the words before it; the words stand where they stood. */
const withSignsDrawn = (text: string, { music, words }: Faces): string => {
  const place = MOVED_BY.exec(text);
  if (!place) return text;
  const [start, y] = [Number(place[1]), Number(place[2])];
  let x = start;
  let rest = text;
  let shapes = '';
  for (let found = MUSIC_WORDS.exec(rest); found; found = MUSIC_WORDS.exec(rest)) {
    let before = rest.slice(0, found.index);
    for (const [own, size, said] of [...before.matchAll(WORDS_BEFORE)]) {
      // Words stand where they begin, cut off from what follows the sign.
      shapes += `<text x="${x}" y="${y}" font-size="0px">${own}</text>`;
      x += (words.layout(said as string).advanceWidth * Number(size)) / words.unitsPerEm;
      before = before.replace(own, '');
    }
    const scale = Number(found[1]) / music.unitsPerEm;
    for (const sign of found[2] ?? '') {
      const glyph = music.glyphForCodePoint(sign.codePointAt(0) ?? 0);
      shapes += `<path transform="translate(${x} ${y}) scale(${scale} ${-scale})" d="${glyph.path.toSVG()}" fill="black" stroke="none"/>`;
      x += glyph.advanceWidth * scale;
    }
    rest = before + rest.slice(found.index + found[0].length);
  }
  return shapes + rest.replace(MOVED_BY, `<text x="${x}" y="${y}"`);
};

/** The picture with all that it says in its style sheet said in its shapes. */
export const printable = (svg: string, faces: Faces | null): string => {
  let page = svg.replace(/<style[\s\S]*?<\/style>/g, '').replaceAll('"currentColor"', '"black"');
  page = page.replace(/<(path|polygon|polyline|rect|ellipse)(?![^>]*\bstroke=)/g, '<$1 stroke="black"');
  for (const [name, attributes] of WORDS) page = page.replaceAll(`class="${name}"`, `class="${name}" ${attributes}`);
  return faces ? page.replace(/<text [\s\S]*?<\/text>/g, (text) => withSignsDrawn(text, faces)) : page;
};
