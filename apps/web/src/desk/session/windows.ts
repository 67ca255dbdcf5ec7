/**
 * Windows of one browser that show the same arrangement. One of them writes: it holds a lock that the browser gives to the
 * next window once it is closed. The others tell it what is done in them, over a broadcast channel, and follow what it
 * carries out: every change, the selection, the playhead. No React and no Redux here.
 */
import type { OpenArrangement } from '@crispfold/contract';
import { type JournalEntry, type PartId, type Selection, sameSelection } from '@crispfold/core';
import type { SaveState } from '../state/savingSlice.js';
import type { PlayerState } from './sound/player.js';

/** What all windows show alike besides the arrangement. */
export interface SharedView {
  readonly selection: Selection;
  readonly frontPartId: PartId | null;
  /** How the work stands on disk, as the writing window knows it. */
  readonly saveState: SaveState;
}

/** The writing window's arrangement with its history, as it stands there, and what of it is not yet on disk. */
export interface Standing {
  readonly open: OpenArrangement;
  readonly unsaved: readonly JournalEntry[];
}

type Message =
  | { readonly kind: 'hello' }
  /** Everything, for those that came or lost their place. */
  | { readonly kind: 'standing'; readonly standing: Standing; readonly view: SharedView }
  /** What another window wants done. */
  | { readonly kind: 'wanted'; readonly entry: JournalEntry }
  /** What was carried out. */
  | { readonly kind: 'entry'; readonly entry: JournalEntry }
  | { readonly kind: 'saved'; readonly revision: number }
  | { readonly kind: 'view'; readonly view: SharedView }
  | { readonly kind: 'playhead'; readonly state: PlayerState };

/** The channel, or something that stands in for it. */
export type Channel = Pick<BroadcastChannel, 'postMessage' | 'close'> & {
  onmessage: ((event: MessageEvent) => void) | null;
};

/** What the link needs of the window it is in. */
export interface WindowEnds {
  readonly channel: (name: string) => Channel;
  /** Asks for the right to write, to be held until then; `granted` is called at once or whenever it comes. */
  readonly lock: (name: string, until: Promise<void>, granted: () => void) => Promise<boolean>;
  /** How the writing window stands. */
  readonly standing: () => Standing | null;
  readonly view: () => SharedView;
  /** Carries out what another window wants: in the writing window alone. */
  readonly carryOut: (entry: JournalEntry) => void;
  /** Takes over what the writing window carried out. */
  readonly take: (entry: JournalEntry) => void;
  readonly stand: (open: OpenArrangement) => void;
  readonly look: (view: SharedView) => void;
  readonly playhead: (state: PlayerState) => void;
  /** From now on this window writes; what was not on disk when the other went, and the revision it was on. */
  readonly write: (revision: number, unsaved: readonly JournalEntry[]) => void;
}

/** So long a window waits for the one that writes to answer, in milliseconds. */
const ANSWERS_WITHIN = 3000;

/** See the file's head. */
export class DeskWindows {
  private readonly channel: Channel;
  private readonly leave: () => void;
  private readonly left: Promise<void>;
  private writes = false;
  private closed = false;
  /** The revision on disk that is known, and what came since; while another window writes. */
  private revision = 0;
  private since: JournalEntry[] = [];
  private stands = false;
  private answered: (answer: 'follows' | 'writes') => void = () => {};
  private lastView: SharedView | null = null;
  private seeing = false;
  private lastPlayhead: PlayerState | null = null;

  constructor(
    readonly id: string,
    private readonly ends: WindowEnds,
  ) {
    let leave = () => {};
    this.left = new Promise((resolve) => {
      leave = resolve;
    });
    this.leave = leave;
    this.channel = ends.channel(`crispfold desk ${id}`);
    this.channel.onmessage = ({ data }) => this.heard(data as Message);
  }

  /** Answers "writes", or "follows" once it stands as the writing window does; "alone" where that one does not answer. */
  async join(): Promise<'writes' | 'follows' | 'alone'> {
    const answer = new Promise<'follows' | 'writes'>((resolve) => {
      this.answered = resolve;
    });
    const atOnce = await this.ends.lock(`crispfold desk ${this.id}`, this.left, () => this.granted());
    if (atOnce) return 'writes';
    this.say({ kind: 'hello' });
    const late = new Promise<'alone'>((resolve) => setTimeout(() => resolve('alone'), ANSWERS_WITHIN));
    const how = await Promise.race([answer, late]);
    if (how === 'alone') this.close();
    return how;
  }

  /** True while another window writes what is done here. */
  get follows(): boolean {
    return this.stands && !this.writes;
  }

  /** Gives the right to write to the next window. */
  close(): void {
    this.closed = true;
    this.leave();
    this.channel.close();
  }

  /** Asks the writing window to carry out what was done here. */
  want(entry: JournalEntry): void {
    this.say({ kind: 'wanted', entry });
  }

  /** The writing window carried this out. */
  done(entry: JournalEntry): void {
    this.say({ kind: 'entry', entry });
  }

  saved(revision: number): void {
    this.say({ kind: 'saved', revision });
  }

  /** Something changed that is no entry: all is told anew. */
  restated(): void {
    const standing = this.writes ? this.ends.standing() : null;
    if (standing) this.say({ kind: 'standing', standing, view: this.ends.view() });
  }

  /** Tells what is selected and which part is in front, where that is new. */
  looked(): void {
    if (this.seeing) return;
    const view = this.ends.view();
    const last = this.lastView;
    if (
      last?.saveState === view.saveState &&
      last.frontPartId === view.frontPartId &&
      sameSelection(last.selection, view.selection)
    )
      return;
    this.lastView = view;
    if (this.writes || this.stands) this.say({ kind: 'view', view });
  }

  /** Tells where the playhead is, where it was not told from elsewhere. */
  played(state: PlayerState): void {
    if (this.lastPlayhead?.tick === state.tick && this.lastPlayhead.playing === state.playing) return;
    this.lastPlayhead = state;
    if (this.writes || this.stands) this.say({ kind: 'playhead', state });
  }

  private granted(): void {
    if (this.closed) return;
    this.writes = true;
    if (this.stands) this.ends.write(this.revision, this.since);
    else this.answered('writes');
  }

  private say(message: Message): void {
    if (!this.closed) this.channel.postMessage(message);
  }

  private heard(message: Message): void {
    if (this.closed) return;
    switch (message.kind) {
      case 'hello':
        this.restated();
        break;
      case 'standing':
        if (this.writes) break;
        this.stands = true;
        this.revision = message.standing.open.revision;
        this.since = [...message.standing.unsaved];
        this.ends.stand(message.standing.open);
        this.see(message.view);
        this.answered('follows');
        break;
      case 'wanted':
        if (this.writes) this.ends.carryOut(message.entry);
        break;
      case 'entry':
        if (!this.follows) break;
        this.since.push(message.entry);
        this.ends.take(message.entry);
        break;
      case 'saved':
        if (!this.follows) break;
        this.since.splice(0, Math.max(0, message.revision - this.revision));
        this.revision = message.revision;
        break;
      case 'view':
        if (this.writes || this.stands) this.see(message.view);
        break;
      case 'playhead':
        this.lastPlayhead = message.state;
        this.ends.playhead(message.state);
        break;
      default:
        message satisfies never;
    }
  }

  /** What comes of looking there is not told back, neither on the way nor where it came to something else here. */
  private see(view: SharedView): void {
    this.seeing = true;
    this.ends.look(view);
    this.seeing = false;
    this.lastView = this.ends.view();
  }
}

/** The right to write, as the browser gives it: to one window at a time, to the next once that one is closed. */
export const browserLock: WindowEnds['lock'] = (name, until, granted) =>
  new Promise((resolve) => {
    const hold = async () => {
      granted();
      await until;
    };
    void navigator.locks.request(name, { ifAvailable: true }, async (lock) => {
      resolve(lock !== null);
      if (lock) await hold();
      else void navigator.locks.request(name, hold);
    });
  });

/** False where the browser has no locks (it wants https or localhost): then each window writes by itself. */
export const canBeLinked = (): boolean =>
  typeof navigator !== 'undefined' && 'locks' in navigator && typeof BroadcastChannel === 'function';
