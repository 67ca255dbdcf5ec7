/** Saving: every change goes to the server's journal in order; "Saved" is said only when all of it is on disk there. */
import { type Edit, editTooLong, historyLength, type JournalEntry } from '@crispfold/core';
import { toast } from 'sonner';
import { ApiProblem, api } from '../../app/api.js';
import { takeOpened } from '../../app/justOpened.js';
import type { AppDispatch, RootState } from '../../app/store.js';
import { warmEngines } from '../../engine/engine.js';
import { deskActions } from './deskSlice.js';

type Thunk<Result = void> = (dispatch: AppDispatch, getState: () => RootState) => Result;

const RETRY_MILLISECONDS = 2500;

/** Resolves once the browser has drawn what changed, or soon where it draws nothing: in a hidden window. */
const afterDrawing = (): Promise<void> =>
  new Promise((resolve) => {
    const soon = () => setTimeout(resolve);
    if (typeof requestAnimationFrame === 'function' && document.visibilityState === 'visible') {
      requestAnimationFrame(() => setTimeout(soon));
    } else soon();
  });

/** Changes not yet on disk, of one open arrangement. */
class Outbox {
  private waiting: JournalEntry[] = [];
  private running = false;
  /** Told when nothing waits any more, or something stands in the way. */
  private watchers: (() => void)[] = [];
  /** Set while another window's change stands in the way. */
  private blocked = false;
  private retry: ReturnType<typeof setTimeout> | undefined;

  constructor(
    readonly id: string,
    private revision: number,
    private readonly dispatch: AppDispatch,
  ) {}

  get empty(): boolean {
    return this.waiting.length === 0 && !this.running;
  }

  add(entry: JournalEntry): void {
    this.waiting.push(entry);
    void this.send();
  }

  /** The server wrote a change of its own (parts added from files). */
  advanced(revision: number): void {
    this.revision = revision;
  }

  /** Waits until all is on disk. Throws where another window's change stands in the way. */
  async flushed(): Promise<void> {
    while (!this.empty) {
      if (this.blocked) throw new Error('This arrangement was changed in another window. Settle that first.');
      await new Promise<void>((resolve) => this.watchers.push(resolve));
    }
  }

  /** Puts this window's waiting changes on top of what another window wrote. */
  async takeOver(): Promise<void> {
    const newest = await api.open(this.id);
    this.revision = newest.revision;
    this.dispatch(deskActions.opened(newest));
    // A pointer into the old history means nothing in the new one; changes themselves do.
    this.waiting = this.waiting.filter((entry) => entry.kind === 'edit');
    for (const entry of this.waiting) this.dispatch(deskActions.entryMade(entry));
    this.blocked = false;
    await this.send();
  }

  close(): void {
    clearTimeout(this.retry);
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
        const batch = this.waiting.slice(0, 200);
        const saved = await api.append(this.id, this.revision, batch);
        this.revision = saved.revision;
        this.waiting.splice(0, batch.length);
      }
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
      this.blocked = true;
      return;
    }
    this.dispatch(deskActions.saveStateChanged('waiting'));
    if (error instanceof ApiProblem && error.status >= 400 && error.status < 500) toast.error(error.message);
    this.retry = setTimeout(() => void this.send(), RETRY_MILLISECONDS);
  }
}

let outbox: Outbox | null = null;

/** True while a change is not yet on disk. */
export const hasUnsaved = (): boolean => outbox !== null && !outbox.empty;

/** Counts openings, so that the newest is known. */
let newestOpening = 0;

/** Opens an arrangement on the Desk. */
export const openArrangement =
  (id: string): Thunk<Promise<void>> =>
  async (dispatch) => {
    outbox?.close();
    outbox = null;
    newestOpening += 1;
    const own = newestOpening;
    dispatch(deskActions.opening(id));
    warmEngines();
    try {
      const open = takeOpened(id) ?? (await api.open(id));
      // An opening that answers late must not take the place of a newer one.
      if (own !== newestOpening) return;
      outbox = new Outbox(id, open.revision, dispatch);
      dispatch(deskActions.opened(open));
    } catch (error) {
      if (own === newestOpening) dispatch(deskActions.openFailed((error as Error).message));
    }
  };

const enter =
  (entry: JournalEntry): Thunk =>
  (dispatch) => {
    dispatch(deskActions.entryMade(entry));
    outbox?.add(entry);
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

/** Goes to a place in the history: 0 is before the first entry. */
export const goToEntry =
  (position: number): Thunk =>
  (dispatch, getState) => {
    const { history } = getState().desk;
    const target = Math.max(0, Math.min(position, historyLength(history)));
    if (target < history.skipped) {
      void dispatch(loadOlderEntries()).then((loaded) => loaded && dispatch(goToEntry(target)));
      return;
    }
    if (target !== history.position) dispatch(enter({ kind: 'goTo', position: target }));
  };

/** Fetches entries of the history from further back; answers whether there were any. */
export const loadOlderEntries = (): Thunk<Promise<boolean>> => async (dispatch, getState) => {
  const { id, history } = getState().desk;
  if (!id || history.skipped === 0) return false;
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

export const undo = (): Thunk => (dispatch, getState) => dispatch(goToEntry(getState().desk.history.position - 1));
export const redo = (): Thunk => (dispatch, getState) => dispatch(goToEntry(getState().desk.history.position + 1));

/** Adds files as parts to the open arrangement. */
export const addPartsFromFiles =
  (files: readonly File[]): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const { id } = getState().desk;
    if (!id || !outbox) return;
    try {
      await outbox.flushed();
      const { edit, revision, warnings } = await api.addParts(id, files);
      outbox.advanced(revision);
      dispatch(deskActions.partsArrived(edit));
      toast.success(edit.label);
      for (const warning of warnings.slice(0, 4)) toast.warning(warning.message, { duration: 9000 });
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
