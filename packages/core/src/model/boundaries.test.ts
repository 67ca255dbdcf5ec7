/** The model at its bounds: what an arrangement can hold, what corrections take each other's place, where a way of playing ends. */
import { describe, expect, it } from 'vitest';
import { arrangementWith, note, partWith } from '../testing/kit.js';
import { ticks } from '../time/units.js';
import type { Note, Part } from './arrangement.js';
import { problemOfChange } from './fits.js';
import { MOST_NOTES, MOST_PARTS } from './limits.js';
import { type Override, overrideKey } from './overrides.js';
import { type AnyPlan, upgradePlan } from './stored.js';
import { waySpans, waysInSound } from './waysOfPlaying.js';

const withIds = (notes: readonly Note[]): Note[] => notes.map((one, index) => ({ ...one, id: index + 1 }));

describe('an arrangement', () => {
  const parts = (count: number, notes: readonly Note[] = []) =>
    arrangementWith(Array.from({ length: count }, (_, index) => partWith(notes, { id: index + 1 })));

  it('holds so many parts and no more, but for one that had more', () => {
    const none = parts(0);
    expect(problemOfChange(none, parts(MOST_PARTS))).toBeUndefined();
    expect(problemOfChange(none, parts(MOST_PARTS + 1))).toMatchObject({ code: 'tooManyParts' });
    expect(problemOfChange(none, parts(MOST_PARTS + 1))?.message).toContain((MOST_PARTS + 1).toLocaleString('en'));
    expect(problemOfChange(parts(MOST_PARTS + 3), parts(MOST_PARTS + 3))).toBeUndefined();
    expect(problemOfChange(parts(MOST_PARTS + 3), parts(MOST_PARTS + 4))?.code).toBe('tooManyParts');
  });

  it('holds so many notes in all its parts, but for one that had more', () => {
    const first = note(60, 0, 10);
    const full = (more: number) => {
      const half = Math.floor(MOST_NOTES / 2);
      const [one, other] = [half, MOST_NOTES - half + more].map((count) => Array<Note>(count).fill(first));
      return { ...parts(0), parts: [partWith(one as Note[]), partWith(other as Note[], { id: 2 })] };
    };
    // Of the same notes again, so that ids are no matter here.
    expect(problemOfChange(full(0), full(0))).toBeUndefined();
    expect(problemOfChange(full(0), full(1))).toMatchObject({ code: 'tooManyNotes' });
    expect(problemOfChange(full(0), full(1))?.message).toContain((MOST_NOTES + 1).toLocaleString('en'));
    expect(problemOfChange(full(2), full(1))).toBeUndefined();
  });

  it('takes notes of new ids without a look at all the others, and one of an old id after it', () => {
    const line = withIds([note(60, 0, 10), note(62, 20, 10)]);
    const before = arrangementWith([partWith(line)], { nextNoteId: 3 });
    const withMore = (...more: Note[]) => arrangementWith([partWith([...line, ...more])], { nextNoteId: 9 });
    expect(problemOfChange(before, withMore({ ...note(64, 40, 10), id: 3 }))).toBeUndefined();
    expect(problemOfChange(before, withMore({ ...note(64, 40, 10), id: 2 }))?.code).toBe('sameNote');
    const twice = [
      { ...note(64, 40, 10), id: 4 },
      { ...note(65, 60, 10), id: 4 },
    ];
    expect(problemOfChange(before, withMore(...twice))?.code).toBe('sameNote');
  });
});

describe('corrections', () => {
  it('take each other’s place where they say the same kind of thing of the same note or bar, and only there', () => {
    const key = (override: object) => overrideKey(override as Override);
    const apart = [
      { kind: 'stem', noteId: 1 },
      { kind: 'stem', noteId: 2 },
      { kind: 'beam', noteId: 1 },
      { kind: 'mark', noteId: 1, mark: 'accent' },
      { kind: 'mark', noteId: 1, mark: 'tenuto' },
      { kind: 'mark', noteId: 2, mark: 'accent' },
      { kind: 'pageOnly', id: 1 },
      { kind: 'pageOnly', id: 2 },
      { kind: 'systemBreak', bar: 1 },
      { kind: 'pageBreak', bar: 1 },
      { kind: 'swing', bar: 1 },
      { kind: 'swing', bar: 2 },
      { kind: 'clef', bar: 1, staff: 1 },
      { kind: 'clef', bar: 1, staff: 2 },
      { kind: 'clef', bar: 2, staff: 1 },
      { kind: 'nudge', bar: 1, mark: 'tempo' },
      { kind: 'nudge', bar: 1, mark: 'number' },
      { kind: 'nudge', bar: 2, mark: 'tempo' },
    ];
    expect(new Set(apart.map(key)).size).toBe(apart.length);
    expect(key({ kind: 'stem', noteId: 1, way: 'up' })).toBe(key({ kind: 'stem', noteId: 1, way: 'down' }));
    expect(key({ kind: 'mark', noteId: 1, mark: 'accent', on: true })).toBe(
      key({ kind: 'mark', noteId: 1, mark: 'accent', on: false }),
    );
    expect(key({ kind: 'clef', bar: 1, staff: 1, clef: 'alto' })).toBe(key({ kind: 'clef', bar: 1, staff: 1 }));
    expect(key({ kind: 'nudge', bar: 1, mark: 'tempo', x: 1 })).toBe(key({ kind: 'nudge', bar: 1, mark: 'tempo' }));
  });
});

describe('a way of playing', () => {
  const line = withIds([note(60, 480, 400), note(62, 960, 400), note(64, 990, 400), note(65, 991, 400)]);
  const way = (noteId: number, to: number, sound?: object) =>
    ({ kind: 'way', noteId, to, word: 'pizz.', ...(sound ? { sound } : {}) }) as unknown as Override;
  const played = (list: readonly Override[], more: Partial<Part> = {}): Part => ({
    ...partWith(line, { channel: 3, program: 40, ...more }),
    overrides: { version: 1, list },
  });
  const spans = (...list: Override[]) => waySpans(played(list), 480).map(({ from, until }) => [from, until]);

  it('goes on to what begins after its last chord, or to the last note’s end', () => {
    expect(spans(way(1, 2))).toEqual([[480, 991]]);
    expect(spans(way(2, 1))).toEqual([[480, 991]]);
    expect(spans(way(1, 1))).toEqual([[480, 960]]);
    expect(spans(way(2, 4))).toEqual([[960, 1391]]);
    expect(spans(way(2, 9), way(9, 2), way(4, 4), way(1, 1))).toEqual([
      [480, 960],
      [991, 1391],
    ]);
    expect(waySpans(partWith(line), 480)).toEqual([]);
  });

  const sound = (wish: object, more: Partial<Part> = {}) => {
    const { events, keys } = waysInSound(played([way(1, 1, wish)], more), 480);
    return {
      events: events.map((event) => JSON.stringify(event)),
      keys: keys.map(({ pitch, onset, duration, velocity, channel }) => [pitch, onset, duration, velocity, channel]),
    };
  };

  it('has its program, and then again the one before', () => {
    const program = (tick: number, number: number, channel = 3) =>
      ({ id: tick + 1, kind: 'program', tick: ticks(tick), channel, program: number }) as const;
    const changes = (more: Partial<Part>) =>
      sound({ by: 'program', program: 45 }, more).events.map((event) => {
        const { tick, program: to, channel } = JSON.parse(event);
        return [tick, to, channel];
      });
    expect(changes({})).toEqual([
      [480, 45, 3],
      [960, 40, 3],
    ]);
    expect(changes({ events: [program(0, 7), program(480, 8), program(481, 9)] })[1]).toEqual([960, 8, 3]);
    expect(changes({ events: [program(0, 7, 4)] })[1]).toEqual([960, 40, 3]);
    const { program: _, ...without } = played([way(1, 1, { by: 'program', program: 45 })]);
    expect(waysInSound(without as Part, 480).events[1]).toMatchObject({ program: 0 });
  });

  it('sets a controller and sets it back, or strikes a key just before', () => {
    expect(sound({ by: 'controller', controller: 20, value: 99, rest: 5 }).events.map((e) => JSON.parse(e))).toEqual([
      { tick: 480, kind: 'controller', channel: 3, controller: 20, value: 99 },
      { tick: 960, kind: 'controller', channel: 3, controller: 20, value: 5 },
    ]);
    expect(sound({ by: 'key', pitch: 12 })).toEqual({ events: [], keys: [[12, 465, 15, 64, 3]] });
    expect(waysInSound(played([way(1, 1)]), 480)).toEqual({ events: [], keys: [] });
  });

  it('strikes no key before the beginning, and each for a tick at least', () => {
    const early = { ...partWith(withIds([note(60, 3, 100)])), overrides: { version: 1, list: [] } } as Part;
    const at = (ppq: number) =>
      waysInSound({ ...early, overrides: { version: 1, list: [way(1, 1, { by: 'key', pitch: 12 })] } }, ppq).keys[0];
    expect(at(480)).toMatchObject({ onset: 0, duration: 15 });
    expect(at(10)).toMatchObject({ onset: 2, duration: 1 });
  });
});

describe('a stored plan of the first form', () => {
  it('trims against any pitch where it said the next chord, in passages too, and nothing else changes', () => {
    const trim = (against: string) => ({ step: 'trimOverlaps', on: true, parameters: { against, gap: 1 } });
    const merge = { step: 'merge', on: false, parameters: { against: 'nextChord' } };
    const old = {
      version: 1,
      name: 'Mine',
      steps: [trim('nextChord'), trim('samePitch'), merge],
      passages: [{ from: 0, to: 10, steps: [trim('nextChord')] }],
    };
    const now = upgradePlan(old as unknown as AnyPlan);
    expect(now.steps).toEqual([trim('anyPitch'), trim('samePitch'), merge]);
    expect(now.passages).toEqual([{ from: 0, to: 10, steps: [trim('anyPitch')] }]);
    expect([now.name, now.version > 1]).toEqual(['Mine', true]);
    expect(upgradePlan(now)).toBe(now);
  });
});
