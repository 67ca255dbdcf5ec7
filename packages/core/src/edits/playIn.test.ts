import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { earlyStart } from '../findings/playing.js';
import type { Part } from '../model/arrangement.js';
import { applyEdit, invertEdit } from '../model/edit.js';
import { countIn } from '../playback/countIn.js';
import { arrangementWith, contextIn, note, partWith, pedal, placesOf } from '../testing/kit.js';
import { createTempoMap } from '../time/tempoMap.js';
import { ticks } from '../time/units.js';
import { landTake, type Take, type TakenNote } from './playIn.js';

const withParts = (parts: readonly Part[]) =>
  arrangementWith(parts, { tempos: [{ tick: ticks(0), microsecondsPerQuarter: 500_000 }] });
// A bar of the tests lasts 1920 ticks; at 120 quarters a minute a second is 960.
const played = (pitch: number, start: number, length = 0.25, more: Partial<TakenNote> = {}): TakenNote => ({
  pitch,
  velocity: 70,
  start,
  length,
  pass: 0,
  ...more,
});
const take = (notes: readonly TakenNote[], more: Partial<Take> = {}): Take => ({
  partId: 1,
  from: 1920,
  until: 3840,
  notes,
  events: [],
  replaces: false,
  ...more,
});
const there = withParts([partWith([note(60, 1000, 1200), note(62, 1920, 480), note(64, 3840, 480)])]);
const landed = (of: Take, on = there) => {
  const { edit, ...told } = landTake(on, of);
  const after = edit ? applyEdit(on, edit) : on;
  if (edit) expect(applyEdit(after, invertEdit(edit)).parts).toEqual(on.parts);
  return { ...told, label: edit?.label, notes: placesOf(after.parts[0]?.notes ?? []), part: after.parts[0] };
};

describe('a take', () => {
  it('is laid over what is there, at the times it was struck', () => {
    const { notes, label } = landed(take([played(72, 2.25), played(71, 2.0104)]));
    expect(notes).toEqual(['60 1000+1200', '62 1920+480', '71 1930+240', '72 2160+240', '64 3840+480']);
    expect(label).toBe('Play in: 2 notes in Flute');
  });
  it('replaces what begins there, and cuts what sounds into it', () => {
    expect(landed(take([played(72, 2.25)], { replaces: true })).notes).toEqual([
      '60 1000+920',
      '72 2160+240',
      '64 3840+480',
    ]);
  });
  it('follows the tempo map', () => {
    const slower = { ...there, tempos: [{ tick: ticks(0), microsecondsPerQuarter: 1_000_000 }] };
    expect(landed(take([played(72, 4.5, 0.5)]), slower).notes).toContain('72 2160+240');
  });
  it('keeps what comes early where it was struck, and the finding about early starts offers to pull it in', () => {
    const empty = withParts([partWith([])]);
    const { notes, early, leftOut, part } = landed(take([played(72, 1.95, 0.5), played(50, 0.9, 0.2)]), empty);
    expect([notes, early, leftOut]).toEqual([['72 1872+480'], 1, 1]);
    const found = earlyStart.run({ notes: part?.notes ?? [], context: contextIn(), part: part as never } as never);
    expect(found[0]?.mend).toMatchObject({ step: 'pullInStart' });
  });
  it('lets what was struck before the piece begin with it, with its end where it was', () => {
    const empty = withParts([partWith([])]);
    const early = take([played(72, -0.1, 0.6), played(74, -0.2, 0.1)], { from: 0, until: 1920 });
    expect(landed(early, empty)).toMatchObject({ notes: ['72 0+480', '74 0+96'], early: 2, leftOut: 0 });
  });
  it('keeps every pass of a loop over what is there, the last one in its place', () => {
    const passes = [played(72, 2.1), played(74, 2.3, 0.25, { pass: 1 }), played(76, 2.5, 0.25, { pass: 2 })];
    expect(landed(take(passes)).notes).toHaveLength(6);
    expect(landed(take(passes, { replaces: true })).notes).toEqual(['60 1000+920', '76 2400+240', '64 3840+480']);
  });
  it('brings its pedal, which is up again at its end', () => {
    const down = { message: { kind: 'controller', controller: 64, value: 127 }, at: 2.5, pass: 0 } as const;
    const { part } = landed(take([played(72, 2.5)], { events: [down] }));
    expect(part?.events.map((event) => [event.tick, 'value' in event && event.value])).toEqual([
      [2400, 127],
      [3840, 0],
    ]);
  });
  it('leaves what comes after it with the pedal that it had', () => {
    const held = withParts([partWith([], { events: pedal(1000, 5000) })]);
    const up = { message: { kind: 'controller', controller: 64, value: 0 }, at: 3, pass: 0 } as const;
    const { part } = landed(take([played(72, 2.5)], { events: [up], replaces: true }), held);
    expect(part?.events.map((event) => [event.tick, 'value' in event && event.value])).toEqual([
      [1000, 127],
      [2880, 0],
      [3840, 127],
      [5000, 0],
    ]);
  });
  it('changes nothing where nothing was played', () => {
    expect(landed(take([]))).toMatchObject({ label: undefined });
    expect(landed(take([], { replaces: true }))).toMatchObject({ label: undefined });
  });
  it('gives each note back at its time to the half tick, whatever the tempo', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 200_000, max: 2_000_000 }),
        fc.array(
          fc.record({
            start: fc.double({ min: 8, max: 60, noNaN: true }),
            length: fc.double({ min: 0.05, max: 4, noNaN: true }),
          }),
          {
            minLength: 1,
            maxLength: 20,
          },
        ),
        (microsecondsPerQuarter, notes) => {
          const on = {
            ...withParts([partWith([])]),
            tempos: [{ tick: ticks(0), microsecondsPerQuarter }],
          };
          const map = createTempoMap(on.tempos, on.ppq);
          const { edit } = landTake(
            on,
            take(
              notes.map(({ start, length }) => played(60, start, length)),
              { from: 0, until: 1e6 },
            ),
          );
          const after = edit ? applyEdit(on, edit).parts[0]?.notes : [];
          const half = (0.5 / on.ppq) * (microsecondsPerQuarter / 1e6) + 1e-9;
          const starts = notes.map(({ start }) => start).sort((a, b) => a - b);
          expect(after).toHaveLength(notes.length);
          for (const [index, { onset }] of (after ?? []).entries())
            expect(Math.abs(map.secondsAt(onset) - (starts[index] as number))).toBeLessThanOrEqual(half);
        },
      ),
    );
  });
});

describe('counting in', () => {
  it('takes the meter and the tempo of the place, also before the piece', () => {
    const { clicks, seconds } = countIn(there, 0, 1);
    expect(clicks.map(({ start, first }) => [start, first])).toEqual([
      [-2, true],
      [-1.5, false],
      [-1, false],
      [-0.5, false],
    ]);
    expect(seconds).toBe(2);
    const inSix = { ...there, meters: [{ tick: ticks(0), numerator: 6, denominator: 8 }] };
    expect(countIn(inSix, 1440, 2).clicks.map(({ start }) => start)).toEqual([-1.5, -0.75, 0, 0.75]);
    expect(countIn(there, 0, 0)).toEqual({ clicks: [], seconds: 0 });
  });
});
