/** The whole job by keyboard alone, by what is spoken: as somebody works who does not see the screen. */
import { readFileSync } from 'node:fs';
import { spokenWords } from '../journeys/desk.js';
import { expect, type Page, test } from '../journeys/stage.js';

/** Presses keys one after another; then this is what was last spoken. */
const hears = async (page: Page, keys: string, words: string | RegExp): Promise<void> => {
  for (const key of keys.split(' ')) await page.keyboard.press(key);
  await expect(spokenWords(page)).toHaveText(words);
};

/** Goes on by Tab until something of this name has the keys. */
const tabTo = async (page: Page, name: string | RegExp): Promise<void> => {
  for (let step = 0; step < 60; step += 1) {
    await page.keyboard.press('Tab');
    const found = await page.evaluate(() => {
      const { activeElement: at } = document;
      return at?.getAttribute('aria-label') ?? at?.textContent ?? '';
    });
    if (typeof name === 'string' ? found === name : name.test(found)) return;
  }
  throw new Error(`Nothing called ${name} was reached.`);
};

test('bring in, listen, mend, select in three parts, close gaps, respell, read, take away: by keyboard and ear', async ({
  page,
  server,
  troubles,
}) => {
  // The take that is brought in is the demo's own, taken away by keyboard from the library's arrangement.
  await page.goto(server.address);
  await expect(page.getByRole('heading', { name: 'Arrangements' })).toBeVisible();
  await tabTo(page, 'Saltmarsh Lanterns');
  await page.keyboard.press('Enter');
  await expect(spokenWords(page)).toHaveText('Saltmarsh Lanterns, 6 parts, Flute in front.');
  await page.keyboard.press('Shift+X');
  await expect(page.getByRole('dialog')).toBeVisible();
  await tabTo(page, /^MIDI as played/);
  const played = page.waitForEvent('download');
  await page.keyboard.press('Enter');
  const take = { name: 'Evening.mid', mimeType: 'audio/midi', buffer: readFileSync(await (await played).path()) };
  await page.keyboard.press('Escape');
  await page.goto(server.address);
  await expect(page.getByRole('link', { name: 'Saltmarsh Lanterns' })).toBeVisible();
  const chooser = page.waitForEvent('filechooser');
  await tabTo(page, 'Choose files');
  await page.keyboard.press('Enter');
  await (await chooser).setFiles(take);
  await expect(spokenWords(page)).toHaveText(/6 parts, Flute in front\.$/);

  // Notes and parts, in full and in short.
  await hears(page, '.', /^Flute, A5, bar 1 beat 1.*, about a half, velocity \d+$/);
  await hears(page, 'y q', 'Spoken in short.');
  await hears(page, '.', 'F5, bar 1 beat 3, about a dotted quarter');
  await hears(page, 'y q', 'Spoken in full.');
  await hears(page, 'n', 'Clarinet in B flat in front, 164 notes');

  // A finding is heard, mended, taken back and done again.
  // The checks run while one looks around: until they are done it is said.
  await expect
    .poll(async () => {
      await page.keyboard.press('j');
      return spokenWords(page).textContent();
    })
    .toMatch(/^[A-Z][\w ]+: .+/);
  await hears(page, 'f m', /^(Delete|Drop|Join|Merge|Pull|Trim|Remove|[A-Z]\w+).*\. Next, .+: .+/);
  await hears(page, 'Control+z', /^Taken back: .+/);
  await hears(page, 'Control+y', /^Done again: .+/);

  // Three parts are edited as one: the others are locked, each as it comes to the front.
  for (let part = 0; part < 6; part += 1) {
    await hears(page, 'n', / in front, /);
    const front = await spokenWords(page).textContent();
    if (/^(Vibraphone|Cello|Tambourine)/.test(front ?? '')) await hears(page, 'o l', /locked/);
  }
  await hears(page, 'r', 'All shown parts are in reach.');
  await hears(page, 'a', /^\d+ notes selected$/);
  await hears(page, 'l c', /^Close gaps: \d+ notes in Flute, \d+ in Clarinet in B flat, \d+ in Horn in F$/);
  await hears(page, 'Control+z', /^Taken back: Close gaps/);
  await hears(page, 'r', 'The front part is in reach.');

  // A spelling is corrected, and the score read page by page.
  await page.keyboard.press('.');
  await hears(page, '7 r', /^Respell: 1 note in .+/);
  await hears(page, 'Shift+P', /^Score view, page 1 of \d+( so far)?\.$/);
  await hears(page, 'PageDown', /^Page 2 of \d+( so far)?\.$/);
  await page.keyboard.press('Shift+P');

  // And it is taken away.
  await page.keyboard.press('Shift+X');
  await expect(page.getByRole('dialog')).toBeVisible();
  await tabTo(page, /^MusicXML$/);
  const score = page.waitForEvent('download');
  await page.keyboard.press('Enter');
  const musicXml = readFileSync(await (await score).path(), 'utf8');
  expect(musicXml.match(/<score-part /g)).toHaveLength(6);
  expect(troubles).toEqual([]);
});
