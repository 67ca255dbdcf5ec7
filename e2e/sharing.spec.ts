/** Parts shared out, and sentences: chords dealt out, parts split and combined, parts themselves, Where … do … by keyboard. */
import { deskReady, engraved, historyOf, list, openDemo, panel, press, saved, scorePages } from '../journeys/desk.js';
import { expect, type Page, test } from '../journeys/stage.js';

const partNames = (page: Page) =>
  page
    .getByRole('navigation', { name: 'Parts' })
    .getByRole('listitem')
    .locator('button span.flex:first-child')
    .allTextContents();

const lastDone = async (page: Page): Promise<string> => (await historyOf(page)).at(-1) ?? '';

test('a part is renamed, moved, given another instrument, deleted and brought back', async ({
  page,
  server,
  troubles,
}) => {
  await openDemo(page, server);
  await press(page, 'Alt+3', 'o');
  await page.keyboard.press('n');
  const part = panel(page, 'The part');
  await part.getByLabel('Name').fill('English horn');
  await part.getByLabel('Instrument').selectOption({ label: 'English horn' });
  await expect(part.getByRole('spinbutton', { name: 'Program' })).toHaveValue('70');
  await part.getByRole('spinbutton', { name: 'Volume' }).fill('90');
  await part.getByRole('spinbutton', { name: 'Channel' }).fill('1');
  await page.keyboard.press('Tab');
  await expect(part.getByRole('status')).toContainText('shared with Flute');
  await part.getByRole('button', { name: 'Change the part' }).click();
  await expect.poll(() => partNames(page)).toContain('English horn');
  expect(await lastDone(page)).toBe('English horn: settings of the part');
  await press(page, 'o');
  await page.keyboard.press('u');
  await expect
    .poll(async () => (await partNames(page)).slice(0, 3))
    .toEqual(['Flute', 'English horn', 'Clarinet in B flat']);
  // By hand as well.
  const line = page.getByRole('navigation', { name: 'Parts' }).getByRole('listitem');
  const [from, to] = [await line.nth(1).boundingBox(), await line.nth(0).boundingBox()];
  if (!from || !to) throw new Error('There are no parts.');
  await page.mouse.move(from.x + 60, from.y + 14);
  await page.mouse.down();
  await page.mouse.move(to.x + 60, to.y + 10, { steps: 6 });
  await page.mouse.up();
  await expect.poll(async () => (await partNames(page)).slice(0, 2)).toEqual(['English horn', 'Flute']);
  await press(page, 'o');
  await page.keyboard.press('x');
  await expect.poll(() => partNames(page)).not.toContain('English horn');
  await page.getByRole('button', { name: 'Undo', exact: true }).last().click();
  await expect.poll(async () => (await partNames(page))[0]).toBe('English horn');
  await press(page, 'Alt+1', 'o');
  await page.keyboard.press('c');
  await expect.poll(() => partNames(page)).toContain('English horn 2');
  await saved(page);
  await page.reload();
  await deskReady(page);
  expect((await partNames(page)).slice(0, 3)).toEqual(['English horn', 'English horn 2', 'Flute']);
  expect(troubles).toEqual([]);
});

test('a sentence is written by keyboard alone, counted, kept, and done by its key', async ({
  page,
  server,
  troubles,
}) => {
  await openDemo(page, server);
  await press(page, 'r', '6');
  await page.keyboard.press('w');
  const builder = panel(page, 'Where … do …');
  await expect(builder.getByRole('status')).toContainText(/\d+ notes?/);
  // From the panel's head: to the kind of the condition, and on to its fields.
  const goTo = async (name: string) => {
    for (let press = 0; press < 40; press += 1) {
      await page.keyboard.press('Tab');
      const label = await page.evaluate(() => {
        const at = document.activeElement as HTMLElement;
        return at.getAttribute('aria-label') ?? at.closest('label')?.textContent ?? at.textContent ?? '';
      });
      if (label.trim().startsWith(name)) return;
    }
    throw new Error(`${name} was not reached by Tab.`);
  };
  await goTo('Condition 1');
  // "is or is not" comes first; the kind after it.
  await goTo('Condition 1');
  await page.keyboard.type('in the part');
  await goTo('Part');
  await page.keyboard.type('Cello');
  await expect(builder.getByRole('status')).toContainText('116 notes: 116 in Cello');
  await goTo('Another condition');
  await page.keyboard.press('Enter');
  await page.keyboard.type('shorter than …');
  await goTo('Shorter than');
  await page.keyboard.type('quarter');
  const count = async () => Number(/^\d+/.exec((await builder.getByRole('status').textContent()) ?? '')?.[0] ?? 0);
  await expect.poll(count).toBeLessThan(116);
  expect(await count()).toBeGreaterThan(0);
  await goTo('Line 1, change 1');
  await page.keyboard.type('mute');
  await goTo('Name');
  await page.keyboard.type('Short cello out');
  await goTo('Key');
  await page.keyboard.type('q');
  await goTo('Keep');
  await page.keyboard.press('Enter');
  await expect(panel(page, 'Kept sentences')).toContainText('Short cello out');
  await page.keyboard.press('Escape');
  await press(page, '6');
  await page.keyboard.press('q');
  await expect.poll(() => lastDone(page)).toMatch(/^Short cello out: \d+ notes in Cello$/);
  // It is there for any arrangement, also after a reload, and in the list of commands.
  await saved(page);
  await page.reload();
  await deskReady(page);
  await press(page, '6');
  await expect(page.getByRole('menuitem', { name: /Short cello out/ })).toBeVisible();
  await page.keyboard.press('Escape');
  await press(page, '/');
  await page.keyboard.type('short cello');
  await expect(page.getByRole('option', { name: /Short cello out/ })).toBeVisible();
  expect(troubles).toEqual([]);
});

test('the score in a window of its own stays linked: selection, playhead, every change, and it takes over', async ({
  page,
  context,
  server,
}) => {
  await openDemo(page, server);
  const [score] = await Promise.all([context.waitForEvent('page'), list(page, 'y d')]);
  const pages = scorePages(score);
  await expect(pages.locator('g.note').first()).toBeAttached({ timeout: 30_000 });
  // What is selected on the Desk is marked in the score, and the other way round.
  await press(page, '.');
  await expect(pages.locator('g.note.chosen')).toHaveCount(1);
  const heads = pages.locator('g.note');
  await heads.nth(5).dispatchEvent('click');
  await expect(engraved(page).locator('g.note.chosen').first()).toBeAttached();
  // A change made there is carried out here, and the score shows it.
  await press(page, 'Escape', '.');
  const first = () =>
    pages
      // The head alone: a stem that points up ends where the head would be an octave higher.
      .locator('g.note.chosen g.notehead')
      .first()
      .evaluate((head) => (head as SVGGElement).getBBox().y);
  // A head of a picture that is just being replaced lies nowhere: where it lay when it was seen.
  let before = 0;
  await expect
    .poll(
      async () => {
        before = await first();
        return before;
      },
      { timeout: 20_000 },
    )
    .toBeGreaterThan(0);
  await list(page, 'p u');
  await expect.poll(first, { timeout: 20_000 }).not.toBe(before);
  await pages.focus();
  await score.keyboard.press('u');
  await expect.poll(first, { timeout: 20_000 }).toBe(before);
  await expect.poll(() => historyOf(page)).toEqual(['As brought in', expect.stringMatching(/^Transpose/)]);
  // The Desk's window goes: the other one keeps what is changed from there on.
  await saved(page);
  await page.close();
  await expect(score.getByText(/^The other window was closed/)).toBeVisible();
  await pages.focus();
  await score.keyboard.press('Shift+U');
  await expect.poll(first, { timeout: 20_000 }).not.toBe(before);
  await saved(score);
  await score.reload();
  await expect(pages.locator('g.note').first()).toBeAttached({ timeout: 30_000 });
  await score.getByRole('button', { name: 'Desk', exact: false }).first().click();
  await deskReady(score);
  expect(await historyOf(score)).toEqual(['As brought in', expect.stringMatching(/^Transpose/)]);
});
