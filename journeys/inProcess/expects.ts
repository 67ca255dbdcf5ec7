/** What is expected of the screen, waited for: Playwright's words on what a `Locator` of this folder finds. */
import { expect } from 'vitest';
import { isVisible, type Locator, normal, PATIENCE, pause, type Words } from './locator.js';
import type { Page } from './page.js';

interface Judged {
  readonly pass: boolean;
  readonly found: unknown;
}
interface Patience {
  readonly timeout?: number;
}

/** Looks until it is as expected, or the patience ends. */
const waitedFor = async (
  isNot: boolean | undefined,
  judge: () => Judged,
  wanted: unknown,
  what: string,
  options?: Patience,
) => {
  const until = Date.now() + (options?.timeout ?? PATIENCE);
  for (;;) {
    const { pass, found } = judge();
    if (pass !== Boolean(isNot) || Date.now() > until)
      return {
        pass,
        message: () => `${what}: expected${isNot ? ' not' : ''} ${String(wanted)}, found ${JSON.stringify(found)}`,
      };
    await pause(20);
  }
};

type Read = (element: HTMLElement) => string;
const text: Read = (element) => normal(element.textContent);
const value: Read = (element) => (element as HTMLInputElement).value;

const isWhole = (found: string, wanted: Words): boolean =>
  wanted instanceof RegExp ? wanted.test(found) : found === normal(wanted);
const isPiece = (found: string, wanted: Words): boolean =>
  wanted instanceof RegExp ? wanted.test(found) : found.includes(normal(wanted));

/** Expects words of the one that is found, or of each in turn. */
const words = (read: Read, agrees: (found: string, wanted: Words) => boolean) =>
  function (this: { isNot: boolean }, locator: Locator, wanted: Words | readonly Words[], options?: Patience) {
    const judge = (): Judged => {
      const found = locator.elements().map((element) => read(element as HTMLElement));
      if (Array.isArray(wanted))
        return {
          pass: found.length === wanted.length && wanted.every((each, at) => agrees(found[at] ?? '', each)),
          found,
        };
      const [only] = found;
      return { pass: found.length === 1 && only !== undefined && agrees(only, wanted as Words), found };
    };
    return waitedFor(this.isNot, judge, wanted, locator.toString(), options);
  };

/** Expects something of the one that is found. */
const state = (holds: (element: HTMLElement) => boolean, what: string) =>
  function (this: { isNot: boolean }, locator: Locator, options?: Patience) {
    const judge = (): Judged => {
      const found = locator.elements() as HTMLElement[];
      const [only] = found;
      return { pass: found.length === 1 && only !== undefined && holds(only), found: `${found.length} found` };
    };
    return waitedFor(this.isNot, judge, what, locator.toString(), options);
  };

expect.extend({
  /** All that a piece of work expects, tried until it holds. */
  async toPass(work: () => unknown, { timeout = PATIENCE }: Patience = {}) {
    const until = Date.now() + timeout;
    for (;;) {
      try {
        await work();
        return { pass: true, message: () => 'It held.' };
      } catch (error) {
        if (Date.now() > until) return { pass: false, message: () => String(error) };
        await pause(50);
      }
    }
  },
  toHaveText: words(text, isWhole),
  toContainText: words(text, isPiece),
  toHaveValue: words(value, isWhole),
  toHaveClass: words((element) => element.className, isPiece),
  toBeVisible: state(isVisible, 'to be visible'),
  toBeAttached: state(() => true, 'to be there'),
  toBeFocused: state((element) => element === document.activeElement, 'to have the focus'),
  toBeDisabled: state((element) => (element as HTMLButtonElement).disabled, 'to be disabled'),
  toBeEnabled: state((element) => !(element as HTMLButtonElement).disabled, 'to be enabled'),
  toBeChecked: state(
    (element) => (element as HTMLInputElement).checked || element.getAttribute('aria-checked') === 'true',
    'to be checked',
  ),
  toBeHidden(this: { isNot: boolean }, locator: Locator, options?: Patience) {
    const judge = () => ({ pass: !locator.elements().some(isVisible), found: locator.elements().length });
    return waitedFor(this.isNot, judge, 'to be hidden', locator.toString(), options);
  },
  toHaveCount(this: { isNot: boolean }, locator: Locator, count: number, options?: Patience) {
    const judge = () => ({ pass: locator.elements().length === count, found: locator.elements().length });
    return waitedFor(this.isNot, judge, count, locator.toString(), options);
  },
  toHaveAttribute(this: { isNot: boolean }, locator: Locator, name: string, wanted?: Words, options?: Patience) {
    const judge = () => {
      const found = locator.elements()[0]?.getAttribute(name) ?? null;
      return { pass: found !== null && (wanted === undefined || isWhole(found, wanted)), found };
    };
    return waitedFor(this.isNot, judge, `${name} ${wanted ?? ''}`, locator.toString(), options);
  },
  toHaveURL(this: { isNot: boolean }, page: Page, wanted: Words, options?: Patience) {
    return waitedFor(
      this.isNot,
      () => ({ pass: isWhole(page.url(), wanted), found: page.url() }),
      wanted,
      'address',
      options,
    );
  },
});

export { expect };
