/** What a small list that a key opened has, and what its letters do. */
import { lineInWords, type Sentence } from '@crispfold/core';
import { type Command, type CommandContext, carryOut, commandById } from '../actions/commands/command.js';
import { doSentence } from '../actions/doSentence.js';
import { keysActions } from '../state/keysSlice.js';
import type { ListId } from '../state/keyTable.js';
import { layoutActions } from '../state/layoutSlice.js';
import { inList } from '../state/ownKeys.js';
import type { OwnRow } from '../state/ownList.js';
import type { RootState } from '../state/root.js';
import { said } from '../state/speechSlice.js';

/** A line of the list that is no command: a kept sentence, or a row of one's own. */
export interface OtherLine {
  readonly letter: string;
  readonly words: string;
  readonly title: string | undefined;
}

/** The commands of a list by their letters. */
export const commandsOf = (
  { keys }: Pick<RootState, 'keys'>,
  list: ListId,
  context: Pick<CommandContext, 'commands'>,
): readonly { readonly letter: string; readonly command: Command }[] =>
  inList(keys.own, list).flatMap(([letter, id]) => {
    const command = commandById(context, id);
    return command ? [{ letter, command }] : [];
  });

const withKey = ({ kept }: Pick<RootState, 'kept'>): readonly Sentence[] =>
  (kept.sentences ?? []).filter(({ key }) => key !== undefined);

/** What stands on a list besides commands. */
export const othersOf = (state: Pick<RootState, 'kept' | 'keys'>, list: ListId): readonly OtherLine[] => {
  if (list === 'sentences')
    return withKey(state).map(({ key = '', name, lines }) => ({
      letter: key,
      words: name,
      title: lines.map(lineInWords).join(' '),
    }));
  return list === 'own' ? state.keys.rows.map(({ letter, name }) => ({ letter, words: name, title: undefined })) : [];
};

/** Does all that a row of one's own stands for; what does not apply just then says so, and the rest is done. */
const doRow = (row: OwnRow, context: CommandContext): void => {
  for (const id of row.commands) {
    const command = commandById(context, id);
    if (command) carryOut(command, context);
  }
};

/** Carries out what a letter of a list stands for, and closes it; false where it stands for nothing there. */
export const choose = (list: ListId, letter: string, settings: boolean, context: CommandContext): boolean => {
  const { dispatch } = context;
  const state = context.getState();
  const close = () => dispatch(keysActions.listOpened(null));
  const command = commandsOf(state, list, context).find((own) => own.letter === letter)?.command;
  if (command) {
    close();
    dispatch(said(''));
    if (settings && command.step) dispatch(layoutActions.stepSettingsShown(command.step));
    else carryOut(command, context);
    return true;
  }
  const sentence = list === 'sentences' ? withKey(state).find(({ key }) => key === letter) : undefined;
  if (sentence) {
    close();
    void dispatch(doSentence(sentence));
    return true;
  }
  const row = list === 'own' ? state.keys.rows.find((own) => own.letter === letter) : undefined;
  if (row) {
    close();
    dispatch(said(row.name));
    doRow(row, context);
  }
  return row !== undefined;
};
