import { describe, expect, it } from 'vitest';
import { arrangementWith, note, partWith } from '../testing/kit.js';
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
