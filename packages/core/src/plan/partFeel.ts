/** A part's feel as a person reads it: for each sixteenth of its commonest bar how late, in milliseconds, and how much louder. */
import { type Arrangement, type PartId, partById } from '../model/arrangement.js';
import type { KeptFeel } from '../model/keptFeel.js';
import { learnFeel, OFTEN } from '../reading/feel.js';
import { playedContext } from './context.js';

/** The feel of a part, learnt over all of it, under its name; null where it has too few notes to learn from. */
export const partFeel = (arrangement: Arrangement, partId: PartId): KeptFeel | null => {
  const part = partById(arrangement, partId);
  if (!part) return null;
  const { strikesOf, bars, ppq, tempoMap } = playedContext(arrangement, part);
  const tickLength = 1 / tempoMap.ticksPerMillisecond(0);
  const feel = learnFeel(strikesOf(partId), bars, ppq);
  // A place that is met more rarely goes by others, and says nothing itself.
  const often = (feel?.places ?? []).filter(({ met }) => met >= OFTEN);
  if (!feel || often.length === 0) return null;
  const places = often.map(({ sixteenth, late, louder, met }) => ({
    sixteenth,
    late: Math.round(late * tickLength * 10) / 10,
    louder: Math.round(louder * 10) / 10,
    met,
  }));
  return { name: part.name, bar: feel.bar, places };
};
