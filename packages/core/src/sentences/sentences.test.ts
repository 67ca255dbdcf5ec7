import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Arrangement, Note, Part } from '../model/arrangement.js';
import { applyEdit, invertEdit } from '../model/edit.js';
import { NOTHING, type Selection, selectionOf, selectionSize } from '../model/selection.js';
import { planStep } from '../steps/registry.js';
import { cases } from '../testing/cases.js';
import { arrangementWith, note, partWith } from '../testing/kit.js';
import { milliseconds, noteValue } from '../time/noteLengths.js';
import { ticks } from '../time/units.js';
import { CHANGE_KINDS, newChange } from './changes.js';
import { CONDITION_KINDS, newCondition } from './conditions.js';
import { matchedBy } from './match.js';
import type { SentenceScene } from './reading.js';
import { READY_SENTENCES } from './readySentences.js';
import { countSentence, runSentence } from './run.js';
import type {
  ChangeKind,
  ChangeParameters,
  Condition,
  ConditionKind,
  ConditionParameters,
  SentenceChange,
} from './sentence.js';
import { lineInWords, pitchListFromText, problemsOf } from './words.js';

const is = <Kind extends ConditionKind>(kind: Kind, parameters: ConditionParameters[Kind], not = false): Condition =>
  ({ kind, not, parameters }) as unknown as Condition;
const to = <Kind extends ChangeKind>(kind: Kind, parameters: ChangeParameters[Kind]): SentenceChange =>
  ({ kind, parameters }) as unknown as SentenceChange;
/** "72@480" for each note that is picked, part by part. */
const picked = ({ parts }: Arrangement, selection: Selection): string[] =>
  parts.flatMap((part) =>
    part.notes.filter((n) => selection.get(part.id)?.has(n.id)).map((n) => `${n.pitch}@${n.onset}`),
  );
const sceneOf = (
  parts: readonly Part[],
  more: Partial<SentenceScene> = {},
  about: Partial<Arrangement> = {},
): SentenceScene => ({
  arrangement: arrangementWith(parts, about),
  reach: parts.map((part) => part.id),
  selection: NOTHING,
  onlyShown: null,
  ...more,
});
const found = (scene: SentenceScene, ...way: Condition[]) =>
  picked(scene.arrangement, matchedBy(scene, { where: [way] }));
/** At 480 PPQ a tick is a millisecond here, a quarter 480, a bar 1920. */
const one = (notes: Note[], more: Partial<Part> = {}) => sceneOf([partWith(notes, more)]);

/** A worked example for each condition: the music, the condition, and what it picks. */
const EXAMPLES: { readonly [Kind in ConditionKind]: () => void } = {
  velocity: () => {
    const scene = one([note(60, 0, 10, { velocity: 40 }), note(62, 10, 10, { velocity: 41 })]);
    expect(found(scene, is('velocity', { from: 1, to: 40 }))).toEqual(['60@0']);
    expect(found(scene, is('velocity', { from: 1, to: 40 }, true))).toEqual(['62@10']);
  },
  shorter: () => {
    const scene = one([note(60, 0, 59), note(62, 100, 60)]);
    expect(found(scene, is('shorter', { than: noteValue(1 / 32) }))).toEqual(['60@0']);
    expect(found(scene, is('shorter', { than: milliseconds(61) }))).toHaveLength(2);
  },
  longer: () => {
    const scene = one([note(60, 0, 960), note(62, 0, 961)]);
    expect(found(scene, is('longer', { than: noteValue(1 / 2) }))).toEqual(['62@0']);
  },
  shorterThanSelected: () => {
    const notes = [note(60, 0, 100), note(62, 200, 99), note(64, 400, 500)];
    const scene = { ...one(notes), selection: selectionOf(1, [notes[0]?.id ?? 0, notes[2]?.id ?? 0]) };
    expect(found(scene, is('shorterThanSelected', {}))).toEqual(['62@200']);
    expect(found({ ...scene, selection: NOTHING }, is('shorterThanSelected', {}))).toEqual([]);
  },
  pitch: () => {
    const scene = one([note(59, 0, 10), note(60, 0, 10), note(72, 0, 10), note(73, 0, 10)]);
    expect(found(scene, is('pitch', { from: 60, to: 72 }))).toEqual(['60@0', '72@0']);
  },
  pitchClass: () => {
    const scene = one([note(49, 0, 10), note(60, 0, 10), note(61, 0, 10)]);
    expect(found(scene, is('pitchClass', { pitchClass: 1 }))).toEqual(['49@0', '61@0']);
  },
  inKey: () => {
    // Two flats until bar 2, then three sharps.
    const keys = [
      { tick: ticks(0), fifths: -2, minor: false },
      { tick: ticks(1920), fifths: 3, minor: false },
    ];
    const notes = [note(58, 0, 10), note(59, 0, 10), note(58, 1920, 10), note(68, 1920, 10)];
    expect(found(sceneOf([partWith(notes)], {}, { keys }), is('inKey', {}))).toEqual(['58@0', '68@1920']);
  },
  bars: () => {
    // One that comes a little early counts for its bar.
    const scene = one([note(60, 0, 10), note(62, 1900, 10), note(64, 3800, 10)]);
    expect(found(scene, is('bars', { from: 2, to: 2 }))).toEqual(['62@1900']);
  },
  onBeat: () => {
    const scene = one([note(60, 0, 10), note(62, 520, 10), note(64, 700, 10), note(65, 1885, 10)]);
    expect(found(scene, is('onBeat', { within: milliseconds(40) }))).toEqual(['60@0', '62@520', '65@1885']);
  },
  offGrid: () => {
    const scene = one([note(60, 0, 10), note(62, 151, 10), note(64, 150, 10), note(65, 1890, 10), note(66, 1889, 10)]);
    expect(found(scene, is('offGrid', { grid: 1 / 16, moreThan: milliseconds(30) }))).toEqual(['62@151', '66@1889']);
  },
  chord: () => {
    const scene = sceneOf([
      partWith([note(48, 0, 100), note(60, 5, 100), note(64, 8, 100), note(72, 9, 100), note(67, 480, 100)], { id: 1 }),
      partWith([note(40, 4, 100)], { id: 2 }),
    ]);
    const at = (place: 'top' | 'bottom' | 'inner' | 'alone', octaves = false, among: 'part' | 'reach' = 'part') =>
      found(scene, is('chord', { place, among, octaves }));
    expect(at('top')).toEqual(['72@9']);
    expect(at('bottom')).toEqual(['48@0']);
    expect(at('bottom', true)).toEqual(['48@0', '60@5', '72@9']);
    expect(at('inner')).toEqual(['60@5', '64@8']);
    expect(at('alone')).toEqual(['67@480', '40@4']);
    expect(at('bottom', false, 'reach')).toEqual(['40@4']);
  },
  overlaps: () => {
    const scene = sceneOf([
      partWith([note(60, 0, 100), note(60, 99, 50), note(62, 0, 99), note(62, 99, 5)], { id: 1 }),
      partWith([note(62, 50, 20)], { id: 2 }),
    ]);
    expect(found(scene, is('overlaps', { among: 'part' }))).toEqual(['60@0', '60@99']);
    expect(found(scene, is('overlaps', { among: 'reach' })).sort()).toEqual(['60@0', '60@99', '62@0', '62@50']);
  },
  neighbour: () => {
    const scene = sceneOf([
      partWith([note(60, 0, 10), note(62, 60, 10), note(60, 121, 10)], { id: 1 }),
      partWith([note(60, 30, 10)], { id: 2 }),
    ]);
    const near = (pitch: 'any' | 'same', among: 'part' | 'reach') =>
      found(scene, is('neighbour', { within: milliseconds(60), pitch, among }));
    expect(near('any', 'part')).toEqual(['60@0', '62@60']);
    expect(near('same', 'part')).toEqual([]);
    expect(near('same', 'reach')).toEqual(['60@0', '60@30']);
  },
  sticksOut: () => {
    const scene = one([50, 52, 90, 51, 20].map((velocity, at) => note(60, at * 100, 10, { velocity })));
    expect(found(scene, is('sticksOut', { way: 'louder', by: 20 }))).toEqual(['60@200']);
    expect(found(scene, is('sticksOut', { way: 'softer', by: 20 }))).toEqual(['60@400']);
  },
  part: () => {
    const scene = sceneOf([
      partWith([note(60, 0, 10)], { name: 'Flute' }),
      partWith([note(62, 0, 10)], { id: 2, name: 'Oboe' }),
    ]);
    expect(found(scene, is('part', { name: ' oboe' }))).toEqual(['62@0']);
  },
  instrument: () => {
    const scene = sceneOf([partWith([note(60, 0, 10)]), partWith([note(62, 0, 10)], { id: 2, instrument: 'horn' })]);
    expect(found(scene, is('instrument', { instrument: 'horn' }))).toEqual(['62@0']);
  },
  channel: () => {
    expect(found(one([note(60, 0, 10), note(62, 0, 10, { channel: 9 })]), is('channel', { channel: 10 }))).toEqual([
      '62@0',
    ]);
  },
  voice: () => {
    const held = note(48, 0, 1920);
    const scene = one([held, note(72, 0, 480), note(74, 480, 480), note(76, 960, 480), note(77, 1440, 480)], {
      instrument: 'vibraphone',
    });
    expect(found(scene, is('voice', { voice: 2 }))).toEqual(['48@0']);
    // What a person said goes before what was read.
    const corrected = one(scene.arrangement.parts[0]?.notes.slice() as Note[], {
      instrument: 'vibraphone',
      overrides: { version: 1, list: [{ kind: 'voice', noteId: held.id, voice: 3 }] },
    });
    expect(found(corrected, is('voice', { voice: 3 }))).toEqual(['48@0']);
  },
  hand: () => {
    const notes = [0, 480, 960, 1440].flatMap((at) => [note(40, at, 400), note(76, at, 400)]);
    const scene = one(notes, { instrument: 'piano' });
    expect(found(scene, is('hand', { hand: 'left' })).every((words) => words.startsWith('40'))).toBe(true);
    expect(found(scene, is('hand', { hand: 'right' }))).toHaveLength(4);
    expect(found(one(notes), is('hand', { hand: 'right' }))).toEqual([]);
  },
  staff: () => {
    const notes = [0, 480, 960, 1440].flatMap((at) => [note(40, at, 400), note(76, at, 400)]);
    expect(found(one(notes, { instrument: 'piano' }), is('staff', { staff: 2 }))).toHaveLength(4);
    expect(found(one(notes), is('staff', { staff: 1 }))).toHaveLength(8);
  },
  finding: () => {
    const notes = [note(60, 0, 400), note(60, 4, 300), note(67, 480, 400)];
    expect(found(one(notes), is('finding', { finding: 'doubles' }))).toContain('60@4');
    const [kept] = [notes[0] as Note];
    const dismissed = [
      `doubles:${notes[1]?.id}`,
      `doubles:${kept.id}`,
      `doubles:${kept.id}.${notes[1]?.id}`,
      `doubles:${notes[1]?.id}.${kept.id}`,
    ];
    expect(found(one(notes, { dismissed }), is('finding', { finding: 'doubles' }))).toEqual([]);
  },
  selected: () => {
    const notes = [note(60, 0, 10), note(62, 0, 10)];
    expect(found({ ...one(notes), selection: selectionOf(1, [notes[1]?.id ?? 0]) }, is('selected', {}))).toEqual([
      '62@0',
    ]);
  },
  muted: () => {
    expect(found(one([note(60, 0, 10), note(62, 0, 10, { muted: true })]), is('muted', {}))).toEqual(['62@0']);
  },
  everyNth: () => {
    const scene = one([60, 62, 60, 60, 62, 60].map((pitch, at) => note(pitch, at * 100, 10)));
    expect(found(scene, is('everyNth', { n: 2, first: 1, of: 'all' }))).toEqual(['60@0', '60@200', '62@400']);
    expect(found(scene, is('everyNth', { n: 2, first: 2, of: 'pitch' }))).toEqual(['60@200', '62@400', '60@500']);
    // It counts what the other conditions leave, wherever it stands among them.
    expect(found(scene, is('everyNth', { n: 2, first: 2, of: 'all' }), is('pitch', { from: 60, to: 60 }))).toEqual([
      '60@200',
      '60@500',
    ]);
  },
};

describe('conditions', () => {
  it.each(CONDITION_KINDS)('%s picks what its example says', (kind) => EXAMPLES[kind]());

  it('are joined by and, or, not; none at all means every note in reach', () => {
    const scene = sceneOf([
      partWith([
        note(60, 0, 10, { velocity: 20 }),
        note(62, 100, 10, { velocity: 90 }),
        note(64, 200, 10, { muted: true }),
      ]),
      partWith([note(70, 0, 10)], { id: 2 }),
    ]);
    const soft = is('velocity', { from: 1, to: 40 });
    const at = (where: readonly (readonly Condition[])[]) => picked(scene.arrangement, matchedBy(scene, { where }));
    expect(at([[soft], [is('muted', {})]])).toEqual(['60@0', '64@200']);
    expect(at([[soft, is('muted', {})]])).toEqual([]);
    expect(at([])).toHaveLength(4);
    expect(at([[]])).toHaveLength(4);
    expect(picked(scene.arrangement, matchedBy({ ...scene, reach: [2] }, { where: [] }))).toEqual(['70@0']);
  });

  it('with their defaults are all carried out on any notes', () => {
    const scene = one([note(60, 0, 10), note(62, 0, 10)]);
    for (const kind of CONDITION_KINDS) expect(() => found(scene, newCondition(kind))).not.toThrow();
  });
});

/** What a change makes of two notes: pitch, onset, duration, velocity, muted. */
const madeOf = (change: SentenceChange, notes: Note[], more: Partial<SentenceScene> = {}) => {
  const scene = {
    ...sceneOf([partWith(notes, { name: 'Flute' }), partWith([], { id: 2, name: 'Oboe', channel: 4 })]),
    ...more,
  };
  const run = runSentence(scene, { name: 'Try', lines: [{ where: [], do: [change] }] });
  const after = run.edit ? applyEdit(scene.arrangement, run.edit) : scene.arrangement;
  if (run.edit) expect(applyEdit(after, invertEdit(run.edit)).parts).toEqual(scene.arrangement.parts);
  const words = (n: Note) => `${n.pitch} ${n.onset}+${n.duration} v${n.velocity}${n.muted ? ' muted' : ''}`;
  return { run, first: after.parts[0]?.notes.map(words), second: after.parts[1]?.notes.map(words), scene };
};
const two = () => [note(60, 125, 240, { velocity: 50 }), note(62, 480, 30, { velocity: 120 })];
const becomes = (change: SentenceChange, ...words: string[]) => expect(madeOf(change, two()).first).toEqual(words);

/** A worked example for each change. */
const CHANGED: { readonly [Kind in ChangeKind]: () => void } = {
  select: () => expect(selectionSize(madeOf(to('select', {}), two()).run.selection ?? NOTHING)).toBe(2),
  addToSelection: () => {
    const notes = two();
    const { run } = madeOf(to('addToSelection', {}), notes, { selection: selectionOf(2, [99]) });
    expect(selectionSize(run.selection ?? NOTHING)).toBe(3);
  },
  takeFromSelection: () => {
    const notes = [...two(), note(64, 0, 5)];
    const scene = {
      ...one(notes),
      selection: selectionOf(
        1,
        notes.map((n) => n.id),
      ),
    };
    const run = runSentence(scene, {
      name: '',
      lines: [{ where: [[is('pitch', { from: 60, to: 62 })]], do: [to('takeFromSelection', {})] }],
    });
    expect(picked(scene.arrangement, run.selection ?? NOTHING)).toEqual(['64@0']);
  },
  showOnly: () => expect(selectionSize(madeOf(to('showOnly', {}), two()).run.onlyShown ?? NOTHING)).toBe(2),
  delete: () => becomes(to('delete', {})),
  mute: () => becomes(to('mute', {}), '60 125+240 v50 muted', '62 480+30 v120 muted'),
  sound: () => expect(madeOf(to('sound', {}), [note(60, 0, 5, { muted: true })]).first).toEqual(['60 0+5 v80']),
  ontoGrid: () => {
    becomes(to('ontoGrid', { grid: 1 / 16, strength: 100 }), '60 120+240 v50', '62 480+30 v120');
    becomes(to('ontoGrid', { grid: 1 / 16, strength: 40 }), '60 123+240 v50', '62 480+30 v120');
  },
  later: () => becomes(to('later', { by: milliseconds(10) }), '60 135+240 v50', '62 490+30 v120'),
  earlier: () => becomes(to('earlier', { by: noteValue(1 / 8) }), '60 0+240 v50', '62 240+30 v120'),
  setLength: () => becomes(to('setLength', { to: noteValue(1 / 16) }), '60 125+120 v50', '62 480+120 v120'),
  multiplyLength: () => becomes(to('multiplyLength', { factor: 0.5 }), '60 125+120 v50', '62 480+15 v120'),
  lengthen: () => becomes(to('lengthen', { by: milliseconds(5) }), '60 125+245 v50', '62 480+35 v120'),
  shorten: () => becomes(to('shorten', { by: milliseconds(35) }), '60 125+205 v50', '62 480+1 v120'),
  lengthAtLeast: () => becomes(to('lengthAtLeast', { length: milliseconds(40) }), '60 125+240 v50', '62 480+40 v120'),
  lengthAtMost: () => becomes(to('lengthAtMost', { length: milliseconds(40) }), '60 125+40 v50', '62 480+30 v120'),
  setVelocity: () => becomes(to('setVelocity', { to: 77 }), '60 125+240 v77', '62 480+30 v77'),
  addVelocity: () => becomes(to('addVelocity', { by: 10 }), '60 125+240 v60', '62 480+30 v127'),
  multiplyVelocity: () => becomes(to('multiplyVelocity', { factor: 0.5 }), '60 125+240 v25', '62 480+30 v60'),
  velocityAtLeast: () => becomes(to('velocityAtLeast', { velocity: 60 }), '60 125+240 v60', '62 480+30 v120'),
  velocityAtMost: () => becomes(to('velocityAtMost', { velocity: 100 }), '60 125+240 v50', '62 480+30 v100'),
  nearerToNeighbours: () => becomes(to('nearerToNeighbours', { share: 50 }), '60 125+240 v85', '62 480+30 v85'),
  setPitch: () => becomes(to('setPitch', { to: 70 }), '70 125+240 v50', '70 480+30 v120'),
  semitones: () => {
    becomes(to('semitones', { by: 66 }), '126 125+240 v50', '62 480+30 v120');
    expect(madeOf(to('semitones', { by: 66 }), two()).run.lines[0]?.notices).toEqual([
      '1 stay: they would leave the pitches 0 to 127.',
    ]);
  },
  keySteps: () => becomes(to('keySteps', { by: 1 }), '62 125+240 v50', '64 480+30 v120'),
  pitchList: () =>
    // The list crosses itself: each note moves once.
    becomes(
      to('pitchList', {
        list: [
          [60, 62],
          [62, 60],
        ],
      }),
      '62 125+240 v50',
      '60 480+30 v120',
    ),
  sendTo: () => {
    const { first, second, run } = madeOf(to('sendTo', { name: 'oboe' }), two());
    expect([first?.length, second?.length, selectionSize(run.lines[0]?.picked ?? NOTHING)]).toEqual([0, 2, 2]);
    expect(madeOf(to('sendTo', { name: 'Tuba' }), two()).run).toMatchObject({
      edit: null,
      lines: [{ notices: [expect.stringContaining('no part called Tuba')] }],
    });
    expect(madeOf(to('sendTo', { name: 'Oboe' }), two(), { reach: [1] }).run.lines[0]?.notices[0]).toContain(
      'out of reach',
    );
  },
  step: () =>
    becomes(to('step', { step: planStep('transpose', { semitones: 2 }) }), '62 125+240 v50', '64 480+30 v120'),
};

describe('changes', () => {
  it.each(CHANGE_KINDS)('%s does what its example says', (kind) => CHANGED[kind]());

  it('come one after the other on the same notes, also where those went to another part', () => {
    const scene = sceneOf([partWith(two(), { name: 'Flute' }), partWith([note(50, 0, 5)], { id: 2, name: 'Oboe' })]);
    const run = runSentence(scene, {
      name: 'Give away',
      lines: [
        {
          where: [[is('part', { name: 'Flute' })]],
          do: [to('sendTo', { name: 'Oboe' }), to('setVelocity', { to: 9 }), to('select', {})],
        },
      ],
    });
    const after = applyEdit(scene.arrangement, run.edit as never);
    expect(after.parts[1]?.notes.map((n) => n.velocity)).toEqual([80, 9, 9]);
    expect(picked(after, run.selection ?? NOTHING)).toEqual(['60@125', '62@480']);
    expect(run.edit?.label).toBe('Give away: 2 notes in Flute');
  });

  it('with their defaults are all carried out on any notes', () => {
    for (const kind of CHANGE_KINDS) expect(() => madeOf(newChange(kind), two())).not.toThrow();
  });
});

const anyLine = fc.record({
  where: fc.array(
    fc.array(
      fc.constantFrom(...CONDITION_KINDS.filter((kind) => kind !== 'finding')).map((kind) => newCondition(kind)),
      { maxLength: 2 },
    ),
    { maxLength: 2 },
  ),
  do: fc.array(fc.constantFrom(...CHANGE_KINDS.filter((kind) => kind !== 'step')).map(newChange), {
    minLength: 1,
    maxLength: 2,
  }),
});

describe('lines', () => {
  it('do together what they do one after the other', () => {
    const notes = fc.array(
      fc.record({
        pitch: fc.integer({ min: 30, max: 90 }),
        onset: fc.integer({ min: 0, max: 4000 }),
        duration: fc.integer({ min: 1, max: 900 }),
        velocity: fc.integer({ min: 1, max: 127 }),
      }),
      { maxLength: 20 },
    );
    fc.assert(
      fc.property(notes, notes, fc.array(anyLine, { minLength: 2, maxLength: 3 }), (upper, lower, lines) => {
        const part = (list: typeof upper, id: number) =>
          partWith(
            list
              .map(({ pitch, onset, duration, velocity }) => note(pitch, onset, duration, { velocity }))
              .sort((a, b) => a.onset - b.onset || a.pitch - b.pitch || a.id - b.id),
            { id, name: `Part ${id}` },
          );
        const scene = sceneOf([part(upper, 1), part(lower, 2)]);
        const together = runSentence(scene, { name: 'Chain', lines });
        let now = scene;
        let chosen: Selection | null = null;
        for (const line of lines) {
          const run = runSentence(now, { name: 'Line', lines: [line] });
          const arrangement = run.edit ? applyEdit(now.arrangement, run.edit) : now.arrangement;
          chosen = run.selection ?? chosen;
          now = { ...now, arrangement, selection: run.selection ?? now.selection };
        }
        const after = together.edit ? applyEdit(scene.arrangement, together.edit) : scene.arrangement;
        expect(after.parts).toEqual(now.arrangement.parts);
        if (together.edit) expect(applyEdit(after, invertEdit(together.edit)).parts).toEqual(scene.arrangement.parts);
        expect(countSentence(scene, { name: '', lines }).map((line) => line.parts)).toEqual(
          together.lines.map((line) => line.parts),
        );
      }),
      cases(100),
    );
  });
});

describe('while only some notes are shown', () => {
  it('no others are picked, in any line', () => {
    const notes = two();
    const scene = { ...one(notes), onlyShown: selectionOf(1, [notes[1]?.id ?? 0]) };
    const louder = { where: [], do: [to('addVelocity', { by: -1 })] };
    const run = runSentence(scene, { name: '', lines: [louder, louder] });
    expect(applyEdit(scene.arrangement, run.edit as never).parts[0]?.notes.map((n) => n.velocity)).toEqual([50, 118]);
  });
});

describe('what cannot be meant', () => {
  const problems = (...way: Condition[]) => problemsOf({ lines: [{ where: [way], do: [] }] }, ['Flute'])[0];

  it('is said in words: backward spans, contradictions, parts that are not there', () => {
    expect(problems(is('velocity', { from: 50, to: 40 }))).toEqual([
      'Nothing can be from 50 to 40: the first is the greater.',
    ]);
    expect(problems(is('pitch', { from: 60, to: 70 }), is('pitch', { from: 71, to: 80 }))).toEqual([
      'No note is of pitch C4 to B♭4 and is of pitch B4 to A♭5.',
    ]);
    expect(problems(is('muted', {}), is('muted', {}, true))).toEqual(['No note is muted and is not muted.']);
    expect(problems(is('part', { name: 'Tuba' }))).toEqual(['There is no part called Tuba here.']);
    expect(problems(is('part', { name: '' }))).toEqual(['Choose a part.']);
    expect(problems(is('instrument', { instrument: 'flute' }), is('instrument', { instrument: 'horn' }))).toHaveLength(
      1,
    );
    expect(problems(is('everyNth', { n: 2, first: 3, of: 'all' }))).toEqual(['Of every 2 there is no number 3.']);
    expect(
      problems(
        is('chord', { place: 'alone', among: 'part', octaves: false }),
        is('chord', { place: 'top', among: 'part', octaves: false }),
      ),
    ).toHaveLength(1);
    expect(problemsOf({ lines: [{ where: [], do: [to('sendTo', { name: 'Tuba' })] }] }, ['Flute'])[0]).toHaveLength(1);
  });

  it('is not said of what can be', () => {
    expect(problems(is('pitch', { from: 60, to: 70 }), is('pitch', { from: 70, to: 80 }))).toEqual([]);
    expect(problems(is('pitch', { from: 60, to: 70 }, true), is('pitch', { from: 71, to: 80 }))).toEqual([]);
    expect(problems(is('part', { name: 'flute ' }))).toEqual([]);
    for (const ready of READY_SENTENCES) expect(problemsOf(ready, [])).toEqual(ready.lines.map(() => []));
  });
});

describe('words', () => {
  it('read as a sentence', () => {
    expect(
      lineInWords({
        where: [
          [is('velocity', { from: 1, to: 40 }), is('onBeat', { within: milliseconds(30) }, true)],
          [is('muted', {})],
        ],
        do: [to('addVelocity', { by: 10 }), to('ontoGrid', { grid: 1 / 16, strength: 50 })],
      }),
    ).toBe(
      'Where a note is of velocity 1 to 40 and is not on a beat, within 30 ms, or is muted: add 10 to their velocity, then bring starts onto the sixteenth grid, 50 % of the way.',
    );
    expect(lineInWords({ where: [], do: [] })).toBe('Every note: nothing yet.');
  });

  it('read a list of pitches as it is typed, and refuse what is none', () => {
    expect(pitchListFromText('40>38, 38:40')).toEqual([
      [40, 38],
      [38, 40],
    ]);
    for (const text of ['', '40', '40>128', '40>38 40>41', 'C4>D4']) expect(pitchListFromText(text)).toBeNull();
  });
});

describe('the ready sentences', () => {
  it('do what their names say', () => {
    const kit = [
      note(42, 0, 10),
      note(42, 240, 10),
      note(42, 480, 10),
      note(42, 720, 10),
      note(38, 0, 10),
      note(40, 480, 10),
      note(37, 960, 10, { velocity: 20 }),
    ];
    const scene = one(
      kit.sort((a, b) => a.onset - b.onset || a.pitch - b.pitch),
      { instrument: 'percussion', channel: 9 },
    );
    const after = (name: string) => {
      const ready = READY_SENTENCES.find((sentence) => sentence.name === name);
      const run = runSentence(scene, ready as never);
      return run.edit ? applyEdit(scene.arrangement, run.edit).parts[0]?.notes.map((n) => `${n.pitch}@${n.onset}`) : [];
    };
    expect(after('Every fourth closed hi-hat open')).toContain('46@720');
    expect(after('Snares changed over')).toEqual(expect.arrayContaining(['40@0', '38@480']));
    const out = READY_SENTENCES.find((sentence) => sentence.name === 'Out of the key');
    expect(selectionSize(runSentence(scene, out as never).selection ?? NOTHING)).toBe(0);
    const crossed = READY_SENTENCES.find((sentence) => sentence.name === 'Snares changed over');
    expect(runSentence(scene, crossed as never).edit?.label).toBe('Snares changed over: 2 notes in Flute');
    expect(after('Soft side sticks out')).not.toContain('37@960');
    for (const ready of READY_SENTENCES) expect(() => runSentence(scene, ready)).not.toThrow();
  });
});
