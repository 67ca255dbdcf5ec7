/** The workers of a page, started when first needed, and the line of one opening of an arrangement to the one that runs the plan. */
import { type Endpoint, transfer, wrap } from 'comlink';
import type { EngraverWorker } from './engraver.js';
import type { AnswerTo, CallName, Calls, DeskRequest, DeskWorker, Revision } from './protocol.js';
import type { ScorePages } from './scorePages.js';
import type { SoundWorker } from './sounding.js';

/** False where a person asked the browser to spare: then the workers do nothing that nobody asked for. */
const mayRehearse = (): boolean =>
  !(navigator as Navigator & { readonly connection?: { readonly saveData?: boolean } }).connection?.saveData;

/** How each worker of a page is started. */
export interface WorkerStarts {
  readonly desk: () => Endpoint;
  readonly engraver: () => Endpoint;
  /** `end` gives it up. */
  readonly score: () => { readonly line: Endpoint; readonly end: () => void };
  readonly sound: () => Endpoint;
}

/** Of one opening of an arrangement: what is asked is about the arrangement as it was last told. */
export interface EngineLine {
  /** Begins anew: answers to what was asked before are dropped from here on. */
  readonly begin: () => void;
  /** Tells the worker how the arrangement stands now; answers the revision that this is. */
  readonly tell: (asks: Calls['tell']['asks']) => { readonly revision: Revision; readonly done: Promise<unknown> };
  /** Asks the worker. Rejects as the protocol says. */
  readonly ask: <Name extends Exclude<CallName, 'tell'>>(
    call: Name,
    asks: Calls[Name]['asks'],
  ) => Promise<AnswerTo<Name>>;
}

/** See the file's head. */
export interface Engines {
  /** Starts the workers ahead of their first use: reading the engraver's code takes as long as reading a file. */
  readonly warm: () => void;
  /** Has them run through some music that nobody sees, so that the first file a person drops finds them quick. */
  readonly rehearse: () => void;
  readonly openLine: () => EngineLine;
  /** Lays out short scores, and the first pages of long ones, at once: the engraver is warm. */
  readonly nearScorePages: () => ScorePages;
  /** Starts a worker that lays out a long score; `end` gives it up. */
  readonly farScorePages: () => { readonly pages: ScorePages; readonly end: () => void };
  /** Gives the worker for recordings one, which it keeps; answers what it knows it by, and what is drawn of it. */
  readonly keepSound: (
    samples: Float32Array<ArrayBuffer>,
    rate: number,
  ) => Promise<{ readonly key: number; readonly peaks: Int8Array }>;
  /** The attacks of the recording that was given under a key; sensitivity from 0 to 1. */
  readonly attacksOf: (key: number, sensitivity: number) => Promise<ReturnType<SoundWorker['attacks']>>;
}

/** Gives the screens the music font, with which pictures name their letters. */
const takeTextFont = async (engraver: EngraverWorker): Promise<void> => {
  const style = document.createElement('style');
  style.textContent = await engraver.textFont();
  document.head.append(style);
};

/** One worker of a kind, started when first asked for. Comlink's own type would lose which answer belongs to which call. */
const started = <Api>(make: () => Endpoint, ready: (api: Api) => void = () => undefined): (() => Api) => {
  let api: Api | undefined;
  return () => {
    if (api === undefined) {
      api = wrap(make()) as unknown as Api;
      ready(api);
    }
    return api;
  };
};

/** The workers of a page. */
export const createEngines = (starts: WorkerStarts): Engines => {
  let warmed = false;
  let sessions = 0;
  let soundsKept = 0;
  const engraver = started<EngraverWorker>(starts.engraver);
  const sound = started<SoundWorker>(starts.sound);
  const desk = started<DeskWorker>(starts.desk, (worker) => {
    // Pages go from one worker to the other: the screen is busy drawing just when there is a new one.
    const { port1, port2 } = new MessageChannel();
    engraver().listen(transfer(port1, [port1]));
    worker.engraveOver(transfer(port2, [port2]), mayRehearse());
  });
  const warm = (): void => {
    if (warmed) return;
    warmed = true;
    desk();
    void engraver().warm();
    void takeTextFont(engraver());
  };
  const openLine = (): EngineLine => {
    let session = 0;
    let revision: Revision = 0;
    return {
      begin: () => {
        sessions += 1;
        session = sessions;
        revision = 0;
      },
      tell: (asks) => {
        revision += 1;
        const request: DeskRequest<'tell'> = { call: 'tell', session, revision, asks };
        const blocks = asks.parts.flatMap(({ packed }) => (packed ? [packed.buffer] : []));
        return { revision, done: desk().ask(transfer(request, blocks)) };
      },
      ask: (call, asks) => desk().ask({ call, session, revision, asks }),
    };
  };
  return {
    warm,
    rehearse: () => {
      warm();
      if (mayRehearse()) void desk().warm();
    },
    openLine,
    nearScorePages: engraver,
    farScorePages: () => {
      const { line, end } = starts.score();
      return { pages: wrap<ScorePages>(line) as unknown as ScorePages, end };
    },
    keepSound: async (samples, rate) => {
      soundsKept += 1;
      const key = soundsKept;
      return { key, peaks: await sound().take(key, transfer(samples, [samples.buffer]), rate) };
    },
    attacksOf: async (key, sensitivity) => sound().attacks(key, sensitivity),
  };
};
