import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { slowDown } from '../lanes/laneEdits.js';
import type { Arrangement, PartEvent } from '../model/arrangement.js';
import { applyEdit, type Edit, invertEdit } from '../model/edit.js';
import { selectionOf } from '../model/selection.js';
import { cases } from '../testing/cases.js';
import { arrangementWith, note, partWith } from '../testing/kit.js';
import { createTempoMap } from '../time/tempoMap.js';
import { ticks } from '../time/units.js';
import { withControllers } from './controllersToo.js';
import { repeatNotes } from './copies.js';
import { keepingTimes } from './keepingTimes.js';
import { deleteNotes, moveNotes } from './noteEdits.js';
import { moveMarker, putMarker, removeKey, removeMarker, removeMeter } from './placeEdits.js';

const notes = [note(60, 0, 400), note(62, 480, 400), note(64, 960, 400), note(65, 1440, 400)];
const controller = (id: number, tick: number, value: number, number = 11): PartEvent => ({
  kind: 'controller',
  id,
  tick: ticks(tick),
  channel: 0,
  controller: number,
  value,
});
const base = arrangementWith(
  [partWith(notes, { events: [controller(1, 500, 40), controller(2, 700, 90), controller(3, 1500, 7)] })],
  {
    nextEventId: 10,
    tempos: [{ tick: ticks(0), microsecondsPerQuarter: 500_000 }],
  },
);
const done = (arrangement: Arrangement, edit: Edit): Arrangement => {
  const after = applyEdit(arrangement, edit);
  const { nextEventId: _, nextNoteId: ___, ...back } = applyEdit(after, invertEdit(edit));
  const { nextEventId: __, nextNoteId: ____, ...was } = arrangement;
  expect(back).toEqual(was);
  return after;
};

describe('markers, meters and keys on the ruler', () => {
  const put = (arrangement: Arrangement, tick: number, text: string) => {
    const made = putMarker(arrangement, tick, text);
    if (!made.ok) throw new Error(made.problem.message);
    return done(arrangement, made.value);
  };

  it('markers are put, renamed, moved and removed', () => {
    const two = put(put(base, 1920, 'Coda'), 0, ' A ');
    expect(two.markers).toEqual([
      { tick: 0, text: 'A' },
      { tick: 1920, text: 'Coda' },
    ]);
    expect(put(two, 0, 'Verse').markers[0]).toEqual({ tick: 0, text: 'Verse' });
    const [first] = two.markers;
    if (!first) throw new Error('no marker');
    expect(done(two, moveMarker(two, first, 960)).markers[0]).toEqual({ tick: 960, text: 'A' });
    expect(done(two, moveMarker(two, first, 1920)).markers).toEqual([{ tick: 1920, text: 'A' }]);
    expect(done(two, removeMarker(two, first)).markers).toHaveLength(1);
    expect(putMarker(base, 0, '  ')).toMatchObject({ ok: false });
  });

  it('changes of meter and key are removed, but the first meter', () => {
    const meters = [
      { tick: ticks(0), numerator: 4, denominator: 4 },
      { tick: ticks(1920), numerator: 3, denominator: 4 },
    ];
    const keys = [{ tick: ticks(0), fifths: 2, minor: false }];
    const piece = { ...base, meters, keys };
    const removed = removeMeter(piece, meters[1] as (typeof meters)[0]);
    expect(removed.ok && done(piece, removed.value).meters).toHaveLength(1);
    expect(removeMeter(piece, meters[0] as (typeof meters)[0])).toMatchObject({ ok: false });
    expect(done(piece, removeKey(piece, keys[0] as (typeof keys)[0])).keys).toEqual([]);
  });
});

describe('a change of tempo that keeps times', () => {
  const seconds = (arrangement: Arrangement) => {
    const map = createTempoMap(arrangement.tempos, arrangement.ppq);
    const { notes: own = [], events = [] } = arrangement.parts[0] ?? {};
    return [
      ...own.flatMap(({ onset, duration }) => [map.secondsAt(onset), map.secondsAt(onset + duration)]),
      ...events.map(({ tick }) => map.secondsAt(tick)),
    ];
  };

  it('has every note and message sound when it did, to half a millisecond, at any tempo and curve', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 5, max: 400 }),
        fc.integer({ min: -10, max: 10 }),
        fc.integer({ min: 0, max: 1500 }),
        fc.boolean(),
        (target, tenths, from, returns) => {
          const slowed = slowDown(base, { from, to: from + 1000, target, ease: tenths / 10, returns });
          if (!slowed) return;
          const after = done(base, keepingTimes(base, slowed));
          const [old, now] = [seconds(base), seconds(after)];
          const apart = now.map((time, index) => Math.abs(time - (old[index] as number)));
          expect(Math.max(...apart)).toBeLessThanOrEqual(0.00051);
        },
      ),
      cases(200),
    );
  });

  it('makes ticks finer where they are too coarse, and leaves another Edit alone', () => {
    const slowed = slowDown(base, { from: 0, to: 1920, target: 20, ease: 0, returns: false });
    if (!slowed) throw new Error('nothing');
    const after = done(base, keepingTimes(base, slowed));
    expect(after.ppq).toBeGreaterThan(base.ppq);
    expect(after.ppq % base.ppq).toBe(0);
    // No finer than that: a tick of the slowest tempo lasts a millisecond, and not much less.
    const slowest = Math.max(...after.tempos.map(({ microsecondsPerQuarter }) => microsecondsPerQuarter));
    expect(slowest / 1000 / after.ppq).toBeLessThanOrEqual(1);
    expect(slowest / 1000 / (after.ppq - base.ppq)).toBeGreaterThan(1);
    const other = moveNotes(base, selectionOf(1, [notes[0]?.id ?? 0]), { byTicks: 10, bySemitones: 0 });
    if (!other) throw new Error('nothing');
    expect(keepingTimes(base, other)).toBe(other);
  });
});

describe('controllers with their notes', () => {
  const ids = (from: number, to: number) =>
    selectionOf(
      1,
      notes.slice(from, to).map(({ id }) => id),
    );
  const values = ({ parts }: Arrangement) =>
    parts[0]?.events.map((event) => [event.tick, (event as { value: number }).value]);
  const moved = (arrangement: Arrangement, selection: ReturnType<typeof ids>, byTicks: number) => {
    const edit = moveNotes(arrangement, selection, { byTicks, bySemitones: 0 });
    if (!edit) throw new Error('nothing');
    return withControllers(arrangement, edit);
  };

  it('move as far as their notes do, and nothing else moves', () => {
    const edit = moved(base, ids(1, 2), 100);
    expect(values(done(base, edit))).toEqual([
      [600, 40],
      [800, 90],
      [1500, 7],
    ]);
    expect(edit.label).toMatch(/, with 2 values of controllers$/);
  });

  it('that were set just before their note are its own', () => {
    const early = { ...base, parts: base.parts.map((part) => ({ ...part, events: [controller(1, 460, 40)] })) };
    expect(values(done(early, moved(early, ids(1, 2), 100)))).toEqual([[560, 40]]);
  });

  it('go with deleted notes, but where another note still needs them', () => {
    const edit = deleteNotes(base, ids(1, 2));
    if (!edit) throw new Error('nothing');
    expect(values(done(base, withControllers(base, edit)))).toEqual([[1500, 7]]);
    const held = { ...base, parts: base.parts.map((part) => ({ ...part, notes: [note(40, 0, 1920), ...part.notes] })) };
    const other = deleteNotes(held, ids(1, 2));
    expect(other && withControllers(held, other)).toBe(other);
  });

  it('a pedal that would be left down is lifted where the notes end', () => {
    const pedalled = arrangementWith([partWith(notes, { events: [controller(1, 1440, 127, 64)] })], {
      nextEventId: 10,
    });
    const after = done(pedalled, moved(pedalled, ids(3, 4), 1000));
    expect(values(after)).toEqual([
      [2440, 127],
      [2840, 0],
    ]);
  });

  it('are copied with the notes that are repeated', () => {
    const repeated = repeatNotes(base, ids(1, 2), 'beat', 2);
    if (!repeated.ok) throw new Error(repeated.problem.message);
    const after = done(base, withControllers(base, repeated.value.edit, ids(1, 2)));
    expect(values(after)).toEqual([
      [500, 40],
      [700, 90],
      [980, 40],
      [1180, 90],
      [1460, 40],
      [1500, 7],
      [1660, 90],
    ]);
  });

  it('notes changed in pitch or loudness alone leave them', () => {
    const edit = moveNotes(base, ids(0, 4), { byTicks: 0, bySemitones: 1 });
    expect(edit && withControllers(base, edit)).toBe(edit);
  });
});
