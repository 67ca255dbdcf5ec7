/** Draws the shape of a recording, and its attacks. */
import type { Attack, TempoMap } from '@crispfold/core';
import { type RollView, tickOfX, xOfTick } from '../state/rollView.js';

type Canvas = CanvasRenderingContext2D;

/** What of it is drawn, from x 0 to the view's width and y 0 to a height. */
export interface WavePicture {
  readonly peaks: Int8Array;
  readonly peaksPerSecond: number;
  /** The peak that fills the height. */
  readonly loudest: number;
  /** Seconds from tick 0 to its start. */
  readonly offset: number;
  readonly tempoMap: TempoMap;
  readonly height: number;
  readonly hue: string;
}

/** One path for all that is in view: from the least to the most of each pixel. */
export const paintWave = (canvas: Canvas, view: RollView, picture: WavePicture): void => {
  const { peaks, peaksPerSecond, loudest, offset, tempoMap, height, hue } = picture;
  const middle = height / 2;
  const count = peaks.length / 2;
  const peakAt = (x: number) => (tempoMap.secondsAt(tickOfX(view, x)) - offset) * peaksPerSecond;
  canvas.fillStyle = hue;
  canvas.beginPath();
  let from = peakAt(0);
  for (let x = 0; x < view.width; x += 1) {
    const to = peakAt(x + 1);
    const first = Math.max(0, Math.floor(from));
    const last = Math.min(count, Math.max(Math.floor(from) + 1, Math.ceil(to)));
    from = to;
    if (first >= last || to < 0) continue;
    let [least, most] = [127, -128];
    for (let at = first; at < last; at += 1) {
      least = Math.min(least, peaks[2 * at] as number);
      most = Math.max(most, peaks[2 * at + 1] as number);
    }
    const top = middle - (most / loudest) * middle;
    canvas.rect(x, top, 1, Math.max(1, ((most - least) / loudest) * middle));
  }
  canvas.fill();
};

/** A tick for each attack in view, taller where it is plainer. */
export const paintAttacks = (
  canvas: Canvas,
  view: RollView,
  attacks: readonly Attack[],
  { offset, tempoMap, height, hue }: Pick<WavePicture, 'offset' | 'tempoMap' | 'height' | 'hue'>,
): void => {
  canvas.fillStyle = hue;
  canvas.beginPath();
  for (const { time, strength } of attacks) {
    const x = xOfTick(view, tempoMap.ticksAt(time + offset));
    if (x < 0 || x > view.width) continue;
    const tall = height * Math.min(1, 0.35 + strength / 8);
    canvas.rect(Math.round(x) - 0.5, height - tall, 1, tall);
  }
  canvas.fill();
};
