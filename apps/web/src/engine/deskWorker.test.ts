import { type Arrangement, demoArrangement, type Part, planOf, READY_PLANS } from '@crispfold/core';
import { beforeAll, describe, expect, it, vi } from 'vitest';
import type { DeskWorker } from './deskWorker.js';
import { unpackNotes } from './packedNotes.js';

const exposed = vi.hoisted(() => ({ worker: undefined as unknown }));
vi.mock('comlink', () => ({
  expose: (worker: unknown) => {
    exposed.worker = worker;
  },
  transfer: (value: unknown) => value,
}));

const demo = demoArrangement();
const { parts, ...header } = demo;
const order = parts.map((part) => part.id);
const flute = parts[0] as Part;
let turn = 0;
let worker: DeskWorker;

beforeAll(async () => {
  await import('./deskWorker.js');
  worker = exposed.worker as DeskWorker;
});

const update = (changed: Parameters<DeskWorker['update']>[2], ids = order, more: Partial<Arrangement> = {}) => {
  turn += 1;
  return worker.update(turn, { ...header, ...more }, changed, ids);
};
const withPlan = (plan: Part['plan']) => {
  const { notes, events, ...rest } = { ...flute, plan };
  return rest;
};

describe('the worker of the Desk', () => {
  it('answers with a layer for each part, and then with what changed alone', async () => {
    const all = await update(parts);
    expect(all?.map((layer) => layer.partId)).toEqual(order);
    expect(all?.[0]?.touched.find(({ step }) => step === 'quantizeStarts')?.count).toBeGreaterThan(0);
    expect(await update([])).toEqual([]);
  });

  it('keeps the notes of a part of which only the plan is new', async () => {
    const all = await update([withPlan(READY_PLANS.chords)]);
    expect(all?.map((layer) => layer.partId)).toEqual([flute.id]);
    expect(all?.[0]?.touched.map(({ step }) => step)).toContain('separateVoices');
    expect(all?.[0]?.suggestion).toBe('');
    const empty = await update([withPlan({ ...planOf(flute), steps: [] })]);
    expect(empty?.[0] && unpackNotes(empty[0].packed)).toHaveLength(flute.notes.length);
    expect((await update([withPlan(undefined)]))?.[0]?.suggestion).not.toBe('');
  });

  it('lets a newer call answer for an older one', async () => {
    const older = update(parts.map((part) => ({ ...part })));
    const newer = update([]);
    expect(await older).toBeNull();
    expect((await newer)?.map((layer) => layer.partId)).toEqual(order);
  });

  it('runs all again in other times, and forgets parts that went', async () => {
    const slower = { tempos: demo.tempos.map((tempo) => ({ ...tempo, microsecondsPerQuarter: 900_000 })) };
    expect(await update([], order, slower)).toHaveLength(order.length);
    expect(await update([])).toHaveLength(order.length);
    await update([], order.slice(1));
    expect(await worker.timing(flute.id)).toEqual({ played: [], written: [] });
    expect(await update([flute])).toHaveLength(1);
  });

  it('tells what each step did to a note, vetoes among it', async () => {
    const taken = flute.notes.find((note) => worker.reasons(flute.id, note.id).some(({ change }) => !change.to));
    if (!taken) throw new Error('the demo has litter');
    const [reason] = worker.reasons(flute.id, taken.id).filter(({ change }) => !change.to);
    if (!reason) throw new Error('no reason');
    const { notes, events, ...rest } = { ...flute, vetoes: [{ noteId: taken.id, step: reason.step }] };
    await update([rest]);
    expect(worker.reasons(flute.id, taken.id)).toContainEqual({ ...reason, vetoed: true });
    await update([flute]);
  });

  it('finds what is to be looked at, part by part, and what a step would touch', async () => {
    const findings = await worker.findings(turn);
    expect(new Set(findings?.map((finding) => finding.partId)).size).toBeGreaterThan(3);
    const ids = flute.notes.map((note) => note.id);
    const counts = new Map(worker.stepCounts(flute.id, ids));
    expect(counts.get('quantizeStarts')).toBe(worker.stepEdit(flute.id, ids, 'quantizeStarts', {}).touched);
    expect(worker.stepEdit(99, ids, 'merge', {})).toEqual({ touched: 0, edit: null });
  });

  it('writes the page of the bars asked for, and files', () => {
    const page = worker.page([flute.id], 2, 3);
    expect(page.match(/<measure /g)).toHaveLength(2);
    expect(page).toContain('<part-name>Flute</part-name>');
    const midi = worker.exportFile('midi-played', [flute.id], false);
    expect(String.fromCharCode(...midi.slice(0, 4))).toBe('MThd');
  });
});
