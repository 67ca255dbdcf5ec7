/**
 * Writes the signs of an engraved picture as plain outlines. The engraver places each sign with a transform of its own, and
 * a browser sorts all that has one into its layers anew whenever anything on the screen changes, which for a page of music
 * takes longer than drawing it.
 */

/** A piece of an outline: what stays wherever it is put, or a coordinate that moves with the place. */
type Piece = string | { readonly axis: 'x' | 'y'; readonly at: number };

/** Where the engraver writes its signs. */
const DEFINITIONS = /<defs>.*?<\/defs>/s;
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
  let stays = '';
  for (const [, command = '', rest = ''] of outline.matchAll(/([a-z])([^a-z]*)/gi)) {
    if (!KNOWN.test(command)) return null;
    stays += command;
    const moves = command === command.toUpperCase();
    const axes = AXES[command.toLowerCase()] ?? 'xy';
    [...rest.matchAll(/-?\d*\.?\d+(?:e-?\d+)?/gi)].forEach(([number], index) => {
      const axis = axes[index % axes.length] === 'x' ? 'x' : 'y';
      const at = Number(number) * (axis === 'x' ? scaleX : -scaleY);
      if (moves) {
        pieces.push(stays, { axis, at });
        stays = '';
      } else stays += `${rounded(at)} `;
    });
  }
  return [...pieces, stays];
};

/** Pieces by outline and scale: a font has few signs, and each picture has the same ones. */
const known = new Map<string, readonly Piece[] | null>();

const knownPieces = (outline: string, scaleX: string, scaleY: string): readonly Piece[] | null => {
  const key = `${scaleX} ${scaleY} ${outline}`;
  let pieces = known.get(key);
  if (pieces === undefined) {
    pieces = piecesOf(outline, Number(scaleX), Number(scaleY));
    known.set(key, pieces);
  }
  return pieces;
};

/** The picture with each sign of the music font as an outline in its place, named by its SMuFL code; the look is the same. */
export const withFlatGlyphs = (svg: string): string => {
  const [definitions = ''] = DEFINITIONS.exec(svg) ?? [];
  const outlines = new Map([...definitions.matchAll(DEFINED)].map(([, id = '', outline = '']) => [id, outline]));
  const kept = new Set<string>();
  const flat = svg.replace(PLACED, (use, id: string, left: string, top: string, scaleX: string, scaleY: string) => {
    const outline = outlines.get(id);
    const pieces = outline === undefined ? null : knownPieces(outline, scaleX, scaleY);
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
  return flat.replace(DEFINITIONS, (all) =>
    all.replace(DEFINED, (definition, id: string) => (kept.has(id) ? definition : '')),
  );
};
