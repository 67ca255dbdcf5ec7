// @vitest-environment jsdom
/** What is done with one arrangement in the library's list. */
import type { LibraryItem } from '@crispfold/contract';
import { render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Provider } from 'react-redux';
import { createMemoryRouter, RouterProvider } from 'react-router';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { api } from '../browser/api.js';
import { LibraryRow } from './LibraryRow.js';
import { createLibraryStore } from './libraryStore.js';

const ITEM = {
  id: 'a1',
  title: 'Two Boats',
  parts: [
    { name: 'Oboe', notes: 12 },
    { name: 'Viola', notes: 30 },
  ],
  bars: 16,
  seconds: 61,
  changedAt: new Date().toISOString(),
  tags: ['water'],
} as unknown as LibraryItem;

const onTag = vi.fn();
const onChosen = vi.fn();
const shown = () => {
  const router = createMemoryRouter([
    { path: '/', element: <LibraryRow item={ITEM} chosen={false} onChosen={onChosen} onTag={onTag} /> },
  ]);
  render(
    <Provider store={createLibraryStore()}>
      <RouterProvider router={router} />
    </Provider>,
  );
};

beforeEach(() => {
  vi.spyOn(api, 'list').mockResolvedValue([]);
});
afterEach(() => {
  vi.restoreAllMocks();
  vi.clearAllMocks();
});

test('it says what the arrangement holds', () => {
  shown();
  expect(screen.getByRole('link', { name: 'Two Boats' }).getAttribute('href')).toBe('/desk/a1');
  expect(screen.getByText('Oboe · Viola')).toBeDefined();
  expect(screen.getByText(/^2 parts, 42 notes, 16 bars, 1:01/)).toBeDefined();
});

test('a new title is taken with Enter, once, and the list read anew; Escape and the same title change nothing', async () => {
  const rename = vi.spyOn(api, 'rename').mockResolvedValue(undefined as never);
  const user = userEvent.setup();
  shown();
  const type = async (keys: string) => {
    await user.click(screen.getByRole('button', { name: 'Rename Two Boats' }));
    await user.clear(screen.getByLabelText('New title'));
    await user.keyboard(keys);
  };
  await type('Three Boats{Escape}');
  await type('Two Boats{Enter}');
  await type('   {Enter}');
  expect(rename).not.toHaveBeenCalled();
  expect(api.list).not.toHaveBeenCalled();
  await type(' Three Boats {Enter}');
  expect(rename.mock.calls).toEqual([['a1', 'Three Boats']]);
  expect(screen.queryByLabelText('New title')).toBeNull();
  await waitFor(() => expect(api.list).toHaveBeenCalledTimes(1));
});

test('tags are typed between commas, taken where the field is left, and lead to their like', async () => {
  const tag = vi.spyOn(api, 'tag').mockResolvedValue(undefined as never);
  const user = userEvent.setup();
  shown();
  await user.click(screen.getByRole('button', { name: 'water' }));
  expect(onTag.mock.calls).toEqual([['water']]);
  await user.click(screen.getByRole('button', { name: 'Tags of Two Boats' }));
  await user.type(screen.getByLabelText('Tags of Two Boats, between commas'), ', autumn');
  await user.tab();
  expect(tag.mock.calls).toEqual([['a1', ['water', 'autumn']]]);
});

test('what the server refuses is told, and the list is read anew all the same', async () => {
  vi.spyOn(api, 'duplicate').mockRejectedValue(new Error('The disk is full.'));
  vi.spyOn(api, 'remove').mockResolvedValue(undefined as never);
  const user = userEvent.setup();
  shown();
  await user.click(screen.getByRole('button', { name: 'Duplicate Two Boats' }));
  await waitFor(() => expect(api.list).toHaveBeenCalledTimes(1));
  await user.click(screen.getByRole('button', { name: 'Delete Two Boats' }));
  expect(api.remove).toHaveBeenCalledWith('a1');
  await waitFor(() => expect(api.list).toHaveBeenCalledTimes(2));
  await user.click(screen.getByRole('checkbox', { name: 'Choose Two Boats' }));
  expect(onChosen).toHaveBeenCalledTimes(1);
});
