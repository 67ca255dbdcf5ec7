/** Every condition: how it is said, and which notes meet it. Adding one means its parameters, and one entry here. */
import { checkOf, FINDING_KINDS } from '../findings/registry.js';
import { INSTRUMENTS, instrumentById, isUnpitched } from '../instruments/instruments.js';
import type { Note, Part } from '../model/arrangement.js';
import { isSelected } from '../model/selection.js';
import { milliseconds, noteValue } from '../time/noteLengths.js';
import type { SentenceReading } from './reading.js';
import type { Condition, ConditionKind, ConditionParameters, SentenceField, Wording } from './sentence.js';

/** A kind of condition. Its words follow "where a note is" (or "is not"). */
export interface ConditionOf<Kind extends ConditionKind> extends Wording<ConditionParameters[Kind]> {
  /** Which notes of a part meet it. */
  readonly meets: (
    reading: SentenceReading,
    parameters: ConditionParameters[Kind],
  ) => (part: Part) => (note: Note) => boolean;
  /** Counts the notes that meet the other conditions of its way: tried after them, part by part, in order of time. */
  readonly last?: true;
}

const velocity = (label: string): SentenceField => ({ kind: 'number', label, min: 1, max: 127 });
const among: SentenceField = {
  kind: 'choice',
  label: 'Among',
  choices: [
    { value: 'part', label: 'in its part' },
    { value: 'reach', label: 'in all parts in reach' },
  ],
};
const length = (label: string): SentenceField => ({ kind: 'length', label });
/** Grids that conditions and changes speak of, as fractions of a whole note. */
export const GRID_CHOICES: SentenceField = {
  kind: 'choice',
  label: 'Grid',
  choices: [
    { value: 1 / 4, label: 'quarter' },
    { value: 1 / 8, label: 'eighth' },
    { value: 1 / 12, label: 'eighth triplet' },
    { value: 1 / 16, label: 'sixteenth' },
    { value: 1 / 24, label: 'sixteenth triplet' },
    { value: 1 / 32, label: 'thirty-second' },
  ],
};
const PITCH_CLASSES = ['C', 'C♯ / D♭', 'D', 'D♯ / E♭', 'E', 'F', 'F♯ / G♭', 'G', 'G♯ / A♭', 'A', 'A♯ / B♭', 'B'];

/** A condition on the note alone. */
const ofNote =
  <Parameters>(meets: (note: Note, parameters: Parameters, reading: SentenceReading) => boolean) =>
  (reading: SentenceReading, parameters: Parameters) =>
  () =>
  (note: Note): boolean =>
    meets(note, parameters, reading);

/** A condition on the part. */
const ofPart =
  <Parameters>(meets: (part: Part, parameters: Parameters) => boolean) =>
  (_reading: SentenceReading, parameters: Parameters) =>
  (part: Part) => {
    const met = meets(part, parameters);
    return () => met;
  };

/** All conditions, in the order in which screens offer them. */
export const CONDITIONS: { readonly [Kind in ConditionKind]: ConditionOf<Kind> } = {
  velocity: {
    words: 'of velocity {from} to {to}',
    defaults: { from: 1, to: 40 },
    fields: { from: velocity('From'), to: velocity('To') },
    meets: ofNote((note, { from, to }) => note.velocity >= from && note.velocity <= to),
  },
  shorter: {
    words: 'shorter than {than}',
    defaults: { than: noteValue(1 / 32) },
    fields: { than: length('Shorter than') },
    meets: ofNote((note, { than }, reading) => note.duration < reading.ticksOf(than, note.onset)),
  },
  longer: {
    words: 'longer than {than}',
    defaults: { than: noteValue(1 / 2) },
    fields: { than: length('Longer than') },
    meets: ofNote((note, { than }, reading) => note.duration > reading.ticksOf(than, note.onset)),
  },
  shorterThanSelected: {
    words: 'shorter than the selected note',
    defaults: {},
    fields: {},
    meets: ofNote((note, _, reading) => note.duration < reading.selectedLength),
  },
  pitch: {
    words: 'of pitch {from} to {to}',
    defaults: { from: 60, to: 72 },
    fields: { from: { kind: 'pitch', label: 'From' }, to: { kind: 'pitch', label: 'To' } },
    meets: ofNote((note, { from, to }) => note.pitch >= from && note.pitch <= to),
  },
  pitchClass: {
    words: 'a {pitchClass} in any octave',
    defaults: { pitchClass: 0 },
    fields: {
      pitchClass: {
        kind: 'choice',
        label: 'Pitch class',
        choices: PITCH_CLASSES.map((label, value) => ({ value, label })),
      },
    },
    meets: ofNote((note, { pitchClass }) => note.pitch % 12 === pitchClass),
  },
  inKey: {
    words: 'in the key',
    defaults: {},
    fields: {},
    // Sounds without pitch are of no key, and so never out of it.
    meets: (reading) => (part) =>
      isUnpitched(instrumentById(part.instrument)) ? () => true : (note) => reading.inKey(note),
  },
  bars: {
    words: 'in bars {from} to {to}',
    defaults: { from: 1, to: 8 },
    fields: {
      from: { kind: 'number', label: 'From bar', min: 0, max: 100_000 },
      to: { kind: 'number', label: 'To bar', min: 0, max: 100_000 },
    },
    meets: ofNote((note, { from, to }, reading) => {
      const bar = reading.barOf(note);
      return bar >= from && bar <= to;
    }),
  },
  onBeat: {
    words: 'on a beat, within {within}',
    defaults: { within: milliseconds(40) },
    fields: { within: length('Within') },
    meets: ofNote((note, { within }, reading) => reading.offBeat(note.onset) <= reading.ticksOf(within, note.onset)),
  },
  offGrid: {
    words: 'off the {grid} grid by more than {moreThan}',
    defaults: { grid: 1 / 16, moreThan: milliseconds(30) },
    fields: { grid: GRID_CHOICES, moreThan: length('More than') },
    meets: ofNote(
      (note, { grid, moreThan }, reading) => reading.offGrid(note.onset, grid) > reading.ticksOf(moreThan, note.onset),
    ),
  },
  chord: {
    words: 'placed in its chord: {place}, {among}, {octaves}',
    defaults: { place: 'bottom', among: 'part', octaves: false },
    fields: {
      place: {
        kind: 'choice',
        label: 'Place',
        choices: [
          { value: 'top', label: 'at the top' },
          { value: 'bottom', label: 'at the bottom' },
          { value: 'inner', label: 'inside' },
          { value: 'alone', label: 'alone' },
        ],
      },
      among,
      octaves: {
        kind: 'choice',
        label: 'Octave doublings',
        choices: [
          { value: false, label: 'without octave doublings' },
          { value: true, label: 'with octave doublings' },
        ],
      },
    },
    meets:
      (reading, { place, among: where, octaves }) =>
      (part) => {
        const chords = reading.chordsOf(part, where);
        return (note) => {
          const own = chords.get(note.id);
          if (!own) return false;
          if (place === 'alone') return own.alone;
          const top = octaves ? own.asTop : own.top;
          const bottom = octaves ? own.asBottom : own.bottom;
          return place === 'top' ? top : place === 'bottom' ? bottom : !own.alone && !top && !bottom;
        };
      },
  },
  overlaps: {
    words: 'over another note of its pitch {among}',
    defaults: { among: 'part' },
    fields: { among },
    meets: (reading, { among: where }) => {
      const found = reading.overlapping(where);
      return () => (note) => found.has(note.id);
    },
  },
  neighbour: {
    words: 'within {within} of another start {pitch} {among}',
    defaults: { within: milliseconds(60), pitch: 'any', among: 'part' },
    fields: {
      within: length('Within'),
      pitch: {
        kind: 'choice',
        label: 'Pitch',
        choices: [
          { value: 'any', label: 'of any pitch' },
          { value: 'same', label: 'of its pitch' },
        ],
      },
      among,
    },
    meets:
      (reading, { within, pitch, among: where }) =>
      (part) =>
      (note) =>
        reading.hasNeighbour(part, note, reading.ticksOf(within, note.onset), pitch, where),
  },
  sticksOut: {
    words: 'sticking out: {way} than its neighbours by more than {by}',
    defaults: { way: 'louder', by: 20 },
    fields: {
      way: {
        kind: 'choice',
        label: 'Way',
        choices: [
          { value: 'louder', label: 'louder' },
          { value: 'softer', label: 'softer' },
        ],
      },
      by: { kind: 'number', label: 'By more than', min: 1, max: 126 },
    },
    meets:
      (reading, { way, by }) =>
      (part) => {
        const beside = reading.neighbourVelocity(part);
        return (note) => {
          const out = note.velocity - (beside.get(note.id) ?? note.velocity);
          return (way === 'louder' ? out : -out) > by;
        };
      },
  },
  part: {
    words: 'in the part {name}',
    defaults: { name: '' },
    fields: { name: { kind: 'part', label: 'Part' } },
    meets: ofPart((part, { name }) => sameName(part.name, name)),
  },
  instrument: {
    words: 'in a part for {instrument}',
    defaults: { instrument: 'flute' },
    fields: {
      instrument: {
        kind: 'choice',
        label: 'Instrument',
        choices: INSTRUMENTS.map(({ id, name }) => ({ value: id, label: name })),
      },
    },
    meets: ofPart((part, { instrument }) => part.instrument === instrument),
  },
  channel: {
    words: 'on channel {channel}',
    defaults: { channel: 1 },
    fields: { channel: { kind: 'number', label: 'Channel', min: 1, max: 16 } },
    meets: ofNote((note, { channel }) => note.channel === channel - 1),
  },
  voice: {
    words: 'in voice {voice} of its staff',
    defaults: { voice: 1 },
    fields: { voice: { kind: 'number', label: 'Voice', min: 1, max: 4 } },
    meets:
      (reading, { voice }) =>
      (part) => {
        const voices = reading.voices(part);
        return (note) => voices.get(note.id)?.voice === voice;
      },
  },
  hand: {
    words: 'in the {hand} hand',
    defaults: { hand: 'right' },
    fields: {
      hand: {
        kind: 'choice',
        label: 'Hand',
        choices: [
          { value: 'right', label: 'right' },
          { value: 'left', label: 'left' },
        ],
      },
    },
    meets:
      (reading, { hand }) =>
      (part) => {
        const voices = reading.voices(part);
        const staff = hand === 'right' ? 1 : 2;
        return reading.twoHanded(part).is ? (note) => voices.get(note.id)?.staff === staff : () => false;
      },
  },
  staff: {
    words: 'on the {staff} staff',
    defaults: { staff: 1 },
    fields: {
      staff: {
        kind: 'choice',
        label: 'Staff',
        choices: [
          { value: 1, label: 'upper (or only)' },
          { value: 2, label: 'lower' },
        ],
      },
    },
    meets:
      (reading, { staff }) =>
      (part) => {
        const voices = reading.voices(part);
        return (note) => (voices.get(note.id)?.staff ?? 1) === staff;
      },
  },
  finding: {
    words: 'found by the check “{finding}”',
    defaults: { finding: 'doubles' },
    fields: {
      finding: {
        kind: 'choice',
        label: 'Finding',
        choices: FINDING_KINDS.map((kind) => ({ value: kind, label: checkOf(kind).name })),
      },
    },
    meets:
      (reading, { finding }) =>
      (part) => {
        const ids = new Set(reading.findings(part).flatMap((one) => (one.kind === finding ? one.noteIds : [])));
        return (note) => ids.has(note.id);
      },
  },
  selected: {
    words: 'selected',
    defaults: {},
    fields: {},
    meets: (reading) => (part) => (note) => isSelected(reading.selection, part.id, note.id),
  },
  muted: {
    words: 'muted',
    defaults: {},
    fields: {},
    meets: ofNote((note) => note.muted === true),
  },
  everyNth: {
    words: 'number {first} of every {n} {of}',
    defaults: { n: 2, first: 1, of: 'all' },
    fields: {
      first: { kind: 'number', label: 'Which of them', min: 1, max: 1000 },
      n: { kind: 'number', label: 'Of every', min: 1, max: 1000 },
      of: {
        kind: 'choice',
        label: 'Counting',
        choices: [
          { value: 'all', label: 'in order of time' },
          { value: 'pitch', label: 'of one pitch' },
        ],
      },
    },
    last: true,
    meets:
      (_, { n, first, of }) =>
      () => {
        const counts = new Map<number, number>();
        return (note) => {
          const key = of === 'pitch' ? note.pitch : -1;
          const count = counts.get(key) ?? 0;
          counts.set(key, count + 1);
          return count % n === (first - 1) % n;
        };
      },
  },
};

/** True where two names of parts are the same to a person. */
export const sameName = (a: string, b: string): boolean => a.trim().toLowerCase() === b.trim().toLowerCase();

/** All kinds of conditions, in the order in which screens offer them. */
export const CONDITION_KINDS = Object.keys(CONDITIONS) as ConditionKind[];

/** A condition of a kind as it is when it is first chosen. */
export const newCondition = <Kind extends ConditionKind>(kind: Kind): Condition =>
  ({ kind, not: false, parameters: CONDITIONS[kind].defaults }) as unknown as Condition;

/** A condition of any kind with its test: true of each kind, but not seen by the compiler where the kind is a type. */
export const testOf = (
  { kind, parameters }: Condition,
  reading: SentenceReading,
): ((part: Part) => (note: Note) => boolean) =>
  (CONDITIONS[kind].meets as (reading: SentenceReading, parameters: object) => (part: Part) => (note: Note) => boolean)(
    reading,
    parameters,
  );
