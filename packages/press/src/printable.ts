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

/** A line of words whose music signs, at its beginning, are drawn; the words after them stand where they stood. */
const withSignsDrawn = (text: string, font: Font): string => {
  const place = MOVED_BY.exec(text);
  if (!place) return text;
  const [start, y] = [Number(place[1]), Number(place[2])];
  let x = start;
  let rest = text;
  let shapes = '';
  for (let found = MUSIC_WORDS.exec(rest); found; found = MUSIC_WORDS.exec(rest)) {
    // Signs in the midst of words stay with them.
    if (/>[^<\s][^<]*</.test(rest.slice(0, found.index))) break;
    const scale = Number(found[1]) / font.unitsPerEm;
    for (const sign of found[2] ?? '') {
      const glyph = font.glyphForCodePoint(sign.codePointAt(0) ?? 0);
      shapes += `<path transform="translate(${x} ${y}) scale(${scale} ${-scale})" d="${glyph.path.toSVG()}" fill="black" stroke="none"/>`;
      x += glyph.advanceWidth * scale;
    }
    rest = rest.slice(0, found.index) + rest.slice(found.index + found[0].length);
  }
  return shapes + rest.replace(MOVED_BY, `<text x="${x}" y="${y}"`);
};

/** The picture with all that it says in its style sheet said in its shapes. */
export const printable = (svg: string, font: Font | null): string => {
  let page = svg.replace(/<style[\s\S]*?<\/style>/g, '').replaceAll('"currentColor"', '"black"');
  page = page.replace(/<(path|polygon|polyline|rect|ellipse)(?![^>]*\bstroke=)/g, '<$1 stroke="black"');
  for (const [name, attributes] of WORDS) page = page.replaceAll(`class="${name}"`, `class="${name}" ${attributes}`);
  return font ? page.replace(/<text [\s\S]*?<\/text>/g, (text) => withSignsDrawn(text, font)) : page;
};
