/**
 * What a browser has and jsdom has not, as far as the screens need it: a size, a canvas that paints nowhere, and requests
 * that Node can send. To be imported before the screens.
 */
import 'fake-indexeddb/auto';
import { Blob as NodeBlob, File as NodeFile } from 'node:buffer';
import { transferableAbortController } from 'node:util';
import { giveCanvases } from './canvas.js';

/** The window's size, in pixels; each element is as large, as nothing is laid out. */
export const SIZE = { width: 1280, height: 800 };

const nowhere = (): void => undefined;

class SizeObserver {
  constructor(private readonly told: ResizeObserverCallback) {}
  observe(target: Element): void {
    queueMicrotask(() =>
      this.told(
        [{ target, contentRect: target.getBoundingClientRect(), borderBoxSize: [], contentBoxSize: [] }] as never,
        this as never,
      ),
    );
  }
  unobserve = nowhere;
  disconnect = nowhere;
}

/** All is near, as nothing is laid out. */
class NearObserver {
  constructor(private readonly told: IntersectionObserverCallback) {}
  observe(target: Element): void {
    queueMicrotask(() => this.told([{ target, isIntersecting: true }] as never, this as never));
  }
  unobserve = nowhere;
  disconnect = nowhere;
}

const define = (target: object, members: Record<string, unknown>): void => {
  for (const [name, value] of Object.entries(members))
    Object.defineProperty(target, name, { value, configurable: true, writable: true });
};

const boxOf = (box: { x: number; y: number; width: number; height: number }) => ({
  ...box,
  left: box.x,
  top: box.y,
  right: box.x + box.width,
  bottom: box.y + box.height,
  toJSON: nowhere,
});

const own = transferableAbortController();
const OwnFormData = (await new Response(new URLSearchParams({ any: 'thing' })).formData()).constructor;
define(globalThis, {
  // Node's fetch takes Node's own alone.
  AbortController: own.constructor,
  AbortSignal: own.signal.constructor,
  FormData: OwnFormData,
  File: NodeFile,
  Blob: NodeBlob,
  ResizeObserver: SizeObserver,
  IntersectionObserver: NearObserver,
  matchMedia: (query: string) => ({
    matches: false,
    media: query,
    addEventListener: nowhere,
    removeEventListener: nowhere,
    addListener: nowhere,
    removeListener: nowhere,
  }),
  scrollTo: nowhere,
  print: nowhere,
});
define(navigator, { connection: { saveData: true } });
define(Element.prototype, {
  scrollIntoView: nowhere,
  scrollTo: nowhere,
  setPointerCapture: nowhere,
  releasePointerCapture: nowhere,
  hasPointerCapture: () => false,
  /** Each as large as the window, but the lines between rooms, which would all lie under the pointer. */
  getBoundingClientRect(this: Element) {
    return boxOf(
      this.matches('[role="separator"]') ? { x: -100, y: -100, width: 0, height: 0 } : { x: 0, y: 0, ...SIZE },
    );
  },
});
giveCanvases();
document.documentElement.lang = 'en';
document.title = 'Crisp Fold';
for (const [name, size] of [
  ['clientWidth', SIZE.width],
  ['clientHeight', SIZE.height],
  ['offsetWidth', SIZE.width],
  ['offsetHeight', SIZE.height],
] as const)
  Object.defineProperty(HTMLElement.prototype, name, { get: () => size, configurable: true });
