/** Runs a plan over Played and yields Written, with a reason for each change. */
import { instrumentById } from '../instruments/instruments.js';
import { type Arrangement, compareNotes, lastTick, type NoteId, type Part, type PartId } from '../model/arrangement.js';
import { inOrder } from '../steps/noteGroups.js';
import { pedalSpans } from '../steps/pedal.js';
import { type StepId, stepById } from '../steps/registry.js';
import {
  placed,
  type Remark,
  type Staff,
  type StepChange,
  type StepContext,
  type StepNote,
  type StepResult,
  unchanged,
} from '../steps/step.js';
import { type Bar, createMeterMap, type MeterMap } from '../time/meterMap.js';
import { lastIndexAtOrBefore } from '../time/search.js';
import { createTempoMap, type TempoMap } from '../time/tempoMap.js';
import { rescaleTicks, WRITTEN_PPQ, type WrittenUnits } from '../time/units.js';
import { earlierPartsOf } from './context.js';
import type { Plan, PlanStep } from './plan.js';
import { planOf } from './readyPlans.js';

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
  /** Voice on its staff, from 1, the uppermost first. */
  readonly voice: number;
  /** Staff from the top, for parts on two. */
  readonly staff: Staff;
}

/** What one step did to a part, positions in written units. */
export interface StepReport {
  readonly step: StepId;
  /** How many notes it touched. */
  readonly touched: number;
  readonly changes: readonly StepChange[];
  /** What it would have done to notes that the person told it to leave alone. */
  readonly vetoed: readonly StepChange[];
  readonly remarks: readonly Remark[];
}

/** The Written layer of one part. */
export interface Written {
  readonly partId: PartId;
  /** In order of onset, pitch, id. */
  readonly notes: readonly WrittenNote[];
  readonly steps: readonly StepReport[];
  /** Where the first swung note stands that is written straight: the page says so there. Null where none is. */
  readonly swungFrom: WrittenUnits | null;
  /** Presses of the sustain pedal that the page shows as lines; none where the plan turns them into lengths alone. */
  readonly pedals: readonly { readonly down: number; readonly up: number }[];
}

/** The time maps of an arrangement in written units, shared by its parts. */
export interface WrittenMaps {
  readonly tempoMap: TempoMap;
  readonly meterMap: MeterMap;
  readonly bars: readonly Bar[];
  readonly fifths: number;
  /** The same for the same times. */
  readonly key: string;
  /** Starts of a part as played, rising. */
  readonly onsetsOf: (partId: number) => readonly number[];
  /** Notes of the parts above one. */
  readonly earlierPartsOf: (part: Part) => NonNullable<StepContext['earlierParts']>;
}

/** Builds the maps in written units; bars reach a full bar past the last note. */
export const writtenMaps = (
  arrangement: Pick<Arrangement, 'ppq' | 'tempos' | 'meters' | 'keys' | 'parts'>,
): WrittenMaps => {
  const scaled = <Item extends { readonly tick: number }>(items: readonly Item[]) =>
    items.map((item) => ({ ...item, tick: rescaleTicks(item.tick, arrangement.ppq, WRITTEN_PPQ) }));
  const meterMap = createMeterMap(scaled(arrangement.meters), WRITTEN_PPQ);
  const end = rescaleTicks(lastTick(arrangement.parts), arrangement.ppq, WRITTEN_PPQ);
  return {
    tempoMap: createTempoMap(scaled(arrangement.tempos), WRITTEN_PPQ),
    meterMap,
    bars: meterMap.barsTo(end + WRITTEN_PPQ * 4),
    fifths: arrangement.keys[0]?.fifths ?? 0,
    key: JSON.stringify([arrangement.ppq, arrangement.tempos, arrangement.meters, arrangement.keys]),
    earlierPartsOf: (part) => earlierPartsOf(arrangement, part, WRITTEN_PPQ),
    onsetsOf: (partId) =>
      arrangement.parts
        .find((part) => part.id === partId)
        ?.notes.map((note) => rescaleTicks(note.onset, arrangement.ppq, WRITTEN_PPQ)) ?? [],
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
  earlierParts: maps.earlierPartsOf(part),
});

const toStepNotes = (part: Part, ppq: number): readonly StepNote[] => {
  const notes: StepNote[] = [];
  for (const note of part.notes) {
    if (note.muted) continue;
    const onset = rescaleTicks(note.onset, ppq, WRITTEN_PPQ);
    notes.push(placed(note, onset, rescaleTicks(note.onset + note.duration, ppq, WRITTEN_PPQ) - onset));
  }
  return inOrder(notes, []);
};

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

/** One step over notes, each passage with its own parameters. */
const runStep = (notes: readonly StepNote[], context: StepContext, base: PlanStep, plan: Plan): StepResult => {
  const passages = plan.passages.flatMap((passage) => {
    const own = passage.steps.find((item) => item.step === base.step);
    const first = context.bars[passage.firstBar - 1];
    const last = context.bars[Math.min(passage.lastBar, context.bars.length) - 1];
    return own && first && last ? [{ own, start: first.start, end: last.end }] : [];
  });
  const run = ({ step, on, parameters }: PlanStep, some: readonly StepNote[]): StepResult =>
    on ? stepById(step).run(some, context, parameters) : unchanged(some);
  if (passages.length === 0) return run(base, notes);
  const holding = (note: StepNote) => passages.find(({ start, end }) => note.onset >= start && note.onset < end);
  const results = [
    run(
      base,
      notes.filter((note) => !holding(note)),
    ),
    ...passages.map((passage) =>
      run(
        passage.own,
        notes.filter((note) => holding(note) === passage),
      ),
    ),
  ];
  return {
    notes: results.flatMap((result) => result.notes).sort(compareNotes),
    changes: results.flatMap((result) => result.changes),
    remarks: results.flatMap((result) => result.remarks ?? []),
  };
};

/** Puts notes back that the person told the step to leave alone. */
const withVetoes = (
  result: StepResult,
  vetoed: ReadonlySet<NoteId> | undefined,
): { notes: readonly StepNote[]; changes: readonly StepChange[]; vetoed: readonly StepChange[] } => {
  const undone = vetoed ? result.changes.filter((change) => vetoed.has(change.noteId)) : [];
  if (undone.length === 0) return { ...result, vetoed: [] };
  const before = new Map(undone.map((change) => [change.noteId, change.from]));
  const notes = result.notes.filter((note) => !before.has(note.id));
  return {
    notes: [...notes, ...before.values()].sort(compareNotes),
    changes: result.changes.filter((change) => !before.has(change.noteId)),
    vetoed: undone,
  };
};

/** What one step was given and made, so that it need not run again on the same. */
interface Stage {
  readonly item: string;
  readonly input: readonly StepNote[];
  readonly output: readonly StepNote[];
  readonly report: StepReport;
}

/** A plan that was run, and how: what a later run of a changed plan can begin from. */
export interface PlanRun {
  readonly written: Written;
  readonly part: Part;
  readonly mapsKey: string;
  readonly start: readonly StepNote[];
  readonly stages: readonly Stage[];
}

/** True where the notes enter the plan as they did in an earlier run, in the same times. */
const entersAlike = (part: Part, maps: WrittenMaps, last: PlanRun): boolean =>
  last.part.notes === part.notes &&
  last.part.events === part.events &&
  last.part.instrument === part.instrument &&
  last.mapsKey === maps.key;

/** Another part may have changed without this part knowing. */
const looksElsewhere = ({ step, parameters }: PlanStep): boolean =>
  step === 'follow' || (step === 'deDuplicate' && (parameters as { acrossParts?: boolean }).acrossParts === true);

/** As {@link runPlan}; up to the first step that changed since `last`, its results are taken over. */
export const rerunPlan = (part: Part, ppq: number, maps: WrittenMaps, plan: Plan, last?: PlanRun): PlanRun => {
  const context = contextOf(part, ppq, maps);
  const vetoes = new Map<StepId, Set<NoteId>>();
  for (const { step, noteId } of part.vetoes ?? []) {
    const known = vetoes.get(step);
    if (known) known.add(noteId);
    else vetoes.set(step, new Set([noteId]));
  }
  const before = last && entersAlike(part, maps, last) ? last : undefined;
  const start = before?.start ?? toStepNotes(part, ppq);
  let notes = start;
  const stages: Stage[] = [];
  for (const item of plan.steps) {
    const passages = plan.passages.filter((passage) => passage.steps.some((own) => own.step === item.step));
    if (!item.on && passages.length === 0) continue;
    const vetoed = vetoes.get(item.step);
    const key = JSON.stringify([item, passages, vetoed ? [...vetoed] : []]);
    const known = before?.stages[stages.length];
    if (known && known.item === key && known.input === notes && !looksElsewhere(item)) {
      stages.push(known);
      notes = known.output;
      continue;
    }
    const ran = runStep(notes, context, item, plan);
    const result = withVetoes(ran, vetoed);
    const report = {
      step: item.step,
      touched: new Set(result.changes.map((change) => change.noteId)).size,
      changes: result.changes,
      vetoed: result.vetoed,
      remarks: ran.remarks ?? [],
    };
    stages.push({ item: key, input: notes, output: result.notes, report });
    notes = result.notes;
  }
  const steps = stages.map((stage) => stage.report);
  const written = asWritten(notes, steps);
  return {
    written: {
      partId: part.id,
      notes: written,
      steps,
      swungFrom: firstSwung(plan, steps, written),
      pedals: shownPedals(plan, context, written),
    },
    part,
    mapsKey: maps.key,
    start,
    stages,
  };
};

/** Each press from the written start it belongs to until where it lifts. */
const shownPedals = (plan: Plan, { events }: StepContext, written: readonly WrittenNote[]): Written['pedals'] => {
  const shown = plan.steps.some(
    (item) => item.step === 'sustainToDurations' && item.on && (item.parameters as { keepPedal?: boolean }).keepPedal,
  );
  const first = written[0];
  if (!shown || !first) return [];
  const end = written.reduce((last, note) => Math.max(last, note.onset + note.duration), 0);
  const onsets = written.map((note) => note.onset);
  return pedalSpans(events, first.channel, end).flatMap(({ down, up }) => {
    // The foot goes down just after the keys: the line begins with the chord that it holds.
    const from = onsets[lastIndexAtOrBefore(onsets, down + WRITTEN_PPQ / 8, (onset) => onset)] ?? down;
    return up > from ? [{ down: from, up: Math.min(up, end) }] : [];
  });
};

/** The first note that the plan wrote straight though it was swung. */
const firstSwung = (plan: Plan, steps: readonly StepReport[], written: readonly WrittenNote[]): WrittenUnits | null => {
  const straight = plan.steps.some(
    (item) => item.step === 'quantizeStarts' && item.on && (item.parameters as { swung?: string }).swung === 'straight',
  );
  if (!straight) return null;
  const swung = new Set(
    steps.flatMap((report) => report.remarks.filter((r) => r.kind === 'swing').flatMap((r) => r.noteIds)),
  );
  return written.find((note) => swung.has(note.id))?.onset ?? null;
};

const asWritten = (notes: readonly StepNote[], steps: readonly StepReport[]): WrittenNote[] => {
  const joined = sourcesBySurvivor(steps);
  const sourcesOf = ({ id, madeFrom }: StepNote): readonly NoteId[] => {
    if (madeFrom !== undefined) return [madeFrom];
    const more = joined.get(id);
    return more ? [id, ...more] : [id];
  };
  return notes.map(
    (note): WrittenNote => ({
      id: note.id,
      sources: sourcesOf(note),
      pitch: note.pitch,
      onset: note.onset as number as WrittenUnits,
      duration: note.duration as number as WrittenUnits,
      velocity: note.velocity,
      channel: note.channel,
      staccato: note.staccato ?? false,
      voice: note.voice ?? 1,
      staff: note.staff ?? 1,
    }),
  );
};

/** Runs the plan's steps that are on, in order, over one part. Muted notes are left out of Written. */
export const runPlan = (part: Part, ppq: number, maps: WrittenMaps, plan: Plan = planOf(part)): Written =>
  rerunPlan(part, ppq, maps, plan).written;

/** Runs each part's plan. */
export const runPlanOnAll = (arrangement: Arrangement): Written[] => {
  const maps = writtenMaps(arrangement);
  return arrangement.parts.map((part) => runPlan(part, arrangement.ppq, maps));
};
