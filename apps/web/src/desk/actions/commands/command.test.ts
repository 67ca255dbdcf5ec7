import { describe, expect, it, vi } from 'vitest';
import { deskForTests } from '../../session/deskForTests.js';
import { hinted } from '../../state/speechSlice.js';
import { type CommandContext, carryOut, inGroup } from './command.js';

const command = inGroup('View');
const applies = command('page', 'Show or hide the page', vi.fn());
const refuses = command('page', 'Show or hide the page', vi.fn(), () => 'Nothing is selected.');

const begin = () => {
  const { desk, store } = deskForTests();
  const context = { desk, dispatch: store.dispatch, getState: store.getState } as CommandContext;
  return { context, store, hint: () => store.getState().speech.hint };
};

describe('the foot after a command', () => {
  it('says why one did not apply, until another one does', () => {
    const { context, hint } = begin();
    carryOut(refuses, context);
    expect(hint()).toBe('Nothing is selected.');
    carryOut(applies, context);
    expect(hint()).toBe('');
  });

  it('says what lies under the pointer as before', () => {
    const { context, store, hint } = begin();
    carryOut(refuses, context);
    store.dispatch(hinted('Drag to move'));
    carryOut(applies, context);
    expect(hint()).toBe('Drag to move');
  });
});
