/** Files dropped on an open arrangement: their parts join it, its own tempo and meters stand. */
import type { Arrangement, Part } from '../model/arrangement.js';
import type { Change, Edit } from '../model/edit.js';
import type { Problem } from '../model/result.js';
import { withIds } from '../parts/partEdits.js';
import { leastCommonMultiple, rescaleTicks, ticks } from '../time/units.js';
import { HIGHEST_PPQ } from './importMidi.js';

/** The Edit that adds the parts of `brought`, and what was noticed. */
export interface PartsToAdd {
  readonly edit: Edit;
  readonly warnings: readonly Problem[];
}

const scaledPart = (part: Part, from: number, to: number): Part => ({
  ...part,
  events: part.events.map((event) => ({ ...event, tick: rescaleTicks(event.tick, from, to) })),
  notes: part.notes.map((note) => {
    const onset = rescaleTicks(note.onset, from, to);
    return { ...note, onset, duration: ticks(rescaleTicks(note.onset + note.duration, from, to) - onset) };
  }),
});

/**
 * Parts come in at the arrangement's PPQ. Where theirs does not go into it, the arrangement's stays and their places are
 * rounded to the nearest tick, which a warning says: changing every tick of the work at hand for a new file would be worse.
 */
export const addParts = (arrangement: Arrangement, brought: Arrangement): PartsToAdd => {
  const { ppq } = arrangement;
  const warnings: Problem[] = [];
  if (leastCommonMultiple(ppq, brought.ppq) !== ppq) {
    warnings.push({
      code: 'roundedTicks',
      message: `The new parts count ${brought.ppq} ticks to the quarter; their places were rounded to the nearest of ${Math.min(ppq, HIGHEST_PPQ)}.`,
    });
  }
  const differs = (key: 'tempos' | 'meters') =>
    JSON.stringify(arrangement[key]) !==
    JSON.stringify(brought[key].map((item) => ({ ...item, tick: rescaleTicks(item.tick, brought.ppq, ppq) })));
  const words = [differs('tempos') ? 'tempo' : '', differs('meters') ? 'meter' : ''].filter(Boolean);
  if (words.length > 0) {
    warnings.push({
      code: 'mapsDisagree',
      message: `The new parts have another ${words.join(' and ')}; the arrangement’s own stands.`,
    });
  }
  let noteId = arrangement.nextNoteId;
  let eventId = arrangement.nextEventId;
  const changes = brought.parts.map((part, index): Change => {
    const scaled = scaledPart(part, brought.ppq, ppq);
    const first = noteId;
    const ids = new Map(scaled.notes.map((note, place) => [note.id, first + place]));
    return {
      kind: 'partAdded',
      index: arrangement.parts.length + index,
      part: {
        ...scaled,
        id: arrangement.nextPartId + index,
        notes: scaled.notes.map((note) => ({ ...note, id: noteId++ })),
        events: scaled.events.map((event) => ({ ...event, id: eventId++ })),
        ...(scaled.overrides
          ? {
              overrides: {
                ...scaled.overrides,
                list: scaled.overrides.list.map((one) => withIds(one, (id) => ids.get(id) ?? id)),
              },
            }
          : {}),
      },
    };
  });
  const names = brought.parts.map((part) => part.name).join(', ');
  const label = brought.parts.length === 1 ? `Add ${names}` : `Add ${brought.parts.length} parts`;
  return { edit: { label, changes }, warnings };
};
