/** The work as it stands in this window, as a file: for when it cannot be saved. */
import { type Arrangement, writePlayedMidi } from '@crispfold/core';
import { saveFile } from '../../ui/saveFile.js';

/** Saves all parts as played, with their maps, as a MIDI file. */
export const rescueCopy = (arrangement: Arrangement): void => {
  saveFile(`${arrangement.title}, rescued.mid`, writePlayedMidi(arrangement), 'audio/midi');
};
