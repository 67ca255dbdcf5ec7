/**
 * One arrangement with its history as one file: a zip of JSON, with the music as played beside it as MIDI, so that it can be
 * read without Crisp Fold.
 */
import { arrangementSchema, editSchema } from '@crispfold/contract';
import {
  type Arrangement,
  DamagedZip,
  type KeptEdit,
  LARGEST_UNPACKED_ARCHIVE,
  type OnWork,
  slimEdit,
  UnpacksTooLarge,
  unzip,
  writePlayedMidi,
} from '@crispfold/core';
import { strToU8, zipSync } from 'fflate';
import * as yup from 'yup';
import { HttpProblem } from './problems.js';

/** What the file says it is. */
const FORMAT = 'crisp-fold-arrangement';
const VERSION = 1;
/** The files in it that are read again. */
const READ_AGAIN: readonly string[] = ['crisp-fold.json', 'arrangement.json', 'history.json'];

/** An arrangement as it stands, and its history: `position` of the entries are in force. */
export interface Archive {
  readonly arrangement: Arrangement;
  readonly entries: readonly KeptEdit[];
  readonly position: number;
}

/** The bytes of the file. */
export const archiveBytes = ({ arrangement, entries, position }: Archive): Uint8Array => {
  const head = { format: FORMAT, version: VERSION, title: arrangement.title, position, entries: entries.length };
  return zipSync(
    {
      'crisp-fold.json': strToU8(`${JSON.stringify(head, null, 2)}\n`),
      'arrangement.json': strToU8(JSON.stringify(arrangement)),
      'history.json': strToU8(JSON.stringify(entries.map(slimEdit))),
      'as played.mid': writePlayedMidi(arrangement),
    },
    { level: 6 },
  );
};

const headSchema = yup.object({
  format: yup.string().oneOf([FORMAT]).required(),
  version: yup.number().integer().required(),
  position: yup.number().integer().min(0).required(),
  entries: yup.number().integer().min(0).required(),
});

const noArchive = (why: string): HttpProblem =>
  new HttpProblem(
    422,
    'noArchive',
    `This is no arrangement taken away from Crisp Fold: ${why} Nothing was brought in.`,
  );

/** What of it is read again, by name. */
const filesIn = (bytes: Uint8Array, onWork?: OnWork): { readonly [name: string]: Uint8Array } => {
  try {
    return unzip(bytes, {
      wanted: (name) => READ_AGAIN.includes(name),
      most: LARGEST_UNPACKED_ARCHIVE,
      ...(onWork ? { onBytes: onWork } : {}),
    });
  } catch (error) {
    if (error instanceof UnpacksTooLarge) throw noArchive('it is too large once it is opened.');
    if (!(error instanceof DamagedZip)) throw error;
    throw noArchive('it is no zip file, or a damaged one.');
  }
};

/** Reads the file; each record is checked. Throws {@link HttpProblem} in words. `onWork` is told of the work. */
export const readArchive = (bytes: Uint8Array, onWork?: OnWork): Archive => {
  const files = filesIn(bytes, onWork);
  const json = (name: string): unknown => {
    const file = files[name];
    if (!file) throw noArchive(`it holds no “${name}”.`);
    try {
      return JSON.parse(new TextDecoder().decode(file));
    } catch {
      throw noArchive(`“${name}” is damaged.`);
    }
  };
  const checked = <Value>(schema: yup.Schema, value: unknown, name: string): Value => {
    try {
      return schema.validateSync(value, { strict: true }) as Value;
    } catch (error) {
      throw noArchive(`“${name}” cannot be used: ${(error as Error).message}`);
    }
  };
  const said = json('crisp-fold.json') as { version?: unknown } | null;
  if (typeof said?.version === 'number' && said.version > VERSION) {
    throw noArchive(`it is of version ${said.version}, newer than this Crisp Fold, which reads ${VERSION}.`);
  }
  const head = checked<{ position: number; entries: number }>(headSchema, said, 'crisp-fold.json');
  const arrangement = checked<Arrangement>(arrangementSchema, json('arrangement.json'), 'arrangement.json');
  const entries = checked<readonly KeptEdit[]>(
    yup.array(editSchema.required()).required(),
    json('history.json'),
    'history.json',
  );
  if (entries.length !== head.entries || head.position > entries.length) throw noArchive('its history is not whole.');
  return { arrangement, entries, position: head.position };
};
