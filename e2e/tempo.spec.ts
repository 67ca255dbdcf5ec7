import { historyOf, press, spokenWords } from '../journeys/desk.js';
import { bringInTake } from '../journeys/music.js';
import { clean, expect, test } from '../journeys/stage.js';

test('beats are found, put right, seen and accepted by hand', async ({ page, server, troubles }) => {
  await bringInTake(page, server);
  await press(page, '8', 'g');
  const panel = page.getByRole('region', { name: 'Tempo from the take' });
  await panel.getByRole('button', { name: 'Find the beats' }).click();
  const status = panel.getByRole('status');
  await expect(status).toHaveText(/^\d+ beats, \d+ to \d+ a minute\. A bar of 4 begins at 0:00\.$/);
  const found = Number(/^\d+/.exec((await status.textContent()) ?? '')?.[0]);
  await clean(page, { within: 'aside' });
  await panel.getByRole('button', { name: 'Twice as many' }).click();
  await expect(status).toHaveText(new RegExp(`^${2 * found - 1} beats`));
  await panel.getByRole('button', { name: 'Half as many' }).click();
  await expect(status).toHaveText(new RegExp(`^${found} beats`));
  await panel.getByRole('button', { name: 'Bars a beat later' }).click();
  await panel.getByRole('button', { name: 'Bars a beat earlier' }).click();
  await panel.getByRole('button', { name: '10 ms later' }).click();
  // Each beat has a handle under the ruler: by pointer, then by keyboard.
  const handles = page.getByRole('group', { name: /^Beats found/ });
  const third = handles.getByRole('slider', { name: 'Beat 3 of bar 1' });
  const before = Number(await third.getAttribute('aria-valuenow'));
  const box = (await third.boundingBox()) as { x: number; y: number; width: number; height: number };
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + 12, box.y + box.height / 2, { steps: 3 });
  await page.mouse.up();
  const dragged = Number(await third.getAttribute('aria-valuenow'));
  expect(dragged).toBeGreaterThan(before + 0.02);
  await expect(third).toBeFocused();
  await page.keyboard.press('ArrowLeft');
  await expect(spokenWords(page)).toHaveText(`at ${(dragged - 0.01).toFixed(2)} seconds`);
  await page.keyboard.press('.');
  await expect(handles.getByRole('slider', { name: 'Beat 4 of bar 1' })).toBeFocused();
  await panel.getByRole('button', { name: 'Take this tempo' }).click();
  await expect(spokenWords(page)).toHaveText('The tempo is that of the take. Every note sounds when it did.');
  expect((await historyOf(page)).at(-1)).toBe('Tempo from the take; notes keep their time');
  // Tapped instead: while it plays, four taps are four beats.
  await press(page, '8', 'g');
  await panel.getByLabel('Listen to').selectOption('my taps');
  await panel.getByRole('button', { name: /^Tap each beat/ }).click();
  await expect(spokenWords(page)).toHaveText(/^Play the take first/);
  await press(page, 'Space');
  await expect(page.getByLabel('Playhead')).toHaveText(/0:0[1-9]/);
  // Taps nearer to each other than a hand's are one beat: so many that four are there.
  let taps = 0;
  await expect(async () => {
    await panel.getByRole('button', { name: `Tap each beat · ${taps}` }).click();
    taps += 1;
    await expect(panel.getByRole('button', { name: `Tap each beat · ${taps}` })).toBeVisible();
    await expect(status).toHaveText(/^\d+ beats/, { timeout: 200 });
  }).toPass();
  await expect(status).toHaveText(/^4 beats/);
  await panel.getByRole('button', { name: 'Leave it' }).click();
  expect(troubles).toEqual([]);
});
