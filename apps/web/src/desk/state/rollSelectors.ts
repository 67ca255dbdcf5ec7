/** What screens ask of the roll's window. */

import { inSignature, lastTick, scalePitches } from '@crispfold/core';
import { createSelector } from '@reduxjs/toolkit';
import { RECORDING_HEIGHT, RULER_HEIGHT } from './rollLayout.js';
import { createRows, type RollView, type Rows } from './rollView.js';
import type { RootState } from './root.js';
import { selectFrontPart } from './selectors.js';

/** What stands above the notes: the ruler, and the recording where it is shown. */
export const selectHead = ({ looking, piece }: RootState): number =>
  RULER_HEIGHT + (looking.seeing.recording && piece.arrangement?.recording ? RECORDING_HEIGHT : 0);

export const selectView = (state: RootState): RollView => state.roll;

/** Rows of the roll: all, or those that a part on view uses. */
export const selectRows: (state: RootState) => Rows = createSelector(
  (state: RootState) => state.piece.arrangement?.parts ?? [],
  (state: RootState) => state.partsShown.hidden,
  (state: RootState) => state.looking.seeing.rows,
  (state: RootState) => selectKeyPitches(state),
  (state: RootState) => selectMapSounds(state),
  (parts, hidden, shown, key, sounds) => {
    if (shown === 'all') return createRows(null);
    const used = new Set<number>();
    for (const part of parts) if (!hidden.includes(part.id)) for (const note of part.notes) used.add(note.pitch);
    if (used.size === 0) return createRows(null);
    if (shown === 'map') for (const sound of sounds) used.add(sound);
    // No note is without its row: those of the key are added to those in use, from the lowest to the highest of them.
    if (shown === 'key') {
      const [low, high] = [Math.min(...used), Math.max(...used)];
      for (let pitch = low; pitch <= high; pitch += 1) if (key.has(pitch % 12)) used.add(pitch);
    }
    return createRows(used);
  },
);

/** The sounds that the front part's own percussion map names. */
const selectMapSounds: (state: RootState) => readonly number[] = createSelector(
  (state: RootState) => selectFrontPart(state)?.percussionMap,
  (map = []) => map.map(({ sound }) => sound),
);

/** The pitch classes of the chosen scale, or of the key signature in which the piece begins. */
export const selectKeyPitches: (state: RootState) => ReadonlySet<number> = createSelector(
  (state: RootState) => state.piece.arrangement?.keys[0]?.fifths ?? 0,
  (state: RootState) => state.looking.seeing.scale,
  (fifths, scale) =>
    scale
      ? scalePitches(scale.id, scale.root)
      : new Set(Array.from({ length: 12 }, (_, pitch) => pitch).filter((pitch) => inSignature(pitch, fifths))),
);

/** The last tick of the music, at least one quarter. */
export const selectEndTick: (state: RootState) => number = createSelector(
  (state: RootState) => state.piece.arrangement,
  (arrangement) => (arrangement ? Math.max(arrangement.ppq, lastTick(arrangement.parts)) : 480),
);
