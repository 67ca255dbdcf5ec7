/** The way of what is stored: changed, saved, taken away, brought back, exported; and what went wrong on it. */
import { isDeepStrictEqual } from 'node:util';
import { arrangementSchema } from '@crispfold/contract';
import { type Arrangement, importMidi, moveNotes, prepareExport, selectionOf, slimEdit } from '@crispfold/core';
import { archiveBytes, readArchive } from '../archive.js';
import type { ArrangementStore } from '../arrangementStore.js';

const asSent = (value: unknown): unknown => JSON.parse(JSON.stringify(value));

/** What went wrong, in words; nothing where it came out the same. Exports take longest: `exported` says whether they are made. */
export const goesRound = async (
  store: ArrangementStore,
  arrangement: Arrangement,
  exported: boolean,
): Promise<string[]> => {
  const problems: string[] = [];
  const id = await store.create(arrangement);
  const part = arrangement.parts.find(({ notes }) => notes.length > 0);
  const [note] = part?.notes ?? [];
  const edit = part && note && moveNotes(arrangement, selectionOf(part.id, [note.id]), { byTicks: 7, bySemitones: 0 });
  if (edit) await store.append(id, 0, [{ kind: 'edit', edit: slimEdit(edit) }]);
  const open = await store.open(id);
  if (!arrangementSchema.isValidSync(asSent(open.arrangement), { strict: true })) problems.push('it was stored wrong');
  const back = await store.bringBack(readArchive(archiveBytes(await store.takeAway(id))));
  const again = await store.open(back);
  if (!isDeepStrictEqual(asSent(again.arrangement), asSent(open.arrangement))) problems.push('it came back otherwise');
  if (!isDeepStrictEqual(again.history, open.history)) problems.push('its history came back otherwise');
  if (exported) {
    const write = prepareExport(again.arrangement);
    if (!importMidi([{ name: 'again.mid', bytes: write('midi-played') }]).ok) problems.push('its MIDI cannot be read');
    if (!new TextDecoder().decode(write('musicxml')).includes('<score-partwise')) problems.push('its score is none');
  }
  for (const gone of [id, back]) {
    await store.remove(gone);
    await store.removeForGood(gone);
  }
  return problems;
};
