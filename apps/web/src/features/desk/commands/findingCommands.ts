/** Commands that go through the findings. */
import type { Finding } from '@crispfold/core';
import { deskActions } from '../deskSlice.js';
import { chooseFinding, chosenFinding, dismiss, mend, neighbour, ofSameKind } from '../findings/findingList.js';
import { boxAround } from '../roll/rollView.js';
import { selectedOnView } from '../selectors.js';
import { spoken } from '../speak.js';
import { playRange } from '../transport/playing.js';
import { type CommandContext, inGroup } from './command.js';
import { findingChosen, findingMendable } from './conditions.js';
import { barsAbout, reveal } from './looking.js';

/** Chooses a finding and goes there. */
export const goToFinding = (context: CommandContext, finding: Finding): void => {
  context.dispatch(chooseFinding(finding));
  const [first] = selectedOnView(context.getState());
  reveal(context, finding.tick, first?.pitch ?? 60);
};

const walkFindings = (step: 1 | -1) => (context: CommandContext) => {
  const finding = neighbour(context.getState(), step);
  if (finding) goToFinding(context, finding);
  else {
    context.dispatch(deskActions.panelShown('findings'));
    spoken.set('There are no findings.');
  }
};

const withChosen = (act: (finding: Finding, context: CommandContext) => void) => (context: CommandContext) => {
  const finding = chosenFinding(context.getState());
  if (finding) act(finding, context);
};

/** Plays the bars around the chosen finding. */
export const playAround = withChosen((finding, { getState }) => {
  const state = getState();
  const box = boxAround(selectedOnView(state));
  const fourWholesOn = finding.tick + 4 * 4 * (state.desk.arrangement?.ppq ?? 480);
  playRange(state, barsAbout(state, finding.tick, Math.min(box?.end ?? finding.tick, fourWholesOn), 1));
});

const command = inGroup('Findings');

export const FINDING_COMMANDS = [
  command('nextFinding', 'Go to the next finding', walkFindings(1)),
  command('previousFinding', 'Go to the finding before', walkFindings(-1)),
  command('playAround', 'Play around the finding', playAround, findingChosen),
  command(
    'mendFinding',
    'Mend the finding',
    withChosen((finding, { dispatch }) => dispatch(mend([finding]))),
    findingMendable,
  ),
  command(
    'mendKind',
    'Mend all findings of this kind',
    withChosen((_finding, { dispatch, getState }) => dispatch(mend(ofSameKind(getState())))),
    findingMendable,
  ),
  command(
    'dismissFinding',
    'Dismiss the finding',
    withChosen((finding, { dispatch }) => dispatch(dismiss([finding], finding.reason))),
    findingChosen,
  ),
  command(
    'dismissKind',
    'Dismiss all findings of this kind',
    withChosen((_finding, { dispatch, getState }) => dispatch(dismiss(ofSameKind(getState())))),
    findingChosen,
  ),
];
