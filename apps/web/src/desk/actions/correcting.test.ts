import { demoArrangement, type Note, type Part, selectionOf } from '@crispfold/core';
import { expect, it } from 'vitest';
import type { EngineLine } from '../../engine/engine.js';
import { deskForTests } from '../session/deskForTests.js';
import { selectingActions } from '../state/selectingSlice.js';
import { correctPage } from './correcting.js';

const demo = demoArrangement();
const [flute] = demo.parts as unknown as [Part];
const [first, second] = flute.notes as unknown as [Note, Note];

it('a sign goes to the note that was selected when it was wished, however long the one before takes', async () => {
  const asked: unknown[] = [];
  const answers: ((answer: unknown) => void)[] = [];
  const ask = ((_: string, question: unknown) => {
    asked.push(question);
    return new Promise<never>((resolve) => answers.push(resolve as (answer: unknown) => void));
  }) as EngineLine['ask'];
  const { store } = deskForTests(demo, { ask });
  const select = (note: Note) => store.dispatch(selectingActions.selected(selectionOf(flute.id, [note.id])));
  const answer = () => answers.shift()?.({ made: { ok: true, value: { label: 'a sign', changes: [] } } });
  select(first);
  const one = store.dispatch(correctPage({ wish: 'words', text: 'one' }));
  const two = store.dispatch(correctPage({ wish: 'words', text: 'two' }));
  select(second);
  const three = store.dispatch(correctPage({ wish: 'words', text: 'three' }));
  for (const done of [one, two, three]) {
    await expect.poll(() => answers.length).toBe(1);
    answer();
    await done;
  }
  expect(asked).toMatchObject([
    { selection: selectionOf(flute.id, [first.id]), wish: { text: 'one' } },
    { selection: selectionOf(flute.id, [first.id]), wish: { text: 'two' } },
    { selection: selectionOf(flute.id, [second.id]), wish: { text: 'three' } },
  ]);
});
