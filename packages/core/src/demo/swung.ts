/** A score as its players swing it: the second of each pair comes late, and ends with it. */

import { swungShare } from '../reading/swing.js';
import { WRITTEN_PPQ, type WrittenUnits } from '../time/units.js';
import type { ComposedNote, ComposedScore, ComposedSwing } from './composed.js';

/** The notes as they are to be played. A beat with starts elsewhere than pairs allow is played even: three are three. */
const late = (notes: readonly ComposedNote[], { from, to, ...swing }: ComposedSwing): ComposedNote[] => {
  const unit = swing.pair === 'eighths' ? WRITTEN_PPQ / 2 : WRITTEN_PPQ / 4;
  const uneven = new Set(
    notes.filter(({ onset }) => onset % unit !== 0).map(({ onset }) => Math.floor(onset / WRITTEN_PPQ)),
  );
  const at = (place: number): WrittenUnits => {
    const beat = Math.floor(place / WRITTEN_PPQ);
    if (place < from || place >= to || place % unit !== 0 || uneven.has(beat)) return place as WrittenUnits;
    const share = swungShare(place / WRITTEN_PPQ - beat, swing);
    return Math.round((beat + share) * WRITTEN_PPQ) as WrittenUnits;
  };
  return notes.map((note) => {
    const onset = at(note.onset);
    return { ...note, onset, duration: (at(note.onset + note.duration) - onset) as WrittenUnits };
  });
};

/** The score with the notes of its swung passages where players put them. Beats are quarters there. */
export const swungScore = (score: ComposedScore): ComposedScore => ({
  ...score,
  parts: score.parts.map((part) => ({
    ...part,
    notes: (score.swings ?? []).reduce<readonly ComposedNote[]>(late, part.notes),
  })),
});
