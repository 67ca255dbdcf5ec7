/** Each opening of an arrangement has a Desk of its own. */
import { demoArrangement, selectionOf } from '@crispfold/core';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { checksActions } from '../state/checksSlice.js';
import { editingActions } from '../state/editingSlice.js';
import { enteringActions } from '../state/enteringSlice.js';
import { keysActions } from '../state/keysSlice.js';
import { lanesActions } from '../state/lanesSlice.js';
import { settingsUsed } from '../state/lastSettingsSlice.js';
import { layoutActions } from '../state/layoutSlice.js';
import { lookingActions } from '../state/lookingSlice.js';
import { partsShownActions } from '../state/partsShownSlice.js';
import { pieceActions } from '../state/pieceSlice.js';
import { playbackActions } from '../state/playbackSlice.js';
import { recordingActions } from '../state/recordingSlice.js';
import { rollActions } from '../state/rollSlice.js';
import { selectingActions } from '../state/selectingSlice.js';
import { said } from '../state/speechSlice.js';
import { steppingActions } from '../state/steppingSlice.js';
import { switched } from '../state/switched.js';
import { createDesk } from './createDesk.js';
import { openedAs, pageForTests } from './deskForTests.js';
import { giveKeys, setRows, turnSpeaking } from './preferences.js';

const kept = new Map<string, string>();
beforeEach(() => {
  kept.clear();
  vi.stubGlobal('localStorage', {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => void kept.set(key, value),
    removeItem: (key: string) => void kept.delete(key),
  });
});
afterEach(() => vi.unstubAllGlobals());

const demo = demoArrangement();
const [flute = 0, clarinet = 0] = demo.parts.map(({ id }) => id);

/** Work in every corner of an open arrangement. */
const WORK = [
  pieceActions.opened(openedAs(demo)),
  partsShownActions.partBroughtForward(clarinet),
  partsShownActions.partMuteToggled(flute),
  selectingActions.selected(selectionOf(flute, [1, 2])),
  selectingActions.reachTurned(),
  editingActions.gridSet({ value: 1 / 8 }),
  enteringActions.playInOpened(true),
  switched('giveOn'),
  lookingActions.creaseMoved(960),
  layoutActions.toolShown('dealOut'),
  layoutActions.partSought(true),
  playbackActions.loopSet({ start: 0, end: 480 }),
  checksActions.noticed([]),
  steppingActions.picked(selectionOf(flute, [3])),
  lanesActions.laneTurned('velocity'),
  lanesActions.handSet({ tool: 'free' }),
  recordingActions.soundChanged({ kind: 'loading', id: 'r' }),
  keysActions.listOpened('times'),
  settingsUsed({ panel: 'dealOut', settings: { keep: true } }),
  rollActions.viewSet({ left: 5, ticksPerPixel: 2, top: 1, rowHeight: 9, width: 7, height: 7 }),
  said('Something'),
];

describe('two arrangements opened one after the other in one tab', () => {
  it('share nothing', () => {
    const page = pageForTests();
    const fresh = createDesk(page).store.getState();
    const first = createDesk(page);
    const before = first.store.getState();
    for (const action of WORK) first.store.dispatch(action);
    first.desk.clipboard.set({} as never);
    first.desk.again.set(() => undefined);
    first.desk.pointerTick.set(480);
    void first.desk.player.seek(960);
    const untouched = Object.entries(first.store.getState()).filter(
      ([slice, value]) => before[slice as keyof typeof before] === value,
    );
    // What a person keeps for every arrangement, and what the server keeps, is touched by nothing above.
    expect(untouched.map(([slice]) => slice)).toEqual(['soundFont', 'kept']);

    const second = createDesk(page);
    expect(second.store.getState()).toEqual(fresh);
    expect(second.desk.clipboard.get()).toBeNull();
    expect(second.desk.again.get()).toBeNull();
    expect(second.desk.pointerTick.get()).toBeNull();
    expect(second.desk.player.state.get()).toEqual({ playing: false, tick: 0 });
    expect(second.desk.saving).not.toBe(first.desk.saving);
    expect(second.desk.link).not.toBe(first.desk.link);
  });

  it('have the keys, the rows and the speaking that a person chose for all of them', () => {
    const page = pageForTests();
    const { store } = createDesk(page);
    store.dispatch(giveKeys({ undo: ['u'] }));
    store.dispatch(setRows([{ letter: 'a', name: 'Louder twice', commands: ['louder', 'louder'] }]));
    store.dispatch(turnSpeaking());
    const { keys, speech } = createDesk(page).store.getState();
    expect(keys.own).toEqual({ undo: ['u'] });
    expect(keys.rows).toEqual([{ letter: 'a', name: 'Louder twice', commands: ['louder', 'louder'] }]);
    expect(speech.terse).toBe(true);
  });

  it('begin with the ready keys where something else was kept', () => {
    kept.set('crispfold-keys', '{"undo":');
    kept.set('crispfold-own-list', '{}');
    const { keys } = createDesk(pageForTests()).store.getState();
    expect([keys.own, keys.rows]).toEqual([{}, []]);
  });
});
