/** The findings as the Desk uses them: which are open, which is chosen, and what can be done with it. */

import { applyEdit, checkOf, type Finding, type FindingKind, laneKey, mendEdit, selectionOf } from '@crispfold/core';
import type { Thunk } from '../session/desk.js';
import { commit } from '../session/saving.js';
import { checksActions } from '../state/checksSlice.js';
import { neighbour } from '../state/findings.js';
import { lanesActions } from '../state/lanesSlice.js';
import { partsShownActions } from '../state/partsShownSlice.js';
import { selectingActions } from '../state/selectingSlice.js';
import { said } from '../state/speechSlice.js';

const PEDAL_LANE = laneKey({ kind: 'controller', controller: 64 });

/** Chooses a finding: its part comes to the front, its notes are selected. The roll goes there. What was done `first` is said. */
export const chooseFinding =
  (finding: Finding, first = ''): Thunk =>
  (dispatch, getState) => {
    dispatch(checksActions.findingChosen({ key: finding.key, partId: finding.partId }));
    dispatch(partsShownActions.partBroughtForward(finding.partId));
    // What a finding about the pedal means is seen in the pedal's lane.
    const {
      lanes: { lanes },
    } = getState();
    if (finding.kind === 'pedalNeverLifts' && !lanes.includes(PEDAL_LANE))
      dispatch(lanesActions.lanesShown([...lanes, PEDAL_LANE]));
    dispatch(selectingActions.selected(selectionOf(finding.partId, finding.noteIds)));
    const part = getState().piece.arrangement?.parts.find((candidate) => candidate.id === finding.partId);
    const words = `${part?.name ?? ''}: ${finding.reason}`;
    dispatch(said(first ? `${first}. Next, ${words}` : words));
  };

/** A finding whose other way is the one to take. */
export const withOtherMend = (finding: Finding): Finding => ({ ...finding, mend: finding.otherMend ?? null });

/** Mends findings in one entry of the history. */
export const mend =
  (findings: readonly Finding[]): Thunk =>
  (dispatch, getState) => {
    const {
      piece: { arrangement },
      partsShown: { locked },
    } = getState();
    // A mend may change another part than the one that the finding is about.
    const free = findings.filter(({ partId, mend: own }) => !locked.includes(own?.partId ?? partId));
    const edit = arrangement && mendEdit(arrangement, free);
    if (free.length === 0 && findings.length > 0) {
      dispatch(said('The part is locked. Unlock it to mend this.'));
      return;
    }
    if (!arrangement || !edit) {
      dispatch(said('There is nothing to mend here.'));
      return;
    }
    // A chosen finding that goes away with its notes leaves the next one chosen.
    const next = findings.length === 1 ? neighbour(getState(), 1) : undefined;
    dispatch(commit(edit));
    dispatch(said(edit.label));
    const left = applyEdit(arrangement, edit);
    if (next && next !== findings[0] && left.parts.some((part) => part.id === next.partId))
      dispatch(chooseFinding(next, edit.label));
    else dispatch(checksActions.findingChosen(null));
  };

/** Takes findings off the list for good. */
export const dismiss =
  (findings: readonly Finding[], reason?: string): Thunk =>
  (dispatch, getState) => {
    const {
      piece: { arrangement },
    } = getState();
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
    dispatch(said(label));
    if (next && next !== findings[0]) dispatch(chooseFinding(next, label));
    else dispatch(checksActions.findingChosen(null));
  };
