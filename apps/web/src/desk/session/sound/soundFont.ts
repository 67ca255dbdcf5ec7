/** Asking for the SoundFont that the server keeps, adding and removing it, and wanting it or not. */
import type { SoundFontItem } from '@crispfold/contract';
import { api } from '../../../browser/api.js';
import { kept, keptAs } from '../../../browser/kept.js';
import { soundFontActions } from '../../state/soundFontSlice.js';
import type { Thunk } from '../desk.js';

const KEY = 'crispfold-soundfont-off';

/** False where this browser is to play with the built-in sounds all the same. */
export const wantedAtFirst = (): boolean => kept(KEY) === null;

/** Asks the server, once. Where it does not answer, none is there. */
export const askForSoundFont = (): Thunk<Promise<void>> => async (dispatch, getState) => {
  if (getState().soundFont.item !== undefined) return;
  const found = await api.soundFont().catch(() => null);
  if (getState().soundFont.item === undefined) dispatch(soundFontActions.soundFontKnown(found));
};

/** The one to play with; null for the built-in sounds. */
export const chosenSoundFont = (): Thunk<Promise<SoundFontItem | null>> => async (dispatch, getState) => {
  await dispatch(askForSoundFont());
  const { item, wanted } = getState().soundFont;
  return wanted ? (item ?? null) : null;
};

/** Gives the server a SoundFont, in the place of the one it has. Rejects as the fetch client does. */
export const addSoundFont =
  (file: File): Thunk<Promise<void>> =>
  async (dispatch) => {
    dispatch(soundFontActions.soundFontKnown(await api.addSoundFont(file)));
    dispatch(soundFontActions.soundFontWanted(true));
  };

/** Has the server forget it. Rejects as the fetch client does. */
export const removeSoundFont = (): Thunk<Promise<void>> => async (dispatch) => {
  await api.removeSoundFont();
  dispatch(soundFontActions.soundFontKnown(null));
};

/** Plays with it from now on, or with the built-in sounds; remembered in this browser. */
export const wantSoundFont =
  (wanted: boolean): Thunk =>
  (dispatch) => {
    keptAs(KEY, wanted ? null : 'off');
    dispatch(soundFontActions.soundFontWanted(wanted));
  };
