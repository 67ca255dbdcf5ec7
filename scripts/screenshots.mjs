// npm run screenshots: makes docs/screenshots anew from the demo.
import { spawn } from 'node:child_process';
import { mkdirSync, mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { chromium } from '@playwright/test';
import { installPackages, root, run } from './install.mjs';

installPackages();
run('npm', ['run', '--silent', 'build']);
const folder = path.join(root, 'docs', 'screenshots');
mkdirSync(folder, { recursive: true });
const server = spawn(process.execPath, ['apps/server/dist/main.js'], {
  cwd: root,
  env: {
    ...process.env,
    CRISPFOLD_DEMO: 'yes',
    CRISPFOLD_PORT: '0',
    CRISPFOLD_DATABASE: path.join(mkdtempSync(path.join(tmpdir(), 'crispfold-shots-')), 'shots.sqlite'),
  },
});
const address = await new Promise((resolve) => {
  server.stdout.on('data', (data) => {
    const found = /http:\S+/.exec(data.toString());
    if (found) resolve(found[0]);
  });
});
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--disable-background-networking'],
});
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
await page.addInitScript(() => localStorage.setItem('crispfold-tour', 'seen'));
const shoot = async (name) => {
  await page.waitForTimeout(900);
  await page.screenshot({ path: path.join(folder, `${name}.png`) });
};
const keys = async (...list) => {
  await page.locator('#roll').focus();
  for (const key of list) await page.keyboard.press(key);
};

await page.goto(address);
await page.getByRole('link', { name: 'Saltmarsh Lanterns' }).waitFor();
await shoot('library');
await page.getByRole('link', { name: 'Saltmarsh Lanterns' }).click();
await page
  .locator('[aria-label="Engraved bars"]')
  .locator('svg g.note')
  .first()
  .waitFor({ state: 'attached', timeout: 60_000 });
await shoot('desk');

const box = await page.locator('#roll').boundingBox();
await page.mouse.move(box.x + box.width - 8, box.y + 6);
await page.mouse.down();
await page.mouse.move(box.x + box.width * 0.55, box.y + 60, { steps: 4 });
await page.mouse.up();
await keys('n', '.', '.', '.', '3');
await shoot('crease');
await keys('Shift+X');
await shoot('export');
await page.keyboard.press('Escape');
await keys('c', 'Shift+N', '1');
await page.getByRole('button', { name: 'Quantize starts', exact: true }).click();
await shoot('plan');
await page.getByRole('button', { name: 'Quantize starts', exact: true }).click();
await keys('2', 'j', 'j', 'j');
await shoot('findings');
await keys('r', 'a', '3');
await shoot('selection');
await keys('Escape', 'r', 'Alt+4');
for (const [letter, shown] of [
  ['v', 'velocity'],
  ['t', 'tempo'],
  ['e', 'cc11'],
]) {
  await keys('8', letter);
  await page.locator(`#lane-${shown}`).waitFor();
}
await keys('8', 's');
await page.getByLabel('To the end of bar').fill('4');
await page.getByLabel('To the end of bar').press('Enter');
await page.getByRole('button', { name: 'Slow down', exact: true }).click();
await page.getByRole('button', { name: 'Curve', exact: true }).click();
const lane = page.locator('#lane-cc11');
await lane.scrollIntoViewIfNeeded();
const { x, y, height } = await lane.boundingBox();
await page.mouse.move(x + 40, y + height * 0.8);
await page.mouse.down();
await page.mouse.move(x + 420, y + height * 0.2, { steps: 4 });
await page.mouse.up();
await shoot('lanes');
await page.getByRole('button', { name: 'Choose', exact: true }).click();
await keys('8', 'x', 'u', 'u');
await keys('Shift+T');
await page.locator('[role="grid"]').waitFor();
await page.getByLabel('Bars', { exact: true }).fill('2-4');
await page.locator('[role="grid"]').focus();
for (const key of ['ArrowDown', 'ArrowDown', 'Space', 'ArrowDown', 'Space']) await page.keyboard.press(key);
await shoot('table');
await page.keyboard.press('Escape');
await page.locator('#roll').waitFor();
await keys('Escape');
await keys('Escape', 'r', 'Alt+1', 'Escape', '.', '.', '7', 'a', '.', '7', 't', '.', '7', 'f', '4');
await page.getByLabel('Dynamic').selectOption('mf');
await shoot('correcting');
for (let back = 0; back < 4; back += 1) await keys('u');
await keys('Escape', 'Alt+4', 'o');
await page.keyboard.press('n');
await shoot('part');
await page.keyboard.press('Escape');
await keys('a', 'o');
await page.keyboard.press('g');
for (const name of ['Horn in F', 'Tambourine']) {
  await page.getByRole('region', { name: 'Deal out' }).getByRole('checkbox', { name }).uncheck();
}
await shoot('dealout');
await page.keyboard.press('Escape');
await keys('Escape', 'r', '6');
await page.keyboard.press('6');
await page.getByRole('button', { name: 'The lowest of each chord louder', exact: true }).click();
await shoot('sentence');
await page.keyboard.press('Escape');
await keys('r', 'n', '8');
await page.keyboard.press('r');
await page.getByLabel('under the ruler').check();
await page.getByRole('button', { name: 'Find attacks' }).click();
await page.getByRole('button', { name: /Attacks · / }).waitFor();
await keys('a');
await shoot('recording');
await page.getByLabel('under the ruler').uncheck();
await page.getByRole('region', { name: 'Recording' }).press('Escape');
await keys('Escape');
await keys('Shift+P');
await page.locator('[data-page="1"] svg g.note').first().waitFor({ state: 'attached', timeout: 60_000 });
await shoot('score');
await page.locator('#score-pages').press('Escape');
await page.locator('#roll').waitFor();
await keys('n', '1', 'y', 't');
// Notes entered by letters, on the page too: where the next one goes.
await keys('Home', 'Shift+D');
await page.locator('[aria-label="Where the next note is entered"]').waitFor();
const strip = await page
  .locator('[aria-label="Engraved bars"]')
  .locator('g.measure')
  .nth(3)
  .locator('g.staff')
  .first()
  .boundingBox();
await page.mouse.move(strip.x + strip.width - 6, strip.y + 14);
await shoot('dark');
await keys('Escape');
await keys('y');
await page.keyboard.press('t');
await keys('1', 'Alt+6', 'y');
await page.keyboard.press('v');
await page.getByRole('region', { name: 'What is seen' }).getByRole('combobox').first().selectOption('loudness');
await keys('Shift+G');
await page.keyboard.type('9');
await page.keyboard.press('Enter');
await keys('y');
await page.keyboard.press('v');
await shoot('seeing');
await page.getByRole('region', { name: 'What is seen' }).getByRole('combobox').first().selectOption('part');
await page.keyboard.press('Escape');
await keys('o');
await page.keyboard.press('k');
await shoot('percussion');
await page.keyboard.press('Escape');
// Forty parts: the six of the demo, again and again.
const demoParts = ['Flute', 'Clarinet', 'Horn', 'Vibraphone', 'Cello', 'Tambourine'];
for (let more = 0; more < 34; more += 1) {
  await page
    .getByRole('navigation', { name: 'Parts' })
    .getByRole('button', { name: new RegExp(`^Bring ${demoParts[more % 6]}|^${demoParts[more % 6]}`) })
    .first()
    .click();
  await keys('o');
  await page.keyboard.press('c');
  await page.waitForTimeout(150);
}
await keys('Alt+1', '0');
await page.waitForTimeout(4000);
await shoot('forty');
await browser.close();
server.kill();
