/** Looks a screen through with axe-core, by the rules that need no styles. */
import axe from 'axe-core';
import type { Looked } from '../../e2e/clean.js';
import { expect } from './expects.js';

/** These look at how it is painted. */
const BY_EYE = ['color-contrast', 'target-size', 'scrollable-region-focusable'];

export const clean = async (_page: unknown, { within, but, rules, without = [] }: Looked = {}): Promise<void> => {
  const asked = rules?.filter((rule) => !BY_EYE.includes(rule));
  if (asked?.length === 0) return;
  const found = await axe.run(
    { include: within ?? 'html', ...(but ? { exclude: but } : {}) },
    {
      resultTypes: ['violations'],
      selectors: false,
      rules: Object.fromEntries([...BY_EYE, ...without].map((rule) => [rule, { enabled: false }])),
      ...(asked ? { runOnly: { type: 'rule', values: asked } } : {}),
    },
  );
  expect(found.violations.map(({ id, nodes }) => `${id}: ${nodes.map(({ html }) => html).join(' | ')}`)).toEqual([]);
};
