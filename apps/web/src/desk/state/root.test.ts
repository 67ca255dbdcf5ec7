/** Each thing that the Desk is told, and what of its state that changes; all else stays as it is. */

import {
  type Doubt,
  demoArrangement,
  type Edit,
  EMPTY_HISTORY,
  type Entry,
  type HistoryEntry,
  type JournalEntry,
  type PageWish,
  selectionOf,
} from '@crispfold/core';
import { describe, expect, it } from 'vitest';
import { checksActions } from './checksSlice.js';
import { correctingActions } from './correctingSlice.js';
import { editingActions } from './editingSlice.js';
import { enteringActions } from './enteringSlice.js';
import type { ForwardFound } from './forward.js';
import { lanesActions } from './lanesSlice.js';
import { layoutActions } from './layoutSlice.js';
import { lookingActions } from './lookingSlice.js';
import { partsShownActions } from './partsShownSlice.js';
import { type CarriedOut, carriedOut, pieceActions } from './pieceSlice.js';
import { playbackActions } from './playbackSlice.js';
import { deskReducer, type RootState } from './root.js';
import { savingActions } from './savingSlice.js';
import { selectingActions } from './selectingSlice.js';
import { gridTicks, selectPageParts, selectWithin } from './selectors.js';
import { steppingActions } from './steppingSlice.js';
import { switched } from './switched.js';

const demo = demoArrangement();
const ids = demo.parts.map(({ id }) => id);
const [one = 0, two = 0, three = 0] = ids;
const open = { id: 'abc', revision: 0, changedAt: '', arrangement: demo, history: EMPTY_HISTORY };
const opened = deskReducer(deskReducer(undefined, pieceActions.opening('abc')), pieceActions.opened(open));
type Action = Parameters<typeof deskReducer>[1];
const after = (...actions: Action[]) => actions.reduce(deskReducer, opened);
/** All that the state has, whatever slice it is of. */
const flat = (state: RootState) => Object.assign({}, ...Object.values(state)) as Record<string, unknown>;
/** Carries an entry of the journal out. */
const _made = (state: RootState, entry: JournalEntry): RootState =>
  deskReducer(state, pieceActions.entryMade(carriedOut(state.piece, entry) as CarriedOut));
/** What the page says is forward. */
const forwardFound = (state: RootState, found: ForwardFound): RootState =>
  deskReducer(state, selectingActions.forwardFound({ ...found, parts: state.piece.arrangement?.parts ?? [] }));
/** What differs from the Desk as it was opened. */
const changed = (...actions: Action[]): Record<string, unknown> => {
  const [now, then] = [flat(after(...actions)), flat(opened)];
  return Object.fromEntries(Object.entries(now).filter(([key, value]) => then[key] !== value));
};

describe('opening', () => {
  it('begins anew, and says why where it failed', () => {
    const state = deskReducer(after(partsShownActions.partLockToggled(one)), pieceActions.opening('other'));
    expect([state.piece.id, state.piece.status, state.piece.arrangement]).toEqual(['other', 'loading', null]);
    expect(changed(pieceActions.openFailed('gone'))).toEqual({ status: 'failed', problem: 'gone' });
  });

  it('is saved, and no change stands refused, once it is there', () => {
    const refused = { label: 'Louder', reason: 'too long' };
    const before = after(savingActions.changeRefused(refused));
    expect([before.saving.refused, before.saving.saveState]).toEqual([refused, 'refused']);
    const state = deskReducer(before, pieceActions.opened(open));
    expect([state.piece.status, state.saving.saveState, state.saving.refused]).toEqual(['ready', 'saved', null]);
  });

  it('tells no change before anything is open', () => {
    const nothing = deskReducer(undefined, pieceActions.opening('abc'));
    const edit: Edit = { label: 'Nothing', changes: [] };
    expect(carriedOut(nothing.piece, { kind: 'edit', edit })).toBeNull();
  });

  it('keeps the state itself where saving goes on as it was', () => {
    expect(after(savingActions.saveStateChanged('saved'))).toBe(opened);
    expect(changed(savingActions.saveStateChanged('waiting'))).toEqual({ saveState: 'waiting' });
    expect(changed(savingActions.changeRefused(null))).toEqual({});
  });
});

describe('parts', () => {
  it('are locked, muted and soloed one by one, and let go again', () => {
    expect(changed(partsShownActions.partLockToggled(two))).toEqual({ locked: [two] });
    expect(changed(partsShownActions.partMuteToggled(two), partsShownActions.partMuteToggled(one))).toEqual({
      muted: [two, one],
    });
    expect(changed(partsShownActions.partSoloToggled(one), partsShownActions.partSoloToggled(one))).toEqual({
      soloed: [],
    });
  });

  it('are hidden and shown several at once, none of them twice', () => {
    const hide = partsShownActions.partsHidden({ ids: [one, two], hidden: true });
    expect(changed(partsShownActions.partHiddenToggled(two), hide)).toEqual({ hidden: [two, one] });
    expect(after(hide, partsShownActions.partsHidden({ ids: [one, three], hidden: false })).partsShown.hidden).toEqual([
      two,
    ]);
  });

  it('are shown alone, and with all the others where they were alone', () => {
    const alone = partsShownActions.partAloneToggled({ id: two, all: ids });
    expect(changed(alone)).toEqual({ hidden: ids.filter((id) => id !== two), frontPartId: two });
    expect(after(alone, alone).partsShown.hidden).toEqual([]);
    // Hidden itself while all others are: it is shown alone.
    const all = partsShownActions.partsHidden({ ids, hidden: true });
    expect(after(all, alone).partsShown.hidden).toEqual(ids.filter((id) => id !== two));
    expect(after(partsShownActions.partAloneToggled({ id: one, all: [one] })).partsShown.hidden).toEqual([]);
  });

  it('are reached in turn: the front part, all, the front part', () => {
    expect(changed(selectingActions.reachTurned())).toEqual({ reach: 'all' });
    expect(after(selectingActions.reachTurned(), selectingActions.reachTurned()).selecting.reach).toBe('front');
  });

  it('stand on the page in their own order: those shown, or the front part alone', () => {
    const some = after(partsShownActions.partBroughtForward(two), partsShownActions.partHiddenToggled(three));
    expect(selectPageParts(some)).toEqual(ids.filter((id) => id !== three));
    const alone = deskReducer(some, switched('pageOfFrontOnly'));
    expect(selectPageParts(alone)).toEqual([two]);
  });
});

describe('entry by letters and playing in', () => {
  const entry = { at: 480 } as Entry;

  it('take turns', () => {
    const playing = after(enteringActions.playInOpened(true));
    expect(playing.entering.playIn).toBe(true);
    const entering = deskReducer(playing, enteringActions.entrySet(entry));
    expect([entering.entering.playIn, entering.entering.entry]).toEqual([false, entry]);
    expect(deskReducer(playing, enteringActions.entrySet(null)).entering.playIn).toBe(true);
    const back = deskReducer(entering, enteringActions.playInOpened(true));
    expect([back.entering.playIn, back.entering.entry]).toEqual([true, null]);
    expect(deskReducer(entering, enteringActions.playInOpened(false)).entering.entry).toEqual(entry);
  });

  it('keeps where it stood before each step, and forgets that where it ends', () => {
    const next = { at: 960 } as typeof entry;
    const moved = after(
      enteringActions.entrySet(entry),
      enteringActions.entryMoved({ entry: next, before: entry, edited: true, position: 0 }),
    );
    expect(moved.entering.entry).toBe(next);
    expect(moved.entering.entryPast).toEqual([{ entry, edited: true, position: 0 }]);
    expect(deskReducer(moved, enteringActions.entrySet(next)).entering.entryPast).toHaveLength(1);
    expect(deskReducer(moved, enteringActions.entrySet(null)).entering.entryPast).toEqual([]);
    const back = deskReducer(moved, enteringActions.entryBack());
    expect([back.entering.entry, back.entering.entryPast]).toEqual([entry, []]);
    expect(deskReducer(back, enteringActions.entryBack()).entering.entry).toBe(entry);
  });

  it('keeps wishes that are not spoken of', () => {
    const { playInWishes } = after(enteringActions.playInWished({ countIn: 2 })).entering;
    expect(playInWishes).toEqual({ countIn: 2, metronome: true, replaces: false });
  });
});

describe('the page and the lanes', () => {
  it('turn one by one', () => {
    expect(changed(lanesActions.laneTurned('velocity'))).toEqual({ lanes: ['velocity'] });
    expect(after(lanesActions.laneTurned('velocity'), lanesActions.laneTurned('velocity')).lanes.lanes).toEqual([]);
    expect(changed(lanesActions.lanesShown(['a', 'b']))).toEqual({ lanes: ['a', 'b'] });
    expect(changed(correctingActions.markLockTurned('tempo'))).toEqual({ marksLocked: ['tempo'] });
    expect(changed(layoutActions.pageSetApart(7))).toEqual({ pageApart: 7 });
  });

  it('give a sign until it is put down', () => {
    const wish = { kind: 'tie' } as unknown as PageWish;
    expect(changed(correctingActions.givingSet(wish))).toEqual({ giving: wish, giveOn: true });
    expect(after(correctingActions.givingSet(wish), correctingActions.givingSet(null)).correcting.giveOn).toBe(false);
    const off = after(correctingActions.givingSet(wish), switched('giveOn'));
    expect([off.correcting.giving, off.correcting.giveOn]).toEqual([null, false]);
    const other = after(correctingActions.givingSet(wish), switched('drawing'));
    expect([other.correcting.giving, other.correcting.giveOn, other.editing.drawing]).toEqual([wish, true, true]);
  });
});

describe('notes that are seen or reached alone', () => {
  const [a = 0, b = 0] = demo.parts[0]?.notes.map(({ id }) => id) ?? [];

  it('are both where both are', () => {
    const only = after(selectingActions.onlyTheseShown(selectionOf(one, [a, b])));
    expect(selectWithin(only)).toEqual(selectionOf(one, [a, b]));
    const found = { found: selectionOf(one, [b]), onPage: selectionOf(one, [a, b]) };
    const both = forwardFound(only, found);
    expect(selectWithin(both)).toEqual(selectionOf(one, [b]));
    expect(selectWithin(opened)).toBeNull();
  });

  it('stay as they were where the page says nothing of them', () => {
    const first = forwardFound(opened, { found: selectionOf(one, [a]), onPage: selectionOf(one, [a, b]) });
    // The page is made anew without note a: it stays forward; b is said to be, now.
    const again = forwardFound(first, { found: selectionOf(one, [b]), onPage: selectionOf(one, [b]) });
    expect(again.selecting.forwardNotes).toEqual(selectionOf(one, [a, b]));
    const said = forwardFound(first, { found: selectionOf(one, [b]), onPage: selectionOf(one, [a, b]) });
    expect(said.selecting.forwardNotes).toEqual(selectionOf(one, [b]));
    expect(deskReducer(said, selectingActions.broughtForward(null)).selecting.forwardNotes).toBeNull();
  });
});

describe('the grid', () => {
  it('turns snapping on where it is set, and the page’s own lines off', () => {
    const off = after(switched('snapOn'), lookingActions.seen({ pageGrid: true }));
    expect([off.editing.snapOn, off.looking.seeing.pageGrid]).toEqual([false, true]);
    const set = deskReducer(off, editingActions.gridSet({ kind: 'triplet' }));
    expect([set.editing.snapOn, set.looking.seeing.pageGrid, set.editing.grid]).toEqual([
      true,
      false,
      { value: 1 / 16, kind: 'triplet' },
    ]);
    expect(set.looking.seeing.strip).toBe(true);
  });

  it('has steps of a sixteenth: a quarter of the ticks of a quarter note', () => {
    expect(gridTicks(opened)).toBe(demo.ppq / 4);
    const eighths = after(editingActions.gridSet({ value: 1 / 8 }));
    expect(gridTicks(eighths)).toBe(demo.ppq / 2);
    expect(gridTicks({ ...eighths, piece: { ...eighths.piece, arrangement: null } })).toBe(240);
  });

  it('is left where notes are moved by something else, and drawn notes are as wished', () => {
    expect(changed(editingActions.moveStepChosen('tick'))).toEqual({ moveStep: 'tick' });
    expect(changed(editingActions.snapToChosen('both'))).toEqual({ snapTo: 'both' });
    expect(after(editingActions.drawnAs({ velocity: 100 })).editing.drawn).toEqual({
      length: null,
      velocity: 100,
      fits: true,
    });
  });

  it('goes along where ticks become finer, and nothing else does', () => {
    expect(flat(after(pieceActions.ticksScaled(3)))).toMatchObject({ loop: null, creaseTick: null, entry: null });
    const at = after(lookingActions.creaseMoved(100), playbackActions.loopSet({ start: 10, end: 20 }));
    expect(at.playback.loopOn).toBe(true);
    expect(flat(deskReducer(at, pieceActions.ticksScaled(3)))).toMatchObject({
      loop: { start: 30, end: 60 },
      creaseTick: 300,
    });
    expect(deskReducer(at, playbackActions.loopSet(null)).playback.loopOn).toBe(false);
  });
});

describe('what stands beside the roll', () => {
  it('is one thing: settings of a step, a tool, or a panel', () => {
    const shown = after(layoutActions.toolShown('part'), layoutActions.stepSettingsShown('merge'));
    expect([shown.layout.stepShown, shown.layout.toolShown]).toEqual(['merge', null]);
    const tool = deskReducer(shown, layoutActions.toolShown('part'));
    expect([tool.layout.stepShown, tool.layout.toolShown]).toEqual([null, 'part']);
    const panel = deskReducer(tool, layoutActions.panelShown('findings'));
    expect([panel.layout.panel, panel.layout.stepShown, panel.layout.toolShown]).toEqual(['findings', null, null]);
  });

  it('is folded out where something is shown in it, and stays folded where settings go', () => {
    const folded = after(switched('sideFolded'));
    expect(folded.layout.sideFolded).toBe(true);
    expect(deskReducer(folded, layoutActions.stepSettingsShown('merge')).layout.sideFolded).toBe(false);
    expect(deskReducer(folded, layoutActions.stepSettingsShown(null)).layout.sideFolded).toBe(true);
    expect(deskReducer(folded, layoutActions.panelShown('plan')).layout.sideFolded).toBe(false);
  });

  it('offers a step until its settings are shown', () => {
    const offered = after(layoutActions.stepOffered('merge'));
    expect(offered.layout.stepOffered).toBe('merge');
    expect(deskReducer(offered, layoutActions.stepSettingsShown('merge')).layout.stepOffered).toBeNull();
  });

  it('keeps what each step was carried out with', () => {
    const used = (step: 'merge' | 'follow', parameters: object) =>
      steppingActions.parametersUsed({ step, parameters } as unknown as Parameters<
        typeof steppingActions.parametersUsed
      >[0]);
    const state = after(used('merge', { a: 1 }), used('follow', { b: 2 }), used('merge', { a: 3 }));
    expect(state.stepping.lastParameters).toEqual({ merge: { a: 3 }, follow: { b: 2 } });
  });

  it('goes to the findings where one is chosen, and stays there where none is any more', () => {
    const chosen = after(checksActions.findingChosen({ key: 'k', partId: one }));
    expect([chosen.layout.panel, chosen.checks.chosenFinding]).toEqual(['findings', { key: 'k', partId: one }]);
    expect(changed(checksActions.findingChosen(null))).toEqual({});
    expect(changed(checksActions.findingPartChosen(two))).toEqual({ findingPart: two });
    expect(changed(checksActions.findingKindChosen('doubles'))).toEqual({ findingKind: 'doubles' });
  });

  it('looks at the first of new doubts', () => {
    const doubt = { partId: one, noteId: 1, now: 0, other: 10 } as Doubt;
    const second = after(steppingActions.doubtsFound([doubt, doubt]), steppingActions.doubtChosen(1));
    expect(second.stepping.doubtAt).toBe(1);
    expect(deskReducer(second, steppingActions.doubtsFound([doubt])).stepping.doubtAt).toBe(0);
  });
});

describe('the history', () => {
  it('takes entries that lie before those at hand, and Edits of those known by name', () => {
    const short = { ...opened, piece: { ...opened.piece, history: { ...EMPTY_HISTORY, skipped: 2, position: 2 } } };
    const older: HistoryEntry[] = [1, 2].map((count) => ({ label: `${count}` }) as HistoryEntry);
    const state = deskReducer(short, pieceActions.olderEntriesArrived(older));
    expect(state.piece.history.skipped).toBe(0);
    expect(state.piece.history.entries.map(({ label }) => label)).toEqual(['1', '2']);
    const edit: Edit = { label: '2', changes: [] };
    const known = deskReducer(state, pieceActions.editsArrived({ from: 1, edits: [edit] }));
    expect(known.piece.history.entries.map((entry) => 'edit' in entry && entry.edit !== undefined)).toEqual([
      false,
      true,
    ]);
  });
});
