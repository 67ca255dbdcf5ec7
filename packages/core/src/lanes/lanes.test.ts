import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import path from 'node:path';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { writePlayedMidi } from '../midi/writeMidi.js';
import type { Arrangement, PartEvent } from '../model/arrangement.js';
import { applyEdit, type Edit, invertEdit } from '../model/edit.js';
import { cases } from '../testing/cases.js';
import { arrangementWith, note, partWith } from '../testing/kit.js';
import { easedShare, onRamp, secondsOfRamp } from '../time/ramps.js';
import { createTempoMap, expandedTempos } from '../time/tempoMap.js';
import { ticks } from '../time/units.js';
import { changePoints, drawInLane, pauseOn, slowDown, thinLane, thinned } from './laneEdits.js';
import {
  bendRange,
  betweenPresses,
  expandedEvents,
  type Lane,
  laneKey,
  laneName,
  laneOfKey,
  lanePoints,
  lanesWith,
  laneValueInWords,
  pedalPresses,
  pressAt,
  tempoPoints,
  valueAt,
} from './lanes.js';

const EXPRESSION: Lane = { kind: 'controller', controller: 11 };
const controller = (id: number, tick: number, value: number, ramp?: number): PartEvent => ({
  kind: 'controller',
  id,
  tick: ticks(tick),
  channel: 0,
  controller: 11,
  value,
  ...(ramp === undefined ? {} : { ramp }),
});
const base = arrangementWith([partWith([note(60, 0, 400), note(62, 480, 400), note(64, 960, 400)])], {
  tempos: [{ tick: ticks(0), microsecondsPerQuarter: 500_000 }],
});
const done = (arrangement: Arrangement, edit: Edit | null): Arrangement => {
  if (!edit) throw new Error('nothing to do');
  const after = applyEdit(arrangement, edit);
  const back = applyEdit(after, invertEdit(edit));
  expect([back.parts, back.tempos]).toEqual([arrangement.parts, arrangement.tempos]);
  return after;
};
const rows = ({ parts }: Arrangement, lane: Exclude<Lane, { kind: 'tempo' }> = EXPRESSION as never) =>
  lanePoints(parts[0] as Arrangement['parts'][0], lane).map(({ tick, value, ramp }) => [tick, value, ramp]);

describe('ramps', () => {
  it('go from one value to the other, with an ease', () => {
    expect(onRamp(10, 20, 0.5, 0)).toBe(15);
    expect([onRamp(10, 20, 0, 0.7), onRamp(10, 20, 1, 0.7)]).toEqual([10, 20]);
    expect(easedShare(0.5, 1)).toBeLessThan(0.5);
    expect(easedShare(0.5, -1)).toBeGreaterThan(0.5);
  });

  // Closed form: the time of a tempo that rises evenly with the beat is 60 n ln(b / a) / (b - a).
  it('of tempo last as long as their integral says', () => {
    expect(secondsOfRamp(120, 120, 0, 4)).toBeCloseTo(2, 12);
    expect(secondsOfRamp(60, 120, 0, 8)).toBeCloseTo((60 * 8 * Math.log(2)) / 60, 12);
    const fine = (ease: number) => {
      let sum = 0;
      const pieces = 200_000;
      for (let k = 0; k < pieces; k += 1) sum += (60 * (8 / pieces)) / onRamp(60, 120, (k + 0.5) / pieces, ease);
      return sum;
    };
    expect(secondsOfRamp(60, 120, 0.8, 8)).toBeCloseTo(fine(0.8), 5);
  });
});

describe('lanes', () => {
  it('are known by a key, and named by the standard’s table (MIDI 1.0)', () => {
    for (const lane of [EXPRESSION, { kind: 'tempo' }, { kind: 'velocity' }, { kind: 'pitchBend' }] as Lane[])
      expect(laneOfKey(laneKey(lane))).toEqual(lane);
    expect(laneOfKey('cc200')).toBeUndefined();
    expect(laneName({ kind: 'controller', controller: 64 })).toBe('Controller 64 sustain pedal');
    expect(laneName({ kind: 'controller', controller: 20 })).toBe('Controller 20');
  });

  it('are those that parts have something in', () => {
    const part = {
      events: [controller(1, 0, 5), { kind: 'pitchBend', id: 2, tick: ticks(0), channel: 0, value: 8192 }],
    } as const;
    expect(lanesWith([part]).map(laneKey)).toEqual(['velocity', 'tempo', 'cc11', 'pitchBend']);
  });

  it('say bends in semitones, by the range that the part sets', () => {
    const set = (number: number, value: number, id: number) =>
      ({ ...controller(id, 0, value), controller: number }) as PartEvent;
    const events = [set(101, 0, 1), set(100, 0, 2), set(6, 12, 3)];
    expect(bendRange({ events: [] })).toBe(2);
    expect(bendRange({ events })).toBe(12);
    expect(bendRange({ events: [set(6, 7, 1)] })).toBe(2);
    expect(laneValueInWords({ kind: 'pitchBend' }, 12_288, 2)).toBe('+1.00 semitones');
    expect(laneValueInWords({ kind: 'pitchBend' }, 0, 12)).toBe('−12.00 semitones');
  });

  it('hold or ramp from point to point', () => {
    const points = [
      { id: 1, tick: 100, value: 20, ramp: null },
      { id: 2, tick: 200, value: 40, ramp: 0 },
      { id: 3, tick: 300, value: 80, ramp: null },
    ];
    expect([0, 150, 200, 250, 300, 900].map((tick) => valueAt(points, tick, 64))).toEqual([64, 20, 40, 60, 80, 80]);
  });
});

describe('drawing in a lane', () => {
  const drawn = done(
    base,
    drawInLane(base, 1, EXPRESSION, [
      { tick: 0, value: 20, ramp: 0 },
      { tick: 960, value: 200, ramp: null },
    ]),
  );

  it('puts points there, within bounds, in the place of what was there', () => {
    expect(rows(drawn)).toEqual([
      [0, 20, 0],
      [960, 127, null],
    ]);
    const again = done(drawn, drawInLane(drawn, 1, EXPRESSION, [{ tick: 480, value: 7, ramp: null }]));
    expect(rows(again)).toEqual([
      [0, 20, 0],
      [480, 7, null],
      [960, 127, null],
    ]);
  });

  it('moves, sets, ramps and takes away points', () => {
    const [first, last] = lanePoints(drawn.parts[0] as Arrangement['parts'][0], EXPRESSION as never);
    const moved = done(
      drawn,
      changePoints(drawn, 1, EXPRESSION, new Set([first?.id ?? 0]), (point) => ({
        ...point,
        tick: 240,
        value: 30,
        ramp: null,
      })),
    );
    expect(rows(moved)).toEqual([
      [240, 30, null],
      [960, 127, null],
    ]);
    expect(
      rows(
        done(
          drawn,
          changePoints(drawn, 1, EXPRESSION, new Set([last?.id ?? 0]), () => null),
        ),
      ),
    ).toEqual([[0, 20, 0]]);
    expect(changePoints(drawn, 1, EXPRESSION, new Set(), () => null)).toBeNull();
  });

  it('gives notes their velocity along a line, all or those that are chosen', () => {
    const line = [
      { tick: 0, value: 40, ramp: 0 },
      { tick: 960, value: 100, ramp: null },
    ];
    const velocities = (arrangement: Arrangement) => arrangement.parts[0]?.notes.map(({ velocity }) => velocity);
    expect(velocities(done(base, drawInLane(base, 1, { kind: 'velocity' }, line)))).toEqual([40, 70, 100]);
    const [, second] = base.parts[0]?.notes ?? [];
    const one = drawInLane(base, 1, { kind: 'velocity' }, line, new Set([second?.id ?? 0]));
    expect(velocities(done(base, one))).toEqual([80, 70, 80]);
    expect(one?.label).toBe('Velocity: 1 note in Flute');
  });
});

/** The parser of midi-json-parser: its package's own entry wants a browser's worker around it. */
const theirParser = path.resolve(
  createRequire(import.meta.url).resolve('midi-json-parser-worker'),
  '../../es2019/midi-file-parser.js',
);
interface TheirEvent {
  readonly delta: number;
  readonly controlChange?: { readonly value: number };
  readonly setTempo?: { readonly microsecondsPerQuarter: number };
}
const theirTracks = async (bytes: Uint8Array): Promise<readonly (readonly TheirEvent[])[]> => {
  const { parseArrayBuffer } = await import(theirParser);
  return (parseArrayBuffer(new Uint8Array(bytes).buffer) as { tracks: TheirEvent[][] }).tracks;
};

describe('a pedal', () => {
  const point = (id: number, tick: number, value: number) => ({ id, tick, value, ramp: null });
  const points = [
    point(1, 0, 127),
    point(2, 100, 90),
    point(3, 200, 0),
    point(4, 300, 127),
    point(5, 400, 10),
    point(6, 500, 127),
  ];

  it('is pressed from going down to coming up, half pedal within; the last never comes up', () => {
    expect(pedalPresses(points).map(({ down, up, ids }) => [down.tick, up?.tick ?? null, ids])).toEqual([
      [0, 200, [1, 2, 3]],
      [300, 400, [4, 5]],
      [500, null, [6]],
    ]);
    expect(pressAt(points, 150)?.down.id).toBe(1);
    expect(pressAt(points, 250)).toBeUndefined();
    expect(pressAt(points, 9000)?.down.id).toBe(6);
  });

  it('two presses are joined by taking out what lies between', () => {
    expect([...betweenPresses(points, new Set([1, 4]))]).toEqual([2, 3, 4]);
    expect([...betweenPresses(points, new Set([1, 2]))]).toEqual([]);
  });
});

const folder = mkdtempSync(path.join(tmpdir(), 'crispfold-lanes-'));

describe('ramps in a file', () => {
  it('are one value where the rounded value changes, and never more than one each millisecond', () => {
    const events = [controller(1, 0, 0, 0), controller(2, 960, 127)];
    const tempoMap = createTempoMap([], 480);
    const made = expandedEvents(events, tempoMap.ticksPerMillisecond);
    expect(made).toHaveLength(128);
    expect(new Set(made.map((event) => (event as { value: number }).value)).size).toBe(128);
    // In a tenth of a second there is room for a hundred.
    const fast = expandedEvents([controller(1, 0, 0, 0), controller(2, 48, 127)], tempoMap.ticksPerMillisecond);
    expect(fast.length).toBeLessThanOrEqual(51);
    const plain = [controller(1, 0, 0), controller(2, 960, 127)];
    expect(expandedEvents(plain, tempoMap.ticksPerMillisecond)).toBe(plain);
  });

  it('are read within one step of the ramp at every tick by midicsv and midi-json-parser', async () => {
    const arrangement = arrangementWith([
      partWith([note(60, 0, 1920)], {
        events: [controller(1, 0, 10, 0.6), controller(2, 1500, 120, -0.4), controller(3, 1920, 3)],
      }),
    ]);
    const bytes = writePlayedMidi(arrangement);
    const file = path.join(folder, 'ramp.mid');
    writeFileSync(file, bytes);
    const points = lanePoints(arrangement.parts[0] as Arrangement['parts'][0], EXPRESSION as never);
    const byCsv = execFileSync('midicsv', [file], { encoding: 'utf8' })
      .split('\n')
      .filter((line) => line.includes('Control_c'))
      .map((line) => line.split(',').map((field) => Number(field)))
      .map(([, tick, , , , value]) => ({ tick: tick as number, value: value as number }));
    const json = await theirTracks(bytes);
    let at = 0;
    const byJson = (json[1] ?? []).flatMap((event) => {
      at += event.delta;
      return event.controlChange ? [{ tick: at, value: event.controlChange.value }] : [];
    });
    for (const read of [byCsv, byJson]) {
      expect(read.length).toBeGreaterThan(100);
      let index = 0;
      for (let tick = 0; tick <= 1920; tick += 1) {
        while (index + 1 < read.length && (read[index + 1]?.tick ?? 0) <= tick) index += 1;
        expect(Math.abs((read[index]?.value ?? 0) - valueAt(points, tick, 0))).toBeLessThanOrEqual(1);
      }
    }
  });

  it('read back and thinned are the ramp again', () => {
    const arrangement = arrangementWith([
      partWith([note(60, 0, 1920)], { events: [controller(1, 0, 10, 0), controller(2, 1500, 120)] }),
    ]);
    const read = expandedEvents(arrangement.parts[0]?.events ?? [], createTempoMap([], 480).ticksPerMillisecond);
    const points = read.map((event) => ({ tick: event.tick, value: (event as { value: number }).value, ramp: null }));
    expect(thinned(points)).toEqual([
      { tick: 0, value: 10, ramp: 0 },
      { tick: 1500, value: 120, ramp: null },
    ]);
  });
});

describe('thinning', () => {
  it('never leaves a value by more than one step, and says how many points it took', () => {
    const values = fc.array(fc.integer({ min: 0, max: 127 }), { minLength: 3, maxLength: 60 });
    fc.assert(
      fc.property(values, (list) => {
        const points = list.map((value, k) => ({ id: k, tick: k * 10, value, ramp: null }));
        const kept = thinned(points).map((point, id) => ({ ...point, id }));
        for (const { tick, value } of points)
          expect(Math.abs(valueAt(kept, tick, 0) - value)).toBeLessThanOrEqual(1 + 1e-9);
      }),
      cases(300),
    );
    const events = Array.from({ length: 100 }, (_, k) => controller(k + 1, k * 5, k));
    const arrangement = arrangementWith([partWith([note(60, 0, 480)], { events })], { nextEventId: 200 });
    const edit = thinLane(arrangement, 1, EXPRESSION as never);
    expect(edit?.label).toBe('Thin Controller 11 expression of Flute: 100 points to 2');
    expect(rows(done(arrangement, edit))).toEqual([
      [0, 0, 0],
      [495, 99, null],
    ]);
    expect(thinLane(base, 1, EXPRESSION as never)).toBeNull();
  });
});

describe('tempo', () => {
  const slowed = done(base, slowDown(base, { from: 1920, to: 3840, target: 60, ease: 0, returns: true }));

  it('slows down and returns: exactly the old tempo, at the exact tick', () => {
    expect(slowed.tempos).toEqual([
      ...base.tempos,
      { tick: 1920, microsecondsPerQuarter: 500_000, ramp: { to: 1_000_000, ease: 0 } },
      { tick: 3840, microsecondsPerQuarter: 500_000 },
    ]);
    expect(expandedTempos(slowed.tempos, 480).at(-1)).toEqual({ tick: 3840, microsecondsPerQuarter: 500_000 });
  });

  it('places after it are right to a tenth of a millisecond, in closed form and to a reader of the file', async () => {
    const map = createTempoMap(slowed.tempos, 480);
    const lasts = (60 * 4 * Math.log(60 / 120)) / (60 - 120);
    expect(map.secondsAt(3840)).toBeCloseTo(2 + lasts, 5);
    expect(Math.abs(map.secondsAt(9600) - (2 + lasts + 6))).toBeLessThan(0.0001);
    // Half way: the tempo is 90 there.
    expect(Math.abs(map.secondsAt(2880) - (2 + (60 * 2 * Math.log(90 / 120)) / (90 - 120)))).toBeLessThan(0.0001);
    const json = await theirTracks(writePlayedMidi(slowed));
    let [tick, seconds, perQuarter] = [0, 0, 500_000];
    for (const event of json[0] ?? []) {
      seconds += (event.delta * perQuarter) / 480 / 1e6;
      tick += event.delta;
      perQuarter = event.setTempo?.microsecondsPerQuarter ?? perQuarter;
    }
    seconds += ((9600 - tick) * perQuarter) / 480 / 1e6;
    expect(Math.abs(seconds - (2 + lasts + 6))).toBeLessThan(0.0001);
  });

  it('any ramp lasts as its integral says, with any ease', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 30, max: 240 }),
        fc.integer({ min: 30, max: 240 }),
        fc.integer({ min: -10, max: 10 }),
        fc.integer({ min: 1, max: 32 }),
        (from, to, tenths, quarters) => {
          const tempos = [
            {
              tick: ticks(0),
              microsecondsPerQuarter: Math.round(6e7 / from),
              ramp: { to: Math.round(6e7 / to), ease: tenths / 10 },
            },
            { tick: ticks(quarters * 480), microsecondsPerQuarter: 500_000 },
          ];
          const map = createTempoMap(tempos, 480);
          const [a, b] = [6e7 / Math.round(6e7 / from), 6e7 / Math.round(6e7 / to)];
          expect(Math.abs(map.secondsAt(quarters * 480) - secondsOfRamp(a, b, tenths / 10, quarters))).toBeLessThan(
            0.0008,
          );
        },
      ),
      cases(200),
    );
  });

  it('a pause lasts so many times as long, and the old tempo is there at its end', () => {
    const paused = done(base, pauseOn(base, { from: 960, to: 1440, times: 2 }));
    expect(tempoPoints(paused.tempos).map(({ tick, value }) => [tick, value])).toEqual([
      [0, 120],
      [960, 60],
      [1440, 120],
    ]);
    const lasts = ({ tempos }: Arrangement) =>
      createTempoMap(tempos, 480).secondsAt(1440) - createTempoMap(tempos, 480).secondsAt(960);
    expect(lasts(paused)).toBeCloseTo(1, 9);
    // On one that is there already: twice as long again, and nothing after it moves otherwise.
    const again = done(paused, pauseOn(paused, { from: 960, to: 1440, times: 2 }));
    expect(lasts(again)).toBeCloseTo(2, 9);
    expect(again.tempos).toHaveLength(3);
    expect(pauseOn(base, { from: 10, to: 10, times: 2 })).toBeNull();
  });

  it('one that a file brought stays as it was, however slow or fast, when another is changed', () => {
    const odd = {
      ...base,
      tempos: [
        ...base.tempos,
        { tick: ticks(1920), microsecondsPerQuarter: 16_000_000 },
        { tick: ticks(3840), microsecondsPerQuarter: 90_000 },
      ],
    };
    const after = done(
      odd,
      changePoints(odd, null, { kind: 'tempo' }, new Set([0]), (point) => ({ ...point, value: 100 })),
    );
    expect(after.tempos.map(({ microsecondsPerQuarter }) => microsecondsPerQuarter)).toEqual([
      600_000, 16_000_000, 90_000,
    ]);
    const drawn = done(odd, drawInLane(odd, null, { kind: 'tempo' }, [{ tick: 480, value: 9999, ramp: null }]));
    expect(drawn.tempos.map(({ microsecondsPerQuarter }) => microsecondsPerQuarter)).toEqual([
      500_000, 150_000, 16_000_000, 90_000,
    ]);
  });

  it('a ramp to the next tempo goes along when that one is changed; one that leads elsewhere does not', () => {
    const line = [
      { tick: 0, value: 120, ramp: 0 },
      { tick: 1920, value: 60, ramp: null },
    ];
    const drawn = done(base, drawInLane(base, null, { kind: 'tempo' }, line));
    const changed = done(
      drawn,
      changePoints(drawn, null, { kind: 'tempo' }, new Set([1]), (point) => ({ ...point, value: 80 })),
    );
    expect(changed.tempos[0]?.ramp?.to).toBe(750_000);
    const faster = done(
      slowed,
      changePoints(slowed, null, { kind: 'tempo' }, new Set([2]), (point) => ({ ...point, value: 150 })),
    );
    expect(faster.tempos[1]?.ramp?.to).toBe(1_000_000);
  });

  it('points are moved and set, and the start keeps one', () => {
    const points = tempoPoints(slowed.tempos);
    const set = done(
      slowed,
      changePoints(slowed, null, { kind: 'tempo' }, new Set([0]), (point) => ({ ...point, tick: 99, value: 96 })),
    );
    expect(set.tempos[0]).toEqual({ tick: 0, microsecondsPerQuarter: 625_000 });
    const gone = done(
      slowed,
      changePoints(slowed, null, { kind: 'tempo' }, new Set(points.map(({ id }) => id)), () => null),
    );
    expect(gone.tempos).toHaveLength(1);
    const drawn = done(base, drawInLane(base, null, { kind: 'tempo' }, [{ tick: 960, value: 1e9, ramp: null }]));
    expect(tempoPoints(drawn.tempos)[1]?.value).toBeCloseTo(400, 3);
  });
});
