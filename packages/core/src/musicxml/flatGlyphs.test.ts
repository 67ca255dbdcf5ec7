import { beforeAll, describe, expect, it } from 'vitest';
import { demoArrangement } from '../demo/demo.js';
import { buildScore } from '../notation/buildScore.js';
import { readPitches } from '../notation/pitchReading.js';
import { runPlanOnAll } from '../plan/runPlan.js';
import { writtenMaps } from '../plan/writtenMaps.js';
import { createVerovio } from '../testing/readBack.js';
import { withFlatGlyphs } from './flatGlyphs.js';
import { writeMusicXml } from './writeMusicXml.js';

/** Where a pen that draws an outline stands after each command, read by the rules of SVG. */
const pen = (outline: string): readonly (readonly [number, number])[] => {
  const places: [number, number][] = [];
  let [x, y] = [0, 0];
  let [startX, startY] = [0, 0];
  for (const [, command = '', rest = ''] of outline.matchAll(/([a-zA-Z])([^a-zA-Z]*)/g)) {
    const numbers = (rest.match(/-?\d*\.?\d+/g) ?? []).map(Number);
    const count = { m: 2, l: 2, h: 1, v: 1, c: 6, s: 4, q: 4, t: 2, z: 0 }[command.toLowerCase()] ?? Number.NaN;
    const own = command === command.toLowerCase();
    for (let at = 0; at < Math.max(1, numbers.length); at += Math.max(1, count)) {
      if (command.toLowerCase() === 'z') [x, y] = [startX, startY];
      else if (command.toLowerCase() === 'h') x = (own ? x : 0) + (numbers[at] as number);
      else if (command.toLowerCase() === 'v') y = (own ? y : 0) + (numbers[at] as number);
      else {
        x = (own ? x : 0) + (numbers[at + count - 2] as number);
        y = (own ? y : 0) + (numbers[at + count - 1] as number);
      }
      if (command.toLowerCase() === 'm' && at === 0) [startX, startY] = [x, y];
      places.push([x, y]);
    }
  }
  return places;
};

let picture = '';
beforeAll(async () => {
  const arrangement = demoArrangement();
  const layers = runPlanOnAll(arrangement);
  const maps = writtenMaps(arrangement);
  const score = buildScore(arrangement, layers, maps, readPitches(arrangement, layers), { firstBar: 1, lastBar: 16 });
  const verovio = await createVerovio();
  verovio.load(writeMusicXml(score, 'dense'));
  picture = verovio.toolkit.renderToSVG(1);
});

describe('signs as plain outlines', () => {
  it('stand where the engraver placed them, each by itself and in its size', () => {
    const outlines = new Map(
      [...picture.matchAll(/<g id="(E[^"]+)">\s*<path[^>]* d="([^"]+)"/g)].map(([, id, outline]) => [id, outline]),
    );
    const uses = [...picture.matchAll(/<use xlink:href="#([^"]+)" transform="translate\(([^)]+)\) scale\(([^)]+)\)"/g)];
    expect(uses.length).toBeGreaterThan(100);
    const flat = withFlatGlyphs(picture);
    const paths = [...flat.matchAll(/<path data-sign="E[\dA-F]{3}" stroke-width="([^"]+)" d="([^"]+)"\/>/g)];
    expect(paths).toHaveLength(uses.length);
    uses.forEach(([, id, translate = '', scale = ''], index) => {
      const [left = 0, top = 0] = translate.split(',').map(Number);
      const [scaleX = 0, scaleY = 0] = scale.split(',').map(Number);
      const wanted = pen(outlines.get(id as string) as string);
      const found = pen((paths[index] as RegExpExecArray)[2] as string);
      expect(found).toHaveLength(wanted.length);
      // A unit is a twenty-fifth of a pixel.
      wanted.forEach(([x, y], at) => {
        const [foundX, foundY] = found[at] as readonly [number, number];
        expect(Math.abs(foundX - (left + x * scaleX))).toBeLessThan(3);
        expect(Math.abs(foundY - (top - y * scaleY))).toBeLessThan(3);
      });
      expect(Number((paths[index] as RegExpExecArray)[1])).toBe(scaleX);
    });
  });

  it('leave no sign with a transform of its own, and no definition behind', () => {
    const flat = withFlatGlyphs(picture);
    expect(flat.includes('<use')).toBe(false);
    expect(/<path transform="scale\(1, ?-1\)"/.test(flat)).toBe(false);
    // All else is as it was: groups, heads, lines.
    const groups = (svg: string) => svg.match(/<g [^>]*class="[^>]*>/g);
    expect(groups(flat)).toEqual(groups(picture));
  });

  it('is left alone where it is drawn with what is not known here', () => {
    const arc = picture.replaceAll(/(<g id="E0A4[^>]*>\s*<path[^>]* d=")[^"]+/g, '$1M0 0a5 5 0 0 1 10 10z');
    const flat = withFlatGlyphs(arc);
    const heads = arc.match(/<use xlink:href="#E0A4/g);
    expect(heads?.length).toBeGreaterThan(10);
    expect(flat.match(/<use /g)).toHaveLength(heads?.length ?? 0);
    expect(/<g id="E0A4[^>]*>\s*<path transform="scale\(1, ?-1\)" d="M0 0a5 5/.test(flat)).toBe(true);
    expect(flat.includes('<use xlink:href="#E050')).toBe(false);
  });
});
