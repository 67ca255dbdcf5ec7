import { describe, expect, it } from 'vitest';
import type { Arrangement } from '../model/arrangement.js';
import { createChance } from '../model/chance.js';
import { ticks } from '../time/units.js';
import { heardEvents, stateBefore } from './heardEvents.js';
import { createSchedule, type Due, type Performance } from './schedule.js';
import type { SoundingNote } from './soundingNotes.js';

const note = (noteId: number, start: number, end: number, partId = 1): SoundingNote => ({
  partId,
  noteId,
  pitch: 60 + (noteId % 24),
  velocity: 80,
  start,
  end,
});

const plain = (over: Partial<Performance>): Performance => ({
  notes: [],
  events: [],
  clicks: [],
  from: 0,
  end: 10,
  loopStart: null,
  ...over,
});
const notesOf = (due: readonly Due[]) => due.flatMap((one) => (one.kind === 'note' ? [one] : []));

const LOOK_AHEAD = 0.2;

describe('a schedule on a simulated clock', () => {
  it('hands on 30 thousand notes, each once, none later than one look-ahead, though the timer comes when it likes', () => {
    const chance = createChance(7);
    const notes = Array.from({ length: 30_000 }, (_, index) => {
      const start = chance.between(0, 600);
      return note(index, start, start + chance.between(0.02, 4));
    }).sort((a, b) => a.start - b.start);
    const schedule = createSchedule(plain({ notes, end: 604 }), 100);
    const handed = new Map<number, number>();
    let [latest, twice, wrong] = [0, 0, 0];
    for (let clock = 99.92; clock < 710; clock += chance.between(0.03, LOOK_AHEAD)) {
      for (const { note: own, at, until } of notesOf(schedule.due(clock + LOOK_AHEAD))) {
        if (handed.has(own.noteId)) twice += 1;
        handed.set(own.noteId, at);
        latest = Math.max(latest, clock - at);
        wrong = Math.max(wrong, Math.abs(at - 100 - own.start), Math.abs(until - 100 - own.end));
      }
    }
    expect(handed.size).toBe(30_000);
    expect(twice).toBe(0);
    expect(wrong).toBeLessThan(1e-9);
    expect(latest).toBeLessThanOrEqual(LOOK_AHEAD);
    expect(schedule.endsAt).toBe(704);
  });

  it('goes round a loop: each pass strikes what sounds into its start, and ends all at its end', () => {
    const notes = [note(1, 0, 3), note(2, 2.5, 6), note(3, 3.5, 4)];
    const schedule = createSchedule(plain({ notes, from: 2, end: 4, loopStart: 2 }), 50);
    const due = notesOf(schedule.due(54.5));
    expect(due.map(({ note: { noteId }, at, until }) => [noteId, at, until])).toEqual([
      [1, 50, 51],
      [2, 50.5, 52],
      [3, 51.5, 52],
      [1, 52, 53],
      [2, 52.5, 54],
      [3, 53.5, 54],
      [1, 54, 55],
    ]);
    expect(schedule.musicAt(51)).toBe(3);
    expect(schedule.musicAt(53)).toBe(3);
    expect(schedule.endsAt).toBe(Number.POSITIVE_INFINITY);
  });

  it('comes to an end in a loop of no length, however far it is asked', () => {
    const schedule = createSchedule(plain({ notes: [note(1, 1, 2)], from: 1, end: 1, loopStart: 1 }), 0);
    expect(schedule.due(1).length).toBeLessThan(200);
  });

  it('tells when each pass begins, for what lasts through it', () => {
    const schedule = createSchedule(plain({ from: 1, end: 2, loopStart: 0.5 }), 10);
    expect(schedule.due(11.5).filter(({ kind }) => kind === 'pass')).toEqual([
      { kind: 'pass', from: 1, at: 10, until: 11 },
      { kind: 'pass', from: 0.5, at: 11, until: 12.5 },
    ]);
  });
});

describe('what is set where playing begins in mid-piece', () => {
  const arrangement: Arrangement = {
    title: 'x',
    ppq: 480,
    tempos: [{ tick: ticks(0), microsecondsPerQuarter: 500_000 }],
    meters: [],
    keys: [],
    markers: [],
    silentTracks: [],
    nextNoteId: 1,
    nextPartId: 2,
    nextEventId: 9,
    parts: [
      {
        id: 1,
        name: 'p',
        instrument: 'piano',
        channel: 0,
        program: 0,
        notes: [],
        events: [
          { id: 1, tick: ticks(0), kind: 'program', channel: 0, program: 5 },
          { id: 2, tick: ticks(0), kind: 'controller', channel: 0, controller: 7, value: 100 },
          { id: 3, tick: ticks(480), kind: 'controller', channel: 0, controller: 11, value: 0, ramp: 0 },
          { id: 4, tick: ticks(480), kind: 'controller', channel: 0, controller: 64, value: 127 },
          { id: 5, tick: ticks(960), kind: 'pitchBend', channel: 0, value: 9000 },
          { id: 6, tick: ticks(1440), kind: 'controller', channel: 0, controller: 11, value: 100 },
          { id: 7, tick: ticks(1920), kind: 'program', channel: 0, program: 40 },
        ],
      },
    ],
  };

  it('is the last of every controller, bend and program, ramps among them; the pedal is in the notes', () => {
    const events = heardEvents(arrangement, [1]);
    const at = (seconds: number) =>
      stateBefore(events, seconds).map(({ event }) =>
        event.kind === 'controller'
          ? `CC ${event.controller} ${event.value}`
          : event.kind === 'program'
            ? `program ${event.program}`
            : `${event.kind} ${event.value}`,
      );
    expect(at(0)).toEqual([]);
    expect(at(1.001)).toEqual(['program 5', 'CC 7 100', 'CC 11 50', 'pitchBend 9000']);
    expect(at(9)).toEqual(['CC 7 100', 'pitchBend 9000', 'CC 11 100', 'program 40']);
    expect(events.some(({ event }) => event.kind === 'controller' && event.controller === 64)).toBe(false);
  });

  it('is handed on before the first note of each pass', () => {
    const events = heardEvents(arrangement, [1]);
    const schedule = createSchedule(
      plain({ notes: [note(1, 1.5, 2)], events, from: 1.4, end: 2.2, loopStart: 1.4 }),
      0,
    );
    const kinds = schedule.due(0.15).map((due) => due.kind);
    expect(kinds).toEqual([
      'pass',
      'event',
      'event',
      'event',
      'event',
      ...Array(kinds.length - 6).fill('event'),
      'note',
    ]);
    const again = schedule.due(0.95).filter((due) => due.kind === 'event' && Math.abs(due.at - 0.8) < 1e-9);
    expect(again.length).toBe(4);
  });
});
