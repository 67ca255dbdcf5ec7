/** What corrections of the page look at, for tests. */
import type { PageScene } from '../edits/pageEdits.js';
import type { Arrangement } from '../model/arrangement.js';
import type { Selection } from '../model/selection.js';
import { readPitches } from '../notation/pitchReading.js';
import { runPlanOnAll } from '../plan/runPlan.js';
import { writtenMaps } from '../plan/writtenMaps.js';

export const sceneOf = (arrangement: Arrangement, selection: Selection): PageScene => {
  const layers = runPlanOnAll(arrangement);
  return {
    arrangement,
    selection,
    writtenOf: (part) => layers.find(({ partId }) => partId === part.id) ?? { notes: [] },
    reading: () => readPitches(arrangement, layers),
    barAt: writtenMaps(arrangement).meterMap.barAt,
  };
};
