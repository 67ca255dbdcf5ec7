/** What lives while an arrangement is open on the Desk, beside its state, and how work that needs it is set going. */
import type { Copied } from '@crispfold/core';
import type { ThunkAction, ThunkDispatch, UnknownAction } from '@reduxjs/toolkit';
import { createContext, useContext } from 'react';
import { useDispatch } from 'react-redux';
import type { EngineLine } from '../../engine/engine.js';
import type { PageServices } from '../../engine/pageServices.js';
import type { ValueStore } from '../../ui/valueStore.js';
import type { RootState } from '../state/root.js';
import type { DeskLink } from './deskLink.js';
import type { Saving } from './savingParts.js';
import type { ScoreEngine } from './scoreEngine.js';
import type { Player } from './sound/player.js';
import type { Taking } from './taking.js';
import type { Turns } from './turns.js';

/** See the file's head. */
export interface Desk {
  /** What lives as long as the page in the browser. */
  readonly page: PageServices;
  readonly engine: EngineLine;
  readonly link: DeskLink;
  readonly saving: Saving;
  readonly player: Player;
  readonly score: ScoreEngine;
  /** Steps, and corrections of the page, each of what the one before left. */
  readonly steps: Turns;
  readonly corrections: Turns;
  /** What was copied last in this window. */
  readonly clipboard: ValueStore<Copied | null>;
  /** Where the pointer last was in the roll, in ticks; null before it ever was. */
  readonly pointerTick: ValueStore<number | null>;
  /** A take that is being played in. */
  readonly taking: ValueStore<Taking | null>;
  /** What "again" does: the last change, on what is selected then. */
  readonly again: ValueStore<(() => void) | null>;
}

/** Work over the whole state, and what lives beside it. */
export type Thunk<Result = void> = ThunkAction<Result, RootState, Desk, UnknownAction>;
/** Dispatch that knows it. */
export type AppDispatch = ThunkDispatch<RootState, Desk, UnknownAction>;

export const useAppDispatch = useDispatch.withTypes<AppDispatch>();

export const DeskContext = createContext<Desk | null>(null);

/** The open Desk. */
export const useDesk = (): Desk => {
  const desk = useContext(DeskContext);
  if (!desk) throw new Error('Only inside an open Desk.');
  return desk;
};
