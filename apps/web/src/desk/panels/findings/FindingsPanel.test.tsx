// @vitest-environment jsdom
import { demoArrangement, type Finding, findingsOf, runPlan, writtenMaps } from '@crispfold/core';
import { act, screen, within } from '@testing-library/react';
import { beforeAll, describe, expect, it } from 'vitest';
import { renderOnDesk } from '../../controls/renderForTests.js';
import { checksActions } from '../../state/checksSlice.js';
import { FindingsPanel } from './FindingsPanel.js';

const demo = demoArrangement();
const maps = writtenMaps(demo);
const found = demo.parts.flatMap((part) => findingsOf(demo, part, runPlan(part, demo.ppq, maps)));
const specks = found.filter(({ kind }) => kind === 'specks');

beforeAll(() => {
  // jsdom lays nothing out.
  Element.prototype.scrollIntoView = () => undefined;
});

const show = (findings: readonly Finding[] = found) => {
  const shown = renderOnDesk((context) => <FindingsPanel context={context} />, demo);
  act(() => shown.store.dispatch(checksActions.noticed(findings)));
  return shown;
};
const groups = () => screen.getAllByRole('region').filter((own) => own.getAttribute('aria-label') !== 'Findings');

describe('the findings', () => {
  it('stand in groups, counted, the filters saying how many there are', () => {
    show();
    const items = groups().flatMap((group) => within(group).getAllByRole('listitem'));
    expect(items).toHaveLength(found.length);
    expect(screen.getByRole('option', { name: `All parts · ${found.length}` })).toBeTruthy();
    const own = found.filter(({ partId }) => partId === 1).length;
    expect(screen.getByRole('option', { name: `Flute · ${own}` })).toBeTruthy();
  });

  it('are those of a part and a kind where one is chosen', async () => {
    const { user, state } = show();
    await user.selectOptions(screen.getByRole('combobox', { name: 'Part' }), '1');
    expect(state().checks.findingPart).toBe(1);
    await user.selectOptions(screen.getByRole('combobox', { name: 'Kind' }), '');
    const items = groups().flatMap((group) => within(group).getAllByRole('listitem'));
    expect(items).toHaveLength(found.filter(({ partId }) => partId === 1).length);
    await user.selectOptions(screen.getByRole('combobox', { name: 'Part' }), '');
    expect(state().checks.findingPart).toBeNull();
  });

  it('are none, and it is said whether that is so everywhere or here alone', () => {
    const { store } = show([]);
    // Until the worker has answered, they are still looked for.
    expect(screen.getByText('Looking through the parts…')).toBeTruthy();
    expect(store.getState().checks.ran).toBe(true);
  });

  it('lead to their notes at a click, and offer what can be done', async () => {
    const { user, state } = show(specks);
    const [first] = specks as [Finding];
    await user.click(screen.getAllByRole('button', { name: new RegExp(first.reason.slice(0, 12)) })[0] as HTMLElement);
    expect(state().checks.chosenFinding).toEqual({ key: first.key, partId: first.partId });
    expect(state().partsShown.frontPartId).toBe(first.partId);
    expect([...(state().selecting.selection.get(first.partId) ?? [])]).toEqual([...first.noteIds]);
    expect(screen.getByRole('button', { name: /Hear it/ })).toBeTruthy();
  });

  it('are mended one by one, and the next is chosen', async () => {
    const { user, state } = show(specks);
    const [first] = specks as [Finding];
    await user.click(screen.getAllByRole('button', { name: new RegExp(first.reason.slice(0, 12)) })[0] as HTMLElement);
    await user.click(screen.getByRole('button', { name: new RegExp(`^${first.mend?.label}`) }));
    expect(state().piece.history.position).toBe(1);
    const gone = state().piece.arrangement?.parts.find(({ id }) => id === first.partId);
    expect(gone?.notes.some(({ id }) => first.noteIds.includes(id))).toBe(false);
  });

  it('are dismissed for good, one or all of a kind', async () => {
    const { user, state } = show(specks);
    await user.click(screen.getByRole('button', { name: /^Dismiss all/ }));
    const dismissed = state().piece.arrangement?.parts.flatMap((part) => part.dismissed ?? []);
    expect(new Set(dismissed)).toEqual(new Set(specks.map(({ key }) => key)));
    expect(groups()).toEqual([]);
  });

  it('are mended all at once, as one change', async () => {
    const { user, state } = show(specks);
    await user.click(screen.getByRole('button', { name: `Mend all · ${specks.length}` }));
    expect(state().piece.history.position).toBe(1);
    const left = state().piece.arrangement?.parts.flatMap(({ notes }) => notes.map(({ id }) => id)) ?? [];
    expect(specks.flatMap(({ noteIds }) => noteIds).some((id) => left.includes(id))).toBe(false);
  });
});
