/** A disk that is full: each change is refused in words or is there; the server goes on, and all is there when there is room. */
import { demoArrangement, demoMidi, moveNotes, selectionOf, slimEdit } from '@crispfold/core';
import { asForm, asJson, chanceOf, type Tally, Tried } from './server.js';

/** So large may a file of the server get, in blocks of 512 bytes: as if the disk ended there. */
const BLOCKS = 3000;

export const fullDisk = async (): Promise<Tally> => {
  const problems: string[] = [];
  const chance = chanceOf(5);
  const server = new Tried();
  await server.start({}, BLOCKS);
  const made = (await server.ask('/api/arrangements', asForm(['a.mid', demoMidi()]))).body as { open: { id: string } };
  const { id } = made.open;
  const demo = demoArrangement();
  let revision = 0;
  let refused = 0;
  const answers: { [status: string]: number } = {};
  for (let at = 0; at < 4000 && refused < 20 && server.alive; at += 1) {
    const [part] = demo.parts;
    // Changes that do not pack well, so that the disk fills soon.
    const moves = (part?.notes ?? []).map(({ id: note }) =>
      moveNotes(demo, selectionOf(part?.id ?? 0, [note]), { byTicks: Math.floor(chance() * 9000), bySemitones: 0 }),
    );
    const changes = moves.flatMap((move) => (move ? slimEdit(move).changes : []));
    const entries = [{ kind: 'edit', edit: { label: `change ${at}`, changes } }];
    const answer = await server.ask(`/api/arrangements/${id}/journal`, asJson({ baseRevision: revision, entries }));
    answers[answer.status] = (answers[answer.status] ?? 0) + 1;
    if (answer.status === 200) revision = (answer.body as { revision: number }).revision;
    else {
      refused += 1;
      if (answer.status !== 507)
        problems.push(`a full disk was answered ${answer.status}: ${JSON.stringify(answer.body)}`);
    }
  }
  if (refused === 0) problems.push('the disk never got full');
  if (!server.alive) problems.push('the server ended when the disk was full');
  else if ((await server.ask(`/api/arrangements/${id}`)).status !== 200) problems.push('it no longer opens');
  await server.end();
  await server.start();
  const open = (await server.ask(`/api/arrangements/${id}`)).body as { revision: number };
  if (open.revision !== revision) problems.push(`${revision} changes were acknowledged, ${open.revision} are there`);
  await server.end();
  return { acknowledged: revision, refused, answers: JSON.stringify(answers), problems };
};
