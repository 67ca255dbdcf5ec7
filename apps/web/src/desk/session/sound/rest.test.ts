import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { createRest } from './rest.js';

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

const SECOND = 1000;
const made = () => {
  const suspend = vi.fn();
  return { suspend, rest: createRest(suspend, 4 * SECOND) };
};

describe('the audio clock rests', () => {
  it('four seconds after a sound, and the last of several counts', () => {
    const { suspend, rest } = made();
    rest.begins('one');
    rest.ends('one');
    vi.advanceTimersByTime(3 * SECOND);
    rest.begins('another');
    rest.ends('another');
    vi.advanceTimersByTime(3.9 * SECOND);
    expect(suspend).not.toHaveBeenCalled();
    vi.advanceTimersByTime(0.1 * SECOND);
    expect(suspend).toHaveBeenCalledOnce();
  });

  it('not while music plays or a key is held, however long, and a sound in between changes nothing of that', () => {
    const { suspend, rest } = made();
    rest.begins('music');
    rest.begins('key');
    rest.begins('sound');
    rest.ends('sound');
    vi.advanceTimersByTime(600 * SECOND);
    rest.ends('music');
    vi.advanceTimersByTime(60 * SECOND);
    expect(suspend).not.toHaveBeenCalled();
    rest.ends('key');
    vi.advanceTimersByTime(3 * SECOND);
    rest.begins('music');
    vi.advanceTimersByTime(60 * SECOND);
    expect(suspend).not.toHaveBeenCalled();
    rest.ends('music');
    vi.advanceTimersByTime(4 * SECOND);
    expect(suspend).toHaveBeenCalledOnce();
  });

  it('never of itself, and an end of what never began is none', () => {
    const { suspend, rest } = made();
    rest.ends('music');
    vi.advanceTimersByTime(60 * SECOND);
    expect(suspend).not.toHaveBeenCalled();
  });
});
