/** What a command is, and how it is carried out: by key, from the list, from a menu, from a button. */

import type { StepId } from '@crispfold/core';
import type { AppDispatch, Desk } from '../../session/desk.js';
import type { CommandId } from '../../state/keyTable.js';
import type { RootState } from '../../state/root.js';
import { speechActions } from '../../state/speechSlice.js';

/** What a command works on. */
export interface CommandContext {
  readonly dispatch: AppDispatch;
  readonly getState: () => RootState;
  /** What lives beside the state. */
  readonly desk: Desk;
  readonly openExport: () => void;
  readonly openCommands: () => void;
  readonly leave: () => void;
  /** Goes to the score view, or back from it. */
  readonly turnScore: () => void;
  readonly turnTable: () => void;
  /** Every command of the Desk, in the list's order. */
  readonly commands: readonly Command[];
}

/** One command of the Desk; undefined where there is none of that name. */
export const commandById = ({ commands }: Pick<CommandContext, 'commands'>, id: CommandId): Command | undefined =>
  commands.find((command) => command.id === id);

/** The groups of the command list, in its order. */
export type CommandGroup =
  | 'Play'
  | 'View'
  | 'Parts'
  | 'Share out'
  | 'Select'
  | 'Findings'
  | 'Edit'
  | 'Times'
  | 'Lengths'
  | 'Loudness'
  | 'Pitch'
  | 'Copies'
  | 'Correct the page'
  | 'Lanes and tempo'
  | 'Grid and moves'
  | 'Sentences'
  | 'Arrangement';

/** A command: a verb, when it applies, and what it does. Its keys stand in the key table. */
export interface Command {
  readonly id: CommandId;
  readonly name: string;
  readonly group: CommandGroup;
  /** Null where it applies; else why it does not, in words for the foot, the list and the menu. */
  readonly when: (state: RootState, desk: Desk) => string | null;
  readonly run: (context: CommandContext) => void;
  /** The step it carries out, where it is one: it has settings. */
  readonly step?: StepId;
}

/** Groups whose commands change notes: what "again" repeats. */
const REPEATED: ReadonlySet<CommandGroup> = new Set([
  'Edit',
  'Times',
  'Lengths',
  'Loudness',
  'Pitch',
  'Copies',
  'Correct the page',
  'Share out',
]);
/** …but for those that look back or only prepare. */
const NOT_REPEATED: ReadonlySet<CommandId> = new Set([
  ...(['again', 'undo', 'redo', 'draw', 'noteByNote', 'copy', 'cut'] as const),
  // These open settings; what is done there can be done again.
  ...(['lineUp', 'randomPitches', 'repeatTimes', 'sendTo', 'dealOut'] as const),
]);

/** Carries a command out, or says why it does not apply. */
export const carryOut = (command: Command, context: CommandContext): void => {
  const why = command.when(context.getState(), context.desk);
  if (why !== null) {
    context.dispatch(speechActions.refused(why));
    return;
  }
  context.dispatch(speechActions.refusalOver());
  if (REPEATED.has(command.group) && !NOT_REPEATED.has(command.id))
    context.desk.again.set(() => carryOut(command, context));
  command.run(context);
};

/** The commands of one group; what is left out of `when` always applies. */
export const inGroup =
  (group: CommandGroup) =>
  (id: CommandId, name: string, run: Command['run'], when: Command['when'] = () => null): Command => ({
    id,
    name,
    group,
    when,
    run,
  });
