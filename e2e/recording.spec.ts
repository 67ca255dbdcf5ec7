import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { build } from 'esbuild';
import { focusRoll, historyOf, openDemo, recordingStrip, saved, spokenWords } from '../journeys/desk.js';
import { expect, test } from '../journeys/stage.js';

const files = path.join(import.meta.dirname, 'files');

const place = 'Where the recording begins, in seconds from bar 1';

test('the demo’s recording is moved away by number, by drag and by key, and goes back to the notes within 5 ms', async ({
  page,
  server,
  troubles,
}) => {
  await openDemo(page, server);
  await focusRoll(page);
  await page.keyboard.press('8');
  await page.keyboard.press('r');
  const begins = page.getByLabel(place);
  await expect(begins).toHaveValue('-1.370');
  await page.getByRole('button', { name: 'Find attacks' }).click();
  await expect(page.getByRole('button', { name: /Attacks · [1-9]/ })).toBeVisible({ timeout: 20_000 });
  await begins.fill('2.2');
  await begins.press('Enter');
  await begins.fill('+0.05');
  await begins.press('Enter');
  await expect(begins).toHaveValue('2.250');
  await page.getByLabel('under the ruler').check();
  const strip = recordingStrip(page);
  await strip.press('ArrowRight');
  await expect(begins).toHaveValue('2.251');
  const box = await strip.boundingBox();
  if (!box) throw new Error('no strip');
  await page.mouse.move(box.x + 200, box.y + 10);
  await page.mouse.down();
  await page.mouse.move(box.x + 300, box.y + 10, { steps: 3 });
  await page.mouse.up();
  await expect(begins).not.toHaveValue('2.251');
  expect(Number(await begins.inputValue())).toBeGreaterThan(2.5);
  await page.getByRole('button', { name: 'Move the recording to the notes' }).click();
  await expect.poll(async () => Math.abs(Number(await begins.inputValue()) + 1.37)).toBeLessThan(0.005);

  // Notes that are late by 30 ms go back to their attacks.
  await focusRoll(page);
  await page.keyboard.press('a');
  await expect(page.getByRole('button', { name: /Move notes · [1-9]/ })).toBeVisible();
  await page.getByRole('button', { name: /Move notes/ }).click();
  await expect(spokenWords(page)).toContainText('Move to attacks');
  await page.getByRole('button', { name: 'Put aside' }).click();
  await expect(strip).toBeHidden();
  await page.keyboard.press('Control+z');
  await expect(strip).toBeVisible();
  await saved(page);
  await page.getByRole('button', { name: 'Close', exact: true }).click();
  expect((await historyOf(page)).join()).toContain('Move to attacks');
  expect(troubles).toEqual([]);
});

test('recordings of every kind are taken; what is none is told so, and nothing is lost', async ({ page, server }, {
  outputDir,
}) => {
  await openDemo(page, server);
  await focusRoll(page);
  await page.keyboard.press('8');
  await page.keyboard.press('r');
  const chosen = page.getByLabel('A recording', { exact: true });
  for (const kind of ['flac', 'ogg', 'mp3']) {
    await chosen.setInputFiles(path.join(files, `three-tones.${kind}`));
    await expect(page.locator('b', { hasText: `three-tones.${kind}` })).toBeVisible();
    await page.getByRole('button', { name: /Find attacks|Attacks/ }).click();
    await expect(page.getByRole('button', { name: 'Attacks · 3' })).toBeVisible();
  }
  const bad = (name: string, content: string | Buffer) => {
    const at = path.join(outputDir, '..', `${process.pid}-${name}`);
    writeFileSync(at, content);
    return at;
  };
  await chosen.setInputFiles(bad('words.wav', 'These are words, and no sound at all.'));
  await expect(page.getByText(/words\.wav could not be read as sound/)).toBeVisible();
  await chosen.setInputFiles(bad('empty.mp3', ''));
  await expect(page.getByText(/empty\.mp3 is empty/)).toBeVisible();
  await chosen.setInputFiles(bad('cut.flac', Buffer.from('fLaC\0\0\0\x22')));
  await expect(page.getByText(/cut\.flac could not be read as sound/)).toBeVisible();
  await expect(page.getByText('three-tones.mp3').first()).toBeVisible();
  await saved(page);
  await page.reload();
  await expect(recordingStrip(page)).toHaveAttribute('aria-valuetext', /three-tones\.mp3/);
});

test('a recording is in time with notes for ten minutes, from wherever playing begins', async ({ page }) => {
  const bundled = await build({
    stdin: {
      contents: `export { startRecording } from './apps/web/src/desk/session/sound/startRecording.ts';
        export { recordingSlot } from './packages/core/src/recording/lineUpRecording.ts';`,
      resolveDir: path.resolve(import.meta.dirname, '..'),
    },
    bundle: true,
    write: false,
    format: 'iife',
    globalName: 'sound',
  });
  await page.addScriptTag({ content: bundled.outputFiles[0]?.text ?? '' });
  const furthest = await page.evaluate(async () => {
    const { startRecording, recordingSlot } = (globalThis as unknown as { sound: Sounds }).sound;
    const [rate, seconds, offset, from] = [44_100, 600, -3.25, 12.5];
    const clicks = Array.from({ length: 60 }, (_, index) => 15 + index * 9.731);
    const context = new OfflineAudioContext(2, (seconds - from + 1) * rate, rate);
    const recorded = context.createBuffer(1, (seconds + 10) * rate, rate);
    for (const click of clicks) recorded.getChannelData(0)[Math.round((click - offset) * rate)] = 1;
    const merger = context.createChannelMerger(2);
    merger.connect(context.destination);
    const left = context.createGain();
    left.connect(merger, 0, 0);
    const origin = 0.08 - from;
    const slot = recordingSlot({ offset, seconds: seconds + 10 }, from, seconds);
    startRecording(context, left, recorded, 0.5, slot, origin);
    const note = context.createBuffer(1, 1, rate);
    note.getChannelData(0)[0] = 1;
    for (const click of clicks) {
      const source = context.createBufferSource();
      source.buffer = note;
      source.connect(merger, 0, 1);
      source.start(origin + click);
    }
    const made = await context.startRendering();
    const placesIn = (channel: number) => {
      const places: number[] = [];
      made.getChannelData(channel).forEach((value, at) => {
        if (value > 0.2) places.push(at / rate);
      });
      return places.filter((at, index) => index === 0 || at - (places[index - 1] as number) > 0.01);
    };
    const [heard, notes] = [placesIn(0), placesIn(1)];
    if (heard.length !== clicks.length || notes.length !== clicks.length) return Number.POSITIVE_INFINITY;
    return Math.max(...heard.map((at, index) => Math.abs(at - (notes[index] as number))));
  });
  expect(furthest).toBeLessThan(0.001);
});

interface Sounds {
  startRecording(
    context: BaseAudioContext,
    to: AudioNode,
    sound: AudioBuffer,
    level: number,
    slot: unknown,
    origin: number,
  ): void;
  recordingSlot(recording: { offset: number; seconds: number }, from: number, until: number): unknown;
}
