/** Every route with bodies that are nearly right: never a 5xx, never stored wrong, and what was stored opens. */
import { arrangementSchema } from '@crispfold/contract';
import {
  type Arrangement,
  defaultPlan,
  demoMidi,
  moveNotes,
  READY_SENTENCES,
  selectionOf,
  slimEdit,
} from '@crispfold/core';
import { asForm, asJson, chanceOf, type Tally, Tried } from './server.js';

/** Values that are seldom right. */
const ODD: readonly unknown[] = [
  null,
  -1,
  0.5,
  7,
  2 ** 53,
  1e308,
  '',
  'x'.repeat(5000),
  '__proto__',
  [],
  {},
  true,
  [[]],
  { id: 1 },
  '\u0000\ud800',
];

/** A copy with one value somewhere within it made odd, taken away, doubled or put in. */
const broken = (value: unknown, chance: () => number): unknown => {
  const pick = <Item>(all: readonly Item[]): Item => all[Math.floor(chance() * all.length)] as Item;
  if (chance() < 0.12 || typeof value !== 'object' || value === null) return pick(ODD);
  if (Array.isArray(value)) {
    if (value.length === 0) return [pick(ODD)];
    const at = Math.floor(chance() * Math.min(value.length, 40));
    const copy = [...value];
    const way = chance();
    if (way < 0.1) copy.splice(at, 1);
    else if (way < 0.2) copy.push(copy[at]);
    else copy[at] = broken(copy[at], chance);
    return copy;
  }
  const copy: { [key: string]: unknown } = { ...value };
  const key = pick(Object.keys(copy).length > 0 ? Object.keys(copy) : ['extra']);
  const way = chance();
  if (way < 0.12) delete copy[key];
  else if (way < 0.24) copy[pick(['extra', 'events', '__proto__', 'toString', 'parts'])] = pick(ODD);
  else copy[key] = broken(copy[key], chance);
  return copy;
};

export const brokenBodies = async (more: () => boolean): Promise<Tally> => {
  const chance = chanceOf(23);
  const problems: string[] = [];
  const counts = { requests: 0, refused: 0, taken: 0 };
  const server = new Tried();
  await server.start();
  const created = (await server.ask('/api/arrangements', asForm(['a.mid', demoMidi()]))).body as {
    open: { id: string; arrangement: Arrangement };
  };
  const { id, arrangement } = created.open;
  const [part] = arrangement.parts;
  const moved = moveNotes(
    arrangement,
    selectionOf(
      part?.id ?? 0,
      (part?.notes ?? []).slice(0, 5).map((note) => note.id),
    ),
    {
      byTicks: 3,
      bySemitones: 1,
    },
  );
  const good = [
    moved ? slimEdit(moved) : null,
    {
      label: 'Part',
      changes: [{ kind: 'partAdded', index: 0, part: { ...part, id: 77, notes: part?.notes.slice(0, 4) } }],
    },
    {
      label: 'Gone',
      changes: [{ kind: 'partRemoved', index: 1, part: { ...arrangement.parts[1], notes: [], events: [] } }],
    },
    {
      label: 'Plan',
      changes: [{ kind: 'partFields', partId: 1, before: {}, after: { plan: defaultPlan(), name: 'Ney' } }],
    },
    {
      label: 'Key',
      changes: [
        { kind: 'arrangementFields', before: { keys: [] }, after: { keys: [{ tick: 0, fifths: 2, minor: false }] } },
      ],
    },
    {
      label: 'Page',
      changes: [
        { kind: 'overrides', partId: 1, added: [{ kind: 'staff', noteId: 1, staff: 2 }], removed: [], changed: [] },
      ],
    },
    { label: 'Move', changes: [{ kind: 'partMoved', partId: 2, from: 1, to: 0 }] },
  ];
  let revision = 0;
  while (more()) {
    const which = chance();
    let answer: { status: number; body: unknown };
    if (which < 0.7) {
      const body = broken(
        { baseRevision: revision, entries: [{ kind: 'edit', edit: good[Math.floor(chance() * good.length)] }] },
        chance,
      );
      answer = await server.ask(`/api/arrangements/${id}/journal`, asJson(body));
      if (answer.status === 200) {
        revision = (answer.body as { revision: number }).revision;
        const open = await server.ask(`/api/arrangements/${id}`);
        const now = (open.body as { arrangement?: unknown }).arrangement;
        try {
          arrangementSchema.validateSync(now, { strict: true });
        } catch (error) {
          problems.push(`stored wrong (${(error as Error).message}): ${JSON.stringify(body).slice(0, 600)}`);
          break;
        }
      }
    } else if (which < 0.8)
      answer = await server.ask(`/api/arrangements/${id}`, asJson(broken({ title: 'Dusk' }, chance), 'PATCH'));
    else if (which < 0.9) {
      const body = broken({ ...defaultPlan(), name: 'p' }, chance);
      answer = await server.ask('/api/plans/p', asJson(body, 'PUT'));
    } else if (which < 0.95)
      answer = await server.ask('/api/sentences/s', asJson(broken(READY_SENTENCES[0], chance), 'PUT'));
    else if (which < 0.97)
      answer = await server.ask('/api/plans/p', {
        method: 'PUT',
        headers: { 'Content-Type': 'text/plain' },
        body: '{}',
      });
    else if (which < 0.985) {
      answer = await server.ask('/api/arrangements', {
        method: 'POST',
        headers: { 'Content-Type': 'multipart/form-data; boundary=x' },
        body: '--x\r\nContent-Dispos',
      });
    } else
      answer = await server.ask(`/api/arrangements/${id}/edits?from=${ODD[Math.floor(chance() * ODD.length)]}&to=9`);
    counts.requests += 1;
    if (answer.status >= 500) problems.push(`${answer.status}: ${JSON.stringify(answer.body).slice(0, 300)}`);
    if (answer.status >= 400) counts.refused += 1;
    else counts.taken += 1;
    // A title that was taken is a revision too.
    if (answer.status < 300 && which >= 0.7 && which < 0.8) revision = (answer.body as { revision: number }).revision;
    if (!server.alive) {
      problems.push('the server ended');
      break;
    }
  }
  for (const at of ['/api/plans', '/api/sentences', '/api/arrangements']) {
    const { status } = await server.ask(at);
    if (status !== 200) problems.push(`${at} answers ${status} afterwards`);
  }
  await server.end();
  return { ...counts, problems };
};
