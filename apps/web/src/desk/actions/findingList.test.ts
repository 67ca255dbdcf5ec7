import {
  demoArrangement,
  type Finding,
  findingsOf,
  type Part,
  runPlan,
  selectionOf,
  writtenMaps,
} from '@crispfold/core';
import { beforeEach, describe, expect, it } from 'vitest';
import type { DeskStore } from '../session/createDesk.js';
import { deskForTests } from '../session/deskForTests.js';
import { undo } from '../session/saving.js';
import { checksActions } from '../state/checksSlice.js';
import { chosenFinding, listed, neighbour, ofSameKind, openByPart } from '../state/findings.js';
import { partsShownActions } from '../state/partsShownSlice.js';
import { chooseFinding, dismiss, mend } from './findingList.js';

const demo = demoArrangement();
const maps = writtenMaps(demo);
const found = demo.parts.flatMap((part) => findingsOf(demo, part, runPlan(part, demo.ppq, maps)));

let store: DeskStore;
beforeEach(() => {
  ({ store } = deskForTests(demo));
  store.dispatch(checksActions.noticed(found));
});
const state = () => store.getState();
const part = (id: number): Part => state().piece.arrangement?.parts.find((p) => p.id === id) as Part;
const first = () => neighbour(state(), 1) as Finding;

describe('the list', () => {
  it('holds all, or those of a part and a kind', () => {
    expect(listed(state())).toHaveLength(found.length);
    store.dispatch(checksActions.findingPartChosen(1));
    expect(new Set(listed(state()).map((f) => f.partId))).toEqual(new Set([1]));
    store.dispatch(checksActions.findingKindChosen('specks'));
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
    expect([state().partsShown.frontPartId, state().layout.panel]).toEqual([3, 'findings']);
    expect(state().selecting.selection).toEqual(selectionOf(3, finding.noteIds));
    expect(chosenFinding(state())).toBe(finding);
  });

  it('is told from one with the same key in another part', () => {
    const twin = { ...(found[0] as Finding), partId: 4 };
    store.dispatch(checksActions.noticed([...found, twin]));
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
    const {
      piece: { history },
      checks: { chosenFinding: now },
    } = state();
    expect(history.entries.map((entry) => entry.label)).toEqual([expect.stringMatching(/^Drop it: Specks in /)]);
    expect(part(finding.partId).notes.some((n) => finding.noteIds.includes(n.id))).toBe(false);
    expect(now).toEqual({ key: next.key, partId: next.partId });
  });

  it('mends all of a kind in all parts at once', () => {
    store.dispatch(chooseFinding(speck()));
    const all = ofSameKind(state());
    expect(all.length).toBeGreaterThan(5);
    store.dispatch(mend(all));
    expect(state().piece.history.entries).toHaveLength(1);
    const left = new Set(state().piece.arrangement?.parts.flatMap((p) => p.notes.map((n) => n.id)));
    expect(all.flatMap((f) => f.noteIds).filter((id) => left.has(id))).toEqual([]);
  });

  it('mends nothing in a locked part, and the rest of a kind', () => {
    const specks = found.filter(({ kind }) => kind === 'specks');
    const [one] = specks as [Finding];
    const before = part(one.partId).notes.length;
    store.dispatch(partsShownActions.partLockToggled(one.partId));
    store.dispatch(mend([one]));
    expect(state().piece.history.entries).toEqual([]);
    store.dispatch(mend(specks));
    expect(part(one.partId).notes.length).toBe(before);
    expect(state().piece.history.entries).toHaveLength(1);
  });

  it('dismisses for good, and an undo brings it back', () => {
    const finding = speck();
    store.dispatch(chooseFinding(finding));
    store.dispatch(dismiss([finding], finding.reason));
    expect(part(finding.partId).dismissed).toEqual([finding.key]);
    expect(listed(state()).includes(finding)).toBe(false);
    store.dispatch(undo());
    expect(listed(state()).includes(finding)).toBe(true);
  });

  it('does nothing where there is nothing to mend', () => {
    store.dispatch(mend([{ ...speck(), mend: null }]));
    expect(state().piece.history.entries).toEqual([]);
  });
});
