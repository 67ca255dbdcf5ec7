// @vitest-environment jsdom
import { demoArrangement } from '@crispfold/core';
import { act, screen } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { api } from '../../browser/api.js';
import { renderOnDesk } from '../controls/renderForTests.js';
import { openedAs } from '../session/deskForTests.js';
import { type SaveState, savingActions } from '../state/savingSlice.js';
import { ElsewhereBar, InTheBinBar, RefusedBar, SaveMark, UnsentDialog } from './SaveMark.js';

const demo = demoArrangement();
const show = () =>
  renderOnDesk(
    () => (
      <>
        <SaveMark />
        <ElsewhereBar />
        <RefusedBar />
        <InTheBinBar />
        <UnsentDialog />
      </>
    ),
    demo,
  );
afterEach(() => vi.restoreAllMocks());

describe('how the work stands on disk', () => {
  it('is said in words, loudly where something waits', () => {
    const { store } = show();
    const said = (state: SaveState) => {
      act(() => store.dispatch(savingActions.saveStateChanged(state)));
      const mark = screen.getByRole('status');
      return [mark.textContent, mark.className.includes('font-semibold')];
    };
    expect(said('saved')).toEqual(['Saved', false]);
    expect(said('saving')[1]).toBe(false);
    for (const loud of ['waiting', 'refused', 'inTheBin'] as const) expect(said(loud)[1]).toBe(true);
    // A bar of its own says what stands in the way of another window.
    const all = (['saved', 'saving', 'waiting', 'elsewhere', 'refused', 'inTheBin'] as const).map(
      (one) => said(one)[0],
    );
    expect(all.filter((words) => words === '')).toHaveLength(1);
  });
});

describe('what stands in the way of saving', () => {
  it('is nothing while all is well', () => {
    show();
    expect(screen.queryByRole('alert')).toBeNull();
    expect(screen.queryByRole('dialog')).toBeNull();
  });

  it('is another window’s change: taken over, or read anew', async () => {
    const { user, store } = show();
    act(() => store.dispatch(savingActions.saveStateChanged('elsewhere')));
    expect(screen.getByRole('alert').textContent).toContain('changed in another window');
    const open = vi.spyOn(api, 'open').mockResolvedValue(openedAs(demo, 'a', 9));
    await user.click(screen.getByRole('button', { name: 'Reload: drop mine' }));
    expect(open).toHaveBeenCalledWith('a');
    expect(screen.queryByRole('alert')).toBeNull();
  });

  it('is a change that was refused, with its reason and a copy to take away', () => {
    const { store } = show();
    act(() => store.dispatch(savingActions.changeRefused({ label: 'Louder', reason: 'It is too long.' })));
    const bar = screen.getByRole('alert');
    expect(bar.textContent).toContain('“Louder” could not be saved. It is too long.');
    expect(screen.getByRole('button', { name: 'Take it back, save the rest' })).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Download a copy' })).toBeTruthy();
  });

  it('is the bin', () => {
    const { store } = show();
    act(() => store.dispatch(savingActions.saveStateChanged('inTheBin')));
    expect(screen.getByRole('alert').textContent).toContain('put in the bin');
    expect(screen.getByRole('button', { name: 'Bring it back and save' })).toBeTruthy();
  });

  it('are changes of an earlier visit: they are asked about until that is decided', async () => {
    const { user, store } = show();
    act(() => store.dispatch(savingActions.unsentFound({ count: 3, at: '2026-12-01T10:00:00Z' })));
    const dialog = screen.getByRole('dialog', { name: 'Changes that were not saved' });
    expect(dialog.textContent).toContain('3 changes');
    expect(document.activeElement?.textContent).toBe('Bring them back');
    await user.keyboard('{Escape}');
    expect(screen.getByRole('dialog')).toBe(dialog);
  });
});
