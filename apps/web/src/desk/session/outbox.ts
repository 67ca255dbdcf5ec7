/** Changes of one open arrangement on their way to the server's journal, in order, and kept in the browser until they are there. */
import type { OpenArrangement } from '@crispfold/contract';
import { type JournalEntry, notesTouched, onTopOf, slimEdit } from '@crispfold/core';
import { toast } from 'sonner';
import { ApiProblem, api, newRequestId } from '../../browser/api.js';
import type {
  FoundChanges,
  KeptChange,
  KeptChanges,
  KeptChangesHere,
  KeptOutbox,
  WaitingChange,
} from '../../browser/keptChanges.js';
import type { SaveState } from '../state/savingSlice.js';
import { editsInForce } from './unsent.js';

/** What it tells the Desk, and needs of it. */
export interface OutboxEnds {
  readonly keptChanges: KeptChangesHere;
  /** How the work stands on disk. */
  readonly stands: (state: SaveState) => void;
  readonly refused: (label: string, reason: string) => void;
  /** The arrangement as the server has it, in the place of the one on the screen. */
  readonly opened: (newest: OpenArrangement) => void;
  readonly carryOut: (entry: JournalEntry) => void;
  /** For other windows: all is to be told anew; or it is on disk up to a revision. */
  readonly restated: () => void;
  readonly saved: (revision: number) => void;
}

/** How long to wait before the next try where the server does not answer: longer and longer, then always the last. */
const RETRY_MILLISECONDS = [2500, 5000, 10_000, 20_000, 40_000] as const;
/** So many entries are sent in one go at most, and so many notes in them. */
const BATCH = { entries: 200, notes: 100_000 } as const;

/** Resolves once the browser has drawn what changed, or soon where it draws nothing: in a hidden window. */
const afterDrawing = (): Promise<void> =>
  new Promise((resolve) => {
    const soon = () => setTimeout(resolve);
    if (typeof requestAnimationFrame === 'function' && document.visibilityState === 'visible') {
      requestAnimationFrame(() => setTimeout(soon));
    } else soon();
  });

/** True where sending the same again may go better: no answer, a failure of the server, or nobody signed in. */
const mayPass = ({ status }: ApiProblem): boolean =>
  status === 0 || status >= 500 || status === 401 || status === 408 || status === 429;

/** Said once where the server answers, and does not save. */
const tellWhy = ({ status, message }: ApiProblem): void => {
  if (status === 401)
    toast.error('You are signed out. Your changes are kept here; sign in to have them saved.', {
      duration: Number.POSITIVE_INFINITY,
      action: { label: 'Sign in', onClick: () => window.open('/sign-in', '_blank') },
    });
  else if (status >= 500) toast.error(message);
};

const keepsNoMore = (): void => {
  toast.warning(
    'More changes wait for the server than this browser can keep. Leave this page open until they are saved.',
    { duration: Number.POSITIVE_INFINITY },
  );
};

/** Changes in the batches that they are sent in: those of one request together, of those that were never sent as many as fit. */
const asMade = ({ changes, keys }: FoundChanges): readonly FoundChanges[] => {
  const batches: { changes: KeptChange[]; keys: number[] }[] = [];
  changes.forEach((change, at) => {
    const last = batches[batches.length - 1];
    const fits = last?.changes[0]?.requestId === change.requestId && last.changes.length < BATCH.entries;
    const batch = last && fits ? last : { changes: [], keys: [] };
    if (batch !== last) batches.push(batch);
    batch.changes.push(change);
    batch.keys.push(keys[at] as number);
  });
  return batches;
};

/** Changes not yet on disk, of one open arrangement. */
export class Outbox {
  private waiting: JournalEntry[] = [];
  private running = false;
  /** Told when nothing waits any more, or something stands in the way. */
  private watchers: (() => void)[] = [];
  /** Set while another window's change, one that was refused, or the bin, stands in the way. */
  private blocked: 'elsewhere' | 'refused' | 'inTheBin' | null = null;
  private retry: ReturnType<typeof setTimeout> | undefined;
  private tries = 0;
  /** Set once it is let go of: what is on its way may still arrive, and nothing is tried again. */
  private closed = false;
  /** The batch that was sent last: sent again it has the same name, so that a lost answer is no second change. */
  private sending: { readonly requestId: string; readonly count: number } | null = null;
  /** Set after a refusal of several, to find out which of them it is. */
  private oneByOne = false;
  /** Keeps what waits in the browser's own storage, where it has one. */
  private readonly kept: Promise<KeptOutbox | null>;
  /** Entries as they are kept and sent: made slim once. */
  private readonly slimmed = new WeakMap<JournalEntry, JournalEntry>();

  constructor(
    readonly id: string,
    private revision: number,
    private readonly ends: OutboxEnds,
  ) {
    this.kept = ends.keptChanges().then((kept) => kept?.outboxOf(id, keepsNoMore) ?? null);
  }

  get empty(): boolean {
    return this.waiting.length === 0 && !this.running;
  }

  /** `position` is the place in the history at which it was made. */
  add(entry: JournalEntry, position: number): void {
    this.keep(entry, position);
    this.waiting.push(entry);
    void this.send();
  }

  private keep(entry: JournalEntry, position: number): void {
    const change: WaitingChange = {
      follows: this.revision + this.waiting.length,
      position,
      entry: () => this.slim(entry),
    };
    const ready = afterDrawing();
    void this.kept.then((kept) => kept?.push(change, ready));
  }

  private slim(entry: JournalEntry): JournalEntry {
    if (entry.kind !== 'edit') return entry;
    const known = this.slimmed.get(entry);
    if (known) return known;
    const own: JournalEntry = { kind: 'edit', edit: slimEdit(entry.edit) };
    this.slimmed.set(entry, own);
    return own;
  }

  /** The first so many are on disk there: this browser need not keep them. */
  private letGo(count: number): void {
    this.waiting.splice(0, count);
    void this.kept.then((kept) => kept?.saved(count));
  }

  /** What is not on disk yet. */
  get unsaved(): readonly JournalEntry[] {
    return this.waiting;
  }

  /** The revision on disk, as far as is known here. */
  get savedRevision(): number {
    return this.revision;
  }

  /** Goes on where another window left off: of these entries some may have reached the disk. */
  async takeUp(entries: readonly JournalEntry[]): Promise<void> {
    const { waiting } = this;
    this.waiting = [];
    for (const entry of [...entries, ...waiting]) {
      this.keep(entry, 0);
      this.waiting.push(entry);
    }
    this.running = true;
    try {
      const newest = await api.open(this.id);
      const saved = newest.revision - this.revision;
      if (saved >= 0 && saved <= entries.length) this.letGo(saved);
      this.revision = newest.revision;
    } catch {
      // The server does not answer: it is tried again as anything that waits is.
    } finally {
      this.running = false;
    }
    await this.send();
  }

  /** The server wrote a change of its own (parts added from files). */
  advanced(revision: number): void {
    this.revision = revision;
  }

  /** Waits until all is on disk. Throws where another window's change, or a refused one, stands in the way. */
  async flushed(): Promise<void> {
    while (!this.empty) {
      if (this.blocked === 'refused') throw new Error('A change could not be saved. Settle that first.');
      if (this.blocked === 'inTheBin') throw new Error('This arrangement lies in the bin. Bring it back first.');
      if (this.blocked) throw new Error('This arrangement was changed in another window. Settle that first.');
      await new Promise<void>((resolve) => this.watchers.push(resolve));
    }
  }

  /** Puts this window's waiting changes on top of what another window wrote. */
  async takeOver(): Promise<void> {
    await this.layOnNewest(this.waiting);
  }

  /** Takes the refused change back, and puts what was made after it on top of what is saved. */
  async takeBack(): Promise<void> {
    await this.layOnNewest(this.waiting.slice(1));
  }

  /** The arrangement was taken out of the bin: what waits is sent. */
  async resume(): Promise<void> {
    this.blocked = null;
    await this.send();
  }

  /**
   * Brings back what an earlier visit made and could not save: as it was made where nothing came in between, else on top of
   * what is saved now.
   */
  async bringBack(kept: KeptChanges, found: FoundChanges): Promise<void> {
    await this.flushed();
    const { changes, keys } = found;
    const [first] = changes;
    const inOrder = changes.every(({ follows }, at) => follows === (first?.follows ?? 0) + at);
    const newest = await api.open(this.id);
    let sent = 0;
    if (first && inOrder && first.follows === newest.revision) {
      try {
        for (const batch of asMade(found)) {
          await this.sendAsMade(kept, batch);
          sent += batch.changes.length;
        }
      } catch (error) {
        // What cannot be saved as it was made is laid on top like anything else, and told one by one.
        if (!(error instanceof ApiProblem) || mayPass(error)) throw error;
      }
    }
    const rest = editsInForce(changes.slice(sent)).map((edit): JournalEntry => ({ kind: 'edit', edit }));
    await this.layOnNewest(rest, keys.slice(sent));
  }

  /** Sends changes that were found under the name of their request, which is kept first: sent again they are no second change. */
  private async sendAsMade(kept: KeptChanges, { changes, keys }: FoundChanges): Promise<void> {
    const [first] = changes;
    if (!first) return;
    const requestId = first.requestId ?? newRequestId();
    if (first.requestId === null) await kept.name(keys, requestId);
    const entries = changes.map(({ entry }) => entry);
    await api.append(this.id, first.follows, entries, requestId);
    await kept.forget(keys);
  }

  close(): void {
    this.closed = true;
    clearTimeout(this.retry);
  }

  private tryAgain(pause = 0): void {
    if (!this.closed) this.retry = setTimeout(() => void this.send(), pause);
  }

  /** `others` are the keys of kept changes that these stand for. */
  private async layOnNewest(entries: readonly JournalEntry[], others: readonly number[] = []): Promise<void> {
    const newest = await api.open(this.id);
    this.revision = newest.revision;
    this.ends.opened(newest);
    // A pointer into the old history means nothing in the new one; changes themselves do.
    const edits = entries.flatMap((entry) => (entry.kind === 'edit' ? [entry.edit] : []));
    this.waiting = onTopOf(newest.arrangement, edits).map((edit) => ({ kind: 'edit', edit }));
    const { position } = newest.history;
    const waits = this.waiting.map((entry, at) => ({
      follows: newest.revision + at,
      position: position + at,
      entry: () => this.slim(entry),
    }));
    void this.kept.then((kept) => kept?.replace(waits, others));
    for (const entry of this.waiting) this.ends.carryOut(entry);
    this.blocked = null;
    this.sending = null;
    this.ends.restated();
    await this.send();
  }

  /** The next entries to send: the same as the last time where they were not answered. */
  private nextBatch(): { readonly requestId: string; readonly entries: readonly JournalEntry[] } {
    if (!this.sending) {
      let notes = 0;
      let count = 0;
      for (const entry of this.waiting) {
        notes += entry.kind === 'edit' ? notesTouched(entry.edit) : 0;
        if (count > 0 && (this.oneByOne || count >= BATCH.entries || notes > BATCH.notes)) break;
        count += 1;
      }
      this.sending = { requestId: newRequestId(), count };
    }
    const { requestId, count } = this.sending;
    return { requestId, entries: this.waiting.slice(0, count).map((entry) => this.slim(entry)) };
  }

  private async send(): Promise<void> {
    if (this.running || this.blocked || this.waiting.length === 0) return;
    this.running = true;
    clearTimeout(this.retry);
    this.ends.stands('saving');
    try {
      // The screen comes first: sending takes the browser as long as drawing does.
      await afterDrawing();
      while (this.waiting.length > 0) {
        const { requestId, entries } = this.nextBatch();
        // What is not on disk there yet is on disk here.
        await (await this.kept)?.named(entries.length, requestId);
        const saved = await api.append(this.id, this.revision, entries, requestId);
        this.revision = saved.revision;
        this.letGo(entries.length);
        this.ends.saved(saved.revision);
        this.sending = null;
        this.tries = 0;
      }
      this.oneByOne = false;
      this.ends.stands('saved');
    } catch (error) {
      this.failed(error);
    } finally {
      this.running = false;
      const watching = this.watchers;
      this.watchers = [];
      for (const watcher of watching) watcher();
    }
  }

  private failed(error: unknown): void {
    if (error instanceof ApiProblem && error.status === 409) {
      this.ends.stands('elsewhere');
      this.blocked = 'elsewhere';
      return;
    }
    if (error instanceof ApiProblem && error.status === 410) {
      this.ends.stands('inTheBin');
      this.blocked = 'inTheBin';
      return;
    }
    if (error instanceof ApiProblem && !mayPass(error)) {
      this.refused(error);
      return;
    }
    this.ends.stands('waiting');
    if (error instanceof ApiProblem && this.tries === 0) tellWhy(error);
    const pause = RETRY_MILLISECONDS[Math.min(this.tries, RETRY_MILLISECONDS.length - 1)];
    this.tries += 1;
    this.tryAgain(pause);
  }

  /** Of several that were refused, those before and after the one are saved; that one waits for the person. */
  private refused({ message }: ApiProblem): void {
    const several = (this.sending?.count ?? 1) > 1;
    this.sending = null;
    if (several) {
      this.oneByOne = true;
      this.tryAgain();
      return;
    }
    this.blocked = 'refused';
    const [entry] = this.waiting;
    const label = entry?.kind === 'edit' ? entry.edit.label : 'Going to another place in the history';
    this.ends.refused(label, message);
  }
}
