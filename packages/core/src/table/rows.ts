/** All that an arrangement holds as rows: notes, controllers, bends, programs, texts, tempo, meter, key, markers. */

import { keyInWords } from '../edits/mapEdits.js';
import { GM_PROGRAMS } from '../instruments/gmPrograms.js';
import { bendRange, laneName, laneValueInWords } from '../lanes/lanes.js';
import { lengthInWords } from '../meter/valueWords.js';
import type { Arrangement, EventId, KeyChange, Marker, Note, Part, PartEvent, PartId } from '../model/arrangement.js';
import type { Selection } from '../model/selection.js';
import { pitchName } from '../reading/noteWords.js';
import type { MeterChange } from '../time/meterMap.js';
import { barPosition, type MeterMap } from '../time/meterMap.js';
import { quartersPerMinute, type TempoChange } from '../time/tempoMap.js';

/** What a row is. */
export const ROW_KINDS = [
  'note',
  'controller',
  'pitchBend',
  'channelPressure',
  'keyPressure',
  'program',
  'text',
  'other',
  'tempo',
  'meter',
  'key',
  'marker',
] as const;
/** One of them. */
export type RowKind = (typeof ROW_KINDS)[number];

/** Kinds in words. */
export const ROW_KIND_NAMES: { readonly [kind in RowKind]: string } = {
  note: 'note',
  controller: 'controller',
  pitchBend: 'pitch bend',
  channelPressure: 'pressure',
  keyPressure: 'key pressure',
  program: 'program',
  text: 'text',
  other: 'message',
  tempo: 'tempo',
  meter: 'meter',
  key: 'key',
  marker: 'marker',
};

interface Placed {
  /** Tells it from all others. */
  readonly key: string;
  readonly tick: number;
}

/** A row of the table. */
export type TableRow = Placed &
  (
    | { readonly kind: 'note'; readonly part: Part; readonly note: Note }
    | {
        readonly kind: Exclude<RowKind, 'note' | 'tempo' | 'meter' | 'key' | 'marker'>;
        readonly part: Part;
        readonly event: PartEvent;
      }
    | { readonly kind: 'tempo'; readonly tempo: TempoChange; readonly index: number }
    | { readonly kind: 'meter'; readonly meter: MeterChange }
    | { readonly kind: 'key'; readonly keyChange: KeyChange }
    | { readonly kind: 'marker'; readonly marker: Marker }
  );

/** What the table is narrowed to; what is left out does not narrow. */
export interface TableFilter {
  readonly parts?: ReadonlySet<PartId>;
  readonly kinds?: ReadonlySet<RowKind>;
  /** Of controllers, these alone. */
  readonly controllers?: ReadonlySet<number>;
  /** Bars by number, both included, as ticks. */
  readonly from?: number;
  readonly to?: number;
  /** Only notes that are selected. */
  readonly selection?: Selection;
}

const kindOfEvent = (event: PartEvent): Exclude<RowKind, 'note' | 'tempo' | 'meter' | 'key' | 'marker'> =>
  event.kind === 'meta' || event.kind === 'sysex' ? 'other' : event.kind;

/** The rows in order of place; those of one place as they stand in the arrangement. O(n log n) over what is let through. */
export const tableRows = (arrangement: Arrangement, filter: TableFilter = {}): readonly TableRow[] => {
  const { parts, kinds, controllers, from = 0, to = Number.POSITIVE_INFINITY, selection } = filter;
  const wants = (kind: RowKind) => !kinds || kinds.has(kind);
  const inside = (tick: number) => tick >= from && tick < to;
  const rows: TableRow[] = [];
  if (!selection && !parts) {
    if (wants('tempo'))
      arrangement.tempos.forEach((tempo, index) => {
        if (inside(tempo.tick)) rows.push({ key: `t${index}`, kind: 'tempo', tick: tempo.tick, tempo, index });
      });
    if (wants('meter'))
      for (const meter of arrangement.meters)
        if (inside(meter.tick)) rows.push({ key: `m${meter.tick}`, kind: 'meter', tick: meter.tick, meter });
    if (wants('key'))
      for (const keyChange of arrangement.keys)
        if (inside(keyChange.tick))
          rows.push({ key: `k${keyChange.tick}`, kind: 'key', tick: keyChange.tick, keyChange });
    if (wants('marker'))
      for (const marker of arrangement.markers)
        if (inside(marker.tick)) rows.push({ key: `r${marker.tick}`, kind: 'marker', tick: marker.tick, marker });
  }
  for (const part of arrangement.parts) {
    if (parts && !parts.has(part.id)) continue;
    const chosen = selection?.get(part.id);
    if (wants('note') && (!selection || chosen))
      for (const note of part.notes)
        if (inside(note.onset) && (!chosen || chosen.has(note.id)))
          rows.push({ key: `n${note.id}`, kind: 'note', tick: note.onset, part, note });
    if (selection) continue;
    for (const event of part.events) {
      const kind = kindOfEvent(event);
      if (!wants(kind) || !inside(event.tick)) continue;
      if (controllers && event.kind === 'controller' && !controllers.has(event.controller)) continue;
      rows.push({ key: `e${event.id}`, kind, tick: event.tick, part, event });
    }
  }
  return rows.sort((a, b) => a.tick - b.tick);
};

/** "What" of a row: "D5", "expression", "text", "4/4". */
export const rowWhat = (row: TableRow): string => {
  switch (row.kind) {
    case 'note':
      return pitchName(row.note.pitch);
    case 'controller':
      return row.event.kind === 'controller'
        ? laneName({ kind: 'controller', controller: row.event.controller }).replace('Controller ', '')
        : '';
    case 'program':
      return row.event.kind === 'program' ? (GM_PROGRAMS[row.event.program] ?? '') : '';
    case 'keyPressure':
      return row.event.kind === 'keyPressure' ? pitchName(row.event.pitch) : '';
    case 'text':
    case 'other':
      return row.event.kind === 'text' || row.event.kind === 'meta' ? `type ${row.event.metaType}` : 'system message';
    default:
      return '';
  }
};

/** The value of a row as a number where it has one, for sorting; the velocity of a note. */
export const rowNumber = (row: TableRow): number => {
  switch (row.kind) {
    case 'note':
      return row.note.velocity;
    case 'tempo':
      return quartersPerMinute(row.tempo.microsecondsPerQuarter);
    // Counted from 1.
    case 'program':
      return row.event.kind === 'program' ? row.event.program + 1 : 0;
    case 'key':
      return row.keyChange.fifths;
    case 'meter':
      return row.meter.numerator;
    case 'marker':
    case 'text':
    case 'other':
      return 0;
    default:
      return 'value' in row.event && typeof row.event.value === 'number' ? row.event.value : 0;
  }
};

/** The value in words. */
export const rowValue = (row: TableRow): string => {
  switch (row.kind) {
    case 'tempo':
      return String(Math.round(rowNumber(row) * 100) / 100);
    case 'meter':
      return `${row.meter.groups?.join('+') ?? row.meter.numerator}/${row.meter.denominator}`;
    case 'key':
      return keyInWords(row.keyChange);
    case 'marker':
      return row.marker.text;
    case 'text':
      return row.event.kind === 'text' ? row.event.text : '';
    case 'other':
      return 'data' in row.event ? `${row.event.data.length} bytes` : '';
    default:
      return String(rowNumber(row));
  }
};

/** A row as a musician says it: "Clarinet, D5, bar 3 beat 2 and 40 ticks, dotted quarter, velocity 84". */
export const rowInWords = (row: TableRow, meterMap: MeterMap, ppq: number): string => {
  const { bar, beat, tick } = barPosition(meterMap, ppq, row.tick);
  const place = `bar ${bar} beat ${beat}${tick > 0 ? ` and ${Math.round(tick)} ticks` : ''}`;
  switch (row.kind) {
    case 'note': {
      const muted = row.note.muted ? ', muted' : '';
      return `${row.part.name}, ${rowWhat(row)}, ${place}, ${lengthInWords(row.note.duration, ppq)}, velocity ${row.note.velocity}${muted}`;
    }
    case 'tempo':
      return `Tempo ${rowValue(row)}, ${place}`;
    case 'meter':
      return `Meter ${rowValue(row)}, ${place}`;
    case 'key':
      return `Key ${rowValue(row)}, ${place}`;
    case 'marker':
      return `Marker ${rowValue(row)}, ${place}`;
    case 'pitchBend':
      return `${row.part.name}, pitch bend ${laneValueInWords({ kind: 'pitchBend' }, rowNumber(row), bendRange(row.part))}, ${place}`;
    default:
      return `${row.part.name}, ${ROW_KIND_NAMES[row.kind]} ${rowWhat(row)} ${rowValue(row)}, ${place}`;
  }
};

/** The words that a typed search looks through. */
export const rowSearch = (row: TableRow): string =>
  `${'part' in row ? row.part.name : ''} ${ROW_KIND_NAMES[row.kind]} ${rowWhat(row)} ${rowValue(row)}`.toLowerCase();

/** The events of chosen rows, part by part. */
export const eventsOfRows = (rows: readonly TableRow[]): ReadonlyMap<PartId, ReadonlySet<EventId>> => {
  const found = new Map<PartId, Set<EventId>>();
  for (const row of rows) {
    if (!('event' in row)) continue;
    const own = found.get(row.part.id) ?? new Set();
    own.add(row.event.id);
    found.set(row.part.id, own);
  }
  return found;
};
