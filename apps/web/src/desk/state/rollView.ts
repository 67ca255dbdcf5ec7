/** Where things lie in the roll: ticks and pitches to pixels and back. Plain data and functions; the screen only draws. */

/** What the window shows. */
export interface RollView {
  /** Tick at the left edge. */
  readonly left: number;
  readonly ticksPerPixel: number;
  /** Rows above the top edge, in pixels. */
  readonly top: number;
  readonly rowHeight: number;
  readonly width: number;
  readonly height: number;
}

/** Pitches that have a row, highest first, and the row of each pitch (-1 for none). */
export interface Rows {
  readonly pitches: readonly number[];
  readonly rowOf: Int16Array;
}

export const HIGHEST_ROW = 40;
export const LOWEST_ROW = 4;

/** All 128 rows, or those of the given pitches only. */
export const createRows = (used: ReadonlySet<number> | null): Rows => {
  const pitches: number[] = [];
  const rowOf = new Int16Array(128).fill(-1);
  for (let pitch = 127; pitch >= 0; pitch -= 1) {
    if (used && !used.has(pitch)) continue;
    rowOf[pitch] = pitches.length;
    pitches.push(pitch);
  }
  return { pitches, rowOf };
};

export const xOfTick = (view: RollView, tick: number): number => (tick - view.left) / view.ticksPerPixel;
export const tickOfX = (view: RollView, x: number): number => view.left + x * view.ticksPerPixel;
/** Top edge of a pitch's row; far outside for a pitch with no row. */
export const yOfPitch = (view: RollView, rows: Rows, pitch: number): number => {
  const row = rows.rowOf[pitch] ?? -1;
  return row < 0 ? -10_000 : row * view.rowHeight - view.top;
};
/** The pitch of the row at `y`, or undefined outside the rows. */
export const pitchOfY = (view: RollView, rows: Rows, y: number): number | undefined =>
  rows.pitches[Math.floor((y + view.top) / view.rowHeight)];

/** A percussion hit has no length: its head is about as wide as it is high; in pixels. */
export const headWidth = ({ rowHeight }: Pick<RollView, 'rowHeight'>): number =>
  Math.max(4, Math.min(14, noteHeight(rowHeight) * 1.15));

/** Height of notes in rows of this height, in pixels: from 8 on there is a pixel of room above and below. */
export const noteHeight = (rowHeight: number): number => Math.max(2, rowHeight - 2 * noteGap(rowHeight));

/** The room above a note in its row, in pixels. */
export const noteGap = (rowHeight: number): number => (rowHeight >= 8 ? 1 : 0);

/** The view moved by less than a pixel, so that what scrolls moves by whole ones: what was painted can be moved with it. */
export const inWholePixels = (view: RollView): RollView => ({
  ...view,
  left: Math.round(view.left / view.ticksPerPixel) * view.ticksPerPixel,
  top: Math.round(view.top),
});

/** Keeps the view within the music: nothing before tick 0, no scrolling past the last row. */
export const withinMusic = (view: RollView, rows: Rows, endTick: number): RollView => {
  const left = Math.max(0, Math.min(view.left, Math.max(0, endTick - (view.width * view.ticksPerPixel) / 3)));
  const highest = Math.max(0, rows.pitches.length * view.rowHeight - view.height);
  return { ...view, left, top: Math.max(0, Math.min(view.top, highest)) };
};

/** Zooms in time about a point `x` that stays where it is; `factor` above 1 shows more detail. */
export const zoomTime = (view: RollView, factor: number, x: number, endTick: number): RollView => {
  const widest = Math.max(1, (endTick * 1.15) / Math.max(1, view.width));
  const ticksPerPixel = Math.min(widest, Math.max(0.05, view.ticksPerPixel / factor));
  return { ...view, ticksPerPixel, left: tickOfX(view, x) - x * ticksPerPixel };
};

/** Zooms in pitch about a point `y` that stays where it is. */
export const zoomPitch = (view: RollView, factor: number, y: number): RollView => {
  const rowHeight = Math.min(HIGHEST_ROW, Math.max(LOWEST_ROW, view.rowHeight * factor));
  return { ...view, rowHeight, top: ((y + view.top) * rowHeight) / view.rowHeight - y };
};

/** The view over other rows: what stood in the middle stays there, or what is nearest to it in pitch. */
export const overOtherRows = (view: RollView, before: Rows, after: Rows): RollView => {
  const middle = pitchOfY(view, before, view.height / 2) ?? before.pitches[before.pitches.length - 1] ?? 60;
  const nearest = after.pitches.reduce(
    (best, pitch) => (Math.abs(pitch - middle) < Math.abs(best - middle) ? pitch : best),
    after.pitches[0] ?? 60,
  );
  const top = (after.rowOf[nearest] ?? 0) * view.rowHeight - view.height / 2;
  const highest = Math.max(0, after.pitches.length * view.rowHeight - view.height);
  return { ...view, top: Math.max(0, Math.min(top, highest)) };
};

/** The view with at least some of the rows of these pitches in it: unchanged where it has, else with them in its middle. */
export const withRowsInView = (view: RollView, rows: Rows, pitches: Iterable<number>): RollView => {
  let top = Number.POSITIVE_INFINITY;
  let bottom = Number.NEGATIVE_INFINITY;
  for (const pitch of pitches) {
    if ((rows.rowOf[pitch] ?? -1) < 0) continue;
    const y = yOfPitch(view, rows, pitch);
    top = Math.min(top, y);
    bottom = Math.max(bottom, y);
  }
  if (top > bottom || (bottom >= 0 && top <= view.height - view.rowHeight)) return view;
  return { ...view, top: view.top + (top + bottom) / 2 - view.height / 2 };
};

/** A box in the music. */
export interface MusicBox {
  readonly start: number;
  readonly end: number;
  readonly lowest: number;
  readonly highest: number;
}

/** The box around notes; undefined for none. */
export const boxAround = (
  notes: Iterable<{ pitch: number; onset: number; duration: number }>,
): MusicBox | undefined => {
  let box: MusicBox | undefined;
  for (const note of notes) {
    const end = note.onset + note.duration;
    box = box
      ? {
          start: Math.min(box.start, note.onset),
          end: Math.max(box.end, end),
          lowest: Math.min(box.lowest, note.pitch),
          highest: Math.max(box.highest, note.pitch),
        }
      : { start: note.onset, end, lowest: note.pitch, highest: note.pitch };
  }
  return box;
};

/** The view that shows a box with a little room about it. */
export const fitBox = (view: RollView, rows: Rows, box: MusicBox): RollView => {
  const span = Math.max(1, box.end - box.start);
  const ticksPerPixel = Math.max(0.05, (span * 1.04) / Math.max(1, view.width));
  const inside = rows.pitches.filter((pitch) => pitch >= box.lowest && pitch <= box.highest).length;
  const rowHeight = Math.min(HIGHEST_ROW, Math.max(LOWEST_ROW, view.height / (inside + 3)));
  const highestRow = Math.max(
    0,
    rows.pitches.findIndex((pitch) => pitch <= box.highest),
  );
  const room = (view.height - inside * rowHeight) / 2;
  return {
    ...view,
    ticksPerPixel,
    left: Math.max(0, box.start - span * 0.02),
    rowHeight,
    top: highestRow * rowHeight - room,
  };
};

/** Scrolls so that a tick is on view, moving only where it must. */
export const bringToView = (view: RollView, tick: number): RollView => {
  const x = xOfTick(view, tick);
  if (x >= 0 && x <= view.width * 0.9) return view;
  return { ...view, left: Math.max(0, tick - view.width * view.ticksPerPixel * 0.1) };
};
