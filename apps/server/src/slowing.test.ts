import { describe, expect, it } from 'vitest';
import { Slowing } from './slowing.js';

const MINUTE = 60_000;

describe('guessing', () => {
  const made = () => {
    const waits: number[] = [];
    let now = 0;
    const slowing = new Slowing(
      () => now,
      async (milliseconds) => void waits.push(milliseconds),
    );
    return {
      slowing,
      waits,
      pass: (milliseconds: number) => {
        now += milliseconds;
      },
    };
  };

  it('is answered later each time, up to a bound, and quickly again after a while', async () => {
    const { slowing, waits, pass } = made();
    for (let at = 0; at < 8; at += 1) await slowing.wrong('10.0.0.1');
    expect(waits).toEqual([250, 500, 1000, 2000, 4000, 8000, 8000, 8000]);
    await slowing.wrong('10.0.0.2');
    expect(waits.at(-1)).toBe(250);
    pass(16 * MINUTE);
    await slowing.wrong('10.0.0.1');
    expect(waits.at(-1)).toBe(250);
  });

  it('is not looked at any more after five hundred tries, but for a few a minute', async () => {
    const { slowing, pass } = made();
    for (let at = 0; at < 500; at += 1) {
      expect(slowing.allows('10.0.0.1')).toBe(true);
      await slowing.wrong('10.0.0.1');
    }
    expect(slowing.allows('10.0.0.1')).toBe(false);
    expect(slowing.allows('10.0.0.2')).toBe(true);
    let looked = 0;
    for (let second = 0; second < 600; second += 1) {
      pass(1000);
      if (!slowing.allows('10.0.0.1')) continue;
      looked += 1;
      await slowing.wrong('10.0.0.1');
    }
    expect(looked).toBe(120);
  });

  it('from a great many addresses at once is bounded in all; addresses of one IPv6 network are one', async () => {
    const { slowing } = made();
    for (let at = 0; at < 2000; at += 1) await slowing.wrong(`10.1.${at >> 8}.${at & 255}`);
    expect(slowing.allows('10.9.9.9')).toBe(false);
    const other = made().slowing;
    for (let at = 0; at < 500; at += 1) await other.wrong(`2001:db8:1:2::${at.toString(16)}`);
    expect([other.allows('2001:db8:1:2::ffff'), other.allows('2001:db8:1:3::1')]).toEqual([false, true]);
  });
});
