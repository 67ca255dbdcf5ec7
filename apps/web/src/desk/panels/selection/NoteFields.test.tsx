// @vitest-environment jsdom
import { demoArrangement, type Note, type Part, selectionOf } from '@crispfold/core';
import { act, screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { renderOnDesk } from '../../controls/renderForTests.js';
import { selectingActions } from '../../state/selectingSlice.js';
import { NoteFields } from './NoteFields.js';

const demo = demoArrangement();
const [flute] = demo.parts as unknown as [Part];
const [first, second] = flute.notes as unknown as [Note, Note];

const show = (...notes: readonly Note[]) => {
  const shown = renderOnDesk(() => <NoteFields />, demo);
  const ids = notes.map(({ id }) => id);
  act(() => shown.store.dispatch(selectingActions.selected(selectionOf(flute.id, ids))));
  const note = (id: number) => shown.state().piece.arrangement?.parts[0]?.notes.find((own) => own.id === id);
  return { ...shown, note };
};
const field = (name: string) => screen.getByRole('textbox', { name }) as HTMLInputElement;

describe('the fields of selected notes', () => {
  it('show what the notes have: one value, or from the least to the most', () => {
    show(first);
    expect(field('Velocity').value).toBe(String(first.velocity));
    act(() => undefined);
    const { store } = show(first, second);
    expect(store.getState().selecting.selection.get(flute.id)?.size).toBe(2);
  });

  it('draw what is typed before it is done, and do it at Enter', async () => {
    const { user, state, note } = show(first);
    await user.clear(field('Velocity'));
    await user.type(field('Velocity'), '33');
    expect(state().stepping.tried).not.toBeNull();
    expect(note(first.id)?.velocity).toBe(first.velocity);
    await user.keyboard('{Enter}');
    expect(note(first.id)?.velocity).toBe(33);
    expect([state().stepping.tried, state().piece.history.position]).toEqual([null, 1]);
    expect(state().speech.spoken).toBe(state().piece.history.entries[0]?.label);
  });

  it('change several by the same where that is typed', async () => {
    const { user, note } = show(first, second);
    await user.clear(field('Velocity'));
    await user.type(field('Velocity'), '+ 3{Enter}');
    expect([note(first.id)?.velocity, note(second.id)?.velocity]).toEqual([first.velocity + 3, second.velocity + 3]);
  });

  it('say what is wrong, and do nothing', async () => {
    const { user, state } = show(first);
    await user.clear(field('Velocity'));
    await user.type(field('Velocity'), 'loud{Enter}');
    expect(screen.getByRole('alert').textContent).not.toBe('');
    expect(field('Velocity').getAttribute('aria-invalid')).toBe('true');
    expect(state().piece.history.position).toBe(0);
  });

  it('have the value again at Escape, and where nothing is left in them', async () => {
    const { user, state } = show(first);
    await user.clear(field('Velocity'));
    await user.type(field('Velocity'), '5{Escape}');
    expect(field('Velocity').value).toBe(String(first.velocity));
    await user.clear(field('Velocity'));
    await user.tab();
    expect(field('Velocity').value).toBe(String(first.velocity));
    expect(state().piece.history.position).toBe(0);
  });
});
