import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Arrangement, endOf, type Note, type Part } from '../model/arrangement.js';
import { applyEdit, type Edit, invertEdit } from '../model/edit.js';
import { LONGEST_HOURS } from '../model/limits.js';
import { forgetSelection, nameSelection, selectionNamed } from '../model/namedSelections.js';
import { mapSelection, type Selection, selectionOf, selectionSize } from '../model/selection.js';
import { planStep, STEP_IDS } from '../steps/registry.js';
import { cases } from '../testing/cases.js';
import { arrangementWith, note, partWith, placesOf } from '../testing/kit.js';
import { milliseconds } from '../time/noteLengths.js';
import { ticks } from '../time/units.js';
import { copyNotes, duplicateNotes, pasteNotes, repeatNotes } from './copies.js';
import { lineUp } from './lineUp.js';
import { editTooLong } from './longest.js';
import { changeVelocities, deleteNotes, drawNote, moveNotes, muteNotes, setLengths, trimNotes } from './noteEdits.js';
import { changeField } from './noteFields.js';
import { invertChords, splitNotesAt, splitNotesOnGrid } from './pieces.js';
import { randomPitches } from './randomPitches.js';
import { moveSharedEdge, sharedEdgeAt } from './sharedEdge.js';
import { stepEdit } from './stepEdit.js';

const RUNS = cases(60);

const someNotes = fc.array(
  fc.record({
    pitch: fc.integer({ min: 40, max: 80 }),
    onset: fc.integer({ min: 0, max: 6000 }),
    duration: fc.integer({ min: 1, max: 1500 }),
    velocity: fc.integer({ min: 1, max: 127 }),
    muted: fc.boolean(),
    selected: fc.boolean(),
  }),
  { maxLength: 14 },
);

const inOrder = (notes: readonly Note[]): Note[] =>
  [...notes].sort((a, b) => a.onset - b.onset || a.pitch - b.pitch || a.id - b.id);

/** Three parts of any notes, and a selection of some of each. */
const someMusic = fc.tuple(someNotes, someNotes, someNotes).map((lists) => {
  const selection = new Map<number, ReadonlySet<number>>();
  let id = 1;
  const parts = lists.map((list, index) => {
    const chosen = new Set<number>();
    const notes = list.map(({ selected, muted, ...drawn }) => {
      if (selected) chosen.add(id);
      return {
        ...drawn,
        id: id++,
        channel: index,
        onset: ticks(drawn.onset),
        duration: ticks(drawn.duration),
        ...(muted ? { muted } : {}),
      };
    });
    if (chosen.size > 0) selection.set(index + 1, chosen);
    return partWith(inOrder(notes), { id: index + 1, name: `Part ${index + 1}`, channel: index });
  });
  return { arrangement: arrangementWith(parts), selection: selection as Selection };
});

type Operation = (arrangement: Arrangement, selection: Selection) => Edit | null;

const bars = { start: 0, end: 1920 };
/** What is done note by note or part by part: several parts at once are each done as if alone. */
const APART: readonly (readonly [string, Operation])[] = [
  ['delete', deleteNotes],
  ['trim ends', (a, s) => trimNotes(a, s, 'end', -70)],
  ['trim starts', (a, s) => trimNotes(a, s, 'start', 45)],
  ['one length', (a, s) => setLengths(a, s, 'end', 240)],
  ['louder', (a, s) => changeVelocities(a, s, { by: 9 })],
  ['one loudness', (a, s) => changeVelocities(a, s, { to: 64 })],
  ['split at a place', (a, s) => splitNotesAt(a, s, 1000)],
  [
    'split on the grid',
    (a, s) =>
      splitNotesOnGrid(a, s, 120, (tick) => {
        const bar = Math.floor(tick / bars.end);
        return { start: bar * bars.end, end: (bar + 1) * bars.end };
      }),
  ],
  ['turn chords', (a, s) => invertChords(a, s, 'up')],
  [
    'half as loud',
    (a, s) => {
      const made = changeField(a, s, 'velocity', { kind: 'times', factor: 0.5 });
      return made.ok ? made.value.edit : null;
    },
  ],
  ...STEP_IDS.filter((id) => id !== 'follow').map((id): readonly [string, Operation] => [
    id,
    (a, s) => stepEdit(a, s, id, planStep(id).parameters).edit,
  ]),
];
/** What looks at all selected notes together. */
const TOGETHER: readonly (readonly [string, Operation])[] = [
  ['move', (a, s) => moveNotes(a, s, { byTicks: 50, bySemitones: 3 })],
  ['mute', muteNotes],
  ['line up', (a, s) => lineUp(a, s, { edge: 'start', to: 'middle', window: milliseconds(200), keepLean: false }).edit],
  [
    'repeat',
    (a, s) => {
      const made = repeatNotes(a, s, 'beat', 2);
      return made.ok ? made.value.edit : null;
    },
  ],
];

const partOf = (arrangement: Arrangement, id: number): Part => arrangement.parts.find((p) => p.id === id) as Part;
const content = (notes: readonly Note[]) =>
  notes.map((n) => [n.pitch, n.onset, n.duration, n.velocity, n.muted ?? false].join()).sort();

describe.each([...APART, ...TOGETHER])('%s, on notes of several parts', (_name, operate) => {
  it('is one Edit that is taken back to the same notes of the same ids', () =>
    fc.assert(
      fc.property(someMusic, ({ arrangement, selection }) => {
        const edit = operate(arrangement, selection);
        if (!edit) return;
        const after = applyEdit(arrangement, edit);
        const back = applyEdit(after, invertEdit(edit));
        expect(back.parts).toEqual(arrangement.parts);
        const again = applyEdit(back, edit);
        expect(again.parts).toEqual(after.parts);
        const ids = after.parts.flatMap((part) => part.notes.map((n) => n.id));
        expect(new Set(ids).size).toBe(ids.length);
      }),
      RUNS,
    ));

  it('leaves what is not selected as it is, the same records', () =>
    fc.assert(
      fc.property(someMusic, ({ arrangement, selection }) => {
        const edit = operate(arrangement, selection);
        const after = edit ? applyEdit(arrangement, edit) : arrangement;
        for (const part of arrangement.parts) {
          const now = new Set(partOf(after, part.id).notes);
          for (const own of part.notes) if (!selection.get(part.id)?.has(own.id)) expect(now.has(own)).toBe(true);
        }
      }),
      RUNS,
    ));
});

describe.each(APART)('%s', (_name, operate) => {
  it('does in several parts what it does in each alone', () =>
    fc.assert(
      fc.property(someMusic, ({ arrangement, selection }) => {
        const together = operate(arrangement, selection);
        const after = together ? applyEdit(arrangement, together) : arrangement;
        for (const part of arrangement.parts) {
          const alone = operate(arrangement, selectionOf(part.id, selection.get(part.id) ?? []));
          const own = alone ? applyEdit(arrangement, alone) : arrangement;
          expect(content(partOf(after, part.id).notes)).toEqual(content(partOf(own, part.id).notes));
        }
      }),
      RUNS,
    ));
});

describe.each(STEP_IDS)('%s', (step) => {
  it('leaves muted notes as they are, selected or not', () =>
    fc.assert(
      fc.property(someMusic, ({ arrangement, selection }) => {
        const { edit } = stepEdit(arrangement, selection, step, planStep(step).parameters);
        const after = edit ? applyEdit(arrangement, edit) : arrangement;
        for (const part of arrangement.parts) {
          const now = partOf(after, part.id).notes;
          for (const own of part.notes) {
            if (!own.muted) continue;
            const left = now.find((n) => n.id === own.id);
            // Stretch may move what comes after the notes it works on, when asked; by default nothing else moves.
            expect(left).toBe(own);
          }
        }
      }),
      RUNS,
    ));
});

const places = (arrangement: Arrangement, id = 1) => placesOf(partOf(arrangement, id).notes);
const whole = (arrangement: Arrangement): Selection =>
  new Map(arrangement.parts.map((part) => [part.id, new Set(part.notes.map((n) => n.id))]));
const done = (arrangement: Arrangement, edit: Edit | null) => (edit ? applyEdit(arrangement, edit) : arrangement);

describe('the shared edge', () => {
  const first = [note(60, 0, 470), note(64, 4, 480), note(67, 2, 475)];
  const second = [note(62, 480, 480), note(65, 486, 470)];
  const cello = note(48, 0, 478);
  const celloNext = note(50, 481, 400);
  const music = arrangementWith([
    partWith(inOrder([...first, ...second])),
    partWith([cello, celloNext], { id: 2, name: 'Cello' }),
  ]);
  const near = (...ids: number[]) =>
    music.parts.filter(({ id }) => ids.includes(id)).map((p) => ({ partId: p.id, notes: p.notes }));

  it('is that of all tones of two chords, and across the parts that are looked at', () => {
    const own = sharedEdgeAt(near(1), 480, 30);
    expect([own && selectionSize(own.ends), own && selectionSize(own.starts)]).toEqual([3, 2]);
    const both = sharedEdgeAt(near(1, 2), 480, 30);
    expect([both && selectionSize(both.ends), both && selectionSize(both.starts)]).toEqual([4, 3]);
    expect(sharedEdgeAt(near(1), 200, 30)).toBeNull();
    expect(sharedEdgeAt([{ partId: 1, notes: first }], 480, 30)).toBeNull();
    // Of a note whose two edges both lie near, the nearer counts.
    const speck = note(70, 470, 20);
    expect(sharedEdgeAt([{ partId: 1, notes: [speck, first[0] as Note] }], 472, 30)?.starts.get(1)).toEqual(
      new Set([speck.id]),
    );
  });

  it('moves as one, each note as early or late as it was played, and leaves every note a tick', () => {
    const edge = sharedEdgeAt(near(1), 480, 30);
    if (!edge) throw new Error('no edge');
    const moved = moveSharedEdge(music, edge, -60);
    expect(moved?.label).toBe('Move shared edge: 5 notes in Flute');
    expect(places(done(music, moved))).toEqual(['60 0+410', '67 2+415', '64 4+420', '62 420+540', '65 426+530']);
    const far = done(music, moveSharedEdge(music, edge, -9999));
    expect(Math.min(...(far.parts[0] as Part).notes.map((n) => n.duration))).toBe(1);
    const late = done(music, moveSharedEdge(music, edge, 9999));
    expect(Math.min(...(late.parts[0] as Part).notes.map((n) => n.duration))).toBe(1);
  });
});

describe('line up', () => {
  const music = arrangementWith([
    partWith([note(72, 480, 400), note(74, 970, 400), note(76, 1440, 400)]),
    partWith([note(60, 500, 400), note(62, 990, 300), note(64, 1900, 300)], { id: 2, name: 'Horn' }),
    partWith([note(48, 512, 400), note(50, 1001, 300)], { id: 3, name: 'Cello' }),
  ]);
  const options = { edge: 'start', to: 'earliest', window: milliseconds(50), keepLean: false } as const;
  const starts = (arrangement: Arrangement) => arrangement.parts.map((part) => part.notes.map((n) => n.onset));

  it('brings starts that nearly meet to one, ends kept, and says how far', () => {
    const made = lineUp(music, whole(music), options);
    expect(starts(done(music, made.edit))).toEqual([
      [480, 970, 1440],
      [480, 970, 1900],
      [480, 970],
    ]);
    expect([made.moved, Math.round(made.furthest)]).toEqual([4, 32]);
    expect(done(music, made.edit).parts[1]?.notes.map(endOf)).toEqual([900, 1290, 2200]);
    expect(made.edit?.label).toBe('Line up: 2 notes in Horn, 2 in Cello');
  });

  it('to the middle, to a part, and to a part that is not everywhere', () => {
    const middle = lineUp(music, whole(music), { ...options, to: 'middle' });
    expect(starts(done(music, middle.edit))).toEqual([
      [500, 990, 1440],
      [500, 990, 1900],
      [500, 990],
    ]);
    const cello = lineUp(music, whole(music), { ...options, to: { partId: 3 } });
    expect(starts(done(music, cello.edit))).toEqual([
      [512, 1001, 1440],
      [512, 1001, 1900],
      [512, 1001],
    ]);
    expect(lineUp(music, whole(music), { ...options, to: { partId: 9 } }).edit).toBeNull();
  });

  it('keeps a part as early or late as it usually is', () => {
    const uneven = arrangementWith([
      partWith([0, 1, 2].map((k) => note(72, 480 * k + 480, 300))),
      partWith(
        [20, 24, 40].map((late, k) => note(60, 480 * k + 480 + late, 300)),
        { id: 2, name: 'Horn' },
      ),
    ]);
    const kept = lineUp(uneven, whole(uneven), { ...options, keepLean: true });
    expect(starts(done(uneven, kept.edit))[1]).toEqual([504, 984, 1464]);
  });

  it('lines up ends, never a part with itself, and leaves a note a tick', () => {
    const ends = lineUp(music, whole(music), { ...options, edge: 'end' });
    expect(
      done(music, ends.edit)
        .parts.map((part) => part.notes.map(endOf))
        .map((list) => list[0]),
    ).toEqual([880, 880, 880]);
    const alone = arrangementWith([partWith([note(60, 0, 100), note(62, 10, 100)])]);
    expect(lineUp(alone, whole(alone), options).edit).toBeNull();
    const short = arrangementWith([partWith([note(60, 40, 100)]), partWith([note(50, 0, 5)], { id: 2, name: 'Horn' })]);
    const late = lineUp(short, whole(short), { ...options, to: { partId: 1 } });
    expect(places(done(short, late.edit), 2)).toEqual(['50 4+1']);
  });
});

describe('copies', () => {
  const music = arrangementWith([
    partWith([note(72, 480, 400), note(74, 970, 400)]),
    partWith([note(60, 500, 400)], { id: 2, name: 'Horn', channel: 3 }),
    partWith([], { id: 3, name: 'Cello', channel: 5 }),
  ]);
  const all = new Set([1, 2, 3]);
  const value = <Value>(result: { ok: true; value: Value } | { ok: false }): Value => {
    if (!result.ok) throw new Error('failed');
    return result.value;
  };

  it('go in where they are put, parts kept apart, and become the selection', () => {
    const copied = copyNotes(music, whole(music));
    if (!copied) throw new Error('nothing');
    const { edit, selection } = value(pasteNotes(music, copied, 1920, 3, all));
    const after = done(music, edit);
    expect(places(after)).toEqual(['72 480+400', '74 970+400', '72 1920+400', '74 2410+400']);
    expect(places(after, 2)).toEqual(['60 500+400', '60 1940+400']);
    expect(edit.label).toBe('Paste: 2 notes in Flute, 1 in Horn');
    expect(selectionSize(selection)).toBe(3);
    expect(selectionSize(mapSelection(selection, invertEdit(edit)))).toBe(0);
  });

  it('of one part go into the front part, on its channel, in ticks of its own', () => {
    const copied = copyNotes(music, selectionOf(2, [music.parts[1]?.notes[0]?.id ?? 0]));
    if (!copied) throw new Error('nothing');
    const { edit } = value(pasteNotes(music, { ...copied, ppq: 960 }, 100, 3, all));
    expect(places(done(music, edit), 3)).toEqual(['60 100+200']);
    expect(done(music, edit).parts[2]?.notes[0]?.channel).toBe(5);
    expect(pasteNotes(music, copied, 0, 3, new Set([1]))).toMatchObject({ ok: false });
  });

  it('of parts that are not here go nowhere, and those that are go in', () => {
    const copied = copyNotes(music, whole(music));
    if (!copied) throw new Error('nothing');
    const elsewhere = { ...copied, parts: copied.parts.map((part, k) => (k === 0 ? { ...part, name: 'Tuba' } : part)) };
    expect(value(pasteNotes(music, elsewhere, 0, 1, all)).edit.label).toBe('Paste: 1 note in Horn');
    expect(pasteNotes(music, copied, 0, 1, new Set([3]))).toMatchObject({ ok: false, problem: { code: 'no-part' } });
    expect(copyNotes(music, new Map())).toBeNull();
  });

  it('repeat a phrase on the beat or on the bar, and keep it in its place', () => {
    const beat = value(repeatNotes(music, selectionOf(1, [music.parts[0]?.notes[0]?.id ?? 0]), 'beat', 2));
    expect(places(done(music, beat.edit))).toEqual(['72 480+400', '72 960+400', '74 970+400', '72 1440+400']);
    const bar = value(repeatNotes(music, whole(music), 'bar'));
    expect(places(done(music, bar.edit))).toContain('72 2400+400');
    // A note that is a little early belongs to the bar that it leads into.
    const early = arrangementWith([partWith([note(60, 1915, 480)])]);
    expect(places(done(early, value(repeatNotes(early, whole(early), 'bar')).edit))).toEqual([
      '60 1915+480',
      '60 3835+480',
    ]);
    const sixEight = { ...music, meters: [{ tick: ticks(0), numerator: 6, denominator: 8 }] };
    const dotted = value(repeatNotes(sixEight, selectionOf(1, [music.parts[0]?.notes[0]?.id ?? 0]), 'beat'));
    expect(places(done(sixEight, dotted.edit))).toContain('72 1920+400');
  });

  it('never make a piece longer than can be', () => {
    const many = repeatNotes(music, whole(music), 'bar', 200_000);
    expect(many).toMatchObject({ ok: false, problem: { code: 'too-long' } });
    expect(!many.ok && many.problem.message).toContain(`${LONGEST_HOURS} hours`);
  });

  it('and no other edit does; what is too long already may be moved back', () => {
    const far = moveNotes(music, whole(music), { byTicks: 1920 * 120_000, bySemitones: 0 });
    expect(far && editTooLong(music, far)).toContain('100,000 bars');
    expect(far && editTooLong(applyEdit(music, far), invertEdit(far))).toBeNull();
    const near = moveNotes(music, whole(music), { byTicks: 1920, bySemitones: 0 });
    expect(near && editTooLong(music, near)).toBeNull();
    const pasted = drawNote(music, 1, { pitch: 60, onset: 1920 * 120_000, duration: 10, velocity: 64 });
    expect(pasted && editTooLong(music, pasted)).toContain(`${LONGEST_HOURS} hours`);
  });

  it('duplicate as a drag does, within what can be', () => {
    const made = value(duplicateNotes(music, whole(music), -9999, 5));
    expect(places(done(music, made.edit))).toEqual(['77 0+400', '72 480+400', '79 490+400', '74 970+400']);
  });
});

describe('cutting and turning', () => {
  it('cuts at a place what sounds there, and the pieces join the selection', () => {
    const music = arrangementWith([partWith([note(60, 0, 480), note(62, 480, 480)])]);
    const edit = splitNotesAt(music, whole(music), 700);
    expect(places(done(music, edit))).toEqual(['60 0+480', '62 480+220', '62 700+260']);
    expect(edit?.label).toBe('Split: 1 note in Flute');
    expect(edit && selectionSize(mapSelection(whole(music), edit))).toBe(3);
    expect(splitNotesAt(music, whole(music), 480)).toBeNull();
  });

  it('cuts on the lines of the grid, which begins anew with each bar', () => {
    const music = arrangementWith([partWith([note(60, 10, 600)])]);
    const cut = splitNotesOnGrid(music, whole(music), 200, (tick) => {
      const start = Math.floor(tick / 500) * 500;
      return { start, end: start + 500 };
    });
    expect(places(done(music, cut))).toEqual(['60 10+190', '60 200+200', '60 400+100', '60 500+110']);
    expect(splitNotesOnGrid(music, whole(music), 0, () => ({ start: 0, end: 1 }))).toBeNull();
  });

  it('turns a chord over from either end, and moves a single note by an octave', () => {
    const music = arrangementWith([
      partWith([note(60, 0, 480), note(64, 5, 480), note(79, 8, 480), note(50, 960, 480)]),
    ]);
    expect(places(done(music, invertChords(music, whole(music), 'up')))).toEqual([
      '84 0+480',
      '64 5+480',
      '79 8+480',
      '62 960+480',
    ]);
    expect(places(done(music, invertChords(music, whole(music), 'down')))).toEqual([
      '60 0+480',
      '64 5+480',
      '55 8+480',
      '38 960+480',
    ]);
    const high = arrangementWith([partWith([note(120, 0, 480)])]);
    expect(invertChords(high, whole(high), 'up')).toBeNull();
  });
});

describe('random pitches', () => {
  const music = arrangementWith([partWith(Array.from({ length: 40 }, (_, k) => note(60, k * 480, 240)))], {
    keys: [{ tick: ticks(0), fifths: 2, minor: false }],
  });
  const pitches = (options: Parameters<typeof randomPitches>[2]) =>
    done(music, randomPitches(music, whole(music), options)).parts[0]?.notes.map((n) => n.pitch) ?? [];

  it('stay within their reach and scale, and come again with their number', () => {
    const own = pitches({ within: 7, scale: 'key', seed: 5 });
    expect(own).toEqual(pitches({ within: 7, scale: 'key', seed: 5 }));
    expect(own).not.toEqual(pitches({ within: 7, scale: 'key', seed: 6 }));
    // D major: from middle C, F and C are not in it.
    expect(own.every((pitch) => [2, 4, 6, 7, 9, 11, 1].includes(pitch % 12) && Math.abs(pitch - 60) <= 7)).toBe(true);
    expect(new Set(pitches({ within: 2, scale: 'any', seed: 1 }))).toEqual(new Set([58, 59, 60, 61, 62]));
  });
});

describe('named selections', () => {
  const music = arrangementWith([partWith([note(60, 0, 10), note(62, 20, 10)])]);
  const [first, second] = (music.parts[0] as Part).notes;
  const own = selectionOf(1, [first?.id ?? 0, second?.id ?? 0]);

  it('are kept, had again without what is gone, replaced, forgotten and undone', () => {
    const kept = done(music, nameSelection(music, ' Tune ', own));
    expect(selectionNamed(kept, 'Tune')).toEqual(own);
    const less = done(kept, deleteNotes(kept, selectionOf(1, [first?.id ?? 0])));
    expect(selectionNamed(less, 'Tune')).toEqual(selectionOf(1, [second?.id ?? 0]));
    const again = nameSelection(kept, 'Tune', selectionOf(1, [second?.id ?? 0]));
    expect(done(kept, again).namedSelections).toHaveLength(1);
    const forgotten = forgetSelection(kept, 'Tune');
    expect(done(kept, forgotten).namedSelections).toEqual([]);
    expect(forgotten && selectionNamed(done(done(kept, forgotten), invertEdit(forgotten)), 'Tune')).toEqual(own);
    expect(nameSelection(music, '  ', own)).toBeNull();
    expect(nameSelection(music, 'x', new Map())).toBeNull();
    expect(forgetSelection(music, 'x')).toBeNull();
    expect(selectionNamed(music, 'x').size).toBe(0);
  });
});

describe('by hand', () => {
  const loud = note(60, 0, 480, { velocity: 120 });
  const soft = note(62, 480, 480, { velocity: 10, muted: true });
  const music = arrangementWith([partWith([loud, soft])]);

  it('silences, and lets sound again only where all are silent', () => {
    const edit = muteNotes(music, whole(music));
    expect(edit?.label).toBe('Mute: 1 note in Flute');
    const silent = done(music, edit);
    expect(silent.parts[0]?.notes.map((n) => n.muted)).toEqual([true, true]);
    const again = muteNotes(silent, whole(silent));
    expect(again?.label).toBe('Sound again: 2 notes in Flute');
    expect(done(silent, again).parts[0]?.notes.every((n) => n.muted === undefined)).toBe(true);
  });

  it('makes louder by so much, or all as loud, within 1 to 127; and gives one length from either end', () => {
    const velocities = (edit: Edit | null) => done(music, edit).parts[0]?.notes.map((n) => n.velocity);
    expect(velocities(changeVelocities(music, whole(music), { by: 20 }))).toEqual([127, 30]);
    expect(velocities(changeVelocities(music, whole(music), { by: -20 }))).toEqual([100, 1]);
    expect(velocities(changeVelocities(music, whole(music), { to: 64 }))).toEqual([64, 64]);
    expect(places(done(music, setLengths(music, whole(music), 'end', 240)))).toEqual(['60 0+240', '62 480+240']);
    expect(places(done(music, setLengths(music, whole(music), 'start', 240)))).toEqual(['60 240+240', '62 720+240']);
  });
});
