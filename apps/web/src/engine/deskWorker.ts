/** The worker's door: hands requests to the session they belong to, and what is large back without copying it. */
import { expose, transfer } from 'comlink';
import { createDesk } from './deskSession.js';
import type { AnswerTo, CallName, DeskRequest } from './protocol.js';

const desk = createDesk();

/** What can be handed over instead of copied. */
const buffersOf = (answer: AnswerTo<CallName>): ArrayBuffer[] =>
  'layers' in answer ? answer.layers.map(({ packed }) => packed.numbers.buffer) : [];

expose({
  ask: async (request: DeskRequest): Promise<AnswerTo<CallName>> => {
    const answer = await desk(request);
    return transfer(answer, buffersOf(answer));
  },
});
