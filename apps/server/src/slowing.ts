/**
 * Guessing made slow. Each address, and all of them together, may try a number of times at once and then so often a minute;
 * beyond that a try is not even looked at. Each wrong one is answered later than the one before. What is right is never made
 * to wait.
 */

/** Each wrong try makes the next answer wait twice as long, from the first of these to the last (milliseconds). */
const SLOWEST = { first: 250, last: 8000 } as const;
/** So long after the last wrong one all is forgotten. */
const FORGET_MILLISECONDS = 15 * 60_000;
/** Tries that are looked at: so many at once, and so many more a minute. */
const OF_AN_ADDRESS = { atOnce: 500, aMinute: 12 } as const;
const IN_ALL = { atOnce: 2000, aMinute: 60 } as const;
/** Addresses are remembered up to so many; beyond that the oldest go. */
const MOST_ADDRESSES = 10_000;

interface Tries {
  /** Tries that are left, as they stood at `at`. */
  readonly left: number;
  readonly at: number;
}

/** Those of one address, with how many were wrong of late. */
interface OwnTries extends Tries {
  readonly wrong: number;
}

type Rate = { readonly atOnce: number; readonly aMinute: number };

const refilled = (tries: Tries | undefined, rate: Rate, now: number): number =>
  tries ? Math.min(rate.atOnce, tries.left + (Math.max(0, now - tries.at) / 60_000) * rate.aMinute) : rate.atOnce;

/** An IPv6 network gives each of its members a great many addresses: they count as one (RFC 4291: 64 bits). */
const networkOf = (address: string): string =>
  address.includes(':') && !address.includes('.') ? address.split(':').slice(0, 4).join(':') : address;

/** Counts wrong tries; `clock` and `wait` are for tests. */
export class Slowing {
  private readonly tries = new Map<string, OwnTries>();
  private all: Tries | undefined;

  constructor(
    private readonly clock: () => number = () => performance.now(),
    private readonly wait: (milliseconds: number) => Promise<void> = (milliseconds) =>
      new Promise((resolve) => setTimeout(resolve, milliseconds)),
  ) {}

  /** True where a try from an address may be looked at. */
  allows(address: string): boolean {
    const now = this.clock();
    return refilled(this.of(address, now), OF_AN_ADDRESS, now) >= 1 && refilled(this.all, IN_ALL, now) >= 1;
  }

  /** Counts a wrong one, and waits as long as its answer has to. */
  async wrong(address: string): Promise<void> {
    const now = this.clock();
    const before = this.of(address, now);
    const wrong = (before?.wrong ?? 0) + 1;
    const key = networkOf(address);
    this.tries.delete(key);
    this.tries.set(key, { left: refilled(before, OF_AN_ADDRESS, now) - 1, at: now, wrong });
    this.all = { left: refilled(this.all, IN_ALL, now) - 1, at: now };
    for (const oldest of this.tries.keys()) {
      if (this.tries.size <= MOST_ADDRESSES) break;
      this.tries.delete(oldest);
    }
    await this.wait(Math.min(SLOWEST.last, SLOWEST.first * 2 ** (wrong - 1)));
  }

  /** Somebody signed in: the answers to that address are quick again. The tries that it has left stay as they are. */
  forget(address: string): void {
    const key = networkOf(address);
    const own = this.tries.get(key);
    if (own) this.tries.set(key, { ...own, wrong: 0 });
  }

  private of(address: string, now: number): OwnTries | undefined {
    const own = this.tries.get(networkOf(address));
    return own && now - own.at > FORGET_MILLISECONDS ? { ...own, wrong: 0 } : own;
  }
}
