/** The findings: which are open, which are listed, which is chosen. */
import type { Finding, FindingKind, Part, PartId } from '@crispfold/core';
import { perObject } from '../../ui/perObject.js';
import type { RootState } from './root.js';

/** All findings of the open arrangement, dismissed ones too. */
export const selectFindings = ({ checks }: RootState): readonly Finding[] => checks.all;

/** Findings that were not dismissed. */
export const notDismissed = (findings: readonly Finding[], parts: readonly Part[]): Finding[] => {
  const dismissed = new Map(parts.map((part) => [part.id, new Set(part.dismissed)]));
  return findings.filter((finding) => !dismissed.get(finding.partId)?.has(finding.key));
};

/** Findings by their part, once for each list. */
const ofParts = perObject((findings: readonly Finding[]): ReadonlyMap<PartId, readonly Finding[]> => {
  const made = new Map<PartId, Finding[]>();
  for (const finding of findings) {
    const own = made.get(finding.partId);
    if (own) own.push(finding);
    else made.set(finding.partId, [finding]);
  }
  return made;
});

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
export const listed = ({ piece, checks }: RootState): Finding[] =>
  notDismissed(checks.all, piece.arrangement?.parts ?? []).filter(
    (finding) =>
      (checks.findingPart === null || finding.partId === checks.findingPart) &&
      (checks.findingKind === null || finding.kind === checks.findingKind),
  );

/** The chosen finding, while it is there. */
export const chosenFinding = ({ checks: { all, chosenFinding: chosen } }: RootState): Finding | undefined =>
  all.find((finding) => finding.key === chosen?.key && finding.partId === chosen?.partId);

/** The finding `step` places on from the chosen one, in time, or the first. */
export const neighbour = (state: RootState, step: 1 | -1): Finding | undefined => {
  const findings = [...listed(state)].sort((a, b) => a.tick - b.tick || a.partId - b.partId);
  const chosen = state.checks.chosenFinding;
  const at = findings.findIndex(({ key, partId }) => key === chosen?.key && partId === chosen?.partId);
  if (at < 0) return step > 0 ? findings[0] : findings[findings.length - 1];
  return findings[(at + step + findings.length) % findings.length];
};

/** Listed findings of the kind of the chosen one. */
export const ofSameKind = (state: RootState): Finding[] => {
  const chosen = chosenFinding(state);
  return chosen ? listed(state).filter((finding) => finding.kind === (chosen.kind as FindingKind)) : [];
};
