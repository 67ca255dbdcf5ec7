import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compareNotes } from '../model/arrangement.js';
import { ticks } from '../time/units.js';
import { byOnset, byVoice, inOrder, splitMuted, withChanges } from './noteGroups.js';
import type { StepNote } from './stepNote.js';

const note = (id: number, onset: number, pitch = 60, more: Partial<StepNote> = {}): StepNote => ({
  id,
  pitch,
  onset: ticks(onset),
  duration: ticks(100),
  velocity: 80,
  channel: 0,
  ...more,
});

describe('notes in order', () => {
  it('is by start, pitch and id, however the notes came', () => {
    const lists = fc.array(fc.tuple(fc.integer({ min: 0, max: 60 }), fc.integer({ min: 55, max: 60 })), {
      maxLength: 120,
    });
    fc.assert(
      fc.property(lists, (places) => {
        const notes = places.map(([onset, pitch], index) => note(index + 1, onset, pitch));
        const wanted = [...notes].sort(compareNotes);
        expect(inOrder([...notes], [])).toEqual(wanted);
      }),
    );
  });

  it('puts one far stray back, and a list that is the wrong way round', () => {
    const rising = Array.from({ length: 200 }, (_, index) => note(index + 1, index * 10));
    const first = rising[0] as StepNote;
    expect(inOrder([...rising.slice(1), first], [])).toEqual(rising);
    expect(inOrder([...rising].reverse(), [])).toEqual(rising);
  });

  it('takes muted notes in where they belong', () => {
    const muted = note(2, 50, 60, { muted: true });
    const notes = [note(1, 0), muted, note(3, 100)];
    const parted = splitMuted(notes);
    expect(parted.active.map(({ id }) => id)).toEqual([1, 3]);
    expect(inOrder([...parted.active], parted.muted)).toEqual(notes);
  });
});

describe('notes after changes', () => {
  const notes = [note(1, 0), note(2, 10), note(3, 20)];
  const change = (from: StepNote, to: StepNote | null) => ({ noteId: from.id, from, to, reason: '' });

  it('leave out what was taken out, and take the later of two changes', () => {
    const [one, two, three] = notes as [StepNote, StepNote, StepNote];
    const moved = note(1, 15);
    expect(withChanges(notes, [], [change(one, note(1, 5)), change(two, null), change(one, moved)])).toEqual([
      moved,
      three,
    ]);
  });

  it('are the same records where nothing changed', () => {
    expect(withChanges(notes, [], []).every((now, index) => now === notes[index])).toBe(true);
  });
});

describe('groups', () => {
  it('of one start hold what starts together, and nothing is lost', () => {
    const notes = [note(1, 0), note(2, 0, 64), note(3, 10), note(4, 20), note(5, 20, 67)];
    expect(byOnset(notes).map((group) => group.map(({ id }) => id))).toEqual([[1, 2], [3], [4, 5]]);
    expect(byOnset([])).toEqual([]);
  });

  it('of one voice keep staves apart', () => {
    const notes = [
      note(1, 0, 60, { voice: 1, staff: 1 }),
      note(2, 0, 40, { voice: 1, staff: 2 }),
      note(3, 10, 62, { voice: 2, staff: 1 }),
      note(4, 20, 64, { voice: 1, staff: 1 }),
    ];
    expect(byVoice(notes).map((group) => group.map(({ id }) => id))).toEqual([[1, 4], [2], [3]]);
  });
});
