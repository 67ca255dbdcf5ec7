// @vitest-environment jsdom
import { applyEdit, demoArrangement, moveNotes, type Part, selectionOf } from '@crispfold/core';
import { act, screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { renderOnDesk } from '../../controls/renderForTests.js';
import { selectingActions } from '../../state/selectingSlice.js';
import { LineUpPanel } from './LineUpPanel.js';
import { RepeatPanel } from './RepeatPanel.js';

const demo = demoArrangement();
const [flute] = demo.parts as unknown as [Part];
const status = () => screen.getByRole('status').textContent;

describe('repeating several times', () => {
  const show = () => {
    const shown = renderOnDesk(() => <RepeatPanel />, demo);
    const select = () =>
      act(() => shown.store.dispatch(selectingActions.selected(selectionOf(1, [flute.notes[0]?.id ?? 0]))));
    return { ...shown, select };
  };

  it('says what is missing, then what would be added, and draws it ahead', () => {
    const { select, state } = show();
    expect(status()).toBe('Nothing is selected. Select notes first.');
    expect(screen.getByRole('button', { name: 'Repeat' })).toHaveProperty('disabled', true);
    select();
    expect(status()).toBe('3 notes will be added.');
    expect(state().stepping.tried?.changes).not.toHaveLength(0);
  });

  it('adds them as one change, selects them, is remembered, and can be done again', async () => {
    const { user, select, state, desk } = show();
    select();
    await user.selectOptions(screen.getByRole('combobox', { name: 'Each begins on' }), 'beat');
    const field = screen.getByRole('spinbutton', { name: 'Times' });
    await user.clear(field);
    await user.type(field, '5{Enter}');
    await user.click(screen.getByRole('button', { name: 'Repeat' }));
    const notes = () => state().piece.arrangement?.parts[0]?.notes.length ?? 0;
    expect(notes()).toBe(flute.notes.length + 5);
    expect(state().selecting.selection.get(1)?.size).toBe(5);
    expect(state().lastSettings.repeat).toEqual({ times: 5, unit: 'beat' });
    expect(state().layout.toolShown).toBeNull();
    act(() => desk.again.get()?.());
    expect(notes()).toBe(flute.notes.length + 5 + 25);
  });

  it('forgets what is tried when it is closed', () => {
    const { select, state } = show();
    select();
    expect(state().stepping.tried).not.toBeNull();
  });
});

describe('lining up', () => {
  /** A note of the flute and one of the clarinet that begin 20 ticks apart. */
  const both = () => {
    const [first, second] = demo.parts as unknown as [Part, Part];
    const [a, b] = [first.notes[0], second.notes[0]];
    if (!a || !b) throw new Error('the demo has notes');
    const byTicks = a.onset + 20 - b.onset;
    const moved = moveNotes(demo, selectionOf(second.id, [b.id]), { byTicks, bySemitones: 0 });
    const arrangement = moved ? applyEdit(demo, moved) : demo;
    const selection = new Map([
      [first.id, new Set([a.id])],
      [second.id, new Set([b.id])],
    ]);
    return { arrangement, selection, a, b };
  };

  it('wants notes of two parts', () => {
    renderOnDesk(() => <LineUpPanel />, demo);
    expect(status()).toBe('Select notes of two parts or more.');
    expect(screen.getByText('Nothing is selected.')).toBeTruthy();
  });

  it('brings notes that nearly meet to the earliest, as one change', async () => {
    const { arrangement, selection, a, b } = both();
    const { user, store, state } = renderOnDesk(() => <LineUpPanel />, arrangement);
    act(() => store.dispatch(selectingActions.selected(selection)));
    await user.selectOptions(screen.getByRole('combobox', { name: 'Go to' }), 'earliest');
    expect(status()).toMatch(/^1 note of 2 parts move, \d+ ms at most\. The other ends stay\.$/);
    await user.click(screen.getByRole('button', { name: 'Line up · 1' }));
    const onset = (part: number, id: number) =>
      state().piece.arrangement?.parts[part]?.notes.find((note) => note.id === id)?.onset;
    expect([onset(0, a.id), onset(1, b.id)]).toEqual([a.onset, a.onset]);
    expect(state().piece.history.position).toBe(1);
  });
});
