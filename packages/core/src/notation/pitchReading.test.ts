import { describe, expect, it } from 'vitest';
import { demoArrangement } from '../demo/demo.js';
import type { Arrangement, Part } from '../model/arrangement.js';
import { applyEdit, invertEdit, overridesChange } from '../model/edit.js';
import { runPlanOnAll } from '../plan/runPlan.js';
import type { Written } from '../plan/written.js';
import { WRITTEN_PPQ } from '../time/units.js';
import { readPitches, stretchesShown } from './pitchReading.js';

const demo = demoArrangement();
const layers = runPlanOnAll(demo);
const BAR = WRITTEN_PPQ * 4;

describe('pitches read for some bars', () => {
  it('are spelled as in the whole piece, wherever the bars lie', () => {
    const whole = readPitches(demo, layers).spellings;
    for (const bar of [0, 1, 7, 19, 38]) {
      const stretches = stretchesShown(layers, bar * BAR, (bar + 3) * BAR);
      const some = readPitches(demo, layers, stretches).spellings;
      for (const [id, spelling] of some) expect(spelling).toEqual(whole.get(id));
      const shown = layers
        .slice(0, 5)
        .flatMap((layer) => layer.notes.filter((n) => n.onset < (bar + 3) * BAR && n.onset + n.duration > bar * BAR));
      for (const { id } of shown) expect(some.has(id)).toBe(true);
      expect(some.size).toBeLessThan(whole.size);
    }
  });

  it('are those of the parts that are shown, spelled as among all', () => {
    const whole = readPitches(demo, layers).spellings;
    const cello = layers[4] as (typeof layers)[number];
    const stretches = stretchesShown([cello], 7 * BAR, 12 * BAR);
    const some = readPitches(demo, layers, stretches, [cello]).spellings;
    const own = new Set(cello.notes.map(({ id }) => id));
    expect(some.size).toBeGreaterThan(6);
    for (const [id, spelling] of some) {
      expect(own.has(id)).toBe(true);
      expect(spelling).toEqual(whole.get(id));
    }
  });

  it('find the same key part by part as all at once', () => {
    const keyless: Arrangement = { ...demo, keys: [] };
    expect(readPitches(keyless, layers).keys).toEqual([
      { fifths: demo.keys[0]?.fifths, minor: demo.keys[0]?.minor, start: 0 },
    ]);
  });
});

describe('keys read again after a change', () => {
  const keyless: Arrangement = { ...demo, keys: [] };
  const shifted = (layer: Written, from: number, by: number): Written => ({
    ...layer,
    notes: layer.notes.map((note) => (note.onset >= from ? { ...note, pitch: note.pitch + by } : note)),
  });

  it('are those that would be read if nothing had been read before', () => {
    for (const [which, from, by] of [
      [0, 0, 1],
      [4, 20 * BAR, 6],
      [1, 3 * BAR, -1],
    ] as const) {
      const changed = layers.map((layer, index) => (index === which ? shifted(layer, from, by) : layer));
      readPitches(keyless, layers);
      const after = readPitches(keyless, changed).keys;
      readPitches(keyless, layers.slice(0, 2));
      expect(after).toEqual(
        readPitches(
          keyless,
          changed.map((layer) => ({ ...layer })),
        ).keys,
      );
    }
  });

  it('change where all parts go to another key', () => {
    const before = readPitches(keyless, layers).keys;
    const moved = readPitches(
      keyless,
      layers.map((layer) => shifted(layer, 20 * BAR, 1)),
    ).keys;
    expect(moved[0]).toEqual(before[0]);
    expect(moved.length).toBeGreaterThan(before.length);
  });
});

describe('a spelling of one’s own', () => {
  const [flute] = demo.parts as [Part];
  const note = layers[0]?.notes.find(({ pitch }) => [1, 3, 6, 8, 10].includes(pitch % 12));
  if (!note) throw new Error('the flute has a black key');
  const found = readPitches(demo, layers).spellings.get(note.id);
  const alter = found?.alter === 1 ? -1 : 1;
  const letters = { 1: ['C', 'D'], 3: ['D', 'E'], 6: ['F', 'G'], 8: ['G', 'A'], 10: ['A', 'B'] }[note.pitch % 12] as [
    'C',
    'D',
  ];
  const own = { kind: 'spelling', noteId: note.id, step: letters[alter === -1 ? 1 : 0], alter } as const;

  it('stands above the one found, outlives another run, and can be taken back', () => {
    const edit = { label: 'Spell it', changes: [overridesChange(flute, [own])] };
    const changed = applyEdit(demo, edit);
    const spelled = readPitches(changed, runPlanOnAll(changed)).spellings.get(note.id);
    expect(spelled).toMatchObject({ alter });
    expect(spelled).not.toEqual(found);
    expect(applyEdit(changed, invertEdit(edit))).toEqual({
      ...demo,
      parts: demo.parts.map((p) => (p.id === 1 ? { ...p, overrides: undefined } : p)),
    });
  });

  it('is left out where it cannot say the pitch', () => {
    const changed = applyEdit(demo, {
      label: '',
      changes: [overridesChange(flute, [{ ...own, alter: own.alter * 2 }])],
    });
    expect(readPitches(changed, layers).spellings.get(note.id)).toEqual(found);
  });
});
