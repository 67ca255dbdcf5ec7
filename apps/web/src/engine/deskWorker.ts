/** The worker's door: hands requests to the session they belong to, and what is large back without copying it. */
import { expose, transfer, wrap } from 'comlink';
import { applyNamingOfWorker } from '../app/naming.js';
import { createDesk } from './deskSession.js';
import type { EngraverWorker } from './engraverWorker.js';
import type { AnswerTo, CallName, DeskRequest } from './protocol.js';

applyNamingOfWorker();

let engraver: EngraverWorker | undefined;

const desk = createDesk((musicXml) => {
  if (!engraver) throw new Error('the engraver was not reached');
  return engraver.engrave(musicXml);
});

/** What can be handed over instead of copied. */
const buffersOf = (answer: AnswerTo<CallName>): ArrayBuffer[] =>
  'layers' in answer ? answer.layers.map(({ packed }) => packed.numbers.buffer) : [];

expose({
  engraveOver: (port: MessagePort): void => {
    engraver = wrap(port) as unknown as EngraverWorker;
  },
  ask: async (request: DeskRequest): Promise<AnswerTo<CallName>> => {
    const answer = await desk(request);
    return transfer(answer, buffersOf(answer));
  },
});
