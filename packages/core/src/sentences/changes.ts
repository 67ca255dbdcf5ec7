/** Every change that a sentence can make: how it is said, and what it does. Adding one means its parameters, and one entry here. */
import { editSelected } from '../edits/editSelected.js';
import { deleteNotes } from '../edits/noteEdits.js';
import { stepEdit } from '../edits/stepEdit.js';
import type { Note } from '../model/arrangement.js';
import type { Edit } from '../model/edit.js';
import { intersectionOf, type Selection, turnedRound, unionOf } from '../model/selection.js';
import { sendToPart } from '../parts/handOver.js';
import { planStep } from '../steps/registry.js';
import { milliseconds, noteValue } from '../time/noteLengths.js';
import { ticks } from '../time/units.js';
import { GRID_CHOICES, sameName } from './conditions.js';
import { SentenceReading, type SentenceScene } from './reading.js';
import type { ChangeKind, ChangeParameters, SentenceChange, SentenceField, Wording } from './sentence.js';

/** What a change makes of the notes that were picked. */
export interface Made {
  readonly edit?: Edit | null;
  /** What is selected afterwards, where that changes. */
  readonly selection?: Selection;
  /** What alone is seen afterwards. */
  readonly onlyShown?: Selection;
  /** What a person should know. */
  readonly notice?: string | undefined;
}

/** A kind of change. Its words follow "do". */
export interface ChangeOf<Kind extends ChangeKind> extends Wording<ChangeParameters[Kind]> {
  readonly make: (scene: SentenceScene, picked: Selection, parameters: ChangeParameters[Kind]) => Made;
}

const velocity = (label: string): SentenceField => ({ kind: 'number', label, min: 1, max: 127 });
const length = (label: string): SentenceField => ({ kind: 'length', label });
const plain = { defaults: {}, fields: {} } as const;

const within = (value: number, least: number, most: number): number =>
  Math.max(least, Math.min(most, Math.round(value)));

/** A change of each note by itself. */
const eachNote =
  <Parameters>(change: (note: Note, parameters: Parameters, reading: SentenceReading) => Partial<Note>) =>
  (scene: SentenceScene, picked: Selection, parameters: Parameters): Made => {
    const reading = new SentenceReading(scene);
    return {
      edit: editSelected('Change', scene.arrangement, picked, (note) => ({
        ...note,
        ...change(note, parameters, reading),
      })),
    };
  };

const loudness = <Parameters>(to: (note: Note, parameters: Parameters) => number) =>
  eachNote<Parameters>((note, parameters) => ({ velocity: within(to(note, parameters), 1, 127) }));

const lasting = <Parameters>(to: (note: Note, parameters: Parameters, reading: SentenceReading) => number) =>
  eachNote<Parameters>((note, parameters, reading) => ({
    duration: ticks(Math.max(1, Math.round(to(note, parameters, reading)))),
  }));

const beginning = <Parameters>(to: (note: Note, parameters: Parameters, reading: SentenceReading) => number) =>
  eachNote<Parameters>((note, parameters, reading) => ({
    onset: ticks(Math.max(0, Math.round(to(note, parameters, reading)))),
  }));

/** Moves pitches; what would leave 0 to 127 stays, and is told. */
const pitched =
  <Parameters>(to: (note: Note, parameters: Parameters) => number) =>
  (scene: SentenceScene, picked: Selection, parameters: Parameters): Made => {
    let stayed = 0;
    const edit = editSelected('Change', scene.arrangement, picked, (note) => {
      const pitch = Math.round(to(note, parameters));
      if (pitch >= 0 && pitch <= 127) return { ...note, pitch };
      stayed += 1;
      return note;
    });
    return { edit, notice: stayed > 0 ? `${stayed} stay: they would leave the pitches 0 to 127.` : undefined };
  };

const fromStep = ({ edit, notice, picked }: ReturnType<typeof stepEdit>): Made => ({
  edit,
  notice,
  ...(picked ? { selection: picked } : {}),
});

/** All changes, in the order in which screens offer them. */
export const CHANGES: { readonly [Kind in ChangeKind]: ChangeOf<Kind> } = {
  select: {
    ...plain,
    words: 'select them',
    make: (_, picked) => ({ selection: picked }),
  },
  addToSelection: {
    ...plain,
    words: 'add them to the selection',
    make: ({ selection }, picked) => ({ selection: unionOf(selection, picked) }),
  },
  takeFromSelection: {
    ...plain,
    words: 'take them from the selection',
    make: ({ selection, arrangement }, picked) => ({
      selection: intersectionOf(selection, turnedRound(picked, arrangement.parts)),
    }),
  },
  showOnly: {
    ...plain,
    words: 'show only them',
    make: (_, picked) => ({ onlyShown: picked, selection: picked }),
  },
  delete: {
    ...plain,
    words: 'delete them',
    make: ({ arrangement }, picked) => ({ edit: deleteNotes(arrangement, picked) }),
  },
  mute: { ...plain, words: 'mute them', make: eachNote(() => ({ muted: true })) },
  sound: {
    ...plain,
    words: 'let them sound',
    make: ({ arrangement }, picked) => ({
      edit: editSelected('Change', arrangement, picked, ({ muted: _, ...note }) => note),
    }),
  },
  ontoGrid: {
    words: 'bring starts onto the {grid} grid, {strength} % of the way',
    defaults: { grid: 1 / 16, strength: 100 },
    fields: { grid: GRID_CHOICES, strength: { kind: 'number', label: 'Strength', min: 0, max: 100, unit: '%' } },
    make: beginning((note, { grid, strength }, reading) => {
      const line = reading.gridLine(note.onset, grid);
      return note.onset + ((line - note.onset) * strength) / 100;
    }),
  },
  later: {
    words: 'move them later by {by}',
    defaults: { by: milliseconds(10) },
    fields: { by: length('Later by') },
    make: beginning((note, { by }, reading) => note.onset + reading.ticksOf(by, note.onset)),
  },
  earlier: {
    words: 'move them earlier by {by}',
    defaults: { by: milliseconds(10) },
    fields: { by: length('Earlier by') },
    make: beginning((note, { by }, reading) => note.onset - reading.ticksOf(by, note.onset)),
  },
  setLength: {
    words: 'make them last {to}',
    defaults: { to: noteValue(1 / 16) },
    fields: { to: length('Last') },
    make: lasting((note, { to }, reading) => reading.ticksOf(to, note.onset)),
  },
  multiplyLength: {
    words: 'multiply lengths by {factor}',
    defaults: { factor: 0.5 },
    fields: { factor: { kind: 'number', label: 'Factor', min: 0.01, max: 100 } },
    make: lasting((note, { factor }) => note.duration * factor),
  },
  lengthen: {
    words: 'lengthen by {by}',
    defaults: { by: milliseconds(20) },
    fields: { by: length('Longer by') },
    make: lasting((note, { by }, reading) => note.duration + reading.ticksOf(by, note.onset)),
  },
  shorten: {
    words: 'shorten by {by}',
    defaults: { by: milliseconds(20) },
    fields: { by: length('Shorter by') },
    make: lasting((note, { by }, reading) => note.duration - reading.ticksOf(by, note.onset)),
  },
  lengthAtLeast: {
    words: 'make none shorter than {length}',
    defaults: { length: noteValue(1 / 16) },
    fields: { length: length('No shorter than') },
    make: lasting((note, parameters, reading) =>
      Math.max(note.duration, reading.ticksOf(parameters.length, note.onset)),
    ),
  },
  lengthAtMost: {
    words: 'make none longer than {length}',
    defaults: { length: noteValue(1) },
    fields: { length: length('No longer than') },
    make: lasting((note, parameters, reading) =>
      Math.min(note.duration, reading.ticksOf(parameters.length, note.onset)),
    ),
  },
  setVelocity: {
    words: 'give them velocity {to}',
    defaults: { to: 80 },
    fields: { to: velocity('Velocity') },
    make: loudness((_, { to }) => to),
  },
  addVelocity: {
    words: 'add {by} to their velocity',
    defaults: { by: 10 },
    fields: { by: { kind: 'number', label: 'Add', min: -126, max: 126 } },
    make: loudness((note, { by }) => note.velocity + by),
  },
  multiplyVelocity: {
    words: 'multiply their velocity by {factor}',
    defaults: { factor: 0.8 },
    fields: { factor: { kind: 'number', label: 'Factor', min: 0.01, max: 100 } },
    make: loudness((note, { factor }) => note.velocity * factor),
  },
  velocityAtLeast: {
    words: 'make none softer than {velocity}',
    defaults: { velocity: 30 },
    fields: { velocity: velocity('No softer than') },
    make: loudness((note, parameters) => Math.max(note.velocity, parameters.velocity)),
  },
  velocityAtMost: {
    words: 'make none louder than {velocity}',
    defaults: { velocity: 110 },
    fields: { velocity: velocity('No louder than') },
    make: loudness((note, parameters) => Math.min(note.velocity, parameters.velocity)),
  },
  nearerToNeighbours: {
    words: 'bring their velocity {share} % nearer to their neighbours',
    defaults: { share: 70 },
    fields: { share: { kind: 'number', label: 'Nearer by', min: 1, max: 100, unit: '%' } },
    make: (scene, picked, { share }) => {
      const reading = new SentenceReading(scene);
      return {
        edit: editSelected('Change', scene.arrangement, picked, (note, part) => {
          const beside = reading.neighbourVelocity(part).get(note.id) ?? note.velocity;
          return { ...note, velocity: within(note.velocity + ((beside - note.velocity) * share) / 100, 1, 127) };
        }),
      };
    },
  },
  setPitch: {
    words: 'give them the pitch {to}',
    defaults: { to: 60 },
    fields: { to: { kind: 'pitch', label: 'Pitch' } },
    make: pitched((_, { to }) => to),
  },
  semitones: {
    words: 'transpose by {by} semitones',
    defaults: { by: 12 },
    fields: { by: { kind: 'number', label: 'Semitones', min: -127, max: 127 } },
    make: pitched((note, { by }) => note.pitch + by),
  },
  keySteps: {
    words: 'transpose by {by} steps of the key',
    defaults: { by: 1 },
    fields: { by: { kind: 'number', label: 'Steps', min: -35, max: 35 } },
    make: ({ arrangement }, picked, { by }) => fromStep(stepEdit(arrangement, picked, 'transpose', { steps: by })),
  },
  pitchList: {
    words: 'move pitches by the list {list}',
    defaults: { list: [[40, 38]] },
    fields: { list: { kind: 'pitches', label: 'List of pitches' } },
    make: (scene, picked, { list }) => {
      // Each note moves once, also where the list crosses itself.
      const to = new Map(list);
      return pitched((note) => to.get(note.pitch) ?? note.pitch)(scene, picked, {});
    },
  },
  sendTo: {
    words: 'send them to the part {name}',
    defaults: { name: '' },
    fields: { name: { kind: 'part', label: 'Part' } },
    make: ({ arrangement, reach }, picked, { name }) => {
      const target = arrangement.parts.find((part) => sameName(part.name, name));
      if (!target) return { notice: `There is no part called ${name || '(no name)'}: nothing was sent.` };
      if (!reach.includes(target.id))
        return { notice: `${target.name} is hidden, locked or out of reach: nothing was sent.` };
      const sent = sendToPart(arrangement, picked, target.id);
      return sent ? { edit: sent.edit } : {};
    },
  },
  step: {
    words: 'do {step}',
    defaults: { step: planStep('quantizeStarts') },
    fields: { step: { kind: 'step', label: 'Step' } },
    make: ({ arrangement }, picked, { step }) => fromStep(stepEdit(arrangement, picked, step.step, step.parameters)),
  },
};

/** All kinds of changes, in the order in which screens offer them. */
export const CHANGE_KINDS = Object.keys(CHANGES) as ChangeKind[];

/** A change of a kind as it is when it is first chosen. */
export const newChange = (kind: ChangeKind): SentenceChange =>
  ({ kind, parameters: CHANGES[kind].defaults }) as unknown as SentenceChange;

/** Carries a change of any kind out: see {@link CHANGES}. */
export const makeChange = ({ kind, parameters }: SentenceChange, scene: SentenceScene, picked: Selection): Made =>
  (CHANGES[kind].make as (scene: SentenceScene, picked: Selection, parameters: object) => Made)(
    scene,
    picked,
    parameters,
  );
