/** On/off settings that commands and buttons turn; each belongs to the slice that has it. */
import { createAction } from '@reduxjs/toolkit';

/** See the file's head. */
export type Switch =
  | 'snapOn'
  | 'drawing'
  | 'adding'
  | 'controllersToo'
  | 'giveOn'
  | 'loopOn'
  | 'metronome'
  | 'hearEdits'
  | 'pageShown'
  | 'pageOfFrontOnly'
  | 'partsFolded'
  | 'sideFolded';

/** Turns one of them. */
export const switched = createAction<Switch>('switched');

/** What turning one of a slice's own settings does. */
export const turning =
  <Own extends Switch>(...own: readonly Own[]) =>
  <State extends { readonly [setting in Own]: boolean }>(state: State, what: Switch): State =>
    (own as readonly Switch[]).includes(what) ? { ...state, [what]: !state[what as Own] } : state;
