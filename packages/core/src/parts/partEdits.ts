/** Changes to the parts themselves: what they are called, written for and start with; new ones, copies, order. */
import { instrumentById, isUnpitched, PERCUSSION_CHANNEL } from '../instruments/instruments.js';
import { percussionSound } from '../instruments/percussionMap.js';
import type { Arrangement, Note, Part, PartEvent, PartId, TrackEvent } from '../model/arrangement.js';
import { partById } from '../model/arrangement.js';
import { applyEdit, type Change, type Edit, type Pair, type PartFields } from '../model/edit.js';
import { LONGEST_PART_NAME } from '../model/limits.js';
import type { Override } from '../model/overrides.js';
import type { PercussionMap, PercussionRow, PercussionSound } from '../model/percussionMap.js';
import { keptText } from '../model/texts.js';
import { ticks } from '../time/units.js';

/** What a part starts with; null where nothing says it. */
export interface PartStart {
  /** General MIDI program, 0 to 127. */
  readonly program: number | null;
  /** 0 to 127. */
  readonly volume: number | null;
  /** 0 (left) to 127 (right), 64 is the middle. */
  readonly pan: number | null;
  /** 0 to 127. */
  readonly expression: number | null;
}

/** The controllers of the start, by the MIDI 1.0 standard's table of controllers (most significant bytes). */
const START_CONTROLLERS = { volume: 7, pan: 10, expression: 11 } as const;

/** The events that make a part's start: the first of each kind on its channel, no later than its first note. */
const startEvents = (part: Part): { readonly [Key in keyof PartStart]: PartEvent | undefined } => {
  const until = part.notes[0]?.onset ?? Number.POSITIVE_INFINITY;
  const first = (is: (event: TrackEvent) => boolean) =>
    part.events.find(
      (event) => event.tick <= until && 'channel' in event && event.channel === part.channel && is(event),
    );
  const controller = (number: number) => first((event) => event.kind === 'controller' && event.controller === number);
  return {
    program: first((event) => event.kind === 'program'),
    volume: controller(START_CONTROLLERS.volume),
    pan: controller(START_CONTROLLERS.pan),
    expression: controller(START_CONTROLLERS.expression),
  };
};

const valueIn = (event: PartEvent | undefined): number | null =>
  event?.kind === 'controller' ? event.value : event?.kind === 'program' ? event.program : null;

/** What a part starts with. */
export const partStart = (part: Part): PartStart => {
  const events = startEvents(part);
  return {
    program: valueIn(events.program) ?? part.program,
    volume: valueIn(events.volume),
    pan: valueIn(events.pan),
    expression: valueIn(events.expression),
  };
};

const startEvent = (part: Part, key: keyof PartStart, value: number): TrackEvent =>
  key === 'program'
    ? { kind: 'program', tick: ticks(0), channel: part.channel, program: value }
    : { kind: 'controller', tick: ticks(0), channel: part.channel, controller: START_CONTROLLERS[key], value };

/** The changes that give a part another start; null takes a value away. */
const startChanges = (arrangement: Arrangement, part: Part, start: Partial<PartStart>): Change[] => {
  const now = startEvents(part);
  const added: PartEvent[] = [];
  const removed: PartEvent[] = [];
  const changed: Pair<PartEvent>[] = [];
  let id = arrangement.nextEventId;
  for (const key of ['program', 'volume', 'pan', 'expression'] as const) {
    const value = start[key];
    if (value === undefined) continue;
    const before = now[key];
    if (value === null) {
      if (before) removed.push(before);
    } else if (!before) {
      added.push({ ...startEvent(part, key, value), id: id++ });
    } else if (valueIn(before) !== value) {
      changed.push({ before, after: { ...startEvent(part, key, value), tick: before.tick, id: before.id } });
    }
  }
  const changes: Change[] = [];
  if (added.length + removed.length + changed.length > 0) {
    changes.push({ kind: 'events', partId: part.id, added, removed, changed });
  }
  if (start.program !== undefined && start.program !== part.program) {
    changes.push(fieldsChange(part, { program: start.program }));
  }
  return changes;
};

const fieldsChange = <Key extends Exclude<keyof PartFields, 'plan' | 'vetoes' | 'dismissed'>>(
  part: Part,
  after: Pick<Part, Key>,
): Change => {
  const before = Object.fromEntries(Object.keys(after).map((key) => [key, part[key as Key]])) as Pick<Part, Key>;
  return { kind: 'partFields', partId: part.id, before, after };
};

const editOf = (label: string, changes: readonly Change[]): Edit | null =>
  changes.length === 0 ? null : { label, changes };

/** Calls a part by another name; null for none, or the one it has. */
export const renamePart = (part: Part, name: string): Edit | null => {
  const own = keptText(name.trim(), LONGEST_PART_NAME);
  return own === '' || own === part.name
    ? null
    : editOf(`Rename ${part.name}: ${own}`, [fieldsChange(part, { name: own })]);
};

/** Gives a part another start. */
export const changePartStart = (arrangement: Arrangement, part: Part, start: Partial<PartStart>): Edit | null =>
  editOf(`${part.name}: starts with ${Object.keys(start).join(', ')}`, startChanges(arrangement, part, start));

/**
 * Writes a part for another instrument, and gives it that instrument's own program where the one it has is another's.
 */
export const changeInstrument = (arrangement: Arrangement, part: Part, id: string): Edit | null => {
  if (id === part.instrument && part.instrumentFrom === undefined) return null;
  const { name, programs } = instrumentById(id);
  const { program } = partStart(part);
  const own = programs[0];
  const sound = own !== undefined && (program === null || !programs.includes(program)) ? { program: own } : {};
  return editOf(`${part.name}: written for ${name}`, [
    fieldsChange(part, { instrument: id, instrumentFrom: undefined }),
    ...startChanges(arrangement, part, sound),
  ]);
};

/**
 * Gives a part a percussion map of its own; rows that say what General MIDI says are left out of it, and one of none is
 * General MIDI again. Null where nothing differs.
 */
export const changePercussionMap = (part: Part, map: PercussionMap): Edit | null => {
  const own = map.filter((row) => !sameSound(row, percussionSound(row.sound))).sort((a, b) => a.sound - b.sound);
  const now = part.percussionMap ?? [];
  if (own.length === now.length && own.every((row, at) => sameRow(row, now[at] as PercussionRow))) return null;
  const label = own.length === 0 ? 'percussion map of General MIDI' : 'percussion map';
  return editOf(`${part.name}: ${label}`, [fieldsChange(part, { percussionMap: own.length === 0 ? undefined : own })]);
};

const sameSound = (a: PercussionSound, b: PercussionSound): boolean =>
  a.name === b.name && a.step === b.step && a.octave === b.octave && a.notehead === b.notehead && a.voice === b.voice;

const sameRow = (a: PercussionRow, b: PercussionRow): boolean => a.sound === b.sound && sameSound(a, b);

/** Puts a part on another channel (0 to 15): its notes and messages on the old one go along, those on others stay. */
export const changeChannel = (part: Part, channel: number): Edit | null => {
  if (channel === part.channel) return null;
  const moved = <Item extends object>(items: readonly Item[]): Pair<Item>[] =>
    items
      .filter((item) => 'channel' in item && item.channel === part.channel)
      .map((before) => ({ before, after: { ...before, channel } }));
  const [notes, events] = [moved<Note>(part.notes), moved<PartEvent>(part.events)];
  const changes: Change[] = [fieldsChange(part, { channel })];
  if (notes.length > 0) changes.push({ kind: 'notes', partId: part.id, added: [], removed: [], changed: notes });
  if (events.length > 0) changes.push({ kind: 'events', partId: part.id, added: [], removed: [], changed: events });
  return editOf(`${part.name}: channel ${channel + 1}`, changes);
};

/** Names of the other parts that play on a channel: their programs and controllers are one. */
export const sharingChannel = ({ parts }: Arrangement, partId: PartId, channel: number): readonly string[] =>
  parts.filter((part) => part.id !== partId && part.channel === channel).map((part) => part.name);

/** What of a part can be set in one place; what is left out stays. */
export interface PartSettings {
  readonly name?: string;
  readonly instrument?: string;
  readonly channel?: number;
  readonly start?: Partial<PartStart>;
}

/** All that is set, as one Edit; null where nothing differs. */
export const changePart = (arrangement: Arrangement, partId: PartId, settings: PartSettings): Edit | null => {
  const { name, instrument, channel, start } = settings;
  const makers: ((now: Arrangement, part: Part) => Edit | null)[] = [
    (_, part) => (name === undefined ? null : renamePart(part, name)),
    (now, part) =>
      instrument === undefined || instrument === part.instrument ? null : changeInstrument(now, part, instrument),
    (_, part) => (channel === undefined ? null : changeChannel(part, channel)),
    (now, part) => (start === undefined ? null : changePartStart(now, part, start)),
  ];
  const labels: string[] = [];
  const changes: Change[] = [];
  let now = arrangement;
  for (const make of makers) {
    const part = partById(now, partId);
    const edit = part && make(now, part);
    if (!edit) continue;
    labels.push(edit.label);
    changes.push(...edit.changes);
    now = applyEdit(now, edit);
  }
  return editOf(
    labels.length === 1 ? (labels[0] as string) : `${partById(now, partId)?.name}: settings of the part`,
    changes,
  );
};

/** Puts a part in another place of the order, from 0; null where it is there. */
export const movePart = ({ parts }: Arrangement, partId: PartId, to: number): Edit | null => {
  const from = parts.findIndex((part) => part.id === partId);
  const place = Math.max(0, Math.min(parts.length - 1, to));
  const part = parts[from];
  if (!part || place === from) return null;
  return editOf(`Move ${part.name} ${place < from ? 'up' : 'down'}`, [{ kind: 'partMoved', partId, from, to: place }]);
};

/** Takes parts out, with all that is in them. */
export const deleteParts = ({ parts }: Arrangement, ids: ReadonlySet<PartId>): Edit | null => {
  const gone = parts.flatMap((part, index) => (ids.has(part.id) ? [{ part, index }] : []));
  const names = gone.map(({ part }) => part.name).join(', ');
  // From the last to the first, so that each index is right when its turn comes, also on the way back.
  const changes = gone.reverse().map(({ part, index }): Change => ({ kind: 'partRemoved', index, part }));
  return editOf(`Delete ${names}`.slice(0, 200), changes);
};

/** "Flute 2": a name that no part has, made from another. */
export const freeName = ({ parts }: Pick<Arrangement, 'parts'>, name: string): string => {
  const taken = new Set(parts.map((part) => part.name));
  const stem = keptText(name.replace(/ \d+$/, ''), LONGEST_PART_NAME - 5);
  for (let number = 2; ; number += 1) if (!taken.has(`${stem} ${number}`)) return `${stem} ${number}`;
};

/** A correction of the notes that `own` names. */
export const withIds = (one: Override, own: (id: number) => number): Override => ({
  ...one,
  ...('noteId' in one ? { noteId: own(one.noteId) } : {}),
  ...('to' in one ? { to: own(one.to) } : {}),
});

/** A copy of a part right below it, with its plan and what was decided about its notes, under ids of its own. */
export const duplicatePart = (arrangement: Arrangement, partId: PartId): Edit | null => {
  const index = arrangement.parts.findIndex((part) => part.id === partId);
  const part = arrangement.parts[index];
  if (!part) return null;
  const ids = new Map(part.notes.map((note, place) => [note.id, arrangement.nextNoteId + place]));
  const own = (id: number) => ids.get(id) ?? id;
  const { overrides, vetoes, dismissed: _, ...rest } = part;
  const copy: Part = {
    ...rest,
    id: arrangement.nextPartId,
    name: freeName(arrangement, part.name),
    notes: part.notes.map((note) => ({ ...note, id: own(note.id) })),
    events: part.events.map((event, place) => ({ ...event, id: arrangement.nextEventId + place })),
    ...(vetoes ? { vetoes: vetoes.map((veto) => ({ ...veto, noteId: own(veto.noteId) })) } : {}),
    ...(overrides
      ? {
          overrides: {
            ...overrides,
            list: overrides.list.flatMap((one): Override[] => (one.kind === 'pageOnly' ? [] : [withIds(one, own)])),
          },
        }
      : {}),
  };
  return editOf(`Duplicate ${part.name}`, [{ kind: 'partAdded', index: index + 1, part: copy }]);
};

/** A channel that no part is on, or the first where all are taken; percussion has its own (General MIDI 1). */
export const freeChannel = ({ parts }: Pick<Arrangement, 'parts'>, unpitched: boolean): number => {
  if (unpitched) return PERCUSSION_CHANNEL;
  const taken = new Set(parts.map((part) => part.channel));
  for (let channel = 0; channel < 16; channel += 1) {
    if (channel !== PERCUSSION_CHANNEL && !taken.has(channel)) return channel;
  }
  return 0;
};

/** An empty part for an instrument, below all others. */
export const addEmptyPart = (arrangement: Arrangement, instrumentId: string): Edit => {
  const instrument = instrumentById(instrumentId);
  const taken = arrangement.parts.some((part) => part.name === instrument.name);
  const part: Part = {
    id: arrangement.nextPartId,
    name: taken ? freeName(arrangement, instrument.name) : instrument.name,
    instrument: instrument.id,
    channel: freeChannel(arrangement, isUnpitched(instrument)),
    program: instrument.programs[0] ?? null,
    notes: [],
    events: [],
  };
  return { label: `Add ${part.name}`, changes: [{ kind: 'partAdded', index: arrangement.parts.length, part }] };
};
