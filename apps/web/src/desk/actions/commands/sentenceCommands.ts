/** Commands about sentences; those that are kept are commands of their own, made where they are listed. */
import { READY_SENTENCES, type Sentence } from '@crispfold/core';
import { layoutActions, type Tool } from '../../state/layoutSlice.js';
import type { RootState } from '../../state/root.js';
import { type CommandContext, inGroup } from './command.js';
import { somethingInReach } from './conditions.js';

const show =
  (tool: Tool) =>
  ({ dispatch }: CommandContext) =>
    void dispatch(layoutActions.toolShown(tool));

const command = inGroup('Sentences');

export const SENTENCE_COMMANDS = [
  command('writeSentence', 'Write a sentence: where … do …', show('writeSentence'), somethingInReach),
  command('sentences', 'All sentences', show('sentences')),
];

/** All sentences that can be done: those kept, then the ready ones. */
export const knownSentences = ({ kept }: RootState): readonly Sentence[] => [
  ...(kept.sentences ?? []),
  ...READY_SENTENCES,
];
