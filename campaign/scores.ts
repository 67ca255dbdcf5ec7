/** Damaged scores, MIDI files and archives, sent to a server: refused in words, or stored so that they can be had again whole. */
import { isDeepStrictEqual } from 'node:util';
import { type Arrangement, demoArrangement, importMidi, preludeArrangement, prepareExport } from '@crispfold/core';
import { chanceFrom, damaged } from '../apps/server/src/testing/damaged.js';
import { asForm, asJson, type Tally, Tried } from './server.js';

/** One in so many of those that are read is exported too: a page takes longer than all else together. */
const EXPORTED = 12;

interface Opened {
  readonly arrangement: Arrangement;
  readonly revision: number;
}

export const damagedScores = async (more: () => boolean): Promise<Tally> => {
  const problems: string[] = [];
  const counts = {
    files: 0,
    scores: 0,
    archives: 0,
    refused: 0,
    stored: 0,
    broughtBack: 0,
    exported: 0,
    mostMegabytes: 0,
  };
  const server = new Tried();
  await server.start();
  const chance = chanceFrom(61);
  const prelude = preludeArrangement();
  const scores = [prelude, demoArrangement()].flatMap((piece) => {
    const write = prepareExport(piece);
    return [
      ['a.musicxml', write('musicxml')],
      ['a.mxl', write('mxl')],
      ['a.mid', write('midi-played')],
    ] as const;
  });
  const first = (
    (await server.ask('/api/arrangements', asForm(['a.mid', scores[2]?.[1] ?? new Uint8Array()]))).body as {
      open: { id: string };
    }
  ).open.id;
  await server.ask(`/api/arrangements/${first}`, asJson({ title: 'Dusk' }, 'PATCH'));
  const archive = new Uint8Array(
    await (await fetch(new URL(`/api/arrangements/${first}/archive`, server.address))).arrayBuffer(),
  );
  const opened = async (id: string): Promise<Opened> => (await server.ask(`/api/arrangements/${id}`)).body as Opened;
  const goesRound = async (id: string, seed: number): Promise<void> => {
    const renamed = await server.ask(`/api/arrangements/${id}`, asJson({ title: `after ${seed}` }, 'PATCH'));
    if (renamed.status !== 200) problems.push(`file ${seed} cannot be changed: ${JSON.stringify(renamed.body)}`);
    const now = await opened(id);
    const taken = await fetch(new URL(`/api/arrangements/${id}/archive`, server.address));
    if (taken.status !== 200) problems.push(`file ${seed} cannot be taken away: ${taken.status}`);
    const back = await server.ask(
      '/api/arrangements/archive',
      asForm(['a.zip', new Uint8Array(await taken.arrayBuffer())]),
    );
    if (back.status !== 201) {
      problems.push(`file ${seed} cannot be brought back: ${JSON.stringify(back.body)}`);
      return;
    }
    counts.broughtBack += 1;
    const other = (back.body as { id: string }).id;
    if (!isDeepStrictEqual((await opened(other)).arrangement, now.arrangement))
      problems.push(`file ${seed} came back otherwise`);
    if (counts.stored % EXPORTED === 0) {
      const write = prepareExport(now.arrangement);
      write('musicxml');
      if (!importMidi([{ name: 'again.mid', bytes: write('midi-played') }]).ok)
        problems.push(`file ${seed} cannot be read again as MIDI`);
      counts.exported += 1;
    }
    for (const gone of [id, other]) {
      await server.ask(`/api/arrangements/${gone}`, { method: 'DELETE' });
      await server.ask(`/api/arrangements/bin/${gone}`, { method: 'DELETE' });
    }
  };
  while (more() && problems.length < 5 && server.alive) {
    const seed = Math.floor(chance() * 2 ** 31);
    const times = 1 + Math.floor(chance() * 3);
    const isArchive = chance() < 0.3;
    const [name, bytes] = isArchive
      ? (['a.zip', archive] as const)
      : (scores[Math.floor(chance() * scores.length)] as readonly [string, Uint8Array]);
    const at = isArchive ? '/api/arrangements/archive' : '/api/arrangements';
    const answer = await server.ask(at, asForm([name, damaged(bytes, seed, times)]));
    counts.files += 1;
    if (isArchive) counts.archives += 1;
    else counts.scores += 1;
    const body = answer.body as { open?: { id: string }; id?: string; error?: { message: string } };
    if (answer.status === 422) {
      counts.refused += 1;
      if (!/[.]$/.test(body.error?.message ?? '')) problems.push(`no sentence: ${JSON.stringify(body)}`);
    } else if (answer.status !== 201)
      problems.push(`file ${seed} was answered ${answer.status}: ${JSON.stringify(body)}`);
    else {
      counts.stored += 1;
      await goesRound(body.open?.id ?? body.id ?? '', seed);
    }
    if (counts.files % 50 === 0) counts.mostMegabytes = Math.max(counts.mostMegabytes, await server.megabytes());
  }
  await server.end();
  return { ...counts, problems };
};
