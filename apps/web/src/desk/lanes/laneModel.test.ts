/** What a hand does in a lane, without a browser. */
import {
  applyEdit,
  createMeterMap,
  demoArrangement,
  drawInLane,
  type Edit,
  type Lane,
  type LanePoint,
  type Part,
  pointsOf,
} from '@crispfold/core';
import { describe, expect, it } from 'vitest';
import { allInOrder, laneByPart } from '../state/laneParts.js';
import {
  type Drag,
  draftOf,
  dragged,
  hintAt,
  keyPressed,
  type LaneScene,
  laneLabel,
  laneShort,
  placeAt,
  pressed,
  released,
} from './laneModel.js';
import { laneScale, yOfValue } from './strokes.js';

const demo = demoArrangement();
const EXPRESSION: Lane = { kind: 'controller', controller: 11 };
const PEDAL: Lane = { kind: 'controller', controller: 64 };
const VELOCITY: Lane = { kind: 'velocity' };
const TEMPO: Lane = { kind: 'tempo' };
const { ppq } = demo;

/** The demo with points in a lane of the flute. */
const withPoints = (lane: Lane, ...points: readonly [tick: number, value: number][]) => {
  const edit = drawInLane(
    demo,
    1,
    lane,
    points.map(([tick, value]) => ({ tick, value, ramp: null })),
  );
  return applyEdit(demo, edit as Edit);
};

const sceneOf = (lane: Lane, arrangement = demo, more: Partial<LaneScene> = {}): LaneScene => {
  const parts = (more.partIds ?? [1]).map((id) => arrangement.parts.find((part) => part.id === id) as Part);
  const byPart = laneByPart(arrangement, parts, lane);
  const points = allInOrder(byPart.map((own) => own.points));
  return {
    lane,
    arrangement,
    meterMap: createMeterMap(arrangement.meters, ppq),
    partIds: parts.map(({ id }) => id),
    partId: lane.kind === 'tempo' ? null : 1,
    front: 'Flute',
    byPart,
    points,
    chosen: new Set(),
    selected: new Set(),
    view: { left: 0, ticksPerPixel: 4, width: 1000, height: 112 },
    scale: laneScale(lane, points),
    hand: { tool: 'choose', ramps: true, ease: 0.5, keepTimes: false },
    unit: ppq / 4,
    bends: 2,
    closed: null,
    frontClosed: null,
    ...more,
  };
};
/** The place of a point on the screen. */
const at = (scene: LaneScene, tick: number, value: number) =>
  placeAt(scene, (tick - scene.view.left) / scene.view.ticksPerPixel, yOfValue(scene.view, scene.scale, value));
const after = (scene: LaneScene, edit: Edit | null | undefined): readonly LanePoint[] => {
  if (!edit) return [];
  const arrangement = applyEdit(scene.arrangement, edit);
  return pointsOf(arrangement, arrangement.parts[0], scene.lane);
};
const values = (points: readonly LanePoint[]) => points.map(({ tick, value }) => [tick, value]);

describe('choosing points', () => {
  const scene = sceneOf(EXPRESSION, withPoints(EXPRESSION, [0, 40], [480, 90], [960, 60]));
  const [first, second, third] = scene.points.map(({ id }) => id) as [number, number, number];

  it('takes the one under the hand, and moves it from there', () => {
    const place = at(scene, 480, 90);
    expect(pressed(scene, place, false)).toEqual({
      chosen: new Set([second]),
      drag: { kind: 'move', from: place, to: place },
    });
    // One that is chosen already is moved with the others that are.
    const both = { ...scene, chosen: new Set([first, second]) };
    expect(pressed(both, place, false)).toEqual({ drag: { kind: 'move', from: place, to: place } });
  });

  it('adds the one under the hand with Shift, or lets it go, and moves nothing', () => {
    const place = at(scene, 480, 90);
    const one = { ...scene, chosen: new Set([first]) };
    expect(pressed(one, place, true)).toEqual({ chosen: new Set([first, second]) });
    expect(pressed({ ...scene, chosen: new Set([first, second]) }, place, true)).toEqual({ chosen: new Set([first]) });
  });

  it('draws a box where no point is, and takes what lies in it', () => {
    const [from, to] = [at(scene, 240, 100), at(scene, 1200, 50)];
    const { drag } = pressed(scene, from, false);
    expect(drag).toEqual({ kind: 'box', from, to: from, adding: false });
    const drawn = dragged(scene, drag as Drag, to);
    expect(released({ ...scene, chosen: new Set([first]) }, drawn)).toEqual({
      drag: null,
      chosen: new Set([second, third]),
      words: '2 points chosen',
    });
    const adding = { ...drawn, adding: true } as Drag;
    expect(released({ ...scene, chosen: new Set([first]) }, adding).chosen).toEqual(new Set([first, second, third]));
  });

  it('takes a press of the pedal as a whole, between its ends, and moves it in time alone', () => {
    const pedal = sceneOf(PEDAL, withPoints(PEDAL, [480, 127], [960, 0]));
    const place = at(pedal, 700, 60);
    const { chosen, drag } = pressed(pedal, place, false);
    expect(chosen).toEqual(new Set(pedal.points.map(({ id }) => id)));
    expect(drag).toMatchObject({ kind: 'move', along: 'time' });
    const moved = dragged(pedal, drag as Drag, at(pedal, 700 + 230, 10));
    const { edit } = released({ ...pedal, chosen: chosen ?? new Set() }, moved);
    expect(values(after(pedal, edit))).toEqual([
      [720, 127],
      [1200, 0],
    ]);
    // With Shift a box is drawn over it.
    expect(pressed(pedal, place, true).drag).toMatchObject({ kind: 'box', adding: true });
  });
});

describe('moving points', () => {
  const scene = sceneOf(EXPRESSION, withPoints(EXPRESSION, [0, 40], [480, 90]));
  const second = scene.points[1]?.id ?? 0;

  it('keeps to the grid in time, and to the lane’s bounds in value', () => {
    const from = at(scene, 480, 90);
    const drag: Drag = { kind: 'move', from, to: { tick: 480 + 100, value: 90 + 60 } };
    const { edit } = released({ ...scene, chosen: new Set([second]) }, drag);
    expect(values(after(scene, edit))).toEqual([
      [0, 40],
      [600, 127],
    ]);
  });

  it('changes nothing where the hand stays', () => {
    const from = at(scene, 480, 90);
    expect(released(scene, { kind: 'move', from, to: from })).toEqual({ drag: null });
  });

  it('leaves velocities under their notes', () => {
    const own = sceneOf(VELOCITY);
    const [point] = own.points as [LanePoint];
    const from = at(own, point.tick, point.value);
    const drag: Drag = { kind: 'move', from, to: { tick: from.tick + 500, value: from.value + 5 } };
    const { edit } = released({ ...own, chosen: new Set([point.id]) }, drag);
    const [moved] = after(own, edit);
    expect([moved?.tick, moved?.value]).toEqual([point.tick, point.value + 5]);
  });
});

describe('drawing', () => {
  const line = sceneOf(EXPRESSION, demo, { hand: { tool: 'line', ramps: true, ease: 0.5, keepTimes: false } });

  it('begins and ends a line on the grid, and draws it into the front part', () => {
    const { drag } = pressed(line, at(line, 10, 30), false);
    const drawn = dragged(line, drag as Drag, at(line, 470, 100));
    expect(draftOf(line, drawn).map(({ tick }) => tick)).toEqual([0, 480]);
    const { edit, label } = released(line, drawn);
    expect(label).toBe(true);
    expect(values(after(line, edit))).toEqual([
      [0, 30],
      [480, 100],
    ]);
  });

  it('follows a free hand wherever it goes, off the grid', () => {
    const free = { ...line, hand: { ...line.hand, tool: 'free' as const } };
    const { drag } = pressed(free, at(free, 12, 30), false);
    const on = dragged(free, dragged(free, drag as Drag, at(free, 100, 60)), at(free, 204, 40));
    expect(on).toMatchObject({ path: [{ tick: 12 }, { tick: 100 }, { tick: 204 }] });
  });

  it('says what lies under the hand, and whose line is drawn where several parts are in reach', () => {
    expect(hintAt(line, at(line, 480, 64))).toBe('Controller 11 expression: 64 at bar 1 beat 2');
    const several = { ...line, partIds: [1, 2] };
    expect(hintAt(several, at(line, 480, 64))).toBe('Controller 11 expression: 64 at bar 1 beat 2, drawn in Flute');
  });

  it('draws nothing while points are chosen', () => {
    expect(draftOf(sceneOf(EXPRESSION), { kind: 'stroke', path: [{ tick: 0, value: 1 }] })).toEqual([]);
  });
});

describe('what is closed', () => {
  it('is told: a line goes into the front part alone, velocities and the tempo into all', () => {
    const locked = { closed: null, frontClosed: 'Flute is locked.' };
    const hand = { tool: 'line', ramps: true, ease: 0, keepTimes: false } as const;
    const place = at(sceneOf(EXPRESSION), 0, 10);
    expect(pressed(sceneOf(EXPRESSION, demo, { ...locked, hand }), place, false)).toEqual({
      refused: 'Flute is locked.',
    });
    expect(pressed(sceneOf(VELOCITY, demo, { ...locked, hand }), place, false).refused).toBeUndefined();
    const all = { closed: 'Every part is locked.', frontClosed: 'Flute is locked.' };
    expect(pressed(sceneOf(VELOCITY, demo, { ...all, hand }), place, false).refused).toBe('Every part is locked.');
    expect(pressed(sceneOf(TEMPO, demo, { ...all, hand }), place, false).refused).toBeUndefined();
    expect(keyPressed(sceneOf(EXPRESSION, demo, all), 'ArrowUp', false, 0)).toEqual({
      refused: 'Every part is locked.',
    });
    expect(keyPressed(sceneOf(EXPRESSION, demo, all), 'Insert', false, 0)).toEqual({ refused: 'Flute is locked.' });
  });
});

describe('keys in a lane', () => {
  const scene = sceneOf(EXPRESSION, withPoints(EXPRESSION, [0, 40], [480, 90], [1000, 60]));
  const [first, second, third] = scene.points.map(({ id }) => id) as [number, number, number];
  const press = (key: string, chosen: readonly number[] = [], large = false, playhead = 0) =>
    keyPressed({ ...scene, chosen: new Set(chosen) }, key, large, playhead);

  it('go from point to point, from the chosen one or the playhead, and say each', () => {
    expect(press('ArrowRight', [first])).toEqual({
      chosen: new Set([second]),
      words: 'Controller 11 expression 90, bar 1 beat 2, holds',
      shows: 480,
    });
    expect(press('ArrowLeft', [third])?.chosen).toEqual(new Set([second]));
    expect(press('ArrowRight', [third])?.chosen).toEqual(new Set([third]));
    expect(press('ArrowRight', [], false, 300)?.chosen).toEqual(new Set([second]));
    expect(press('ArrowLeft', [], false, 500)?.chosen).toEqual(new Set([second]));
    expect(press('ArrowRight', [first], true)?.chosen).toEqual(new Set([first, second]));
    expect(press('ArrowRight', [second])?.words).toBe('Controller 11 expression 60, bar 1 beat 3, 40 ticks, holds');
    expect(keyPressed(sceneOf(EXPRESSION), 'ArrowRight', false, 0)).toEqual({});
  });

  it('change what is chosen: by one, by ten with Shift, and bends by more', () => {
    expect(values(after(scene, press('ArrowUp', [second])?.edit))[1]).toEqual([480, 91]);
    expect(values(after(scene, press('ArrowDown', [second], true)?.edit))[1]).toEqual([480, 80]);
    const bend: Lane = { kind: 'pitchBend' };
    const bent = sceneOf(bend, withPoints(bend, [0, 0], [480, 1000]));
    const own = { ...bent, chosen: new Set([bent.points[1]?.id ?? 0]) };
    expect(values(after(bent, keyPressed(own, 'ArrowUp', false, 0)?.edit))[1]).toEqual([480, 1128]);
  });

  it('take away, hold or ramp, and let go', () => {
    expect(values(after(scene, press('Delete', [second])?.edit))).toEqual([
      [0, 40],
      [1000, 60],
    ]);
    expect(press('Backspace', [second])?.edit?.label).toContain('Delete in Controller 11 expression');
    expect(after(scene, press('h', [first])?.edit)[0]?.ramp).toBe(0);
    expect(press('Escape', [first])).toEqual({ chosen: new Set() });
    expect(press('x', [first])).toBeNull();
  });

  it('put a point at the playhead, on the grid, of the value that holds there', () => {
    const put = press('Insert', [], false, 610);
    expect(put?.words).toBe('A point of 90 at the playhead');
    expect(values(after(scene, put?.edit))).toContainEqual([600, 90]);
    const off = { ...scene, unit: 1 };
    expect(values(after(scene, keyPressed(off, 'Insert', false, 610)?.edit))).toContainEqual([610, 90]);
  });
});

describe('how a lane is called', () => {
  it('says whose it is, and shortly in the narrow room', () => {
    expect(laneLabel(sceneOf(EXPRESSION))).toMatch(/^Lane Controller 11 expression of Flute\. Arrows/);
    expect(laneLabel(sceneOf(VELOCITY, demo, { partIds: [1, 2, 3] }))).toMatch(
      /^Lane Velocity of the 3 parts in reach\./,
    );
    expect(laneLabel(sceneOf(TEMPO))).toMatch(/^Lane Tempo\. Arrows/);
    const all: Lane[] = [EXPRESSION, { kind: 'pitchBend' }, { kind: 'channelPressure' }, TEMPO, VELOCITY];
    expect(all.map(laneShort)).toEqual(['CC 11', 'Bend', 'Press.', '♩ =', 'Vel.']);
  });
});
