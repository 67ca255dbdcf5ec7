/** Pitches by chance, within a reach and a scale; the same chance number gives the same again. */
import type { Arrangement } from '../model/arrangement.js';
import { createChance } from '../model/chance.js';
import type { Edit } from '../model/edit.js';
import type { Selection } from '../model/selection.js';
import { inSignature } from '../pitch/scales.js';
import { editSelected } from './editSelected.js';

/** How pitches are drawn. */
export interface RandomPitches {
  /** At most so many semitones up or down, 1 to 48. */
  readonly within: number;
  /** Any semitone, or those of the key signature where the note stands. */
  readonly scale: 'any' | 'key';
  /** Chance number, 1 to 9999. */
  readonly seed: number;
}

/** Gives each selected note another pitch, each equally likely; null where nothing differs. */
export const randomPitches = (
  arrangement: Arrangement,
  selection: Selection,
  { within, scale, seed }: RandomPitches,
): Edit | null => {
  const keys = [...arrangement.keys].sort((a, b) => a.tick - b.tick);
  return editSelected('Random pitches', arrangement, selection, (note) => {
    const fifths = keys.findLast((key) => key.tick <= note.onset)?.fifths ?? 0;
    const choices: number[] = [];
    for (let pitch = Math.max(0, note.pitch - within); pitch <= Math.min(127, note.pitch + within); pitch += 1) {
      if (scale === 'any' || inSignature(pitch, fifths)) choices.push(pitch);
    }
    const chance = createChance(seed * 7919 + note.id);
    const at = Math.min(choices.length - 1, Math.floor(chance.between(0, choices.length)));
    return { ...note, pitch: choices[at] ?? note.pitch };
  });
};
