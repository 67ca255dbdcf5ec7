// @vitest-environment jsdom
import { demoArrangement } from '@crispfold/core';
import { screen } from '@testing-library/react';
import { afterEach, describe, expect, it } from 'vitest';
import { inGroup } from '../../actions/commands/command.js';
import { renderOnDesk } from '../../controls/renderForTests.js';
import { KeysPanel } from './KeysPanel.js';

const command = inGroup('View');
const COMMANDS = [
  command('zoomIn', 'Zoom in on time', () => undefined),
  command('undo', 'Undo', () => undefined),
  command('fitAll', 'Fit everything', () => undefined),
];
const show = () =>
  renderOnDesk((context) => <KeysPanel context={{ ...context, commands: COMMANDS }} />, demoArrangement());
afterEach(() => localStorage.clear());

const seek = async (user: ReturnType<typeof show>['user'], words: string) => {
  const field = screen.getByRole('searchbox', { name: 'Search commands' });
  await user.clear(field);
  await user.type(field, words);
};

describe('giving a command another key', () => {
  it('seeks the command by its words or its key', async () => {
    const { user } = show();
    expect(screen.getByText('0 commands with keys of your own.')).toBeTruthy();
    await seek(user, 'zoom');
    expect(screen.getByText('1 command')).toBeTruthy();
    await seek(user, 'Ctrl Z');
    expect(screen.getByText('Undo', { selector: 'span' })).toBeTruthy();
  });

  it('takes the next key that is pressed, remembers it, and says it', async () => {
    const { user, state } = show();
    await seek(user, 'zoom');
    await user.click(screen.getByRole('button', { name: /another key for Zoom in/ }));
    await user.keyboard('ö');
    expect(state().keys.own.zoomIn).toEqual(['ö']);
    expect(state().speech.spoken).toBe('Zoom in on time: Ö');
    expect(JSON.parse(localStorage.getItem('crispfold-keys') ?? '')).toEqual({ zoomIn: ['ö'] });
    expect(screen.getByRole('button', { name: 'Ö: another key for Zoom in on time' })).toBeTruthy();
  });

  it('takes the key of a list and a letter in it', async () => {
    const { user, state } = show();
    await seek(user, 'zoom');
    await user.click(screen.getByRole('button', { name: /another key for Zoom in/ }));
    await user.keyboard('l');
    expect(state().keys.own.zoomIn).toBeUndefined();
    await user.keyboard('ö');
    expect(state().keys.own.zoomIn).toEqual(['l ö']);
  });

  it('asks before it takes a key that another command has, which then goes without', async () => {
    const { user, state } = show();
    await seek(user, 'zoom');
    await user.click(screen.getByRole('button', { name: /another key for Zoom in/ }));
    await user.keyboard('{Control>}z{/Control}');
    expect(screen.getByRole('alert').textContent).toContain('Ctrl Z is the key of “Undo”.');
    expect(state().keys.own.zoomIn).toBeUndefined();
    await user.click(screen.getByRole('button', { name: 'Take it' }));
    expect(state().keys.own).toMatchObject({ zoomIn: ['mod+z'], undo: expect.not.arrayContaining(['mod+z']) });
    // The ready key comes back, and the other command gives it up.
    await seek(user, 'undo');
    await user.click(screen.getByRole('button', { name: 'The ready key of Undo again' }));
    expect(state().keys.own.undo).toBeUndefined();
    expect(state().keys.own.zoomIn).toEqual([]);
  });

  it('leaves all as it is at Escape, and refuses keys that belong to others', async () => {
    const { user, state } = show();
    await seek(user, 'zoom');
    await user.click(screen.getByRole('button', { name: /another key for Zoom in/ }));
    await user.keyboard('{Insert}');
    expect(state().speech.spoken).toContain('belongs to the browser');
    await user.keyboard('{Escape}');
    expect(state().keys.own).toEqual({});
    expect(screen.getByRole('button', { name: /another key for Zoom in/ })).toBeTruthy();
  });
});

describe('a list of one’s own', () => {
  it('takes a row: a letter, a name and commands in order', async () => {
    const { user, state } = show();
    await user.click(screen.getByRole('button', { name: 'Make a row' }));
    await user.click(screen.getByRole('button', { name: 'Keep the row' }));
    expect(state().speech.spoken).toBe('A row needs a letter or a digit.');
    await user.type(screen.getByRole('textbox', { name: 'Letter of the row' }), 'A');
    await user.type(screen.getByRole('textbox', { name: 'Name of the row' }), 'Look at all');
    await seek(user, 'fit');
    await user.click(screen.getByRole('button', { name: 'Add Fit everything to the row' }));
    await seek(user, 'zoom');
    await user.click(screen.getByRole('button', { name: 'Add Zoom in on time to the row' }));
    expect(screen.getByText('Fit everything, then Zoom in on time')).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Keep the row' }));
    expect(state().keys.rows).toEqual([{ letter: 'a', name: 'Look at all', commands: ['fitAll', 'zoomIn'] }]);
    expect(state().speech.spoken).toBe('Look at all: 9, A');
    await user.click(screen.getByRole('button', { name: 'Remove Look at all from your list' }));
    expect(state().keys.rows).toEqual([]);
  });
});
