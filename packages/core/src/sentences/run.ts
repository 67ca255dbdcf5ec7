/** Carrying a sentence out: line by line, change by change, each seeing what the one before left. */

import { labelFor } from '../edits/labels.js';
import type { PartId } from '../model/arrangement.js';
import { applyEdit, type Change, type Edit } from '../model/edit.js';
import { mapSelection, NOTHING, type Selection, unionOf } from '../model/selection.js';
import { makeChange } from './changes.js';
import { matchedBy } from './match.js';
import type { SentenceScene } from './reading.js';
import type { Sentence, SentenceLine } from './sentence.js';

/** What a line touches: notes by part, those with none left out. */
export interface LineReport {
  readonly picked: Selection;
  readonly parts: readonly { readonly partId: PartId; readonly name: string; readonly count: number }[];
  /** What a person should know of its changes. */
  readonly notices: readonly string[];
}

/** What a sentence did, or would do. */
export interface SentenceRun {
  /** One Edit of all lines; null where no note changes. */
  readonly edit: Edit | null;
  /** What is selected afterwards, where a line says so. */
  readonly selection: Selection | null;
  /** What alone is seen afterwards, where a line says so. */
  readonly onlyShown: Selection | null;
  readonly lines: readonly LineReport[];
}

const reportOf = ({ arrangement: { parts } }: SentenceScene, picked: Selection): LineReport['parts'] =>
  parts.flatMap(({ id, name }) => {
    const count = picked.get(id)?.size ?? 0;
    return count > 0 ? [{ partId: id, name, count }] : [];
  });

/**
 * What was picked, after an Edit: also where its notes went to another part, and without those that are gone.
 */
const followed = (picked: Selection, edit: Edit): Selection => {
  let next = mapSelection(picked, edit);
  const all = new Set([...picked.values()].flatMap((ids) => [...ids]));
  for (const change of edit.changes) {
    if (change.kind !== 'notes') continue;
    const arrived = change.added.filter((note) => all.has(note.id)).map((note) => note.id);
    if (arrived.length > 0) next = unionOf(next, new Map([[change.partId, new Set(arrived)]]));
  }
  return next;
};

interface State {
  readonly scene: SentenceScene;
  readonly changes: readonly Change[];
  readonly selection: Selection | null;
  readonly onlyShown: Selection | null;
}

const carryOutLine = (before: State, line: SentenceLine): { readonly state: State; readonly report: LineReport } => {
  let { scene, changes, selection, onlyShown } = before;
  let picked = matchedBy(scene, line);
  const report = { picked, parts: reportOf(scene, picked) };
  const notices: string[] = [];
  for (const change of line.do) {
    const made = makeChange(change, scene, picked);
    if (made.notice) notices.push(made.notice);
    if (made.edit) {
      changes = [...changes, ...made.edit.changes];
      const chosen = followed(scene.selection, made.edit);
      picked = followed(picked, made.edit);
      onlyShown = onlyShown && followed(onlyShown, made.edit);
      scene = {
        ...scene,
        arrangement: applyEdit(scene.arrangement, made.edit),
        selection: chosen,
        onlyShown: scene.onlyShown && followed(scene.onlyShown, made.edit),
      };
      if (selection) selection = chosen;
    }
    if (made.selection) {
      selection = made.selection;
      scene = { ...scene, selection };
    }
    if (made.onlyShown) onlyShown = made.onlyShown;
  }
  return { state: { scene, changes, selection, onlyShown }, report: { ...report, notices } };
};

/** How many notes in which parts all the lines of a sentence pick together, each note once. */
const countsOf = (scene: SentenceScene, lines: readonly LineReport[]) => {
  const all = lines.reduce((union, { picked }) => unionOf(union, picked), NOTHING);
  return scene.arrangement.parts.flatMap((part) => {
    const count = all.get(part.id)?.size ?? 0;
    return count > 0 ? [{ part, count }] : [];
  });
};

/** What a sentence is called in the history. */
const nameOf = ({ name }: Pick<Sentence, 'name'>): string => (name.trim() === '' ? 'Where … do …' : name.trim());

/**
 * Carries a sentence out on the parts in reach, as one Edit. The Written layers given with the scene are those of before
 * the first line; a line that asks for findings after a change has them worked out anew.
 */
export const runSentence = (scene: SentenceScene, sentence: Pick<Sentence, 'name' | 'lines'>): SentenceRun => {
  let state: State = { scene, changes: [], selection: null, onlyShown: null };
  const lines: LineReport[] = [];
  for (const line of sentence.lines) {
    const { writtenOf: _, ...now } = state.scene;
    const fresh = state.changes.length > 0 ? { ...state, scene: now } : state;
    const done = carryOutLine(fresh, line);
    state = done.state;
    lines.push(done.report);
  }
  const { changes, selection, onlyShown } = state;
  const edit = changes.length === 0 ? null : { label: labelFor(nameOf(sentence), countsOf(scene, lines)), changes };
  return { edit, selection, onlyShown, lines };
};

/** How many notes each line would pick now: what is counted while a sentence is written. The first line alone is exact, others see what it left. */
export const countSentence = (
  scene: SentenceScene,
  sentence: Pick<Sentence, 'name' | 'lines'>,
): readonly LineReport[] => {
  const [first, ...others] = sentence.lines;
  if (!first) return [];
  if (others.length > 0) return runSentence(scene, sentence).lines;
  const picked = matchedBy(scene, first);
  return [{ picked, parts: reportOf(scene, picked), notices: [] }];
};
