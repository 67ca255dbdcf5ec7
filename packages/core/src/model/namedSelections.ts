/** Selections that a person gave a name: kept with the arrangement, and undone like any change. */
import type { Arrangement, NamedSelection } from './arrangement.js';
import type { Edit } from './edit.js';
import { type Selection, selectionWithin } from './selection.js';
import { keptText } from './texts.js';

/** The longest name, in characters. */
export const LONGEST_SELECTION_NAME = 60;

const changed = (
  { namedSelections: before = [] }: Arrangement,
  label: string,
  after: readonly NamedSelection[],
): Edit => ({
  label,
  changes: [{ kind: 'arrangementFields', before: { namedSelections: before }, after: { namedSelections: after } }],
});

/** Keeps a selection under a name, in the place of one of that name; null for no name, or nothing selected. */
export const nameSelection = (arrangement: Arrangement, name: string, selection: Selection): Edit | null => {
  const own = keptText(name.trim(), LONGEST_SELECTION_NAME);
  if (own === '' || selection.size === 0) return null;
  const parts = [...selection].map(([partId, ids]) => ({ partId, noteIds: [...ids] }));
  const others = (arrangement.namedSelections ?? []).filter((known) => known.name !== own);
  return changed(arrangement, `Keep selection: ${own}`, [...others, { name: own, parts }]);
};

/** Forgets a named selection; null where there is none of that name. */
export const forgetSelection = (arrangement: Arrangement, name: string): Edit | null => {
  const known = arrangement.namedSelections ?? [];
  const left = known.filter((one) => one.name !== name);
  return left.length === known.length ? null : changed(arrangement, `Forget selection: ${name}`, left);
};

/** The notes of a named selection that are still there. */
export const selectionNamed = (arrangement: Arrangement, name: string): Selection => {
  const named = arrangement.namedSelections?.find((one) => one.name === name);
  const selection = new Map((named?.parts ?? []).map(({ partId, noteIds }) => [partId, new Set(noteIds)]));
  return selectionWithin(selection, arrangement);
};
