/**
 * Pedals as spans of time. MIDI 1.0: CC 64 (sustain) and CC 66 (sostenuto) at 64 and above are down, 63 and below up. The
 * sustain pedal holds every key let go while it is down; sostenuto only those that were down when it was pressed.
 */
import type { TrackEvent } from '../model/arrangement.js';

/** Controller number of the sustain pedal. */
export const SUSTAIN_CONTROLLER = 64;
/** Controller number of the sostenuto pedal. */
export const SOSTENUTO_CONTROLLER = 66;
/** Pedals that are pressed and let go: sustain, sostenuto, soft. */
export const PEDAL_CONTROLLERS: ReadonlySet<number> = new Set([SUSTAIN_CONTROLLER, SOSTENUTO_CONTROLLER, 67]);
/** Values from here up mean "down". */
export const PEDAL_DOWN = 64;

/** One press of a pedal, in ticks; `lifted` is false where the recording ends with the pedal down. */
export interface PedalSpan {
  readonly down: number;
  readonly up: number;
  readonly lifted: boolean;
}

/** Presses of a pedal on one channel, in order; `lastEnd` closes one that never lifts. */
export const pedalSpans = (
  events: readonly TrackEvent[],
  channel: number,
  lastEnd: number,
  controller = SUSTAIN_CONTROLLER,
): PedalSpan[] => {
  const spans: PedalSpan[] = [];
  let down: number | null = null;
  for (const event of [...events].sort((a, b) => a.tick - b.tick)) {
    if (event.kind !== 'controller' || event.controller !== controller || event.channel !== channel) continue;
    if (event.value >= PEDAL_DOWN) down ??= event.tick;
    else if (down !== null) {
      spans.push({ down, up: event.tick, lifted: true });
      down = null;
    }
  }
  if (down !== null) spans.push({ down, up: Math.max(down, lastEnd), lifted: false });
  return spans;
};
