import {
  demoArrangement,
  EMPTY_HISTORY,
  type Finding,
  findingsOf,
  type Part,
  runPlan,
  selectionOf,
  writtenMaps,
} from '@crispfold/core';
import { configureStore } from '@reduxjs/toolkit';
import { beforeEach, describe, expect, it } from 'vitest';
import { deskActions, deskReducer } from '../state/deskSlice.js';
import { allFindings, chosenFinding, listed, neighbour, ofSameKind, openByPart } from '../state/findings.js';
import { rollReducer } from '../state/rollSlice.js';
import { chooseFinding, dismiss, mend } from './findingList.js';

const demo = demoArrangement();
const maps = writtenMaps(demo);
const found = demo.parts.flatMap((part) => findingsOf(demo, part, runPlan(part, demo.ppq, maps)));

const open = () => {
  const store = configureStore({
    reducer: { desk: deskReducer, roll: rollReducer },
    middleware: (getDefault) => getDefault({ serializableCheck: false, immutableCheck: false }),
  });
  store.dispatch(
    deskActions.opened({
      id: 'a',
      revision: 0,
      changedAt: '',
      arrangement: demo,
      history: EMPTY_HISTORY,
    }),
  );
  return store;
};
let store: ReturnType<typeof open>;
beforeEach(() => {
  store = open();
  allFindings.set(found);
});
const state = () => store.getState();
const part = (id: number): Part => state().desk.arrangement?.parts.find((p) => p.id === id) as Part;
const first = () => neighbour(state(), 1) as Finding;

describe('the list', () => {
  it('holds all, or those of a part and a kind', () => {
    expect(listed(state())).toHaveLength(found.length);
    store.dispatch(deskActions.findingPartChosen(1));
    expect(new Set(listed(state()).map((f) => f.partId))).toEqual(new Set([1]));
    store.dispatch(deskActions.findingKindChosen('specks'));
    expect(new Set(listed(state()).map((f) => f.kind))).toEqual(new Set(['specks']));
  });

  it('goes round in order of time, both ways', () => {
    const seen: number[] = [];
    for (let turn = 0; turn < found.length; turn += 1) {
      const next = first();
      seen.push(next.tick);
      store.dispatch(chooseFinding(next));
    }
    expect(seen).toEqual([...seen].sort((a, b) => a - b));
    expect(first().tick).toBe(seen[0]);
    const back = neighbour(state(), -1);
    expect(back?.tick).toBe(seen[seen.length - 2]);
  });
});

describe('how many are open', () => {
  it('is counted by part, without those dismissed, for each part its own', () => {
    const findingOf = (partId: number, key: string) => ({ ...(found[0] as Finding), partId, key });
    const all = [findingOf(1, 'a'), findingOf(1, 'b'), findingOf(2, 'a'), findingOf(3, 'a')];
    const partOf = (id: number, dismissed?: readonly string[]) => ({ ...part(1), id, dismissed });
    expect([...openByPart(all, [partOf(1), partOf(2)])]).toEqual([
      [1, 2],
      [2, 1],
    ]);
    // The same list again, some of it dismissed since.
    expect([...openByPart(all, [partOf(1, ['a']), partOf(2, ['a']), partOf(3, ['b'])])]).toEqual([
      [1, 1],
      [3, 1],
    ]);
  });
});

describe('a chosen finding', () => {
  it('brings its part to the front, selects its notes and opens the panel', () => {
    const finding = found.find((f) => f.partId === 3) as Finding;
    store.dispatch(chooseFinding(finding));
    expect(state().desk).toMatchObject({ frontPartId: 3, panel: 'findings' });
    expect(state().desk.selection).toEqual(selectionOf(3, finding.noteIds));
    expect(chosenFinding(state())).toBe(finding);
  });

  it('is told from one with the same key in another part', () => {
    const twin = { ...(found[0] as Finding), partId: 4 };
    allFindings.set([...found, twin]);
    store.dispatch(chooseFinding(twin));
    expect(chosenFinding(state())).toBe(twin);
  });
});

describe('mending and dismissing', () => {
  const speck = () => found.find((f) => f.kind === 'specks') as Finding;

  it('mends one, in one named entry, and goes on to the next', () => {
    const finding = speck();
    store.dispatch(chooseFinding(finding));
    const next = first();
    store.dispatch(mend([finding]));
    const { history, chosenFinding: now } = state().desk;
    expect(history.entries.map((entry) => entry.label)).toEqual([expect.stringMatching(/^Drop it: Specks in /)]);
    expect(part(finding.partId).notes.some((n) => finding.noteIds.includes(n.id))).toBe(false);
    expect(now).toEqual({ key: next.key, partId: next.partId });
  });

  it('mends all of a kind in all parts at once', () => {
    store.dispatch(chooseFinding(speck()));
    const all = ofSameKind(state());
    expect(all.length).toBeGreaterThan(5);
    store.dispatch(mend(all));
    expect(state().desk.history.entries).toHaveLength(1);
    const left = new Set(state().desk.arrangement?.parts.flatMap((p) => p.notes.map((n) => n.id)));
    expect(all.flatMap((f) => f.noteIds).filter((id) => left.has(id))).toEqual([]);
  });

  it('mends nothing in a locked part, and the rest of a kind', () => {
    const specks = found.filter(({ kind }) => kind === 'specks');
    const [one] = specks as [Finding];
    const before = part(one.partId).notes.length;
    store.dispatch(deskActions.partLockToggled(one.partId));
    store.dispatch(mend([one]));
    expect(state().desk.history.entries).toEqual([]);
    store.dispatch(mend(specks));
    expect(part(one.partId).notes.length).toBe(before);
    expect(state().desk.history.entries).toHaveLength(1);
  });

  it('dismisses for good, and an undo brings it back', () => {
    const finding = speck();
    store.dispatch(chooseFinding(finding));
    store.dispatch(dismiss([finding], finding.reason));
    expect(part(finding.partId).dismissed).toEqual([finding.key]);
    expect(listed(state()).includes(finding)).toBe(false);
    store.dispatch(deskActions.entryMade({ kind: 'goTo', position: 0 }));
    expect(listed(state()).includes(finding)).toBe(true);
  });

  it('does nothing where there is nothing to mend', () => {
    store.dispatch(mend([{ ...speck(), mend: null }]));
    expect(state().desk.history.entries).toEqual([]);
  });
});
