/** A take that followed no click, or another tempo than its file says. */
import { tempoMisfit } from '../reading/beats/tempoFits.js';
import type { Check, Noticed } from './finding.js';

/** Tempi are said in whole beats a minute. */
const inWords = (seconds: number): number => Math.round(60 / seconds);

/** One finding a piece, on its first part that has notes. */
export const ownTempo: Check = {
  name: 'The tempo does not fit',
  explanation:
    'The take has beats of its own, beside those of the file. With these as its tempo every note sounds as it did.',
  severity: 'likely',
  compares: true,
  run: ({ arrangement, part, notes }): readonly Noticed[] => {
    if (arrangement.parts.find((other) => other.notes.some((note) => !note.muted))?.id !== part.id) return [];
    const misfit = tempoMisfit(arrangement);
    if (!misfit) return [];
    const { found, tick, off, beats } = misfit;
    const lengths = found.times.slice(1).map((time, index) => time - (found.times[index] as number));
    const sorted = [...lengths].sort((a, b) => a - b);
    const at = (share: number) => inWords(sorted[Math.floor(share * (sorted.length - 1))] ?? 1);
    const [slow, fast] = [at(0.9), at(0.1)];
    const tempo = fast - slow < 3 ? `about ${at(0.5)}` : `${slow} to ${fast}`;
    return [
      {
        noteIds: notes
          .filter(({ onset }) => onset >= tick)
          .slice(0, 1)
          .map(({ id }) => id),
        tick,
        reason: `${off} of ${beats} beats of the take lie elsewhere than those of the file: it goes at ${tempo} beats a minute`,
        mend: { where: 'tempo', label: 'Take the tempo from the take', beats: found },
      },
    ];
  },
};
