/** The chunks of RIFF files, read from disk head by head (Microsoft and IBM, Multimedia Programming Interface 1.0, 1991). */
import { type FileHandle, open } from 'node:fs/promises';

/** A chunk: its four letters, and where what it holds lies in the file, in bytes. */
export interface Chunk {
  readonly id: string;
  /** The four letters that a RIFF or LIST chunk has within; else empty. */
  readonly form: string;
  readonly start: number;
  readonly end: number;
  /** False where the file ends before the chunk does. */
  readonly whole: boolean;
}

/** Opens a file for the length of some work. */
export const withFile = async <Value>(
  file: string,
  work: (handle: FileHandle, size: number) => Promise<Value>,
): Promise<Value> => {
  const handle = await open(file);
  try {
    return await work(handle, (await handle.stat()).size);
  } finally {
    await handle.close();
  }
};

/** Bytes [from, to) of a file; fewer where it ends before. */
export const bytesOf = async (handle: FileHandle, from: number, to: number): Promise<DataView> => {
  const buffer = Buffer.alloc(Math.max(0, to - from));
  const { bytesRead } = await handle.read(buffer, 0, buffer.length, from);
  return new DataView(buffer.buffer, buffer.byteOffset, bytesRead);
};

const lettersAt = (view: DataView, at: number): string =>
  String.fromCharCode(...Array.from({ length: 4 }, (_, index) => view.getUint8(at + index)));

/** More chunks than any such file has at one level. */
const MOST_CHUNKS = 10_000;

/** Chunks begin at even places, says the source: after one of odd size a zero follows. Some programs leave it out. */
const padding = async (handle: FileHandle, end: number, size: number): Promise<number> => {
  if (size % 2 === 0) return 0;
  const next = await bytesOf(handle, end, end + 1);
  return next.byteLength === 1 && next.getUint8(0) === 0 ? 1 : 0;
};

/** The chunks between two places of a file. */
export const chunksIn = async (handle: FileHandle, from: number, to: number): Promise<readonly Chunk[]> => {
  const chunks: Chunk[] = [];
  for (let at = from; at + 8 <= to && chunks.length < MOST_CHUNKS; ) {
    const head = await bytesOf(handle, at, Math.min(to, at + 12));
    const id = lettersAt(head, 0);
    const size = head.getUint32(4, true);
    const grouped = (id === 'RIFF' || id === 'LIST') && head.byteLength === 12;
    const end = at + 8 + size;
    chunks.push({
      id,
      form: grouped ? lettersAt(head, 8) : '',
      start: at + (grouped ? 12 : 8),
      end: Math.min(end, to),
      whole: end <= to,
    });
    at = end + (await padding(handle, end, size));
  }
  return chunks;
};
