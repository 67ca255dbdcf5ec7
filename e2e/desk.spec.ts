import { focusRoll, historyOf, openDemo, pageReady, press, roll, saved } from '../journeys/desk.js';
import { clean, expect, test } from '../journeys/stage.js';
import type { Looked } from './clean.js';

const IN_FORCED_COLOURS = [
  'aria-hidden-focus',
  'button-name',
  'label',
  'link-in-text-block',
  'nested-interactive',
  'scrollable-region-focusable',
];

test('every screen, menu and panel is clean for axe-core, in light, in dark and in the system’s colours', async ({
  page,
  server,
}) => {
  test.setTimeout(240_000);
  const themed = (theme: string) =>
    page.evaluate((name) => {
      document.documentElement.dataset.theme = name;
    }, theme);
  // Another theme has other colours, and nothing else that could be wrong; with the system's own colours it is what those
  // may hide.
  const looked = async (looked: Looked) => {
    await clean(page, looked);
    await themed('dark');
    await clean(page, { ...looked, rules: ['color-contrast'] });
    await themed('light');
    await page.emulateMedia({ forcedColors: 'active' });
    await clean(page, { ...looked, rules: IN_FORCED_COLOURS });
    await page.emulateMedia({ forcedColors: 'none' });
  };
  const look = () => looked({});
  const lookBeside = () => looked({ within: 'aside[aria-label="Panels"]' });
  await page.goto(server.address);
  await expect(page.getByRole('link', { name: 'Saltmarsh Lanterns' })).toBeVisible();
  await look();
  await openDemo(page, server);
  await pageReady(page);
  await press(page, '.');
  await look();
  // The engraving is large, and was looked through once.
  await press(page, 'w');
  for (const tab of ['Plan', 'Findings', 'Selection', 'Page', 'More']) {
    await page.getByRole('tab', { name: tab }).click();
    if (tab === 'More') await page.getByText('Charts of the front part').click();
    await lookBeside();
  }
  await page.getByRole('tab', { name: 'Plan' }).click();
  await page.getByRole('button', { name: 'Quantize starts', exact: true }).click();
  await look();
  await press(page, 'j');
  await look();
  // What can be open over the Desk or in its side: the menu, a list of keys, settings, offers, commands, export.
  await roll(page).click({ button: 'right', position: { x: 300, y: 200 } });
  await page.getByRole('menuitem', { name: /^Lengths/ }).click();
  await expect(page.getByRole('menuitem', { name: /^Trim overlaps/ })).toBeVisible();
  await look();
  await page.keyboard.press('Escape');
  await page.keyboard.press('Escape');
  // The menu has the keys while it goes.
  await expect(page.getByRole('menuitem')).toHaveCount(0);
  await press(page, 'l');
  await expect(page.getByRole('menu', { name: 'Lengths' })).toBeVisible();
  await look();
  await page.keyboard.press('Shift+T');
  await expect(page.getByRole('region', { name: 'Trim overlaps' })).toBeVisible();
  await lookBeside();
  await page.getByRole('button', { name: 'Close', exact: true }).click();
  for (const [letter, name] of [
    ['t', 'Line up'],
    ['p', 'Random pitches'],
  ] as const) {
    await press(page, 'a', letter, letter === 't' ? 'l' : 'r');
    await expect(page.getByRole('region', { name })).toBeVisible();
    await lookBeside();
    await page.getByRole('button', { name: 'Close', exact: true }).click();
  }
  for (const [list, letter, name] of [
    ['o', 'n', 'The part'],
    ['o', 'p', 'Split the part'],
    ['o', 'j', 'Combine parts'],
    ['o', 'e', 'Add an empty part'],
    ['o', 't', 'Send to a part'],
    ['o', 'g', 'Deal out'],
    ['b', 'n', 'Repeat several times'],
    ['y', 'v', 'What is seen'],
    ['y', 'g', 'Go to'],
    ['6', '6', 'Sentences'],
    ['6', 'w', 'Where … do …'],
    ['8', 'k', 'Markers, meter, key, tempo'],
    ['8', 's', 'Slow down and return'],
    ['8', 'r', 'Recording'],
    ['k', 'o', 'Sounds'],
    ['7', ',', 'Way of playing'],
  ] as const) {
    await press(page, 'a', list);
    await page.keyboard.press(letter);
    await expect(page.getByRole('region', { name, exact: true })).toBeVisible();
    await lookBeside();
    await page.getByRole('button', { name: 'Close', exact: true }).click();
  }
  // What only a percussion part has.
  await press(page, 'Alt+6', 'o');
  await page.keyboard.press('k');
  await expect(page.getByRole('region', { name: 'Percussion map' })).toBeVisible();
  await lookBeside();
  await page.getByRole('button', { name: 'Close', exact: true }).click();
  await press(page, 'Alt+1', 'Escape', 'd', '3', 'q');
  await expect(page.getByRole('region', { name: 'Quantize starts on what?' })).toBeVisible();
  await look();
  await page.keyboard.press('Escape');
  await press(page, 'd', '/');
  await expect(page.getByRole('dialog')).toBeVisible();
  await look();
  await page.keyboard.press('Escape');
  await press(page, 'Shift+X');
  await expect(page.getByRole('dialog')).toBeVisible();
  await look();
});

test('two browsers on one arrangement: the later one is told, and can put its change on top', async ({
  page,
  browser,
  server,
}) => {
  await openDemo(page, server);
  const elsewhere = await browser.newContext();
  const other = await elsewhere.newPage();
  await openDemo(other, server);
  await focusRoll(page);
  await page.keyboard.press('.');
  await page.keyboard.press('ArrowUp');
  await saved(page);
  await focusRoll(other);
  await other.keyboard.press('.');
  await other.keyboard.press('Shift+ArrowRight');
  await expect(other.getByRole('alert')).toContainText('changed in another window');
  await other.getByRole('button', { name: /Take over/ }).click();
  await saved(other);
  expect(await historyOf(other)).toEqual(['As brought in', 'Transpose: 1 note in Flute', 'Trim ends: 1 note in Flute']);
  await elsewhere.close();
});
