// @vitest-environment jsdom
import { demoArrangement, ticks } from '@crispfold/core';
import { act, screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { renderOnDesk } from '../../controls/renderForTests.js';
import { layoutActions } from '../../state/layoutSlice.js';
import { selectMeterMap } from '../../state/maps.js';
import { GoToPanel } from './GoToPanel.js';
import { SeeingPanel } from './SeeingPanel.js';

const demo = { ...demoArrangement(), markers: [{ tick: ticks(3840), text: 'Second strain' }] };

describe('going to a place', () => {
  const show = () => {
    const shown = renderOnDesk((context) => <GoToPanel context={context} />, demo);
    act(() => shown.store.dispatch(layoutActions.toolShown('goTo')));
    const field = screen.getByRole('textbox', { name: 'Bar or section' });
    const button = () => screen.getByRole('button', { name: 'Go there' });
    return { ...shown, field, button };
  };

  it('has the keys at once, and goes to a bar by its number; a way leads back', async () => {
    const { user, field, state, desk } = show();
    expect(document.activeElement).toBe(field);
    await user.type(field, '3{Enter}');
    const { start } = selectMeterMap(state()).barNumbered(3);
    expect(state().roll.left).toBe(start);
    expect(desk.player.state.get().tick).toBe(start);
    expect(state().speech.spoken).toBe('Bar 3');
    expect([state().layout.toolShown, state().roll.before?.left]).toEqual([null, 0]);
  });

  it('goes to a section by some of its name, or by its line', async () => {
    const { user, field, state } = show();
    await user.type(field, 'STRAIN{Enter}');
    expect(state().roll.left).toBe(3840);
    expect(state().speech.spoken).toMatch(/^Second strain, bar \d+$/);
  });

  it('says why it cannot go, and stays', async () => {
    const { user, field, button, state } = show();
    expect(button()).toHaveProperty('disabled', true);
    await user.type(field, '9999{Enter}');
    expect(screen.getByRole('alert').textContent).toMatch(/^The piece has bars 1 to \d+\.$/);
    await user.clear(field);
    await user.type(field, 'coda{Enter}');
    expect(screen.getByRole('alert').textContent).toBe('No section has that name.');
    expect([state().roll.left, state().layout.toolShown]).toEqual([0, 'goTo']);
    await user.keyboard('{Escape}');
    expect(state().layout.toolShown).toBeNull();
  });
});

describe('how the roll is seen', () => {
  it('is chosen: hue, names, rows, a scale with its root', async () => {
    const { user, state } = renderOnDesk(() => <SeeingPanel />, demo);
    const choose = (label: string, value: string) =>
      user.selectOptions(screen.getByRole('combobox', { name: label }), value);
    await choose('Hue', 'loudness');
    await choose('Names', 'never');
    await choose('Rows', 'key');
    expect(screen.queryByRole('combobox', { name: 'Root' })).toBeNull();
    await choose('Scale', 'wholeTone');
    await choose('Root', '3');
    expect(state().looking.seeing).toMatchObject({
      hue: 'loudness',
      names: 'never',
      rows: 'key',
      scale: { id: 'wholeTone', root: 3 },
    });
    await choose('Scale', '');
    expect(state().looking.seeing.scale).toBeNull();
  });

  it('has things that are switched on and off', async () => {
    const { user, state } = renderOnDesk(() => <SeeingPanel />, demo);
    const before = state().looking.seeing;
    for (const box of screen.getAllByRole('checkbox')) await user.click(box);
    const after = state().looking.seeing;
    const settings = ['keyMarked', 'outline', 'strip', 'recording', 'recordingBehind'] as const;
    expect(settings.map((one) => after[one])).toEqual(settings.map((one) => !before[one]));
  });
});
