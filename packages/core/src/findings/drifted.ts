/** Where a page that is held and its playing have drifted apart. */
import type { NoteId } from '../model/arrangement.js';
import { rescaleTicks, WRITTEN_PPQ } from '../time/units.js';
import type { Check, Noticed } from './finding.js';

/** A start this far from where the held page has it is no longer its expression (milliseconds; judged). */
const FAR = 400;

/** Notes held on the page whose starts were moved far from where they are written; those of one bar are told together. */
export const drifted: Check = {
  name: 'Page and playing apart',
  explanation: 'The page is held, and the notes now begin far from where it has them.',
  severity: 'look',
  run: ({ arrangement, part, notes, context, written }): readonly Noticed[] => {
    const held = new Set((part.overrides?.list ?? []).flatMap((one) => (one.kind === 'held' ? [one.noteId] : [])));
    if (held.size === 0) return [];
    const places = new Map(written.notes.map(({ id, onset }) => [id, onset]));
    const byBar = new Map<number, { readonly ids: NoteId[]; readonly tick: number; furthest: number }>();
    for (const { id, onset } of notes) {
      const place = held.has(id) ? places.get(id) : undefined;
      if (place === undefined) continue;
      const page = rescaleTicks(place, WRITTEN_PPQ, arrangement.ppq);
      const apart = Math.abs(onset - page) / context.tempoMap.ticksPerMillisecond(onset);
      if (apart < FAR) continue;
      const { number } = context.meterMap.barAt(page);
      const known = byBar.get(number);
      if (known) {
        known.ids.push(id);
        known.furthest = Math.max(known.furthest, apart);
      } else byBar.set(number, { ids: [id], tick: onset, furthest: apart });
    }
    return [...byBar].map(([bar, { ids, tick, furthest }]) => ({
      noteIds: ids,
      tick,
      reason: `${ids.length === 1 ? 'A note' : `${ids.length} notes`} of bar ${bar} on the page ${ids.length === 1 ? 'is' : 'are'} played ${Math.round(furthest)} ms away from where the held page has ${ids.length === 1 ? 'it' : 'them'}.`,
      mend: null,
    }));
  },
};
