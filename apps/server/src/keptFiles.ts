/** Files that the server keeps beside the database: what kind they are, and copies that are whole or not there. */
import { copyFile, mkdir, open, rename, rm } from 'node:fs/promises';
import path from 'node:path';

/** Enough of a file to tell what it is, in bytes. */
const HEAD = 12;

/** The first bytes of a file, as letters; undefined where it has fewer. */
export const headOf = async (file: string): Promise<Buffer | undefined> => {
  const handle = await open(file);
  try {
    const head = Buffer.alloc(HEAD);
    const { bytesRead } = await handle.read(head, 0, HEAD, 0);
    return bytesRead === HEAD ? head : undefined;
  } finally {
    await handle.close();
  }
};

/** True for a RIFF file of a form ("WAVE", "sfbk"). */
export const isRiff = (head: Buffer, form: string): boolean =>
  head.toString('latin1', 0, 4) === 'RIFF' && head.toString('latin1', 8, 12) === form;

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
