/** The page corrected by hand: by key and by pointer, through another plan and a restart, listed and taken back. */
import { engraved, list, openDemo, outputPath, pageReady, panel, press, spokenWords } from './desk.js';
import { bringInTune } from './music.js';
import { clean, expect, test } from './stage.js';

test('signs are put on by key and by pointer, stay through another plan and a restart, and are taken back', async ({
  page,
  server,
  troubles,
}) => {
  await server.moveOut();
  await openDemo(page, server);
  await pageReady(page);
  const strip = engraved(page);
  // The plan reads one of the cello’s.
  const dynamics = strip.locator('g.dynam');
  await expect(dynamics).toHaveCount(1);
  // By key: the third note of the flute gets an accent, and its page says so.
  await press(page, '.', '.', '.');
  await list(page, '7 a');
  await expect(spokenWords(page)).toHaveText('Accent: 1 note in Flute');
  await expect(strip.locator('g.artic')).toHaveCount(1);
  await expect(strip.locator('g.note.corrected, g.note.chosen')).toHaveCount(1);
  // By pointer, in the panel: a dynamic, a stem, words.
  await press(page, '4');
  const fields = page.getByRole('region', { name: 'Corrections by hand' });
  await fields.getByLabel('Dynamic').selectOption('mf');
  await expect(dynamics).toHaveCount(2);
  await fields.getByLabel(/^Words over/).fill('dolce');
  await fields.getByRole('button', { name: 'Put', exact: true }).click();
  await expect(strip.getByText('dolce')).toBeVisible();
  await fields.getByRole('button', { name: 'Turn the stem' }).click();
  const corrections = page.getByRole('region', { name: 'Corrections', exact: true });
  await expect(corrections.getByRole('heading')).toHaveText('4 corrections');
  await clean(page, { but: '.engraved' });
  // A tie to another pitch cannot be.
  await fields.getByRole('button', { name: 'Tie to the next' }).click();
  await expect(page.getByText(/^A tie goes to the next note of the same pitch/).first()).toBeVisible();

  // Another plan, and the server taken down and up again: all of it stays.
  await press(page, '1');
  await page.getByLabel('Plan of the part').selectOption({ label: 'Chords' });
  await expect(dynamics).toHaveCount(2);
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await server.kill();
  await server.start();
  await page.reload();
  await pageReady(page);
  await expect(strip.locator('g.artic')).toHaveCount(1);
  await expect(strip.getByText('dolce')).toBeVisible();

  // One is taken back from the list, then the rest, then all of it is had again.
  await press(page, '4');
  await corrections.getByRole('button', { name: /^Take back: Accent/ }).click();
  await expect(corrections.getByRole('heading')).toHaveText('3 corrections');
  await expect(strip.locator('g.artic')).toHaveCount(0);
  await corrections.getByRole('button', { name: 'All as the plan says' }).click();
  await expect(panel(page, 'Page settings')).toContainText('nothing is corrected by hand');
  await press(page, 'u');
  await expect(corrections.getByRole('heading')).toHaveText('3 corrections');
  expect(troubles.filter((trouble) => !trouble.includes('ERR_CONNECTION'))).toEqual([]);
});

test('a score is dropped in beside a recorded part: its page is as it was read, and stays while its playing is shaped', async ({
  page,
  server,
}) => {
  await openDemo(page, server);
  await pageReady(page);
  // The flute of the demo as a score, brought in as an arrangement of its own.
  await press(page, 'Shift+X');
  await page.getByLabel('The front part only: Flute').check();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'MusicXML, compressed' }).click(),
  ]);
  const score = outputPath('Flute as read.mxl');
  await download.saveAs(score);
  await page.keyboard.press('Escape');
  await page.getByLabel('Add parts from MIDI files').setInputFiles(score);
  const rail = page.getByRole('navigation', { name: 'Parts' });
  await expect(rail.getByText('142 notes')).toBeVisible();
  await press(page, 'Shift+N');
  await expect(page.getByText('142 notes played, 140 written')).toBeVisible();
  await expect(page.getByLabel('Plan of the part')).toHaveValue('own');
  await list(page, 'y f');
  const strip = engraved(page);
  await expect.poll(() => strip.locator('g.note').count()).toBeLessThan(60);
  const heads = async () => strip.locator('g.note').evaluateAll((all) => all.map(({ id }) => id));
  await expect.poll(async () => (await heads()).length).toBeGreaterThan(20);
  const before = await heads();
  await press(page, 'a');
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Shift+ArrowLeft');
  await expect.poll(heads).toEqual(before);
  await expect(page.getByText('142 notes played, 140 written')).toBeVisible();
});

/** Key of the list, the button's words, what is said, and what stands in the list of corrections. */
const CORRECTIONS: readonly (readonly [key: string, button: string, said: string, listed: string])[] = [
  ['7 r', 'Respell', 'Respell: 3 notes', 'Spelled'],
  ['7 2', 'To voice 2', 'Voice 2: 3 notes', 'Voice 2'],
  ['7 3', 'To voice 3', 'Voice 3: 3 notes', 'Voice 3'],
  ['7 4', 'To voice 4', 'Voice 4: 3 notes', 'Voice 4'],
  ['7 s', 'To the other staff', 'To the other staff: 3 notes', 'On the lower staff'],
  ['7 j', 'Written start earlier', 'Written start: 3 notes', 'Written start'],
  ['7 h', 'Written end earlier: a rest after it', 'Written end: 3 notes', 'Written end'],
  ['7 k', 'Written start later: a rest before it', 'Written start: 3 notes', 'Written start'],
  ['7 l', 'Written end later', 'Written end: 3 notes', 'Written end'],
  ['7 d', 'Staccato dot', 'Staccato: 3 notes', 'Staccato'],
  ['7 a', 'Accent', 'Accent: 3 notes', 'Accent'],
  ['7 t', 'Tenuto', 'Tenuto: 3 notes', 'Tenuto'],
  ['7 m', 'Marcato', 'Marcato: 3 notes', 'Marcato'],
  ['7 f', 'Fermata', 'Fermata: 3 notes', 'Fermata'],
  ['7 i', 'Trill', 'Trill: 3 notes', 'Trill'],
  ['7 x', 'Turn', 'Turn: 3 notes', 'Turn'],
  ['7 z', 'Mordent', 'Mordent: 3 notes', 'Mordent'],
  ['7 -', 'Mordent from above', 'Mordent from above: 3 notes', 'Mordent from above'],
  ['7 /', 'Tremolo', 'Tremolo: 3 notes', 'Tremolo'],
  ['7 ;', 'Grace note of the next', 'Grace note: 3 notes', 'Grace note'],
  ['7 o', 'Arpeggio', 'Arpeggio: 3 notes', 'Arpeggio'],
  ['7 u', 'Turn the stem', 'Stem: 3 notes', 'Stem up'],
  ['7 b', 'Break the beam before', 'Beam: 3 notes', 'Beam broken'],
  ['7 g', 'Join the beam with the one before', 'Beam: 3 notes', 'Beam joined'],
  ['7 p', 'Slur', 'Slur: 1 note', 'Slur'],
  ['7 .', 'Glissando', 'Glissando: 1 note', 'Glissando'],
  ['7 [', 'Pedal line', 'Pedal line: 1 note', 'Pedal line'],
  ['7 c', 'Hairpin, louder', 'Hairpin, louder: 1 note', 'Hairpin, louder'],
  ['7 v', 'Hairpin, softer', 'Hairpin, softer: 1 note', 'Hairpin, softer'],
  ['7 q', 'Sound only: heard and not written, or written again', 'Sound only: 3 notes', 'Sound only'],
  ['7 9', 'Page only: written and no longer heard', 'Page only: 3 notes', 'Written, not heard'],
  ['7 w', 'Hold the page as it is, or let it go', 'Hold the page: 3 notes', 'Held'],
];

test('every correction is made, by its key or by its button, and undone', async ({ page, server, troubles }) => {
  // A short tune: each of these changes engraves its page anew. That each button does what its key does is tested below.
  await bringInTune(page, server, 'Auld Lang Syne');
  await press(page, '.', '.', '.', '.', 'Shift+.', 'Shift+.');
  await expect(page.getByRole('contentinfo')).toContainText('3 notes selected');
  await press(page, '4');
  const fields = page.getByRole('region', { name: 'Corrections by hand' });
  const corrections = page.getByRole('region', { name: 'Corrections', exact: true });
  const made = async (said: string, listed: string) => {
    await expect(spokenWords(page)).toContainText(said);
    await expect(corrections.getByRole('button', { name: `Take back: ${listed}` }).first()).toBeVisible();
    await press(page, 'u');
    await expect(page.getByText('nothing is corrected by hand')).toBeVisible();
  };
  // A page begins with the bar in hand: by key, by button.
  await list(page, '7 6');
  await made('Page begins at bar', 'Page begins');
  await fields.getByRole('button', { name: 'New page' }).click();
  await made('Page begins at bar', 'Page begins');
  for (const [at, [key, button, said, listed]] of CORRECTIONS.entries()) {
    if (at % 2 === 0) await list(page, key);
    else await fields.getByRole('button', { name: button, exact: true }).click();
    await made(said, listed);
  }
  expect(troubles).toEqual([]);
});

test('tuplets are made and unmade, a value is given to note after note, and playing and page are seen side by side', async ({
  page,
  server,
}) => {
  await openDemo(page, server);
  await pageReady(page);
  const strip = engraved(page);
  await press(page, '.', '.', '.', '.', 'Shift+.', 'Shift+.');
  const before = await strip.locator('g.tuplet').count();
  await list(page, '7 8');
  await expect(strip.locator('g.tuplet')).toHaveCount(before + 1);
  await press(page, '4');
  const fields = page.getByRole('region', { name: 'Corrections by hand' });
  await fields.getByLabel('Tuplet of').selectOption('5');
  await expect(spokenWords(page)).toContainText('Tuplet of 5');
  await list(page, '7 0');
  await expect(strip.locator('g.tuplet')).toHaveCount(before);

  // A value, to one note after another: Escape ends it.
  await press(page, 'Escape');
  await list(page, '7 7');
  await fields.getByLabel('Value').selectOption('eighth');
  await expect(page.getByText(/is given to every note that you select/)).toBeVisible();
  await press(page, '.');
  await expect(spokenWords(page)).toHaveText('Written as eighth: 1 note in Flute');
  await press(page, '.');
  await expect(page.getByRole('region', { name: 'Corrections', exact: true }).getByRole('heading')).not.toHaveText(
    /^0/,
  );
  await press(page, 'Escape');
  await expect(page.getByText(/is given to every note that you select/)).toHaveCount(0);

  // Played and written of one note, each changed by itself.
  await press(page, '3');
  const both = page.getByRole('region', { name: 'Played and written' });
  await expect(both).toContainText(/ms (late|early)|on its place/);
  await both.getByLabel('Written length').selectOption('quarter');
  await expect(spokenWords(page)).toHaveText('Written as quarter: 1 note in Flute');
  const start = both.getByLabel('Written start');
  await start.fill('2.1');
  await start.press('Enter');
  await expect(start).toHaveValue('2.1.0');
  await start.fill('soon');
  await start.press('Enter');
  await expect(page.getByText(/^A place is a bar, a beat and ticks/).first()).toBeVisible();
});

test('pieces of a note are tied by key and by button', async ({ page, server, troubles }) => {
  await openDemo(page, server);
  await pageReady(page);
  const ties = engraved(page).locator('g.tie');
  // The first note of the flute, a half, cut into its sixteenths: the first two are tied.
  await press(page, '.');
  await list(page, 'l g');
  await expect(spokenWords(page)).toContainText('about a sixteenth');
  const before = await ties.count();
  await press(page, 'Escape', '.');
  await list(page, '7 y');
  await expect(spokenWords(page)).toHaveText('Tie: 1 note in Flute');
  await expect(ties).toHaveCount(before + 1);
  await press(page, 'u', '4');
  await expect(ties).toHaveCount(before);
  const fields = page.getByRole('region', { name: 'Corrections by hand' });
  await fields.getByRole('button', { name: 'Tie to the next' }).click();
  await expect(ties).toHaveCount(before + 1);
  expect(troubles).toEqual([]);
});

test('a note leaves its tuplet, and notes are written that are not heard', async ({ page, server, troubles }) => {
  await openDemo(page, server);
  await pageReady(page);
  const strip = engraved(page);
  await press(page, '.', '.', '.', '.', 'Shift+.', 'Shift+.');
  await list(page, '7 8');
  await expect(spokenWords(page)).toHaveText('Tuplet of 3: 3 notes in Flute');
  await press(page, 'Escape');
  const before = await strip.locator('g.note').count();
  await press(page, '.', '.', '.', '.', '.', '.');
  await list(page, '7 =');
  await expect(spokenWords(page)).toHaveText('Free from the tuplet: 1 note in Flute');
  // For the page alone, at the place of entry: the roll's notes stay as they are.
  await press(page, 'Escape', 'Home', 'Shift+D');
  await page.getByLabel('Written, not heard').check();
  await press(page, '3', 'c');
  await expect(spokenWords(page)).toHaveText(/^C\d, written and not heard$/);
  await expect.poll(() => strip.locator('g.note').count()).toBe(before + 1);
  await press(page, 'Backspace');
  await expect.poll(() => strip.locator('g.note').count()).toBe(before);
  expect(troubles).toEqual([]);
});
