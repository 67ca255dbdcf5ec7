/** Ways of playing (pizz., con sord., mute) as they are heard: programs, controllers and keys where their spans begin and end. */
import { ticks } from '../time/units.js';
import { endOf, type Note, type Part, type PartEvent, type TrackEvent } from './arrangement.js';
import type { NoteOverride } from './overrides.js';

type Way = Extract<NoteOverride, { kind: 'way' }>;

/** One of them between two places of Played, in ticks. */
export interface WaySpan {
  readonly way: Way;
  readonly from: number;
  /** Where what follows begins; else where its last note ends. */
  readonly until: number;
}

/** Notes that begin within such a share of a quarter after the last one belong to its chord. */
const TOGETHER = 16;
/** A key that commands is struck so long, as a share of a quarter, just before the first note. */
const KEY_LENGTH = 32;
const KEY_VELOCITY = 64;

const lastAtOrBefore = <Item extends { readonly tick: number }>(
  items: readonly Item[],
  tick: number,
): Item | undefined => items.findLast((item) => item.tick <= tick);

/** The ways of playing of a part in order of place; those whose notes are not among Played are left out. */
export const waySpans = (part: Pick<Part, 'notes' | 'overrides'>, ppq: number): WaySpan[] => {
  const ways = (part.overrides?.list ?? []).filter((own): own is Way => own.kind === 'way');
  if (ways.length === 0) return [];
  const byId = new Map(part.notes.map((note) => [note.id, note]));
  return ways
    .flatMap((way): WaySpan[] => {
      const [one, other] = [byId.get(way.noteId), byId.get(way.to)];
      if (!one || !other) return [];
      const [first, last] = one.onset <= other.onset ? [one, other] : [other, one];
      const next = part.notes.find(({ onset }) => onset > last.onset + ppq / TOGETHER);
      return [{ way, from: first.onset, until: next?.onset ?? endOf(last) }];
    })
    .sort((a, b) => a.from - b.from);
};

/** What a part's ways of playing put into its sound. */
export interface WaysInSound {
  /** In order of place. */
  readonly events: readonly TrackEvent[];
  /** Keys that command; they are no notes of the music. */
  readonly keys: readonly Omit<Note, 'id'>[];
}

const NONE: WaysInSound = { events: [], keys: [] };

/** The messages and keys at the beginnings and ends of the spans. A program goes back to the one in force before. */
export const waysInSound = (part: Part, ppq: number): WaysInSound => {
  const spans = waySpans(part, ppq).filter(({ way }) => way.sound);
  if (spans.length === 0) return NONE;
  const { channel } = part;
  const programs = part.events.filter(
    (event): event is Extract<PartEvent, { kind: 'program' }> => event.kind === 'program' && event.channel === channel,
  );
  const events: TrackEvent[] = [];
  const keys: Omit<Note, 'id'>[] = [];
  for (const { way, from, until } of spans) {
    const { sound } = way;
    const [start, end] = [ticks(from), ticks(until)];
    if (sound?.by === 'program') {
      const before = lastAtOrBefore(programs, from)?.program ?? part.program ?? 0;
      events.push({ tick: start, kind: 'program', channel, program: sound.program });
      events.push({ tick: end, kind: 'program', channel, program: before });
    } else if (sound?.by === 'controller') {
      const { controller, value, rest } = sound;
      events.push({ tick: start, kind: 'controller', channel, controller, value });
      events.push({ tick: end, kind: 'controller', channel, controller, value: rest });
    } else if (sound?.by === 'key') {
      const length = Math.max(1, Math.round(ppq / KEY_LENGTH));
      const onset = ticks(Math.max(0, from - length));
      keys.push({ pitch: sound.pitch, onset, duration: ticks(length), velocity: KEY_VELOCITY, channel });
    }
  }
  // Where one ends as another begins, the one that begins has the last word.
  return {
    events: events
      .map((event, at) => ({ event, at }))
      .sort(byPlace)
      .map(({ event }) => event),
    keys,
  };
};

const byPlace = (a: { event: TrackEvent; at: number }, b: { event: TrackEvent; at: number }): number =>
  a.event.tick - b.event.tick || a.at - b.at;
