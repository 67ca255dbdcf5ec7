/** What keys ask of a drag: those pressed while it lasts, and those held. No browser here. */

import type { Drag, Wishes } from './drags.js';

/** Keys that are held down. */
export interface Held {
  readonly shiftKey: boolean;
  readonly ctrlKey: boolean;
  readonly metaKey: boolean;
  readonly altKey: boolean;
}

/** The wish that a key turns on or off during a drag. */
export const wished = (wishes: Wishes, key: string): Wishes | null => {
  switch (key) {
    case 't':
      return { ...wishes, along: wishes.along === 'time' ? null : 'time' };
    case 'p':
      return { ...wishes, along: wishes.along === 'pitch' ? null : 'pitch' };
    case 'c':
      return { ...wishes, copy: !wishes.copy };
    case 'v':
      return { ...wishes, loudness: !wishes.loudness };
    case 'e':
      return { ...wishes, same: !wishes.same };
    case 'r':
      return { ...wishes, repeats: !wishes.repeats };
    default:
      return null;
  }
};

/** What keys held down ask of a drag, on top of those pressed: Shift for one direction, Ctrl for a copy, Alt for the rest. */
export const withHeld = (
  wishes: Wishes,
  drag: Drag,
  way: { readonly x: number; readonly y: number },
  held: Held,
): Wishes => {
  const loudness = wishes.loudness || (held.altKey && drag.kind === 'move');
  const one = Math.abs(way.x) >= Math.abs(way.y) ? 'time' : 'pitch';
  return {
    along: wishes.along ?? (held.shiftKey ? one : null),
    copy: wishes.copy || held.ctrlKey || held.metaKey,
    loudness,
    same: wishes.same || (loudness ? held.shiftKey : held.altKey),
    repeats: wishes.repeats || held.altKey,
  };
};
