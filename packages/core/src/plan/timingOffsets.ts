/** How far starts lie from the grid, before the plan and after it: what the timing chart shows. */

import type { Arrangement, NoteId, Part } from '../model/arrangement.js';
import type { QuantizeStartsParameters } from '../model/stepParameters.js';
import { rescaleTicks, WRITTEN_PPQ } from '../time/units.js';
import { planOf } from './readyPlans.js';
import { runPlan } from './runPlan.js';
import type { WrittenMaps } from './writtenMaps.js';

/** Milliseconds late (positive) or early, one for each Written note. */
export interface TimingOffsets {
  readonly played: readonly number[];
  readonly written: readonly number[];
}

/** Offsets from where the plan's grid would put each start at full strength; of all notes, or only of some. */
export const timingOffsets = (
  arrangement: Pick<Arrangement, 'ppq'>,
  part: Part,
  maps: WrittenMaps,
  only: ReadonlySet<NoteId> | null = null,
): TimingOffsets => {
  const plan = planOf(part);
  const full = {
    ...plan,
    steps: plan.steps.map((item) =>
      item.step === 'quantizeStarts'
        ? {
            ...item,
            on: true,
            parameters: {
              ...(item.parameters as QuantizeStartsParameters),
              strength: 100,
              leaveAloneWithin: null,
              moveAtMost: null,
            },
          }
        : item,
    ),
  };
  const targets = new Map(runPlan(part, arrangement.ppq, maps, full).notes.map((note) => [note.id, note.onset]));
  const starts = new Map(part.notes.map((note) => [note.id, rescaleTicks(note.onset, arrangement.ppq, WRITTEN_PPQ)]));
  const played: number[] = [];
  const written: number[] = [];
  for (const note of runPlan(part, arrangement.ppq, maps, plan).notes) {
    const target = targets.get(note.id);
    const start = starts.get(note.id);
    if (target === undefined || start === undefined || (only && !only.has(note.id))) continue;
    const perMs = maps.tempoMap.ticksPerMillisecond(target);
    played.push((start - target) / perMs);
    written.push((note.onset - target) / perMs);
  }
  return { played, written };
};
