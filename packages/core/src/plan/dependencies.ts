/** Which parts the Written layer of a part depends on besides its own: derived from what the steps say they look at. */
import type { Arrangement, Part, PartId } from '../model/arrangement.js';
import type { PlanStep } from '../model/plan.js';
import { looksOf } from '../steps/registry.js';
import { planOf } from './readyPlans.js';

/** The parts that a step of a part's plan looks at. */
const partsOfStep = (item: PlanStep, part: Pick<Part, 'id'>, parts: Arrangement['parts']): readonly PartId[] => {
  const { parts: looked } = looksOf(item);
  if (!item.on || !looked) return [];
  if (looked !== 'above') return looked;
  return parts
    .slice(
      0,
      parts.findIndex((other) => other.id === part.id),
    )
    .map((other) => other.id);
};

/** Parts whose notes make a difference to this part's Written layer, itself left out; in the arrangement's order. */
export const partsLookedAt = (part: Part, parts: Arrangement['parts']): readonly Part[] => {
  const { steps, passages } = planOf(part);
  const looked = new Set<PartId>();
  for (const item of [...steps, ...passages.flatMap((passage) => passage.steps)]) {
    for (const id of partsOfStep(item, part, parts)) looked.add(id);
  }
  looked.delete(part.id);
  return looked.size === 0 ? [] : parts.filter((other) => looked.has(other.id));
};
