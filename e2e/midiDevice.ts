/** A MIDI device that is not there: what a test sends comes in as from a keyboard, stamped with the time it was played. */
import type { Page } from '@playwright/test';

/** A message, with when it was played (milliseconds from when sending began) and how late it comes in. */
export interface Sent {
  readonly bytes: readonly number[];
  readonly at: number;
  readonly late: number;
}

/** Gives the browser a device; before the page opens. */
export const plugIn = (page: Page): Promise<unknown> =>
  page.addInitScript(() => {
    const input = { name: 'Test keys', onmidimessage: null };
    Object.assign(window, { testKeys: input });
    Object.defineProperty(navigator, 'requestMIDIAccess', {
      value: () => Promise.resolve({ inputs: new Map([['1', input]]), onstatechange: null }),
    });
  });

/** Plays on it; ends when all has come in. */
export const playOn = (page: Page, messages: readonly Sent[]): Promise<void> =>
  page.evaluate(async (all) => {
    const keys = (window as unknown as { testKeys: { onmidimessage: ((event: unknown) => void) | null } }).testKeys;
    const began = performance.now();
    const coming = all.map(
      ({ bytes, at, late }) =>
        new Promise<void>((done) => {
          setTimeout(() => {
            keys.onmidimessage?.({ data: new Uint8Array(bytes), timeStamp: began + at });
            done();
          }, at + late);
        }),
    );
    await Promise.all(coming);
  }, messages);
