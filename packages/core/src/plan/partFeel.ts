/** A part's feel as a person reads it: for each sixteenth of its commonest bar how late, in milliseconds, and how much louder. */
import { type Arrangement, type PartId, partById } from '../model/arrangement.js';
import { learnFeel, OFTEN } from '../reading/feel.js';
import { playedContext } from './context.js';

/** One sixteenth of the bar. */
export interface FeltPlace {
  /** From 0, at the bar line. */
  readonly sixteenth: number;
  /** Milliseconds after its place; before it where negative, at the tempo of the piece's beginning. */
  readonly late: number;
  /** Steps of velocity above what is usual about it. */
  readonly louder: number;
  /** How often the part has a start there. */
  readonly met: number;
}

/** The feel of a part, learnt over all of it; empty where it has too few notes to learn from. */
export const partFeel = (arrangement: Arrangement, partId: PartId): readonly FeltPlace[] => {
  const part = partById(arrangement, partId);
  if (!part) return [];
  const { strikesOf, bars, ppq, tempoMap } = playedContext(arrangement, part);
  const tickLength = 1 / tempoMap.ticksPerMillisecond(0);
  const feel = learnFeel(strikesOf(partId), bars, ppq);
  // A place that is met more rarely goes by others, and says nothing itself.
  const often = (feel?.places ?? []).filter(({ met }) => met >= OFTEN);
  return often.map(({ sixteenth, late, louder, met }) => ({
    sixteenth,
    late: Math.round(late * tickLength * 10) / 10,
    louder: Math.round(louder * 10) / 10,
    met,
  }));
};
