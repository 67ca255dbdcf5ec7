import { describe, expect, it } from 'vitest';
import { warmUp } from './warmUp.js';

describe('warming up', () => {
  it('engraves pages of music with notes in two parts, and ends by itself', async () => {
    const pages: string[] = [];
    await warmUp(
      async (musicXml) => {
        pages.push(musicXml);
        return '<svg/>';
      },
      () => false,
    );
    expect(pages.length).toBeGreaterThan(2);
    expect(pages[0]?.match(/<part id=/g)).toHaveLength(2);
    expect(pages[0]?.match(/<pitch>/g)?.length).toBeGreaterThan(40);
  });

  it('ends as soon as the worker is wanted', async () => {
    let pages = 0;
    await warmUp(
      async () => {
        pages += 1;
        return '<svg/>';
      },
      () => pages > 0,
    );
    expect(pages).toBe(1);
  });
});
