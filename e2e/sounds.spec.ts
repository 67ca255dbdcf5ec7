import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { BasicSoundBank } from 'spessasynth_core';
import { focusRoll, openDemo } from '../journeys/desk.js';
import { expect, type Page, test } from '../journeys/stage.js';

type Listening = typeof globalThis & { ears?: Map<BaseAudioContext, AnalyserNode> };

/** Listens to all that goes to the loudspeaker. */
const listen = async (page: Page): Promise<void> => {
  await page.addInitScript(() => {
    const own = globalThis as Listening;
    own.ears = new Map();
    const connect = AudioNode.prototype.connect as (this: AudioNode, ...to: unknown[]) => AudioNode;
    AudioNode.prototype.connect = function (this: AudioNode, ...to: unknown[]) {
      const { context } = this;
      if (to[0] instanceof AudioDestinationNode && context instanceof AudioContext) {
        const ear = own.ears?.get(context) ?? new AnalyserNode(context, { fftSize: 8192 });
        own.ears?.set(context, ear);
        connect.call(this, ear, ...to.slice(1));
      }
      return connect.apply(this, to);
    } as typeof AudioNode.prototype.connect;
  });
};

/** How loud it is just now, 0 to 1. */
const loudness = (page: Page): Promise<number> =>
  page.evaluate(() => {
    const ears = [...((globalThis as Listening).ears?.values() ?? [])];
    return Math.max(
      0,
      ...ears.map((ear) => {
        const samples = new Float32Array(ear.fftSize);
        ear.getFloatTimeDomainData(samples);
        return Math.sqrt(samples.reduce((sum, sample) => sum + sample * sample, 0) / samples.length);
      }),
    );
  });

test('parts sound by the built-in sounds, then by a SoundFont, which is deleted again; nothing is left sounding', async ({
  page,
  server,
  troubles,
}, { outputDir }) => {
  const bad = path.join(outputDir, '..', `${process.pid}-words.sf2`);
  writeFileSync(bad, 'Some words, and no sound.');
  const font = path.join(outputDir, '..', `${process.pid}-small.sf2`);
  writeFileSync(font, Buffer.from(await BasicSoundBank.getSampleSoundBankFile()));

  await listen(page);
  await openDemo(page, server);
  await focusRoll(page);
  await page.keyboard.press('Space');
  await expect.poll(() => loudness(page)).toBeGreaterThan(0.001);
  await page.keyboard.press('Space');
  await expect.poll(() => loudness(page)).toBeLessThan(0.0001);

  await page.keyboard.press('k');
  await page.keyboard.press('o');
  await page.getByLabel('A SoundFont', { exact: true }).setInputFiles(bad);
  await expect(
    page.getByText('This file is no SoundFont (.sf2 or .sf3), or it is damaged. Nothing was changed.'),
  ).toBeVisible();
  await page.getByLabel('A SoundFont', { exact: true }).setInputFiles(font);
  await expect(page.getByRole('radio', { name: /small\.sf2/ })).toBeChecked();
  await focusRoll(page);
  await page.keyboard.press('Space');
  await expect.poll(() => loudness(page), { timeout: 15_000 }).toBeGreaterThan(0.001);
  await page.keyboard.press('k');
  await page.keyboard.press('x');
  await expect.poll(() => loudness(page)).toBeLessThan(0.0001);

  await page.reload();
  await focusRoll(page);
  await page.keyboard.press('k');
  await page.keyboard.press('o');
  await expect(page.getByRole('radio', { name: /small\.sf2/ })).toBeChecked();
  await page.getByRole('button', { name: 'Delete it' }).click();
  await expect(page.getByRole('radio', { name: /Built-in sounds/ })).toBeChecked();
  expect(troubles.filter((trouble) => !trouble.includes('422'))).toEqual([]);
});
