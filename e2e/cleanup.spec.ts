/** The clean-up engine on the Desk: plans, findings, steps on a selection, vetoes, comparison, charts. */
import { deskReady, historyOf, openDemo, press, saved, spokenWords } from '../journeys/desk.js';
import { expect, type Page, test } from '../journeys/stage.js';

const findings = (page: Page) => page.getByRole('region', { name: 'Findings' });

test('findings: go through them by key, hear, mend one, mend a kind, dismiss; all remembered', async ({
  page,
  server,
}) => {
  await openDemo(page, server);
  await expect(page.getByRole('button', { name: /^\d+ findings?$/ }).first()).toBeVisible();
  await press(page, 'j');
  await expect(findings(page).locator('li[aria-current]')).toHaveCount(1);
  await expect(page.getByRole('contentinfo')).toContainText(/\d notes? selected/);
  const first = await spokenWords(page).textContent();
  await press(page, 'j');
  await expect(spokenWords(page)).not.toHaveText(first ?? '');

  await findings(page).getByLabel('Kind').selectOption('specks');
  const specks = findings(page).getByRole('region', { name: 'Specks' }).getByRole('listitem');
  const count = await specks.count();
  expect(count).toBeGreaterThan(3);
  await press(page, 'j', 'f', 'm');
  await expect(specks).toHaveCount(count - 1);
  await press(page, 'j', 'f', 'd');
  await expect(specks).toHaveCount(count - 2);
  await press(page, 'j', 'f', 'k');
  await expect(findings(page)).toContainText('Nothing of this sort here');
  await saved(page);
  await page.reload();
  await deskReady(page);
  const history = await historyOf(page);
  expect(history.slice(1)).toEqual([
    expect.stringMatching(/^Drop it: Specks in /),
    expect.stringMatching(/^Dismiss: an? .* of only \d+ ms/),
    expect.stringMatching(/^Specks: \d+ mended/),
  ]);
  await press(page, '2');
  await findings(page).getByLabel('Part').selectOption('');
  await expect(findings(page).getByRole('region', { name: 'Specks' })).toHaveCount(0);
});
