/** Saving: every change goes to the server's journal in order; "Saved" is said only when all of it is on disk there. */

import { wholeArrangement } from '@crispfold/contract';
import {
  type Edit,
  editTooLong,
  entryAt,
  historyLength,
  type JournalEntry,
  missingBetween,
  notesTouched,
  onTopOf,
  slimEdit,
} from '@crispfold/core';
import { toast } from 'sonner';
import { ApiProblem, api, newRequestId } from '../../browser/api.js';
import { takeOpened } from '../../browser/justOpened.js';
import {
  type FoundChanges,
  type KeptChange,
  type KeptChanges,
  type KeptOutbox,
  keptChangesHere,
  type WaitingChange,
} from '../../browser/keptChanges.js';
import { warmEngines } from '../../engine/engine.js';
import { deskActions } from '../state/deskSlice.js';
import { rollActions } from '../state/rollSlice.js';
import type { RootState } from '../state/root.js';
import { spoken } from '../state/speak.js';
import type { AppDispatch } from './dispatching.js';
import { player } from './sound/player.js';
import { editsInForce } from './unsent.js';
import { browserLock, canBeLinked, DeskWindows, type WindowEnds } from './windows.js';

type Thunk<Result = void> = (dispatch: AppDispatch, getState: () => RootState) => Result;

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

/** What this tab keeps of an arrangement; null where the browser keeps nothing. */
const keptOutboxOf = (id: string): Promise<KeptOutbox | null> =>
  keptChangesHere().then((kept) => kept?.outboxOf(id, keepsNoMore) ?? null);

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
class Outbox {
  private waiting: JournalEntry[] = [];
  private running = false;
  /** Told when nothing waits any more, or something stands in the way. */
  private watchers: (() => void)[] = [];
  /** Set while another window's change, one that was refused, or the bin, stands in the way. */
  private blocked: 'elsewhere' | 'refused' | 'inTheBin' | null = null;
  private retry: ReturnType<typeof setTimeout> | undefined;
  private tries = 0;
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
    private readonly dispatch: AppDispatch,
  ) {
    this.kept = keptOutboxOf(id);
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
    clearTimeout(this.retry);
  }

  /** `others` are the keys of kept changes that these stand for. */
  private async layOnNewest(entries: readonly JournalEntry[], others: readonly number[] = []): Promise<void> {
    const newest = await api.open(this.id);
    this.revision = newest.revision;
    this.dispatch(deskActions.opened(newest));
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
    for (const entry of this.waiting) this.dispatch(deskActions.entryMade(entry));
    this.blocked = null;
    this.sending = null;
    windows?.restated();
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
    this.dispatch(deskActions.saveStateChanged('saving'));
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
        windows?.saved(saved.revision);
        this.sending = null;
        this.tries = 0;
      }
      this.oneByOne = false;
      this.dispatch(deskActions.saveStateChanged('saved'));
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
      this.dispatch(deskActions.saveStateChanged('elsewhere'));
      this.blocked = 'elsewhere';
      return;
    }
    if (error instanceof ApiProblem && error.status === 410) {
      this.dispatch(deskActions.saveStateChanged('inTheBin'));
      this.blocked = 'inTheBin';
      return;
    }
    if (error instanceof ApiProblem && !mayPass(error)) {
      this.refused(error);
      return;
    }
    this.dispatch(deskActions.saveStateChanged('waiting'));
    if (error instanceof ApiProblem && this.tries === 0) tellWhy(error);
    const pause = RETRY_MILLISECONDS[Math.min(this.tries, RETRY_MILLISECONDS.length - 1)];
    this.tries += 1;
    this.retry = setTimeout(() => void this.send(), pause);
  }

  /** Of several that were refused, those before and after the one are saved; that one waits for the person. */
  private refused({ message }: ApiProblem): void {
    const several = (this.sending?.count ?? 1) > 1;
    this.sending = null;
    if (several) {
      this.oneByOne = true;
      this.retry = setTimeout(() => void this.send());
      return;
    }
    this.blocked = 'refused';
    const [entry] = this.waiting;
    const label = entry?.kind === 'edit' ? entry.edit.label : 'Going to another place in the history';
    this.dispatch(deskActions.changeRefused({ label, reason: message }));
  }
}

/** What of an arrangement is damaged, and what that means. */
const lostInWords = (lost: readonly string[]): string =>
  `Part of this arrangement is damaged and was left out: ${lost.join(', ')}. What is whole is open; take a backup before you go on.`;

let outbox: Outbox | null = null;
/** What an earlier visit made and could not save; what reached the server after all is forgotten. */
const lookForUnsent = async (kept: KeptChanges, id: string): Promise<FoundChanges> => {
  const all = await kept.found(id);
  const names = [...new Set(all.changes.flatMap(({ requestId }) => requestId ?? []))];
  const arrived = new Set<string>();
  for (const name of names) if (await api.written(id, name)) arrived.add(name);
  const waits = all.changes.map(({ requestId }) => requestId === null || !arrived.has(requestId));
  await kept.forget(all.keys.filter((_, at) => !waits[at]));
  return { changes: all.changes.filter((_, at) => waits[at]), keys: all.keys.filter((_, at) => waits[at]) };
};

/** The link with other windows on the same arrangement, where the browser has one. */
let windows: DeskWindows | null = null;

/** The link with other windows; null where each stands by itself. */
export const linkedWindows = (): DeskWindows | null => windows;

/** Where going through the history leads, while Edits on the way are fetched; null when nothing is on its way. */
let goingTo: number | null = null;

/** True while a change is not yet on disk. */
export const hasUnsaved = (): boolean => outbox !== null && !outbox.empty;

/** So long a file waits for the last changes to be kept, in milliseconds. */
const WAITS_FOR_SAVING = 5000;
const LOOKS_EACH = 50;

/** Waits until all changes are kept; false where they are not after some seconds. */
export const allSaved = async (): Promise<boolean> => {
  for (let waited = 0; hasUnsaved() && waited < WAITS_FOR_SAVING; waited += LOOKS_EACH) {
    await new Promise((resolve) => setTimeout(resolve, LOOKS_EACH));
  }
  return !hasUnsaved();
};

/** Counts openings, so that the newest is known. */
let newestOpening = 0;

/** How this window takes part among several on one arrangement. */
const windowEnds = (id: string, dispatch: AppDispatch, getState: () => RootState): WindowEnds => ({
  channel: (name) => new BroadcastChannel(name),
  lock: browserLock,
  standing: () => {
    const { arrangement, history } = getState().desk;
    if (!arrangement || !outbox || getState().desk.id !== id) return null;
    const open = { id, revision: outbox.savedRevision, changedAt: '', arrangement, history };
    return { open, unsaved: outbox.unsaved };
  },
  view: () => {
    const { selection, frontPartId, saveState } = getState().desk;
    return { selection, frontPartId, saveState };
  },
  carryOut: (entry) => dispatch(enter(entry)),
  take: (entry) => dispatch(entryTaken(entry)),
  stand: (open) => dispatch(deskActions.opened(open)),
  look: ({ selection, frontPartId, saveState }) => {
    // What has to be settled there is not settled here.
    const settled = saveState === 'saved' || saveState === 'saving' ? saveState : 'waiting';
    if (windows?.follows && settled !== getState().desk.saveState) dispatch(deskActions.saveStateChanged(settled));
    if (frontPartId !== null) dispatch(deskActions.partBroughtForward(frontPartId));
    dispatch(deskActions.selected(selection));
  },
  playhead: (state) => player.follow(state),
  write: (revision, unsaved) => {
    outbox = new Outbox(id, revision, dispatch);
    void outbox.takeUp(unsaved);
    toast.message('The other window was closed: from here on this one keeps what you change.');
  },
});

/** What the server does by itself is done in the window that writes. */
const elsewhereOnly = (): boolean => {
  if (!windows?.follows) return false;
  toast.error('Do that in the window that was open first: this one follows it.');
  return true;
};

/** Opens an arrangement on the Desk. */
export const openArrangement =
  (id: string): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    outbox?.close();
    outbox = null;
    windows?.close();
    windows = null;
    goingTo = null;
    newestOpening += 1;
    const own = newestOpening;
    dispatch(deskActions.opening(id));
    warmEngines();
    try {
      const link = canBeLinked() ? new DeskWindows(id, windowEnds(id, dispatch, getState)) : null;
      windows = link;
      const how = link ? await link.join() : 'alone';
      if (own !== newestOpening) {
        link?.close();
        return;
      }
      if (how === 'alone') windows = null;
      if (how === 'follows') return;
      const open = takeOpened(id) ?? (await api.open(id));
      // An opening that answers late must not take the place of a newer one.
      if (own !== newestOpening) return;
      outbox = new Outbox(id, open.revision, dispatch);
      const { arrangement, lost } = wholeArrangement(open.arrangement);
      dispatch(deskActions.opened({ ...open, arrangement }));
      if (lost.length > 0) toast.error(lostInWords(lost), { duration: Number.POSITIVE_INFINITY });
      void dispatch(askAboutUnsent(id, own));
    } catch (error) {
      if (own === newestOpening) dispatch(deskActions.openFailed((error as Error).message));
    }
  };

/** Asks what to do with changes of an earlier visit, where there are any. */
const askAboutUnsent =
  (id: string, opening: number): Thunk<Promise<void>> =>
  async (dispatch) => {
    const kept = await keptChangesHere();
    const { changes } = (kept && (await lookForUnsent(kept, id).catch(() => null))) ?? NONE_FOUND;
    const [first] = changes;
    if (opening === newestOpening)
      dispatch(deskActions.unsentFound(first ? { count: changes.length, at: first.at } : null));
  };

const NONE_FOUND: FoundChanges = { changes: [], keys: [] };

/** Does something with what an earlier visit could not save, looked for once more: part of it may have arrived meanwhile. */
const withUnsent =
  (work: (kept: KeptChanges, found: FoundChanges, own: Outbox) => Promise<void>): Thunk<Promise<void>> =>
  async (dispatch) => {
    const own = outbox;
    const kept = await keptChangesHere();
    if (!own || !kept) return;
    try {
      await work(kept, await lookForUnsent(kept, own.id), own);
      dispatch(deskActions.unsentFound(null));
    } catch (error) {
      toast.error((error as Error).message);
    }
  };

/** Brings back what an earlier visit could not save. */
export const bringUnsentBack = (): Thunk<Promise<void>> => withUnsent((kept, found, own) => own.bringBack(kept, found));

/** Discards what an earlier visit could not save. */
export const discardUnsent = (): Thunk<Promise<void>> => withUnsent((kept, { keys }) => kept.forget(keys));

/** Takes the arrangement out of the bin, and saves what waited meanwhile. */
export const bringBackFromBin = (): Thunk<Promise<void>> => async () => {
  if (!outbox) return;
  try {
    await api.restore(outbox.id);
    await outbox.resume();
  } catch (error) {
    toast.error((error as Error).message);
  }
};

/** Carries an entry out on the screen; where ticks became finer by it, what is looked at and heard stays where it is. */
const entryTaken =
  (entry: JournalEntry): Thunk =>
  (dispatch, getState) => {
    const before = getState().desk.arrangement?.ppq;
    dispatch(deskActions.entryMade(entry));
    const { desk, roll } = getState();
    const factor = (desk.arrangement?.ppq ?? 1) / (before ?? 1);
    if (before === undefined || factor === 1) return;
    dispatch(deskActions.ticksScaled(factor));
    dispatch(rollActions.viewSet({ ...roll, left: roll.left * factor, ticksPerPixel: roll.ticksPerPixel * factor }));
    const { tick, playing } = player.state.get();
    player.state.set({ playing, tick: tick * factor });
  };

const enter =
  (entry: JournalEntry): Thunk =>
  (dispatch, getState) => {
    // What is done now is no part of what was on its way to be undone.
    goingTo = null;
    if (windows?.follows) {
      windows.want(entry);
      return;
    }
    const { position } = getState().desk.history;
    dispatch(entryTaken(entry));
    outbox?.add(entry, position);
    windows?.done(entry);
  };

/**
 * Carries out a change: on the screen at once, on disk as soon as may be. Nothing for null; one that makes the piece longer
 * than a piece can be is refused in words.
 */
export const commit =
  (edit: Edit | null): Thunk =>
  (dispatch, getState) => {
    const { arrangement } = getState().desk;
    if (!edit) return;
    const tooLong = arrangement && editTooLong(arrangement, edit);
    if (tooLong) toast.error(tooLong);
    else dispatch(enter({ kind: 'edit', edit }));
  };

/**
 * Goes to a place in the history: 0 is before the first entry. Edits on the way that lie on disk alone are fetched first.
 */
export const goToEntry =
  (position: number): Thunk =>
  (dispatch, getState) => {
    const { history } = getState().desk;
    const target = Math.max(history.folded ?? 0, Math.min(position, historyLength(history)));
    const missing = target < history.skipped ? null : missingBetween(history, target);
    if (target < history.skipped || missing) {
      const onTheWay = goingTo !== null;
      goingTo = target;
      // What comes meanwhile is a step further, or back: the one on its way goes to where that leads.
      if (onTheWay) return;
      const loading = missing ? loadEdits(missing.from, missing.to, target < history.position) : loadOlderEntries();
      void dispatch(loading).then((loaded) => {
        const further = goingTo;
        goingTo = null;
        if (loaded && further !== null) dispatch(goToEntry(further));
      });
      return;
    }
    goingTo = null;
    if (target !== history.position) dispatch(enter({ kind: 'goTo', position: target }));
  };

/** Fetches Edits of the history, those next to the pointer first; answers whether any came. */
const loadEdits =
  (from: number, to: number, lastFirst: boolean): Thunk<Promise<boolean>> =>
  async (dispatch, getState) => {
    const { id } = getState().desk;
    if (!id) return false;
    try {
      // What is not yet on disk is not to be had from there.
      await outbox?.flushed();
      const page = await api.edits(id, from, to, lastFirst);
      if (getState().desk.id !== id) return false;
      dispatch(deskActions.editsArrived(page));
      return page.edits.length > 0;
    } catch (error) {
      toast.error((error as Error).message);
      return false;
    }
  };

/** Fetches entries of the history from further back; answers whether there were any. */
export const loadOlderEntries = (): Thunk<Promise<boolean>> => async (dispatch, getState) => {
  const { id, history } = getState().desk;
  if (!id || history.skipped <= (history.folded ?? 0)) return false;
  try {
    const { entries } = await api.history(id, history.skipped);
    const now = getState().desk;
    // Another arrangement, or the same entries asked for twice.
    if (now.id !== id || now.history.skipped !== history.skipped) return false;
    dispatch(deskActions.olderEntriesArrived(entries));
    return entries.length > 0;
  } catch (error) {
    toast.error((error as Error).message);
    return false;
  }
};

const step =
  (by: 1 | -1): Thunk =>
  (dispatch, getState) => {
    const { history } = getState().desk;
    const entry = entryAt(history, history.position - (by < 0 ? 1 : 0));
    dispatch(goToEntry((goingTo ?? history.position) + by));
    if (entry) spoken.set(`${by < 0 ? 'Taken back' : 'Done again'}: ${entry.label}`);
  };
export const undo = (): Thunk => step(-1);
export const redo = (): Thunk => step(1);

/** Adds files as parts to the open arrangement. */
export const addPartsFromFiles =
  (files: readonly File[]): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const { id } = getState().desk;
    if (elsewhereOnly() || !id || !outbox) return;
    const left = new AbortController();
    const telling = toast.loading('Reading the files…', {
      action: { label: 'Cancel', onClick: () => left.abort() },
      duration: Number.POSITIVE_INFINITY,
    });
    try {
      await outbox.flushed();
      const { edit, revision, warnings } = await api.addParts(id, files, left.signal);
      outbox.advanced(revision);
      dispatch(deskActions.partsArrived(edit));
      windows?.restated();
      toast.success(edit.label);
      for (const warning of warnings.slice(0, 4)) toast.warning(warning.message, { duration: 9000 });
    } catch (error) {
      if (!left.signal.aborted) toast.error((error as Error).message, { duration: 9000 });
    } finally {
      toast.dismiss(telling);
    }
  };

/** Makes the arrangement again what it was at a kept point, as a change of its own. */
export const goToPoint =
  (point: number): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const { id } = getState().desk;
    if (elsewhereOnly() || !id || !outbox) return;
    try {
      await outbox.flushed();
      const { edit, revision } = await api.backToPoint(id, point, newRequestId());
      outbox.advanced(revision);
      dispatch(deskActions.partsArrived(edit));
      windows?.restated();
      toast.success(edit.label);
    } catch (error) {
      toast.error((error as Error).message, { duration: 9000 });
    }
  };

/** After a change in another window: put this window's changes on top. */
export const takeOver = (): Thunk<Promise<void>> => async () => {
  try {
    await outbox?.takeOver();
  } catch (error) {
    toast.error((error as Error).message);
  }
};

/** After a refusal: take the change back that was refused, and save the rest. */
export const takeRefusedBack = (): Thunk<Promise<void>> => async () => {
  try {
    await outbox?.takeBack();
  } catch (error) {
    toast.error((error as Error).message);
  }
};
