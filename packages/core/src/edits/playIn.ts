/** Playing in: what was struck while the music ran, in seconds of the music, becomes one Edit of a part. */
import type { Arrangement, Note, Part, PartEvent, PartId, TrackEvent } from '../model/arrangement.js';
import { compareEvents, endOf, partById, withEventIds } from '../model/arrangement.js';
import { type Change, type Edit, eventsChange, notesChange } from '../model/edit.js';
import { createTempoMap } from '../time/tempoMap.js';
import { ticks } from '../time/units.js';
import { labelFor } from './labels.js';

/** A note of a take: pitch 0 to 127, velocity 1 to 127, from `start` on for `length`, in seconds of the music from tick 0. */
export interface TakenNote {
  readonly pitch: number;
  readonly velocity: number;
  readonly start: number;
  readonly length: number;
  /** Which time through the loop it was struck in, from 0. */
  readonly pass: number;
}

/** What a device sends besides notes. */
export type TakenMessage =
  | { readonly kind: 'controller'; readonly controller: number; readonly value: number }
  | { readonly kind: 'pitchBend'; readonly value: number }
  | { readonly kind: 'channelPressure'; readonly value: number };

/** One of them, in seconds of the music from tick 0. */
export interface TakenEvent {
  readonly message: TakenMessage;
  readonly at: number;
  readonly pass: number;
}

/** What was played into a part from one place to another, in ticks. */
export interface Take {
  readonly partId: PartId;
  readonly from: number;
  readonly until: number;
  readonly notes: readonly TakenNote[];
  readonly events: readonly TakenEvent[];
  /** True where what stood there goes, and of a loop's passes the last one with notes stays; else all is laid over it. */
  readonly replaces: boolean;
}

/** What became of a take. */
export interface LandedTake {
  /** Null where nothing was played that stays. */
  readonly edit: Edit | null;
  readonly notes: number;
  /** Struck before the beginning, and kept. */
  readonly early: number;
  /** Struck long before it, as one tries a key: left out. */
  readonly leftOut: number;
}

/** What is struck so long before the beginning was not meant for it, unless it still sounds there (quarters). */
const EARLY = 1;

const keyOf = (event: TrackEvent): string | null =>
  event.kind === 'controller'
    ? `controller ${event.controller}`
    : event.kind === 'pitchBend' || event.kind === 'channelPressure'
      ? event.kind
      : null;

/** The last event of each kind that a device sends, at or before a place. */
const stateAt = (events: readonly TrackEvent[], tick: number): Map<string, TrackEvent> => {
  const state = new Map<string, TrackEvent>();
  for (const event of events) {
    const key = keyOf(event);
    if (key !== null && event.tick <= tick) state.set(key, event);
  }
  return state;
};

const valueSent = (event: TrackEvent | undefined): number | undefined =>
  event && 'value' in event ? event.value : undefined;

/** Where a kind rests when nothing was said: the pedals are up, the bend is at its centre. */
const restOf = (event: TrackEvent): TrackEvent =>
  event.kind === 'pitchBend' ? { ...event, value: 8192 } : ({ ...event, value: 0 } as TrackEvent);

/** What is so at the end of a take must be as it was before, for what comes after it: no pedal is left hanging. */
const restored = (before: readonly TrackEvent[], after: readonly TrackEvent[], until: number): TrackEvent[] => {
  const was = stateAt(before, until);
  return [...stateAt(after, until)].flatMap(([key, event]) => {
    const wanted = was.get(key) ?? restOf(event);
    return valueSent(wanted) === valueSent(event) ? [] : [{ ...wanted, tick: ticks(until) } as TrackEvent];
  });
};

const eventsAfter = (part: Part, take: Take, taken: readonly TrackEvent[], arrangement: Arrangement): PartEvent[] => {
  const inside = (event: PartEvent) => keyOf(event) !== null && event.tick >= take.from && event.tick < take.until;
  const kept = take.replaces ? part.events.filter((event) => !inside(event)) : part.events;
  if (taken.length === 0 && kept.length === part.events.length) return [...part.events];
  const before = stateAt(part.events, take.from - 1);
  // What a controller had when the stretch began holds until the take says otherwise.
  const held = [...stateAt([...kept.filter(({ tick }) => tick < take.from), ...taken], take.from)].filter(
    ([key, event]) => event.tick < take.from && before.get(key) !== event,
  );
  const made = [...held.map(([, event]) => event), ...taken];
  const ordered = [...kept, ...made].sort((a, b) => a.tick - b.tick);
  const all = [...made, ...restored(part.events, ordered, take.until)];
  return [...kept, ...withEventIds(all, arrangement.nextEventId)].sort(compareEvents);
};

/**
 * Lands a take in its part as one Edit. Notes struck within a quarter before the beginning, or still sounding there, are kept
 * where they were struck; where that would be before the piece they begin with it. What else came before is left out.
 */
export const landTake = (arrangement: Arrangement, take: Take): LandedTake => {
  const part = partById(arrangement, take.partId);
  const nothing = { edit: null, notes: 0, early: 0, leftOut: 0 };
  if (!part) return nothing;
  const map = createTempoMap(arrangement.tempos, arrangement.ppq);
  const lastPass = take.notes.reduce((last, { pass }) => Math.max(last, pass), 0);
  const wanted = ({ pass }: { readonly pass: number }) => !take.replaces || pass === lastPass;
  let [early, leftOut] = [0, 0];
  const made = take.notes.filter(wanted).flatMap((taken): Note[] => {
    const struck = map.ticksAt(taken.start);
    const end = map.ticksAt(taken.start + taken.length);
    if (struck < take.from - EARLY * arrangement.ppq && end <= take.from) {
      leftOut += 1;
      return [];
    }
    if (struck < take.from) early += 1;
    const onset = Math.max(0, Math.round(struck));
    const duration = end > onset ? Math.round(end) - onset : Math.round(end - struck);
    return [
      {
        id: 0,
        pitch: taken.pitch,
        onset: ticks(onset),
        duration: ticks(Math.max(1, duration)),
        velocity: Math.max(1, Math.min(127, Math.round(taken.velocity))),
        channel: part.channel,
      },
    ];
  });
  made.sort((a, b) => a.onset - b.onset || a.pitch - b.pitch);
  const withIds = made.map((note, index): Note => ({ ...note, id: arrangement.nextNoteId + index }));
  const events = take.events
    .filter(wanted)
    .map(
      ({ message, at }): TrackEvent => ({
        ...message,
        channel: part.channel,
        tick: ticks(Math.max(0, Math.round(map.ticksAt(at)))),
      }),
    )
    .sort((a, b) => a.tick - b.tick);
  if (made.length === 0 && events.length === 0) return { ...nothing, leftOut };
  const stays = take.replaces ? part.notes.flatMap((note) => outside(note, take)) : part.notes;
  const changes = [
    notesChange(part.id, part.notes, [...stays, ...withIds]),
    eventsChange(part.id, part.events, eventsAfter(part, take, events, arrangement)),
  ].filter((change): change is Extract<Change, { kind: 'notes' | 'events' }> => change !== undefined);
  return {
    edit: { label: labelFor('Play in', [{ part, count: made.length }]), changes },
    notes: made.length,
    early,
    leftOut,
  };
};

/** What is left of a note where a take replaces what stood there. */
const outside = (note: Note, { from, until }: Take): readonly Note[] => {
  if (note.onset >= from && note.onset < until) return [];
  return note.onset < from && endOf(note) > from ? [{ ...note, duration: ticks(from - note.onset) }] : [note];
};
