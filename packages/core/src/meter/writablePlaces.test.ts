import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { beatsOfBars, createMeterMap, type Meter } from '../time/meterMap.js';
import { ticks, WRITTEN_PPQ } from '../time/units.js';
import { writablePlaces } from './writablePlaces.js';
import { divisionFor, splitBeat, zonesOf } from './zones.js';

const QUARTER = WRITTEN_PPQ;
const beatsIn = (meter: Meter, bars = 4, changes: { bar: number; meter: Meter }[] = []) => {
  const length = (QUARTER * 4 * meter.numerator) / meter.denominator;
  const map = createMeterMap(
    [{ tick: ticks(0), ...meter }, ...changes.map((change) => ({ tick: ticks(change.bar * length), ...change.meter }))],
    QUARTER,
  );
  return beatsOfBars(map.barsTo(length * bars), QUARTER);
};
const FOUR_FOUR = { numerator: 4, denominator: 4 };
const SIX_EIGHT = { numerator: 6, denominator: 8 };

describe('places that can be written', () => {
  it.each([
    ['sixteenths', FOUR_FOUR, [0, 1 / 4, 1 / 2, 3 / 4]],
    ['a triplet', FOUR_FOUR, [0, 1 / 3, 2 / 3]],
    ['a quintuplet', FOUR_FOUR, [0, 1 / 5, 2 / 5, 3 / 5, 4 / 5]],
    ['a septuplet', FOUR_FOUR, [1 / 7, 3 / 7]],
    ['eighths of a dotted beat', SIX_EIGHT, [0, 1 / 2, 1]],
    ['a duplet in a dotted beat', SIX_EIGHT, [0, 3 / 4]],
  ])('stay where they are: %s', (_name, meter, quarters) => {
    const places = quarters.map((at) => Math.round(at * QUARTER));
    const { nearest } = writablePlaces(beatsIn(meter), places);
    expect(places.map(nearest)).toEqual(places);
  });

  it('go to thirty-seconds where one beat mixes what no value says together', () => {
    const places = [QUARTER / 8 + 60, QUARTER / 2 + 100];
    const { nearest } = writablePlaces(beatsIn(FOUR_FOUR), places);
    for (const place of places) expect(nearest(place) % (QUARTER / 8)).toBe(0);
  });

  it('go to sixths where those fit clearly better', () => {
    const places = [QUARTER / 3 + 5, (QUARTER * 2) / 3 - 5];
    const { nearest } = writablePlaces(beatsIn(FOUR_FOUR), places);
    expect(places.map(nearest)).toEqual([QUARTER / 3, (QUARTER * 2) / 3]);
  });

  it('of one beat do not move those of another', () => {
    const odd = QUARTER + 13;
    const { nearest } = writablePlaces(beatsIn(FOUR_FOUR), [odd, QUARTER / 3]);
    expect(nearest(odd)).toBe(QUARTER);
    expect(nearest(QUARTER / 3)).toBe(QUARTER / 3);
  });

  it('come out the same however they are handed in, and each can be said with its beat', () => {
    const many = fc.array(fc.integer({ min: 0, max: QUARTER * 12 - 1 }), { minLength: 1, maxLength: 40 });
    fc.assert(
      fc.property(
        many,
        fc.constantFrom<Meter>(FOUR_FOUR, SIX_EIGHT, { numerator: 3, denominator: 4 }),
        (list, meter) => {
          const beats = beatsIn(meter, 6);
          const { nearest } = writablePlaces(beats, list);
          const turned = writablePlaces(beats, [...list].reverse());
          expect(list.map(nearest)).toEqual(list.map((place) => turned.nearest(place)));
          for (const beat of beats) {
            const inside = list.map(nearest).filter((at) => at >= beat.start && at < beat.start + beat.length);
            const offsets = inside.map((at) => at - beat.start);
            expect(divisionFor(beat, offsets) ?? splitBeat(beat, offsets)).toBeTruthy();
          }
        },
      ),
    );
  });

  it('follow each other: the next place lies a step on, within the beat', () => {
    const { after, before } = writablePlaces(beatsIn(FOUR_FOUR), [0]);
    expect(after(0)).toBe(QUARTER / 8);
    expect(after(QUARTER - 3)).toBe(QUARTER);
    expect(before(QUARTER * 4)).toBe(QUARTER * 4 - QUARTER / 8);
  });

  it.each([
    ['triplet', FOUR_FOUR, 1 / 3],
    ['quintuplet', FOUR_FOUR, 3 / 20],
    ['septuplet', FOUR_FOUR, 2 / 7],
    ['duplet', SIX_EIGHT, 3 / 4],
  ])('that are new do not spoil a %s', (_name, meter, at) => {
    const place = Math.round(at * QUARTER);
    const beats = beatsIn(meter);
    const [beat] = beats;
    if (!beat) throw new Error('no beat');
    const { after, before } = writablePlaces(beats, [place]);
    for (const added of [after(0), after(place), before(beat.length)]) {
      expect(divisionFor(beat, [place, added])).toBeDefined();
    }
  });
});

describe('a tuplet in a part of a beat', () => {
  const ratios = (meter: Meter, places: number[]) =>
    zonesOf(meter, (meter.numerator * 4 * QUARTER) / meter.denominator, places).map(
      ({ start, end, ratio }) =>
        `${start / QUARTER}–${end / QUARTER} ${ratio ? `${ratio.actual}:${ratio.normal}` : ''}`,
    );

  it('takes half a plain beat where the other half is plain, and one eighth of a dotted one', () => {
    const sixth = QUARTER / 6;
    expect(ratios(FOUR_FOUR, [sixth, 2 * sixth, QUARTER / 2, (QUARTER * 3) / 4])).toEqual(['0–0.5 3:2', '0.5–4 ']);
    expect(ratios(SIX_EIGHT, [sixth, 2 * sixth, QUARTER / 2, QUARTER])).toEqual(['0–0.5 3:2', '0.5–3 ']);
  });

  it('leaves a triplet of the whole beat, and six in a beat, as they are', () => {
    const third = QUARTER / 3;
    expect(ratios(FOUR_FOUR, [third, 2 * third])).toEqual(['0–1 3:2', '1–4 ']);
    expect(
      ratios(
        FOUR_FOUR,
        [1, 2, 3, 4, 5].map((k) => (k * third) / 2),
      ),
    ).toEqual(['0–1 3:2', '1–4 ']);
  });

  it('lets a place that is added go to the next part', () => {
    const { after, before } = writablePlaces(beatsIn(FOUR_FOUR, 1), [QUARTER / 6, QUARTER / 3, QUARTER / 2]);
    expect(after(QUARTER / 6)).toBe(QUARTER / 2);
    expect(after(QUARTER / 2)).toBe(QUARTER);
    expect(before(QUARTER / 2)).toBe(0);
  });
});

describe('zones of a bar', () => {
  const BAR = QUARTER * 4;
  const shown = (places: readonly number[], meter: Meter = FOUR_FOUR, length = BAR) =>
    zonesOf(meter, length, places).map(({ start, end, ratio }) =>
      [start / QUARTER, end / QUARTER, ratio ? `${ratio.actual}:${ratio.normal}` : ''].join(' '),
    );

  it('is one where nothing is finer than thirty-seconds', () => {
    expect(shown([])).toEqual(['0 4 ']);
    expect(shown([0, QUARTER / 8, QUARTER * 3.5])).toEqual(['0 4 ']);
  });

  it('stops at the end of a bar cut short', () => {
    expect(shown([0, QUARTER], FOUR_FOUR, QUARTER * 3)).toEqual(['0 3 ']);
  });

  it('gives a triplet its beat, or two where its thirds are of both', () => {
    expect(shown([0, QUARTER / 3])).toEqual(['0 1 3:2', '1 4 ']);
    expect(shown([0, (QUARTER * 2) / 3, (QUARTER * 4) / 3])).toEqual(['0 2 3:2', '2 4 ']);
  });

  it('reads halves of a dotted beat as a duplet, and thirds as they are', () => {
    expect(shown([0, QUARTER * 0.75], SIX_EIGHT, QUARTER * 3)).toEqual(['0 1.5 2:3', '1.5 3 ']);
    expect(shown([0, QUARTER / 2, QUARTER], SIX_EIGHT, QUARTER * 3)).toEqual(['0 3 ']);
  });
});
