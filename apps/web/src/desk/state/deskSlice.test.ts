/** Each thing that the Desk is told, and what of its state that changes; all else stays as it is. */
import { demoArrangement, type Edit, EMPTY_HISTORY, type HistoryEntry, selectionOf } from '@crispfold/core';
import { describe, expect, it } from 'vitest';
import { type DeskState, deskActions, deskReducer } from './deskSlice.js';
import { gridTicks, selectPageParts, selectWithin } from './selectors.js';

const demo = demoArrangement();
const ids = demo.parts.map(({ id }) => id);
const [one = 0, two = 0, three = 0] = ids;
const open = { id: 'abc', revision: 0, changedAt: '', arrangement: demo, history: EMPTY_HISTORY };
const opened = deskReducer(deskReducer(undefined, deskActions.opening('abc')), deskActions.opened(open));
type Action = Parameters<typeof deskReducer>[1];
const after = (...actions: Action[]) => actions.reduce(deskReducer, opened);
/** What differs from the Desk as it was opened. */
const changed = (...actions: Action[]): Partial<DeskState> => {
  const state = after(...actions);
  const keys = Object.keys(state) as (keyof DeskState)[];
  return Object.fromEntries(keys.filter((key) => state[key] !== opened[key]).map((key) => [key, state[key]]));
};
const rootOf = (desk: DeskState) => ({ desk }) as unknown as Parameters<typeof gridTicks>[0];

describe('opening', () => {
  it('begins anew, and says why where it failed', () => {
    const state = deskReducer(after(deskActions.partLockToggled(one)), deskActions.opening('other'));
    expect([state.id, state.status, state.arrangement, state.locked]).toEqual(['other', 'loading', null, []]);
    expect(changed(deskActions.openFailed('gone'))).toEqual({ status: 'failed', problem: 'gone' });
  });

  it('is saved, and no change stands refused, once it is there', () => {
    const refused = { label: 'Louder', reason: 'too long' };
    const before = after(deskActions.changeRefused(refused));
    expect([before.refused, before.saveState]).toEqual([refused, 'refused']);
    const state = deskReducer(before, deskActions.opened(open));
    expect([state.status, state.saveState, state.refused]).toEqual(['ready', 'saved', null]);
  });

  it('tells no change before anything is open', () => {
    const nothing = deskReducer(undefined, deskActions.opening('abc'));
    const edit: Edit = { label: 'Nothing', changes: [] };
    expect(deskReducer(nothing, deskActions.entryMade({ kind: 'edit', edit }))).toEqual(nothing);
  });

  it('keeps the state itself where saving goes on as it was', () => {
    expect(after(deskActions.saveStateChanged('saved'))).toBe(opened);
    expect(changed(deskActions.saveStateChanged('waiting'))).toEqual({ saveState: 'waiting' });
    expect(changed(deskActions.changeRefused(null))).toEqual({});
  });
});

describe('parts', () => {
  it('are locked, muted and soloed one by one, and let go again', () => {
    expect(changed(deskActions.partLockToggled(two))).toEqual({ locked: [two] });
    expect(changed(deskActions.partMuteToggled(two), deskActions.partMuteToggled(one))).toEqual({ muted: [two, one] });
    expect(changed(deskActions.partSoloToggled(one), deskActions.partSoloToggled(one))).toEqual({ soloed: [] });
  });

  it('are hidden and shown several at once, none of them twice', () => {
    const hide = deskActions.partsHidden({ ids: [one, two], hidden: true });
    expect(changed(deskActions.partHiddenToggled(two), hide)).toEqual({ hidden: [two, one] });
    expect(after(hide, deskActions.partsHidden({ ids: [one, three], hidden: false })).hidden).toEqual([two]);
  });

  it('are shown alone, and with all the others where they were alone', () => {
    const alone = deskActions.partAloneToggled(two);
    expect(changed(alone)).toEqual({ hidden: ids.filter((id) => id !== two), frontPartId: two });
    expect(after(alone, alone).hidden).toEqual([]);
    // Hidden itself while all others are: it is shown alone.
    const all = deskActions.partsHidden({ ids, hidden: true });
    expect(after(all, alone).hidden).toEqual(ids.filter((id) => id !== two));
    const sole = { ...opened, arrangement: { ...demo, parts: demo.parts.slice(0, 1) } };
    expect(deskReducer(sole, deskActions.partAloneToggled(one)).hidden).toEqual([]);
  });

  it('are reached in turn: the front part, all, the front part', () => {
    expect(changed(deskActions.reachTurned())).toEqual({ reach: 'all' });
    expect(after(deskActions.reachTurned(), deskActions.reachTurned()).reach).toBe('front');
  });

  it('that are no more are passed over where a Desk is found as it was left', () => {
    const left = {
      frontPartId: three,
      hidden: [one, 99],
      locked: [99],
      muted: [two, 99],
      soloed: [99, three],
      lanes: undefined,
    } as unknown as Parameters<typeof deskActions.leftAs>[0];
    expect(changed(deskActions.leftAs(left))).toMatchObject({
      frontPartId: three,
      hidden: [one],
      locked: [],
      muted: [two],
      soloed: [three],
      lanes: [],
    });
    const gone = after(deskActions.leftAs({ ...left, frontPartId: 99, lanes: ['velocity'] }));
    expect([gone.frontPartId, gone.lanes]).toEqual([one, ['velocity']]);
  });

  it('stand on the page in their own order: those shown, or the front part alone', () => {
    const some = after(deskActions.partBroughtForward(two), deskActions.partHiddenToggled(three));
    expect(selectPageParts(rootOf(some))).toEqual(ids.filter((id) => id !== three));
    const alone = deskReducer(some, deskActions.switched('pageOfFrontOnly'));
    expect(selectPageParts(rootOf(alone))).toEqual([two]);
  });
});

describe('entry by letters and playing in', () => {
  const entry = { at: 480 } as NonNullable<DeskState['entry']>;

  it('take turns', () => {
    const playing = after(deskActions.playInOpened(true));
    expect(playing.playIn).toBe(true);
    const entering = deskReducer(playing, deskActions.entrySet(entry));
    expect([entering.playIn, entering.entry]).toEqual([false, entry]);
    expect(deskReducer(playing, deskActions.entrySet(null)).playIn).toBe(true);
    const back = deskReducer(entering, deskActions.playInOpened(true));
    expect([back.playIn, back.entry]).toEqual([true, null]);
    expect(deskReducer(entering, deskActions.playInOpened(false)).entry).toEqual(entry);
  });

  it('keeps where it stood before each step, and forgets that where it ends', () => {
    const next = { at: 960 } as typeof entry;
    const moved = after(
      deskActions.entrySet(entry),
      deskActions.entryMoved({ entry: next, before: entry, edited: true }),
    );
    expect(moved.entry).toBe(next);
    expect(moved.entryPast).toEqual([{ entry, edited: true, position: 0 }]);
    expect(deskReducer(moved, deskActions.entrySet(next)).entryPast).toHaveLength(1);
    expect(deskReducer(moved, deskActions.entrySet(null)).entryPast).toEqual([]);
    const back = deskReducer(moved, deskActions.entryBack());
    expect([back.entry, back.entryPast]).toEqual([entry, []]);
    expect(deskReducer(back, deskActions.entryBack()).entry).toBe(entry);
  });

  it('keeps wishes that are not spoken of', () => {
    const { playInWishes } = after(deskActions.playInWished({ countIn: 2 }));
    expect(playInWishes).toEqual({ countIn: 2, metronome: true, replaces: false });
  });
});

describe('the page and the lanes', () => {
  it('turn one by one', () => {
    expect(changed(deskActions.laneTurned('velocity'))).toEqual({ lanes: ['velocity'] });
    expect(after(deskActions.laneTurned('velocity'), deskActions.laneTurned('velocity')).lanes).toEqual([]);
    expect(changed(deskActions.lanesShown(['a', 'b']))).toEqual({ lanes: ['a', 'b'] });
    expect(changed(deskActions.markLockTurned('tempo'))).toEqual({ marksLocked: ['tempo'] });
    expect(changed(deskActions.pageSetApart(7))).toEqual({ pageApart: 7 });
  });

  it('give a sign until it is put down', () => {
    const wish = { kind: 'tie' } as unknown as NonNullable<DeskState['giving']>;
    expect(changed(deskActions.givingSet(wish))).toEqual({ giving: wish, giveOn: true });
    expect(after(deskActions.givingSet(wish), deskActions.givingSet(null)).giveOn).toBe(false);
    const off = after(deskActions.givingSet(wish), deskActions.switched('giveOn'));
    expect([off.giving, off.giveOn]).toEqual([null, false]);
    const other = after(deskActions.givingSet(wish), deskActions.switched('drawing'));
    expect([other.giving, other.giveOn, other.drawing]).toEqual([wish, true, true]);
  });
});

describe('notes that are seen or reached alone', () => {
  const [a = 0, b = 0] = demo.parts[0]?.notes.map(({ id }) => id) ?? [];

  it('are both where both are', () => {
    const only = after(deskActions.onlyTheseShown(selectionOf(one, [a, b])));
    expect(selectWithin(rootOf(only))).toEqual(selectionOf(one, [a, b]));
    const found = { found: selectionOf(one, [b]), onPage: selectionOf(one, [a, b]) };
    const both = deskReducer(only, deskActions.forwardFound(found));
    expect(selectWithin(rootOf(both))).toEqual(selectionOf(one, [b]));
    expect(selectWithin(rootOf(opened))).toBeNull();
  });

  it('stay as they were where the page says nothing of them', () => {
    const first = after(deskActions.forwardFound({ found: selectionOf(one, [a]), onPage: selectionOf(one, [a, b]) }));
    // The page is made anew without note a: it stays forward; b is said to be, now.
    const again = deskReducer(
      first,
      deskActions.forwardFound({ found: selectionOf(one, [b]), onPage: selectionOf(one, [b]) }),
    );
    expect(again.forwardNotes).toEqual(selectionOf(one, [a, b]));
    const said = deskReducer(
      first,
      deskActions.forwardFound({ found: selectionOf(one, [b]), onPage: selectionOf(one, [a, b]) }),
    );
    expect(said.forwardNotes).toEqual(selectionOf(one, [b]));
    expect(deskReducer(said, deskActions.broughtForward(null)).forwardNotes).toBeNull();
  });
});

describe('the grid', () => {
  it('turns snapping on where it is set, and the page’s own lines off', () => {
    const off = after(deskActions.switched('snapOn'), deskActions.seen({ pageGrid: true }));
    expect([off.snapOn, off.seeing.pageGrid]).toEqual([false, true]);
    const set = deskReducer(off, deskActions.gridSet({ kind: 'triplet' }));
    expect([set.snapOn, set.seeing.pageGrid, set.grid]).toEqual([true, false, { value: 1 / 16, kind: 'triplet' }]);
    expect(set.seeing.strip).toBe(true);
  });

  it('has steps of a sixteenth: a quarter of the ticks of a quarter note', () => {
    expect(gridTicks(rootOf(opened))).toBe(demo.ppq / 4);
    const eighths = after(deskActions.gridSet({ value: 1 / 8 }));
    expect(gridTicks(rootOf(eighths))).toBe(demo.ppq / 2);
    expect(gridTicks(rootOf({ ...eighths, arrangement: null }))).toBe(240);
  });

  it('is left where notes are moved by something else, and drawn notes are as wished', () => {
    expect(changed(deskActions.moveStepChosen('tick'))).toEqual({ moveStep: 'tick' });
    expect(changed(deskActions.snapToChosen('both' as DeskState['snapTo']))).toEqual({ snapTo: 'both' });
    expect(after(deskActions.drawnAs({ velocity: 100 })).drawn).toEqual({ length: null, velocity: 100, fits: true });
  });

  it('goes along where ticks become finer, and nothing else does', () => {
    expect(after(deskActions.ticksScaled(3))).toMatchObject({ loop: null, creaseTick: null, entry: null });
    const at = after(deskActions.creaseMoved(100), deskActions.loopSet({ start: 10, end: 20 }));
    expect(at.loopOn).toBe(true);
    expect(deskReducer(at, deskActions.ticksScaled(3))).toMatchObject({
      loop: { start: 30, end: 60 },
      creaseTick: 300,
    });
    expect(deskReducer(at, deskActions.loopSet(null)).loopOn).toBe(false);
  });
});

describe('what stands beside the roll', () => {
  it('is one thing: settings of a step, a tool, or a panel', () => {
    const shown = after(deskActions.toolShown('part'), deskActions.stepSettingsShown('merge'));
    expect([shown.stepShown, shown.toolShown]).toEqual(['merge', null]);
    const tool = deskReducer(shown, deskActions.toolShown('part'));
    expect([tool.stepShown, tool.toolShown]).toEqual([null, 'part']);
    const panel = deskReducer(tool, deskActions.panelShown('findings'));
    expect([panel.panel, panel.stepShown, panel.toolShown]).toEqual(['findings', null, null]);
  });

  it('is folded out where something is shown in it, and stays folded where settings go', () => {
    const folded = after(deskActions.switched('sideFolded'));
    expect(folded.sideFolded).toBe(true);
    expect(deskReducer(folded, deskActions.stepSettingsShown('merge')).sideFolded).toBe(false);
    expect(deskReducer(folded, deskActions.stepSettingsShown(null)).sideFolded).toBe(true);
    expect(deskReducer(folded, deskActions.panelShown('plan')).sideFolded).toBe(false);
  });

  it('offers a step until its settings are shown', () => {
    const offered = after(deskActions.stepOffered('merge'));
    expect(offered.stepOffered).toBe('merge');
    expect(deskReducer(offered, deskActions.stepSettingsShown('merge')).stepOffered).toBeNull();
  });

  it('keeps what each step was carried out with', () => {
    const used = (step: 'merge' | 'follow', parameters: object) =>
      deskActions.parametersUsed({ step, parameters } as unknown as Parameters<typeof deskActions.parametersUsed>[0]);
    const state = after(used('merge', { a: 1 }), used('follow', { b: 2 }), used('merge', { a: 3 }));
    expect(state.lastParameters).toEqual({ merge: { a: 3 }, follow: { b: 2 } });
  });

  it('goes to the findings where one is chosen, and stays there where none is any more', () => {
    const chosen = after(deskActions.findingChosen({ key: 'k', partId: one }));
    expect([chosen.panel, chosen.chosenFinding]).toEqual(['findings', { key: 'k', partId: one }]);
    expect(changed(deskActions.findingChosen(null))).toEqual({});
    expect(changed(deskActions.findingPartChosen(two))).toEqual({ findingPart: two });
    expect(changed(deskActions.findingKindChosen('doubles'))).toEqual({ findingKind: 'doubles' });
  });

  it('looks at the first of new doubts', () => {
    const doubt = { partId: one, noteId: 1, now: 0, other: 10 } as DeskState['doubts'][number];
    const second = after(deskActions.doubtsFound([doubt, doubt]), deskActions.doubtChosen(1));
    expect(second.doubtAt).toBe(1);
    expect(deskReducer(second, deskActions.doubtsFound([doubt])).doubtAt).toBe(0);
  });
});

describe('the history', () => {
  it('takes entries that lie before those at hand, and Edits of those known by name', () => {
    const short = { ...opened, history: { ...EMPTY_HISTORY, skipped: 2, position: 2 } };
    const older: HistoryEntry[] = [1, 2].map((count) => ({ label: `${count}` }) as HistoryEntry);
    const state = deskReducer(short, deskActions.olderEntriesArrived(older));
    expect(state.history.skipped).toBe(0);
    expect(state.history.entries.map(({ label }) => label)).toEqual(['1', '2']);
    const edit: Edit = { label: '2', changes: [] };
    const known = deskReducer(state, deskActions.editsArrived({ from: 1, edits: [edit] }));
    expect(known.history.entries.map((entry) => 'edit' in entry && entry.edit !== undefined)).toEqual([false, true]);
  });
});
