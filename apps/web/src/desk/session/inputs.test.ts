import { describe, expect, it } from 'vitest';
import { readMessage, semitonesOfKey } from './inputs.js';

// Status bytes and data as the MIDI 1.0 specification has them, channel voice messages.
describe('what a device says', () => {
  it.each([
    [[0x90, 60, 100], { kind: 'note', pitch: 60, velocity: 100, on: true, at: 7 }],
    [[0x93, 61, 1], { kind: 'note', pitch: 61, velocity: 1, on: true, at: 7 }],
    [[0x90, 60, 0], { kind: 'note', pitch: 60, velocity: 0, on: false, at: 7 }],
    [[0x85, 60, 64], { kind: 'note', pitch: 60, velocity: 0, on: false, at: 7 }],
    [[0xb0, 64, 127], { kind: 'message', message: { kind: 'controller', controller: 64, value: 127 }, at: 7 }],
    [[0xd2, 33], { kind: 'message', message: { kind: 'channelPressure', value: 33 }, at: 7 }],
    [[0xe0, 0, 64], { kind: 'message', message: { kind: 'pitchBend', value: 8192 }, at: 7 }],
    [[0xe0, 127, 127], { kind: 'message', message: { kind: 'pitchBend', value: 16383 }, at: 7 }],
  ])('%s', (bytes, heard) => expect(readMessage(bytes, 7)).toEqual(heard));
  it.each([[[0xb0, 123, 0]], [[0xc0, 5]], [[0xa0, 60, 9]], [[0xf8]], [[0xfe]], [[]]])('%s is not used', (bytes) =>
    expect(readMessage(bytes, 7)).toBeNull(),
  );
});

describe('the computer’s keys as a keyboard', () => {
  it('has white keys in the middle row and black ones above it', () => {
    expect(['KeyA', 'KeyS', 'KeyD', 'KeyF', 'KeyG', 'KeyH', 'KeyJ', 'KeyK'].map(semitonesOfKey)).toEqual([
      0, 2, 4, 5, 7, 9, 11, 12,
    ]);
    expect(['KeyW', 'KeyE', 'KeyT', 'KeyY', 'KeyU'].map(semitonesOfKey)).toEqual([1, 3, 6, 8, 10]);
    expect(semitonesOfKey('KeyQ')).toBeUndefined();
  });
});
