/** What the letters of a list do. */
import { demoArrangement, type Sentence } from '@crispfold/core';
import { describe, expect, it, vi } from 'vitest';
import { type Command, type CommandContext, inGroup } from '../actions/commands/command.js';
import { deskForTests } from '../session/deskForTests.js';
import { keptActions } from '../state/keptSlice.js';
import { keysActions } from '../state/keysSlice.js';
import { choose, commandsOf, othersOf } from './keyListModel.js';

const SENTENCES = [
  { name: 'Softer', lines: [], key: 'q' },
  { name: 'Without a key', lines: [] },
] as unknown as Sentence[];

const begin = () => {
  const { desk, store } = deskForTests(demoArrangement());
  const ran: string[] = [];
  const make = (id: Command['id'], more: Partial<Command> = {}): Command => ({
    ...inGroup('View')(id, `Name of ${id}`, () => void ran.push(id)),
    ...more,
  });
  const commands = [make('zoomIn'), make('muteNotes'), make('merge', { step: 'merge' })];
  const context = { desk, commands, dispatch: store.dispatch, getState: store.getState } as unknown as CommandContext;
  store.dispatch(keysActions.keysGiven({ zoomIn: ['l z'], muteNotes: ['l m'], merge: ['l g'] }));
  store.dispatch(keysActions.listOpened('lengths'));
  const letter = (key: string, settings = false) => choose('lengths', key, settings, context);
  return { store, context, ran, letter, open: () => store.getState().keys.list };
};

describe('a list that a key opened', () => {
  it('has the commands that have a letter in it, as keys are given now', () => {
    const { store, context } = begin();
    const letters = () =>
      commandsOf(store.getState(), 'lengths', context).map(({ letter, command }) => [letter, command.id]);
    expect(letters()).toEqual(
      expect.arrayContaining([
        ['z', 'zoomIn'],
        ['m', 'muteNotes'],
        ['g', 'merge'],
      ]),
    );
    store.dispatch(keysActions.keysGiven({ zoomIn: ['shift+q'] }));
    expect(letters().map(([, id]) => id)).not.toContain('zoomIn');
  });

  it('carries a letter’s command out, and closes', () => {
    const { letter, ran, open } = begin();
    expect(letter('m')).toBe(true);
    expect([ran, open()]).toEqual([['muteNotes'], null]);
  });

  it('stays open at a letter that means nothing there', () => {
    const { letter, ran, open } = begin();
    expect(letter('ä')).toBe(false);
    expect([ran, open()]).toEqual([[], 'lengths']);
  });

  it('opens a step’s settings with Shift; a command that has none is carried out', () => {
    const { letter, ran, store } = begin();
    letter('g', true);
    expect([store.getState().layout.stepShown, ran]).toEqual(['merge', []]);
    letter('m', true);
    expect(ran).toEqual(['muteNotes']);
  });

  it('has kept sentences with a key in the list of sentences alone', () => {
    const { store, context } = begin();
    store.dispatch(keptActions.sentencesRead(SENTENCES));
    expect(othersOf(store.getState(), 'lengths')).toEqual([]);
    expect(othersOf(store.getState(), 'sentences')).toEqual([{ letter: 'q', words: 'Softer', title: '' }]);
    const ask = vi.spyOn(context.desk.engine, 'ask');
    expect(choose('lengths', 'q', false, context)).toBe(false);
    expect(choose('sentences', 'q', false, context)).toBe(true);
    expect(ask.mock.calls[0]?.[0]).toBe('sentenceRun');
    expect(store.getState().keys.list).toBeNull();
  });

  it('does all of a row of one’s own, one after another, and says its name', () => {
    const { store, context, ran } = begin();
    const rows = [{ letter: 'a', name: 'Two at once', commands: ['muteNotes', 'zoomIn', 'undo'] as const }];
    store.dispatch(keysActions.rowsSet(rows));
    expect(othersOf(store.getState(), 'own')).toEqual([{ letter: 'a', words: 'Two at once', title: undefined }]);
    expect(choose('own', 'a', false, context)).toBe(true);
    expect(ran).toEqual(['muteNotes', 'zoomIn']);
    expect(store.getState().speech.spoken).toBe('Two at once');
    expect(choose('own', 'b', false, context)).toBe(false);
  });
});
