import { deskReady, openDemo, pageReady, press } from '../journeys/desk.js';
import { clean, expect, test } from '../journeys/stage.js';

test.describe('at the first visit', () => {
  test.use({ firstVisit: true });

  test('a tour of five steps is offered on the demo, once, and is never in the way', async ({
    page,
    server,
    troubles,
  }) => {
    await openDemo(page, server);
    await pageReady(page);
    const tour = page.getByRole('region', { name: 'Tour' });
    await expect(tour).toContainText('1 of 5');
    // Keys and pointer work on: it only stands there.
    await press(page, 'n');
    await expect(tour).toContainText('All parts in one view');
    await clean(page, { within: '[aria-label="Tour"]' });
    for (const at of [2, 3, 4, 5]) {
      await tour.getByRole('button', { name: 'Next' }).click();
      await expect(tour).toContainText(`${at} of 5`);
    }
    await expect(page.getByRole('tab', { name: 'Findings' })).toHaveAttribute('aria-selected', 'true');
    await tour.getByRole('button', { name: 'To work' }).click();
    await expect(tour).toHaveCount(0);
    await page.reload();
    await deskReady(page);
    await expect(tour).toHaveCount(0);
    await press(page, 'y', 'x');
    await expect(tour).toContainText('1 of 5');
    expect(troubles).toEqual([]);
  });
});
