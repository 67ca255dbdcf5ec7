/** Runs a plan over Played and yields Written, with a reason for each change. */
import { instrumentById } from '../instruments/instruments.js';
import { type Arrangement, compareNotes, lastTick, type NoteId, type Part, type PartId } from '../model/arrangement.js';
import { type StepId, stepById } from '../steps/registry.js';
import { placed, type StepChange, type StepContext, type StepNote } from '../steps/step.js';
import { type Bar, createMeterMap, type MeterMap } from '../time/meterMap.js';
import { createTempoMap, type TempoMap } from '../time/tempoMap.js';
import { rescaleTicks, WRITTEN_PPQ, type WrittenUnits } from '../time/units.js';
import type { Plan } from './plan.js';

/** A note as it will be on the page. Its id is that of the Played note it stands for. */
export interface WrittenNote {
  readonly id: NoteId;
  /** Every Played note that it came from, itself included. */
  readonly sources: readonly NoteId[];
  readonly pitch: number;
  readonly onset: WrittenUnits;
  readonly duration: WrittenUnits;
  readonly velocity: number;
  readonly channel: number;
  readonly staccato: boolean;
}

/** What one step did to a part, positions in written units. */
export interface StepReport {
  readonly step: StepId;
  /** How many notes it touched. */
  readonly touched: number;
  readonly changes: readonly StepChange[];
}

/** The Written layer of one part. */
export interface Written {
  readonly partId: PartId;
  /** In order of onset, pitch, id. */
  readonly notes: readonly WrittenNote[];
  readonly steps: readonly StepReport[];
}

/** The time maps of an arrangement in written units, shared by its parts. */
export interface WrittenMaps {
  readonly tempoMap: TempoMap;
  readonly meterMap: MeterMap;
  readonly bars: readonly Bar[];
}

/** Builds the maps in written units; bars reach a full bar past the last note. */
export const writtenMaps = (arrangement: Pick<Arrangement, 'ppq' | 'tempos' | 'meters' | 'parts'>): WrittenMaps => {
  const scaled = <Item extends { readonly tick: number }>(items: readonly Item[]) =>
    items.map((item) => ({ ...item, tick: rescaleTicks(item.tick, arrangement.ppq, WRITTEN_PPQ) }));
  const meterMap = createMeterMap(scaled(arrangement.meters), WRITTEN_PPQ);
  const end = rescaleTicks(lastTick(arrangement.parts), arrangement.ppq, WRITTEN_PPQ);
  return {
    tempoMap: createTempoMap(scaled(arrangement.tempos), WRITTEN_PPQ),
    meterMap,
    bars: meterMap.barsTo(end + WRITTEN_PPQ * 4),
  };
};

const contextOf = (part: Part, ppq: number, maps: WrittenMaps): StepContext => ({
  ...maps,
  ppq: WRITTEN_PPQ,
  // Steps read controllers alone; bends and texts can be many.
  events: part.events
    .filter((event) => event.kind === 'controller')
    .map((event) => ({ ...event, tick: rescaleTicks(event.tick, ppq, WRITTEN_PPQ) })),
  instrument: instrumentById(part.instrument),
});

const toStepNotes = (part: Part, ppq: number): StepNote[] =>
  part.notes
    .filter((note) => !note.muted)
    .map((note) => {
      const onset = rescaleTicks(note.onset, ppq, WRITTEN_PPQ);
      return placed(note, onset, rescaleTicks(note.onset + note.duration, ppq, WRITTEN_PPQ) - onset);
    });

/** Follows notes that were joined into others, so that each Written note knows its Played ones. */
const sourcesBySurvivor = (reports: readonly StepReport[]): Map<NoteId, NoteId[]> => {
  const sources = new Map<NoteId, NoteId[]>();
  for (const { changes } of reports) {
    for (const { noteId, into } of changes) {
      if (into === undefined) continue;
      const own = sources.get(noteId) ?? [];
      sources.set(into, [...(sources.get(into) ?? []), noteId, ...own]);
      sources.delete(noteId);
    }
  }
  return sources;
};

/** Runs the plan's steps that are on, in order, over one part. Muted notes are left out of Written. */
export const runPlan = (part: Part, ppq: number, maps: WrittenMaps, plan: Plan): Written => {
  const context = contextOf(part, ppq, maps);
  let notes: readonly StepNote[] = toStepNotes(part, ppq);
  const steps: StepReport[] = [];
  for (const { step, on, parameters } of plan.steps) {
    if (!on) continue;
    const result = stepById(step).run(notes, context, parameters);
    notes = result.notes;
    const touched = new Set(result.changes.map((change) => change.noteId)).size;
    steps.push({ step, touched, changes: result.changes });
  }
  const joined = sourcesBySurvivor(steps);
  const written = [...notes].sort(compareNotes).map(
    (note): WrittenNote => ({
      id: note.id,
      sources: [note.id, ...(joined.get(note.id) ?? [])],
      pitch: note.pitch,
      onset: note.onset as number as WrittenUnits,
      duration: note.duration as number as WrittenUnits,
      velocity: note.velocity,
      channel: note.channel,
      staccato: note.staccato ?? false,
    }),
  );
  return { partId: part.id, notes: written, steps };
};

/** Runs the arrangement's plan over all of its parts. */
export const runPlanOnAll = (arrangement: Arrangement): Written[] => {
  const maps = writtenMaps(arrangement);
  return arrangement.parts.map((part) => runPlan(part, arrangement.ppq, maps, arrangement.plan));
};
