/** The findings as the Desk uses them: which are open, which is chosen, and what can be done with it. */
import {
  applyEdit,
  checkOf,
  type Finding,
  type FindingKind,
  laneKey,
  mendEdit,
  type Part,
  type PartId,
  selectionOf,
} from '@crispfold/core';
import type { AppDispatch, RootState } from '../../../app/store.js';
import { createValueStore } from '../../../ui/valueStore.js';
import { deskActions } from '../deskSlice.js';
import { commit } from '../saving.js';
import { spoken } from '../speak.js';

/** All findings of the open arrangement, dismissed ones too; set when the checks have run. */
export const allFindings = createValueStore<readonly Finding[]>([]);

/** False from the opening of an arrangement until the checks have run a first time. */
export const checksRun = createValueStore(false);

type Thunk = (dispatch: AppDispatch, getState: () => RootState) => void;

/** Findings that were not dismissed. */
export const notDismissed = (findings: readonly Finding[], parts: readonly Part[]): Finding[] => {
  const dismissed = new Map(parts.map((part) => [part.id, new Set(part.dismissed)]));
  return findings.filter((finding) => !dismissed.get(finding.partId)?.has(finding.key));
};

/** Findings by their part, once for each list. */
const byPart = new WeakMap<readonly Finding[], ReadonlyMap<PartId, readonly Finding[]>>();

const ofParts = (findings: readonly Finding[]): ReadonlyMap<PartId, readonly Finding[]> => {
  const known = byPart.get(findings);
  if (known) return known;
  const made = new Map<PartId, Finding[]>();
  for (const finding of findings) {
    const own = made.get(finding.partId);
    if (own) own.push(finding);
    else made.set(finding.partId, [finding]);
  }
  byPart.set(findings, made);
  return made;
};

/** How many findings of each part were not dismissed. An edit asks for it again: it costs as much as was dismissed. */
export const openByPart = (findings: readonly Finding[], parts: readonly Part[]): ReadonlyMap<PartId, number> => {
  const counts = new Map<PartId, number>();
  for (const part of parts) {
    const own = ofParts(findings).get(part.id) ?? [];
    const open = part.dismissed?.length ? notDismissed(own, [part]).length : own.length;
    if (open > 0) counts.set(part.id, open);
  }
  return counts;
};

/** Findings on the list: not dismissed, of the chosen part and kind, in order of kind, then time. */
export const listed = ({ desk }: RootState, findings: readonly Finding[] = allFindings.get()): Finding[] =>
  notDismissed(findings, desk.arrangement?.parts ?? []).filter(
    (finding) =>
      (desk.findingPart === null || finding.partId === desk.findingPart) &&
      (desk.findingKind === null || finding.kind === desk.findingKind),
  );

/** The chosen finding, while it is there. */
export const chosenFinding = ({ desk }: RootState): Finding | undefined =>
  allFindings
    .get()
    .find((finding) => finding.key === desk.chosenFinding?.key && finding.partId === desk.chosenFinding?.partId);

const PEDAL_LANE = laneKey({ kind: 'controller', controller: 64 });

/** Chooses a finding: its part comes to the front, its notes are selected. The roll goes there. What was done `first` is said. */
export const chooseFinding =
  (finding: Finding, first = ''): Thunk =>
  (dispatch, getState) => {
    dispatch(deskActions.findingChosen({ key: finding.key, partId: finding.partId }));
    dispatch(deskActions.partBroughtForward(finding.partId));
    // What a finding about the pedal means is seen in the pedal's lane.
    const { lanes } = getState().desk;
    if (finding.kind === 'pedalNeverLifts' && !lanes.includes(PEDAL_LANE))
      dispatch(deskActions.lanesShown([...lanes, PEDAL_LANE]));
    dispatch(deskActions.selected(selectionOf(finding.partId, finding.noteIds)));
    const part = getState().desk.arrangement?.parts.find((candidate) => candidate.id === finding.partId);
    const words = `${part?.name ?? ''}: ${finding.reason}`;
    spoken.set(first ? `${first}. Next, ${words}` : words);
  };

/** The finding `step` places on from the chosen one, in time, or the first. */
export const neighbour = (state: RootState, step: 1 | -1): Finding | undefined => {
  const findings = [...listed(state)].sort((a, b) => a.tick - b.tick || a.partId - b.partId);
  const at = findings.findIndex(
    ({ key, partId }) => key === state.desk.chosenFinding?.key && partId === state.desk.chosenFinding?.partId,
  );
  if (at < 0) return step > 0 ? findings[0] : findings[findings.length - 1];
  return findings[(at + step + findings.length) % findings.length];
};

/** A finding whose other way is the one to take. */
export const withOtherMend = (finding: Finding): Finding => ({ ...finding, mend: finding.otherMend ?? null });

/** Mends findings in one entry of the history. */
export const mend =
  (findings: readonly Finding[]): Thunk =>
  (dispatch, getState) => {
    const { arrangement, locked } = getState().desk;
    // A mend may change another part than the one that the finding is about.
    const free = findings.filter(({ partId, mend: own }) => !locked.includes(own?.partId ?? partId));
    const edit = arrangement && mendEdit(arrangement, free);
    if (free.length === 0 && findings.length > 0) {
      spoken.set('The part is locked. Unlock it to mend this.');
      return;
    }
    if (!arrangement || !edit) {
      spoken.set('There is nothing to mend here.');
      return;
    }
    // A chosen finding that goes away with its notes leaves the next one chosen.
    const next = findings.length === 1 ? neighbour(getState(), 1) : undefined;
    dispatch(commit(edit));
    spoken.set(edit.label);
    const left = applyEdit(arrangement, edit);
    if (next && next !== findings[0] && left.parts.some((part) => part.id === next.partId))
      dispatch(chooseFinding(next, edit.label));
    else dispatch(deskActions.findingChosen(null));
  };

/** Takes findings off the list for good. */
export const dismiss =
  (findings: readonly Finding[], reason?: string): Thunk =>
  (dispatch, getState) => {
    const { arrangement } = getState().desk;
    const next = findings.length === 1 ? neighbour(getState(), 1) : undefined;
    const changes = (arrangement?.parts ?? []).flatMap((part) => {
      const keys = findings.filter((finding) => finding.partId === part.id).map((finding) => finding.key);
      if (keys.length === 0) return [];
      const before = { dismissed: part.dismissed };
      const after = { dismissed: [...(part.dismissed ?? []), ...keys] };
      return [{ kind: 'partFields' as const, partId: part.id, before, after }];
    });
    if (changes.length === 0) return;
    const [first] = findings;
    const kind = first ? checkOf(first.kind as FindingKind).name : '';
    const what = findings.length === 1 ? (reason ?? kind) : `${kind}, ${findings.length} of them`;
    const label = `Dismiss: ${what}`.slice(0, 300);
    dispatch(commit({ label, changes }));
    spoken.set(label);
    if (next && next !== findings[0]) dispatch(chooseFinding(next, label));
    else dispatch(deskActions.findingChosen(null));
  };

/** Listed findings of the kind of the chosen one. */
export const ofSameKind = (state: RootState): Finding[] => {
  const chosen = chosenFinding(state);
  return chosen ? listed(state).filter((finding) => finding.kind === (chosen.kind as FindingKind)) : [];
};
