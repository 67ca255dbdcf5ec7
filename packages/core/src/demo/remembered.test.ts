import { describe, expect, it } from 'vitest';
import { MELODIES } from './remembered/melodies.js';
import { OTHER_PIECES, PIECES } from './remembered/pieces.js';
import { rememberedScore } from './remembered/rememberedScore.js';

describe('remembered music', () => {
  it.each(MELODIES.map((tune) => [tune[0], tune] as const))('%s adds up', (_title, tune) => {
    expect(rememberedScore(tune).notes.length).toBeGreaterThan(20);
  });
  it.each([...PIECES, ...OTHER_PIECES].map((piece) => [piece.tune[0], piece.tune] as const))(
    '%s adds up',
    (_title, tune) => {
      expect(rememberedScore(tune).notes.length).toBeGreaterThan(40);
    },
  );
});
