/** A clock that jumps, forth and back, while the server runs and while it does not: nothing is lost, nothing is taken for old. */
import { existsSync, readdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import { demoMidi } from '@crispfold/core';
import { asForm, asJson, chanceOf, type Tally, Tried } from './server.js';

/** Loaded before the server: its clock is off by as many milliseconds as a file says, read anew on each signal. */
const CLOCK = `
import { readFileSync } from 'node:fs';
const own = Date;
const read = () => Number(readFileSync(process.env.CRISPFOLD_TRIED_CLOCK, 'utf8'));
let off = read();
process.on('SIGUSR2', () => { off = read(); });
globalThis.Date = class extends own {
  constructor(...given) { if (given.length === 0) super(own.now() + off); else super(...given); }
  static now() { return own.now() + off; }
};
`;

const DAY = 86_400_000;
/** It is never off by more days than these: the bin is emptied of what has lain there for thirty. */
const MOST_DAYS = 20;

export const clockSet = async (more: () => boolean): Promise<Tally> => {
  const chance = chanceOf(83);
  const problems: string[] = [];
  const counts = { jumps: 0, restarts: 0, acknowledged: 0, daysBack: 0, backups: 0 };
  const server = new Tried();
  const clock = path.join(server.folder, 'clock.mjs');
  const offset = path.join(server.folder, 'clock.txt');
  writeFileSync(clock, CLOCK);
  let off = 0;
  const set = () => writeFileSync(offset, String(off));
  set();
  const environment = {
    NODE_OPTIONS: `--import=${pathToFileURL(clock).href}`,
    CRISPFOLD_TRIED_CLOCK: offset,
  };
  await server.start(environment);
  const import_ = async () =>
    ((await server.ask('/api/arrangements', asForm(['a.mid', demoMidi()]))).body as { open: { id: string } }).open.id;
  const id = await import_();
  const inBin = await import_();
  await server.ask(`/api/arrangements/${inBin}`, { method: 'DELETE' });
  const labels: string[] = [];
  for (let round = 0; more() || round < 8; round += 1) {
    for (let change = 0; change < 3; change += 1) {
      const label = `round ${round}, change ${change}`;
      const body = { baseRevision: labels.length, entries: [{ kind: 'edit', edit: { label, changes: [] } }] };
      const send = () =>
        server.ask(
          `/api/arrangements/${id}/journal`,
          asJson(body, 'POST', { 'crispfold-request': `clock-${round}-${change}` }),
        );
      const first = await send();
      if (change === 1) {
        // The clock jumps between the answer that was lost and the same request sent again.
        const days = Math.round((chance() - 0.5) * 40);
        const next = Math.max(-MOST_DAYS, Math.min(MOST_DAYS, off / DAY + days)) * DAY;
        counts.daysBack += Math.max(0, off - next) / DAY;
        off = next;
        set();
        server.signal('SIGUSR2');
        counts.jumps += 1;
        await new Promise((resolve) => setTimeout(resolve, 30));
      }
      const again = await send();
      if (first.status !== 200 || JSON.stringify(again) !== JSON.stringify(first)) {
        problems.push(`${label} was answered ${first.status}, then ${again.status}`);
      }
      labels.push(label);
      counts.acknowledged += 1;
    }
    await server.ask('/api/backup');
    if (chance() < 0.5) {
      await server.end(chance() < 0.5 ? 'SIGKILL' : 'SIGTERM');
      await server.start(environment);
      counts.restarts += 1;
    }
    const open = (await server.ask(`/api/arrangements/${id}`)).body as {
      revision: number;
      history: { entries: { label: string }[]; skipped: number };
    };
    const expected = labels.slice(open.history?.skipped ?? 0);
    if (open.revision !== labels.length || open.history.entries.map(({ label }) => label).join() !== expected.join()) {
      problems.push(`after round ${round} it stands at revision ${open.revision}, acknowledged were ${labels.length}`);
      break;
    }
  }
  // What lay in the bin for less than its days by every clock is still there to be taken back.
  off = 0;
  set();
  server.signal('SIGUSR2');
  const folder = path.join(server.folder, 'backups');
  counts.backups = existsSync(folder) ? readdirSync(folder).length : 0;
  if (counts.backups > 8) problems.push(`${counts.backups} backups are kept`);
  const restored = await server.ask(`/api/arrangements/${inBin}/restore`, { method: 'POST' });
  if (restored.status !== 204) problems.push(`what lay in the bin was answered ${restored.status}`);
  await server.end();
  return { ...counts, problems };
};
