/** How journeys speak to the Desk. */
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { expect, type Locator, type Page, type Server } from './stage.js';

/** Waits until the Desk takes keys. */
export const deskReady = (page: Page): Promise<void> => expect(roll(page)).toBeVisible({ timeout: 30_000 });

/** Opens the demo on the Desk; its page may come later. */
export const openDemo = async (page: Page, server: Server): Promise<void> => {
  await page.goto(server.address);
  await page.getByRole('link', { name: 'Saltmarsh Lanterns' }).click();
  await deskReady(page);
};

/** Waits until the page under the roll is engraved. */
export const pageReady = (page: Page): Promise<void> =>
  expect(engraved(page).locator('svg g.note').first()).toBeAttached({ timeout: 30_000 });

/** Waits until all is on disk. */
export const saved = (page: Page): Promise<void> => expect(saveState(page)).toHaveText('Saved');

/** The history's entries. */
export const historyOf = async (page: Page): Promise<string[]> => {
  const entries = page.getByRole('region', { name: 'History' }).getByRole('listitem');
  await page.getByRole('tab', { name: 'More' }).click();
  await expect(entries.first()).toBeAttached();
  const lines = await entries.allTextContents();
  return lines.map((line) => line.replace(/^\d+/, ''));
};

/** The roll; dialogs over it hide it from readers, and not from the eye. */
export const roll = (page: Page): Locator => group(page, /^Roll of all parts/);

/** What has this role and name, whether or not a dialog lies over it. */
const named = (page: Page, role: Parameters<Page['getByRole']>[0], name: string | RegExp): Locator =>
  page.getByRole(role, { name, includeHidden: true });
const group = (page: Page, name: string | RegExp): Locator => named(page, 'group', name);

/** The page under the roll. */
export const engraved = (page: Page): Locator => named(page, 'region', 'Engraved bars');
/** The whole piece above the roll. */
export const pieceStrip = (page: Page): Locator => named(page, 'scrollbar', 'The whole piece');
/** A lane under the roll. */
export const lane = (page: Page, name: string): Locator => group(page, new RegExp(`^Lane ${name}`));
/** Everything as a table. */
export const table = (page: Page): Locator => named(page, 'grid', /^Rows/);
/** The score view's pages, and which of them is seen. */
export const scorePages = (page: Page): Locator => group(page, /^Pages\./);
export const scorePlace = (page: Page): Locator => group(page, 'Place in the score');
/** Where notes are entered by letters, in words, and on the page; where a take is. */
export const entryPlace = (page: Page): Locator => group(page, 'Place of entry');
export const caret = (page: Page): Locator => named(page, 'img', 'Where the next note is entered');
export const takePlace = (page: Page): Locator => group(page, 'Place of the take');
/** The recording under the ruler. */
export const recordingStrip = (page: Page): Locator => named(page, 'slider', /^Where the recording begins/);
/** How the work stands on disk, in words. */
export const saveState = (page: Page): Locator =>
  page.locator('header').getByRole('status', { includeHidden: true }).first();

/** What stands above the notes of the demo, in pixels. */
export const ROLL_HEAD = 46;

/** Goes to the next note, and looks at it alone: it then lies in the middle of the roll, which is answered. */
export const lookAtNextNote = async (page: Page): Promise<readonly [x: number, y: number]> => {
  await focusRoll(page);
  await page.keyboard.press('.');
  await page.keyboard.press('z');
  const box = await roll(page).boundingBox();
  if (!box) throw new Error('There is no roll.');
  // Left of the notes stand the keys, above them the ruler.
  return [box.x + 40 + (box.width - 40) / 2, box.y + ROLL_HEAD + (box.height - ROLL_HEAD) / 2];
};

/** Puts the keys' focus on the roll without touching what is in it. */
export const focusRoll = (page: Page): Promise<void> => roll(page).focus();

/** Presses keys one after another, on the roll. */
export const press = async (page: Page, ...keys: string[]): Promise<void> => {
  await focusRoll(page);
  for (const key of keys) await page.keyboard.press(key);
};

/** What a screen reader was last told. */
export const spokenWords = (page: Page): Locator => page.locator('footer [aria-live]');

/** A region by its name. */
export const panel = (page: Page, name: string): Locator => page.getByRole('region', { name, exact: true });

/** Opens a list by its key and presses a letter in it. */
export const list = async (page: Page, letters: string): Promise<void> => {
  const [leader = '', letter = ''] = letters.split(' ');
  await press(page, leader);
  await page.keyboard.press(letter);
};

/** Where a journey may put a file of its own. */
export const outputPath = (name: string): string =>
  path.join(mkdtempSync(path.join(tmpdir(), 'crispfold-journey-')), name);
