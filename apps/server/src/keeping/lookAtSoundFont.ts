/** Whether a file is a SoundFont whose tables hold together (SoundFont Technical Specification 2.04; version 3 packs its samples). */
import type { FileHandle } from 'node:fs/promises';
import { bytesOf, type Chunk, chunksIn } from './riff.js';

/** The tables of presets, instruments and samples: bytes of a record, and how many there are at least with the last, empty one. */
const TABLES: { readonly [id: string]: { readonly record: number; readonly least: number } } = {
  phdr: { record: 38, least: 2 },
  pbag: { record: 4, least: 2 },
  pmod: { record: 10, least: 0 },
  pgen: { record: 4, least: 1 },
  inst: { record: 22, least: 2 },
  ibag: { record: 4, least: 2 },
  imod: { record: 10, least: 0 },
  igen: { record: 4, least: 1 },
  shdr: { record: 46, least: 2 },
};
/** Where a record of `shdr` says its sample begins and ends. */
const SAMPLE = { start: 20, end: 24, type: 44 } as const;
/** The bit of a sample's type that says it is packed: its places are bytes then, and not points of two bytes. */
const PACKED = 0x10;
/** The bit that says it lies in a chip of its maker's. */
const IN_ROM = 0x8000;

const isWholeTable = ({ id, start, end, whole }: Chunk): boolean => {
  const table = TABLES[id];
  if (!table) return true;
  return whole && (end - start) % table.record === 0 && (end - start) / table.record >= table.least;
};

/** Places of samples lie within what is there. */
const samplesLieWithin = async (handle: FileHandle, headers: Chunk, bytes: number): Promise<boolean> => {
  const { record } = TABLES.shdr as { record: number };
  const view = await bytesOf(handle, headers.start, headers.end);
  // The last record is empty.
  for (let at = 0; at + 2 * record <= view.byteLength; at += record) {
    const type = view.getUint16(at + SAMPLE.type, true);
    if (type & IN_ROM) continue;
    const [start, end] = [view.getUint32(at + SAMPLE.start, true), view.getUint32(at + SAMPLE.end, true)];
    if (start > end || end * (type & PACKED ? 1 : 2) > bytes) return false;
  }
  return true;
};

/** True for a SoundFont. */
export const isSoundFont = async (handle: FileHandle, size: number): Promise<boolean> => {
  const [riff] = await chunksIn(handle, 0, size);
  if (riff?.id !== 'RIFF' || riff.form !== 'sfbk') return false;
  const lists = await chunksIn(handle, riff.start, riff.end);
  const within = async (form: string): Promise<readonly Chunk[]> => {
    const list = lists.find((own) => own.form === form);
    return list ? chunksIn(handle, list.start, list.end) : [];
  };
  const tables = await within('pdta');
  const samples = (await within('sdta')).find(({ id }) => id === 'smpl');
  const headers = tables.find(({ id }) => id === 'shdr');
  const complete = Object.keys(TABLES).every((id) => tables.some((own) => own.id === id));
  if (!complete || !headers || !tables.every(isWholeTable)) return false;
  return samplesLieWithin(handle, headers, samples ? samples.end - samples.start : 0);
};
