/**
 * Where multer puts files: on disk in small steps, a few at a time, so that what is written never piles up in memory on its
 * way to the disk, and a change of somebody else is on disk as soon as ever.
 */
import { randomUUID } from 'node:crypto';
import { open, rm } from 'node:fs/promises';
import path from 'node:path';
import type { StorageEngine } from 'multer';
import PQueue from 'p-queue';

/** So many files are written at once; the others wait, and their senders with them. */
const AT_ONCE = 2;
/** The disk is waited for each time so many bytes were written. */
const WAIT_EACH = 8 * 1024 * 1024;

/** Writes files into a folder, under names that nothing else has. */
export const toDisk = (folder: string): StorageEngine => {
  const line = new PQueue({ concurrency: AT_ONCE });
  const write = async (stream: NodeJS.ReadableStream): Promise<{ path: string; size: number }> => {
    const at = path.join(folder, randomUUID());
    const handle = await open(at, 'wx');
    let size = 0;
    let waiting = 0;
    try {
      for await (const piece of stream as AsyncIterable<Buffer>) {
        await handle.write(piece);
        size += piece.length;
        waiting += piece.length;
        if (waiting < WAIT_EACH) continue;
        waiting = 0;
        await handle.datasync();
      }
    } catch (error) {
      await handle.close();
      await rm(at, { force: true });
      throw error;
    }
    await handle.close();
    return { path: at, size };
  };
  return {
    _handleFile: (_request, file, done) => {
      line.add(() => write(file.stream)).then((written) => done(null, written), done);
    },
    _removeFile: (_request, file, done) => {
      rm(file.path, { force: true }).then(() => done(null), done);
    },
  };
};
