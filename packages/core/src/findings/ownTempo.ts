/** A take that followed no click, or another tempo than its file says. */
import { tempoSpan } from '../reading/beats/beatChanges.js';
import { tempoMisfit } from '../reading/beats/tempoFits.js';
import type { Check, Noticed } from './finding.js';

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
    const { slow, middle, fast } = tempoSpan(found, 0.1);
    const tempo = fast - slow < 3 ? `about ${middle}` : `${slow} to ${fast}`;
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
