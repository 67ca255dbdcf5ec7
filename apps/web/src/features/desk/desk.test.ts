import { createMeterMap, demoArrangement, ticks } from '@crispfold/core';
import { describe, expect, it } from 'vitest';
import { clock, counted, sinceWhen } from '../../ui/words.js';
import { COMMANDS, keyName } from './commands/commands.js';
import { deskActions, deskReducer, SNAP_VALUES } from './deskSlice.js';
import { partLook } from './partLook.js';
import { audibleParts } from './selectors.js';
import { lengthInWords, noteInWords } from './speak.js';

const demo = demoArrangement();
const opened = deskReducer(
  deskReducer(undefined, deskActions.opening('abc')),
  deskActions.opened({
    id: 'abc',
    revision: 0,
    changedAt: '',
    arrangement: demo,
    history: { entries: [], position: 0 },
  }),
);
const after = (...actions: Parameters<typeof deskReducer>[1][]) => actions.reduce(deskReducer, opened);

describe('the Desk’s state', () => {
  it('puts the first part in front', () => {
    expect(opened.frontPartId).toBe(1);
  });

  it('lets go of the selection when another part comes forward, and shows that part', () => {
    const state = after(deskActions.selected([5]), deskActions.partHiddenToggled(2), deskActions.partBroughtForward(2));
    expect(state).toMatchObject({ frontPartId: 2, selection: [], hidden: [] });
  });

  it('shows one part alone, then all again', () => {
    const alone = after(deskActions.partAloneToggled(3));
    expect(alone).toMatchObject({ hidden: [1, 2, 4, 5, 6], frontPartId: 3 });
    expect(deskReducer(alone, deskActions.partAloneToggled(3)).hidden).toEqual([]);
  });

  it('forgets what an undo takes away', () => {
    const part = { ...demo.parts[0], id: 7, name: 'New' } as (typeof demo.parts)[number];
    const added = after(
      deskActions.partsArrived({ label: 'Add', changes: [{ kind: 'partAdded', index: 6, part }] }),
      deskActions.partBroughtForward(7),
    );
    expect(added.frontPartId).toBe(7);
    expect(deskReducer(added, deskActions.entryMade({ kind: 'goTo', position: 0 })).frontPartId).toBe(1);
  });

  it('keeps the snapping value within its list, and turns snapping on', () => {
    const finest = Array.from({ length: 20 }).reduce<ReturnType<typeof deskReducer>>(
      (state) => deskReducer(state, deskActions.snapStepped(1)),
      after(deskActions.switched('snapOn')),
    );
    expect(finest).toMatchObject({ snapIndex: SNAP_VALUES.length - 1, snapOn: true });
  });

  it('hears soloed parts, never muted ones', () => {
    expect(audibleParts({ muted: [2], soloed: [] }, demo.parts)).toEqual([1, 3, 4, 5, 6]);
    expect(audibleParts({ muted: [2], soloed: [2, 3] }, demo.parts)).toEqual([3]);
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
    const words = noteInWords(
      { ...demo.parts[0], name: 'Clarinet' } as (typeof demo.parts)[number],
      note,
      demo,
      createMeterMap(demo.meters, 480),
    );
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
    const keys = COMMANDS.flatMap((command) => command.keys);
    expect(COMMANDS.every((command) => command.keys.length > 0)).toBe(true);
    expect(new Set(keys).size).toBe(keys.length);
    expect(new Set(COMMANDS.map((command) => command.id)).size).toBe(COMMANDS.length);
  });

  it('name their keys as people read them', () => {
    expect(keyName('shift+up')).toBe('Shift ↑');
    expect(keyName('mod+z')).toBe('Ctrl Z');
  });
});
