/** What a person chose for every arrangement, and this browser remembers: keys, the list of one's own, how much is spoken. */
import { kept, keptAs, keptJson } from '../../browser/kept.js';
import { keysActions } from '../state/keysSlice.js';
import { type OwnKeys, tidyKeys } from '../state/ownKeys.js';
import { type OwnRow, tidyRows } from '../state/ownList.js';
import { said, speechActions } from '../state/speechSlice.js';
import type { Thunk } from './desk.js';
import { wantedAtFirst } from './sound/soundFont.js';

const KEYS = 'crispfold-keys';
const ROWS = 'crispfold-own-list';
const SPEAKING = 'crispfold-speaking';

/** What is remembered, as the state that a Desk begins with. */
export const keptPreferences = () => ({
  keys: { own: tidyKeys(keptJson(KEYS)), rows: tidyRows(keptJson(ROWS)), list: null },
  speech: { hint: '', spoken: '', refusal: '', terse: kept(SPEAKING) === 'terse' },
  soundFont: { item: undefined, wanted: wantedAtFirst() },
});

/** Gives commands these keys from now on. */
export const giveKeys =
  (own: OwnKeys): Thunk =>
  (dispatch) => {
    keptAs(KEYS, JSON.stringify(own));
    dispatch(keysActions.keysGiven(own));
  };

/** Has these rows on the list of one's own. */
export const setRows =
  (rows: readonly OwnRow[]): Thunk =>
  (dispatch) => {
    keptAs(ROWS, JSON.stringify(rows));
    dispatch(keysActions.rowsSet(rows));
  };

/** Speaks in short from now on, or in full. */
export const turnSpeaking = (): Thunk => (dispatch, getState) => {
  const terse = !getState().speech.terse;
  keptAs(SPEAKING, terse ? 'terse' : 'full');
  dispatch(speechActions.terseSet(terse));
  dispatch(said(terse ? 'Spoken in short.' : 'Spoken in full.'));
};
