/**
 * Writes the signs of an engraved picture as plain outlines. The engraver places each sign with a transform of its own, and
 * a browser sorts all that has one into its layers anew whenever anything on the screen changes, which for a page of music
 * takes longer than drawing it.
 */

/** A piece of an outline: what stays wherever it is put, or a coordinate that moves with the place. */
type Piece = string | { readonly axis: 'x' | 'y'; readonly at: number };

/** A sign of the music font as the engraver defines it: one outline, its y upwards. */
const DEFINED = /\s*<g id="([^"]+)">\s*<path transform="scale\(1, ?-1\)" d="([^"]*)"\s*\/>\s*<\/g>/g;
const PLACED =
  /<use (?:xlink:)?href="#([^"]+)" transform="translate\((-?[\d.]+), (-?[\d.]+)\) scale\((-?[\d.]+), (-?[\d.]+)\)"\s*\/>/g;

/** The axes of a command's numbers, in turn. */
const AXES: Readonly<Record<string, string>> = { h: 'x', v: 'y' };
const KNOWN = /^[mlhvcsqtz]$/i;

const rounded = (value: number): number => Math.round(value * 10) / 10;

/** The pieces of an outline at a scale; null where it has commands that are not known here. */
const piecesOf = (outline: string, scaleX: number, scaleY: number): readonly Piece[] | null => {
  const pieces: Piece[] = [];
  for (const [, command = '', rest = ''] of outline.matchAll(/([a-z])([^a-z]*)/gi)) {
    if (!KNOWN.test(command)) return null;
    pieces.push(command);
    const moves = command === command.toUpperCase();
    const axes = AXES[command.toLowerCase()] ?? 'xy';
    [...rest.matchAll(/-?\d*\.?\d+(?:e-?\d+)?/gi)].forEach(([number], index) => {
      const axis = axes[index % axes.length] === 'x' ? 'x' : 'y';
      const at = Number(number) * (axis === 'x' ? scaleX : -scaleY);
      pieces.push(moves ? { axis, at } : `${rounded(at)} `);
    });
  }
  return pieces;
};

/** The picture with each sign of the music font as an outline in its place, named by its SMuFL code; the look is the same. */
export const withFlatGlyphs = (svg: string): string => {
  const outlines = new Map([...svg.matchAll(DEFINED)].map(([, id = '', outline = '']) => [id, outline]));
  const scaled = new Map<string, readonly Piece[] | null>();
  const kept = new Set<string>();
  const flat = svg.replace(PLACED, (use, id: string, left: string, top: string, scaleX: string, scaleY: string) => {
    const outline = outlines.get(id);
    const key = `${id} ${scaleX} ${scaleY}`;
    if (outline !== undefined && !scaled.has(key)) scaled.set(key, piecesOf(outline, Number(scaleX), Number(scaleY)));
    const pieces = scaled.get(key);
    if (!pieces) {
      kept.add(id);
      return use;
    }
    const place = { x: Number(left), y: Number(top) };
    const path = pieces
      .map((piece) => (typeof piece === 'string' ? piece : `${rounded(place[piece.axis] + piece.at)} `))
      .join('');
    return `<path data-sign="${id.split('-')[0]}" stroke-width="${scaleX}" d="${path}"/>`;
  });
  return flat.replace(DEFINED, (definition, id: string) => (kept.has(id) ? definition : ''));
};
