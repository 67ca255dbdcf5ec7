/** Which notes a line's conditions pick. */
import type { Note, Part } from '../model/arrangement.js';
import { intersectionOf, type Selection, selectionWhere } from '../model/selection.js';
import { CONDITIONS, testOf } from './conditions.js';
import { SentenceReading, type SentenceScene } from './reading.js';
import type { Condition, SentenceLine } from './sentence.js';

const meetsAll = (reading: SentenceReading, way: readonly Condition[]): ((part: Part) => ReadonlySet<Note>) => {
  // Those that count what the others leave come after them.
  const inTurn = [...way].sort(
    (a, b) => Number(CONDITIONS[a.kind].last ?? false) - Number(CONDITIONS[b.kind].last ?? false),
  );
  const tests = inTurn.map((condition) => [condition.not, testOf(condition, reading)] as const);
  return (part) => {
    let left = part.notes;
    for (const [not, test] of tests) {
      if (left.length === 0) break;
      const meets = test(part);
      left = left.filter((note) => meets(note) !== not);
    }
    return new Set(left);
  };
};

/** The notes of the parts in reach that meet a line's conditions: those of any of its ways. No way at all means every note. */
export const matchedBy = (scene: SentenceScene, line: Pick<SentenceLine, 'where'>): Selection => {
  const met = metBy(scene, line);
  return scene.onlyShown ? intersectionOf(met, scene.onlyShown) : met;
};

const metBy = (scene: SentenceScene, { where }: Pick<SentenceLine, 'where'>): Selection => {
  const reading = new SentenceReading(scene);
  const ways = where.filter((way) => way.length > 0).map((way) => meetsAll(reading, way));
  if (ways.length === 0) return selectionWhere(reading.parts, () => true);
  const met = new Map(reading.parts.map((part) => [part.id, ways.map((way) => way(part))]));
  return selectionWhere(reading.parts, (note, part) => met.get(part.id)?.some((notes) => notes.has(note)) ?? false);
};
