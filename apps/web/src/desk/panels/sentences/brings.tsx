/** What sentences bring to the Desk. */
import { SENTENCE_COMMANDS } from '../../actions/commands/sentenceCommands.js';
import type { Brings } from '../../controls/brings.js';
import { SentencesPanel } from './SentencesPanel.js';

export const SENTENCES: Brings = {
  commands: SENTENCE_COMMANDS,
  tools: {
    sentences: () => <SentencesPanel key="list" writing={false} />,
    writeSentence: () => <SentencesPanel key="write" writing />,
  },
};
