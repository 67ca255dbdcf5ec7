import { describe, expect, it } from 'vitest';
import { arrangementWith, note, partWith } from '../testing/kit.js';
import { ticks } from '../time/units.js';
import { applyEdit, type Edit, type KeptEdit, notesChange } from './edit.js';
import { problemOfChange } from './fits.js';
import { onTopOf } from './onTop.js';

const first = { ...note(60, 0, 10), id: 1 };
const theirs = { ...note(72, 0, 10), id: 2 };
const mine = { ...note(48, 20, 10), id: 2 };
const start = arrangementWith([partWith([first])], { nextNoteId: 2, nextPartId: 2, nextEventId: 1 });
const edit = (...changes: Edit['changes'][number][]): Edit => ({ label: 'Change', changes });
const notes = (partId: number, before: (typeof first)[], after: (typeof first)[]) => {
  const change = notesChange(partId, before, after);
  if (!change) throw new Error('nothing differs');
  return change;
};
const laid = (edits: readonly KeptEdit[], on = applyEdit(start, edit(notes(1, [first], [first, theirs])))) =>
  onTopOf(on, edits).reduce(applyEdit, on);

describe('one window’s Edits on top of another’s', () => {
  it('keep both notes that were given one id, and what was done with mine goes on being done with mine', () => {
    const louder = { ...mine, velocity: 127 };
    const made = laid([
      edit(notes(1, [first], [first, mine])),
      edit(notes(1, [mine], [louder]), {
        kind: 'partFields',
        partId: 1,
        before: {},
        after: { vetoes: [{ noteId: 2, step: 'merge' }] },
      }),
    ]);
    const [part] = made.parts;
    expect(part?.notes).toEqual([first, theirs, { ...louder, id: 3 }]);
    expect(part?.vetoes).toEqual([{ noteId: 3, step: 'merge' }]);
    expect(made.nextNoteId).toBe(4);
  });

  it('leave the ids of a note that goes to another part, and of one that comes back', () => {
    const two = arrangementWith([partWith([first]), { ...partWith([]), id: 2 }], { nextNoteId: 2, nextPartId: 3 });
    const over = edit(notes(1, [first], []), notes(2, [], [first]));
    expect(onTopOf(two, [over])).toEqual([over]);
    const away = edit(notes(1, [first], []));
    const back = edit(notes(1, [], [first]));
    expect(onTopOf(two, [away, back])).toEqual([away, back]);
  });

  it('keep both parts that were given one id, with their notes, and corrections of the page', () => {
    const theirPart = { ...partWith([theirs]), id: 2, name: 'Theirs' };
    const myPart = { ...partWith([mine]), id: 2, name: 'Mine' };
    const on = applyEdit(start, edit({ kind: 'partAdded', index: 1, part: theirPart }));
    const made = laid(
      [
        edit({ kind: 'partAdded', index: 1, part: myPart }),
        edit({
          kind: 'overrides',
          partId: 2,
          added: [{ kind: 'soundOnly', noteId: 2 }],
          removed: [],
          changed: [],
        }),
        edit({ kind: 'partMoved', partId: 2, from: 1, to: 0 }),
      ],
      on,
    );
    expect(made.parts.map(({ name }) => name)).toEqual(['Mine', start.parts[0]?.name, 'Theirs']);
    const own = made.parts[0];
    expect(own?.id).toBe(3);
    expect(own?.notes).toEqual([{ ...mine, id: 3 }]);
    expect(own?.overrides?.list).toEqual([{ kind: 'soundOnly', noteId: 3 }]);
    expect(problemOfChange(on, made)).toBeUndefined();
  });
});

describe('what else Edits speak of', () => {
  const pedal = { id: 1, kind: 'controller', tick: ticks(0), channel: 0, controller: 64, value: 127 } as const;
  const two = [
    { ...note(60, 0, 10), id: 1 },
    { ...note(62, 20, 10), id: 3 },
  ];
  const base = arrangementWith([partWith(two)], { nextNoteId: 4, nextPartId: 2, nextEventId: 1 });
  const theirNote = { ...note(90, 40, 10), id: 4 };
  const theirs = edit(notes(1, two, [...two, theirNote]), {
    kind: 'events',
    partId: 1,
    added: [pedal],
    removed: [],
    changed: [],
  });
  const onTheirs = applyEdit(base, theirs);
  const made = { ...note(48, 60, 10), id: 4 };
  const addsNote = edit(notes(1, two, [...two, made]));

  it('keeps both events that were given one id, and changes mine afterwards', () => {
    const own = { ...pedal, tick: ticks(9) };
    const after = laid(
      [
        edit({ kind: 'events', partId: 1, added: [own], removed: [], changed: [] }),
        edit({
          kind: 'events',
          partId: 1,
          added: [],
          removed: [],
          changed: [{ before: own, after: { ...own, value: 0 } }],
        }),
      ],
      onTheirs,
    );
    expect(after.parts[0]?.events).toEqual([pedal, { ...own, id: 2, value: 0 }]);
    const gone = laid(
      [
        edit({ kind: 'events', partId: 1, added: [own], removed: [], changed: [] }),
        edit({ kind: 'events', partId: 1, added: [], removed: [own], changed: [] }),
      ],
      onTheirs,
    );
    expect(gone.parts[0]?.events).toEqual([pedal]);
  });

  it('names notes in corrections at both ends, in what is taken back and in what is changed', () => {
    const [slur, other] = [
      { kind: 'slur', noteId: 1, to: 4 },
      { kind: 'slur', noteId: 4, to: 3 },
    ] as const;
    const stem = (way: 'up' | 'down') => ({ kind: 'stem', noteId: 4, way }) as const;
    const overrides = (change: object): Edit =>
      edit({ kind: 'overrides', partId: 1, added: [], removed: [], changed: [], ...change } as Edit['changes'][number]);
    const edits = [
      addsNote,
      overrides({ added: [slur, other, stem('up')] }),
      overrides({ removed: [other], changed: [{ before: stem('up'), after: stem('down') }] }),
    ];
    expect(laid(edits, onTheirs).parts[0]?.overrides?.list).toEqual([
      { kind: 'slur', noteId: 1, to: 5 },
      { kind: 'stem', noteId: 5, way: 'down' },
    ]);
  });

  it('names notes of the page alone, which have ids among the others', () => {
    const page = { kind: 'pageOnly', id: 4, pitch: 72, onset: 0, duration: 10_080, voice: 1, staff: 1 } as const;
    const added = { kind: 'overrides', partId: 1, added: [page], removed: [], changed: [] };
    const list = laid([edit(added as unknown as Edit['changes'][number])], onTheirs).parts[0]?.overrides?.list;
    expect(list).toEqual([{ ...page, id: 5 }]);
  });

  it('names notes in what was made from them, and in selections with a name', () => {
    const change = { ...notes(1, [...two, made], [...two, { ...made, pitch: 50 }]), madeFrom: [[4, 1]] as const };
    const selections = [{ name: 'Mine', parts: [{ partId: 1, noteIds: [1, 4] }] }];
    const fields = { kind: 'arrangementFields', before: {}, after: { namedSelections: selections } };
    const [, second, third] = onTopOf(onTheirs, [
      addsNote,
      edit(change as unknown as Edit['changes'][number]),
      edit(fields as unknown as Edit['changes'][number]),
    ]);
    expect(second?.changes[0]).toMatchObject({
      madeFrom: [[5, 1]],
      changed: [{ before: { id: 5 }, after: { id: 5 } }],
    });
    expect(third?.changes[0]).toMatchObject({
      after: { namedSelections: [{ name: 'Mine', parts: [{ partId: 1, noteIds: [1, 5] }] }] },
    });
    const title = edit({ kind: 'arrangementFields', before: { title: '' }, after: { title: 'New' } });
    expect(onTopOf(onTheirs, [title])).toEqual([title]);
  });

  it('leaves the ids of a part, its notes and events that go and come back', () => {
    const [part] = onTheirs.parts;
    if (!part) throw new Error('one part');
    const away = edit({ kind: 'partRemoved', index: 0, part });
    const back = edit({ kind: 'partAdded', index: 0, part });
    expect(onTopOf(onTheirs, [away, back])).toEqual([away, back]);
    // In one Edit as well: a part that is made anew in another place.
    const moved = edit({ kind: 'partRemoved', index: 0, part }, { kind: 'partAdded', index: 0, part });
    expect(onTopOf(onTheirs, [moved])).toEqual([moved]);
  });

  it('gives ids beyond all that these Edits gave out', () => {
    const far = { ...note(30, 80, 10), id: 40 };
    const [first, second] = onTopOf(onTheirs, [addsNote, edit(notes(1, [], [far]))]);
    expect(first?.changes[0]).toMatchObject({ added: [{ id: 41 }] });
    expect(second?.changes[0]).toMatchObject({ added: [{ id: 40 }] });
  });
});

describe('what an arrangement can hold', () => {
  it('has each note in one place; one that was wrong already may be mended', () => {
    const twice = arrangementWith([partWith([first]), { ...partWith([first]), id: 2 }]);
    expect(problemOfChange(start, twice)?.code).toBe('sameNote');
    expect(problemOfChange(twice, start)).toBeUndefined();
    expect(
      problemOfChange(twice, { ...twice, parts: [...twice.parts, { ...partWith([mine]), id: 3 }] }),
    ).toBeUndefined();
  });
});
