// @vitest-environment jsdom
import { type Arrangement, demoArrangement, type Finding, type Part } from '@crispfold/core';
import { act, screen, within } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { renderOnDesk } from '../controls/renderForTests.js';
import { checksActions } from '../state/checksSlice.js';
import { layoutActions } from '../state/layoutSlice.js';
import { switched } from '../state/switched.js';
import { byFamily, PartRail } from './PartRail.js';

const demo = demoArrangement();
const [flute, clarinet] = demo.parts as unknown as [Part, Part];
/** More parts than have room. */
const MANY: Arrangement = {
  ...demo,
  parts: Array.from({ length: 14 }, (_, at) => ({
    ...(demo.parts[at % 6] as Part),
    id: at + 1,
    name: `${demo.parts[at % 6]?.name} ${at + 1}`,
  })),
};
const show = (arrangement = demo, onAdd = vi.fn()) => renderOnDesk(() => <PartRail onAdd={onAdd} />, arrangement);
const button = (name: string | RegExp) => screen.getByRole('button', { name });

describe('the parts', () => {
  it('come to the front at a click, with their notes counted', async () => {
    const { user, state } = show();
    await user.click(screen.getByTitle(/^Bring Clarinet/));
    expect(state().partsShown.frontPartId).toBe(clarinet.id);
    const front = screen.getByTitle(/^Bring Clarinet/).closest('li');
    expect(front?.getAttribute('aria-current')).toBe('true');
    expect(front?.textContent).toContain(`${clarinet.notes.length} notes`);
  });

  it('are hidden, shown alone, muted, soloed and locked, each by its button', async () => {
    const { user, state } = show();
    await user.click(button('Hide Clarinet in B flat'));
    expect(state().partsShown.hidden).toEqual([clarinet.id]);
    await user.click(button('Show Clarinet in B flat'));
    await user.click(button('Show Clarinet in B flat alone'));
    expect(state().partsShown.hidden).toHaveLength(5);
    await user.click(button('Show Clarinet in B flat alone'));
    expect(state().partsShown.hidden).toEqual([]);
    await user.click(button('Mute Flute'));
    await user.click(button('Solo Clarinet in B flat'));
    await user.click(button(/^Lock Clarinet in B flat/));
    const { muted, soloed, locked } = state().partsShown;
    expect([muted, soloed, locked]).toEqual([[flute.id], [clarinet.id], [clarinet.id]]);
  });

  it('are moved by Alt and an arrow key, as a change that is said', async () => {
    const { user, state } = show();
    screen.getByTitle(/^Bring Clarinet/).focus();
    await user.keyboard('{Alt>}{ArrowUp}{/Alt}');
    expect(
      state()
        .piece.arrangement?.parts.slice(0, 2)
        .map(({ name }) => name),
    ).toEqual(['Clarinet in B flat', 'Flute']);
    expect(state().speech.spoken).toBe(state().piece.history.entries[0]?.label);
  });

  it('say how many findings they have, and lead there', async () => {
    const { user, store, state } = show();
    const finding = { key: 'k', partId: clarinet.id, noteIds: [], kind: 'doubles', tick: 0, reason: '' };
    act(() => store.dispatch(checksActions.noticed([finding as unknown as Finding])));
    await user.click(button('1 finding'));
    expect([state().checks.findingPart, state().layout.panel]).toEqual([clarinet.id, 'findings']);
  });

  it('are written for an instrument, which is chosen for the one in front and heard', async () => {
    const { user, state, desk } = show();
    const sound = vi.spyOn(desk.player, 'sound').mockResolvedValue(undefined);
    await user.selectOptions(screen.getByRole('combobox', { name: 'Instrument of Flute' }), 'oboe');
    expect(state().piece.arrangement?.parts[0]?.instrument).toBe('oboe');
    expect(sound.mock.calls[0]?.[0].instrument).toBe('oboe');
    expect(screen.getByText(/^chosen by you/)).toBeTruthy();
    await user.click(button('Settings of Flute'));
    expect(state().layout.toolShown).toBe('part');
  });

  it('are asked for at a button, and fold away to their marks', async () => {
    const onAdd = vi.fn();
    const { user, store, state } = show(demo, onAdd);
    await user.click(button('Add parts'));
    expect(onAdd).toHaveBeenCalled();
    act(() => store.dispatch(switched('partsFolded')));
    await user.click(button('Bring Clarinet in B flat to the front'));
    expect(state().partsShown.frontPartId).toBe(clarinet.id);
    await user.click(button('Fold the list of parts out'));
    expect(state().layout.partsFolded).toBe(false);
  });
});

describe('many parts', () => {
  it('stand in families, each with those of its own, in the order in which they come', () => {
    const families = byFamily(MANY.parts);
    expect(families.map(({ parts }) => parts.length).reduce((a, b) => a + b)).toBe(14);
    expect(families[0]?.parts.map(({ name }) => name)).toEqual(
      expect.arrayContaining(['Flute 1', 'Clarinet in B flat 2']),
    );
    expect(families.every(({ family }) => typeof family === 'string')).toBe(true);
  });

  it('fold family by family, and a family is hidden in one sweep', async () => {
    const { user, state } = show(MANY);
    const wood = screen.getByRole('button', { name: /^Woodwind/ });
    expect(wood.getAttribute('aria-expanded')).toBe('true');
    const before = screen.getAllByRole('listitem').length;
    await user.click(wood);
    const inFamily = Number(/\d+/.exec(wood.textContent ?? '')?.[0]);
    expect(screen.getAllByRole('listitem')).toHaveLength(before - inFamily);
    await user.click(button(/^Hide all of Woodwind/));
    expect(state().partsShown.hidden).toHaveLength(inFamily);
    await user.click(button(/^Show all of Woodwind/));
    expect(state().partsShown.hidden).toEqual([]);
  });

  it('are sought by name: Enter brings the first that is found, Escape gives up', async () => {
    const { user, state } = show(MANY);
    const field = screen.getByRole('searchbox', { name: 'Find a part' });
    await user.type(field, 'cello 1{Enter}');
    const cello = MANY.parts.find(({ name }) => name.startsWith('Cello 1'));
    expect(state().partsShown.frontPartId).toBe(cello?.id);
    expect(state().speech.spoken).toContain(`${cello?.name} in front`);
    await user.type(field, 'bagpipe');
    expect(screen.getByText('No part is called that.')).toBeTruthy();
    await user.keyboard('{Escape}');
    expect(field).toHaveProperty('value', '');
  });

  it('are sought by a command where there are few, too', () => {
    const { store } = show();
    expect(screen.queryByRole('searchbox')).toBeNull();
    act(() => store.dispatch(layoutActions.partSought(true)));
    expect(document.activeElement).toBe(screen.getByRole('searchbox'));
    expect(within(screen.getByRole('navigation', { name: 'Parts' })).getByRole('heading').textContent).toBe('Parts');
  });
});
