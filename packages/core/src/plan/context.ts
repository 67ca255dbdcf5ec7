/** What steps may know besides the notes, in Played ticks or in written units. */
import { instrumentById } from '../instruments/instruments.js';
import { type Arrangement, lastTick, type Part } from '../model/arrangement.js';
import type { StepContext } from '../steps/step.js';
import { createMeterMap } from '../time/meterMap.js';
import { createTempoMap } from '../time/tempoMap.js';

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

/** The context of a part as played: for edits of a selection, and for checks. */
export const playedContext = (arrangement: Arrangement, part: Part): StepContext => ({
  ...mapsOf(arrangement),
  ppq: arrangement.ppq,
  events: part.events.filter((event) => event.kind === 'controller'),
  instrument: instrumentById(part.instrument),
  fifths: arrangement.keys[0]?.fifths ?? 0,
  firstNewId: arrangement.nextNoteId,
  onsetsOf: (partId) => arrangement.parts.find((other) => other.id === partId)?.notes.map((note) => note.onset) ?? [],
});
