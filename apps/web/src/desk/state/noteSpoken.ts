/** A note as the Desk speaks of it. */
import type { Note, Part } from '@crispfold/core';
import { selectMeterMap } from './maps.js';
import type { RootState } from './root.js';
import { selectArrangement } from './selectors.js';
import { noteInWords } from './speak.js';

/** In full, or in short where little is to be said. */
export const noteSpoken = (state: RootState, part: Part, note: Note): string =>
  noteInWords(part, note, {
    arrangement: selectArrangement(state),
    meterMap: selectMeterMap(state),
    terse: state.speech.terse,
  });
