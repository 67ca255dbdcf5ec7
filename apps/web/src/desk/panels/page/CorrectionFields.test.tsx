// @vitest-environment jsdom
import { demoArrangement, type Note, type Part, selectionOf } from '@crispfold/core';
import { act, screen, within } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import type { Command } from '../../actions/commands/command.js';
import { CORRECTION_COMMANDS } from '../../actions/commands/correctionCommands.js';
import { renderOnDesk } from '../../controls/renderForTests.js';
import { KEYS } from '../../state/keyTable.js';
import { selectingActions } from '../../state/selectingSlice.js';
import { CorrectionFields } from './CorrectionFields.js';

const demo = demoArrangement();
const [flute] = demo.parts as unknown as [Part];
const [note] = flute.notes as unknown as [Note];

const show = () => {
  const ran: string[] = [];
  const commands: readonly Command[] = CORRECTION_COMMANDS.map((command) => ({
    ...command,
    run: () => void ran.push(command.id),
  }));
  const shown = renderOnDesk((context) => <CorrectionFields context={{ ...context, commands }} />, demo);
  const select = () => act(() => shown.store.dispatch(selectingActions.selected(selectionOf(flute.id, [note.id]))));
  return { ...shown, ran, select };
};
/** Buttons that stand for commands: those that name a key. */
const buttons = () => within(screen.getByRole('region', { name: 'Corrections by hand' })).getAllByRole('button');
const commandOf = (button: HTMLElement): Command | undefined =>
  CORRECTION_COMMANDS.find(({ name }) => name === button.getAttribute('aria-label'));

describe('corrections by button', () => {
  it('wait for notes', () => {
    show();
    const own = buttons().filter(commandOf);
    expect(own.length).toBeGreaterThan(30);
    expect(own.every((button) => (button as HTMLButtonElement).disabled)).toBe(true);
  });

  it('do each what its key does, which it names', async () => {
    const { user, ran, select } = show();
    select();
    const own = buttons().flatMap((button) => {
      const command = commandOf(button);
      return command ? [{ button, command }] : [];
    });
    for (const { button } of own) await user.click(button);
    expect(ran).toEqual(own.map(({ command }) => command.id));
    for (const { button, command } of own) {
      const letter = (KEYS[command.id][0] ?? '')
        .split(' ')
        .at(-1)
        ?.replace(/^shift\+/, '')
        .toUpperCase();
      expect(button.title).toContain(letter);
    }
  });

  it('wish words over the first note', async () => {
    const { user, select, desk } = show();
    select();
    const ask = vi.spyOn(desk.engine, 'ask');
    await user.type(screen.getByRole('textbox', { name: /^Words over the first note/ }), 'dolce{Enter}');
    await vi.waitFor(() => expect(ask).toHaveBeenCalled());
    expect(ask.mock.calls[0]?.[1]).toMatchObject({ wish: { wish: 'words', text: 'dolce' } });
  });
});
