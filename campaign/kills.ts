/** kill -9 in edits, imports, deletes, snapshots, folding, backups: nothing acknowledged is lost, nothing is half done. */
import {
  type Arrangement,
  applyEdit,
  demoArrangement,
  demoMidi,
  invertEdit,
  type KeptEdit,
  moveNotes,
  selectionOf,
  slimEdit,
} from '@crispfold/core';
import { asForm, asJson, chanceOf, type Tally, Tried } from './server.js';

interface Known {
  id: string;
  revision: number;
  arrangement: Arrangement;
  /** Edits in force and undone, as the history has them. */
  edits: KeptEdit[];
  position: number;
}

const clone = (known: Known): Known => ({ ...known, edits: [...known.edits] });

export const killed = async (more: () => boolean): Promise<Tally> => {
  const chance = chanceOf(7);
  const problems: string[] = [];
  const counts = { kills: 0, acknowledged: 0, imports: 0, deletes: 0, backups: 0, cleanStops: 0, slowestStop: 0 };
  const server = new Tried();
  await server.start();
  const created = (await server.ask('/api/arrangements', asForm(['Saltmarsh Lanterns.mid', demoMidi()]))).body as {
    open: { id: string };
  };
  /** How it stands as far as it was acknowledged, and how it would stand if what is under way got through. */
  let sure: Known = { id: created.open.id, revision: 0, arrangement: demoArrangement(), edits: [], position: 0 };
  let perhaps: Known | null = null;
  let gone = new Set<string>();
  /** What is being deleted: killed in the midst of it, it may be there or not. */
  let leaving: string | null = null;
  let there = new Set<string>([sure.id]);

  const edit = (known: Known): { entry: object; next: Known } => {
    const next = clone(known);
    if (known.position > 0 && chance() < 0.2) {
      next.position = Math.floor(chance() * (known.edits.length + 1));
      for (let at = known.position; at < next.position; at += 1) {
        next.arrangement = applyEdit(next.arrangement, known.edits[at] as KeptEdit);
      }
      for (let at = known.position; at > next.position; at -= 1) {
        next.arrangement = applyEdit(next.arrangement, invertEdit(known.edits[at - 1] as KeptEdit));
      }
      next.revision += 1;
      return { entry: { kind: 'goTo', position: next.position }, next };
    }
    const part = known.arrangement.parts[Math.floor(chance() * known.arrangement.parts.length)];
    const ids = (part?.notes ?? []).filter(() => chance() < 0.3).map(({ id }) => id);
    const made = moveNotes(known.arrangement, selectionOf(part?.id ?? 0, ids), {
      byTicks: 1 + Math.floor(chance() * 60),
      bySemitones: Math.round(chance() * 2 - 1),
    });
    const kept = made ? slimEdit(made) : { label: 'Nothing', changes: [] };
    next.arrangement = applyEdit(known.arrangement, kept);
    next.edits = [...known.edits.slice(0, known.position), kept];
    next.position = next.edits.length;
    next.revision += 1;
    return { entry: { kind: 'edit', edit: kept }, next };
  };

  const work = async (): Promise<void> => {
    for (;;) {
      const what = chance();
      if (what < 0.9) {
        const { entry, next } = edit(sure);
        perhaps = next;
        const answer = await server.ask(
          `/api/arrangements/${sure.id}/journal`,
          asJson({ baseRevision: sure.revision, entries: [entry] }),
        );
        if (answer.status !== 200)
          problems.push(`an edit was answered ${answer.status}: ${JSON.stringify(answer.body)}`);
        sure = next;
        perhaps = null;
        counts.acknowledged += 1;
      } else if (what < 0.95) {
        const answer = await server.ask('/api/arrangements', asForm(['b.mid', demoMidi()]));
        there.add((answer.body as { open: { id: string } }).open.id);
        counts.imports += 1;
      } else if (what < 0.98) {
        const other = [...there].find((id) => id !== sure.id);
        if (!other) continue;
        leaving = other;
        const answer = await server.ask(`/api/arrangements/${other}`, { method: 'DELETE' });
        leaving = null;
        if (answer.status === 204) {
          there.delete(other);
          gone.add(other);
        }
        counts.deletes += 1;
      } else {
        await server.ask('/api/backup');
        counts.backups += 1;
      }
    }
  };

  while (more()) {
    const working = work().catch(() => undefined);
    await new Promise((resolve) => setTimeout(resolve, 20 + chance() * 700));
    if (chance() < 0.05) {
      const took = await server.end('SIGTERM');
      counts.cleanStops += 1;
      counts.slowestStop = Math.max(counts.slowestStop, took);
      if (took > 5000) problems.push(`SIGTERM took ${took} ms`);
    } else {
      await server.end('SIGKILL');
      counts.kills += 1;
    }
    await working;
    await server.start();
    const list = ((await server.ask('/api/arrangements')).body as { id: string }[]).map(({ id }) => id);
    for (const id of there)
      if (!list.includes(id) && id !== leaving) problems.push(`an import that was acknowledged is not there (${id})`);
    for (const id of gone) if (list.includes(id)) problems.push(`what was deleted is there again (${id})`);
    there = new Set(list);
    gone = new Set();
    leaving = null;
    const open = (await server.ask(`/api/arrangements/${sure.id}`)).body as {
      revision: number;
      arrangement: Arrangement;
      history: { position: number };
    };
    const fits = (known: Known | null) =>
      known !== null &&
      open.revision === known.revision &&
      open.history?.position === known.position &&
      JSON.stringify(open.arrangement) === JSON.stringify(known.arrangement);
    if (fits(perhaps)) sure = perhaps as unknown as Known;
    else if (!fits(sure)) {
      problems.push(`after a kill it stands at revision ${open.revision}, acknowledged were ${sure.revision}`);
      break;
    }
    perhaps = null;
  }
  await server.end();
  return { ...counts, problems };
};
