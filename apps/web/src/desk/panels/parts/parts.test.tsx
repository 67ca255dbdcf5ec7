// @vitest-environment jsdom
import { demoArrangement, type Part } from '@crispfold/core';
import { act, screen, within } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { renderOnDesk } from '../../controls/renderForTests.js';
import { layoutActions } from '../../state/layoutSlice.js';
import { partsShownActions } from '../../state/partsShownSlice.js';
import { playbackActions } from '../../state/playbackSlice.js';
import { CombinePartsPanel } from './CombinePartsPanel.js';
import { EmptyPartPanel } from './EmptyPartPanel.js';
import { SplitPartPanel } from './SplitPartPanel.js';

const demo = demoArrangement();
const [flute, clarinet] = demo.parts as unknown as [Part, Part];
const names = (parts: readonly Part[] | undefined) => parts?.map(({ name }) => name) ?? [];

describe('an empty part', () => {
  it('is added for an instrument, heard as it is chosen, and comes to the front', async () => {
    const { user, state, desk } = renderOnDesk(() => <EmptyPartPanel />, demo);
    const sound = vi.spyOn(desk.player, 'sound').mockResolvedValue(undefined);
    await user.selectOptions(screen.getByRole('combobox', { name: /Instrument/ }), 'oboe');
    expect(sound.mock.calls[0]?.[0].instrument).toBe('oboe');
    expect(state().piece.history.position).toBe(0);
    await user.click(screen.getByRole('button', { name: /^Add/ }));
    const added = state().piece.arrangement?.parts[6];
    expect([added?.instrument, added?.notes]).toEqual(['oboe', []]);
    expect(state().partsShown.frontPartId).toBe(added?.id);
    expect(state().lastSettings.emptyPart).toEqual({ instrument: 'oboe' });
  });
});

describe('combining parts', () => {
  const show = () => {
    const shown = renderOnDesk(() => <CombinePartsPanel />, demo);
    act(() => shown.store.dispatch(layoutActions.toolShown('combineParts')));
    return shown;
  };
  const combine = () => screen.getByRole('button', { name: /^(Combine|Copy)$/ });

  it('wants two, then makes one of them', async () => {
    const { user, state } = show();
    expect(screen.getByRole('status').textContent).toBe('Choose two parts or more.');
    expect(combine()).toHaveProperty('disabled', true);
    await user.click(screen.getByRole('checkbox', { name: clarinet.name }));
    expect(screen.getByRole('status').textContent).toContain(
      'They play on different channels. The sounds of the others go',
    );
    await user.selectOptions(screen.getByRole('combobox', { name: 'Channel' }), 'keep');
    expect(screen.getByRole('status').textContent).toContain('Each note keeps its channel');
    await user.selectOptions(screen.getByRole('combobox', { name: 'Into' }), clarinet.name);
    await user.click(combine());
    const parts = state().piece.arrangement?.parts;
    expect(names(parts)).not.toContain(flute.name);
    expect(parts?.find(({ id }) => id === clarinet.id)?.notes).toHaveLength(flute.notes.length + clarinet.notes.length);
    expect([state().partsShown.frontPartId, state().layout.toolShown]).toEqual([clarinet.id, null]);
  });

  it('copies the bars of the loop alone where that is asked for', async () => {
    const { user, store, state } = show();
    await user.click(screen.getByRole('checkbox', { name: clarinet.name }));
    act(() => store.dispatch(playbackActions.loopSet({ start: 0, end: 1920 })));
    await user.selectOptions(screen.getByRole('combobox', { name: 'Take' }), 'copied');
    await user.click(combine());
    const inLoop = clarinet.notes.filter(({ onset }) => onset < 1920).length;
    const parts = state().piece.arrangement?.parts;
    expect(names(parts)).toEqual(names(demo.parts));
    expect(parts?.[0]?.notes).toHaveLength(flute.notes.length + inLoop);
    expect(parts?.[1]?.notes).toHaveLength(clarinet.notes.length);
  });
});

describe('splitting the front part', () => {
  it('says what there would be, and makes it', async () => {
    const { user, state } = renderOnDesk(() => <SplitPartPanel />, demo);
    const field = screen.getByRole('spinbutton', { name: 'Lowest pitch of the upper part' });
    const pitches = flute.notes.map(({ pitch }) => pitch).sort((a, b) => a - b);
    const middle = pitches[Math.floor(pitches.length / 2)] ?? 72;
    await user.clear(field);
    await user.type(field, `${middle}{Enter}`);
    const shares = within(screen.getByRole('status')).getAllByRole('listitem');
    expect(shares).toHaveLength(2);
    const upper = pitches.filter((pitch) => pitch >= middle).length;
    expect(shares.map((share) => share.textContent).join()).toContain(`${upper} notes`);
    await user.click(screen.getByRole('button', { name: 'Split into 2' }));
    expect(state().piece.arrangement?.parts).toHaveLength(7);
  });

  it('splits nothing that is all of one kind', async () => {
    const { user, store } = renderOnDesk(() => <SplitPartPanel />, demo);
    act(() => store.dispatch(partsShownActions.partBroughtForward(clarinet.id)));
    await user.selectOptions(screen.getByRole('combobox'), 'channel');
    expect(screen.getByRole('status').textContent).toContain('there is nothing to split');
    expect(screen.getByRole('button', { name: /^Split into/ })).toHaveProperty('disabled', true);
  });
});
