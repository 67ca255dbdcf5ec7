/** Looks a screen through with axe-core, in a browser. */
import { expect, type Page } from '@playwright/test';
import axe from 'axe-core';

/** What of a screen is looked through, and by which rules; all where left out. */
export interface Looked {
  readonly within?: string;
  /** Engraved pictures, which are large, can be left out. */
  readonly but?: string;
  readonly rules?: readonly string[];
  readonly without?: readonly string[];
}

/** Nothing on the screen that axe-core complains of. Its code, which is large, is brought into a page once. */
export const clean = async (page: Page, { within, but, rules, without = [] }: Looked = {}): Promise<void> => {
  if (!(await page.evaluate(() => 'axe' in window))) await page.evaluate(axe.source);
  const where: axe.ContextSpec = { include: within ?? 'html', ...(but ? { exclude: but } : {}) };
  const options: axe.RunOptions = {
    resultTypes: ['violations'],
    selectors: false,
    rules: Object.fromEntries(without.map((rule) => [rule, { enabled: false }])),
    ...(rules ? { runOnly: { type: 'rule', values: [...rules] } } : {}),
  };
  const violations = await page.evaluate(
    async ({ context, run }) => {
      const found = await (window as unknown as { axe: typeof axe }).axe.run(context as axe.ContextSpec, run);
      return found.violations.map(({ id, nodes }) => `${id}: ${nodes.map(({ html }) => html).join(' | ')}`);
    },
    { context: where as { include: string }, run: options },
  );
  expect(violations).toEqual([]);
};
