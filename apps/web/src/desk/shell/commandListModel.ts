/** What the list of all commands shows: groups of lines, each with what it does. */
import { type Command, type CommandContext, carryOut } from '../actions/commands/command.js';
import { knownSentences } from '../actions/commands/sentenceCommands.js';
import { doSentence } from '../actions/doSentence.js';
import { keyName, LISTS } from '../state/keyTable.js';
import { layoutActions } from '../state/layoutSlice.js';
import { keysIn } from '../state/ownKeys.js';

/** A line of the list. */
export interface CommandLine {
  readonly words: string;
  /** What it is found by. */
  readonly sought: string;
  /** Its keys, as they stand on it. */
  readonly keys: string;
  /** Why it does not apply; null where it does. */
  readonly why: string | null;
  readonly act: () => void;
}

/** Lines under one heading. */
export interface CommandLines {
  readonly heading: string;
  readonly lines: readonly CommandLine[];
}

const linesOf = (command: Command, context: CommandContext): readonly CommandLine[] => {
  const { dispatch, getState, desk } = context;
  const state = getState();
  const { id, name, step } = command;
  const why = command.when(state, desk);
  const keys = keysIn(state.keys.own, id).map(keyName).join(' or ');
  const own: CommandLine = { words: name, sought: name, keys, why, act: () => carryOut(command, context) };
  if (!step) return [own];
  const words = `${name}: settings…`;
  return [own, { words, sought: words, keys: '', why, act: () => dispatch(layoutActions.stepSettingsShown(step)) }];
};

const sentencesOf = ({ dispatch, getState }: CommandContext): readonly CommandLine[] =>
  knownSentences(getState()).map((sentence) => ({
    words: sentence.name,
    sought: `${sentence.name} (sentence)`,
    keys: sentence.key ? keyName(`${LISTS.sentences.key} ${sentence.key}`) : '',
    why: null,
    act: () => void dispatch(doSentence(sentence)),
  }));

/** All of it as things stand now, in the list's order. */
export const listedCommands = (context: CommandContext): readonly CommandLines[] => {
  const { commands } = context;
  const headings = [...new Set(commands.map(({ group }) => group))];
  return [
    ...headings.map((heading) => ({
      heading,
      lines: commands.filter(({ group }) => group === heading).flatMap((command) => linesOf(command, context)),
    })),
    { heading: 'Sentences to do', lines: sentencesOf(context) },
  ];
};
