import { describe, expect, it } from 'vitest';
import type { Arrangement, PartEvent } from '../model/arrangement.js';
import { applyEdit, invertEdit } from '../model/edit.js';
import { arrangementWith, note, partWith } from '../testing/kit.js';
import { ticks } from '../time/units.js';
import { type Lane, lanePoints } from './lanes.js';
import { changePointsIn, drawVelocitiesIn, thinLaneIn } from './severalParts.js';

const EXPRESSION = { kind: 'controller', controller: 11 } as const;
const expression = (id: number, tick: number, value: number): PartEvent => ({
  id,
  kind: 'controller',
  tick: ticks(tick),
  channel: 0,
  controller: 11,
  value,
});
const two = arrangementWith([
  partWith([note(72, 0, 480, { velocity: 60 }), note(74, 480, 480, { velocity: 60 })], {
    id: 1,
    name: 'Flute',
    events: [expression(1, 0, 10), expression(2, 240, 20), expression(3, 480, 30)],
  }),
  partWith([note(48, 0, 480, { velocity: 80 }), note(50, 960, 480, { velocity: 80 })], {
    id: 2,
    name: 'Cello',
    events: [expression(4, 0, 50), expression(5, 480, 60)],
  }),
]);
const values = ({ parts }: Arrangement, lane: Exclude<Lane, { kind: 'tempo' }>) =>
  parts.map((part) => lanePoints(part, lane).map(({ tick, value }) => [tick, value]));
const done = (edit: ReturnType<typeof changePointsIn>): Arrangement => {
  if (!edit) throw new Error('no edit');
  const after = applyEdit(two, edit);
  expect(values(applyEdit(after, invertEdit(edit)), EXPRESSION)).toEqual(values(two, EXPRESSION));
  expect(values(applyEdit(after, invertEdit(edit)), { kind: 'velocity' })).toEqual(values(two, { kind: 'velocity' }));
  return after;
};

describe('a lane of several parts', () => {
  it('has points of all of them changed as one Edit, which says how many in which part', () => {
    const edit = changePointsIn(two, [1, 2], EXPRESSION, new Set([2, 3, 5]), (point) => ({
      ...point,
      value: point.value + 5,
    }));
    expect(edit?.label).toBe('Controller 11 expression: 2 points in Flute, 1 in Cello');
    expect(values(done(edit), EXPRESSION)).toEqual([
      [
        [0, 10],
        [240, 25],
        [480, 35],
      ],
      [
        [0, 50],
        [480, 65],
      ],
    ]);
  });

  it('leaves parts alone whose points were not chosen, or that are out of reach', () => {
    const edit = changePointsIn(two, [2], EXPRESSION, new Set([2, 5]), () => null, 'Delete');
    expect(edit?.label).toBe('Delete: 1 point in Cello');
    expect(values(done(edit), EXPRESSION)[0]).toHaveLength(3);
    expect(changePointsIn(two, [1, 2], EXPRESSION, new Set([99]), () => null)).toBeNull();
  });

  it('gives a line’s loudness to the notes of all, or to those selected', () => {
    const line = [
      { tick: 0, value: 100, ramp: 0 },
      { tick: 960, value: 40, ramp: null },
    ];
    const edit = drawVelocitiesIn(two, [1, 2], line);
    expect(edit?.label).toBe('Velocity: 2 notes in Flute, 2 in Cello');
    expect(values(done(edit), { kind: 'velocity' })).toEqual([
      [
        [0, 100],
        [480, 70],
      ],
      [
        [0, 100],
        [960, 40],
      ],
    ]);
    const [, cello] = two.parts;
    const own = drawVelocitiesIn(two, [1, 2], line, new Set([cello?.notes[1]?.id ?? 0]));
    expect(own?.label).toBe('Velocity: 1 note in Cello');
  });

  it('is thinned part by part', () => {
    const edit = thinLaneIn(two, [1, 2], EXPRESSION);
    expect(values(done(edit), EXPRESSION)).toEqual([
      [
        [0, 10],
        [480, 30],
      ],
      [
        [0, 50],
        [480, 60],
      ],
    ]);
  });
});
