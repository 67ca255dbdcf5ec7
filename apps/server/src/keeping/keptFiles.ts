/**
 * Files that are kept beside databases, each under the SHA-256 of what it holds, so that several databases in one folder share
 * them and none takes another's away. Each database leaves a list of those it names; what none of them has named for thirty
 * days is cleared away.
 */
import { randomUUID } from 'node:crypto';
import { existsSync } from 'node:fs';
import { copyFile, mkdir, readdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { KEPT_DAYS } from '@crispfold/core';

const DAY = 86_400_000;
/** How the list of a database is called after it, and the note of what is named by none. */
const LIST = '.names.json';
const UNNAMED = 'unnamed.json';
const DATABASE = /\.(sqlite|db)$/;

/** A kept file, by its name. */
export interface NamedFile {
  readonly name: string;
  readonly file: string;
}

/** What was cleared away. */
interface Cleared {
  readonly files: number;
  readonly bytes: number;
}

/** Since when files were named by no database: ISO 8601, by name. */
type UnnamedSince = { readonly [name: string]: string };

/** Writes a file so that it stands under its name only when it is whole. */
const writeWhole = async (file: string, text: string): Promise<void> => {
  // Several may be written at once; each grows by itself.
  const growing = `${file}.${randomUUID()}.part`;
  await writeFile(growing, text);
  await rename(growing, file);
};

const readJson = async <Value>(file: string): Promise<Value | null> => {
  try {
    return JSON.parse(await readFile(file, 'utf8')) as Value;
  } catch {
    return null;
  }
};

/** Writes a copy of a file, making its folder; what is not whole never stands under its name. */
export const keepCopy = async (file: string, to: string): Promise<void> => {
  const growing = `${to}.part`;
  await mkdir(path.dirname(to), { recursive: true });
  try {
    await copyFile(file, growing);
    await rename(growing, to);
  } catch (error) {
    await rm(growing, { force: true });
    throw error;
  }
};

/** True for a kept file among what else lies in the folder. */
const isKept = (name: string): boolean => !name.endsWith('.part') && !name.endsWith('.json');

/** The kept files of one folder, as one database sees them. */
export class KeptFiles {
  /** `names` tells what the database names now. */
  constructor(
    readonly folder: string,
    private readonly database: string,
    private readonly names: () => Promise<readonly string[]>,
  ) {}

  /** Where a file lies. */
  fileOf(name: string): string {
    return path.join(this.folder, name);
  }

  /** Takes a file in, which lies on the same disk and is gone from there; `name` is the hash of what it holds. */
  async take(file: string, name: string): Promise<void> {
    const to = this.fileOf(name);
    const [own, known] = await Promise.all([stat(file), stat(to).catch(() => null)]);
    await mkdir(this.folder, { recursive: true });
    // The same again is there already; one of another size was cut off by something else than us.
    if (known?.size === own.size) await rm(file, { force: true });
    else await rename(file, to);
  }

  /** Leaves the list of what the database names. */
  async leaveList(): Promise<void> {
    if (!existsSync(this.folder)) return;
    await writeWhole(this.fileOf(path.basename(this.database) + LIST), JSON.stringify(await this.names()));
  }

  /** Clears away what no database in the folder has named for so many days. */
  async clearUnnamed(now = new Date()): Promise<Cleared> {
    await this.leaveList();
    const all = await readdir(this.folder).catch(() => []);
    await this.clearHalf(all, now);
    const files = all.filter(isKept);
    const named = await this.namedByAny();
    const before = (await readJson<UnnamedSince>(this.fileOf(UNNAMED))) ?? {};
    const since: { [name: string]: string } = {};
    let cleared: Cleared = { files: 0, bytes: 0 };
    for (const name of files) {
      if (!named || named.has(name)) continue;
      const first = before[name] ?? now.toISOString();
      if (now.getTime() - Date.parse(first) < KEPT_DAYS * DAY) {
        since[name] = first;
        continue;
      }
      const { size } = await stat(this.fileOf(name));
      await rm(this.fileOf(name), { force: true });
      cleared = { files: cleared.files + 1, bytes: cleared.bytes + size };
    }
    if (files.length > 0) await writeWhole(this.fileOf(UNNAMED), JSON.stringify(since));
    return cleared;
  }

  /** What grew in a server that was killed; one that grows now is younger than a day. */
  private async clearHalf(names: readonly string[], now: Date): Promise<void> {
    for (const name of names.filter((own) => own.endsWith('.part'))) {
      const half = await stat(this.fileOf(name)).catch(() => null);
      if (half && now.getTime() - half.mtimeMs > DAY) await rm(this.fileOf(name), { force: true });
    }
  }

  /** What the databases in the folder name; null where one of them has left no list, and nothing can be said. */
  private async namedByAny(): Promise<Set<string> | null> {
    const beside = path.dirname(this.folder);
    const databases = (await readdir(beside)).filter(
      (name) => DATABASE.test(name) || existsSync(this.fileOf(name + LIST)),
    );
    const named = new Set<string>();
    for (const database of databases) {
      const list = await readJson<readonly string[]>(this.fileOf(database + LIST));
      if (!Array.isArray(list)) return null;
      for (const name of list) named.add(name);
    }
    return named;
  }
}
