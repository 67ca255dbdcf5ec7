import { describe, expect, it } from 'vitest';
import { type Drag, NO_WISHES } from './drags.js';
import { wished, withHeld } from './wishes.js';

const none = { shiftKey: false, ctrlKey: false, metaKey: false, altKey: false };
const [moving, trimming] = [{ kind: 'move' }, { kind: 'trim' }] as Drag[] as [Drag, Drag];
const right = { x: 30, y: 4 };
const down = { x: 4, y: 30 };

describe('keys pressed during a drag', () => {
  it('turn a wish on, and off again', () => {
    for (const [key, wish] of [
      ['c', 'copy'],
      ['v', 'loudness'],
      ['e', 'same'],
      ['r', 'repeats'],
    ] as const) {
      const on = wished(NO_WISHES, key);
      expect(on).toEqual({ ...NO_WISHES, [wish]: true });
      expect(on && wished(on, key)).toEqual(NO_WISHES);
    }
  });

  it('keep to time or to pitch, to one of them at once', () => {
    const time = wished(NO_WISHES, 't');
    expect(time?.along).toBe('time');
    expect(time && wished(time, 'p')?.along).toBe('pitch');
    expect(time && wished(time, 't')?.along).toBeNull();
    expect(wished({ ...NO_WISHES, along: 'pitch' }, 'p')?.along).toBeNull();
  });

  it('are no wishes where they mean nothing', () => {
    expect(wished(NO_WISHES, 'x')).toBeNull();
  });
});

describe('keys held during a drag', () => {
  it('ask for nothing where none is held', () => {
    expect(withHeld(NO_WISHES, moving, right, none)).toEqual(NO_WISHES);
  });

  it('keep to the direction that the hand takes with Shift, unless one was wished for', () => {
    const shift = { ...none, shiftKey: true };
    expect(withHeld(NO_WISHES, moving, right, shift).along).toBe('time');
    expect(withHeld(NO_WISHES, moving, down, shift).along).toBe('pitch');
    expect(withHeld({ ...NO_WISHES, along: 'pitch' }, moving, right, shift).along).toBe('pitch');
  });

  it('make a copy with Ctrl or the command key', () => {
    expect(withHeld(NO_WISHES, moving, right, { ...none, ctrlKey: true }).copy).toBe(true);
    expect(withHeld(NO_WISHES, moving, right, { ...none, metaKey: true }).copy).toBe(true);
  });

  it('change loudness with Alt while notes are moved, all to one with Shift', () => {
    const alt = withHeld(NO_WISHES, moving, down, { ...none, altKey: true });
    expect([alt.loudness, alt.same]).toEqual([true, false]);
    expect(withHeld(NO_WISHES, moving, down, { ...none, altKey: true, shiftKey: true }).same).toBe(true);
  });

  it('give one length, or repeats, with Alt in other drags', () => {
    const alt = withHeld(NO_WISHES, trimming, right, { ...none, altKey: true });
    expect([alt.loudness, alt.same, alt.repeats]).toEqual([false, true, true]);
  });
});
