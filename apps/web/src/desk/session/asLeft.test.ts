import { demoArrangement } from '@crispfold/core';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { layoutActions } from '../state/layoutSlice.js';
import { partsShownActions } from '../state/partsShownSlice.js';
import { pieceActions } from '../state/pieceSlice.js';
import { rollActions } from '../state/rollSlice.js';
import type { RootState } from '../state/root.js';
import { selectingActions } from '../state/selectingSlice.js';
import { asLeft, rememberAsLeft } from './asLeft.js';
import { createDesk, type DeskStore } from './createDesk.js';
import { openedAs, pageForTests } from './deskForTests.js';

const kept = new Map<string, string>();
beforeEach(() => {
  kept.clear();
  vi.stubGlobal('localStorage', {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => void kept.set(key, value),
  });
});
afterEach(() => vi.unstubAllGlobals());

const view = { left: 960, ticksPerPixel: 2, top: 30, rowHeight: 14, width: 700, height: 300 };
/** A Desk with the demo on it, as `more` changes it. */
const stateOf = (id: string, change: (store: DeskStore) => void = () => undefined): RootState => {
  const { store } = createDesk(pageForTests());
  store.dispatch(pieceActions.opened(openedAs(demoArrangement(), id)));
  store.dispatch(rollActions.viewSet(view));
  change(store);
  return store.getState();
};

describe('how an arrangement was left', () => {
  it('is found again, each by itself', () => {
    rememberAsLeft(
      stateOf('one', ({ dispatch }) => {
        dispatch(partsShownActions.partHiddenToggled(3));
        dispatch(selectingActions.reachTurned());
        dispatch(layoutActions.panelShown('findings'));
      }),
    );
    rememberAsLeft(stateOf('two'));
    expect(asLeft('one')).toMatchObject({
      desk: { hidden: [3], reach: 'all', panel: 'findings' },
      view: { left: 960, ticksPerPixel: 2, top: 30, rowHeight: 14 },
    });
    expect(asLeft('two')?.desk.hidden).toEqual([]);
    expect(asLeft('three')).toBeNull();
  });

  it('is not kept of what is not open, and the oldest is forgotten', () => {
    rememberAsLeft(stateOf('one', ({ dispatch }) => dispatch(pieceActions.opening('one'))));
    expect(asLeft('one')).toBeNull();
    for (let number = 0; number < 45; number += 1) rememberAsLeft(stateOf(`piece ${number}`));
    expect(asLeft('piece 0')).toBeNull();
    expect(asLeft('piece 44')).not.toBeNull();
  });

  it('is nothing where the storage holds something else, or is refused', () => {
    kept.set('crispfold-as-left', '{"a":1}');
    expect(asLeft('one')).toBeNull();
    kept.set('crispfold-as-left', JSON.stringify([['one', { desk: { hidden: 'all' }, view: {} }]]));
    expect(asLeft('one')).toBeNull();
    vi.stubGlobal('localStorage', {
      getItem: () => {
        throw new Error('refused');
      },
      setItem: () => {
        throw new Error('refused');
      },
    });
    expect(() => rememberAsLeft(stateOf('one'))).not.toThrow();
    expect(asLeft('one')).toBeNull();
  });
});
