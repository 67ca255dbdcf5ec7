/** The SoundFont that the server keeps, and whether this browser plays with it. */
import type { SoundFontItem } from '@crispfold/contract';
import { api } from '../../../browser/api.js';
import { createValueStore } from '../../../ui/valueStore.js';

const KEY = 'crispfold-soundfont-off';

/** What is known of it; undefined before the server was asked. */
export interface SoundFontState {
  readonly item: SoundFontItem | null | undefined;
  /** False where the built-in sounds are wanted all the same. */
  readonly wanted: boolean;
}

const wantedAtFirst = (): boolean => {
  try {
    return localStorage.getItem(KEY) === null;
  } catch {
    return true;
  }
};

const state = createValueStore<SoundFontState>({ item: undefined, wanted: wantedAtFirst() });

/** Asks the server, once. Where it does not answer, none is there. */
const ask = async (): Promise<SoundFontState> => {
  const { item } = state.get();
  if (item === undefined) {
    const found = await api.soundFont().catch(() => null);
    if (state.get().item === undefined) state.set({ ...state.get(), item: found });
  }
  return state.get();
};

export const soundFont = {
  state,
  ask,
  /** The one to play with; null for the built-in sounds. */
  chosen: async (): Promise<SoundFontItem | null> => {
    const { item, wanted } = await ask();
    return wanted ? (item ?? null) : null;
  },
  bytes: async (id: string): Promise<ArrayBuffer> => (await api.soundFontFile(id)).arrayBuffer(),
  add: async (file: File): Promise<void> => {
    const item = await api.addSoundFont(file);
    state.set({ item, wanted: true });
  },
  remove: async (): Promise<void> => {
    await api.removeSoundFont();
    state.set({ ...state.get(), item: null });
  },
  want: (wanted: boolean): void => {
    try {
      if (wanted) localStorage.removeItem(KEY);
      else localStorage.setItem(KEY, 'off');
    } catch {
      // Where the browser keeps nothing it holds until the page goes.
    }
    state.set({ ...state.get(), wanted });
  },
};
