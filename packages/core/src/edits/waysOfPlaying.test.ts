import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { describe, expect, it } from 'vitest';
import { importMidi } from '../midi/importMidi.js';
import { writePlayedMidi } from '../midi/writeMidi.js';
import type { Arrangement } from '../model/arrangement.js';
import { applyEdit, invertEdit } from '../model/edit.js';
import { onTopOf } from '../model/onTop.js';
import type { WaySound } from '../model/overrides.js';
import { selectionOf } from '../model/selection.js';
import { waySpans, waysInSound } from '../model/waysOfPlaying.js';
import { writeMusicXml } from '../musicxml/writeMusicXml.js';
import { buildScore } from '../notation/buildScore.js';
import { readPitches } from '../notation/pitchReading.js';
import { runPlanOnAll } from '../plan/runPlan.js';
import { writtenMaps } from '../plan/writtenMaps.js';
import { heardEvents } from '../playback/heardEvents.js';
import { arrangementWith, note, PPQ, partWith } from '../testing/kit.js';
import { pageEdit } from './pageEdits.js';

const notes = [50, 52, 53, 55, 57, 59, 60, 62].map((pitch, index) => note(pitch, index * PPQ, PPQ - 20));
const ids = notes.map(({ id }) => id);
const base = arrangementWith([partWith(notes, { instrument: 'cello', program: 42 })]);

const played = (
  arrangement: Arrangement,
  which: readonly number[],
  word: string,
  sound?: WaySound,
  back = 'arco',
): Arrangement => {
  const layers = runPlanOnAll(arrangement);
  const made = pageEdit(
    {
      arrangement,
      selection: selectionOf(
        1,
        which.map((index) => ids[index] as number),
      ),
      writtenOf: () => layers[0] ?? { notes: [] },
      reading: () => readPitches(arrangement, layers),
      barAt: writtenMaps(arrangement).meterMap.barAt,
    },
    { wish: 'way', word, back, ...(sound ? { sound } : {}) },
  );
  if (!made.ok) throw new Error(made.problem.message);
  expect(applyEdit(applyEdit(arrangement, made.value), invertEdit(made.value))).toEqual(arrangement);
  return applyEdit(arrangement, made.value);
};

/** Words over notes as the page has them: the word, and the number of the note of its bar. */
const wordsOf = (arrangement: Arrangement): string[] => {
  const layers = runPlanOnAll(arrangement);
  const reading = readPitches(arrangement, layers);
  const musicXml = writeMusicXml(buildScore(arrangement, layers, writtenMaps(arrangement), reading));
  const said: string[] = [];
  let at = 0;
  for (const [, word, pitch] of musicXml.matchAll(/<words[^>]*>([^<]+)<\/words>|<step>(\w)<\/step>/g)) {
    if (pitch) at += 1;
    else said.push(`${word} before note ${at + 1}`);
  }
  return said;
};

const midicsv = (arrangement: Arrangement): string[] => {
  const file = path.join(mkdtempSync(path.join(tmpdir(), 'crispfold-')), 'ways.mid');
  writeFileSync(file, writePlayedMidi(arrangement));
  return execFileSync('midicsv', [file], { encoding: 'utf8' }).split('\n');
};

describe('a way of playing on the page', () => {
  it('has its word over the first note and the word that ends it over the note after the last', () => {
    expect(wordsOf(played(base, [2, 3, 4], 'pizz.'))).toEqual(['pizz. before note 3', 'arco before note 6']);
  });

  it('says no second word where another begins at once, nor where nothing follows, nor where none is wanted', () => {
    const two = played(played(base, [0, 1], 'pizz.'), [2, 3], 'con sord.', undefined, 'senza sord.');
    expect(wordsOf(two)).toEqual(['pizz. before note 1', 'con sord. before note 3', 'senza sord. before note 5']);
    expect(wordsOf(played(base, [6, 7], 'pizz.'))).toEqual(['pizz. before note 7']);
    expect(wordsOf(played(base, [1], 'mute', undefined, ''))).toEqual(['mute before note 2']);
  });

  it('gives way to another that begins among its notes, and goes without a word', () => {
    const first = played(base, [1, 2], 'pizz.');
    const other = played(first, [1, 2, 3], 'mute', undefined, 'open');
    expect(wordsOf(other)).toEqual(['mute before note 2', 'open before note 5']);
    expect(wordsOf(played(other, [0, 1, 2], ''))).toEqual([]);
  });

  it('keeps to its notes when another window’s notes have taken their ids', () => {
    const added = { ...(notes[0] as (typeof notes)[0]), id: base.nextNoteId };
    const theirs = applyEdit(base, {
      label: 'theirs',
      changes: [{ kind: 'notes', partId: 1, added: [added], removed: [], changed: [] }],
    });
    const mine = { ...added, onset: (9 * PPQ) as never };
    const edits = onTopOf(theirs, [
      {
        label: 'mine',
        changes: [
          { kind: 'notes', partId: 1, added: [mine], removed: [], changed: [] },
          {
            kind: 'overrides',
            partId: 1,
            added: [{ kind: 'way', noteId: ids[7] as number, to: mine.id, word: 'pizz.', back: '' }],
            removed: [],
            changed: [],
          },
        ],
      },
    ]);
    const after = edits.reduce((arrangement, edit) => applyEdit(arrangement, edit), theirs);
    const [part] = after.parts;
    const [span] = part ? waySpans(part, PPQ) : [];
    expect(span?.until).toBe(9 * PPQ + mine.duration);
  });
});

describe('a way of playing in sound', () => {
  it('is another program from its first note to what follows, read by midicsv', () => {
    const pizz = played(base, [2, 3], 'pizz.', { by: 'program', program: 45 });
    expect(midicsv(pizz).filter((line) => line.includes('Program_c'))).toEqual([
      '2, 0, Program_c, 0, 42',
      `2, ${2 * PPQ}, Program_c, 0, 45`,
      `2, ${4 * PPQ}, Program_c, 0, 42`,
    ]);
    const heard = heardEvents(pizz, [1]).map(({ at, event }) => [at, event.kind === 'program' ? event.program : null]);
    expect(heard).toEqual([
      [0.96, 45],
      [1.92, 42],
    ]);
  });

  it('is a controller that goes back, or a key that is struck before the first note', () => {
    const mute = played(base, [4], 'mute', { by: 'controller', controller: 32, value: 100, rest: 5 });
    expect(midicsv(mute).filter((line) => line.includes('Control_c'))).toEqual([
      `2, ${4 * PPQ}, Control_c, 0, 32, 100`,
      `2, ${5 * PPQ}, Control_c, 0, 32, 5`,
    ]);
    const key = played(base, [4], 'stopped', { by: 'key', pitch: 24 });
    const strokes = midicsv(key).filter((line) => /Note_o\w+_c, 0, 24,/.test(line));
    expect(strokes).toEqual([`2, ${4 * PPQ - 15}, Note_on_c, 0, 24, 64`, `2, ${4 * PPQ}, Note_off_c, 0, 24, 64`]);
  });

  it('is the one that begins where two meet, and nothing without a sound of its own', () => {
    const two = played(played(base, [0, 1], 'pizz.', { by: 'program', program: 45 }), [2], 'trem.', {
      by: 'program',
      program: 44,
    });
    const [part] = two.parts;
    const { events } = part ? waysInSound(part, PPQ) : { events: [] };
    expect(events.map((event) => [event.tick / PPQ, event.kind === 'program' ? event.program : 0])).toEqual([
      [0, 45],
      [2, 42],
      [2, 44],
      [3, 42],
    ]);
    const silent = played(base, [0], 'pizz.').parts[0];
    expect(silent && waysInSound(silent, PPQ)).toEqual({ events: [], keys: [] });
  });

  it('is read in again as the same programs', () => {
    const pizz = played(base, [2, 3], 'pizz.', { by: 'program', program: 45 });
    const back = importMidi([{ name: 'ways.mid', bytes: writePlayedMidi(pizz) }]);
    if (!back.ok) throw new Error(back.problem.message);
    expect(
      back.value.arrangement.parts[0]?.events.map((event) => (event.kind === 'program' ? event.program : null)),
    ).toEqual([42, 45, 42]);
  });
});
