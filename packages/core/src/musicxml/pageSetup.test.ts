import { describe, expect, it } from 'vitest';
import { engraverOptions, PAPERS, pageSetupFor, STAFF_SIZES, withPageHead } from './pageSetup.js';

describe('pages', () => {
  it('have smaller staves the more of them there are, all of sizes that can be chosen', () => {
    const sizes = [1, 2, 6, 20].map((parts) => pageSetupFor(parts).staff);
    expect(sizes).toEqual([...sizes].sort((a, b) => b - a));
    for (const size of sizes) expect(STAFF_SIZES).toContain(size);
  });

  it('measure the paper in tenths of a millimetre at every staff size', () => {
    for (const staff of STAFF_SIZES) {
      const options = engraverOptions({ paper: 'a4', staff, barNumbers: 'systems', restingStaves: 'shown' });
      const scale = options.scale as number;
      expect(((options.pageWidth as number) * scale) / 1000).toBeCloseTo(PAPERS.a4.width, 0);
      expect(((options.pageHeight as number) * scale) / 1000).toBeCloseTo(PAPERS.a4.height, 0);
      // Verovio's staff is 72 units of a tenth of a millimetre at full scale (its default unit of 9).
      expect((scale / 100) * 7.2).toBeCloseTo(staff, 6);
    }
  });

  it('say bar numbers at systems, each so many bars, or nowhere', () => {
    const interval = (barNumbers: 'systems' | 'none' | number) =>
      engraverOptions({ paper: 'letter', staff: 7, barNumbers, restingStaves: 'shown' }).mnumInterval;
    expect(interval('systems')).toBe(0);
    expect(interval(5)).toBe(5);
    expect(interval('none')).toBeGreaterThan(10_000);
  });

  it('have a head: title and names on the first, title and number on the others, whatever letters they have', () => {
    const head = { title: 'A & <B>', part: 'Horn', composer: 'C', arranger: '' };
    const first = withPageHead('<svg><g/></svg>', head, 1, { paper: 'a4' });
    expect(first).toContain('A &amp; &lt;B&gt;');
    expect(first).toMatch(/<svg><g\/><g class="page-head">.*<\/g><\/svg>$/);
    expect(first.match(/<text/g)).toHaveLength(3);
    expect(withPageHead('<svg></svg>', head, 2, { paper: 'a4' })).toMatch(/text-anchor="end"[^>]*>2<\/text>/);
  });
});
