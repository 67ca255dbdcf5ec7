import { createMeterMap, ticks } from '@crispfold/core';
import { cases } from '@crispfold/core/testing/cases';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Forward, forwardChoices, forwardNotes } from '../state/forward.js';
import { HUES } from '../state/hueModes.js';
import { divisionOf, pageGrid } from '../state/pageGrid.js';
import {
  createRows,
  HIGHEST_ROW,
  headWidth,
  LOWEST_ROW,
  noteHeight,
  overOtherRows,
  pitchOfY,
  withRowsInView,
} from '../state/rollView.js';
import { heldPart } from './heldPart.js';

import { type HueFacts, scaleOf } from './hues.js';
import { layOut } from './layers.js';
import { bracketsFit, cutFits, fillFits, nameFits, namesFit } from './marks.js';
import { createNoteIndex, startsInBox } from './noteIndex.js';
import { barLabels, type LabelKind, type RulerLabel, signLabels } from './rulerLabels.js';
import { columnsOf, namesWithRoom, STRIP_ROWS, stretchesOf, stripRows, viewAt, windowIn } from './stripPlan.js';

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

  it('marks each column once, of the parts that are seen', () => {
    const items = [
      { tick: 100, partId: 1 },
      { tick: 104, partId: 1 },
      { tick: 300, partId: 2 },
      { tick: 500, partId: 3 },
    ];
    expect(columnsOf(items, new Set([1, 3]), 0.1)).toEqual([10, 50]);
    expect(columnsOf(items, new Set(), 0.1)).toEqual([]);
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

  it('of a part that comes forward are brought into view, where none of them is', () => {
    const all = createRows(null);
    const view = { left: 0, ticksPerPixel: 4, top: (127 - 80) * 10, rowHeight: 10, width: 400, height: 200 };
    // Rows 80 down to 61 are on view: one of them is enough.
    expect(withRowsInView(view, all, [61, 30])).toBe(view);
    const moved = withRowsInView(view, all, [40, 44]);
    expect([pitchOfY(moved, all, 100), moved.rowHeight]).toEqual([42, 10]);
    expect(withRowsInView(view, all, [])).toBe(view);
    // A pitch with no row brings nothing.
    expect(withRowsInView(view, createRows(new Set([70])), [40])).toBe(view);
  });
});

describe('labels of the ruler', () => {
  const WIDTHS: { readonly [kind in LabelKind]: number } = { bar: 8, beat: 6, marker: 8, key: 7, meter: 8, tempo: 7 };
  const measure = (kind: LabelKind, text: string) => text.length * WIDTHS[kind];
  const viewAtZoom = (ticksPerPixel: number, left: number) => ({
    left,
    ticksPerPixel,
    top: 0,
    rowHeight: 12,
    width: 1200,
    height: 400,
  });
  const apart = (labels: readonly RulerLabel[]) => {
    const inOrder = [...labels].sort((a, b) => a.x - b.x);
    for (let at = 1; at < inOrder.length; at += 1) {
      const [before, next] = [inOrder[at - 1] as RulerLabel, inOrder[at] as RulerLabel];
      expect(next.x, `${before.text} and ${next.text}`).toBeGreaterThanOrEqual(before.x + before.width);
    }
  };
  const anyMeter = fc.record({
    numerator: fc.integer({ min: 1, max: 15 }),
    denominator: fc.constantFrom(2, 4, 8, 16),
  });

  it('never stand over each other, at any zoom, in any meter, with bars of five digits', () => {
    fc.assert(
      fc.property(
        anyMeter,
        fc.integer({ min: 1, max: 99_000 }),
        fc.double({ min: -3, max: 9, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (meter, firstBar, zoom, within) => {
          const map = createMeterMap([{ tick: ticks(0), ...meter }], 480);
          const length = (480 * 4 * meter.numerator) / meter.denominator;
          const view = viewAtZoom(2 ** zoom, (firstBar - 1 + within) * length);
          const right = view.left + view.width * view.ticksPerPixel;
          const bars = map.barsTo(length * 3).slice(0, 1);
          // So many bars as are on view, without making all those before them.
          const many = Math.min(400, Math.ceil((right - view.left) / length) + 2);
          const shown = Array.from({ length: many }, (_, at) => ({
            ...(bars[0] as (typeof bars)[number]),
            number: firstBar + at,
            start: ticks((firstBar - 1 + at) * length),
            end: ticks((firstBar + at) * length),
          }));
          const labels = barLabels(view, shown, 480, measure);
          apart(labels);
          expect(labels[0]).toMatchObject({ kind: 'bar', text: String(firstBar) });
        },
      ),
      cases(300),
    );
  });

  it('number the beats only where all of a bar have room', () => {
    const bars = createMeterMap([{ tick: ticks(0), numerator: 4, denominator: 4 }], 480).barsTo(480 * 8);
    const kinds = (ticksPerPixel: number) => barLabels(viewAtZoom(ticksPerPixel, 0), bars, 480, measure);
    expect(kinds(4).map(({ text }) => text)).toEqual(['1', '2', '3', '4', '2', '2', '3', '4']);
    expect(kinds(60).some(({ kind }) => kind === 'beat')).toBe(false);
  });

  it('keep markers, meters and tempi apart, markers before all, none far from its place', () => {
    const sign = fc.record({
      tick: fc.integer({ min: 0, max: 40_000 }),
      text: fc.constantFrom('A', 'Verse', '7/8', '♩ = 96'),
    });
    const some = fc.array(sign, { maxLength: 12 });
    fc.assert(
      fc.property(some, some, some, fc.double({ min: 0, max: 6, noNaN: true }), (markers, meters, tempos, zoom) => {
        const view = viewAtZoom(2 ** zoom, 0);
        const labels = signLabels(view, { markers, meters, keys: [], tempos, fold: null }, measure);
        apart(labels);
        // Its words begin a little right of its place.
        if (markers.some(({ tick }) => tick < (view.width - 4) * view.ticksPerPixel)) {
          expect(labels.some(({ kind }) => kind === 'marker')).toBe(true);
        }
      }),
    );
    // Nothing stands under the crease's folded corner.
    const fold = { x: 80, width: 22 };
    const under = signLabels(
      viewAtZoom(4, 0),
      { markers: [], meters: [], keys: [], tempos: [{ tick: 200, text: '♩ = 88' }], fold },
      measure,
    );
    expect(under[0]?.x).toBe(fold.x + fold.width + 6);
    const view = viewAtZoom(4, 0);
    const [marker, tempo] = signLabels(
      view,
      { markers: [{ tick: 0, text: 'A' }], meters: [], keys: [], tempos: [{ tick: 0, text: '♩ = 96' }], fold: null },
      measure,
    );
    expect(marker?.x).toBe(4);
    expect(tempo?.x).toBeGreaterThan((marker?.x ?? 0) + (marker?.width ?? 0));
  });
});

describe('what a note shows', () => {
  it('goes in order as its room goes: name, then brackets and loudness; the cut of the edge last', () => {
    for (let rowHeight = HIGHEST_ROW; rowHeight >= LOWEST_ROW; rowHeight -= 0.5) {
      const view = { rowHeight, ticksPerPixel: 4 };
      for (const names of ['room', 'always'] as const) if (namesFit(view, names)) expect(bracketsFit(view)).toBe(true);
      if (bracketsFit(view)) expect(fillFits(view)).toBe(true);
    }
    for (let width = 60; width > 0; width -= 1) if (nameFits(width)) expect(cutFits(width, 11)).toBe(true);
    expect([namesFit({ rowHeight: 11 }, 'room'), namesFit({ rowHeight: 10.9 }, 'room')]).toEqual([true, false]);
    expect([namesFit({ rowHeight: 6 }, 'always'), namesFit({ rowHeight: 40 }, 'never')]).toEqual([true, false]);
    expect([cutFits(9, 6), cutFits(8, 6), cutFits(9, 5)]).toEqual([true, false, false]);
    expect(bracketsFit({ rowHeight: 12, ticksPerPixel: 41 })).toBe(false);
  });

  it('is a head without length for a hit, grabbed as it is drawn', () => {
    expect(noteHeight(12)).toBe(10);
    expect(headWidth({ rowHeight: 12 })).toBeCloseTo(11.5);
    expect([headWidth({ rowHeight: 40 }), headWidth({ rowHeight: 4 })]).toEqual([14, 4.6]);
    const index = createNoteIndex([
      { id: 1, pitch: 40, onset: 0, duration: 2000 },
      { id: 2, pitch: 42, onset: 480, duration: 10 },
      { id: 3, pitch: 40, onset: 480, duration: 10 },
    ]);
    const found = startsInBox(index, { start: 400, end: 500, lowest: 40, highest: 41 });
    expect(found.map(({ id }) => id)).toEqual([3]);
  });
});

describe('one voice or staff brought forward', () => {
  const layer = (partId: number, notes: { id: number; voice: number; staff: 1 | 2; sources?: number[] }[]) => ({
    partId,
    covers: 1,
    touched: [],
    suggestion: '',
    notes: notes.map(({ sources, ...one }) => ({
      ...one,
      sources: sources ?? [one.id],
      pitch: 60,
      onset: 0 as never,
      duration: 10080 as never,
      velocity: 80,
      channel: 0,
      staccato: false,
    })),
  });
  const flute = layer(1, [
    { id: 1, voice: 1, staff: 1 },
    { id: 2, voice: 2, staff: 1, sources: [2, 3] },
  ]);
  const piano = layer(2, [
    { id: 5, voice: 1, staff: 2 },
    { id: 6, voice: 1, staff: 1 },
  ]);
  const second: Forward = { kind: 'voice', number: 2 };

  it('is what the page says, in Played notes: those joined into one go with it', () => {
    const found = (forward: Forward) => forwardNotes(forward, [flute, piano]).found;
    expect(found(second)).toEqual(new Map([[1, new Set([2, 3])]]));
    expect(found({ kind: 'staff', number: 2 })).toEqual(new Map([[2, new Set([5])]]));
    expect(found({ kind: 'voice', number: 4 }).size).toBe(0);
    const all = new Map([
      [1, new Set([1, 2, 3])],
      [2, new Set([5, 6])],
    ]);
    expect(forwardNotes(second, [flute, piano]).onPage).toEqual(all);
  });

  it('offers voices and staves only where there are several', () => {
    expect(forwardChoices([flute, piano])).toEqual([
      { kind: 'voice', number: 1 },
      { kind: 'voice', number: 2 },
      { kind: 'staff', number: 1 },
      { kind: 'staff', number: 2 },
    ]);
    expect(forwardChoices([layer(1, [{ id: 1, voice: 1, staff: 1 }])])).toEqual([]);
  });

  it('leaves nothing else of a part to pick, in Played and in Written', () => {
    const played = [1, 2, 3].map((id) => ({
      id,
      pitch: 60 + id,
      onset: ticks(0),
      duration: ticks(480),
      velocity: 80,
      channel: 0,
    }));
    const part = { id: 1, name: 'Flute', instrument: 'flute', channel: 0, program: 73, events: [], notes: played };
    const laidOut = layOut(part, flute, 480);
    const ids = new Set([2, 3]);
    const held = heldPart(laidOut, second, ids);
    expect(held.played.notes.map(({ id }) => id)).toEqual([2, 3]);
    expect(held.written.notes.map(({ id }) => id)).toEqual([2]);
    expect(heldPart(laidOut, second, ids)).toBe(held);
  });
});
