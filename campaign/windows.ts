/** Eight windows on one arrangement, answers lost on the way: each change is there once, and none is dropped. */
import { demoMidi } from '@crispfold/core';
import { asForm, asJson, chanceOf, type Tally, Tried } from './server.js';

export const severalWindows = async (more: () => boolean): Promise<Tally> => {
  const problems: string[] = [];
  const counts = { acknowledged: 0, conflicts: 0, lostAnswers: 0 };
  const server = new Tried();
  await server.start();
  const created = (await server.ask('/api/arrangements', asForm(['a.mid', demoMidi()]))).body as {
    open: { id: string };
  };
  const { id } = created.open;
  const at = `/api/arrangements/${id}/journal`;
  const labels = new Set<string>();
  const window = async (number: number): Promise<void> => {
    const chance = chanceOf(100 + number);
    let revision = 0;
    for (let change = 0; more(); change += 1) {
      const label = `window ${number}, change ${change}`;
      const name = `w${number}-change-${change}`;
      for (;;) {
        const body = { baseRevision: revision, entries: [{ kind: 'edit', edit: { label, changes: [] } }] };
        const send = () => server.ask(at, asJson(body, 'POST', { 'crispfold-request': name }));
        let answer = await send();
        if (answer.status === 200 && chance() < 0.3) {
          // The answer is lost on its way: the same is sent again.
          counts.lostAnswers += 1;
          answer = await send();
        }
        if (answer.status === 200) {
          revision = (answer.body as { revision: number }).revision;
          labels.add(label);
          counts.acknowledged += 1;
          break;
        }
        if (answer.status !== 409) {
          problems.push(`${answer.status}: ${JSON.stringify(answer.body)}`);
          return;
        }
        counts.conflicts += 1;
        revision = ((await server.ask(`/api/arrangements/${id}`)).body as { revision: number }).revision;
      }
    }
  };
  await Promise.all(Array.from({ length: 8 }, (_, number) => window(number)));
  const found: string[] = [];
  const open = (await server.ask(`/api/arrangements/${id}`)).body as {
    history: { entries: { label: string }[]; skipped: number };
  };
  found.push(...open.history.entries.map(({ label }) => label));
  for (let before = open.history.skipped; before > 0; ) {
    const page = (await server.ask(`/api/arrangements/${id}/history?before=${before}`)).body as {
      entries: { label: string }[];
    };
    found.unshift(...page.entries.map(({ label }) => label));
    before -= page.entries.length;
    if (page.entries.length === 0) break;
  }
  if (new Set(found).size !== found.length) problems.push('a change is there twice');
  for (const label of labels) if (!found.includes(label)) problems.push(`lost: ${label}`);
  if (found.length !== labels.size)
    problems.push(`${found.length} changes are there, ${labels.size} were acknowledged`);
  const megabytes = await server.megabytes();
  await server.end();
  return { ...counts, megabytes, problems };
};
