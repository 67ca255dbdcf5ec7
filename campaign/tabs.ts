/** A browser that is killed while its changes cannot reach the server: each of them comes back at the next opening. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { demoMidi } from '@crispfold/core';
import { type BrowserContext, chromium } from '@playwright/test';
import { asForm, chanceOf, type Tally, Tried } from './server.js';

const CHROMIUM = '/usr/bin/chromium';
const ARGS = ['--no-sandbox', '--disable-gpu', '--disable-quic', '--disable-background-networking'];

export const tabCrashes = async (more: () => boolean): Promise<Tally> => {
  const problems: string[] = [];
  const chance = chanceOf(59);
  const counts = { crashes: 0, browsersKilled: 0, tabsCrashed: 0, tabsClosed: 0, changes: 0, cameBack: 0 };
  const profile = mkdtempSync(path.join(tmpdir(), 'crispfold-profile-'));
  const browser = (): Promise<BrowserContext> =>
    chromium.launchPersistentContext(profile, {
      executablePath: CHROMIUM,
      args: ARGS,
      viewport: { width: 1280, height: 800 },
    });
  const server = new Tried();
  await server.start();
  // The browser keeps what is kept by address: the server comes back on the same port.
  const environment = { CRISPFOLD_PORT: new URL(server.address).port };
  const id = ((await server.ask('/api/arrangements', asForm(['a.mid', demoMidi()]))).body as { open: { id: string } })
    .open.id;
  const standing = async () => {
    const { body } = await server.ask(`/api/arrangements/${id}`);
    return body as { revision: number };
  };
  let context = await browser();
  while (more() && problems.length === 0) {
    const before = (await standing()).revision;
    const page = await context.newPage();
    await page.addInitScript(() => localStorage.setItem('crispfold-tour', 'seen'));
    await page.goto(new URL(`/desk/${id}`, server.address).href);
    const roll = page.locator('#roll');
    await roll.waitFor();
    await roll.focus();
    await page.keyboard.press('.');
    await server.end('SIGKILL');
    const changes = 1 + Math.floor(chance() * 12);
    for (let at = 0; at < changes; at += 1) await page.keyboard.press(at % 2 === 0 ? 'ArrowUp' : 'ArrowDown');
    await page.locator('header [role="status"]').first().filter({ hasText: 'Not saved yet' }).waitFor();
    // What was made last has a moment to be kept, as it has between a key and a crash.
    await page.waitForTimeout(250);
    const way = chance();
    if (way < 0.4) {
      spawnSync('pkill', ['-9', '-f', profile]);
      await context.close().catch(() => undefined);
      context = await browser();
      counts.browsersKilled += 1;
    } else if (way < 0.7) {
      await page.goto('chrome://crash').catch(() => undefined);
      await page.close().catch(() => undefined);
      counts.tabsCrashed += 1;
    } else {
      await page.close({ runBeforeUnload: false });
      counts.tabsClosed += 1;
    }
    counts.crashes += 1;
    counts.changes += changes;
    await server.start(environment);
    const again = await context.newPage();
    await again.goto(new URL(`/desk/${id}`, server.address).href);
    const asked = again.getByRole('dialog', { name: 'Changes that were not saved' });
    const words = await asked.textContent({ timeout: 15_000 }).catch(() => null);
    if (!words?.includes(changes === 1 ? '1 change from' : `${changes} changes from`)) {
      problems.push(`${changes} changes waited; asked was: ${words}`);
      break;
    }
    await again.getByRole('button', { name: 'Bring them back' }).click();
    await asked.waitFor({ state: 'detached' });
    const { revision } = await standing();
    if (revision !== before + changes) problems.push(`${changes} changes made, ${revision - before} came back`);
    counts.cameBack += revision - before;
    await again.close();
  }
  await context.close();
  await server.end();
  return { ...counts, problems };
};
