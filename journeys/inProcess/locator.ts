/** Finds what is on the screen and works it, in the words of Playwright: as much of them as the journeys say. */
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { type ByRoleMatcher, queryAllByRole } from '@testing-library/dom';
import type { Hand } from './hand.js';

/** An action waits this long for what it works on, in milliseconds. */
export const PATIENCE = 15_000;
const EVERY = 15;

export type Words = string | RegExp;
export interface ByWords {
  readonly exact?: boolean;
}
export interface ByRole extends ByWords {
  readonly name?: Words;
  readonly includeHidden?: boolean;
  readonly checked?: boolean;
  readonly pressed?: boolean;
  readonly selected?: boolean;
  readonly expanded?: boolean;
  readonly level?: number;
}
/** A file to be brought in: by its place, or as it is. */
export type GivenFile = string | { readonly name: string; readonly mimeType: string; readonly buffer: Uint8Array };

export const pause = (milliseconds: number): Promise<void> =>
  new Promise((resolve) => setTimeout(resolve, milliseconds));

/** One line, as a reader takes it. */
export const normal = (text: string | null | undefined): string => (text ?? '').replace(/\s+/g, ' ').trim();

/** Whether a text is what was said: the whole of it where it must be exact, else a piece of it whatever its case. */
const says = (text: string, words: Words, exact = false): boolean => {
  const line = normal(text);
  if (words instanceof RegExp) return words.test(line);
  return exact ? line === normal(words) : line.toLowerCase().includes(normal(words).toLowerCase());
};

const HIDDEN = '[aria-hidden="true"], [hidden], [inert]';
export const isVisible = (element: Element): boolean =>
  element.isConnected && !element.closest('[hidden]') && (element as HTMLElement).style?.display !== 'none';

const nameByLabel = (element: Element): string => {
  const by = element.getAttribute('aria-labelledby');
  if (by)
    return by
      .split(/\s+/)
      .map((id) => document.getElementById(id)?.textContent ?? '')
      .join(' ');
  const own = element.getAttribute('aria-label');
  if (own !== null) return own;
  const { labels } = element as HTMLInputElement;
  return labels ? [...labels].map((label) => label.textContent ?? '').join(' ') : '';
};

const LABELLED = '[aria-label], [aria-labelledby], input, select, textarea, button, output, meter, progress';

const asFile = (given: GivenFile): File =>
  typeof given === 'string'
    ? new File([readFileSync(given)], path.basename(given))
    : new File([given.buffer as Uint8Array<ArrayBuffer>], given.name, { type: given.mimeType });

/** Sets what a field holds, past React's own watch over it, and says so as a browser does. */
const setField = (field: HTMLInputElement, value: string): void => {
  const kind = field.tagName === 'TEXTAREA' ? HTMLTextAreaElement : HTMLInputElement;
  Object.getOwnPropertyDescriptor(kind.prototype, 'value')?.set?.call(field, value);
  field.dispatchEvent(new Event('input', { bubbles: true }));
  field.dispatchEvent(new Event('change', { bubbles: true }));
};

/** What is found anew each time that it is asked for. */
export class Locator {
  constructor(
    private readonly hand: Hand,
    private readonly find: () => Element[],
    private readonly words: string,
  ) {}

  elements(): Element[] {
    return this.find();
  }

  toString(): string {
    return this.words;
  }

  private within(words: string, find: (root: Element) => Element[]): Locator {
    return new Locator(this.hand, () => [...new Set(this.find().flatMap(find))], `${this.words} ${words}`);
  }

  getByRole(role: ByRoleMatcher & string, { name, exact, includeHidden, ...states }: ByRole = {}): Locator {
    const named = name === undefined ? {} : { name: (found: string) => says(found, name, exact) };
    return this.within(`role=${role} ${name ?? ''}`, (root) =>
      queryAllByRole(root as HTMLElement, role, { hidden: true, ...named, ...states }).filter(
        (element) => includeHidden || !element.closest(HIDDEN),
      ),
    );
  }

  getByLabel(words: Words, { exact }: ByWords = {}): Locator {
    return this.within(`label=${words}`, (root) =>
      [...root.querySelectorAll(LABELLED)].filter((element) => says(nameByLabel(element), words, exact)),
    );
  }

  getByText(words: Words, { exact }: ByWords = {}): Locator {
    const holds = (element: Element) =>
      !['SCRIPT', 'STYLE'].includes(element.tagName) && says(element.textContent ?? '', words, exact);
    return this.within(`text=${words}`, (root) =>
      [...root.querySelectorAll('*')].filter((element) => holds(element) && ![...element.children].some(holds)),
    );
  }

  getByTitle(words: Words, { exact }: ByWords = {}): Locator {
    return this.within(`title=${words}`, (root) =>
      [...root.querySelectorAll('[title]')].filter((element) =>
        says(element.getAttribute('title') ?? '', words, exact),
      ),
    );
  }

  locator(selector: string): Locator {
    return this.within(selector, (root) => [
      ...root.querySelectorAll(selector.startsWith('>') ? `:scope ${selector}` : selector),
    ]);
  }

  filter({ hasText, has }: { readonly hasText?: Words; readonly has?: Locator }): Locator {
    const keeps = (element: Element): boolean =>
      (hasText === undefined || says(element.textContent ?? '', hasText)) &&
      (has === undefined || has.find().some((inner) => element.contains(inner) && element !== inner));
    return new Locator(this.hand, () => this.find().filter(keeps), `${this.words} with ${hasText ?? has}`);
  }

  and(other: Locator): Locator {
    return new Locator(this.hand, () => this.find().filter((each) => other.find().includes(each)), this.words);
  }

  nth(index: number): Locator {
    return new Locator(this.hand, () => this.find().slice(index).slice(0, 1), `${this.words} nth=${index}`);
  }
  first(): Locator {
    return this.nth(0);
  }
  last(): Locator {
    return this.nth(-1);
  }
  async all(): Promise<Locator[]> {
    return this.find().map((_, index) => this.nth(index));
  }

  /** The one element, once it is there; more than one is a fault of the test. */
  async one(): Promise<HTMLElement> {
    const until = Date.now() + PATIENCE;
    for (;;) {
      const [found, other] = this.find();
      if (found && !other) return found as HTMLElement;
      if (Date.now() > until) throw new Error(`${this.words}: ${other ? 'there are several' : 'there is none'}`);
      await pause(EVERY);
    }
  }

  /** The one element, once it can be worked. */
  private async ready(): Promise<HTMLElement> {
    const until = Date.now() + PATIENCE;
    for (;;) {
      const element = await this.one();
      if (!(element as HTMLButtonElement).disabled) return element;
      if (Date.now() > until) throw new Error(`${this.words}: it stays disabled`);
      await pause(EVERY);
    }
  }

  async click({ button = 'left', modifiers = [] }: ClickOptions = {}): Promise<void> {
    await this.hand.click(await this.ready(), button, modifiers);
  }
  async dblclick(): Promise<void> {
    await this.hand.doubleClick(await this.ready());
  }
  async hover(): Promise<void> {
    await this.hand.hover(await this.one());
  }
  async focus(): Promise<void> {
    (await this.one()).focus();
    await this.hand.settle();
  }
  async scrollIntoViewIfNeeded(): Promise<void> {
    await this.one();
  }
  async press(key: string): Promise<void> {
    (await this.one()).focus();
    await this.hand.press(key);
  }
  async pressSequentially(text: string): Promise<void> {
    (await this.one()).focus();
    for (const letter of text) await this.hand.press(letter);
  }
  async fill(value: string): Promise<void> {
    const field = (await this.ready()) as HTMLInputElement;
    field.focus();
    field.select?.();
    setField(field, value);
    await this.hand.settle();
  }
  async check(): Promise<void> {
    if (!(await this.isChecked())) await this.click();
  }
  async uncheck(): Promise<void> {
    if (await this.isChecked()) await this.click();
  }
  async selectOption(wanted: string | { readonly label: string } | { readonly index: number }): Promise<void> {
    const until = Date.now() + PATIENCE;
    for (;;) {
      const list = (await this.ready()) as HTMLSelectElement;
      const option = [...list.options].find((each, index) =>
        typeof wanted === 'string'
          ? each.value === wanted || normal(each.label || each.textContent) === wanted
          : 'label' in wanted
            ? normal(each.textContent) === wanted.label
            : index === wanted.index,
      );
      if (option) {
        list.focus();
        Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, 'value')?.set?.call(list, option.value);
        list.dispatchEvent(new Event('input', { bubbles: true }));
        list.dispatchEvent(new Event('change', { bubbles: true }));
        await this.hand.settle();
        return;
      }
      if (Date.now() > until) throw new Error(`${this.words}: it offers no ${JSON.stringify(wanted)}`);
      await pause(EVERY);
    }
  }
  async setInputFiles(given: GivenFile | readonly GivenFile[]): Promise<void> {
    const field = (await this.one()) as HTMLInputElement;
    const files = (Array.isArray(given) ? given : [given]).map(asFile);
    Object.defineProperty(field, 'files', { value: files, configurable: true });
    field.dispatchEvent(new Event('input', { bubbles: true }));
    field.dispatchEvent(new Event('change', { bubbles: true }));
    await this.hand.settle();
  }

  async count(): Promise<number> {
    return this.find().length;
  }
  async textContent(): Promise<string | null> {
    return (await this.one()).textContent;
  }
  async allTextContents(): Promise<string[]> {
    return this.find().map((element) => element.textContent ?? '');
  }
  async inputValue(): Promise<string> {
    return ((await this.one()) as HTMLInputElement).value;
  }
  async getAttribute(name: string): Promise<string | null> {
    return (await this.one()).getAttribute(name);
  }
  async innerHTML(): Promise<string> {
    return (await this.one()).innerHTML;
  }
  async isVisible(): Promise<boolean> {
    return this.find().some(isVisible);
  }
  async isChecked(): Promise<boolean> {
    const element = (await this.one()) as HTMLInputElement;
    return element.type === 'checkbox' || element.type === 'radio'
      ? element.checked
      : element.getAttribute('aria-checked') === 'true';
  }
  async evaluate<Asked, Answer>(work: (element: HTMLElement, asked: Asked) => Answer, asked: Asked): Promise<Answer> {
    return work(await this.one(), asked);
  }
  async evaluateAll<Answer>(work: (elements: HTMLElement[]) => Answer): Promise<Answer> {
    return work(this.find() as HTMLElement[]);
  }
  /** Where it lies, as if it lay alone; the pointer works on what was asked last. */
  async boundingBox(): Promise<{ x: number; y: number; width: number; height: number }> {
    const element = await this.one();
    this.hand.over = element;
    const { x, y, width, height } = element.getBoundingClientRect();
    return { x, y, width, height };
  }
}

export interface ClickOptions {
  readonly button?: 'left' | 'right';
  readonly modifiers?: readonly string[];
  readonly force?: boolean;
}
