/** What steps may know besides the notes, in Played ticks or in written units. */

import { instrumentById } from '../instruments/instruments.js';
import { GENERAL_MIDI_MAP } from '../instruments/percussionMap.js';
import { type Arrangement, lastTick, type Part } from '../model/arrangement.js';
import type { EarlierPart, StepContext } from '../reading/context.js';
import { placed } from '../reading/stepNote.js';
import { createMeterMap } from '../time/meterMap.js';
import { createTempoMap } from '../time/tempoMap.js';
import { rescaleTicks } from '../time/units.js';

const maps = new WeakMap<Arrangement, Pick<StepContext, 'tempoMap' | 'meterMap' | 'bars'>>();

const mapsOf = (arrangement: Arrangement) => {
  let known = maps.get(arrangement);
  if (!known) {
    const { ppq, tempos, meters, parts } = arrangement;
    const meterMap = createMeterMap(meters, ppq);
    known = { tempoMap: createTempoMap(tempos, ppq), meterMap, bars: meterMap.barsTo(lastTick(parts) + ppq * 4) };
    maps.set(arrangement, known);
  }
  return known;
};

/** The notes of the parts above one, scaled from the arrangement's PPQ to another; worked out when first asked. */
export const earlierPartsOf = (
  { parts, ppq }: Pick<Arrangement, 'parts' | 'ppq'>,
  part: Pick<Part, 'id'>,
  toPpq: number,
): StepContext['earlierParts'] => {
  let made: readonly EarlierPart[] | undefined;
  return () => {
    made ??= parts
      .slice(
        0,
        parts.findIndex((other) => other.id === part.id),
      )
      .map(({ name, notes }) => ({
        name,
        notes: notes
          .filter((note) => !note.muted)
          .map((note) => placed(note, rescaleTicks(note.onset, ppq, toPpq), rescaleTicks(note.duration, ppq, toPpq))),
      }));
    return made;
  };
};

/** Ids for notes that an Edit of Played adds, from the arrangement's next on. */
const freshIds = ({ nextNoteId }: Arrangement): StepContext['newId'] => {
  let next = nextNoteId;
  return () => next++;
};

/** The context of a part as played: for edits of a selection, and for checks. */
export const playedContext = (arrangement: Arrangement, part: Part): StepContext => ({
  ...mapsOf(arrangement),
  ppq: arrangement.ppq,
  events: part.events.filter((event) => event.kind === 'controller'),
  instrument: instrumentById(part.instrument),
  percussion: part.percussionMap ?? GENERAL_MIDI_MAP,
  fifths: arrangement.keys[0]?.fifths ?? 0,
  newId: freshIds(arrangement),
  swing: null,
  earlierParts: earlierPartsOf(arrangement, part, arrangement.ppq),
  strikesOf: (partId) => arrangement.parts.find((other) => other.id === partId)?.notes ?? [],
});
