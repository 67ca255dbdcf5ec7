/** The hand: keys and a pointer, as user-event moves them. */
import userEvent from '@testing-library/user-event';
import { defaultKeyMap } from '@testing-library/user-event/dist/esm/keyboard/keyMap.js';

/** Keys that user-event does not know, as they lie on an American keyboard. */
const MORE_KEYS = [
  ['.', 'Period'],
  [',', 'Comma'],
  ['/', 'Slash'],
  ['?', 'Slash'],
  ['-', 'Minus'],
  ['=', 'Equal'],
  ['+', 'Equal'],
  [';', 'Semicolon'],
  ["'", 'Quote'],
  ['\\', 'Backslash'],
  ['`', 'Backquote'],
  ['<', 'Comma'],
  ['>', 'Period'],
  ['#', 'Digit3'],
] as const;
const KEY_MAP = [...defaultKeyMap, ...MORE_KEYS.map(([key, code]) => ({ key, code }))];
const BUTTONS = { left: '[MouseLeft]', right: '[MouseRight]' } as const;

/** Waits until what an act led to at once is on the screen. */
const settle = (): Promise<void> => new Promise((resolve) => requestAnimationFrame(() => setTimeout(resolve)));

const CODE =
  /^(Digit\d|Key[A-Z]|Space|Period|Comma|Slash|Minus|Equal|Semicolon|Quote|Backslash|Backquote|Bracket\w+|Numpad\w+)$/;

/** A key such as "Control+Shift+z", as user-event writes it. */
const asTyped = (combination: string): string => {
  const held = combination.length > 1 ? combination.split(/\+(?=.)/) : [combination];
  const key = held.pop() ?? '';
  const letter = held.includes('Shift') && /^[a-z]$/.test(key) ? key.toUpperCase() : key;
  const written = (): string => {
    if (CODE.test(letter)) return `[${letter}]`;
    if (letter === '{' || letter === '[') return letter + letter;
    return letter.length === 1 ? letter : `{${letter}}`;
  };
  return [...held.map((name) => `{${name}>}`), written(), ...held.reverse().map((name) => `{/${name}}`)].join('');
};

export class Hand {
  private readonly user = userEvent.setup({ delay: null, pointerEventsCheck: 0, keyboardMap: KEY_MAP });
  private at = { x: 0, y: 0 };
  /** What the pointer works on. */
  over: Element = document.body;

  settle = settle;

  async press(key: string): Promise<void> {
    await this.user.keyboard(asTyped(key));
    await settle();
  }
  async down(key: string): Promise<void> {
    await this.user.keyboard(`{${key}>}`);
  }
  async up(key: string): Promise<void> {
    await this.user.keyboard(`{/${key}}`);
  }
  async type(text: string): Promise<void> {
    for (const letter of text) await this.press(letter);
  }

  async click(target: Element, button: 'left' | 'right', modifiers: readonly string[] = []): Promise<void> {
    for (const held of modifiers) await this.down(held);
    await this.user.pointer([{ target }, { keys: BUTTONS[button], target }]);
    for (const held of modifiers) await this.up(held);
    await settle();
  }
  async doubleClick(target: Element): Promise<void> {
    await this.user.dblClick(target);
    await settle();
  }
  async hover(target: Element): Promise<void> {
    await this.user.hover(target);
    await settle();
  }

  /** The pointer by places; it works on what was last asked for its box. */
  readonly mouse = {
    move: async (x: number, y: number, { steps = 1 }: { readonly steps?: number } = {}): Promise<void> => {
      const from = this.at;
      for (let step = 1; step <= steps; step += 1) {
        this.at = { x: from.x + ((x - from.x) * step) / steps, y: from.y + ((y - from.y) * step) / steps };
        await this.user.pointer({ target: this.over, coords: this.coords() });
      }
      await settle();
    },
    down: async ({ button = 'left' }: { readonly button?: 'left' | 'right' } = {}): Promise<void> => {
      await this.user.pointer({ keys: BUTTONS[button].replace(']', '>]'), target: this.over, coords: this.coords() });
      await settle();
    },
    up: async ({ button = 'left' }: { readonly button?: 'left' | 'right' } = {}): Promise<void> => {
      await this.user.pointer({ keys: BUTTONS[button].replace('[', '[/'), target: this.over, coords: this.coords() });
      await settle();
    },
    click: async (x: number, y: number, { button = 'left' }: { readonly button?: 'left' | 'right' } = {}) => {
      await this.mouse.move(x, y);
      await this.mouse.down({ button });
      await this.mouse.up({ button });
    },
    dblclick: async (x: number, y: number) => {
      await this.mouse.click(x, y);
      await this.mouse.click(x, y);
      this.over.dispatchEvent(new MouseEvent('dblclick', { bubbles: true, clientX: x, clientY: y }));
      await settle();
    },
    wheel: async (deltaX: number, deltaY: number): Promise<void> => {
      const { x, y } = this.at;
      this.over.dispatchEvent(
        new WheelEvent('wheel', { deltaX, deltaY, clientX: x, clientY: y, bubbles: true, cancelable: true }),
      );
      await settle();
    },
  };

  private coords() {
    const { x, y } = this.at;
    return { clientX: x, clientY: y, x, y, offsetX: x, offsetY: y, pageX: x, pageY: y };
  }
}
