/** Commands that go through the findings. */

import { type Finding, moveNotes, selectionOf } from '@crispfold/core';
import { commit } from '../../session/saving.js';
import { chosenFinding, neighbour, ofSameKind } from '../../state/findings.js';
import { layoutActions } from '../../state/layoutSlice.js';
import { boxAround } from '../../state/rollView.js';
import { selectingActions } from '../../state/selectingSlice.js';
import { selectDoubts, selectedOnView } from '../../state/selectors.js';
import { said } from '../../state/speechSlice.js';
import { steppingActions } from '../../state/steppingSlice.js';
import { chooseFinding, dismiss, mend, withOtherMend } from '../findingList.js';
import { barsAbout, reveal } from '../looking.js';
import { playRange } from '../playing.js';
import { type Command, type CommandContext, inGroup } from './command.js';
import { findingChosen, findingHasOther, findingMendable } from './conditions.js';

/** Chooses a finding and goes there. */
export const goToFinding = (context: CommandContext, finding: Finding): void => {
  context.dispatch(chooseFinding(finding));
  show(context, finding);
};

const show = (context: CommandContext, finding: Finding): void => {
  const [first] = selectedOnView(context.getState());
  reveal(context, finding.tick, first?.pitch ?? 60);
};

/** Does something with a finding, and goes to the one that is chosen after it. */
export const thenToNext = (context: CommandContext, act: ReturnType<typeof mend>): void => {
  context.dispatch(act);
  const chosen = chosenFinding(context.getState());
  if (chosen) show(context, chosen);
};

const walkFindings = (step: 1 | -1) => (context: CommandContext) => {
  const finding = neighbour(context.getState(), step);
  if (finding) goToFinding(context, finding);
  else {
    context.dispatch(layoutActions.panelShown('findings'));
    context.dispatch(said(context.getState().checks.ran ? 'There are no findings.' : 'The checks are not done yet.'));
  }
};

const withChosen = (act: (finding: Finding, context: CommandContext) => void) => (context: CommandContext) => {
  const finding = chosenFinding(context.getState());
  if (finding) act(finding, context);
};

/** Plays the bars around the chosen finding. */
export const playAround = withChosen((finding, { dispatch, getState }) => {
  const state = getState();
  const box = boxAround(selectedOnView(state));
  const fourWholesOn = finding.tick + 4 * 4 * (state.piece.arrangement?.ppq ?? 480);
  dispatch(playRange(barsAbout(state, finding.tick, Math.min(box?.end ?? finding.tick, fourWholesOn), 1)));
});

/** Goes to a start that the last quantize could have put elsewhere: selects it and brings it to view. */
const goToDoubt = (step: 1 | -1) => (context: CommandContext) => {
  const state = context.getState();
  const { length } = selectDoubts(state);
  showDoubt(context, (state.stepping.doubtAt + step + length) % length);
};

/** Shows one of the doubtful starts. */
export const showDoubt = (context: CommandContext, at: number): void => {
  const doubts = selectDoubts(context.getState());
  const doubt = doubts[at];
  if (!doubt) return;
  context.dispatch(steppingActions.doubtChosen(at));
  context.dispatch(selectingActions.selected(selectionOf(doubt.partId, [doubt.noteId])));
  const [note] = selectedOnView(context.getState());
  if (note) reveal(context, note.onset, note.pitch);
  context.dispatch(said(`${at + 1} of ${doubts.length}: could have gone to the other line.`));
};

/** Puts the doubtful start that is looked at on the other line. */
export const turnDoubt = ({ dispatch, getState }: CommandContext): void => {
  const state = getState();
  const {
    stepping: { doubtAt },
    piece: { arrangement },
  } = state;
  const doubt = selectDoubts(state)[doubtAt];
  if (!doubt || !arrangement) return;
  const shift = { byTicks: doubt.other - doubt.now, bySemitones: 0 };
  const edit = moveNotes(arrangement, selectionOf(doubt.partId, [doubt.noteId]), shift);
  dispatch(commit(edit && { ...edit, label: edit.label.replace('Move', 'The other line') }));
};

const anyDoubt: Command['when'] = (state) =>
  selectDoubts(state).length > 0 ? null : 'The last quantize left no start that could have gone either way.';

const command = inGroup('Findings');

export const FINDING_COMMANDS = [
  command('nextFinding', 'Go to the next finding', walkFindings(1)),
  command('previousFinding', 'Go to the finding before', walkFindings(-1)),
  command('playAround', 'Play around the finding', playAround, findingChosen),
  command(
    'mendFinding',
    'Mend the finding',
    withChosen((finding, context) => thenToNext(context, mend([finding]))),
    findingMendable,
  ),
  command(
    'otherMend',
    'Take the other reading, or the other mend',
    withChosen((finding, context) => thenToNext(context, mend([withOtherMend(finding)]))),
    findingHasOther,
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
    withChosen((finding, context) => thenToNext(context, dismiss([finding], finding.reason))),
    findingChosen,
  ),
  command(
    'dismissKind',
    'Dismiss all findings of this kind',
    withChosen((_finding, { dispatch, getState }) => dispatch(dismiss(ofSameKind(getState())))),
    findingChosen,
  ),
  command('nextDoubt', 'Go to the next doubtful start', goToDoubt(1), anyDoubt),
  command('previousDoubt', 'Go to the doubtful start before', goToDoubt(-1), anyDoubt),
  command('otherLine', 'Put the doubtful start on the other line', turnDoubt, anyDoubt),
];
