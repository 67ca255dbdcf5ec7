/**
 * What is handed to the audio clock, and when: asked again and again, a little ahead of the clock, it answers what begins
 * before then. It knows no sound and no clock, so that a simulated one can try it.
 */
import { type HeardEvent, stateBefore } from './heardEvents.js';
import type { SoundingNote } from './soundingNotes.js';

/** A beat of the metronome, in seconds from tick 0. */
export interface Click {
  readonly start: number;
  readonly first: boolean;
}

/** What is played: times in seconds from tick 0. */
export interface Performance {
  /** In order of start. */
  readonly notes: readonly SoundingNote[];
  /** In order of time. */
  readonly events: readonly HeardEvent[];
  readonly clicks: readonly Click[];
  /** Where playing begins, and where it ends or turns back. */
  readonly from: number;
  readonly end: number;
  /** Where it turns back to; null where it ends. */
  readonly loopStart: number | null;
}

/** Something to be handed on; `at` and `until` are seconds of the audio clock. */
export type Due =
  | { readonly kind: 'note'; readonly note: SoundingNote; readonly at: number; readonly until: number }
  | { readonly kind: 'event'; readonly heard: HeardEvent; readonly at: number }
  | { readonly kind: 'click'; readonly first: boolean; readonly at: number }
  /** A pass begins at this place of the music and lasts to `until`. */
  | { readonly kind: 'pass'; readonly from: number; readonly at: number; readonly until: number };

/** A schedule under way. */
export interface Schedule {
  /** What begins before a time of the clock, in order; each thing once. */
  due(until: number): Due[];
  /** Where in the music a time of the clock is, in seconds. */
  musicAt(clock: number): number;
  /** When the music ends, on the clock; infinite where it turns back. */
  readonly endsAt: number;
}

/** A note that has less than so much left is not struck anew where playing begins within it (seconds). */
const LEAST_LEFT = 0.01;
/** A loop is not shorter than this, so that turning back never holds up everything else (seconds). */
const SHORTEST_LOOP = 0.02;

const firstFrom = <Item>(items: readonly Item[], startOf: (item: Item) => number, from: number): number => {
  const index = items.findIndex((item) => startOf(item) >= from);
  return index < 0 ? items.length : index;
};

/** Begins a schedule: `startsAt` is the time of the clock at which the music's `from` sounds. */
export const createSchedule = (performance: Performance, startsAt: number): Schedule => {
  const { notes, events, clicks, loopStart } = performance;
  const end = loopStart === null ? performance.end : Math.max(performance.end, loopStart + SHORTEST_LOOP);
  /** Clock time of music second 0 in this pass, and in those before, the newest last. */
  let origin = startsAt - performance.from;
  const origins: { readonly from: number; readonly origin: number }[] = [];
  let [nextNote, nextEvent, nextClick] = [0, 0, 0];
  let waiting: Due[] = [];

  const enter = (from: number): void => {
    origins.push({ from: origin + from, origin });
    if (origins.length > 4) origins.shift();
    waiting = [{ kind: 'pass', from, at: origin + from, until: origin + end }];
    for (const heard of stateBefore(events, from)) waiting.push({ kind: 'event', heard, at: origin + from });
    nextEvent = firstFrom(events, ({ at }) => at, from);
    nextNote = firstFrom(notes, ({ start }) => start, from);
    nextClick = firstFrom(clicks, ({ start }) => start, from - 0.001);
    // What still sounds there sounds for its rest.
    for (const note of notes.slice(0, nextNote)) {
      if (note.end > from + LEAST_LEFT)
        waiting.push({ kind: 'note', note, at: origin + from, until: origin + Math.min(note.end, end) });
    }
  };

  const passUntil = (limit: number): Due[] => {
    const due = waiting;
    waiting = [];
    for (let heard = events[nextEvent]; heard && heard.at < limit; heard = events[++nextEvent])
      due.push({ kind: 'event', heard, at: origin + heard.at });
    for (let note = notes[nextNote]; note && note.start < limit; note = notes[++nextNote])
      due.push({ kind: 'note', note, at: origin + note.start, until: origin + Math.min(note.end, end) });
    for (let click = clicks[nextClick]; click && click.start < limit; click = clicks[++nextClick])
      due.push({ kind: 'click', first: click.first, at: origin + click.start });
    // What changes how notes sound goes before the notes that begin with it.
    return due.sort((a, b) => a.at - b.at);
  };

  enter(performance.from);
  return {
    due: (until) => {
      const all = passUntil(Math.min(until - origin, end));
      while (loopStart !== null && until - origin >= end) {
        origin += end - loopStart;
        enter(loopStart);
        all.push(...passUntil(Math.min(until - origin, end)));
      }
      return all;
    },
    musicAt: (clock) => {
      const pass = origins.findLast(({ from }) => from <= clock) ?? origins[0];
      return Math.min(end, clock - (pass?.origin ?? origin));
    },
    get endsAt() {
      return loopStart === null ? origin + end : Number.POSITIVE_INFINITY;
    },
  };
};
