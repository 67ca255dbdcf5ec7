import { describe, expect, it } from 'vitest';
import { contextIn, note, PPQ } from '../testing/kit.js';
import type { AutoGrid, GriddedBeat } from './autoGrid.js';
import type { Attack } from './gridModel.js';
import { remarksOn } from './gridRemarks.js';

const attack = (onset: number): Attack => ({
  onset,
  last: onset,
  length: 200,
  repeats: false,
  cut: false,
  together: false,
});

/** One beat in eighths with a start on it and one on its half, the second played so much late; its reading is so sure. */
const kindsFor = (late: number, margin: number, spread = 30): string[] => {
  const beat: GriddedBeat = {
    start: 0,
    length: PPQ,
    division: 2,
    swung: false,
    pairs: null,
    margin,
    others: [0, PPQ * 0.75],
  };
  const targets = [0, PPQ / 2];
  const grid: AutoGrid = {
    targets,
    played: targets,
    swing: null,
    beats: [beat],
    timing: { lean: 0, spread, drift: 0 },
    heard: null,
    rough: true,
    byFigures: new Set(),
  };
  const attacks = [attack(0), attack(PPQ / 2 + late)];
  const rolls = attacks.map(({ onset }) => [[note(60, onset, 200)]]);
  return remarksOn(grid, attacks, rolls, [], contextIn()).map(({ kind }) => kind);
};

describe('remarks on a reading', () => {
  // At 125 quarters a minute and 480 parts to the quarter a millisecond is a tick.
  it('tell of a start near half-way where its beat has another good reading, and of none where it has not', () => {
    expect(kindsFor(90, 5)).toEqual(['eitherWay']);
    expect(kindsFor(90, 7)).toEqual([]);
    expect(kindsFor(80, 5)).toEqual([]);
  });

  it('tell of the beat alone where it is doubtful', () => {
    expect(kindsFor(90, 1.5)).toEqual(['doubtfulGrid']);
  });

  it('tell of a start far off, however sure its reading', () => {
    expect(kindsFor(100, Number.POSITIVE_INFINITY)).toEqual(['farOff']);
    expect(kindsFor(44, Number.POSITIVE_INFINITY, 5)).toEqual([]);
  });
});
