/** Runs a plan over Played and yields Written, with a reason for each change. */
import { instrumentById } from '../instruments/instruments.js';
import { GENERAL_MIDI_MAP } from '../instruments/percussionMap.js';
import { type Arrangement, compareNotes, type NoteId, type Part } from '../model/arrangement.js';
import { createIdTable } from '../model/idTable.js';
import { createMadeIds, type MadeCounts } from '../model/madeIds.js';
import type { Plan, PlanStep } from '../model/plan.js';
import type { StepId } from '../model/stepParameters.js';
import { heardIn } from '../reading/autoGrid.js';
import { type CommonPlaces, sameCommon } from '../reading/commonPlaces.js';
import type { StepContext } from '../reading/context.js';
import { inOrder } from '../reading/noteGroups.js';
import { pedalSpans } from '../reading/pedal.js';
import { sameItems } from '../reading/recall.js';
import { placed, type StepNote } from '../reading/stepNote.js';
import { looksOf, runStep, stepById } from '../steps/registry.js';
import { type StepChange, type StepResult, unchanged } from '../steps/step.js';
import { lastIndexAtOrBefore } from '../time/search.js';
import { rescaleTicks, WRITTEN_PPQ, type WrittenUnits } from '../time/units.js';
import { withOverrides } from './applyOverrides.js';
import { runsWith } from './plan.js';
import { planOf } from './readyPlans.js';
import type { StepReport, SwingSaid, Written, WrittenNote } from './written.js';
import { type WrittenMaps, writtenMaps } from './writtenMaps.js';

/** All that the steps may know, but for ids: those are handed out step by step. */
const contextOf = (part: Part, ppq: number, maps: WrittenMaps): Omit<StepContext, 'newId'> => ({
  ...maps,
  ppq: WRITTEN_PPQ,
  // Steps read controllers alone; bends and texts can be many.
  events: part.events
    .filter((event) => event.kind === 'controller')
    .map((event) => ({ ...event, tick: rescaleTicks(event.tick, ppq, WRITTEN_PPQ) })),
  instrument: instrumentById(part.instrument),
  percussion: part.percussionMap ?? GENERAL_MIDI_MAP,
  earlierParts: maps.earlierPartsOf(part),
  otherParts: maps.otherPartsOf(part),
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
const runInPassages = (notes: readonly StepNote[], context: StepContext, base: PlanStep, plan: Plan): StepResult => {
  const passages = plan.passages.flatMap((passage) => {
    const own = passage.steps.find((item) => item.step === base.step);
    const lowest = context.bars[0]?.number ?? 1;
    const first = context.bars[Math.max(0, passage.firstBar - lowest)];
    const last = context.bars[Math.min(passage.lastBar - lowest, context.bars.length - 1)];
    return own && first && last ? [{ own, start: first.start, end: last.end }] : [];
  });
  const run = (item: PlanStep, some: readonly StepNote[]): StepResult =>
    item.on ? runStep(item, some, context) : unchanged(some);
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
    ...hearing(results.find((result) => result.heard)?.heard),
  };
};

const hearing = (heard: CommonPlaces | undefined): Pick<StepResult, 'heard'> => (heard ? { heard } : {});

/** True where a layer hangs on where the other parts begin. */
export const hearsOthers = ({ steps }: Pick<Written, 'steps'>): boolean => steps.some((step) => step.heardOthers);

/** What a step did, but for the notes that the person told it to leave alone. */
interface Vetoed extends Pick<StepResult, 'notes' | 'changes'> {
  readonly vetoed: readonly StepChange[];
}

/** Puts notes back that the person told the step to leave alone. */
const putBack = (result: StepResult, vetoed: ReadonlySet<NoteId>): Vetoed => {
  const undone = result.changes.filter((change) => vetoed.has(change.noteId));
  if (undone.length === 0) return { ...result, vetoed: [] };
  const before = new Map(undone.map((change) => [change.noteId, change.from]));
  const notes = result.notes.filter((note) => !before.has(note.id));
  return {
    notes: [...notes, ...before.values()].sort(compareNotes),
    changes: result.changes.filter((change) => !before.has(change.noteId)),
    vetoed: undone,
  };
};

const NO_VETOES: ReadonlySet<NoteId> = new Set();

/**
 * Runs a step and heeds vetoes. A note that the step would have joined into another is set aside and the step runs again
 * without it: the other must not keep the length that it got from it. Where notes stand for each other as a `whole`, as in an
 * ornament, a veto of the one that is left is a veto of them all.
 */
const runWithVetoes = (
  run: (notes: readonly StepNote[]) => StepResult,
  notes: readonly StepNote[],
  vetoed: ReadonlySet<NoteId>,
  whole: boolean,
): Vetoed & Pick<StepResult, 'remarks' | 'heard'> => {
  const ran = run(notes);
  if (vetoed.size === 0) return { ...ran, vetoed: [] };
  const joined = ran.changes.filter(
    ({ noteId, into }) => into !== undefined && (vetoed.has(noteId) || (whole && vetoed.has(into))),
  );
  if (joined.length === 0) return { ...ran, ...putBack(ran, vetoed) };
  const apart = new Set(joined.map((change) => change.noteId));
  const again = run(notes.filter((note) => !apart.has(note.id)));
  const result = putBack(again, vetoed);
  return {
    notes: [...result.notes, ...notes.filter((note) => apart.has(note.id))].sort(compareNotes),
    changes: result.changes,
    vetoed: [...joined, ...result.vetoed],
    remarks: again.remarks,
    ...hearing(again.heard),
  };
};

/** How many notes some changes are of. */
const notesIn = (changes: readonly StepChange[]): number => {
  const met = createIdTable<true>(changes);
  for (const { noteId } of changes) met.set(noteId, true);
  return met.size();
};

/** What one step was given and made, so that it need not run again on the same. */
interface Stage {
  readonly item: string;
  readonly input: readonly StepNote[];
  readonly output: readonly StepNote[];
  /** How many notes were made from each, up to here. */
  readonly made: MadeCounts;
  readonly report: StepReport;
  /** Where other parts began, where it was made by that too. */
  readonly heard?: CommonPlaces;
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
  last.part.instrument === part.instrument &&
  last.part.percussionMap === part.percussionMap &&
  last.mapsKey === maps.key;

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
  const sameEvents = before?.part.events === part.events;
  const start = before?.start ?? toStepNotes(part, ppq);
  let notes = start;
  let made: MadeCounts = NONE_MADE;
  const stages: Stage[] = [];
  plan.steps.forEach((item, place) => {
    const passages = plan.passages.flatMap((passage) => passage.steps.filter((own) => own.step === item.step));
    if (!item.on && passages.length === 0) return;
    const vetoed = vetoes.get(item.step) ?? NO_VETOES;
    const key = JSON.stringify([
      item,
      plan.passages.filter(({ steps }) => steps.some((own) => own.step === item.step)),
      [...vetoed],
    ]);
    const known = before?.stages[stages.length];
    const ids = createMadeIds(made);
    const own: StepContext = { ...context, newId: ids.newId };
    const looks = [item, ...passages].map((own) => looksOf(own));
    // Another part may have changed without this one knowing.
    const asBefore =
      looks.every(({ parts, pedal }) => !parts && (!pedal || sameEvents)) &&
      (!known?.heard || sameCommon(known.heard, heardIn(own)));
    if (known && known.item === key && known.input === notes && asBefore) {
      stages.push(known.report.place === place ? known : { ...known, report: { ...known.report, place } });
      notes = known.output;
      made = known.made;
      return;
    }
    const result = runWithVetoes(
      (some) => runInPassages(some, own, item, plan),
      notes,
      vetoed,
      stepById(item.step).pageOnly === true,
    );
    made = ids.counts();
    const report: StepReport = {
      step: item.step,
      place,
      touched: notesIn(result.changes),
      changes: result.changes,
      vetoed: result.vetoed,
      remarks: result.remarks ?? [],
      ...(result.heard ? { heardOthers: true } : {}),
    };
    stages.push({ item: key, input: notes, output: result.notes, made, report, ...hearing(result.heard) });
    notes = result.notes;
  });
  // Nothing at all has changed but what other parts do elsewhere.
  if (last && before === last && last.part === part && sameItems(stages, last.stages)) return last;
  const steps = stages.map((stage) => stage.report);
  const written = withOverrides(asWritten(notes, steps), part.overrides, part.channel);
  return {
    written: {
      partId: part.id,
      notes: written,
      steps,
      swings: swingsSaid(plan, steps, written),
      pedals: shownPedals(plan, context, written),
    },
    part,
    mapsKey: maps.key,
    start,
    stages,
  };
};

const NONE_MADE: MadeCounts = new Map();

/** Each press from the written start it belongs to until where it lifts. */
const shownPedals = (
  plan: Plan,
  { events }: Pick<StepContext, 'events'>,
  written: readonly WrittenNote[],
): Written['pedals'] => {
  const shown = runsWith(plan, 'sustainToDurations', ({ keepPedal }) => keepPedal);
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

/** Where the plan wrote straight what was swung. */
const swingsSaid = (plan: Plan, steps: readonly StepReport[], written: readonly WrittenNote[]): Written['swings'] => {
  const straight = runsWith(plan, 'quantizeStarts', ({ swung }) => swung === 'straight');
  const onsets = new Map<NoteId, number>();
  const said: SwingSaid[] = [];
  for (const { kind, noteIds, swing } of steps.flatMap((report) => report.remarks)) {
    if (!swing || (kind !== 'swung' && !(straight && kind === 'swing'))) continue;
    if (onsets.size === 0) for (const { id, onset } of written) onsets.set(id, onset);
    const from = Math.min(...noteIds.map((id) => onsets.get(id) ?? Number.POSITIVE_INFINITY));
    if (!Number.isFinite(from)) continue;
    const { evenFrom, ...how } = swing;
    said.push({ from, swing: how });
    if (evenFrom !== undefined) said.push({ from: evenFrom, swing: 'even' });
  }
  said.sort((a, b) => a.from - b.from);
  // Each hand of a keyboard says it for itself: once is enough.
  return said.filter(({ swing }, index) => (swing === 'even') !== ((said[index - 1]?.swing ?? 'even') === 'even'));
};

const asWritten = (notes: readonly StepNote[], steps: readonly StepReport[]): WrittenNote[] => {
  const joined = sourcesBySurvivor(steps);
  const rolled = new Set(
    steps.flatMap(({ remarks }) => remarks.filter(({ kind }) => kind === 'rolled').flatMap(({ noteIds }) => noteIds)),
  );
  const sourcesOf = ({ id, madeFrom }: StepNote): readonly NoteId[] => {
    if (madeFrom !== undefined) return [madeFrom];
    const more = joined.get(id);
    return more ? [id, ...more] : [id];
  };
  return notes.map((note): WrittenNote => {
    const written: { -readonly [Key in keyof WrittenNote]: WrittenNote[Key] } = {
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
    };
    if (note.signs) written.signs = note.signs;
    if (rolled.has(note.id)) written.rolled = true;
    return written;
  });
};

/** Runs the plan's steps that are on, in order, over one part. Muted notes are left out of Written. */
export const runPlan = (part: Part, ppq: number, maps: WrittenMaps, plan: Plan = planOf(part)): Written =>
  rerunPlan(part, ppq, maps, plan).written;

/** Runs each part's plan. */
export const runPlanOnAll = (arrangement: Arrangement): Written[] => {
  const maps = writtenMaps(arrangement);
  return arrangement.parts.map((part) => runPlan(part, arrangement.ppq, maps));
};
