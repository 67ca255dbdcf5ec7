/** Controllers that go with their notes: what moves or goes takes the messages under it along. */
import {
  type Arrangement,
  compareEvents,
  endOf,
  type Note,
  type NoteId,
  type Part,
  type PartEvent,
} from '../model/arrangement.js';
import { type Change, type Edit, eventsChange } from '../model/edit.js';
import type { Selection } from '../model/selection.js';
import { PEDAL_CONTROLLERS, PEDAL_DOWN } from '../reading/pedal.js';
import { lastIndexAtOrBefore } from '../time/search.js';
import { ticks } from '../time/units.js';

/** A value set so shortly before its note, in quarters, is that note's: it was played on the beat, the note a little late. */
const JUST_BEFORE = 1 / 8;

/** From the start of the first note to the end of the last: up to what comes after it. */
interface Span {
  readonly from: number;
  readonly to: number;
}

const spanOf = (notes: readonly Note[]): Span => ({
  from: notes.reduce((least, { onset }) => Math.min(least, onset), Number.POSITIVE_INFINITY),
  to: notes.reduce((most, note) => Math.max(most, endOf(note)), 0),
});

/** Messages that go with notes: values over time, not programs or texts. */
const goesAlong = (event: PartEvent): boolean =>
  event.kind === 'controller' || event.kind === 'pitchBend' || event.kind === 'channelPressure';

/** How one place becomes another: notes moved together keep their distances, notes stretched keep their shares. */
const placing = (before: Span, after: Span) => (tick: number) => {
  const length = before.to - before.from;
  const share = length > 0 ? (tick - before.from) / length : 0;
  return ticks(Math.max(0, Math.round(after.from + share * (after.to - after.from))));
};

/** Where a pedal would be left down at the end of what was moved there, it is lifted. */
const lifted = (part: Part, moved: readonly PartEvent[], after: Span, nextId: number): PartEvent[] => {
  const last = new Map<string, PartEvent & { kind: 'controller' }>();
  for (const event of moved)
    if (event.kind === 'controller' && PEDAL_CONTROLLERS.has(event.controller))
      last.set(`${event.channel} ${event.controller}`, event as PartEvent & { kind: 'controller' });
  const later = (event: PartEvent & { kind: 'controller' }) =>
    part.events.some(
      (own) =>
        own.kind === 'controller' &&
        own.controller === event.controller &&
        own.channel === event.channel &&
        own.tick > event.tick &&
        own.value < PEDAL_DOWN,
    );
  return [...last.values()]
    .filter((event) => event.value >= PEDAL_DOWN && !later(event))
    .map(({ ramp: _, ...event }, index) => ({ ...event, id: nextId + index, tick: ticks(after.to), value: 0 }));
};

/** Whether one of the notes sounds at a place; they are in order of onset. */
const soundsAt = (notes: readonly Note[]): ((tick: number) => boolean) => {
  const stretches: { from: number; to: number }[] = [];
  for (const note of notes) {
    const last = stretches[stretches.length - 1];
    if (last && note.onset <= last.to) last.to = Math.max(last.to, endOf(note));
    else stretches.push({ from: note.onset, to: endOf(note) });
  }
  return (tick) => tick < (stretches[lastIndexAtOrBefore(stretches, tick, ({ from }) => from)]?.to ?? 0);
};

/** What one part's notes do to the messages under them; undefined where there are none. */
const eventsFollow = (
  arrangement: Arrangement,
  part: Part,
  change: Extract<Change, { kind: 'notes' }>,
): Change | undefined => {
  const before = [...change.changed.map((pair) => pair.before), ...change.removed];
  if (before.length === 0) return undefined;
  const touched = new Set(before.map(({ id }) => id));
  const span = spanOf(before);
  // What other notes still need stays.
  const needed = soundsAt(part.notes.filter((note) => !touched.has(note.id) && !note.muted));
  const under = part.events.filter(
    (event) =>
      goesAlong(event) &&
      event.tick >= span.from - arrangement.ppq * JUST_BEFORE &&
      event.tick <= span.to &&
      !needed(event.tick),
  );
  if (under.length === 0) return undefined;
  const gone = new Set(under);
  const kept = part.events.filter((event) => !gone.has(event));
  if (change.changed.length === 0) return eventsChange(part.id, part.events, kept);
  const after = spanOf(change.changed.map((pair) => pair.after));
  if (after.from === span.from && after.to === span.to) return undefined;
  const place = placing(span, after);
  const moved = under.map((event): PartEvent => ({ ...event, tick: place(event.tick) }));
  const up = lifted({ ...part, events: [...kept, ...moved] }, moved, after, arrangement.nextEventId);
  return eventsChange(part.id, part.events, [...kept, ...moved, ...up].sort(compareEvents));
};

/** The messages under the notes that were copied, put under each copy in its turn. */
const eventsCopied = (
  arrangement: Arrangement,
  part: Part,
  { added }: Extract<Change, { kind: 'notes' }>,
  source: ReadonlySet<NoteId>,
): Change | undefined => {
  const originals = part.notes.filter(({ id }) => source.has(id));
  const [first] = originals;
  if (!first || added.length === 0 || added.length % originals.length !== 0) return undefined;
  const span = spanOf(originals);
  const under = part.events.filter((event) => goesAlong(event) && event.tick >= span.from && event.tick <= span.to);
  const copies = [...added].sort((a, b) => a.onset - b.onset);
  const made: PartEvent[] = [];
  for (let copy = 0; copy < copies.length; copy += originals.length) {
    const by = (copies[copy] as Note).onset - span.from;
    for (const event of under)
      made.push({ ...event, id: arrangement.nextEventId + made.length, tick: ticks(Math.max(0, event.tick + by)) });
  }
  return made.length === 0
    ? undefined
    : eventsChange(part.id, part.events, [...part.events, ...made].sort(compareEvents));
};

/**
 * The Edit with the messages under notes that it moves, stretches or deletes, or under the copies it makes of `copied`; its
 * label says how many go along.
 */
export const withControllers = (arrangement: Arrangement, edit: Edit, copied?: Selection): Edit => {
  const more = edit.changes.flatMap((change): Change[] => {
    if (change.kind !== 'notes') return [];
    const part = arrangement.parts.find(({ id }) => id === change.partId);
    const source = copied?.get(change.partId);
    const copies = source && change.changed.length === 0 && change.removed.length === 0;
    const own =
      part && (copies ? eventsCopied(arrangement, part, change, source) : eventsFollow(arrangement, part, change));
    return own ? [own] : [];
  });
  if (more.length === 0) return edit;
  const count = more.reduce(
    (sum, change) =>
      sum + (change.kind === 'events' ? change.changed.length + change.removed.length + change.added.length : 0),
    0,
  );
  const values = `${count} ${count === 1 ? 'value' : 'values'} of controllers`;
  return { label: `${edit.label}, with ${values}`, changes: [...edit.changes, ...more] };
};
