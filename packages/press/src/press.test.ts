import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { type Arrangement, demoArrangement, PAPERS } from '@crispfold/core';
import { describe, expect, it } from 'vitest';
import { pressFiles } from './index.js';
import { printable } from './printable.js';

const folder = mkdtempSync(path.join(tmpdir(), 'crispfold-press-'));
let made = 0;
const kept = (bytes: Uint8Array): string => {
  made += 1;
  const file = path.join(folder, `${made}.pdf`);
  writeFileSync(file, bytes);
  return file;
};
/** Read by poppler (Debian's poppler-utils). */
const textOf = (bytes: Uint8Array): string =>
  execFileSync('pdftotext', ['-layout', kept(bytes), '-'], { encoding: 'utf8' });
const fontsOf = (bytes: Uint8Array): { name: string; embedded: boolean }[] =>
  execFileSync('pdffonts', [kept(bytes)], { encoding: 'utf8' })
    .split('\n')
    .slice(2)
    .filter(Boolean)
    .map((line) => ({ name: line.split(/\s+/)[0] ?? '', embedded: / yes yes /.test(line) }));
const sizeOf = (bytes: Uint8Array): string =>
  /Page size:\s+(.*) pts/.exec(execFileSync('pdfinfo', [kept(bytes)], { encoding: 'utf8' }))?.[1] ?? '';

const demo = demoArrangement();

describe('the score as PDF', () => {
  it('has title, names, rehearsal marks, bar and page numbers, and embeds its fonts (poppler)', async () => {
    const [score] = await pressFiles(demo, { what: 'score', composer: 'A. Made-up', arranger: 'B. Invented' });
    if (!score) throw new Error('no score');
    expect(score).toMatchObject({ part: null, pages: 2 });
    const text = textOf(score.bytes);
    for (const words of ['Saltmarsh Lanterns', 'A. Made-up', 'B. Invented', 'B, swung', 'C, lilting', '= 88'])
      expect(text).toContain(words);
    for (const { name } of demo.parts) expect(text).toContain(name);
    // The number of a system's first bar, and of the second page.
    expect(text).toMatch(/^\s*7\s*$/m);
    expect(text.split('\f')[1]).toMatch(/Saltmarsh Lanterns\s+2/);
    const fonts = fontsOf(score.bytes);
    expect(fonts.length).toBeGreaterThan(1);
    expect(fonts.every(({ embedded }) => embedded)).toBe(true);
    expect(sizeOf(score.bytes)).toMatch(/^595\.\d+ x 841\.\d+/);
  });

  it('says swing in the line of the tempo, each word in its place', async () => {
    const [flute, ...others] = demo.parts as [Arrangement['parts'][number]];
    const own = { kind: 'swing', bar: 1, swing: { percent: 64, pair: 'eighths' } } as const;
    const overrides = { ...flute.overrides, list: [...(flute.overrides?.list ?? []), own] };
    const swung = { ...demo, parts: [{ ...flute, overrides } as typeof flute, ...others] };
    const [score] = await pressFiles(swung, { what: 'score', partIds: [flute.id], lastBar: 4 });
    expect(textOf(score?.bytes as Uint8Array)).toMatch(/Swing +[^\s=]* *= 88/);
  });

  it('takes another paper and staff size, and no bar numbers', async () => {
    const setup = { paper: 'letter', staff: 8, barNumbers: 'none' } as const;
    const [score] = await pressFiles(demo, { what: 'score', setup });
    expect(sizeOf(score?.bytes as Uint8Array)).toBe('612 x 792');
    expect(score?.pages).toBeGreaterThan(2);
    expect(textOf(score?.bytes as Uint8Array)).not.toMatch(/^\s*7\s*$/m);
    expect(PAPERS.letter.width).toBeCloseTo(8.5 * 25.4, 6);
  });

  it('writes names in any script that its faces have', async () => {
    const [flute, ...others] = demo.parts as [Arrangement['parts'][number]];
    const named = { ...demo, title: 'Фонари', parts: [{ ...flute, name: 'Clarinet in B♭' }, ...others] };
    const [score] = await pressFiles(named, { what: 'score', partIds: [flute.id] });
    const text = textOf(score?.bytes as Uint8Array);
    expect(text).toContain('Фонари');
    expect(text).toContain('B♭');
  });
});

describe('the parts as PDF', () => {
  it('are one file each, with the name over the music and long rests as one sign', async () => {
    const parts = await pressFiles(demo, { what: 'parts', partIds: [2, 3] });
    expect(parts.map(({ part }) => part)).toEqual(['Clarinet in B flat', 'Horn in F']);
    const horn = textOf(parts[1]?.bytes as Uint8Array);
    expect(horn.match(/Horn in F/g)).toHaveLength(1);
    expect(horn).not.toContain('Hn.');
  });
});

describe('a picture made ready for print', () => {
  it('says strokes and weights in its shapes', () => {
    const svg =
      '<svg><style type="text/css">g.reh {font-weight:bold;}</style><g class="reh"><path d="M0 0"/><rect stroke="red"/></g></svg>';
    expect(printable(svg, null)).toBe(
      '<svg><g class="reh" font-weight="bold"><path stroke="black" d="M0 0"/><rect stroke="red"/></g></svg>',
    );
  });
});
