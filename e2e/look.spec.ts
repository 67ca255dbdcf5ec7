/** By finger on a tablet; in other names, in the system's own colours, and seen twice as large. */
import {
  deskReady,
  historyOf,
  lookAtNextNote,
  openDemo,
  pageReady,
  press,
  ROLL_HEAD,
  roll,
  spokenWords,
} from '../journeys/desk.js';
import { clean, expect, type Page, test } from '../journeys/stage.js';

/** Fingers on the screen, as a tablet reports them. */
const fingers = async (page: Page) => {
  const client = await page.context().newCDPSession(page);
  const send = (
    type: 'touchStart' | 'touchMove' | 'touchEnd',
    ...points: readonly (readonly [x: number, y: number])[]
  ) => client.send('Input.dispatchTouchEvent', { type, touchPoints: points.map(([x, y], id) => ({ x, y, id })) });
  return {
    /** Puts one finger down, moves it, lifts it. */
    drag: async ([x, y]: readonly [number, number], [dx, dy]: readonly [number, number]) => {
      await send('touchStart', [x, y]);
      for (let step = 1; step <= 6; step += 1) await send('touchMove', [x + (dx * step) / 6, y + (dy * step) / 6]);
      await send('touchEnd');
    },
    /** Two fingers, from so far apart to so far apart. */
    pinch: async ([x, y]: readonly [number, number], from: number, to: number) => {
      const at = (apart: number) =>
        [
          [x - apart / 2, y],
          [x + apart / 2, y],
        ] as const;
      await send('touchStart', ...at(from));
      for (let step = 1; step <= 6; step += 1) await send('touchMove', ...at(from + ((to - from) * step) / 6));
      await send('touchEnd');
    },
    down: (at: readonly [number, number]) => send('touchStart', at),
    up: () => send('touchEnd'),
  };
};

test.describe('on a tablet', () => {
  test.use({ viewport: { width: 1024, height: 768 }, hasTouch: true, isMobile: true });

  test('a finger selects, moves, opens the menu; two zoom; targets are 44 pixels', async ({
    page,
    server,
    troubles,
  }) => {
    await openDemo(page, server);
    await pageReady(page);
    const small = await page.evaluate(() =>
      [...document.querySelectorAll<HTMLElement>('button, select, [role="tab"], a[href]')].flatMap((element) => {
        const { width, height } = element.getBoundingClientRect();
        return width > 0 && (width < 43.9 || height < 43.9) ? [`${element.textContent} ${width}×${height}`] : [];
      }),
    );
    expect(small).toEqual([]);
    const hand = await fingers(page);
    const [x, y] = await lookAtNextNote(page);
    await page.touchscreen.tap(x, y);
    await expect(page.getByRole('contentinfo')).toContainText('1 note selected');
    await hand.drag([x, y], [0, -40]);
    await expect(async () =>
      expect((await historyOf(page)).at(-1)).toMatch(/^(Move|Transpose): 1 note in Flute/),
    ).toPass();
    await hand.down([x, y - 40]);
    await expect(page.getByRole('menuitem', { name: /Delete the selection/ })).toBeVisible();
    await hand.up();
    await page.keyboard.press('Escape');
    await press(page, '0');
    // All bars are more than the page shows at once; seen nearer they are not.
    const bars = page.getByText(/^bars \d+ to \d+/);
    await expect(bars).toHaveText(/the first of those in view$/);
    const box = await roll(page).boundingBox();
    await hand.pinch([(box?.x ?? 0) + 300, (box?.y ?? 0) + ROLL_HEAD + 120], 100, 400);
    await expect(bars).not.toHaveText(/^bars 1 to /);
    expect(troubles).toEqual([]);
  });
});

test('notes are called as one likes; all is there in the system’s colours and seen twice as large', async ({
  page,
  server,
  troubles,
}) => {
  await openDemo(page, server);
  await pageReady(page);
  await press(page, 'y', 'v');
  await page.getByLabel('Called').selectOption('C, Cis, D … B, H');
  await deskReady(page);
  await press(page, 'y', 'v');
  await page.getByLabel('60 is').selectOption('C3, middle C');
  await deskReady(page);
  await pageReady(page);
  // The flute begins with A5 in the usual names: an octave lower here; findings are named by the worker.
  await press(page, 'Home', '.');
  await expect(spokenWords(page)).toHaveText(/^Flute, A4, bar 1 beat 1/);
  await page.getByRole('tab', { name: 'Selection' }).click();
  await expect(page.getByLabel('Pitch', { exact: true })).toHaveValue('A4');
  await page.emulateMedia({ forcedColors: 'active', reducedMotion: 'reduce' });
  // The colours are then the system's own, whatever the style sheet says.
  await clean(page, { but: '.engraved', without: ['color-contrast'] });
  // 1280 × 800 at twice the size.
  await page.setViewportSize({ width: 640, height: 400 });
  const hidden = await page.evaluate(() => {
    const reachable = (element: HTMLElement): boolean => {
      element.scrollIntoView({ block: 'center', inline: 'center' });
      const { left, top, width, height } = element.getBoundingClientRect();
      const there = document.elementFromPoint(left + width / 2, top + height / 2);
      return there !== null && (element.contains(there) || there.contains(element));
    };
    return [
      ...document.querySelectorAll<HTMLElement>('header button, nav button, main button, aside button, [role="tab"]'),
    ]
      .filter((element) => element.getBoundingClientRect().width > 0 && !reachable(element))
      .map((element) => element.textContent || element.getAttribute('aria-label'));
  });
  expect(hidden).toEqual([]);
  expect(troubles).toEqual([]);
});
