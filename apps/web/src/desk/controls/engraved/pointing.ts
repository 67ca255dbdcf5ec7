/** What a point on the engraved page stands for, and where a place lies on it. Pixels are of the picture's own box. */
import type { PageBar, PagePlaces, PageStaff } from '@crispfold/core';

/** A place in written units and where it lies across. */
export interface Across {
  readonly at: number;
  readonly x: number;
}

/** One bar of a staff as it lies in the picture. */
export interface BarBox {
  readonly staff: PageStaff;
  readonly bar: PageBar;
  /** The lowest line and the top line. */
  readonly bottom: number;
  readonly top: number;
  readonly left: number;
  readonly right: number;
  /** From the bar's beginning to its end, growing in both. */
  readonly across: readonly Across[];
  /** Where notes of this staff begin. */
  readonly starts: readonly number[];
}

/** Where a place of a bar lies across; between what is engraved, in proportion. */
export const xOf = ({ across }: BarBox, at: number): number => {
  const next = across.findIndex((point) => point.at >= at);
  const [a, b] = [across[Math.max(0, next - 1)], across[next]];
  if (!a) return b?.x ?? 0;
  if (!b) return across[across.length - 1]?.x ?? 0;
  return b.at === a.at ? b.x : a.x + ((b.x - a.x) * (at - a.at)) / (b.at - a.at);
};

/** Steps from the lowest line, lines and spaces, at a height. */
export const stepAt = ({ bottom, top }: Pick<BarBox, 'bottom' | 'top'>, y: number): number =>
  Math.round(((bottom - y) * 8) / (bottom - top));

/** The height of a step. */
export const yOf = ({ bottom, top }: Pick<BarBox, 'bottom' | 'top'>, step: number): number =>
  bottom - (step * (bottom - top)) / 8;

/** The place in a bar, on a grid of so many written units or where a note of the staff begins, that lies nearest to a point. */
export const placeAt = (box: BarBox, x: number, unit: number): number => {
  const { bar, starts } = box;
  const places = new Set(starts);
  for (let at = bar.start; at < bar.end; at += unit) places.add(Math.round(at));
  let best = bar.start;
  for (const at of places) if (Math.abs(xOf(box, at) - x) < Math.abs(xOf(box, best) - x)) best = at;
  return best;
};

/** How far above and below its lines a staff is pointed at, in its own height. */
const AROUND = 1.1;

/** The bar under a point: of the staff whose middle is nearest, if it is near enough. */
export const barUnder = (boxes: readonly BarBox[], x: number, y: number): BarBox | undefined => {
  const away = ({ top, bottom }: BarBox) => Math.abs(y - (top + bottom) / 2);
  const near = boxes.filter(
    (box) => x >= box.left && x <= box.right && away(box) <= (box.bottom - box.top) * (0.5 + AROUND),
  );
  return near.reduce<BarBox | undefined>((best, box) => (best && away(best) <= away(box) ? best : box), undefined);
};

/** Room between a bar line or a signature and what stands after it, in heights of a staff. */
const ROOM = 0.35;

/** Measures a picture: every bar of every staff, with what lies where across. */
export const measured = (box: HTMLElement, { staves, heads }: PagePlaces): readonly BarBox[] => {
  const origin = box.getBoundingClientRect();
  const rect = (element: Element) => {
    const { left, right, top } = element.getBoundingClientRect();
    return { left: left - origin.left, right: right - origin.left, top: top - origin.top };
  };
  const placeOf = new Map(heads);
  const boxes: BarBox[] = [];
  [...box.querySelectorAll('g.measure')].forEach((measure, index) => {
    const start = staves[0]?.bars[index]?.start ?? 0;
    const end = staves[0]?.bars[index]?.end ?? 0;
    const lines = [...measure.querySelectorAll(':scope > g.staff')].map((staff) =>
      [...staff.querySelectorAll(':scope > path')].map(rect),
    );
    const [first] = lines.flat();
    const height = Math.abs((lines[0]?.[4]?.top ?? 0) - (lines[0]?.[0]?.top ?? 0));
    if (!first || height === 0) return;
    const signs = [...measure.querySelectorAll('g.clef, g.keySig, g.meterSig')].map((sign) => rect(sign).right);
    const points = new Map<number, number>();
    const starts = [...measure.querySelectorAll(':scope > g.staff')].map((staff) =>
      [...staff.querySelectorAll('g.note')].flatMap((head) => {
        const at = placeOf.get(head.id);
        if (at === undefined || at < start || at >= end) return [];
        const x = rect(head.querySelector('g.notehead') ?? head).left;
        points.set(at, Math.min(x, points.get(at) ?? x));
        return [at];
      }),
    );
    if (!points.has(start)) points.set(start, Math.max(first.left, ...signs) + ROOM * height);
    points.set(end, first.right);
    const sorted = [...points].map(([at, x]) => ({ at, x })).sort((a, b) => a.at - b.at);
    let furthest = Number.NEGATIVE_INFINITY;
    const across = sorted.filter(({ x }) => {
      const grows = x > furthest;
      furthest = Math.max(furthest, x);
      return grows;
    });
    staves.forEach((staff, which) => {
      const own = lines[which];
      const bar = staff.bars[index];
      if (!bar || own?.length !== 5) return;
      const tops = own.map(({ top }) => top);
      boxes.push({
        staff,
        bar,
        across,
        starts: starts[which] ?? [],
        left: first.left,
        right: first.right,
        top: Math.min(...tops),
        bottom: Math.max(...tops),
      });
    });
  });
  return boxes;
};
