/**
 * The figures that a part's beats are made of: which points of a division are struck. Music says the same again, so that what
 * a part plays often is believed sooner where a rough hand leaves it open.
 */
import { type Division, divisionKey } from './gridModel.js';

/**
 * What a beat costs more (or less, below zero) for the points of its division that are struck, the first the lowest bit. How
 * it was read last, where it is one of the beats learnt from, does not count: no beat is a witness for itself.
 */
export type FigureCost = (division: Division, struck: number, lastRead: FigureRead | null) => number;

/** A beat as it was read: its division, and which of its points are struck. */
export interface FigureRead {
  readonly division: Division;
  readonly struck: number;
  /** How surely it was read so, from a half to 1: counts so much. */
  readonly weight: number;
}

/** Beats that stand for what is met in general; judged by the lines of 40 to 60 ms. */
const PRIOR_BEATS = 0.3;
/** So many figures of a division are thought of beforehand: more make a part's own dearer to leave. */
const FIGURES_MET = 2;
/** No figure is cheaper or dearer by more than this. */
const MOST = 5;
/** Divisions have at most twelve points. */
const BITS = 16;

/** Learns from a part's beats as they were read; O(beats). */
export const figureCosts = (beats: readonly FigureRead[]): FigureCost => {
  const figures = new Map<number, number>();
  const divisions = new Map<number, number>();
  const keyOf = (division: number, struck: number) => division * 2 ** BITS + struck;
  for (const { division, struck, weight } of beats) {
    const of = divisionKey(division);
    figures.set(keyOf(of, struck), (figures.get(keyOf(of, struck)) ?? 0) + weight);
    divisions.set(of, (divisions.get(of) ?? 0) + weight);
  }
  return (division, struck, lastRead) => {
    const of = divisionKey(division);
    const thoughtOf = division.points === 1 ? 1 : FIGURES_MET;
    const own = lastRead && divisionKey(lastRead.division) === of ? lastRead.weight : 0;
    const others = (divisions.get(of) ?? 0) - own;
    const alike = (figures.get(keyOf(of, struck)) ?? 0) - (lastRead?.struck === struck ? own : 0);
    const likely = (alike * thoughtOf + PRIOR_BEATS) / (others + PRIOR_BEATS);
    return Math.max(-MOST, Math.min(MOST, -Math.log(likely)));
  };
};
