/** What the roll draws for each part: Played before the crease, Written after it, and where the two differ. */

import {
  instrumentById,
  isUnpitched,
  type Note,
  type Part,
  type PartId,
  rescaleTicks,
  WRITTEN_PPQ,
} from '@crispfold/core';
import type { WrittenLayer } from '../../engine/protocol.js';
import { perObject } from '../../ui/perObject.js';
import type { HueFacts } from './hues.js';
import { createNoteIndex, type NoteIndex } from './noteIndex.js';

/** A note ready to draw, in ticks. */
export interface RollNote {
  readonly id: number;
  readonly pitch: number;
  readonly onset: number;
  readonly duration: number;
  readonly velocity: number;
  readonly channel: number;
  readonly muted: boolean;
}

/** A part's two layers. */
export interface RollPart {
  readonly partId: number;
  readonly played: NoteIndex<RollNote>;
  readonly written: NoteIndex<RollNote>;
  /** Written notes that differ from their Played note. */
  readonly differing: NoteIndex<RollNote>;
  /** What the page knows of each note, by its Played or Written id; worked out when hue first shows it. */
  readonly facts: () => ReadonlyMap<number, HueFacts>;
  /** True for unpitched percussion: hits are heads without length. */
  readonly hits: boolean;
}

/** A Played note ready to draw. */
export const asRollNote = ({ id, pitch, onset, duration, velocity, channel, muted = false }: Note): RollNote => ({
  id,
  pitch,
  onset,
  duration,
  velocity,
  channel,
  muted,
});

const playedOf = perObject((notes: Part['notes']): NoteIndex<RollNote> => createNoteIndex(notes.map(asRollNote)));

const EMPTY: NoteIndex<RollNote> = createNoteIndex([]);
const NO_FACTS = (): ReadonlyMap<number, HueFacts> => new Map();

/** Voice, staff and whether the plan changed it, of each note that is written; one that is not is taken for changed. */
const factsOf = (layer: WrittenLayer, differs: readonly RollNote[]): ReadonlyMap<number, HueFacts> => {
  const changed = new Set(differs.map((note) => note.id));
  const facts = new Map<number, HueFacts>();
  for (const { id, sources, voice, staff } of layer.notes) {
    const own = { voice, staff, changed: changed.has(id) };
    for (const source of sources) facts.set(source, { ...own, changed: own.changed || source !== id });
    facts.set(id, own);
  }
  return facts;
};

/** What is laid out of a Written layer, beside the Played notes that it was made from. */
const writtenOf = perObject(
  (
    layer: WrittenLayer,
    played: Part['notes'],
    ppq: number,
    only: ReadonlySet<number> | undefined,
  ): Pick<RollPart, 'written' | 'differing' | 'facts'> => {
    const byId = new Map(played.map((note) => [note.id, note]));
    const seen = only ? layer.notes.filter(({ sources }) => sources.some((id) => only.has(id))) : layer.notes;
    const notes = seen.map((note): RollNote => {
      const onset = rescaleTicks(note.onset, WRITTEN_PPQ, ppq);
      const end = rescaleTicks(note.onset + note.duration, WRITTEN_PPQ, ppq);
      const { id, pitch, velocity, channel } = note;
      return { id, pitch, onset, duration: end - onset, velocity, channel, muted: false };
    });
    const differs = notes.filter((note) => {
      const before = byId.get(note.id);
      return !before || before.onset !== note.onset || before.duration !== note.duration || before.pitch !== note.pitch;
    });
    let facts: ReadonlyMap<number, HueFacts> | undefined;
    return {
      written: createNoteIndex(notes),
      differing: createNoteIndex(differs),
      facts: () => {
        facts ??= factsOf(layer, differs);
        return facts;
      },
    };
  },
);

const NOTHING_WRITTEN = { written: EMPTY, differing: EMPTY, facts: NO_FACTS };

const laidOut = perObject(
  (
    written: Pick<RollPart, 'written' | 'differing' | 'facts'>,
    played: NoteIndex<RollNote>,
    partId: PartId,
    hits: boolean,
  ): RollPart => ({ partId, played, ...written, hits }),
);

/**
 * Lays out one part; the same notes give the same record. The Written layer may be a moment old. Where `only` some notes
 * are seen, those that the plan made of them are.
 */
export const layOut = (
  part: Part,
  layer: WrittenLayer | undefined,
  ppq: number,
  only: ReadonlySet<number> | undefined = undefined,
): RollPart => {
  const played = playedOf(part.notes);
  const hits = isUnpitched(instrumentById(part.instrument));
  if (!layer) return { partId: part.id, played, ...NOTHING_WRITTEN, hits };
  return laidOut(writtenOf(layer, part.notes, ppq, only), played, part.id, hits);
};
