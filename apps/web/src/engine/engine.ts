/** The two workers, started when first needed, and the session that the Desk is in. */
import { transfer, wrap } from 'comlink';
import { namingForWorker } from '../browser/naming.js';
import type { EngraverWorker } from './engraverWorker.js';
import type { AnswerTo, CallName, Calls, DeskRequest, DeskWorker, Revision, Session } from './protocol.js';
import type { ScorePages } from './scorePages.js';

/** False where the workers are to do nothing that nobody asked for: `no` under this name in the browser's storage. */
const rehearses = (): boolean => localStorage.getItem('crispfold-rehearse') !== 'no';

let desk: DeskWorker | undefined;

/** The worker that runs the plan. Comlink's own type of it would lose which answer belongs to which call. */
const deskWorker = (): DeskWorker => {
  if (!desk) {
    desk = wrap(
      new Worker(new URL('./deskWorker.ts', import.meta.url), { type: 'module', name: namingForWorker() }),
    ) as unknown as DeskWorker;
    // Pages go from one worker to the other: the screen is busy drawing just when there is a new one.
    const { port1, port2 } = new MessageChannel();
    engraverWorker().listen(transfer(port1, [port1]));
    desk.engraveOver(transfer(port2, [port2]), rehearses());
  }
  return desk;
};

let engraver: EngraverWorker | undefined;

/** The worker that engraves. */
const engraverWorker = (): EngraverWorker => {
  engraver ??= wrap<EngraverWorker>(
    new Worker(new URL('./engraverWorker.ts', import.meta.url), { type: 'module' }),
  ) as unknown as EngraverWorker;
  return engraver;
};

/** Lays out short scores, and the first pages of long ones, at once: the engraver is warm. */
export const nearScorePages = (): ScorePages => engraverWorker();

/** Starts a worker that lays out a long score; `end` gives it up. */
export const farScorePages = (): { readonly pages: ScorePages; readonly end: () => void } => {
  const worker = new Worker(new URL('./scoreWorker.ts', import.meta.url), { type: 'module' });
  return { pages: wrap<ScorePages>(worker) as unknown as ScorePages, end: () => worker.terminate() };
};

/** Gives the screens the music font, with which pictures name their letters. */
const takeTextFont = async (): Promise<void> => {
  const style = document.createElement('style');
  style.textContent = await engraverWorker().textFont();
  document.head.append(style);
};

/** Starts both workers ahead of their first use: reading the engraver's code takes as long as reading a file. */
export const warmEngines = (): void => {
  if (desk) return;
  deskWorker();
  void engraverWorker().warm();
  void takeTextFont();
};

/** Has the workers run through some music that nobody sees, so that the first file a person drops finds them quick. */
export const rehearse = (): void => {
  warmEngines();
  if (rehearses()) void deskWorker().warm();
};

let session: Session = 0;
let revision: Revision = 0;

/** Begins a session, for one opening of an arrangement: answers of the one before are dropped from here on. */
export const beginSession = (): Session => {
  session += 1;
  revision = 0;
  return session;
};

/** Tells the worker how the arrangement stands now; answers the revision that this is. */
export const tellWorker = (asks: Calls['tell']['asks']): { revision: Revision; done: Promise<AnswerTo<'tell'>> } => {
  revision += 1;
  const request: DeskRequest<'tell'> = { call: 'tell', session, revision, asks };
  const blocks = asks.parts.flatMap(({ packed }) => (packed ? [packed.buffer] : []));
  return { revision, done: deskWorker().ask(transfer(request, blocks)) };
};

/** Asks the worker about the arrangement as it was last told. Rejects as the protocol says. */
export const askWorker = <Name extends Exclude<CallName, 'tell'>>(
  call: Name,
  asks: Calls[Name]['asks'],
): Promise<AnswerTo<Name>> => deskWorker().ask<Name>({ call, session, revision, asks });
