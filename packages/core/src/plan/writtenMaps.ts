/** The time maps of an arrangement in written units, shared by its parts. */
import { type Arrangement, lastTick, type Part, type PartId } from '../model/arrangement.js';
import type { StepContext } from '../reading/context.js';
import { type Bar, createMeterMap, type MeterMap } from '../time/meterMap.js';
import { createTempoMap, type TempoMap } from '../time/tempoMap.js';
import { rescaleTicks, WRITTEN_PPQ } from '../time/units.js';
import { earlierPartsOf } from './context.js';

/** Tempo, meter, bars and key of an arrangement, and what the parts know of each other. */
export interface WrittenMaps {
  readonly tempoMap: TempoMap;
  readonly meterMap: MeterMap;
  readonly bars: readonly Bar[];
  readonly fifths: number;
  /** The same for the same times. */
  readonly key: string;
  /** Starts of a part as played, rising. */
  readonly onsetsOf: (partId: PartId) => readonly number[];
  /** Notes of the parts above one. */
  readonly earlierPartsOf: (part: Part) => StepContext['earlierParts'];
}

/** Builds the maps in written units; bars reach a full bar past the last note. */
export const writtenMaps = (
  arrangement: Pick<Arrangement, 'ppq' | 'tempos' | 'meters' | 'keys' | 'parts'>,
): WrittenMaps => {
  const scaled = <Item extends { readonly tick: number }>(items: readonly Item[]) =>
    items.map((item) => ({ ...item, tick: rescaleTicks(item.tick, arrangement.ppq, WRITTEN_PPQ) }));
  const meterMap = createMeterMap(scaled(arrangement.meters), WRITTEN_PPQ);
  const end = rescaleTicks(lastTick(arrangement.parts), arrangement.ppq, WRITTEN_PPQ);
  return {
    tempoMap: createTempoMap(scaled(arrangement.tempos), WRITTEN_PPQ),
    meterMap,
    bars: meterMap.barsTo(end + WRITTEN_PPQ * 4),
    fifths: arrangement.keys[0]?.fifths ?? 0,
    key: JSON.stringify([arrangement.ppq, arrangement.tempos, arrangement.meters, arrangement.keys]),
    earlierPartsOf: (part) => earlierPartsOf(arrangement, part, WRITTEN_PPQ),
    onsetsOf: (partId) =>
      arrangement.parts
        .find((part) => part.id === partId)
        ?.notes.map((note) => rescaleTicks(note.onset, arrangement.ppq, WRITTEN_PPQ)) ?? [],
  };
};
