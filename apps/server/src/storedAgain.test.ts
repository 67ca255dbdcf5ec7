/**
 * Whatever is damaged about a file: it is refused in words, or what is stored of it can be edited, saved, archived, brought
 * back and exported, and is then the same.
 */

import {
  demoArrangement,
  importMidi,
  moveNotes,
  preludeArrangement,
  prepareExport,
  selectionOf,
  slimEdit,
  writePlayedMidi,
} from '@crispfold/core';
import { cases } from '@crispfold/core/testing/cases';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { archiveBytes, readArchive } from './archive.js';
import type { ArrangementStore } from './arrangementStore.js';
import type { Database } from './db/database.js';
import { notToBeKept } from './gate.js';
import { damaged } from './testing/damaged.js';
import { goesRound } from './testing/goesRound.js';
import { openStore } from './testing/running.js';

let database: Database;
let store: ArrangementStore;
beforeAll(async () => {
  ({ database, store } = await openStore());
});
afterAll(() => database.close());

const short = preludeArrangement();
const SOURCES: readonly (readonly [name: string, bytes: Uint8Array])[] = [
  ['prelude.mid', writePlayedMidi(short)],
  ['prelude.musicxml', prepareExport(short)('musicxml')],
  ['prelude.mxl', prepareExport(short)('mxl')],
];

describe('a damaged file', () => {
  it.each(SOURCES)('is refused in words or comes out whole: %s', async (name, bytes) => {
    await fc.assert(
      fc.asyncProperty(fc.nat(), fc.integer({ min: 1, max: 3 }), async (seed, times) => {
        const result = importMidi([{ name, bytes: damaged(bytes, seed, times) }]);
        if (!result.ok) {
          expect(result.problem.message).toMatch(/[.]$/);
          return;
        }
        const { arrangement } = result.value;
        // The gate closes where reading let something through: that would be told, and is looked for here.
        expect(notToBeKept(arrangement)).toBeNull();
        expect(await goesRound(store, arrangement, true)).toEqual([]);
      }),
      cases(25),
    );
  });
});

describe('a damaged archive', () => {
  it('is refused in words or comes back as something that can be kept', async () => {
    const id = await store.create(demoArrangement());
    const [part] = demoArrangement().parts;
    const move = moveNotes(demoArrangement(), selectionOf(part?.id ?? 0, part?.notes.map((note) => note.id) ?? []), {
      byTicks: 3,
      bySemitones: 1,
    });
    if (!move) throw new Error('The demo has notes.');
    await store.append(id, 0, [{ kind: 'edit', edit: slimEdit(move) }]);
    const whole = archiveBytes(await store.takeAway(id));
    await fc.assert(
      fc.asyncProperty(fc.nat(), fc.integer({ min: 1, max: 3 }), async (seed, times) => {
        let archive: ReturnType<typeof readArchive>;
        try {
          archive = readArchive(damaged(whole, seed, times));
        } catch (error) {
          expect((error as { status?: number }).status).toBe(422);
          expect((error as Error).message).toMatch(/[.]$/);
          return;
        }
        const back = await store.bringBack(archive);
        // Gone back to its beginning, and on to its end, it is something that can be kept as well.
        for (const position of [0, archive.entries.length]) {
          const { revision } = await store.open(back);
          await store.append(back, revision, [{ kind: 'goTo', position }]).catch((error: { status?: number }) => {
            expect(error.status).toBe(422);
          });
          const { arrangement } = await store.open(back);
          expect(notToBeKept(arrangement)).toBeNull();
          expect(await goesRound(store, arrangement, position === 0)).toEqual([]);
        }
      }),
      cases(25),
    );
  });
});
