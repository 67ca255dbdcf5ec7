/** Every clean-up step as a command: with the parameters of last time, on the selection. */
import { SELECTION_STEP_IDS, type StepId, stepById } from '@crispfold/core';
import { doStep } from '../doStep.js';
import type { Command, CommandGroup } from './command.js';

/** Steps that are not about lengths, by what they change. */
const GROUPS: { readonly [Id in StepId]?: CommandGroup } = {
  gatherChords: 'Times',
  pullInStart: 'Times',
  quantizeStarts: 'Times',
  quantizeEnds: 'Times',
  humanize: 'Times',
  follow: 'Times',
  stretch: 'Times',
  matchVelocity: 'Loudness',
  velocityRange: 'Loudness',
  velocityScale: 'Loudness',
  transpose: 'Pitch',
  everyNth: 'Pitch',
};

export const STEP_COMMANDS: readonly Command[] = SELECTION_STEP_IDS.map((step) => ({
  id: step,
  name: stepById(step).name,
  group: GROUPS[step] ?? 'Lengths',
  when: () => null,
  run: ({ dispatch }) => void dispatch(doStep(step)),
  step,
}));
