/**
 * One server serves a database. The lock is held by the operating system: a transaction that stays open in a small SQLite file
 * beside the database. However a server ends, its lock ends with it, and no process id has to be believed.
 */
import { readFileSync, rmSync, statSync } from 'node:fs';
import { type Client, createClient, type Transaction } from '@libsql/client';

/** Thrown where another server holds the lock. */
export class LockHeld extends Error {}

/** A lock that is held. */
export interface Lock {
  readonly release: () => void;
}

/** Ticks of the kernel's clock in a second, as Linux tells them to programs (man 7 time). */
const KERNEL_TICKS = 100;

/** When a process began, in milliseconds since 1970; null where the system does not tell. */
const beganAt = (pid: number): number | null => {
  try {
    // Field 22 of /proc/PID/stat (man 5 proc); the name before it may hold blanks and ends with a parenthesis.
    const fields = readFileSync(`/proc/${pid}/stat`, 'latin1').split(') ').pop()?.split(' ') ?? [];
    const booted = Number(/^btime (\d+)$/m.exec(readFileSync('/proc/stat', 'latin1'))?.[1]);
    return (booted + Number(fields[19]) / KERNEL_TICKS) * 1000;
  } catch {
    return null;
  }
};

const isAlive = (pid: number): boolean => {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM';
  }
};

/** The kernel's clock and that of files may differ by so much, in milliseconds. */
const CLOCKS_DIFFER = 2000;

/** True where a server of an earlier release runs, which left its process id beside the database. */
const earlierReleaseServes = (file: string): boolean => {
  const at = `${file}.lock`;
  try {
    const pid = Number(readFileSync(at, 'utf8'));
    if (!(pid > 0) || pid === process.pid || !isAlive(pid)) return false;
    const began = beganAt(pid);
    // A program that began after the lock was written only has the same number by now.
    return began === null || began <= statSync(at).mtimeMs + CLOCKS_DIFFER;
  } catch {
    return false;
  }
};

/** Takes the lock of the database in `file`. Throws {@link LockHeld} where another server has it, and SQLite's own errors. */
export const takeLock = async (file: string): Promise<Lock> => {
  let client: Client | undefined;
  let held: Transaction | undefined;
  try {
    client = createClient({ url: `file:${file}.serving` });
    held = await client.transaction('write');
    if (earlierReleaseServes(file)) throw new LockHeld();
    rmSync(`${file}.lock`, { force: true });
  } catch (error) {
    held?.close();
    client?.close();
    if (/BUSY/.test((error as { code?: string }).code ?? '')) throw new LockHeld();
    throw error;
  }
  const [own, transaction] = [client, held];
  return {
    release: () => {
      transaction.close();
      own.close();
    },
  };
};
