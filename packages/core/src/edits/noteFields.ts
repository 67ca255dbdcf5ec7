/**
 * The fields of a note as a person types into them: a value, or what is added, taken away, multiplied or divided. One note
 * or many; what cannot be is kept within bounds and counted.
 */
import { type Arrangement, endOf, type Note } from '../model/arrangement.js';
import type { Edit } from '../model/edit.js';
import { MOST_BARS } from '../model/limits.js';
import { failure, type Result, success } from '../model/result.js';
import type { Selection } from '../model/selection.js';
import { chosenNaming, countOfNotes, type Naming, pitchName } from '../reading/noteWords.js';
import {
  barPosition,
  createMeterMap,
  createPlaces,
  type MeterMap,
  placeInNumbers,
  tickOfPlace,
} from '../time/meterMap.js';
import { type Length, lengthInTicks } from '../time/noteLengths.js';
import { createTempoMap, type TempoMap } from '../time/tempoMap.js';
import { ticks } from '../time/units.js';
import { allSelected, editSelected } from './editSelected.js';
import { beyondLongest } from './longest.js';

/** What can be typed. `bar`, `beat` and `tick` are the pieces of the start, each changed with the others kept. */
export type NoteField = 'pitch' | 'start' | 'bar' | 'beat' | 'tick' | 'end' | 'length' | 'velocity' | 'channel';

/** What a typed text means: a value, so much more, or so many times. */
export type FieldEntry =
  | { readonly kind: 'set'; readonly value: number }
  | { readonly kind: 'setLength'; readonly length: Length }
  | { readonly kind: 'place'; readonly bar: number; readonly beat: number | null; readonly tick: number }
  | { readonly kind: 'add'; readonly amount: Length }
  | { readonly kind: 'times'; readonly factor: number };

/** Steps by name, lowest first from C; in German style "b" is a step of its own. */
const STEPS: { readonly [names in Naming['names']]: { readonly [name: string]: number } } = {
  english: { c: 0, d: 2, e: 4, f: 5, g: 7, a: 9, b: 11 },
  german: { c: 0, d: 2, e: 4, f: 5, g: 7, a: 9, b: 10, h: 11 },
  solfège: { do: 0, re: 2, mi: 4, fa: 5, sol: 7, la: 9, si: 11 },
};
/** What raises or lowers a step by a semitone. */
const SIGNS: { readonly [sign: string]: number } = { '#': 1, '♯': 1, '♭': -1, b: -1 };
/** …and in German style as the end of the name; es and as leave its vowel out. */
const ENDINGS: { readonly [ending: string]: number } = { is: 1, isis: 2, es: -1, eses: -2, s: -1, ses: -2 };

const alterationOf = (text: string, names: Naming['names']): number | undefined => {
  if (names === 'german' && text !== '') {
    const ending = ENDINGS[text.toLowerCase()];
    if (ending !== undefined) return ending;
  }
  const signs = [...text].map((sign) => SIGNS[sign]);
  return signs.length > 2 || signs.includes(undefined)
    ? undefined
    : signs.reduce<number>((sum, by) => sum + (by ?? 0), 0);
};

/** "F#3", "B♭2", "c4" or "60", in the naming chosen, as a pitch 0 to 127; undefined for anything else. */
export const pitchOfText = (text: string): number | undefined => {
  const { names, middleC } = chosenNaming();
  const typed = text.trim();
  if (/^\d{1,3}$/.test(typed)) return Number(typed) <= 127 ? Number(typed) : undefined;
  const steps = STEPS[names];
  const found = /^(\D+?)(-?\d{1,2})$/.exec(typed);
  if (!found) return undefined;
  const [, name = '', octave = ''] = found;
  const step = Object.keys(steps).find(
    (one) => name.toLowerCase().startsWith(one) && alterationOf(name.slice(one.length), names) !== undefined,
  );
  if (step === undefined) return undefined;
  const alter = alterationOf(name.slice(step.length), names) ?? 0;
  const pitch = (steps[step] as number) + alter + (Number(octave) + 5 - middleC) * 12;
  return pitch >= 0 && pitch <= 127 ? pitch : undefined;
};

/** "240", "250 ms", "1/8", "1/8." (dotted), "1/8t" (of a triplet) as a length; undefined for anything else. */
export const lengthOfText = (text: string): Length | undefined => {
  const value = /^1\/(1|2|4|8|16|32|64)\s*([.t]?)$/i.exec(text.trim());
  if (value) {
    const more = value[2] === '.' ? 1.5 : value[2] ? 2 / 3 : 1;
    return { unit: 'note', value: more / Number(value[1]) };
  }
  const plain = /^(\d+(?:\.\d+)?)\s*(ms|ticks?)?$/i.exec(text.trim());
  if (!plain) return undefined;
  return { unit: plain[2]?.toLowerCase() === 'ms' ? 'ms' : 'ticks', value: Number(plain[1]) };
};

/** Fields that can be multiplied: those whose zero means something. */
const SCALABLE: ReadonlySet<NoteField> = new Set(['length', 'velocity']);
/** Fields that are lengths of time when something is added. */
const TIMES: ReadonlySet<NoteField> = new Set(['start', 'end', 'length']);

const BOUNDS: { readonly [Field in NoteField]?: readonly [least: number, most: number, words: string] } = {
  velocity: [1, 127, 'A velocity is a number from 1 to 127.'],
  channel: [1, 16, 'A channel is a number from 1 to 16.'],
  bar: [0, MOST_BARS, `A bar is a number from 1 (a pickup is 0) to ${MOST_BARS.toLocaleString('en')}.`],
  beat: [1, 64, 'A beat is a number from 1.'],
  tick: [0, 100_000, 'Ticks past the beat are a number from 0.'],
};

const relativeEntry = (field: NoteField, sign: string, rest: string): Result<FieldEntry> => {
  if (sign === '*' || sign === '/') {
    const factor = Number(rest);
    if (!SCALABLE.has(field)) {
      return failure('no-factor', `Only lengths and velocities can be multiplied: add or take away with + or -.`);
    }
    if (!rest || !Number.isFinite(factor) || factor <= 0 || factor > 1000) {
      return failure('bad-factor', `${sign}${rest} makes no sense here: use a number above 0, as in *0.5 or /2.`);
    }
    return success({ kind: 'times', factor: sign === '*' ? factor : 1 / factor });
  }
  const amount = lengthOfText(rest);
  if (!amount || (!TIMES.has(field) && (amount.unit !== 'ticks' || !Number.isInteger(amount.value)))) {
    return failure(
      'bad-amount',
      TIMES.has(field)
        ? `After ${sign} comes a number of ticks, of milliseconds (10 ms) or a value (1/16).`
        : `After ${sign} comes a whole number.`,
    );
  }
  const value = sign === '+' ? amount.value : -amount.value;
  return success({ kind: 'add', amount: { ...amount, value } });
};

const placeEntry = (text: string): Result<FieldEntry> => {
  const found = /^(\d+)(?:[.:](\d+))?(?:[.:](\d+))?$/.exec(text);
  const [bar, tick] = [Number(found?.[1]), Number(found?.[3] ?? 0)];
  const beat = found?.[2] === undefined ? null : Number(found[2]);
  if (!found || beat === 0) {
    return failure('bad-place', 'A place is a bar, a beat and ticks, as in 3.2.120, or 3.2, or 3.');
  }
  if (bar > MOST_BARS) return failure('too-far', `A piece has at most ${MOST_BARS.toLocaleString('en')} bars.`);
  return success({ kind: 'place', bar, beat, tick });
};

/** Reads what was typed into a field; the problem says in words what would be understood. */
export const readFieldEntry = (field: NoteField, typed: string): Result<FieldEntry> => {
  const text = typed.trim();
  const relative = /^([+\-−*×/])\s*(.*)$/.exec(text);
  if (relative) {
    const sign = { '−': '-', '×': '*' }[relative[1] as string] ?? (relative[1] as string);
    return relativeEntry(field, sign, relative[2] as string);
  }
  switch (field) {
    case 'pitch': {
      const pitch = pitchOfText(text);
      return pitch === undefined
        ? failure(
            'bad-pitch',
            `A pitch is a name with its octave, as in ${[60, 54, 46].map(pitchName).join(', ')}, or a number from 0 to 127.`,
          )
        : success({ kind: 'set', value: pitch });
    }
    case 'start':
    case 'end':
      return placeEntry(text);
    case 'length': {
      const length = lengthOfText(text);
      return length && length.value > 0
        ? success({ kind: 'setLength', length })
        : failure(
            'bad-length',
            'A length is a number of ticks, of milliseconds (250 ms), or a value (1/8, 1/8., 1/8t).',
          );
    }
    case 'velocity':
    case 'channel':
    case 'bar':
    case 'beat':
    case 'tick': {
      const [least, most, words] = BOUNDS[field] as readonly [number, number, string];
      const value = /^\d+$/.test(text) ? Number(text) : Number.NaN;
      return value >= least && value <= most ? success({ kind: 'set', value }) : failure('bad-number', words);
    }
    default:
      return field satisfies never;
  }
};

interface Maps {
  readonly ppq: number;
  readonly meterMap: MeterMap;
  readonly tempoMap: TempoMap;
}

const amountInTicks = (amount: Length, at: number, { ppq, tempoMap }: Maps): number =>
  Math.round(lengthInTicks(amount, ppq, tempoMap.ticksPerMillisecond(at)));

/** The tick of a place that was typed, "3.2.120", "3.2" or "3"; the problem in words where it is none or there is none such. */
export const placeTyped = (meterMap: MeterMap, ppq: number, typed: string): Result<number> => {
  const entry = readFieldEntry('start', typed);
  if (!entry.ok) return entry;
  const tick = entry.value.kind === 'place' ? tickOfPlace(meterMap, ppq, entry.value) : null;
  if (tick !== null) return success(tick);
  return entry.value.kind === 'place'
    ? failure('no-beat', 'There is no such bar or beat.')
    : failure('bad-place', 'Type a place: a bar, a beat and ticks, as in 3.2.120, or 3.2, or 3.');
};

/** The place of a note's start with one piece of it changed; null where there is none. */
const pieceChanged = (note: Note, field: 'bar' | 'beat' | 'tick', entry: FieldEntry, maps: Maps): number | null => {
  const place = barPosition(maps.meterMap, maps.ppq, note.onset);
  const value =
    entry.kind === 'add' ? place[field] + entry.amount.value : entry.kind === 'set' ? entry.value : Number.NaN;
  const least = field === 'beat' ? 1 : field === 'bar' ? maps.meterMap.barAt(0).number : 0;
  return tickOfPlace(maps.meterMap, maps.ppq, { ...place, [field]: Math.max(least, value) });
};

/** The value a field would get, before it is kept within bounds; null where it cannot be. */
const wanted = (note: Note, field: NoteField, entry: FieldEntry, maps: Maps): number | null => {
  if (field === 'bar' || field === 'beat' || field === 'tick') return pieceChanged(note, field, entry, maps);
  const now = fieldValue(note, field);
  switch (entry.kind) {
    case 'set':
      return field === 'channel' ? entry.value - 1 : entry.value;
    case 'setLength':
      return amountInTicks(entry.length, note.onset, maps);
    case 'place':
      return tickOfPlace(maps.meterMap, maps.ppq, entry);
    case 'add':
      return now + (TIMES.has(field) ? amountInTicks(entry.amount, note.onset, maps) : entry.amount.value);
    case 'times':
      return Math.round(now * entry.factor);
    default:
      return entry satisfies never;
  }
};

const fieldValue = (note: Note, field: Exclude<NoteField, 'bar' | 'beat' | 'tick'>): number => {
  switch (field) {
    case 'pitch':
      return note.pitch;
    case 'start':
      return note.onset;
    case 'end':
      return endOf(note);
    case 'length':
      return note.duration;
    case 'velocity':
      return note.velocity;
    case 'channel':
      return note.channel;
    default:
      return field satisfies never;
  }
};

const clamp = (value: number, least: number, most: number): number => Math.max(least, Math.min(most, value));

/** The note with a field at a value, and whether that had to be kept within bounds. */
const withField = (note: Note, field: NoteField, value: number): { note: Note; clamped: boolean } => {
  switch (field) {
    case 'pitch': {
      const pitch = clamp(value, 0, 127);
      return { note: { ...note, pitch }, clamped: pitch !== value };
    }
    case 'start':
    case 'bar':
    case 'beat':
    case 'tick': {
      const onset = Math.max(0, value);
      return { note: { ...note, onset: ticks(onset) }, clamped: onset !== value };
    }
    case 'end': {
      const duration = Math.max(1, value - note.onset);
      return { note: { ...note, duration: ticks(duration) }, clamped: duration !== value - note.onset };
    }
    case 'length': {
      const duration = Math.max(1, value);
      return { note: { ...note, duration: ticks(duration) }, clamped: duration !== value };
    }
    case 'velocity': {
      const velocity = clamp(value, 1, 127);
      return { note: { ...note, velocity }, clamped: velocity !== value };
    }
    case 'channel': {
      const channel = clamp(value, 0, 15);
      return { note: { ...note, channel }, clamped: channel !== value };
    }
    default:
      return field satisfies never;
  }
};

const FIELD_VERBS: { readonly [Field in NoteField]: string } = {
  pitch: 'Set pitch',
  start: 'Set start',
  bar: 'Set start',
  beat: 'Set start',
  tick: 'Set start',
  end: 'Set end',
  length: 'Set lengths',
  velocity: 'Loudness',
  channel: 'Set channel',
};

/** What an entry would do. */
export interface FieldEdit {
  /** Null where nothing differs. */
  readonly edit: Edit | null;
  /** What was kept within bounds, or could not be, in words; empty where all went as typed. */
  readonly notice: string;
}

/** Carries out an entry on every selected note; fails where none can take it, or where the piece would grow too long. */
export const changeField = (
  arrangement: Arrangement,
  selection: Selection,
  field: NoteField,
  entry: FieldEntry,
): Result<FieldEdit> => {
  const { ppq } = arrangement;
  const maps: Maps = {
    ppq,
    meterMap: createMeterMap(arrangement.meters, ppq),
    tempoMap: createTempoMap(arrangement.tempos, ppq),
  };
  let [clamped, without, last, count] = [0, 0, 0, 0];
  const edit = editSelected(FIELD_VERBS[field], arrangement, selection, (note) => {
    count += 1;
    const value = wanted(note, field, entry, maps);
    if (value === null) {
      without += 1;
      return note;
    }
    const made = withField(note, field, value);
    if (made.clamped) clamped += 1;
    last = Math.max(last, endOf(made.note));
    return made.note;
  });
  if (count > 0 && without === count) return failure('no-beat', 'There is no such bar or beat. Nothing was changed.');
  const problem = beyondLongest(arrangement, last);
  if (problem) return failure('too-long', problem);
  const notices = [
    ...(clamped > 0 ? [`${countOfNotes(clamped)} kept within what can be.`] : []),
    ...(without > 0 ? [`${countOfNotes(without)} left: there is no such bar or beat.`] : []),
  ];
  return success({ edit, notice: notices.join(' ') });
};

/** What a field says of several notes: one value, or the span from the least to the greatest. */
export interface FieldSpan {
  readonly least: number;
  readonly most: number;
}

/** The spans of all fields over the selected notes; none for no notes. Channels count from 1. */
export const fieldSpans = (arrangement: Arrangement, selection: Selection): ReadonlyMap<NoteField, FieldSpan> => {
  const placeOf = createPlaces(createMeterMap(arrangement.meters, arrangement.ppq), arrangement.ppq);
  const spans = new Map<NoteField, { least: number; most: number }>();
  const take = (field: NoteField, value: number) => {
    const span = spans.get(field);
    if (!span) spans.set(field, { least: value, most: value });
    else if (value < span.least) span.least = value;
    else if (value > span.most) span.most = value;
  };
  for (const note of allSelected(arrangement, selection)) {
    const { bar, beat, tick } = placeOf(note.onset);
    take('pitch', note.pitch);
    take('start', note.onset);
    take('bar', bar);
    take('beat', beat);
    take('tick', tick);
    take('end', endOf(note));
    take('length', note.duration);
    take('velocity', note.velocity);
    take('channel', note.channel + 1);
  }
  return spans;
};

/** A value of a field in words: a pitch by name, a place as 3.2.120, a number else. */
export const fieldText = (arrangement: Arrangement, field: NoteField, value: number): string => {
  if (field === 'pitch') return pitchName(value);
  if (field !== 'start' && field !== 'end') return String(value);
  return placeInNumbers(createMeterMap(arrangement.meters, arrangement.ppq), arrangement.ppq, value);
};
