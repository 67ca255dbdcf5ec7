import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { HUES, type HueFacts, scaleOf } from './hues.js';
import { divisionOf, pageGrid } from './pageGrid.js';
import { createRows, overOtherRows, pitchOfY } from './rollView.js';
import { namesWithRoom, STRIP_ROWS, stretchesOf, stripRows, viewAt, windowIn } from './stripPlan.js';

const note = (more: { pitch?: number; velocity?: number; channel?: number } = {}) => ({
  id: 1,
  pitch: 60,
  velocity: 64,
  channel: 0,
  ...more,
});
const facts = (more: Partial<HueFacts> = {}): HueFacts => ({ voice: 1, staff: 1, changed: false, ...more });

describe('what hue shows', () => {
  it('falls into a shade of its scale for any note, light and dark', () => {
    const anyNote = fc.record({
      id: fc.nat(),
      pitch: fc.integer({ min: 0, max: 127 }),
      velocity: fc.integer({ min: 1, max: 127 }),
      channel: fc.integer({ min: 0, max: 15 }),
    });
    const anyFacts = fc.option(
      fc.record({
        voice: fc.integer({ min: 1, max: 6 }),
        staff: fc.integer({ min: 1, max: 2 }),
        changed: fc.boolean(),
      }),
      { nil: undefined },
    );
    fc.assert(
      fc.property(fc.constantFrom(...HUES), fc.boolean(), anyNote, anyFacts, (mode, dark, one, known) => {
        const scale = scaleOf(mode, dark);
        if (mode === 'part') expect(scale).toBeNull();
        else expect(scale?.shades[scale.shadeOf(one, known)]).toBeDefined();
      }),
    );
  });

  it('is loudness by depth, pitch by class, the plan by what it changed', () => {
    const words = (mode: (typeof HUES)[number], one: ReturnType<typeof note>, known?: HueFacts) => {
      const scale = scaleOf(mode, false);
      return scale?.shades[scale.shadeOf(one, known)]?.words;
    };
    expect(words('loudness', note({ velocity: 31 }))).toBe('under 32');
    expect(words('loudness', note({ velocity: 32 }))).toBe('32 to 47');
    expect(words('loudness', note({ velocity: 127 }))).toBe('112 and more');
    expect(words('pitchClass', note({ pitch: 61 }))).toBe('C♯');
    expect(words('channel', note({ channel: 9 }))).toBe('10');
    expect(words('voice', note(), facts({ voice: 2 }))).toBe('voice 2');
    expect(words('hand', note(), facts({ staff: 2 }))).toBe('lower staff');
    expect(words('changed', note(), facts())).toBe('as played');
    expect(words('changed', note(), facts({ changed: true }))).toBe('changed or left out');
    // What the page does not have was left out.
    expect(words('changed', note())).toBe('changed or left out');
  });

  it('has no two shades alike, and depths that grow, so that it is read in grey', () => {
    for (const mode of HUES) {
      for (const dark of [false, true]) {
        const colours = scaleOf(mode, dark)?.shades.map(({ colour }) => colour) ?? [];
        expect(new Set(colours).size).toBe(colours.length);
      }
    }
    const lightness = scaleOf('loudness', false)?.shades.map(({ colour }) => Number(/([\d.]+)%\)$/.exec(colour)?.[1]));
    expect(lightness).toEqual([...(lightness ?? [])].sort((a, b) => b - a));
  });
});

describe('the strip of the whole piece', () => {
  const view = { left: 960, ticksPerPixel: 4, top: 0, rowHeight: 12, width: 480, height: 400 };

  it('joins what sounds without a pixel between, and leaves a rest open', () => {
    const notes = [
      { onset: 0, duration: 90 },
      { onset: 100, duration: 100 },
      { onset: 900, duration: 50 },
      { onset: 905, duration: 400 },
    ];
    expect(stretchesOf(notes, 100)).toEqual([
      { from: 0, to: 2 },
      { from: 9, to: 14 },
    ]);
    expect(stretchesOf([], 100)).toEqual([]);
    expect(stretchesOf([{ onset: 10, duration: 0 }], 100)).toEqual([{ from: 0, to: 1 }]);
  });

  it('gives each part a row, and shares rows among very many, in order', () => {
    expect(stripRows(6)).toMatchObject({ rows: 6 });
    const { rows, rowOf } = stripRows(63);
    const of = Array.from({ length: 63 }, (_, index) => rowOf(index));
    expect(rows).toBe(STRIP_ROWS);
    expect([...of]).toEqual([...of].sort((a, b) => a - b));
    expect(new Set(of).size).toBe(STRIP_ROWS);
  });

  it('shows the window, never too small to take hold of, and goes where it is dragged', () => {
    expect(windowIn(view, 9600, 960)).toEqual({ from: 96, to: 288 });
    const far = windowIn({ ...view, left: 9590, ticksPerPixel: 0.01 }, 9600, 960);
    expect(far.to - far.from).toBeGreaterThanOrEqual(8);
    expect(far.to).toBeLessThanOrEqual(960);
    expect(viewAt(view, 9600, 960, 480).left).toBe(4800 - 960);
    expect(windowIn(viewAt(view, 9600, 960, 480), 9600, 960)).toEqual({ from: 384, to: 576 });
  });

  it('names sections that have room, from the left, so that none collide at any width', () => {
    const names = [0, 30, 90, 200, 295].map((x, at) => ({ x, text: 'ABCDE'.charAt(at) }));
    const shown = namesWithRoom(names, () => 50, 300);
    expect(shown.map((name) => name.text)).toEqual(['A', 'C', 'D']);
  });
});

describe('the page’s own divisions', () => {
  const beat = (start: number, compound = false) => ({ start, length: compound ? 720 : 480, compound });

  it('are the plainest in which all that is written there lies on a line', () => {
    expect(divisionOf(beat(480), [])).toBe(1);
    expect(divisionOf(beat(480), [480, 720])).toBe(2);
    expect(divisionOf(beat(480), [480, 640, 800])).toBe(3);
    expect(divisionOf(beat(480), [600, 720])).toBe(4);
    expect(divisionOf(beat(480), [560, 720])).toBe(6);
    expect(divisionOf(beat(720, true), [720, 960, 1200])).toBe(3);
  });

  it('rule triplets where the page has them, eighths where it has those', () => {
    const beats = [0, 480, 960].map((start) => beat(start));
    const grid = pageGrid(beats, [
      { onset: 0, duration: 160 },
      { onset: 160, duration: 160 },
      { onset: 320, duration: 160 },
      { onset: 480, duration: 240 },
    ]);
    expect(grid.linesIn(0, 1440)).toEqual([0, 160, 320, 480, 720, 960]);
    expect(grid.linesIn(161, 480)).toEqual([320]);
    expect([grid.nearest(150), grid.nearest(610), grid.nearest(5000), grid.nearest(-9)]).toEqual([160, 720, 960, 0]);
  });
});

describe('other rows', () => {
  it('leave the pitch in the middle where it was, or the nearest that has a row, with no empty window', () => {
    const all = createRows(null);
    const used = createRows(new Set([40, 48, 60, 61, 62, 64, 70, 72, 90]));
    const view = { left: 0, ticksPerPixel: 4, top: (127 - 63) * 12 - 20, rowHeight: 12, width: 400, height: 48 };
    expect(pitchOfY(view, all, 24)).toBe(63);
    const after = overOtherRows(view, all, used);
    expect([62, 64]).toContain(pitchOfY(after, used, 24));
    expect(pitchOfY(overOtherRows(after, used, all), all, 24)).toBe(pitchOfY(after, used, 24));
    expect(overOtherRows({ ...view, height: 400 }, all, used).top).toBe(0);
  });
});
