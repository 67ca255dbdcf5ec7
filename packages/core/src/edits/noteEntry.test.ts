import { describe, expect, it } from 'vitest';
import type { Arrangement } from '../model/arrangement.js';
import { applyEdit, invertEdit } from '../model/edit.js';
import { writeMusicXml } from '../musicxml/writeMusicXml.js';
import { buildScore } from '../notation/buildScore.js';
import { readPitches } from '../notation/pitchReading.js';
import { runPlanOnAll } from '../plan/runPlan.js';
import { writtenMaps } from '../plan/writtenMaps.js';
import { entryAt } from '../testing/entryKit.js';
import { arrangementWith, note, partWith } from '../testing/kit.js';
import {
  deleteAtEntry,
  type Entered,
  type Entry,
  type EntryValue,
  enterNotes,
  enterRest,
  enterTie,
  entryLength,
  moveEntered,
  pitchOfLetter,
} from './noteEntry.js';

const empty = arrangementWith([partWith([])]);
const start = entryAt(0);
/** Carries steps out one after another; each can be undone. */
const carriedOut = (
  from: Arrangement,
  entry: Entry,
  steps: readonly ((arrangement: Arrangement, entry: Entry) => Entered)[],
) => {
  let [arrangement, now] = [from, entry];
  for (const step of steps) {
    const { edit, entry: after } = step(arrangement, now);
    if (edit) {
      const next = applyEdit(arrangement, edit);
      expect(applyEdit(next, invertEdit(edit)).parts).toEqual(arrangement.parts);
      arrangement = next;
    }
    now = after;
  }
  return { arrangement, entry: now };
};
const enter =
  (...pitches: number[]) =>
  (arrangement: Arrangement, entry: Entry) =>
    enterNotes(
      arrangement,
      entry,
      pitches.map((pitch) => ({ pitch })),
    );
const value = (change: Partial<EntryValue>) => (_: Arrangement, entry: Entry) => ({
  edit: null,
  entry: { ...entry, value: { ...entry.value, ...change } },
});
const rows = ({ parts }: Arrangement) => parts[0]?.notes.map(({ pitch, onset, duration }) => [pitch, onset, duration]);

describe('values', () => {
  it.each([
    [{ fraction: 1 / 4, dotted: false, tuplet: null }, 480],
    [{ fraction: 1 / 8, dotted: true, tuplet: null }, 360],
    [{ fraction: 1 / 8, dotted: false, tuplet: 3 }, 160],
    [{ fraction: 1 / 16, dotted: false, tuplet: 5 }, 96],
  ] as const)('%o lasts %i ticks', (own, length) => {
    expect(entryLength(own, 480)).toBe(length);
  });
});

describe('letters', () => {
  it('go to the nearest pitch of the key', () => {
    expect(pitchOfLetter('g', 60, 0)).toBe(55);
    expect(pitchOfLetter('f', 60, 0)).toBe(65);
    expect(pitchOfLetter('F', 66, 1)).toBe(66);
    expect(pitchOfLetter('b', 72, -1)).toBe(70);
    expect(pitchOfLetter('e', 64, -2)).toBe(63);
    expect(pitchOfLetter('c', 127, 0)).toBeLessThanOrEqual(127);
  });
});

describe('entering', () => {
  it('a known tune gives exactly its notes: “Frère Jacques” (from memory), with chords, a rest and a tie', () => {
    const tune = ['f', 'g', 'a', 'f'];
    const letters = tune.map(
      (letter) => (arrangement: Arrangement, entry: Entry) =>
        enterNotes(arrangement, entry, [{ pitch: pitchOfLetter(letter, entry.last?.pitch ?? 65, -1) }]),
    );
    const { arrangement, entry } = carriedOut(empty, start, [
      ...letters,
      enterRest,
      value({ fraction: 1 / 8 }),
      enter(69),
      (now, own) => enterNotes(now, own, [{ pitch: 72, velocity: 99 }], true),
      enterTie,
      value({ fraction: 1 / 8, tuplet: 3 }),
      enter(70),
      enter(69),
      enter(67),
    ]);
    expect(rows(arrangement)).toEqual([
      [65, 0, 480],
      [67, 480, 480],
      [69, 960, 480],
      [65, 1440, 480],
      [69, 2400, 480],
      [72, 2400, 480],
      [70, 2880, 160],
      [69, 3040, 160],
      [67, 3200, 160],
    ]);
    expect(entry.at).toBe(3360);
    expect(arrangement.parts[0]?.notes.find(({ pitch }) => pitch === 72)?.velocity).toBe(99);
    // The page has it as it was entered.
    const layers = runPlanOnAll(arrangement);
    const score = buildScore(arrangement, layers, writtenMaps(arrangement), readPitches(arrangement, layers));
    const bar = score.parts[0]?.bars[1]?.events.map(
      ({ kind, value: own, ratio }) => `${kind} ${own.denominator}${ratio ? ' of a triplet' : ''}`,
    );
    expect(bar).toEqual(['rest 4', 'chord 4', ...Array<string>(3).fill('chord 8 of a triplet'), 'rest 4']);
    expect(writeMusicXml(score)).toContain('<time-modification>');
  });

  const full = arrangementWith([partWith([note(60, 0, 480), note(62, 480, 480), note(64, 960, 480)])]);
  it('takes the place of what stands there, or has it make room', () => {
    const at = { ...start, at: 480 };
    expect(rows(carriedOut(full, at, [enter(72)]).arrangement)).toEqual([
      [60, 0, 480],
      [72, 480, 480],
      [64, 960, 480],
    ]);
    expect(rows(carriedOut(full, { ...at, inserts: true }, [enter(72), enterRest]).arrangement)).toEqual([
      [60, 0, 480],
      [72, 480, 480],
      [62, 1440, 480],
      [64, 1920, 480],
    ]);
    // One that begins later in a part of its own length is cut where the entered note begins, wherever that is.
    const later = arrangementWith([partWith([note(60, 240, 1920)])]);
    expect(rows(carriedOut(later, { ...at, at: 960 }, [enter(60)]).arrangement)).toEqual([
      [60, 240, 720],
      [60, 960, 480],
    ]);
    // One pitch does not run into itself; another sounds on.
    const held = arrangementWith([partWith([note(60, 0, 1920), note(67, 0, 1920)])]);
    expect(rows(carriedOut(held, at, [enter(60)]).arrangement)).toEqual([
      [60, 0, 480],
      [67, 0, 1920],
      [60, 480, 480],
    ]);
  });

  it('moves what was entered last, and deletes at its place', () => {
    const moved = carriedOut(empty, start, [enter(60, 64), (now, own) => moveEntered(now, own, 1)]);
    expect(rows(moved.arrangement)?.map(([pitch]) => pitch)).toEqual([61, 65]);
    expect(moved.entry.last?.pitch).toBe(65);
    const at = { ...start, at: 480 };
    expect(rows(carriedOut(full, at, [deleteAtEntry]).arrangement)).toEqual([
      [60, 0, 480],
      [64, 960, 480],
    ]);
    expect(rows(carriedOut(full, { ...at, inserts: true }, [deleteAtEntry]).arrangement)).toEqual([
      [60, 0, 480],
      [64, 480, 480],
    ]);
    expect(deleteAtEntry(empty, start).edit).toBeNull();
    expect(enterTie(empty, start).edit).toBeNull();
  });
});

describe('notes written and not heard', () => {
  const own: Entry = { ...start, pageOnly: true };
  const played = arrangementWith([partWith([note(60, 0, 1920)])]);
  const written = ({ parts }: Arrangement) =>
    (parts[0]?.overrides?.list ?? []).flatMap((one) =>
      one.kind === 'pageOnly' ? [[one.pitch, one.onset / 21, one.duration / 21, one.voice]] : [],
    );

  it('stand on the page beside what sounds, which stays; as chords, tied, moved', () => {
    const made = carriedOut(played, own, [
      (now, entry) => enterNotes(now, entry, [{ pitch: 72 }]),
      (now, entry) => enterNotes(now, entry, [{ pitch: 76 }], true),
      enterTie,
      enterRest,
      (now, entry) => enterNotes(now, entry, [{ pitch: 74 }]),
      (now, entry) => moveEntered(now, entry, 2),
    ]);
    expect(rows(made.arrangement)).toEqual([[60, 0, 1920]]);
    // A voice of their own beside the note that is held.
    expect(written(made.arrangement)).toEqual([
      [72, 0, 960, 2],
      [76, 0, 960, 2],
      [76, 1440, 480, 2],
    ]);
    expect(made.entry.at).toBe(1920);
    const layers = runPlanOnAll(made.arrangement);
    const score = buildScore(
      made.arrangement,
      layers,
      writtenMaps(made.arrangement),
      readPitches(made.arrangement, layers),
    );
    const heads = score.parts[0]?.bars[0]?.events.flatMap(({ notes }) =>
      notes.map(({ soundingPitch }) => soundingPitch),
    );
    expect(new Set(heads)).toEqual(new Set([60, 72, 76]));
  });

  it('go again where they stand, and what sounds there does not', () => {
    const made = carriedOut(played, own, [
      (now, entry) => enterNotes(now, entry, [{ pitch: 72 }]),
      (now, entry) => deleteAtEntry(now, { ...entry, at: 0 }),
    ]);
    expect(written(made.arrangement)).toEqual([]);
    expect(rows(made.arrangement)).toEqual([[60, 0, 1920]]);
  });

  it('stand on the staff that was pointed at', () => {
    const made = carriedOut(empty, { ...own, staff: 2 }, [(now, entry) => enterNotes(now, entry, [{ pitch: 48 }])]);
    expect(made.arrangement.parts[0]?.overrides?.list).toMatchObject([{ kind: 'pageOnly', pitch: 48, staff: 2 }]);
  });

  it('share the first voice where nothing stands beside them', () => {
    const made = carriedOut(empty, own, [(now, entry) => enterNotes(now, entry, [{ pitch: 72 }])]);
    expect(written(made.arrangement)).toEqual([[72, 0, 480, 1]]);
  });
});
