/** What the list of all commands shows. */
import { demoArrangement, READY_SENTENCES, type Sentence } from '@crispfold/core';
import { describe, expect, it, vi } from 'vitest';
import { type Command, type CommandContext, inGroup } from '../actions/commands/command.js';
import { deskForTests } from '../session/deskForTests.js';
import { keptActions } from '../state/keptSlice.js';
import { keysActions } from '../state/keysSlice.js';
import { listedCommands } from './commandListModel.js';

const begin = () => {
  const { desk, store } = deskForTests(demoArrangement());
  const run = vi.fn();
  const commands: Command[] = [
    inGroup('Play')('play', 'Play or stop', run),
    { ...inGroup('Lengths')('merge', 'Merge', run), step: 'merge' },
    inGroup('Play')('loop', 'Loop', run, () => 'There is no loop.'),
  ];
  const context = { desk, commands, dispatch: store.dispatch, getState: store.getState } as unknown as CommandContext;
  return { store, context, run, list: () => listedCommands(context) };
};

describe('the list of all commands', () => {
  it('has groups in the order in which they come first, each with its commands', () => {
    const { list } = begin();
    expect(list().map(({ heading, lines }) => [heading, lines.length])).toEqual([
      ['Play', 2],
      ['Lengths', 2],
      ['Sentences to do', READY_SENTENCES.length],
    ]);
  });

  it('says keys as they are given now, and why something does not apply', () => {
    const { store, list } = begin();
    store.dispatch(keysActions.keysGiven({ play: ['u', 'l p'], loop: [] }));
    const [play, loop] = list()[0]?.lines ?? [];
    expect([play?.words, play?.keys, play?.why]).toEqual(['Play or stop', 'U or L, P', null]);
    expect([loop?.keys, loop?.why]).toEqual(['', 'There is no loop.']);
  });

  it('has a step’s settings beside the step', () => {
    const { store, list, run } = begin();
    const [merge, settings] = list()[1]?.lines ?? [];
    expect([merge?.words, settings?.words]).toEqual(['Merge', 'Merge: settings…']);
    merge?.act();
    expect(run).toHaveBeenCalledTimes(1);
    settings?.act();
    expect(store.getState().layout.stepShown).toBe('merge');
    expect(run).toHaveBeenCalledTimes(1);
  });

  it('has kept sentences before the ready ones, found as sentences', () => {
    const { store, context, list } = begin();
    store.dispatch(keptActions.sentencesRead([{ name: 'Softer', lines: [], key: 'q' } as unknown as Sentence]));
    const [own] = list()[2]?.lines ?? [];
    expect([own?.words, own?.sought, own?.keys]).toEqual(['Softer', 'Softer (sentence)', '6, Q']);
    const ask = vi.spyOn(context.desk.engine, 'ask');
    own?.act();
    expect(ask.mock.calls[0]?.[0]).toBe('sentenceRun');
  });
});
