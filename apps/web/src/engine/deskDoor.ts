/** The worker's door: hands requests to the session they belong to, and what is large back without copying it. */
import { transfer, wrap } from 'comlink';
import { createDesk, type Engrave } from './deskSession.js';
import type { EngraverWorker } from './engraver.js';
import type { AnswerTo, CallName, DeskRequest } from './protocol.js';
import { warmUp } from './warmUp.js';

/** What can be handed over instead of copied. */
const buffersOf = (answer: AnswerTo<CallName>): ArrayBuffer[] =>
  'layers' in answer ? answer.layers.map(({ packed }) => packed.numbers.buffer) : [];

/** What the worker that runs the plan does. */
export const createDeskWorker = () => {
  let engraver: EngraverWorker | undefined;
  let rehearses = true;
  /** True once something was asked: from then on the worker has its own work. */
  let asked = false;
  const engrave: Engrave = (musicXml) => {
    if (!engraver) throw new Error('the engraver was not reached');
    return engraver.engrave(musicXml);
  };
  const desk = createDesk(engrave, () => rehearses);
  return {
    engraveOver: (port: MessagePort, mayRehearse: boolean): void => {
      rehearses = mayRehearse;
      engraver = wrap(port) as unknown as EngraverWorker;
    },
    warm: (): Promise<void> => warmUp(engrave, () => asked),
    ask: async (request: DeskRequest): Promise<AnswerTo<CallName>> => {
      asked = true;
      const answer = await desk(request);
      return transfer(answer, buffersOf(answer));
    },
  };
};
