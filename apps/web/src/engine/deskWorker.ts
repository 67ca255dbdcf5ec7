/** Runs the plan and writes the page's MusicXML away from the screen. Parts arrive once and stay; only changed ones come again. */
import {
  type Arrangement,
  buildScore,
  type ExportKind,
  type NoteId,
  type Part,
  type PartId,
  type PitchReading,
  prepareExport,
  readPitches,
  runPlan,
  type StepChange,
  type StepId,
  type Written,
  writeMusicXml,
  writtenMaps,
} from '@crispfold/core';
import { expose } from 'comlink';

type Header = Omit<Arrangement, 'parts'>;

/** What the screens need of a part's Written layer; reasons are asked for note by note. */
export interface WrittenLayer {
  readonly partId: PartId;
  readonly notes: Written['notes'];
  readonly touched: readonly { readonly step: StepId; readonly count: number }[];
}

/** One step's change to one note. */
export interface NoteReason {
  readonly step: StepId;
  readonly change: StepChange;
}

let arrangement: Arrangement | null = null;
const written = new Map<PartId, { part: Part; key: string; layer: Written }>();
let reading: PitchReading | null = null;

const mapsKey = (a: Header): string => JSON.stringify([a.ppq, a.tempos, a.meters, a.plan]);

const layers = (): Written[] => (arrangement?.parts ?? []).flatMap((part) => written.get(part.id)?.layer ?? []);

const worker = {
  /** Takes the arrangement; `parts` are those that changed since the last call, `order` all ids. Answers the new layers. */
  update(header: Header, parts: readonly Part[], order: readonly PartId[]): WrittenLayer[] {
    const known = new Map([...(arrangement?.parts ?? []), ...parts].map((part) => [part.id, part]));
    const all = order.flatMap((id) => known.get(id) ?? []);
    arrangement = { ...header, parts: all };
    const key = mapsKey(header);
    const maps = writtenMaps(arrangement);
    const fresh: WrittenLayer[] = [];
    for (const part of all) {
      const done = written.get(part.id);
      if (done && done.part === part && done.key === key) continue;
      const layer = runPlan(part, header.ppq, maps, header.plan);
      written.set(part.id, { part, key, layer });
      fresh.push({
        partId: part.id,
        notes: layer.notes,
        touched: layer.steps.map(({ step, touched }) => ({ step, count: touched })),
      });
    }
    for (const id of written.keys()) if (!order.includes(id)) written.delete(id);
    reading = null;
    return fresh;
  },

  /** MusicXML of some bars (from 1) of some parts, as the page strip shows it. */
  page(partIds: readonly PartId[], firstBar: number, lastBar: number): string {
    if (!arrangement) return '';
    const all = layers();
    reading ??= readPitches(arrangement, all);
    return writeMusicXml(
      buildScore(arrangement, all, writtenMaps(arrangement), reading, { partIds, firstBar, lastBar }),
    );
  },

  /** What the plan did to one Played note, step by step. */
  reasons(partId: PartId, noteId: NoteId): NoteReason[] {
    const layer = written.get(partId)?.layer;
    return (layer?.steps ?? []).flatMap(({ step, changes }) =>
      changes.filter((change) => change.noteId === noteId).map((change) => ({ step, change })),
    );
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
