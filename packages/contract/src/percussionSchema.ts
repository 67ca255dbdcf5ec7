/** A percussion map as it is kept with its part, and as a file. */
import { LONGEST_SOUND_NAME, NOTEHEADS, type PercussionMap, PLACE_STEPS } from '@crispfold/core';
import * as yup from 'yup';
import { type OwnFile, ownFileText, readOwnFile } from './ownFile.js';

const row = yup.object({
  sound: yup.number().integer().min(0).max(127).required(),
  name: yup
    .string()
    .trim()
    .min(1, 'A sound needs a name.')
    .max(LONGEST_SOUND_NAME, `The name of a sound has at most ${LONGEST_SOUND_NAME} letters.`)
    .required('A sound needs a name.'),
  step: yup.string().oneOf(PLACE_STEPS).required(),
  octave: yup.number().integer().min(3).max(6).required(),
  notehead: yup.string().oneOf(NOTEHEADS).required(),
  voice: yup.mixed<1 | 2>((value): value is 1 | 2 => value === 1 || value === 2).required(),
});

/** A part's percussion map: at most one row for a sound. */
export const percussionMapSchema = yup
  .array(row.required())
  .max(128)
  .test('sounds', 'A sound stands in the map twice.', (rows) => {
    const sounds = (rows ?? []).map(({ sound }) => sound);
    return new Set(sounds).size === sounds.length;
  });

/** The version of the stored form. */
const PERCUSSION_MAP_VERSION = 1;

const FILE: OwnFile = {
  format: 'crisp-fold-percussion-map',
  version: PERCUSSION_MAP_VERSION,
  denial: 'This is not a percussion map',
  subject: 'This percussion map is',
};

/** A map as the text of a file. */
export const percussionMapToFile = (map: PercussionMap): string =>
  ownFileText(FILE, { version: PERCUSSION_MAP_VERSION, sounds: map });

/** Reads the text of a file of a percussion map; a message that a person understands where it cannot. */
export const percussionMapFromFile = (
  text: string,
): { readonly ok: true; readonly map: PercussionMap } | { readonly ok: false; readonly message: string } => {
  const read = readOwnFile(text, FILE);
  if (!read.ok) return read;
  try {
    const { sounds } = yup
      .object({
        version: yup.number().oneOf([PERCUSSION_MAP_VERSION]).required(),
        sounds: percussionMapSchema.min(1, 'it has no sounds.').required(),
      })
      .validateSync(read.content, { strict: true });
    return { ok: true, map: sounds as PercussionMap };
  } catch (error) {
    return { ok: false, message: `This percussion map cannot be used: ${(error as Error).message}` };
  }
};
