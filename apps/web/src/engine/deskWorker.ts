/** Runs the plans, the checks and the page's MusicXML away from the screen. Parts arrive once and stay; only changed ones come again. */
import {
  type Arrangement,
  buildScore,
  type ExportKind,
  type Finding,
  findingsOf,
  type NoteId,
  type Part,
  type PartId,
  type PitchReading,
  type PlanRun,
  planOf,
  prepareExport,
  readPitches,
  rerunPlan,
  runPlan,
  STEP_IDS,
  type StepChange,
  type StepEdit,
  type StepId,
  stepEdit,
  suggestedPlan,
  type TimingOffsets,
  timingOffsets,
  type Written,
  type WrittenMaps,
  writeMusicXml,
  writtenMaps,
} from '@crispfold/core';
import { expose, transfer } from 'comlink';
import { type PackedNotes, packNotes } from './packedNotes.js';

type Header = Omit<Arrangement, 'parts'>;

/** A part that changed. Its notes and events are left out where they are those of the last time: they are most of it. */
export type PartNews = Omit<Part, 'notes' | 'events'> & Partial<Pick<Part, 'notes' | 'events'>>;

/** What the screens need of a part's Written layer; reasons are asked for note by note. */
export interface WrittenLayer {
  readonly partId: PartId;
  readonly notes: Written['notes'];
  /** How many notes each step of the plan touched, in the plan's order; steps that are off have none. */
  readonly touched: readonly { readonly step: StepId; readonly count: number }[];
  /** Why this plan, where the part has none of its own. */
  readonly suggestion: string;
}

/** The layer on its way to the screens. */
export type PackedLayer = Omit<WrittenLayer, 'notes'> & { readonly packed: PackedNotes };

/** One step's change to one note; `vetoed` where the person told it to leave the note alone. */
export interface NoteReason {
  readonly step: StepId;
  readonly change: StepChange;
  readonly vetoed: boolean;
}

interface Done {
  readonly part: Part;
  readonly key: string;
  readonly run: PlanRun;
  readonly layer: Written;
}

let arrangement: Arrangement | null = null;
let maps: WrittenMaps | null = null;
let reading: PitchReading | null = null;
let newestTurn = 0;
const written = new Map<PartId, Done>();
/** Parts whose layers are newer than what the screens have. */
const made = new Set<PartId>();
const found = new Map<PartId, { layer: Written; arrangement: Arrangement; findings: Finding[] }>();

/** A number for each list of notes, the same for as long as the list is. */
const serials = new WeakMap<readonly object[], number>();
let nextSerial = 1;
const serialOf = (notes: readonly object[]): number => {
  const known = serials.get(notes) ?? nextSerial++;
  serials.set(notes, known);
  return known;
};

/** True for a plan that looks at other parts: one that follows a part, or takes out doubles of those above. */
const looksAtOthers = (part: Part): boolean =>
  planOf(part).steps.some(({ step, on, parameters }) => {
    const { acrossParts } = parameters as { acrossParts?: boolean };
    return on && (step === 'follow' || acrossParts === true);
  });

/** What besides its own part a layer depends on. */
const keyFor = ({ key }: WrittenMaps, part: Part, parts: readonly Part[]): string =>
  looksAtOthers(part) ? `${key} ${parts.map((other) => serialOf(other.notes)).join()}` : key;

const layers = (): Written[] => (arrangement?.parts ?? []).flatMap((part) => written.get(part.id)?.layer ?? []);

/** So many idle runs over parts of up to so many notes have the engine compiled before the first change is made. */
const WARM_RUNS = 10;
const WARM_NOTES = 4000;
let warm = false;

/** Uses the time in which nothing is asked: code that has run a few times runs several times faster. */
const warmUp = async (turn: number): Promise<void> => {
  for (let run = 0; run < WARM_RUNS && !warm; run += 1) {
    await pause();
    const part = arrangement?.parts[run % arrangement.parts.length];
    if (turn !== newestTurn || !arrangement || !maps || !part) return;
    if (part.notes.length <= WARM_NOTES) runPlan(part, arrangement.ppq, maps);
  }
  warm = true;
};

/** Lets other requests in, so that a newer one can take this one's place. */
const pause = () => new Promise((resolve) => setTimeout(resolve));

const told = (news: PartNews, before: Part | undefined): Part => ({
  ...news,
  notes: news.notes ?? before?.notes ?? [],
  events: news.events ?? before?.events ?? [],
});

const asLayer = (part: Part, { layer }: Done): PackedLayer => ({
  partId: part.id,
  packed: packNotes(layer.notes),
  touched: layer.steps.map(({ step, touched }) => ({ step, count: touched })),
  suggestion: part.plan ? '' : suggestedPlan(part).reason,
});

const worker = {
  /**
   * Takes the arrangement; `parts` are those that changed since the last call, `order` all ids. Answers the layers that
   * are new since the last answer, or null where a newer call came in between: that one answers for both.
   */
  async update(
    turn: number,
    header: Header,
    parts: readonly PartNews[],
    order: readonly PartId[],
  ): Promise<PackedLayer[] | null> {
    newestTurn = turn;
    const known = new Map((arrangement?.parts ?? []).map((part) => [part.id, part]));
    for (const news of parts) known.set(news.id, told(news, known.get(news.id)));
    const all = order.flatMap((id) => known.get(id) ?? []);
    arrangement = { ...header, parts: all };
    const now = writtenMaps(arrangement);
    maps = now;
    reading = null;
    for (const id of written.keys()) if (!order.includes(id)) written.delete(id);
    for (const part of all) {
      const done = written.get(part.id);
      const key = keyFor(now, part, all);
      if (done && done.part === part && done.key === key) continue;
      await pause();
      if (turn !== newestTurn) return null;
      const run = rerunPlan(part, header.ppq, now, planOf(part), done?.run);
      written.set(part.id, { part, key, run, layer: run.written });
      reading = null;
      made.add(part.id);
    }
    const fresh = all.flatMap((part) => (made.has(part.id) ? asLayer(part, written.get(part.id) as Done) : []));
    made.clear();
    return transfer(
      fresh,
      fresh.map(({ packed }) => packed.numbers.buffer),
    );
  },

  /** Everything the checks notice, part by part; null where a newer update came in between. */
  async findings(turn: number): Promise<Finding[] | null> {
    const all: Finding[] = [];
    for (const part of arrangement?.parts ?? []) {
      const layer = written.get(part.id)?.layer;
      if (!arrangement || !layer) continue;
      const known = found.get(part.id);
      if (known?.layer === layer) {
        all.push(...known.findings);
        continue;
      }
      await pause();
      if (turn !== newestTurn) return null;
      const findings = findingsOf(arrangement, part, layer);
      found.set(part.id, { layer, arrangement, findings });
      all.push(...findings);
    }
    void warmUp(turn);
    return all;
  },

  /** MusicXML of some bars (from 1) of some parts, as the page strip shows it. */
  page(partIds: readonly PartId[], firstBar: number, lastBar: number): string {
    if (!arrangement || !maps) return '';
    const all = layers();
    reading ??= readPitches(arrangement, all);
    return writeMusicXml(buildScore(arrangement, all, maps, reading, { partIds, firstBar, lastBar }));
  },

  /** What the plan did to one Played note, step by step, and what it would have done but for a veto. */
  reasons(partId: PartId, noteId: NoteId): NoteReason[] {
    const layer = written.get(partId)?.layer;
    return (layer?.steps ?? []).flatMap(({ step, changes, vetoed }) => [
      ...changes.filter((change) => change.noteId === noteId).map((change) => ({ step, change, vetoed: false })),
      ...vetoed.filter((change) => change.noteId === noteId).map((change) => ({ step, change, vetoed: true })),
    ]);
  },

  /** The Edit that a step would make of the selection. */
  stepEdit(partId: PartId, selection: readonly NoteId[], step: StepId, parameters: object): StepEdit {
    return arrangement
      ? stepEdit(arrangement, partId, new Set(selection), step, parameters)
      : { touched: 0, edit: null };
  },

  /** How many of the selected notes each step would touch with its defaults. */
  stepCounts(partId: PartId, selection: readonly NoteId[]): [StepId, number][] {
    const chosen = new Set(selection);
    return STEP_IDS.map((step) => [step, arrangement ? stepEdit(arrangement, partId, chosen, step).touched : 0]);
  },

  /** Distances of starts from the grid, as played and as written, in milliseconds. */
  timing(partId: PartId): TimingOffsets {
    const part = arrangement?.parts.find((candidate) => candidate.id === partId);
    return arrangement && maps && part ? timingOffsets(arrangement, part, maps) : { played: [], written: [] };
  },

  /** One file to take away. */
  exportFile(kind: ExportKind, partIds: readonly PartId[] | undefined, concertPitch: boolean): Uint8Array {
    if (!arrangement) return new Uint8Array();
    return prepareExport(arrangement, { ...(partIds ? { partIds } : {}), concertPitch })(kind);
  },
};

/** The worker as the screens see it. */
export type DeskWorker = typeof worker;

expose(worker);
