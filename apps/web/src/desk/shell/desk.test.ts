import { readFileSync } from 'node:fs';
import {
  changePercussionMap,
  createMeterMap,
  deleteNotes,
  demoArrangement,
  drawNote,
  type Edit,
  EMPTY_HISTORY,
  type Entry,
  historyEntry,
  type JournalEntry,
  lengthInWords,
  muteNotes,
  type Note,
  type Part,
  type Selection,
  selectionOf,
  ticks,
} from '@crispfold/core';
import { describe, expect, it } from 'vitest';
import { clock, counted, sinceWhen } from '../../ui/words.js';
import { type Command, type CommandContext, carryOut } from '../actions/commands/command.js';
import { rankOf } from '../actions/commands/rank.js';
import { partLook } from '../controls/partLook.js';
import { deskForTests } from '../session/deskForTests.js';
import { checksActions } from '../state/checksSlice.js';
import { editingActions, gridFraction } from '../state/editingSlice.js';
import { enteringActions } from '../state/enteringSlice.js';
import type { ForwardFound } from '../state/forward.js';
import { type CommandId, KEYS, keyName, LISTS, type ListId } from '../state/keyTable.js';
import { layoutActions } from '../state/layoutSlice.js';
import { lookingActions } from '../state/lookingSlice.js';
import { inList } from '../state/ownKeys.js';
import { partsShownActions } from '../state/partsShownSlice.js';
import { type CarriedOut, carriedOut, pieceActions } from '../state/pieceSlice.js';
import { playbackActions } from '../state/playbackSlice.js';
import { selectRows } from '../state/rollSelectors.js';
import { deskReducer, type RootState } from '../state/root.js';
import { savingActions } from '../state/savingSlice.js';
import { selectingActions } from '../state/selectingSlice.js';
import {
  audibleParts,
  selectDoubts,
  selectEditable,
  selectedOnView,
  selectFirstSelected,
  selectReached,
  selectShownParts,
} from '../state/selectors.js';
import { noteInWords } from '../state/speak.js';
import { steppingActions } from '../state/steppingSlice.js';
import { switched } from '../state/switched.js';

import { keyGuide } from './keyGuide.js';
import { COMMANDS } from './registry.js';

const demo = demoArrangement();
const opened = deskReducer(
  deskReducer(undefined, pieceActions.opening('abc')),
  pieceActions.opened({
    id: 'abc',
    revision: 0,
    changedAt: '',
    arrangement: demo,
    history: EMPTY_HISTORY,
  }),
);
const after = (...actions: Parameters<typeof deskReducer>[1][]) => actions.reduce(deskReducer, opened);

/** All that the state has, whatever slice it is of. */
const flat = (state: RootState) => Object.assign({}, ...Object.values(state)) as Record<string, unknown>;
/** Carries an entry of the journal out. */
const made = (state: RootState, entry: JournalEntry): RootState =>
  deskReducer(state, pieceActions.entryMade(carriedOut(state.piece, entry) as CarriedOut));
/** What the page says is forward. */
const forwardFound = (state: RootState, found: ForwardFound): RootState =>
  deskReducer(state, selectingActions.forwardFound({ ...found, parts: state.piece.arrangement?.parts ?? [] }));
const ids = demo.parts.map(({ id }) => id);

describe('the Desk’s state', () => {
  it('has the places that it keeps go along when ticks become finer', () => {
    const entry = { at: 480 } as Entry;
    const start = after(
      playbackActions.loopSet({ start: 96, end: 192 }),
      lookingActions.creaseMoved(240),
      enteringActions.entrySet(entry),
    );
    const {
      loop,
      creaseTick,
      entry: moved,
    } = flat(deskReducer(start, pieceActions.ticksScaled(4))) as { loop: unknown; creaseTick: unknown; entry: Entry };
    expect([loop, creaseTick, moved?.at]).toEqual([{ start: 384, end: 768 }, 960, 1920]);
    expect(flat(deskReducer(opened, pieceActions.ticksScaled(4)))).toMatchObject({ loop: null, entry: null });
  });

  it('puts the first part in front', () => {
    expect(opened.partsShown.frontPartId).toBe(1);
  });

  it('keeps the selection when another part comes forward, and shows that part', () => {
    const selection = selectionOf(1, [5, 6]);
    const state = after(
      selectingActions.selected(selection),
      partsShownActions.partHiddenToggled(2),
      partsShownActions.partBroughtForward(2),
    );
    expect(flat(state)).toMatchObject({ frontPartId: 2, hidden: [] });
    expect(state.selecting.selection).toEqual(selection);
    expect(deskReducer(state, partsShownActions.partAloneToggled({ id: 3, all: ids })).selecting.selection).toEqual(
      selection,
    );
  });

  it('lets notes that an Edit takes out leave the selection, in any part', () => {
    const [flute, clarinet] = demo.parts.map((part) => part.notes.slice(0, 2).map((note) => note.id));
    const both = new Map([
      [1, new Set(flute)],
      [2, new Set(clarinet)],
    ]);
    const edit = deleteNotes(demo, selectionOf(2, [clarinet?.[0] ?? 0])) as Edit;
    const state = made(after(selectingActions.selected(both)), { kind: 'edit', edit });
    expect(state.selecting.selection.get(1)).toEqual(new Set(flute));
    expect(state.selecting.selection.get(2)).toEqual(new Set([clarinet?.[1]]));
    const undone = made(state, { kind: 'goTo', position: 0 });
    expect(undone.selecting.selection.get(2)).toEqual(new Set([clarinet?.[1]]));
  });

  it('takes older entries of the history in before those at hand', () => {
    const later = historyEntry({ label: 'later', changes: [] });
    const state = [pieceActions.olderEntriesArrived([historyEntry({ label: 'earlier', changes: [] })])].reduce(
      deskReducer,
      {
        ...opened,
        piece: { ...opened.piece, history: { entries: [later], position: 2, skipped: 1 } },
      },
    );
    expect(state.piece.history).toMatchObject({
      skipped: 0,
      position: 2,
      entries: [{ label: 'earlier' }, { label: 'later' }],
    });
  });

  it('shows one part alone, then all again', () => {
    const alone = after(partsShownActions.partAloneToggled({ id: 3, all: ids }));
    expect(flat(alone)).toMatchObject({ hidden: [1, 2, 4, 5, 6], frontPartId: 3 });
    expect(deskReducer(alone, partsShownActions.partAloneToggled({ id: 3, all: ids })).partsShown.hidden).toEqual([]);
  });

  it('forgets what an undo takes away', () => {
    const part = { ...demo.parts[0], id: 7, name: 'New' } as (typeof demo.parts)[number];
    const added = deskReducer(
      made(opened, { kind: 'edit', edit: { label: 'Add', changes: [{ kind: 'partAdded', index: 6, part }] } }),
      partsShownActions.partBroughtForward(7),
    );
    expect(added.partsShown.frontPartId).toBe(7);
    expect(made(added, { kind: 'goTo', position: 0 }).partsShown.frontPartId).toBe(1);
  });

  it('keeps the snapping value within its list, and turns snapping on', () => {
    const finest = Array.from({ length: 20 }).reduce<ReturnType<typeof deskReducer>>(
      (state) => deskReducer(state, editingActions.snapStepped(1)),
      after(switched('snapOn')),
    );
    expect(flat(finest)).toMatchObject({ grid: { value: 1 / 64 }, snapOn: true });
    const dotted = after(editingActions.gridSet({ value: 1 / 8, kind: 'dotted' }));
    expect(gridFraction(dotted.editing.grid)).toBe(3 / 16);
    expect(gridFraction(deskReducer(dotted, editingActions.gridSet({ kind: 'triplet' })).editing.grid)).toBeCloseTo(
      1 / 12,
    );
  });

  it('hears soloed parts, never muted ones', () => {
    expect(audibleParts({ muted: [2], soloed: [] }, demo.parts)).toEqual([1, 3, 4, 5, 6]);
    expect(audibleParts({ muted: [2], soloed: [2, 3] }, demo.parts)).toEqual([3]);
  });
});

describe('what is shown and edited', () => {
  it('walks through the starts in doubt that still stand on one of their two lines', () => {
    const [first, second] = (demo.parts[0] as Part).notes as [Note, Note];
    const doubt = (note: Note, now: number, other: number) => ({ partId: 1, noteId: note.id, now, other });
    const found = (...doubts: ReturnType<typeof doubt>[]) => selectDoubts(after(steppingActions.doubtsFound(doubts)));
    expect(found()).toEqual([]);
    const here = doubt(first, first.onset, first.onset + 120);
    const there = doubt(second, second.onset + 120, second.onset);
    expect(found(here, there)).toEqual([here, doubt(second, second.onset, second.onset + 120)]);
    // One that was moved elsewhere, or is gone, is in doubt no more.
    expect(found(doubt(first, first.onset + 7, first.onset + 9), { ...here, noteId: 999_999 })).toEqual([]);
    expect(found({ ...here, partId: 2 })).toEqual([]);
  });

  it('draws the front part last, and no hidden one', () => {
    const state = after(partsShownActions.partBroughtForward(3), partsShownActions.partHiddenToggled(5));
    expect(selectShownParts(state).map(({ id }) => id)).toEqual([1, 2, 4, 6, 3]);
  });

  it('reaches the front part, or all shown parts, and no locked or hidden one', () => {
    const reached = (state: RootState) => selectReached(state).map(({ id }) => id);
    expect(reached(opened)).toEqual([1]);
    const all = after(
      selectingActions.reachTurned(),
      partsShownActions.partLockToggled(2),
      partsShownActions.partHiddenToggled(5),
    );
    expect(reached(all)).toEqual([1, 3, 4, 6]);
    expect(reached(deskReducer(all, partsShownActions.partLockToggled(2)))).toEqual([1, 2, 3, 4, 6]);
    expect(reached(after(partsShownActions.partLockToggled(1)))).toEqual([]);
    const both = new Map([
      [1, new Set([demo.parts[0]?.notes[0]?.id ?? 0])],
      [2, new Set([demo.parts[1]?.notes[0]?.id ?? 0])],
    ]);
    expect([...selectEditable(deskReducer(all, selectingActions.selected(both))).keys()]).toEqual([1]);
  });

  it('reaches and edits, of notes that are shown alone, those and what is made from them', () => {
    const ids = demo.parts[0]?.notes.slice(0, 4).map(({ id }) => id) ?? [];
    const only = after(
      selectingActions.onlyTheseShown(selectionOf(1, ids.slice(0, 2))),
      selectingActions.selected(selectionOf(1, ids)),
    );
    expect(selectEditable(only)).toEqual(selectionOf(1, ids.slice(0, 2)));
    expect(selectReached(only)[0]?.notes.map(({ id }) => id)).toEqual(ids.slice(0, 2));
    const gone = deleteNotes(demo, selectionOf(1, ids.slice(0, 1))) as Edit;
    const left = made(only, { kind: 'edit', edit: gone });
    expect(left.selecting.onlyShown).toEqual(selectionOf(1, ids.slice(1, 2)));
    const drawn = drawNote(demo, 1, { pitch: 60, onset: 0, duration: 10, velocity: 80 }) as Edit;
    const more = made(left, { kind: 'edit', edit: drawn });
    expect(more.selecting.onlyShown?.get(1)?.size).toBe(2);
    expect(selectEditable(deskReducer(only, selectingActions.onlyTheseShown(null)))).toEqual(selectionOf(1, ids));
  });

  it('reaches and edits, of a voice that is brought forward, its notes; muted ones stay though the page has none', () => {
    const ids = demo.parts[0]?.notes.slice(0, 4).map(({ id }) => id) ?? [];
    const forward = deskReducer(
      forwardFound(after(selectingActions.broughtForward({ kind: 'voice', number: 2 })), {
        found: selectionOf(1, ids.slice(0, 3)),
        onPage: selectionOf(1, ids),
      }),
      selectingActions.selected(selectionOf(1, ids)),
    );
    expect(selectEditable(forward)).toEqual(selectionOf(1, ids.slice(0, 3)));
    expect(selectReached(forward)[0]?.notes.map(({ id }) => id)).toEqual(ids.slice(0, 3));
    const shownToo = deskReducer(forward, selectingActions.onlyTheseShown(selectionOf(1, ids.slice(2))));
    expect(selectEditable(shownToo)).toEqual(selectionOf(1, ids.slice(2, 3)));
    const mute = muteNotes(demo, selectionOf(1, ids.slice(0, 1))) as Edit;
    const muted = made(forward, { kind: 'edit', edit: mute });
    const without = { found: selectionOf(1, ids.slice(1, 2)), onPage: selectionOf(1, ids.slice(1)) };
    const found = forwardFound(muted, without);
    expect(found.selecting.forwardNotes?.get(1)).toEqual(new Set(ids.slice(0, 2)));
    // The page of before comes late, after the undo: nothing is forgotten.
    const undone = made(found, { kind: 'goTo', position: 0 });
    expect(forwardFound(undone, without).selecting.forwardNotes?.get(1)).toEqual(new Set(ids.slice(0, 2)));
    expect(selectEditable(deskReducer(found, selectingActions.broughtForward(null)))).toEqual(selectionOf(1, ids));
  });

  it('has rows for the scale that is chosen, or the key, and for the percussion map; and for each note in use', () => {
    const rows = (state: RootState) => selectRows(state).pitches;
    const used = new Set(demo.parts.flatMap((part) => part.notes.map(({ pitch }) => pitch)));
    const inUse = after(lookingActions.seen({ rows: 'used' }));
    expect(rows(inUse)).toEqual([...used].sort((a, b) => b - a));
    const scale = rows(after(lookingActions.seen({ rows: 'key', scale: { id: 'wholeTone', root: 1 } })));
    const [high, low] = [Math.max(...used), Math.min(...used)];
    for (let pitch = low; pitch <= high; pitch += 1) {
      expect(scale.includes(pitch)).toBe(used.has(pitch) || pitch % 2 === 1);
    }
    const bell = { sound: 3, name: 'Bell', step: 'B', octave: 4, notehead: 'x', voice: 1 } as const;
    const kit = changePercussionMap(demo.parts[5] as Part, [bell]) as Edit;
    const mapped = made(inUse, { kind: 'edit', edit: kit });
    const shown = deskReducer(mapped, lookingActions.seen({ rows: 'map' }));
    expect(rows(shown)).not.toContain(3);
    const inFront = deskReducer(shown, partsShownActions.partBroughtForward(6));
    expect(rows(inFront)).toContain(3);
    expect(rows(deskReducer(inFront, lookingActions.seen({ rows: 'used' })))).not.toContain(3);
  });

  it('edits what is selected in shown parts alone', () => {
    const ids = (part: number) => demo.parts[part - 1]?.notes.slice(0, 2).map(({ id }) => id) ?? [];
    const both = new Map([
      [1, new Set(ids(1))],
      [2, new Set(ids(2))],
    ]);
    const all = after(selectingActions.selected(both));
    expect(selectEditable(all)).toBe(both);
    const hidden = deskReducer(all, partsShownActions.partHiddenToggled(1));
    expect([...selectEditable(hidden).keys()]).toEqual([2]);
    expect(selectedOnView(hidden).map(({ id }) => id)).toEqual(ids(2));
    expect(selectFirstSelected(all)).toMatchObject({ part: { id: 1 }, note: { id: ids(1)[0] } });
    const clarinet = deskReducer(all, partsShownActions.partBroughtForward(2));
    expect(selectFirstSelected(clarinet)).toMatchObject({ part: { id: 2 } });
    expect(selectFirstSelected(after(selectingActions.selected(new Map())))).toBeUndefined();
    expect(selectedOnView({ ...all, piece: { ...all.piece, arrangement: null } })).toEqual([]);
  });

  it('turns settings, loops and panels', () => {
    const looped = after(playbackActions.loopSet({ start: 1, end: 9 }));
    expect(flat(looped)).toMatchObject({ loop: { start: 1, end: 9 }, loopOn: true });
    expect(flat(deskReducer(looped, playbackActions.loopSet(null)))).toMatchObject({ loop: null, loopOn: false });
    expect(after(switched('drawing')).editing.drawing).toBe(true);
    expect(after(switched('drawing'), switched('drawing')).editing.drawing).toBe(false);
    expect(after(layoutActions.panelShown('more')).layout.panel).toBe('more');
    expect(flat(after(checksActions.findingChosen({ key: 'a', partId: 1 })))).toMatchObject({ panel: 'findings' });
    expect(flat(after(checksActions.findingChosen(null)))).toMatchObject({ panel: 'plan', chosenFinding: null });
    expect(flat(after(editingActions.gridSet({ value: 1 / 4 }), switched('snapOn')))).toMatchObject({
      grid: { value: 1 / 4, kind: 'plain' },
      snapOn: false,
    });
    expect(after(lookingActions.creaseMoved(77)).looking.creaseTick).toBe(77);
    const settings = after(switched('sideFolded'), layoutActions.stepSettingsShown('merge'));
    expect(flat(settings)).toMatchObject({ stepShown: 'merge', sideFolded: false });
    expect(deskReducer(settings, layoutActions.panelShown('plan')).layout.stepShown).toBeNull();
    expect(flat(after(pieceActions.openFailed('gone')))).toMatchObject({ status: 'failed', problem: 'gone' });
    expect(flat(after(partsShownActions.partMuteToggled(2), partsShownActions.partSoloToggled(3)))).toMatchObject({
      muted: [2],
      soloed: [3],
    });
    expect(flat(after(checksActions.findingPartChosen(4), checksActions.findingKindChosen('specks')))).toMatchObject({
      findingPart: 4,
      findingKind: 'specks',
    });
    expect(after(savingActions.saveStateChanged('saved'))).toBe(opened);
  });
});

describe('how parts look', () => {
  it('gives six parts six hues and six edges, in both themes', () => {
    for (const dark of [false, true]) {
      const looks = demo.parts.map((_, index) => partLook(index, dark));
      expect(new Set(looks.map((look) => look.hue)).size).toBe(6);
      expect(new Set(looks.map((look) => look.edge)).size).toBe(6);
    }
  });

  it('gives no two of the first fourteen the same look', () => {
    const many = Array.from({ length: 14 }, (_, index) => partLook(index, false));
    expect(new Set(many.map((look) => `${look.hue} ${look.edge}`)).size).toBe(14);
  });
});

describe('what is said', () => {
  it('names part, pitch, place, length and velocity', () => {
    const note = { id: 1, pitch: 60, onset: ticks(2400), duration: ticks(480), velocity: 84, channel: 0 };
    const words = noteInWords({ ...demo.parts[0], name: 'Clarinet' } as (typeof demo.parts)[number], note, {
      arrangement: demo,
      meterMap: createMeterMap(demo.meters, 480),
      terse: false,
    });
    expect(words).toBe('Clarinet, C4, bar 2 beat 2, quarter, velocity 84');
  });

  it('says about, where a length is not quite a value', () => {
    expect(lengthInWords(470, 480)).toBe('about a quarter');
    expect(lengthInWords(160, 480)).toBe('eighth of a triplet');
  });

  it('counts and tells time', () => {
    expect(counted(1, 'note')).toBe('1 note');
    expect(counted(1200, 'note')).toBe('1,200 notes');
    expect(clock(97.9)).toBe('1:37');
    expect(sinceWhen('2026-01-01T00:00:00Z', Date.parse('2026-01-01T00:05:00Z'))).toBe('5 minutes ago');
    expect(sinceWhen('2026-01-01T00:00:00Z', Date.parse('2026-01-03T00:00:00Z'))).toBe('1 Jan 2026');
  });
});

describe('commands', () => {
  it('have a key each, and no key twice', () => {
    const keys: string[] = Object.values(KEYS).flat();
    const leaders: string[] = Object.values(LISTS).map(({ key }) => key);
    for (const key of keys) {
      if (key.includes(' ')) expect(leaders).toContain(key.split(' ')[0]);
      else expect(leaders).not.toContain(key);
    }
    expect(new Set(keys).size).toBe(keys.length);
    expect(COMMANDS.map((command) => command.id).sort()).toEqual(Object.keys(KEYS).sort());
  });

  it('are told in docs/keys.md as the table has them (npm run keys)', () => {
    expect(readFileSync(new URL('../../../../../docs/keys.md', import.meta.url), 'utf8')).toBe(keyGuide());
  });

  it('name their keys as people read them', () => {
    expect(keyName('shift+up')).toBe('Shift ↑');
    expect(keyName('mod+z')).toBe('Ctrl Z');
    expect(keyName('l c')).toBe('L, C');
  });

  it('stand in lists of letters, none twice in a list, and the ten commonest take two strokes at most', () => {
    for (const list of Object.keys(LISTS) as ListId[]) {
      const letters = inList({}, list).map(([letter]) => letter);
      expect(new Set(letters).size).toBe(letters.length);
      // To the list of sentences come those that a person keeps; one's own is empty at first.
      expect(letters.length).toBeGreaterThan(list === 'own' ? -1 : list === 'sentences' ? 1 : 2);
    }
    const commonest: CommandId[] = [
      ...(['quantizeStarts', 'closeGaps', 'trimOverlaps', 'evenChordEnds', 'matchLengths', 'merge'] as const),
      ...(['deDuplicate', 'splitGrid', 'louder', 'softer', 'muteNotes'] as const),
    ];
    for (const id of commonest) expect(Math.min(...KEYS[id].map((key) => key.split(' ').length))).toBeLessThan(3);
  });

  it('find words anywhere, and the beginning of a name first', () => {
    expect(rankOf('Close gaps', 'clo')).toBeGreaterThan(rankOf('Undo the close', 'clo'));
    expect(rankOf('Move to the close', 'close')).toBeGreaterThan(rankOf('Disclose it', 'close'));
    expect(rankOf('Select every note', 'note every')).toBeGreaterThan(0);
    expect(rankOf('Select every note', 'tempo')).toBe(0);
  });

  /** What commands work on, on a Desk as it was opened and `actions` left it. */
  const contextOf = (...actions: Parameters<typeof deskReducer>[1][]) => {
    const { desk, store } = deskForTests(demo);
    for (const action of actions) store.dispatch(action);
    const context = { desk, commands: COMMANDS, dispatch: store.dispatch, getState: store.getState } as CommandContext;
    return { context, store };
  };
  const command = (id: CommandId): Command => COMMANDS.find((one) => one.id === id) as Command;
  const why = (id: CommandId, ...actions: Parameters<typeof deskReducer>[1][]) => {
    const { context } = contextOf(...actions);
    return command(id).when(context.getState(), context.desk);
  };

  it('say why they do not apply', () => {
    expect(why('delete')).toBe('Nothing is selected. Select notes first.');
    expect(why('again')).toBe('Nothing was done yet that could be done again.');
    expect(why('undo')).toBe('There is nothing to undo.');
    expect(why('mendFinding')).toBe('Choose a finding first.');
    expect(why('delete', selectingActions.selected(selectionOf(1, [5])))).toBeNull();
  });

  it('do the last change again, on what is selected then, and no undo', () => {
    const { context, store } = contextOf();
    const select = (count: number) =>
      store.dispatch(
        selectingActions.selected(selectionOf(1, demo.parts[0]?.notes.slice(0, count).map(({ id }) => id) ?? [])),
      );
    const labels = () => store.getState().piece.history.entries.map(({ label }) => label);
    select(2);
    carryOut(command('muteNotes'), context);
    expect(labels()).toEqual(['Mute: 2 notes in Flute']);
    carryOut(command('undo'), context);
    select(3);
    carryOut(command('again'), context);
    carryOut(command('again'), contextOf().context);
    expect(labels()).toEqual(['Mute: 3 notes in Flute']);
  });

  it('leave a hidden front part alone', () => {
    const hidden = [selectingActions.selected(selectionOf(1, [5])), partsShownActions.partHiddenToggled(1)];
    for (const id of ['delete', 'up', 'later', 'longer'] as const) expect(why(id, ...hidden)).toContain('hidden');
    expect(why('selectAll', ...hidden)).toBe('Flute is hidden. Show it to work on it.');
    const { context, store } = contextOf(...hidden);
    for (const id of ['delete', 'up', 'draw', 'later'] as const) carryOut(command(id), context);
    expect(store.getState().piece.arrangement).toBe(demo);
    expect(store.getState().editing.drawing).toBe(false);
    expect(store.getState().speech.refusal).toContain('hidden');
  });

  it('select all of one pitch in a time that follows the notes', () => {
    const many = Array.from({ length: 16_000 }, (_, k) => ({
      ...(demo.parts[0]?.notes[0] as Note),
      id: 1000 + k,
      onset: ticks(k * 10),
      pitch: 40 + (k % 3),
    }));
    const arrangement = { ...demo, parts: [{ ...(demo.parts[0] as Part), notes: many }] };
    const selection = selectionOf(
      1,
      many.filter(({ pitch }) => pitch < 42).map(({ id }) => id),
    );
    const taken: { payload: Selection }[] = [];
    const looked = { count: 0 };
    const counted = many.map(
      (note) =>
        new Proxy(note, {
          get: (target, key) => {
            looked.count += 1;
            return Reflect.get(target, key);
          },
        }),
    );
    const parts = [{ ...(arrangement.parts[0] as Part), notes: counted }];
    const watched: RootState = {
      ...opened,
      piece: { ...opened.piece, arrangement: { ...arrangement, parts } },
      selecting: { ...opened.selecting, selection },
    };
    command('samePitch').run({
      dispatch: (action: never) => taken.push(action),
      getState: () => watched,
    } as never);
    expect(taken[0]?.payload.get(1)?.size).toBe(many.filter(({ pitch }) => pitch < 42).length);
    expect(looked.count).toBeLessThan(many.length * 10);
  });
});
