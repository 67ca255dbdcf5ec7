import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { inWholePixels, type RollView, xOfTick } from '../state/rollView.js';
import { createScrolledPainter, scrolledBy, uncovered } from './scrolledPainter.js';

const VIEW: RollView = { left: 0, ticksPerPixel: 4, top: 0, rowHeight: 10, width: 40, height: 20 };
const AT = { x: 5, y: 3 };

/** As much of a canvas as the painter asks for: whole pixels, boxes, clips, moves; it counts what is filled. */
const smallCanvas = (width: number, height: number) => {
  let pixels = new Uint32Array(width * height);
  let state = { x: 0, y: 0, clip: [0, 0, width, height] as [number, number, number, number] };
  const saved: (typeof state)[] = [];
  let box: [number, number, number, number] = [0, 0, 0, 0];
  let fills = 0;
  const each = (x: number, y: number, w: number, h: number, act: (at: number) => void) => {
    const [left, top, right, bottom] = state.clip;
    for (let row = Math.max(top, y + state.y); row < Math.min(bottom, y + state.y + h); row += 1) {
      for (let column = Math.max(left, x + state.x); column < Math.min(right, x + state.x + w); column += 1) {
        act(row * width + column);
      }
    }
  };
  const canvas = {
    canvas: { width, height },
    fillStyle: 1 as unknown as string,
    globalCompositeOperation: '',
    getTransform: () => ({ a: 1 }),
    setTransform: () => Object.assign(state, { x: 0, y: 0 }),
    save: () => saved.push({ ...state }),
    restore: () => {
      state = saved.pop() ?? state;
    },
    translate: (x: number, y: number) => {
      state.x += x;
      state.y += y;
    },
    beginPath: () => undefined,
    rect: (x: number, y: number, w: number, h: number) => {
      box = [x + state.x, y + state.y, x + state.x + w, y + state.y + h];
    },
    clip: () => {
      const [left, top, right, bottom] = state.clip;
      state.clip = [Math.max(left, box[0]), Math.max(top, box[1]), Math.min(right, box[2]), Math.min(bottom, box[3])];
    },
    clearRect: (x: number, y: number, w: number, h: number) =>
      each(x, y, w, h, (at) => {
        pixels[at] = 0;
      }),
    fillRect: (x: number, y: number, w: number, h: number) => {
      fills += 1;
      each(x, y, w, h, (at) => {
        pixels[at] = (pixels[at] as number) + Number(canvas.fillStyle);
      });
    },
    // Of itself, in copy: what the source does not reach becomes empty.
    drawImage: (_: unknown, sx: number, sy: number, w: number, h: number, dx: number, dy: number) => {
      const before = pixels.slice();
      each(0, 0, width, height, (at) => {
        const [x, y] = [(at % width) - dx, Math.floor(at / width) - dy];
        const inside = x >= 0 && y >= 0 && x < w && y < h && sx + x < width && sy + y < height;
        pixels[at] = inside ? (before[(sy + y) * width + sx + x] as number) : 0;
      });
    },
  };
  return {
    canvas: canvas as unknown as CanvasRenderingContext2D,
    pixels: () => [...pixels],
    fills: () => fills,
    wipe: () => {
      pixels = new Uint32Array(width * height);
    },
  };
};

/** Boxes of many sizes over each other, some reaching a little out of their own places. */
const BOXES = Array.from({ length: 60 }, (_, at) => ({
  tick: (at * 37) % 640,
  row: (at * 5) % 9,
  width: 2 + ((at * 13) % 17),
  shade: 1 + at,
}));
const paint = (canvas: CanvasRenderingContext2D, view: RollView) => {
  for (const { tick, row, width, shade } of BOXES) {
    canvas.fillStyle = shade as unknown as string;
    canvas.fillRect(Math.round(xOfTick(view, tick)) - 2, row * view.rowHeight - view.top - 2, width + 4, 7);
  }
};

describe('painting that scrolls', () => {
  it('leaves the very pixels that painting anew leaves, wherever it scrolls', () => {
    const place = fc.record({ left: fc.integer({ min: 0, max: 400 }), top: fc.integer({ min: 0, max: 60 }) });
    fc.assert(
      fc.property(fc.array(place, { minLength: 2, maxLength: 8 }), (places) => {
        const scrolled = smallCanvas(50, 30);
        const painter = createScrolledPainter();
        for (const at of places) {
          const view = inWholePixels({ ...VIEW, ...at });
          painter(scrolled.canvas, true, AT, view, paint);
          const anew = smallCanvas(50, 30);
          createScrolledPainter()(anew.canvas, false, AT, view, paint);
          expect(scrolled.pixels()).toEqual(anew.pixels());
        }
      }),
    );
  });

  it('paints nothing where nothing moved, and all where the painter is another or nothing stays', () => {
    const { canvas, fills, pixels, wipe } = smallCanvas(50, 30);
    const painter = createScrolledPainter();
    painter(canvas, true, AT, VIEW, paint);
    const whole = pixels();
    const once = fills();
    expect(once).toBe(BOXES.length);
    painter(canvas, true, AT, { ...VIEW }, paint);
    expect(fills()).toBe(once);
    wipe();
    painter(canvas, false, AT, VIEW, paint);
    expect(pixels()).toEqual(whole);
    wipe();
    painter(canvas, true, AT, VIEW, (...all) => paint(...all));
    expect(pixels()).toEqual(whole);
    // Under another head it stands elsewhere.
    painter(canvas, true, { ...AT, y: AT.y + 2 }, VIEW, paint);
    expect(pixels()[(AT.y + 1) * 50 + AT.x]).toBe(0);
  });

  it('takes any other change for more than scrolling', () => {
    const moved = { ...VIEW, left: 40, top: -3 };
    expect(scrolledBy(VIEW, moved, 1)).toEqual([10, -3]);
    expect(scrolledBy(VIEW, moved, 2)).toEqual([20, -6]);
    for (const change of [{ ticksPerPixel: 5 }, { rowHeight: 11 }, { width: 41 }, { height: 21 }]) {
      expect(scrolledBy(VIEW, { ...moved, ...change }, 1)).toBeNull();
    }
    // Half a pixel cannot be moved by; a window's width leaves nothing to move.
    expect(scrolledBy(VIEW, { ...VIEW, left: 2 }, 1)).toBeNull();
    expect(scrolledBy(VIEW, { ...VIEW, left: 2 }, 2)).toEqual([1, 0]);
    expect(scrolledBy(VIEW, { ...VIEW, left: 160 }, 1)).toBeNull();
    expect(scrolledBy(VIEW, { ...VIEW, top: 20 }, 1)).toBeNull();
  });

  it('knows what comes into view', () => {
    expect(uncovered(VIEW, 10, 0)).toEqual([{ x: 30, y: 0, width: 10, height: 20 }]);
    expect(uncovered(VIEW, -10, 4)).toEqual([
      { x: 0, y: 0, width: 10, height: 20 },
      { x: 0, y: 16, width: 40, height: 4 },
    ]);
    expect(uncovered(VIEW, 0, 0)).toEqual([]);
  });
});
