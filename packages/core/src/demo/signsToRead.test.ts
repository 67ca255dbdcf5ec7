/** How much there is to read on the page that the default plan makes, against the score as it was composed. */
import { describe, expect, it } from 'vitest';
import { buildScore } from '../notation/buildScore.js';
import { readPitches } from '../notation/pitchReading.js';
import { signsOf, weightOf } from '../notation/readability.js';
import { runPlanOnAll } from '../plan/runPlan.js';
import type { Written } from '../plan/written.js';
import { writtenMaps } from '../plan/writtenMaps.js';
import { written } from '../testing/kit.js';
import type { ComposedScore } from './composed.js';
import { MADE_STYLES, madeScore } from './madeScore.js';
import { perform } from './performer.js';
import { MELODIES } from './remembered/melodies.js';
import { asComposed, rememberedScore } from './remembered/rememberedScore.js';

/** Weighted signs of all bars together, as composed and as the default plan writes them. */
const signs = (composed: ComposedScore, spread: number, seed: number) => {
  const arrangement = perform(composed, {
    seed,
    ppq: 480,
    spread,
    lengths: spread === 0 ? [1, 1] : [0.85, 0.97],
    doubles: 0,
    specks: 0,
  });
  const layers = runPlanOnAll(arrangement);
  const truth = layers.map(
    (layer, index): Written => ({
      ...layer,
      steps: [],
      notes: (composed.parts[index]?.notes ?? []).map(({ pitch, onset, duration }) => ({
        ...written(pitch, 0, 1),
        onset,
        duration,
      })),
    }),
  );
  const maps = writtenMaps(arrangement);
  const weigh = (of: readonly Written[]) =>
    buildScore(arrangement, of, maps, readPitches(arrangement, of)).parts.reduce(
      (sum, { bars }) => sum + bars.reduce((own, bar) => own + weightOf(signsOf(bar)), 0),
      0,
    );
  return { composed: weigh(truth), written: weigh(layers) };
};

const METERS = [
  { numerator: 4, denominator: 4 },
  { numerator: 3, denominator: 4 },
  { numerator: 6, denominator: 8 },
] as const;
const MADE = MADE_STYLES.flatMap((style, index) =>
  METERS.map((meter, which) =>
    madeScore({ seed: 9100 + index * 10 + which, kind: 'line', style, meter, bars: 24, quartersPerMinute: 96 }),
  ),
);
const REMEMBERED = MELODIES.map((tune) => asComposed(rememberedScore(tune), { instrument: 'flute', program: 73 }, 96));

describe('signs to read, as a ratio to the score as composed', () => {
  it.each([
    ['made lines', MADE, 0, 1.02],
    ['made lines', MADE, 15, 1.06],
    ['remembered melodies (from memory)', REMEMBERED, 0, 1.02],
    ['remembered melodies (from memory)', REMEMBERED, 15, 1.06],
  ] as const)('%s, %#', (_, scores, spread, most) => {
    const sums = scores.map((score, index) => signs(score, spread, 9000 + index));
    const total = (of: 'composed' | 'written') => sums.reduce((sum, own) => sum + own[of], 0);
    const ratio = total('written') / total('composed');
    expect(ratio).toBeGreaterThan(0.98);
    expect(ratio).toBeLessThanOrEqual(most);
  });
});
