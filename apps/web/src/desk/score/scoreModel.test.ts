/** Sizes and keys of the score view. */
import { demoArrangement, PAPERS, pageSetupFor } from '@crispfold/core';
import { describe, expect, it } from 'vitest';
import { fitNext, pageWidthIn, placeInWords, scoreKey, setUpOf, zoomedBy } from './scoreModel.js';

describe('the size of pages', () => {
  const { width, height } = PAPERS.a4;

  it('fits the width of the room with room about it, within what can be read', () => {
    expect(pageWidthIn('width', 'a4', { width: 848, height: 600 })).toBe(800);
    expect(pageWidthIn('width', 'a4', { width: 5000, height: 600 })).toBe(1100);
    expect(pageWidthIn('width', 'a4', { width: 100, height: 600 })).toBe(200);
  });

  it('fits the whole of a page where that is asked for', () => {
    const fitted = pageWidthIn('page', 'a4', { width: 2000, height: 648 });
    expect(fitted * (height / width)).toBeCloseTo(600);
    expect(pageWidthIn('page', 'a4', { width: 2000, height: 60 })).toBe(140);
    expect(pageWidthIn('page', 'a4', { width: 300, height: 2000 })).toBe(252);
  });

  it('is of one’s own after a step, and steps go both ways, to an end', () => {
    expect(pageWidthIn(2, 'a4', { width: 1, height: 1 })).toBe(width * 6);
    expect(zoomedBy(1.25, width * 3, 'a4')).toBeCloseTo(1.25);
    expect(zoomedBy(2, width * 3 * 3, 'a4')).toBe(4);
    expect(zoomedBy(0.1, width * 3, 'a4')).toBe(0.25);
  });

  it('turns from one way of fitting to the other', () => {
    expect([fitNext('width'), fitNext('page'), fitNext(1.5)]).toEqual(['page', 'width', 'width']);
  });
});

describe('keys in the score view', () => {
  it('turn pages, zoom, fit and close', () => {
    expect(['PageDown', 'ArrowLeft'].map(scoreKey)).toEqual([
      { kind: 'turn', by: 1 },
      { kind: 'turn', by: -1 },
    ]);
    expect(['Home', 'End'].map(scoreKey)).toEqual([
      { kind: 'goTo', page: 'first' },
      { kind: 'goTo', page: 'last' },
    ]);
    expect(['+', '=', '-'].map(scoreKey)).toEqual([
      { kind: 'zoom', way: 1 },
      { kind: 'zoom', way: 1 },
      { kind: 'zoom', way: -1 },
    ]);
    expect([scoreKey('0'), scoreKey('Escape'), scoreKey('x'), scoreKey('toString')]).toEqual([
      { kind: 'fit' },
      { kind: 'close' },
      null,
      null,
    ]);
  });
});

describe('what is said of pages', () => {
  it('is which of how many, and whether there will be more', () => {
    expect(placeInWords(3, { pages: 12, whole: true })).toBe('page 3 of 12');
    expect(placeInWords(9, { pages: 4, whole: false })).toBe('page 4 of 4 so far');
    expect(placeInWords(1, { pages: 0, whole: true })).toBe('engraving…');
  });
});

describe('how pages are set up', () => {
  const { parts } = demoArrangement();
  const wishes = {
    paper: 'a4',
    staff: null,
    barNumbers: 'systems',
    restingStaves: 'shown',
    composer: 'A. N. Other',
    arranger: '',
  } as unknown as Parameters<typeof setUpOf>[0];

  it('has the usual size of staves where none is wished, and a single part’s name over it', () => {
    const ids = parts.map(({ id }) => id);
    const all = setUpOf(wishes, ids, parts, 'Lanterns');
    expect(all.setup.staff).toBe(pageSetupFor(6).staff);
    expect(all.head).toEqual({ title: 'Lanterns', part: '', composer: 'A. N. Other', arranger: '' });
    const one = setUpOf({ ...wishes, staff: 5 as never }, ids.slice(1, 2), parts, 'Lanterns');
    expect([one.setup.staff, one.head.part]).toEqual([5, parts[1]?.name]);
  });
});
