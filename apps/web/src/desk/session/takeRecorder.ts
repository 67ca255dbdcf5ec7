/** What is played while a take runs: keys struck and let go, and messages, each at its place in the music. */
import type { TakenEvent, TakenMessage, TakenNote } from '@crispfold/core';
import type { Moment } from './sound/player.js';

/** A take under way. */
export interface TakeRecorder {
  strike(pitch: number, velocity: number, at: Moment): void;
  letGo(pitch: number, at: Moment): void;
  message(message: TakenMessage, at: Moment): void;
  /** How many notes it has. */
  readonly count: number;
  /** All of it; what is still held ends now. */
  end(at: Moment): { readonly notes: readonly TakenNote[]; readonly events: readonly TakenEvent[] };
}

/** Two moments of one pass through the loop agree to this in where the music began (seconds). */
const SAME_PASS = 0.01;

/** Begins a take. `loopEnd` is where the loop turns, in seconds of the music: no note sounds over it. */
export const createTakeRecorder = (loopEnd: number | null): TakeRecorder => {
  const notes: TakenNote[] = [];
  const events: TakenEvent[] = [];
  const held = new Map<number, { readonly velocity: number; readonly at: Moment }>();
  const passes: number[] = [];
  const passOf = ({ clock, music }: Moment): number => {
    const origin = loopEnd === null ? 0 : clock - music;
    const known = passes.findIndex((one) => Math.abs(one - origin) < SAME_PASS);
    if (known >= 0) return known;
    return passes.push(origin) - 1;
  };
  const letGo = (pitch: number, { clock }: Moment): void => {
    const struck = held.get(pitch);
    if (!struck) return;
    held.delete(pitch);
    const { velocity, at } = struck;
    const most = loopEnd === null ? Number.POSITIVE_INFINITY : Math.max(0, loopEnd - at.music);
    notes.push({
      pitch,
      velocity,
      start: at.music,
      length: Math.min(most, Math.max(0, clock - at.clock)),
      pass: passOf(at),
    });
  };
  return {
    strike: (pitch, velocity, at) => {
      // Struck again without being let go: some devices send no end.
      letGo(pitch, at);
      held.set(pitch, { velocity, at });
    },
    letGo,
    message: (message, at) => {
      events.push({ message, at: at.music, pass: passOf(at) });
    },
    get count() {
      return notes.length + held.size;
    },
    end: (at) => {
      for (const pitch of [...held.keys()]) letGo(pitch, at);
      // Passes are counted in the order of the clock, whatever was let go first.
      const order = passes
        .map((origin, index) => ({ origin, index }))
        .sort((a, b) => a.origin - b.origin)
        .map(({ index }) => index);
      const ordered = <Item extends { readonly pass: number }>(items: readonly Item[]): Item[] =>
        items.map((item) => ({ ...item, pass: order.indexOf(item.pass) }));
      return { notes: ordered(notes), events: ordered(events) };
    },
  };
};
