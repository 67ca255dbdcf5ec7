import { describe, expect, it } from 'vitest';
import { type CommandId, KEYS } from './keyTable.js';
import {
  commandOfKey,
  keyProblem,
  keysFromFile,
  keysIn,
  keysToFile,
  type Pressed,
  strokeOf,
  withKey,
  withReadyKeys,
} from './ownKeys.js';
import type { OwnRow } from './ownList.js';

const press = (key: string, code: string, held: Partial<Pressed> = {}): Pressed => ({
  key,
  code,
  shiftKey: false,
  ctrlKey: false,
  metaKey: false,
  altKey: false,
  ...held,
});

describe('a key that is pressed', () => {
  it('is written as the table writes it', () => {
    expect(strokeOf(press('x', 'KeyX'))).toBe('x');
    expect(strokeOf(press('X', 'KeyX', { shiftKey: true }))).toBe('shift+x');
    expect(strokeOf(press('!', 'Digit1', { shiftKey: true }))).toBe('shift+1');
    expect(strokeOf(press('ArrowUp', 'ArrowUp', { altKey: true }))).toBe('alt+up');
    expect(strokeOf(press('k', 'KeyK', { metaKey: true }))).toBe('mod+k');
    expect(strokeOf(press(' ', 'Space'))).toBe('space');
    expect(strokeOf(press('Shift', 'ShiftLeft', { shiftKey: true }))).toBeNull();
  });

  it('may not be one of the browser’s or a screen reader’s, nor a list’s alone', () => {
    for (const key of ['tab', 'insert', 'mod+w', 'mod+t', 'f5', 'alt+left', 'mod+1', 'l', 'a b', 'l shift+up', 'l c x'])
      expect(keyProblem(key), key).not.toBeNull();
    for (const key of ['x', 'shift+x', 'mod+shift+y', 'l ;', 'l c', 'alt+up']) expect(keyProblem(key), key).toBeNull();
  });

  it('is never one of those that the ready table uses, which can all be given', () => {
    for (const key of Object.values(KEYS).flat()) expect(keyProblem(key), key).toBeNull();
  });
});

describe('a key that is given to a command', () => {
  it('takes the place of those it had, and is taken from whoever had it', () => {
    const own = withKey({}, 'undo', 'x');
    expect(keysIn(own, 'undo')).toEqual(['x']);
    const robbed = commandOfKey({}, 'x') as CommandId;
    expect(keysIn(own, robbed)).not.toContain('x');
    expect(commandOfKey(own, 'x')).toBe('undo');
  });

  it('goes back, and gives back what it took', () => {
    const robbed = commandOfKey({}, 'x') as CommandId;
    const own = withReadyKeys(withReadyKeys(withKey({}, 'undo', 'x'), 'undo'), robbed);
    expect(keysIn(own, 'undo')).toEqual(KEYS.undo);
    expect(keysIn(own, robbed)).toEqual(KEYS[robbed]);
  });

  it('leaves no key with two commands, whatever was given to whom', () => {
    let own = {};
    const ids = Object.keys(KEYS) as CommandId[];
    const keys = Object.values(KEYS).flat();
    for (let turn = 0; turn < 300; turn += 1)
      own = withKey(own, ids[(turn * 7919) % ids.length] as CommandId, keys[(turn * 104_729) % keys.length] as string);
    const inForce = ids.flatMap((id) => keysIn(own, id));
    expect(new Set(inForce).size).toBe(inForce.length);
  });
});

describe('a file of keys', () => {
  it('comes back as it was taken away', () => {
    const own = withKey(withKey({}, 'undo', 'x'), 'closeGaps', 'shift+g');
    const rows: readonly OwnRow[] = [{ letter: 'a', name: 'Start anew', commands: ['start', 'metronome'] }];
    expect(keysFromFile(keysToFile(own, rows))).toEqual({ ok: true, keys: own, rows });
  });

  it('is refused in words where it is none; what it says of unknown commands or keys is left out', () => {
    for (const text of [
      '',
      'keys',
      '{}',
      '{"format":"crisp-fold-keys","version":9}',
      '{"format":"crisp-fold-keys","version":1}',
    ])
      expect(keysFromFile(text)).toMatchObject({ ok: false, message: expect.stringMatching(/\w+ \w+/) });
    const bad = [
      { letter: 'a', name: 'Fly', commands: ['fly'] },
      { letter: 'ab', name: 'Two', commands: ['undo'] },
      { letter: 'c', name: '', commands: ['undo'] },
      { letter: 'd', name: 'None', commands: [] },
      7,
    ];
    const good = { letter: 'e', name: 'Undo', commands: ['undo'] };
    const odd = keysToFile(
      { undo: ['tab', 'x'], redo: ['x', 7], fly: ['y'] } as never,
      [...bad, good, { ...good, name: 'Its letter again' }] as never,
    );
    expect(keysFromFile(odd)).toEqual({ ok: true, keys: { undo: ['x'], redo: [] }, rows: [good] });
  });
});
