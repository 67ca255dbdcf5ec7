/** A Desk for one arrangement: its state and all that lives beside it, made anew with each opening, shared with none. */
import { configureStore } from '@reduxjs/toolkit';
import type { PageServices } from '../../engine/pageServices.js';
import { createValueStore } from '../../ui/valueStore.js';
import { checksActions } from '../state/checksSlice.js';
import { deskReducer, type RootState } from '../state/root.js';
import { selectShownParts } from '../state/selectors.js';
import { said } from '../state/speechSlice.js';
import type { Desk } from './desk.js';
import { DeskLink } from './deskLink.js';
import { keptPreferences } from './preferences.js';
import { createSaving, endSaving } from './savingParts.js';
import { ScoreEngine } from './scoreEngine.js';
import { Player } from './sound/player.js';
import { chosenSoundFont } from './sound/soundFont.js';
import { createTurns } from './turns.js';

/** Arrangements are large immutable records, so the checks that walk all state are off. */
const storeOf = (desk: Desk) =>
  configureStore({
    reducer: deskReducer,
    preloadedState: keptPreferences(),
    middleware: (getDefault) =>
      getDefault({ serializableCheck: false, immutableCheck: false, thunk: { extraArgument: desk } }),
  });

/** The store of a Desk. */
export type DeskStore = ReturnType<typeof storeOf>;

const linkOf = (engine: Desk['engine'], getState: () => RootState, noticed: DeskLinkNotice): DeskLink =>
  new DeskLink({
    arrangement: () => getState().piece.arrangement,
    // The front part is the last of those shown, so that it is drawn on top.
    first: () =>
      selectShownParts(getState())
        .map((part) => part.id)
        .reverse(),
    begin: engine.begin,
    tell: engine.tell,
    ask: engine.ask,
    onFindings: noticed,
  });

type DeskLinkNotice = ConstructorParameters<typeof DeskLink>[0]['onFindings'];

/** A Desk with its store. */
export interface DeskWithStore {
  readonly desk: Desk;
  readonly store: DeskStore;
  /** Lets go of what would live on. */
  readonly close: () => void;
}

/** Makes one; nothing is opened yet. */
export const createDesk = (page: PageServices): DeskWithStore => {
  const engine = page.engines.openLine();
  const desk: Desk = {
    page,
    engine,
    link: linkOf(
      engine,
      () => store.getState(),
      (findings) => store.dispatch(checksActions.noticed(findings)),
    ),
    saving: createSaving(),
    player: new Player({
      say: (words) => store.dispatch(said(words)),
      soundFont: () => store.dispatch(chosenSoundFont()),
    }),
    score: new ScoreEngine(page.engines),
    steps: createTurns(),
    corrections: createTurns(),
    clipboard: createValueStore(null),
    pointerTick: createValueStore(null),
    taking: createValueStore(null),
    again: createValueStore(null),
  };
  const store: DeskStore = storeOf(desk);
  const close = () => {
    endSaving(desk.saving);
    desk.player.close();
    desk.score.end();
  };
  return { desk, store, close };
};
