import { demoArrangement, planOf, planStep, runPlan, runPlanOnAll, writtenMaps } from '@crispfold/core';
import { describe, expect, it } from 'vitest';
import { packNotes, packPlayed, unpackNotes, unpackPlayed } from './packedNotes.js';

describe('packed Played notes', () => {
  it('come out as they went in, muted ones and those let go with a speed of their own', () => {
    const notes = demoArrangement().parts.flatMap((part) => part.notes);
    expect(unpackPlayed(packPlayed(notes))).toEqual(notes);
    const [note] = notes;
    if (!note) throw new Error('no note');
    const odd = [
      { ...note, muted: true },
      { ...note, releaseVelocity: 0 },
      { ...note, releaseVelocity: 9, muted: true },
    ];
    expect(unpackPlayed(packPlayed(odd))).toEqual(odd);
  });
});

describe('packed notes', () => {
  it('come out as they went in, those of several sources too', () => {
    const layers = runPlanOnAll(demoArrangement());
    expect(layers.some(({ notes }) => notes.some((note) => note.sources.length > 1))).toBe(true);
    for (const { notes } of layers) expect(unpackNotes(packNotes(notes))).toEqual(notes);
  });

  it('keep voice, staff, staccato and a source that is not the note itself', () => {
    const [note] = runPlanOnAll(demoArrangement())[0]?.notes ?? [];
    if (!note) throw new Error('no note');
    const odd = [{ ...note, voice: 3, staff: 2 as const, staccato: true, sources: [note.id + 1] }];
    expect(unpackNotes(packNotes(odd))).toEqual(odd);
  });

  it('keep the ids of notes that a plan makes, which later steps may touch', () => {
    const demo = demoArrangement();
    const [part] = demo.parts;
    if (!part) throw new Error('no part');
    const steps = [planStep('splitEvenly'), planStep('quantizeStarts')];
    const { notes } = runPlan(part, demo.ppq, writtenMaps(demo), { ...planOf(part), steps });
    expect(notes.length).toBeGreaterThan(part.notes.length);
    expect(new Set(notes.map(({ id }) => id)).size).toBe(notes.length);
    expect(unpackNotes(packNotes(notes))).toEqual(notes);
  });

  it('are none where there are none', () => expect(unpackNotes(packNotes([]))).toEqual([]));
});
