/** What a score's page says of its notes, as corrections that hold it while its playing is shaped. */
import type { Note, NoteId, Part } from '../model/arrangement.js';
import { type BarOverride, NO_OVERRIDES, type Override } from '../model/overrides.js';
import { PLAN_VERSION, type Plan } from '../model/plan.js';
import type { UnnumberedNote } from '../model/readFile.js';
import type { NoteOnPage } from '../musicxml/readMusicXml.js';
import { rescaleTicks, WRITTEN_PPQ } from '../time/units.js';

/** The plan of a part that was read from a score: what stands there is what was written. */
export const AS_READ: Plan = { version: PLAN_VERSION, name: 'As the score was read', steps: [], passages: [] };

/** Notes with ids from `first` on, and what their page says, where they come from a score. */
export const numberedNotes = (
  notes: readonly (UnnumberedNote & { readonly page?: NoteOnPage })[],
  first: NoteId,
): { readonly numbered: Note[]; readonly onPage: ReadonlyMap<NoteOnPage, NoteId> } => {
  const onPage = new Map<NoteOnPage, NoteId>();
  const numbered = notes.map(({ page, ...note }, index): Note => {
    if (page) onPage.set(page, first + index);
    return { ...note, id: first + index };
  });
  return { numbered, onPage };
};

const correctionsOf = (page: NoteOnPage, note: Note, ppq: number, idOf: (page: NoteOnPage) => NoteId | undefined) => {
  const noteId = note.id;
  const at = (tick: number) => rescaleTicks(tick, ppq, WRITTEN_PPQ) as number as never;
  const list: Override[] = [
    { kind: 'held', noteId },
    { kind: 'writtenStart', noteId, at: at(note.onset) },
    { kind: 'writtenEnd', noteId, at: at(note.onset + note.duration) },
    { kind: 'voice', noteId, voice: page.voice },
    { kind: 'staff', noteId, staff: page.staff },
  ];
  if (page.spelling && Math.abs(page.spelling.alter) <= 2) list.push({ kind: 'spelling', noteId, ...page.spelling });
  if (page.staccato) list.push({ kind: 'staccato', noteId, on: true });
  for (const mark of page.marks) list.push({ kind: 'mark', noteId, mark, on: true });
  if (page.head) list.push({ kind: 'notehead', noteId, head: page.head });
  if (page.dynamic) list.push({ kind: 'dynamic', noteId, dynamic: page.dynamic });
  if (page.words) list.push({ kind: 'words', noteId, text: page.words });
  const graceOf = page.graceOf && idOf(page.graceOf);
  if (graceOf) list.push({ kind: 'grace', noteId, to: graceOf });
  const slurred = page.slurTo && idOf(page.slurTo);
  if (slurred) list.push({ kind: 'slur', noteId, to: slurred });
  const slid = page.glissandoTo && idOf(page.glissandoTo);
  if (slid) list.push({ kind: 'glissando', noteId, to: slid });
  const pedalled = page.pedalTo && idOf(page.pedalTo);
  if (pedalled) list.push({ kind: 'pedal', noteId, to: pedalled });
  if (page.tuplet) {
    const { start, length, ratio } = page.tuplet;
    list.push({ kind: 'tuplet', noteId, from: at(start), length: at(length), ...ratio });
  }
  const swelled = page.hairpin && idOf(page.hairpin.to);
  if (page.hairpin && swelled) list.push({ kind: 'hairpin', noteId, to: swelled, way: page.hairpin.way });
  return list;
};

/** The plan and the corrections of a part that was read from a score. */
export const heldPage = (
  onPage: ReadonlyMap<NoteOnPage, NoteId>,
  notes: readonly Note[],
  ppq: number,
  bars: readonly BarOverride[],
): Pick<Part, 'plan' | 'overrides'> => {
  const byId = new Map(notes.map((note) => [note.id, note]));
  const list = [...onPage].flatMap(([page, id]) => {
    const note = byId.get(id);
    return note ? correctionsOf(page, note, ppq, (other) => onPage.get(other)) : [];
  });
  return { plan: AS_READ, overrides: { ...NO_OVERRIDES, list: [...list, ...bars] } };
};
