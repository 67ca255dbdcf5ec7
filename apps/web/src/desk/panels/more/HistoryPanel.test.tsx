// @vitest-environment jsdom
import { demoArrangement, type Edit, planEdit, planOf } from '@crispfold/core';
import { act, screen } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { api } from '../../../browser/api.js';
import { renderOnDesk } from '../../controls/renderForTests.js';
import { openedAs } from '../../session/deskForTests.js';
import { commit } from '../../session/saving.js';
import { pieceActions } from '../../state/pieceSlice.js';
import { HistoryPanel } from './HistoryPanel.js';

const demo = demoArrangement();
const edit = (label: string): Edit => {
  const [part] = demo.parts;
  if (!part) throw new Error('the demo has parts');
  return planEdit(part, planOf(part), label);
};
const show = () => renderOnDesk(() => <HistoryPanel />, demo);
const lines = () => screen.getAllByRole('button').map((line) => line.textContent);
const current = () => screen.getByRole('button', { current: 'step' }).textContent;
afterEach(() => vi.restoreAllMocks());

describe('the history', () => {
  it('has a line for each change, the present one marked; a click goes there', async () => {
    const { user, store, state } = show();
    expect(current()).toBe('0As brought in');
    act(() => {
      store.dispatch(commit(edit('first')));
      store.dispatch(commit(edit('second')));
    });
    expect(lines()).toEqual(['0As brought in', '1first', '2second']);
    expect(current()).toBe('2second');
    await user.click(screen.getByRole('button', { name: '1 first' }));
    expect([current(), state().piece.history.position]).toEqual(['1first', 1]);
    // What comes after it stays.
    expect(lines()).toHaveLength(3);
  });

  it('fetches entries from further back where they are asked for', async () => {
    const { user, store } = show();
    const history = { entries: [{ label: 'third', touched: 0 }], position: 3, skipped: 2 };
    act(() => store.dispatch(pieceActions.opened({ ...openedAs(demo), history } as never)));
    expect(lines()).toEqual(['2 earlier entries…', '3third']);
    vi.spyOn(api, 'history').mockResolvedValue({
      entries: [
        { label: 'first', touched: 0 },
        { label: 'second', touched: 4 },
      ],
    } as never);
    await user.click(screen.getByRole('button', { name: '2 earlier entries…' }));
    expect(api.history).toHaveBeenCalledWith('a', 2);
    expect(lines()).toEqual(['0As brought in', '1first', '2second', '3third']);
    expect(screen.getByTitle('4 notes touched').textContent).toBe('2second');
  });

  it('has the points that were kept of changes that were folded away', async () => {
    const { store } = show();
    vi.spyOn(api, 'points').mockResolvedValue([
      { revision: 7, position: 3, writtenAt: '2026-12-01T10:00:00Z' },
    ] as never);
    const history = { entries: [{ label: 'sixth', touched: 0 }], position: 6, skipped: 5, folded: 5 };
    await act(async () => store.dispatch(pieceActions.opened({ ...openedAs(demo), history } as never)));
    expect(screen.getByText(/5 changes before these were folded away/)).toBeTruthy();
    expect(await screen.findByRole('button', { name: /^After 3 changes/ })).toBeTruthy();
  });
});
