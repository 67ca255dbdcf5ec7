/** Everything that can be done to an arrangement, all at once: nothing that was acknowledged is lost, nothing half there. */
import { demoMidi } from '@crispfold/core';
import { asForm, asJson, chanceOf, type Tally, Tried } from './server.js';

const DEEDS = [
  'edit',
  'edit',
  'edit',
  'open',
  'delete',
  'restore',
  'duplicate',
  'archive',
  'forGood',
  'record',
] as const;
type Deed = (typeof DEEDS)[number];

export const deletionsInterleaved = async (more: () => boolean): Promise<Tally> => {
  const problems: string[] = [];
  const chance = chanceOf(53);
  const counts = { interleavings: 0, requests: 0, inTheBin: 0, goneForGood: 0, kept: 0, kills: 0 };
  const server = new Tried();
  await server.start();
  const library = '/api/arrangements';
  const made = (await server.ask(library, asForm(['a.mid', demoMidi()]))).body as { open: { id: string } };
  const original = made.open.id;
  const idsAt = async (at: string) => ((await server.ask(at)).body as { id: string }[]).map(({ id }) => id);
  while (more() && problems.length < 5) {
    const { id } = (await server.ask(`${library}/${original}/duplicate`, { method: 'POST' })).body as { id: string };
    const at = `${library}/${id}`;
    const labels = new Set<string>();
    let copies = 0;
    let gone = false;
    const edit = async (label: string): Promise<number> => {
      // Whatever is newest: as a window does that lays its change on top.
      for (;;) {
        const open = await server.ask(at);
        if (open.status !== 200) return open.status;
        const { revision } = open.body as { revision: number };
        const entries = [{ kind: 'edit', edit: { label, changes: [] } }];
        const answer = await server.ask(`${at}/journal`, asJson({ baseRevision: revision, entries }));
        if (answer.status === 200) labels.add(label);
        if (answer.status !== 409) return answer.status;
      }
    };
    const carryOut = async (deed: Deed, number: number): Promise<number> => {
      switch (deed) {
        case 'edit':
          return edit(`change ${number}`);
        case 'open':
          return (await server.ask(at)).status;
        case 'delete':
          return (await server.ask(at, { method: 'DELETE' })).status;
        case 'restore':
          return (await server.ask(`${at}/restore`, { method: 'POST' })).status;
        case 'archive':
          return (await server.ask(`${at}/archive`)).status;
        case 'record':
          return (await server.ask(`${at}/recordings`, asForm(['a.wav', new Uint8Array(9)]))).status;
        case 'duplicate': {
          const { status } = await server.ask(`${at}/duplicate`, { method: 'POST' });
          if (status === 201) copies += 1;
          return status;
        }
        case 'forGood': {
          const { status } = await server.ask(`${library}/bin/${id}`, { method: 'DELETE' });
          gone ||= status === 204;
          return status;
        }
        default:
          return deed satisfies never;
      }
    };
    const before = (await idsAt(library)).length;
    const deeds = Array.from(
      { length: 4 + Math.floor(chance() * 12) },
      () => DEEDS[Math.floor(chance() * DEEDS.length)],
    );
    const answers = await Promise.all(deeds.map((deed, number) => carryOut(deed as Deed, number)));
    counts.requests += deeds.length;
    for (const status of answers)
      if (![200, 201, 204, 404, 410, 422].includes(status)) problems.push(`${deeds.join(', ')}: answered ${status}`);
    if (chance() < 0.02) {
      await server.end('SIGKILL');
      await server.start();
      counts.kills += 1;
    }
    const [listed, binned] = [await idsAt(library), await idsAt(`${library}/bin`)];
    const places = [listed.includes(id), binned.includes(id), gone].filter(Boolean).length;
    if (places !== 1) problems.push(`${deeds.join(', ')}: it is in ${places} places`);
    if (listed.length !== before + copies - (listed.includes(id) ? 0 : 1)) problems.push(`${copies} copies were made`);
    if (gone) {
      counts.goneForGood += 1;
      if ((await server.ask(at)).status !== 404) problems.push('what is gone for good opens');
    } else {
      if (binned.includes(id)) {
        counts.inTheBin += 1;
        if ((await server.ask(at)).status !== 410) problems.push('what lies in the bin opens');
        if ((await edit('late')) !== 410) problems.push('what lies in the bin takes a change');
        await server.ask(`${at}/restore`, { method: 'POST' });
      } else counts.kept += 1;
      const open = (await server.ask(at)).body as { history: { entries: { label: string }[] } };
      const found = open.history?.entries.map(({ label }) => label) ?? [];
      for (const label of labels)
        if (!found.includes(label)) problems.push(`${label} was acknowledged, and is not there`);
      if (found.length !== labels.size) problems.push(`${found.length} changes are there for ${labels.size}`);
    }
    // The library stays small.
    if (counts.interleavings % 25 === 24)
      for (const old of (await idsAt(library)).filter((other) => other !== original)) {
        await server.ask(`${library}/${old}`, { method: 'DELETE' });
        await server.ask(`${library}/bin/${old}`, { method: 'DELETE' });
      }
    counts.interleavings += 1;
  }
  await server.end();
  return { ...counts, problems };
};
