// @vitest-environment jsdom
import { demoArrangement, type Edit, planEdit, planOf } from '@crispfold/core';
import { act, screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { renderOnDesk } from '../controls/renderForTests.js';
import { commit } from '../session/saving.js';
import { switched } from '../state/switched.js';
import { EditBar } from './EditBar.js';

const demo = demoArrangement();
const show = () => renderOnDesk(() => <EditBar />, demo);
const button = (name: string) => screen.getByRole('button', { name });
const [flute] = demo.parts;
const edit = (): Edit => {
  if (!flute) throw new Error('the demo has parts');
  return planEdit(flute, planOf(flute), 'Another plan');
};

describe('the editing bar', () => {
  it('undoes and does again, and names what', async () => {
    const { user, store, state } = show();
    expect(button('Undo')).toHaveProperty('disabled', true);
    expect(button('Undo').title).toContain('Nothing to undo');
    act(() => store.dispatch(commit(edit())));
    expect(button('Undo').title).toContain('Undo Another plan');
    await user.click(button('Undo'));
    expect(state().piece.history.position).toBe(0);
    expect(button('Redo').title).toContain('Redo Another plan');
    await user.click(button('Redo'));
    expect(state().piece.history.position).toBe(1);
    expect(button('Redo')).toHaveProperty('disabled', true);
  });

  it('turns the reach, and leaves it at a click on the one that holds', async () => {
    const { user, state } = show();
    const radio = (name: string) => screen.getByRole('radio', { name });
    await user.click(radio('Front part'));
    expect(state().selecting.reach).toBe('front');
    await user.click(radio('All shown'));
    expect(state().selecting.reach).toBe('all');
    expect(radio('All shown').getAttribute('aria-checked')).toBe('true');
    expect(radio('Front part').getAttribute('aria-checked')).toBe('false');
  });

  it('chooses the grid: a value, thirds of it, or the page’s own', async () => {
    const { user, state } = show();
    const grid = screen.getByRole('combobox', { name: 'Snap to' });
    await user.selectOptions(grid, 'Eighth');
    expect(state().editing.grid).toEqual({ value: 1 / 8, kind: 'plain' });
    await user.click(button('Triplet grid: 3'));
    expect(state().editing.grid).toEqual({ value: 1 / 8, kind: 'triplet' });
    await user.click(button('Triplet grid: 3'));
    expect(state().editing.grid.kind).toBe('plain');
    await user.click(button('Dotted grid'));
    expect(state().editing.grid.kind).toBe('dotted');
    await user.selectOptions(grid, 'As the page');
    expect(state().looking.seeing.pageGrid).toBe(true);
    expect(grid).toHaveProperty('value', 'page');
    await user.click(screen.getByRole('checkbox', { name: 'Snapping' }));
    expect(state().editing.snapOn).toBe(false);
  });

  it('shows what is switched on for a while, and switches it off', async () => {
    const { user, store, state } = show();
    expect(screen.queryByRole('button', { name: 'Drawing' })).toBeNull();
    act(() => {
      store.dispatch(switched('drawing'));
      store.dispatch(switched('controllersToo'));
      store.dispatch(switched('adding'));
    });
    await user.click(button('Drawing'));
    await user.click(button('Controllers too'));
    expect([state().editing.drawing, state().editing.controllersToo, state().selecting.adding]).toEqual([
      false,
      false,
      true,
    ]);
  });
});
