/** Cells of the table edited in place, one row or many; rows added, deleted and doubled. Each is one Edit, whatever the rows are. */
import { mapEdit } from '../edits/mapEdits.js';
import { changeField, type NoteField, placeTyped, readFieldEntry } from '../edits/noteFields.js';
import { moveMarker, putMarker, removeKey, removeMarker, removeMeter } from '../edits/placeEdits.js';
import { changePoints } from '../lanes/laneEdits.js';
import { readValueEntry } from '../lanes/valueEntry.js';
import { type Arrangement, compareEvents, compareNotes, type Part, type PartEvent } from '../model/arrangement.js';
import { applyEdit, type Edit, eventsChange, notesChange } from '../model/edit.js';
import { LONGEST_TEXT } from '../model/limits.js';
import { failure, type Result, success } from '../model/result.js';
import { NOTHING, type Selection, selectionOf, unionOf } from '../model/selection.js';
import { keptText } from '../model/texts.js';
import { createMeterMap, DEFAULT_METER } from '../time/meterMap.js';
import { lengthInTicks } from '../time/noteLengths.js';
import { createTempoMap, DEFAULT_MICROSECONDS_PER_QUARTER } from '../time/tempoMap.js';
import { ticks } from '../time/units.js';
import { eventsOfRows, ROW_KIND_NAMES, type RowKind, type TableRow } from './rows.js';

/** The columns whose cells can be edited. */
export type TableColumn = 'place' | 'what' | 'value' | 'length' | 'channel';

const NOTE_FIELDS: { readonly [column in TableColumn]: NoteField } = {
  place: 'start',
  what: 'pitch',
  value: 'velocity',
  length: 'length',
  channel: 'channel',
};

/** The notes among rows, as a selection. */
export const notesOfRows = (rows: readonly TableRow[]): Selection => {
  const byPart = new Map<number, number[]>();
  for (const row of rows) {
    if (row.kind !== 'note') continue;
    const ids = byPart.get(row.part.id);
    if (ids) ids.push(row.note.id);
    else byPart.set(row.part.id, [row.note.id]);
  }
  return [...byPart].reduce((all, [partId, ids]) => unionOf(all, selectionOf(partId, ids)), NOTHING);
};

const nothing = (): Result<Edit> => failure('notEditable', 'This cell says what it is: it cannot be changed.');

/** How a typed place moves a tick; a problem where it is none. */
const placing = (arrangement: Arrangement, typed: string): Result<(tick: number) => number> => {
  const { ppq, meters, tempos } = arrangement;
  const entry = readFieldEntry('start', typed);
  if (entry.ok && entry.value.kind === 'add') {
    const { amount } = entry.value;
    const map = createTempoMap(tempos, ppq);
    return success((tick) => tick + lengthInTicks(amount, ppq, map.ticksPerMillisecond(tick)));
  }
  const to = placeTyped(createMeterMap(meters, ppq), ppq, typed);
  return to.ok ? success(() => to.value) : to;
};

/** What an event's value can be; null for those that have none. */
const mostOf = (event: PartEvent): number | null =>
  event.kind === 'pitchBend'
    ? 16_383
    : event.kind === 'text' || event.kind === 'meta' || event.kind === 'sysex'
      ? null
      : 127;

const withValue = (event: PartEvent, change: (value: number) => number): PartEvent => {
  const most = mostOf(event);
  if (most === null) return event;
  const bounded = (value: number) => Math.max(0, Math.min(most, Math.round(value)));
  // Programs are counted from 1, as players and their instruments do.
  if (event.kind === 'program') return { ...event, program: bounded(change(event.program + 1) - 1) };
  return 'value' in event ? ({ ...event, value: bounded(change(event.value)) } as PartEvent) : event;
};

/** How a typed text changes events, column by column. */
const eventChange = (
  arrangement: Arrangement,
  column: TableColumn,
  typed: string,
): Result<(event: PartEvent) => PartEvent> => {
  if (column === 'place') {
    const moved = placing(arrangement, typed);
    return moved.ok
      ? success((event) => ({ ...event, tick: ticks(Math.max(0, Math.round(moved.value(event.tick)))) }))
      : moved;
  }
  const entry = readValueEntry(typed);
  if (column === 'channel') {
    if (!entry) return failure('noChannel', 'A channel is a number from 1 to 16.');
    const channel = (now: number) => Math.max(0, Math.min(15, Math.round(entry(now + 1)) - 1));
    return success((event) => ('channel' in event ? { ...event, channel: channel(event.channel) } : event));
  }
  if (column !== 'value') return failure('notEditable', 'This cell says what it is: it cannot be changed.');
  return success((event) => {
    if (event.kind === 'text') return { ...event, text: keptText(typed, LONGEST_TEXT) };
    return entry ? withValue(event, entry) : event;
  });
};

const editEvents = (
  arrangement: Arrangement,
  rows: readonly TableRow[],
  column: TableColumn,
  typed: string,
): Result<Edit> => {
  const texts = rows.some((row) => row.kind === 'text');
  if (column === 'value' && !texts && !readValueEntry(typed))
    return failure('noValue', 'A value is a number, or + − * / and a number.');
  const change = eventChange(arrangement, column, typed);
  if (!change.ok) return change;
  const changes = [...eventsOfRows(rows)].flatMap(([partId, ids]) => {
    const part = arrangement.parts.find(({ id }) => id === partId);
    if (!part) return [];
    const after = part.events.map((event) => (ids.has(event.id) ? change.value(event) : event)).sort(compareEvents);
    return eventsChange(partId, part.events, after) ?? [];
  });
  return success({ label: `Change ${rows.length === 1 ? 'a message' : `${rows.length} messages`}`, changes });
};

/** Edits one row of the piece's own maps. */
const editMap = (arrangement: Arrangement, row: TableRow, column: TableColumn, typed: string): Result<Edit> => {
  if (column === 'place' && (row.kind === 'tempo' || row.kind === 'marker')) {
    const moved = placing(arrangement, typed);
    if (!moved.ok) return moved;
    const tick = Math.max(0, Math.round(moved.value(row.tick)));
    if (row.kind === 'marker') return success(moveMarker(arrangement, row.marker, tick));
    const edit = changePoints(arrangement, null, { kind: 'tempo' }, new Set([row.index]), (point) => ({
      ...point,
      tick,
    }));
    return edit ? success(edit) : nothing();
  }
  if (column !== 'value') return nothing();
  if (row.kind === 'marker') return putMarker(arrangement, row.tick, typed);
  if (row.kind === 'meter') {
    const { number } = createMeterMap(arrangement.meters, arrangement.ppq).barAt(row.tick);
    return mapEdit(arrangement, number, { wish: 'meter', text: typed }, []);
  }
  if (row.kind !== 'tempo') return nothing();
  const entry = readValueEntry(typed);
  if (!entry) return failure('noValue', 'A value is a number, or + − * / and a number.');
  const edit = changePoints(arrangement, null, { kind: 'tempo' }, new Set([row.index]), (point) => ({
    ...point,
    value: entry(point.value),
  }));
  return edit ? success(edit) : nothing();
};

/** Edits made one after the other, as one; the first problem where none can be made. */
const together = (
  arrangement: Arrangement,
  makes: readonly ((now: Arrangement) => Result<Edit | null>)[],
): Result<Edit> => {
  const made: Edit[] = [];
  let problem: Result<Edit> = nothing();
  let now = arrangement;
  for (const make of makes) {
    const result = make(now);
    if (!result.ok) problem = result;
    else if (result.value && result.value.changes.length > 0) {
      made.push(result.value);
      now = applyEdit(now, result.value);
    }
  }
  const [first] = made;
  if (!first) return problem;
  return success({
    label: made.length === 1 ? first.label : made.map(({ label }) => label).join(', '),
    changes: made.flatMap(({ changes }) => changes),
  });
};

/** What typing into a cell does to it and to the other rows given, each as its kind has it. */
export const editCells = (
  arrangement: Arrangement,
  rows: readonly TableRow[],
  column: TableColumn,
  typed: string,
): Result<Edit> => {
  const notes = rows.filter(({ kind }) => kind === 'note');
  const events = rows.filter((row) => 'event' in row);
  const maps = rows.filter((row) => row.kind !== 'note' && !('event' in row));
  return together(arrangement, [
    ...(notes.length > 0
      ? [
          (now: Arrangement): Result<Edit | null> => {
            const entry = readFieldEntry(NOTE_FIELDS[column], typed);
            if (!entry.ok) return entry;
            const made = changeField(now, notesOfRows(notes), NOTE_FIELDS[column], entry.value);
            return made.ok ? success(made.value.edit) : made;
          },
        ]
      : []),
    ...(events.length > 0 ? [(now: Arrangement) => editEvents(now, events, column, typed)] : []),
    ...maps.map((row) => (now: Arrangement) => editMap(now, row, column, typed)),
  ]);
};

/** Takes rows away, whatever they are; the first tempo and the first meter stay. Null where nothing goes. */
export const deleteRows = (arrangement: Arrangement, rows: readonly TableRow[]): Edit | null => {
  const events = eventsOfRows(rows);
  const notes = notesOfRows(rows);
  const parts = arrangement.parts.flatMap((part) => {
    const [gone, lost] = [notes.get(part.id), events.get(part.id)];
    const own = [
      gone &&
        notesChange(
          part.id,
          part.notes,
          part.notes.filter(({ id }) => !gone.has(id)),
        ),
      lost &&
        eventsChange(
          part.id,
          part.events,
          part.events.filter(({ id }) => !lost.has(id)),
        ),
    ];
    return own.filter((change) => change !== undefined);
  });
  const tempos = new Set(rows.flatMap((row) => (row.kind === 'tempo' ? [row.index] : [])));
  const maps = rows.flatMap((row): ((now: Arrangement) => Result<Edit | null>)[] => {
    if (row.kind === 'marker') return [(now) => success(removeMarker(now, row.marker))];
    if (row.kind === 'meter') return [(now) => removeMeter(now, row.meter)];
    if (row.kind === 'key') return [(now) => success(removeKey(now, row.keyChange))];
    return [];
  });
  const made = together(arrangement, [
    () => success(parts.length > 0 ? { label: '', changes: parts } : null),
    (now) => success(changePoints(now, null, { kind: 'tempo' }, tempos, () => null)),
    ...maps,
  ]);
  return made.ok ? { ...made.value, label: `Delete ${rows.length === 1 ? 'a row' : `${rows.length} rows`}` } : null;
};

/** Puts a second of each note and message right beside it, to be changed from there. Null where there is none. */
export const doubleRows = (arrangement: Arrangement, rows: readonly TableRow[]): Edit | null => {
  const events = eventsOfRows(rows);
  const notes = notesOfRows(rows);
  let { nextNoteId, nextEventId } = arrangement;
  const changes = arrangement.parts.flatMap((part) => {
    const [twice, again] = [notes.get(part.id), events.get(part.id)];
    const newNotes = part.notes.filter(({ id }) => twice?.has(id)).map((note) => ({ ...note, id: nextNoteId++ }));
    const newEvents = part.events.filter(({ id }) => again?.has(id)).map((event) => ({ ...event, id: nextEventId++ }));
    return [
      notesChange(part.id, part.notes, [...part.notes, ...newNotes].sort(compareNotes)),
      eventsChange(part.id, part.events, [...part.events, ...newEvents].sort(compareEvents)),
    ].filter((change) => change !== undefined);
  });
  return changes.length === 0
    ? null
    : { label: `Double ${rows.length === 1 ? 'a row' : `${rows.length} rows`}`, changes };
};

/** Kinds of which a row can be added. */
export const ADDED_KINDS = [
  'note',
  'controller',
  'pitchBend',
  'channelPressure',
  'program',
  'text',
  'tempo',
  'meter',
  'key',
  'marker',
] as const satisfies readonly RowKind[];
/** One of them. */
export type AddedKind = (typeof ADDED_KINDS)[number];

/** What a new message says, to be changed from there. */
const NEW_EVENTS = {
  controller: { kind: 'controller', controller: 11, value: 100 },
  pitchBend: { kind: 'pitchBend', value: 8192 },
  channelPressure: { kind: 'channelPressure', value: 0 },
  program: { kind: 'program', program: 0 },
} as const;

/**
 * Adds a row at a tick, with the plainest thing it can say: a quarter C4, what the piece has there already, "Marker". Notes and
 * messages go to the part; meters and keys to the start of their bar. Fails where one of its kind stands there already.
 */
export const addRow = (
  arrangement: Arrangement,
  kind: AddedKind,
  tick: number,
  part: Part | undefined,
): Result<Edit> => {
  const at = ticks(Math.max(0, Math.round(tick)));
  const label = `Add a row: ${ROW_KIND_NAMES[kind]}`;
  const bar = ticks(Math.round(createMeterMap(arrangement.meters, arrangement.ppq).barAt(at).start));
  const there = (what: string) => failure('thereAlready', `There is a ${what} at this place: change it instead.`);
  const inMap = <Item extends { readonly tick: number }>(
    field: 'tempos' | 'meters' | 'keys',
    items: readonly Item[],
    item: Item,
  ): Result<Edit> =>
    items.some((own) => own.tick === item.tick)
      ? there(ROW_KIND_NAMES[kind])
      : success({
          label,
          changes: [
            {
              kind: 'arrangementFields',
              before: { [field]: items },
              after: { [field]: [...items, item].sort((a, b) => a.tick - b.tick) },
            },
          ],
        });
  switch (kind) {
    case 'tempo': {
      const before = arrangement.tempos.findLast((own) => own.tick <= at);
      if (before?.ramp) return failure('onRamp', 'The tempo is on its way here: add the point in the tempo lane.');
      const microsecondsPerQuarter = before?.microsecondsPerQuarter ?? DEFAULT_MICROSECONDS_PER_QUARTER;
      return inMap('tempos', arrangement.tempos, { tick: at, microsecondsPerQuarter });
    }
    case 'meter': {
      const before = arrangement.meters.findLast((own) => own.tick <= bar) ?? { tick: bar, ...DEFAULT_METER };
      const { pickup: _, ...meter } = before;
      return inMap('meters', arrangement.meters, { ...meter, tick: bar });
    }
    case 'key': {
      const before = arrangement.keys.findLast((own) => own.tick <= bar);
      return inMap('keys', arrangement.keys, { fifths: 0, minor: false, ...before, tick: bar });
    }
    case 'marker':
      return arrangement.markers.some((own) => own.tick === at)
        ? there('marker')
        : putMarker(arrangement, at, 'Marker');
    default:
  }
  if (!part) return failure('noPart', 'There is no part to add it to.');
  const change =
    kind === 'note'
      ? notesChange(
          part.id,
          part.notes,
          [
            ...part.notes,
            {
              id: arrangement.nextNoteId,
              pitch: 60,
              onset: at,
              duration: ticks(arrangement.ppq),
              velocity: 80,
              channel: part.channel,
            },
          ].sort(compareNotes),
        )
      : eventsChange(
          part.id,
          part.events,
          [
            ...part.events,
            {
              id: arrangement.nextEventId,
              tick: at,
              ...(kind === 'text'
                ? ({ kind: 'text', metaType: 1, text: 'Text' } as const)
                : { ...NEW_EVENTS[kind], channel: part.channel }),
            },
          ].sort(compareEvents),
        );
  return change ? success({ label, changes: [change] }) : failure('nothing', 'Nothing was added.');
};
