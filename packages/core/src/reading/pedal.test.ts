import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { expandedEvents } from '../lanes/lanes.js';
import type { PartEvent } from '../model/arrangement.js';
import { ticks } from '../time/units.js';
import { pedalSpans } from './pedal.js';

const at = (id: number, tick: number, value: number, ramp?: number): PartEvent => ({
  id,
  kind: 'controller',
  tick: ticks(tick),
  channel: 0,
  controller: 64,
  value,
  ...(ramp === undefined ? {} : { ramp }),
});

describe('presses of a pedal', () => {
  it('go by its points, and by where a ramp between them passes 64', () => {
    expect(pedalSpans([at(1, 100, 127), at(2, 500, 0)], 0, 900)).toEqual([{ down: 100, up: 500, lifted: true }]);
    // Straight from 0 to 128 within 128 ticks and back: down from the middle on.
    const [press] = pedalSpans([at(1, 0, 0, 0), at(2, 127, 127, 0), at(3, 254, 0)], 0, 900);
    expect(press).toEqual({ down: 64, up: 191, lifted: true });
    // One that stays above is one press.
    expect(pedalSpans([at(1, 0, 127, 0), at(2, 100, 70, 0), at(3, 200, 127), at(4, 300, 0)], 0, 900)).toEqual([
      { down: 0, up: 300, lifted: true },
    ]);
  });

  it('are those of the single values that a file holds in the ramp’s place', () => {
    const point = fc.record({
      gap: fc.integer({ min: 2, max: 400 }),
      value: fc.integer({ min: 0, max: 127 }),
      ramp: fc.option(fc.double({ min: -1, max: 1, noNaN: true }), { nil: undefined }),
    });
    fc.assert(
      fc.property(fc.array(point, { minLength: 1, maxLength: 12 }), (points) => {
        let tick = 0;
        const events = points.map(({ gap, value, ramp }, index) => {
          tick += gap;
          return at(index + 1, tick, value, ramp);
        });
        const single = expandedEvents(events, () => 0);
        const rows = (own: readonly PartEvent[]) => pedalSpans(own, 0, 10_000);
        expect(rows(events)).toEqual(rows(single));
      }),
    );
  });
});
