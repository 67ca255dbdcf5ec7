import { type Arrangement, demoArrangement } from '@crispfold/core';
import { describe, expect, it } from 'vitest';
import { wholeArrangement } from './wholeArrangement.js';

const demo = demoArrangement();

describe('an arrangement from the server', () => {
  it('is the very same where it is whole', () => {
    expect(wholeArrangement(demo)).toEqual({ arrangement: demo, lost: [] });
    expect(wholeArrangement(demo).arrangement).toBe(demo);
  });

  it('opens without what is damaged, and says what that was', () => {
    const [flute, clarinet, ...others] = demo.parts;
    const damaged = {
      ...demo,
      parts: [flute, { ...clarinet, events: 7 }, ...others],
      meters: [{ tick: 0, numerator: 4, denominator: 5 }],
    } as unknown as Arrangement;
    const { arrangement, lost } = wholeArrangement(damaged);
    expect(lost).toEqual(['Clarinet in B flat', 'the meters']);
    expect(arrangement.parts).toEqual([flute, ...others]);
    expect(arrangement.meters).toEqual([]);
    expect(arrangement.tempos).toEqual(demo.tempos);
    expect(arrangement.title).toBe(demo.title);
  });

  it('that is none at all opens empty', () => {
    expect(wholeArrangement(null as unknown as Arrangement).arrangement.parts).toEqual([]);
    expect(wholeArrangement({ parts: [null] } as unknown as Arrangement).lost).toEqual(['part 1']);
  });
});
