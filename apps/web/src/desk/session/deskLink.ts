/**
 * The Desk's line to its worker, for one opening of an arrangement: tells it each change as it is made, takes in what the
 * worker makes of it, and keeps the newest answer for each part. No React here; screens listen to its values.
 */

import type { Arrangement, Finding, Part, PartId } from '@crispfold/core';
import type { Layers } from '../../engine/news.js';
import { newsOf, withLayers } from '../../engine/news.js';

import { type AnswerTo, type CallName, type Calls, isSessionOver, type Revision } from '../../engine/protocol.js';
import { createValueStore } from '../../ui/valueStore.js';

/** How it stands between the Desk and its worker. */
export type WorkState =
  | { readonly kind: 'working' }
  | { readonly kind: 'ready' }
  /** Something went wrong in the worker; `again` tells it everything anew. */
  | { readonly kind: 'failed'; readonly message: string; readonly again: () => void };

/** What the line needs of the Desk and of the engine. */
export interface LinkEnds {
  readonly arrangement: () => Arrangement | null;
  /** Parts whose layers are wanted first. */
  readonly first: () => readonly PartId[];
  readonly begin: () => void;
  readonly tell: (asks: Calls['tell']['asks']) => { readonly revision: Revision; readonly done: Promise<unknown> };
  readonly ask: <Name extends Exclude<CallName, 'tell'>>(
    call: Name,
    asks: Calls[Name]['asks'],
  ) => Promise<AnswerTo<Name>>;
  readonly onFindings: (findings: readonly Finding[]) => void;
}

/** The page comes first; the checks wait until the hand rests (milliseconds). */
const FINDINGS_AFTER = 250;

/** Layers wait so long for the page that shows the same change, and no longer: both are drawn at once (milliseconds). */
const WAITS_FOR_PAGE = 150;

/** After what the screens do in this turn: the page's request goes before. Hidden windows draw no frames. */
const soon = (work: () => void): void => {
  if (typeof requestAnimationFrame === 'function' && document.visibilityState === 'visible')
    requestAnimationFrame(work);
  else setTimeout(work);
};

/** See the file's head. */
export class DeskLink {
  readonly layers = createValueStore<Layers>(new Map());
  readonly work = createValueStore<WorkState>({ kind: 'working' });
  /** The revision that the worker was told last; 0 before the first. */
  readonly revision = createValueStore<Revision>(0);
  /** True once every part's plan has run: only then are pitches read among all of them. */
  readonly complete = createValueStore(false);

  private sent = new Map<PartId, Part>();
  private noticed: ReadonlyMap<PartId, readonly Finding[]> = new Map();
  /** True while findings have come that the screens do not have. */
  private unshown = false;
  private told: Arrangement | null = null;
  private taking = false;
  private open = false;
  /** Counts the openings: an answer to an earlier one is not taken. */
  private opening = 0;
  private checks: ReturnType<typeof setTimeout> | undefined;
  /** Ends when the page that is being made is there. */
  private page: Promise<unknown> = Promise.resolve();

  constructor(private readonly ends: LinkEnds) {}

  /** Opens the line and tells the worker everything. */
  start(): void {
    this.open = true;
    this.opening += 1;
    this.taking = false;
    this.ends.begin();
    this.sent = new Map();
    this.noticed = new Map();
    this.told = null;
    this.changed();
  }

  /** Closes the line: no answer is taken any more. */
  stop(): void {
    this.open = false;
    clearTimeout(this.checks);
    this.ends.onFindings([]);
  }

  /** Tells the worker where the arrangement is another than the one told last. */
  changed(): void {
    const arrangement = this.ends.arrangement();
    if (!this.open || !arrangement || arrangement === this.told) return;
    this.told = arrangement;
    clearTimeout(this.checks);
    const { parts, ...header } = arrangement;
    const news = parts
      .filter((part) => this.sent.get(part.id) !== part)
      .map((part) => newsOf(part, this.sent.get(part.id)));
    this.sent = new Map(parts.map((part) => [part.id, part]));
    const { revision, done } = this.ends.tell({ header, parts: news, order: parts.map((part) => part.id) });
    this.revision.set(revision);
    this.work.set({ kind: 'working' });
    done.catch((error: unknown) => this.failed(error));
    // The page asks for its bars first, in the same turn.
    soon(() => void this.takeLayers());
  }

  /** Told of a page that is being made: the layers of its revision are shown with it. */
  comesWith(page: Promise<unknown>): void {
    this.page = page.catch(() => undefined);
  }

  /** Drawing twice would take the engraver's time: what the page will show is shown with it. */
  private async untilPage(): Promise<void> {
    let timer: ReturnType<typeof setTimeout> | undefined;
    const patience = new Promise((resolve) => {
      timer = setTimeout(resolve, WAITS_FOR_PAGE);
    });
    await Promise.race([this.page, patience]);
    clearTimeout(timer);
  }

  /** Takes layers until there are no more. A change meanwhile is taken in by the same loop. */
  private async takeLayers(): Promise<void> {
    if (this.taking || !this.open) return;
    this.taking = true;
    const { opening } = this;
    try {
      for (;;) {
        const answer = await this.ends.ask('layers', { first: this.ends.first() });
        if (this.complete.get()) await this.untilPage();
        if (!this.isAt(opening)) return;
        if (answer.layers.length > 0) {
          const order = (this.told?.parts ?? []).map((part) => part.id);
          this.layers.set(withLayers(this.layers.get(), answer.layers, order));
        }
        if (answer.left === 0 && answer.covers === this.revision.get()) break;
      }
      this.complete.set(true);
      this.work.set({ kind: 'ready' });
      this.checks = setTimeout(() => void this.lookForFindings(), FINDINGS_AFTER);
    } catch (error) {
      if (this.isAt(opening)) this.failed(error);
    } finally {
      if (opening === this.opening) this.taking = false;
    }
  }

  private isAt(opening: number): boolean {
    return this.open && opening === this.opening;
  }

  private async lookForFindings(): Promise<void> {
    const asked = this.revision.get();
    const { opening } = this;
    try {
      const { parts } = await this.ends.ask('findings', {});
      if (!parts || !this.isAt(opening)) return;
      this.noticed = new Map([...this.noticed, ...parts.map(({ partId, findings }) => [partId, findings] as const)]);
      this.unshown ||= parts.length > 0;
      if (!this.unshown || asked !== this.revision.get()) return;
      this.unshown = false;
      this.ends.onFindings((this.told?.parts ?? []).flatMap((part) => this.noticed.get(part.id) ?? []));
    } catch (error) {
      if (this.isAt(opening)) this.failed(error);
    }
  }

  private failed(error: unknown): void {
    if (!this.open || isSessionOver(error)) return;
    const message = error instanceof Error ? error.message : String(error);
    this.work.set({ kind: 'failed', message, again: () => this.start() });
  }
}
