/** Answers kept from before, as in `regression.test.ts`: what edits by hand make of rough takes, for selections of each kind. */
import { describe, expect, it } from 'vitest';
import { copyNotes, duplicateNotes, type Pasted, pasteNotes, repeatNotes } from '../../edits/copies.js';
import { lineUp } from '../../edits/lineUp.js';
import {
  changeVelocities,
  deleteNotes,
  drawRepeats,
  editedNotes,
  moveNotes,
  muteNotes,
  setLengths,
  trimNotes,
} from '../../edits/noteEdits.js';
import {
  deleteAtEntry,
  type Entered,
  type Entry,
  enterNotes,
  enterRest,
  enterTie,
  moveEntered,
} from '../../edits/noteEntry.js';
import { changeField, fieldSpans, fieldText, type NoteField, readFieldEntry } from '../../edits/noteFields.js';
import { type PageWish, pageEdit, wishInWords } from '../../edits/pageEdits.js';
import { chordTones, overlapping, samePitchClasses, samePitches } from '../../edits/picking.js';
import { invertChords, splitNotesAt, splitNotesOnGrid } from '../../edits/pieces.js';
import { landTake, type Take } from '../../edits/playIn.js';
import { randomPitches } from '../../edits/randomPitches.js';
import { moveSharedEdge, sharedEdgeAt } from '../../edits/sharedEdge.js';
import type { Arrangement } from '../../model/arrangement.js';
import { createChance } from '../../model/chance.js';
import { applyEdit, type Edit, invertEdit } from '../../model/edit.js';
import type { Result } from '../../model/result.js';
import type { Selection } from '../../model/selection.js';
import { createMeterMap } from '../../time/meterMap.js';
import { milliseconds, noteValue } from '../../time/noteLengths.js';
import { PPQ } from '../kit.js';
import { sceneOf } from '../pageScene.js';
import { roughTake, roughTakeInThree } from './takes.js';
import { hashOf } from './words.js';

/** One note, three, a stretch of one part, and every third note of all. */
const selectionsOf = ({ parts }: Arrangement): readonly (readonly [string, Selection])[] => {
  const [first, second] = parts;
  const ids = (from: number, to: number) => new Set((first?.notes ?? []).slice(from, to).map(({ id }) => id));
  const third = parts.map(
    (part) => [part.id, new Set(part.notes.flatMap(({ id }, at) => (at % 3 === 1 ? [id] : [])))] as const,
  );
  return [
    ['one note', new Map([[first?.id ?? 1, ids(6, 7)]])],
    ['three notes', new Map([[first?.id ?? 1, ids(0, 3)]])],
    ['a stretch', new Map([[first?.id ?? 1, ids(4, 16)]])],
    ['another part', new Map([[second?.id ?? 2, new Set((second?.notes ?? []).slice(0, 9).map(({ id }) => id))]])],
    ['every third', new Map(third)],
  ];
};

/** What an Edit does: its name, how many notes it is of, and what there is then. Taken back, all is as it was. */
const inWords = (arrangement: Arrangement, edit: Edit | null): string => {
  if (!edit) return 'nothing';
  const made = applyEdit(arrangement, edit);
  expect(applyEdit(made, invertEdit(edit)).parts.map(({ notes }) => notes)).toEqual(
    arrangement.parts.map(({ notes }) => notes),
  );
  const touched = [...editedNotes(edit)].reduce((sum, [, ids]) => sum + ids.size, 0);
  return `${edit.label}, ${touched} notes #${hashOf(JSON.stringify(made.parts.map(({ notes, events, overrides }) => [notes, events, overrides])))}`;
};
const pastedInWords = (arrangement: Arrangement, pasted: Result<Pasted>): string =>
  pasted.ok
    ? `${inWords(arrangement, pasted.value.edit)} ${JSON.stringify([...pasted.value.selection].map(([part, ids]) => [part, ids.size]))}`
    : pasted.problem.message;
const pickedInWords = (selection: Selection): string =>
  [...selection].map(([part, ids]) => `${part}: ${ids.size}`).join(', ') +
  ` #${hashOf(JSON.stringify([...selection].map(([part, ids]) => [part, [...ids]])))}`;

const FIELDS: readonly (readonly [NoteField, readonly string[]])[] = [
  ['pitch', ['C4', '+3', '-12', 'nothing']],
  ['start', ['3.2', '+20', '1.1.0', '99999']],
  ['bar', ['3', '+1', '-9']],
  ['beat', ['2', '+1', '9']],
  ['tick', ['10', '-5', '*2']],
  ['end', ['+100', '4.1']],
  ['length', ['240', '*0.5', '1/8', '0']],
  ['velocity', ['80', '+20', '-200', '*1.5']],
  ['channel', ['3', '+1', '99']],
];

const ENTRY: Omit<Entry, 'partId' | 'at'> = {
  value: { fraction: 1 / 8, dotted: false, tuplet: null },
  velocity: 70,
  inserts: false,
  pageOnly: false,
  staff: 1,
  last: null,
};

/** Enters notes, a chord, a rest, a tie, moves and deletes; each step on what the one before left. */
const entered = (arrangement: Arrangement, from: Entry): readonly string[] => {
  const steps: readonly (readonly [string, (now: Arrangement, entry: Entry) => Entered])[] = [
    ['a note', (now, entry) => enterNotes(now, entry, [{ pitch: 64 }])],
    ['its third', (now, entry) => enterNotes(now, entry, [{ pitch: 67, velocity: 91 }, { pitch: 64 }], true)],
    ['a tie', (now, entry) => enterTie(now, entry)],
    ['a step higher', (now, entry) => moveEntered(now, entry, 1)],
    ['a rest', (now, entry) => enterRest(now, entry)],
    ['a tie after it', (now, entry) => enterTie(now, entry)],
    ['two at once', (now, entry) => enterNotes(now, entry, [{ pitch: 60 }, { pitch: 65 }])],
    ['one taken away', (now, entry) => deleteAtEntry(now, { ...entry, at: Math.max(0, entry.at - PPQ / 2) })],
    ['far lower', (now, entry) => moveEntered(now, entry, -90)],
  ];
  let [now, entry] = [arrangement, from];
  return steps.map(([words, step]) => {
    const { edit, entry: next } = step(now, entry);
    const line = `${words}: ${inWords(now, edit)}; at ${next.at}, last ${next.last?.ids.length ?? 0} at ${next.last?.pitch}`;
    if (edit) now = applyEdit(now, edit);
    entry = next;
    return line;
  });
};

const takeOf = (partId: number, replaces: boolean, seed: number): Take => {
  const chance = createChance(seed);
  return {
    partId,
    from: 2 * PPQ,
    until: 8 * PPQ,
    replaces,
    notes: Array.from({ length: 12 }, (_, at) => ({
      pitch: 55 + ((at * 7) % 20),
      velocity: chance.between(30, 140),
      start: 0.4 + at * 0.31 + chance.normal() * 0.02,
      length: chance.between(0, 0.4),
      pass: at % 2,
    })),
    events: [
      { message: { kind: 'controller', controller: 64, value: 127 }, at: 1.2, pass: 0 },
      { message: { kind: 'controller', controller: 64, value: 0 }, at: 1.9, pass: 1 },
      { message: { kind: 'controller', controller: 1, value: 40 }, at: 2.6, pass: 1 },
    ],
  } as Take;
};

/** Puts down an answer under its words. */
type Say = (words: string, answer: string) => void;

const sayLinedUp = (take: Arrangement, selection: Selection, say: Say): void => {
  for (const edge of ['start', 'end'] as const)
    for (const to of ['earliest', 'middle', { partId: take.parts[0]?.id ?? 1 }] as const)
      for (const keepLean of [true, false])
        for (const window of [milliseconds(60), noteValue(1 / 8)]) {
          const lined = lineUp(take, selection, { edge, to, keepLean, window });
          say(
            `lined up by ${edge}, ${JSON.stringify([to, keepLean, window])}, ${lined.moved}, ${lined.furthest.toFixed(1)}`,
            inWords(take, lined.edit),
          );
        }
};

const sayChanged = (take: Arrangement, selection: Selection, say: Say): void => {
  const edit = (words: string, made: Edit | null) => say(words, inWords(take, made));
  const map = createMeterMap(take.meters, PPQ);
  for (const [byTicks, bySemitones] of [
    [31, 0],
    [-90_000, 2],
    [0, 7],
    [0, 99],
    [0.3, 0],
  ] as const)
    edit(`moved ${byTicks}, ${bySemitones}`, moveNotes(take, selection, { byTicks, bySemitones }));
  for (const edge of ['start', 'end'] as const) {
    for (const by of [-37, 55.4, 5000]) edit(`${edge} trimmed ${by}`, trimNotes(take, selection, edge, by));
    for (const length of [0, 240, 333.7])
      edit(`${length} long by its ${edge}`, setLengths(take, selection, edge, length));
  }
  for (const change of [{ to: 90 }, { to: 400 }, { by: -20 }, { by: 12.6 }])
    edit(`loudness ${JSON.stringify(change)}`, changeVelocities(take, selection, change));
  edit('muted', muteNotes(take, selection));
  edit('deleted', deleteNotes(take, selection));
  edit('split at 2000', splitNotesAt(take, selection, 2000.4));
  for (const unit of [0, 120, 320]) edit(`split each ${unit}`, splitNotesOnGrid(take, selection, unit, map.barAt));
  edit('turned up', invertChords(take, selection, 'up'));
  edit('turned down', invertChords(take, selection, 'down'));
  for (const scale of ['any', 'key'] as const)
    edit(`by chance, ${scale}`, randomPitches(take, selection, { within: 5, scale, seed: 3 }));
};

const sayCopied = (take: Arrangement, selection: Selection, say: Say): void => {
  const all = new Set(take.parts.map(({ id }) => id));
  say('doubled', pastedInWords(take, duplicateNotes(take, selection, 480, 12)));
  for (const unit of ['beat', 'bar'] as const)
    say(`repeated by the ${unit}`, pastedInWords(take, repeatNotes(take, selection, unit, 2)));
  const copied = copyNotes(take, selection);
  for (const [at, front] of [
    [777.6, null],
    [3840, take.parts[1]?.id ?? null],
  ] as const)
    if (copied) say(`pasted at ${at}`, pastedInWords(take, pasteNotes(take, copied, at, front, all)));
};

const sayPicked = (take: Arrangement, selection: Selection, say: Say): void => {
  say('of its pitches', pickedInWords(samePitches(take, selection, take.parts)));
  say('of its pitch classes', pickedInWords(samePitchClasses(take, selection, take.parts)));
  for (const place of ['top', 'bottom', 'inner'] as const)
    say(`${place} tones`, pickedInWords(chordTones(take, selection, place)));
};

const sayTyped = (take: Arrangement, selection: Selection, say: Say): void => {
  const spans = [...fieldSpans(take, selection)].map(
    ([field, { least, most }]) => `${field} ${fieldText(take, field, least)} to ${fieldText(take, field, most)}`,
  );
  say('fields', spans.join(', '));
  for (const [field, texts] of FIELDS)
    for (const text of texts) {
      const entry = readFieldEntry(field, text);
      const changed = entry.ok ? changeField(take, selection, field, entry.value) : entry;
      say(
        `${field} ${text}`,
        changed.ok ? `${inWords(take, changed.value.edit)} ${changed.value.notice}` : changed.problem.message,
      );
    }
};

const WISHES: readonly PageWish[] = [
  { wish: 'respell', by: 1 },
  { wish: 'respell', by: -1 },
  { wish: 'voice', voice: 2 },
  { wish: 'staff' },
  { wish: 'start', by: 2520 },
  { wish: 'end', by: -5040 },
  { wish: 'moved', by: 5040 },
  { wish: 'length', length: 10080 },
  { wish: 'staccato' },
  { wish: 'mark', mark: 'accent' },
  { wish: 'notehead', head: 'x' },
  { wish: 'stem' },
  { wish: 'beam', joined: false },
  { wish: 'tie' },
  { wish: 'grace' },
  { wish: 'tuplet', actual: 3 },
  { wish: 'tuplet', actual: 5 },
  { wish: 'plain' },
  { wish: 'freed' },
  { wish: 'slur' },
  { wish: 'glissando' },
  { wish: 'pedal' },
  { wish: 'hairpin', way: 'louder' },
  { wish: 'dynamic', dynamic: 'mf' },
  { wish: 'words', text: 'dolce' },
  { wish: 'soundOnly' },
  { wish: 'pageOnly' },
  { wish: 'hold' },
  { wish: 'asPlanSays' },
];

/** Corrections of the page, and the same wished once more of what they made. */
const sayCorrected = (take: Arrangement, selection: Selection, say: Say): void => {
  const scene = sceneOf(take, selection);
  for (const wish of WISHES) {
    const made = pageEdit(scene, wish);
    const words = `${wishInWords(wish)} ${JSON.stringify(wish)}`;
    say(words, made.ok ? inWords(take, made.value) : made.problem.message);
    // The same again takes most of them back; a few notes show it.
    if (!made.ok || selection.size > 1 || [...selection].some(([, ids]) => ids.size > 3)) continue;
    const corrected = applyEdit(take, made.value);
    const again = pageEdit(sceneOf(corrected, selection), wish);
    say(`${words}, again`, again.ok ? inWords(corrected, again.value) : again.problem.message);
  }
};

/** What is put in or moved wherever nothing is selected. */
const sayPutIn = (take: Arrangement, say: Say): void => {
  const partId = take.parts[0]?.id ?? 1;
  for (const unit of [120, 97.4]) {
    const drawn = { pitch: 71, onset: 1111, duration: 700, velocity: 66 };
    say(`drawn each ${unit}`, inWords(take, drawRepeats(take, partId, drawn, unit)));
  }
  for (const at of [960, 1930, 3840, 5000]) {
    const near = take.parts.map(({ id, notes }) => ({ partId: id, notes }));
    const edge = sharedEdgeAt(near, at, 90);
    for (const by of [-40, 25, 9999])
      say(`edge at ${at} moved ${by}`, inWords(take, edge && moveSharedEdge(take, edge, by)));
  }
  const dotted = { value: { fraction: 1 / 4, dotted: true, tuplet: 3 } };
  for (const more of [{}, { inserts: true }, { pageOnly: true }, dotted])
    for (const line of entered(take, { ...ENTRY, ...more, partId, at: 1440 }))
      say(`entered ${JSON.stringify(more)}`, line);
  for (const part of take.parts)
    for (const replaces of [true, false]) {
      const { edit, ...landed } = landTake(take, takeOf(part.id, replaces, 5));
      say(`${part.name}, played in, ${replaces}, ${JSON.stringify(landed)}`, inWords(take, edit));
    }
};

describe('answers are as they were', () => {
  it('of edits by hand', async () => {
    const lines: string[] = [];
    for (const take of [roughTake(1), roughTakeInThree(2)]) {
      const say: Say = (words, answer) => lines.push(`${take.title}, ${words}: ${answer}`);
      for (const [which, selection] of selectionsOf(take)) {
        const own: Say = (words, answer) => say(`${which}, ${words}`, answer);
        if (which === 'every third') sayLinedUp(take, selection, own);
        for (const part of [sayChanged, sayCopied, sayPicked, sayTyped, sayCorrected]) part(take, selection, own);
      }
      say('overlapping', pickedInWords(overlapping(take.parts)));
      sayPutIn(take, say);
    }
    await expect(`${lines.join('\n')}\n`).toMatchFileSnapshot('./edits.txt');
  });
});
