import { beforeEach, describe, expect, it, vi } from 'vitest';
import { hint } from '../../state/speak.js';
import { type CommandContext, carryOut, inGroup } from './command.js';

const command = inGroup('View');
const applies = command('page', 'Show or hide the page', vi.fn());
const refuses = command('page', 'Show or hide the page', vi.fn(), () => 'Nothing is selected.');
const context = { getState: () => ({}) } as CommandContext;

beforeEach(() => hint.set(''));

describe('the foot after a command', () => {
  it('says why one did not apply, until another one does', () => {
    carryOut(refuses, context);
    expect(hint.get()).toBe('Nothing is selected.');
    carryOut(applies, context);
    expect(hint.get()).toBe('');
  });

  it('says what lies under the pointer as before', () => {
    carryOut(refuses, context);
    hint.set('Drag to move');
    carryOut(applies, context);
    expect(hint.get()).toBe('Drag to move');
  });
});
