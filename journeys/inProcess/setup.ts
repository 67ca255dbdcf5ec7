/** Before the journeys of a file: what sounds is silent, and what is shown is asked of the elements alone. */
import { vi } from 'vitest';

vi.mock('tone', async () => (await import('./silence.js')).silentTone);

/**
 * Without a browser there is no sheet of styles to look things up in: an element looks as its own `style` says, and is
 * away where it is `hidden`. Every question for a name or a role asks this many times.
 */
window.getComputedStyle = (element: Element) => {
  const { style, hidden } = element as HTMLElement;
  return hidden ? HIDDEN : (style ?? PLAIN);
};

const PLAIN = document.createElement('div').style;
const HIDDEN = document.createElement('div').style;
HIDDEN.display = 'none';
