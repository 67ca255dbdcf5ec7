/** Mending findings: one Edit for one finding, or for many. */

import type { Finding, Mend, StepMend } from '../findings/finding.js';
import { checkOf, type FindingKind } from '../findings/registry.js';
import { barLinesEdit } from '../meter/pickup.js';
import type { Arrangement, NoteId, Part } from '../model/arrangement.js';
import { applyEdit, type Change, type Edit, overridesChange } from '../model/edit.js';
import type { Plan } from '../model/plan.js';
import { type Selection, selectionOf } from '../model/selection.js';
import type { StepId } from '../model/stepParameters.js';
import { withStep } from '../plan/plan.js';
import { planOf } from '../plan/readyPlans.js';
import { barHolding, createMeterMap } from '../time/meterMap.js';
import { followBeats } from './followBeats.js';
import { stepEdit } from './stepEdit.js';

/** The Edit that gives a part a plan of its own. */
export const planEdit = (part: Part, plan: Plan | undefined, label: string): Edit => ({
  label,
  changes: [{ kind: 'partFields', partId: part.id, before: { plan: part.plan }, after: { plan } }],
});

/** One Edit that mends all of the findings that have a mend; null where nothing would change. */
export const mendEdit = (arrangement: Arrangement, findings: readonly Finding[]): Edit | null => {
  const changes: Change[] = [];
  let now = arrangement;
  let mended = 0;
  for (const { mend, partId, noteIds, ticks, count } of together(findings)) {
    const part = now.parts.find((candidate) => candidate.id === partId);
    const edit = part ? editOf(now, part, mend, noteIds, ticks) : null;
    if (!edit) continue;
    now = applyEdit(now, edit);
    changes.push(...edit.changes);
    mended += count;
  }
  const first = findings[0];
  if (!first || changes.length === 0) return null;
  const part = arrangement.parts.find((candidate) => candidate.id === first.partId);
  const kind = checkOf(first.kind as FindingKind).name;
  const label =
    findings.length === 1 ? `${first.mend?.label ?? ''}: ${kind} in ${part?.name ?? ''}` : `${kind}: ${mended} mended`;
  return { label, changes };
};

const editOf = (
  arrangement: Arrangement,
  part: Part,
  mend: Mend,
  noteIds: readonly NoteId[],
  ticks: readonly number[],
): Edit | null => {
  switch (mend.where) {
    case 'notes':
      return mendNotes(arrangement, selectionOf(part.id, noteIds), mend);
    case 'plan':
    case 'bars':
      return planEdit(part, planWith(planOf(part), mend, ticks, arrangement), '');
    case 'tempo':
      return followBeats(arrangement, mend.beats);
    case 'barLines':
      return barLinesEdit(arrangement, mend.pickup);
    case 'page':
      return { label: '', changes: [overridesChange(part, mend.overrides)] };
    default:
      return mend satisfies never;
  }
};

const mendNotes = <Id extends StepId>(
  arrangement: Arrangement,
  selection: Selection,
  { step, parameters }: StepMend<Id>,
): Edit | null => stepEdit(arrangement, selection, step, parameters).edit;

interface MendGroup {
  readonly mend: Mend;
  readonly partId: number;
  readonly noteIds: NoteId[];
  readonly ticks: number[];
  count: number;
}

/** Findings of a part with the same mend are mended in one go. */
const together = (findings: readonly Finding[]): MendGroup[] => {
  const groups = new Map<string, MendGroup>();
  for (const { mend, partId: ofFinding, noteIds, tick } of findings) {
    if (!mend) continue;
    const partId = mend.partId ?? ofFinding;
    const key = JSON.stringify([partId, ...whatOf(mend)]);
    const group = groups.get(key) ?? { mend, partId, noteIds: [], ticks: [], count: 0 };
    group.noteIds.push(...(mend.noteIds ?? noteIds));
    group.ticks.push(tick);
    group.count += 1;
    groups.set(key, group);
  }
  return [...groups.values()];
};

/** What two mends share that are carried out in one go. */
const whatOf = (mend: Mend): readonly unknown[] => {
  if (mend.where === 'barLines') return [mend.where, mend.pickup];
  if (mend.where === 'page') return [mend.where, mend.overrides];
  if (mend.where === 'tempo') return [mend.where];
  return [mend.where, mend.step, mend.parameters];
};

const planWith = <Id extends StepId>(
  plan: Plan,
  mend: StepMend<Id>,
  ticks: readonly number[],
  arrangement: Arrangement,
): Plan => {
  const changed = withStep(plan, mend.step, { parameters: mend.parameters });
  if (mend.where === 'plan') return changed;
  const meterMap = createMeterMap(arrangement.meters, arrangement.ppq);
  const bars = meterMap.barsTo(Math.max(...ticks) + 1);
  const numbers = [...new Set(ticks.map((tick) => barHolding(bars, tick)?.number ?? 1))];
  const own = changed.steps.filter((item) => item.step === mend.step);
  const passages = plan.passages.filter(
    (passage) => !numbers.some((n) => n >= passage.firstBar && n <= passage.lastBar),
  );
  return {
    ...plan,
    passages: [...passages, ...numbers.map((n) => ({ firstBar: n, lastBar: n, steps: own }))].sort(
      (a, b) => a.firstBar - b.firstBar,
    ),
  };
};
