/** Sustain pedal as spans of time. MIDI 1.0: CC 64 at 64 and above is down, 63 and below is up. */
import type { TrackEvent } from '../model/arrangement.js';

/** Controller number of the sustain pedal. */
export const SUSTAIN_CONTROLLER = 64;
/** Values from here up mean "down". */
export const PEDAL_DOWN = 64;

/** One press of the pedal, in ticks; `lifted` is false where the recording ends with the pedal down. */
export interface PedalSpan {
  readonly down: number;
  readonly up: number;
  readonly lifted: boolean;
}

/** Presses of the sustain pedal on one channel, in order; `lastEnd` closes one that never lifts. */
export const pedalSpans = (events: readonly TrackEvent[], channel: number, lastEnd: number): PedalSpan[] => {
  const spans: PedalSpan[] = [];
  let down: number | null = null;
  for (const event of [...events].sort((a, b) => a.tick - b.tick)) {
    if (event.kind !== 'controller' || event.controller !== SUSTAIN_CONTROLLER || event.channel !== channel) continue;
    if (event.value >= PEDAL_DOWN) down ??= event.tick;
    else if (down !== null) {
      spans.push({ down, up: event.tick, lifted: true });
      down = null;
    }
  }
  if (down !== null) spans.push({ down, up: Math.max(down, lastEnd), lifted: false });
  return spans;
};
