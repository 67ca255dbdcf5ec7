/** A Desk without a browser, for tests: its workers answer nothing unless a test says what. */
import type { OpenArrangement } from '@crispfold/contract';
import { type Arrangement, EMPTY_HISTORY } from '@crispfold/core';
import { createJustOpened } from '../../browser/justOpened.js';
import type { EngineLine } from '../../engine/engine.js';
import type { PageServices } from '../../engine/pageServices.js';
import { pieceActions } from '../state/pieceSlice.js';
import { createDesk, type DeskWithStore } from './createDesk.js';

const never = (): Promise<never> => new Promise(() => undefined);

/** What a test says of the page; the rest is as quiet as can be. */
export interface PageForTests {
  readonly ask?: EngineLine['ask'];
  readonly keptChanges?: PageServices['keptChanges'];
}

/** What lives as long as a page, for tests. */
export const pageForTests = ({ ask = never, keptChanges = async () => null }: PageForTests = {}): PageServices => ({
  engines: {
    warm: () => undefined,
    rehearse: () => undefined,
    openLine: () => ({
      begin: () => undefined,
      tell: () => ({ revision: 1, done: Promise.resolve() }),
      ask,
    }),
    nearScorePages: () => {
      throw new Error('There is no engraver here.');
    },
    farScorePages: () => {
      throw new Error('There is no engraver here.');
    },
    keepSound: never,
    attacksOf: never,
  },
  keptChanges,
  justOpened: createJustOpened(),
  deskOpened: () => undefined,
});

/** An arrangement as the server sends it. */
export const openedAs = (arrangement: Arrangement, id = 'a', revision = 0): OpenArrangement => ({
  id,
  revision,
  changedAt: '',
  arrangement,
  history: EMPTY_HISTORY,
});

/** A Desk with an arrangement on it. */
export const deskForTests = (arrangement?: Arrangement, page: PageForTests = {}): DeskWithStore => {
  const made = createDesk(pageForTests(page));
  if (arrangement) {
    made.store.dispatch(pieceActions.opening('a'));
    made.store.dispatch(pieceActions.opened(openedAs(arrangement)));
  }
  return made;
};
