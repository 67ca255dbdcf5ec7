/**
 * Pedals as spans of time. MIDI 1.0: CC 64 (sustain) and CC 66 (sostenuto) at 64 and above are down, 63 and below up. The
 * sustain pedal holds every key let go while it is down; sostenuto only those that were down when it was pressed.
 */
import type { TrackEvent } from '../model/arrangement.js';
import { onRamp } from '../time/ramps.js';

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

type ControllerEvent = Extract<TrackEvent, { kind: 'controller' }>;

/** The first tick of a ramp at which the pedal is as it is at the ramp's end. */
const crossingOf = (from: ControllerEvent, to: ControllerEvent): number => {
  const [length, isDown] = [to.tick - from.tick, to.value >= PEDAL_DOWN];
  const valueAt = (along: number) => Math.round(onRamp(from.value, to.value, along / length, from.ramp ?? 0));
  let [before, after] = [0, length];
  while (after - before > 1) {
    const middle = (before + after) >> 1;
    if (valueAt(middle) >= PEDAL_DOWN === isDown) after = middle;
    else before = middle;
  }
  // A file says the last value at the ramp's end, and not before.
  return valueAt(after) === to.value ? to.tick : from.tick + after;
};

/** Presses of a pedal on one channel, in order; `lastEnd` closes one that never lifts. */
export const pedalSpans = (
  events: readonly TrackEvent[],
  channel: number,
  lastEnd: number,
  controller = SUSTAIN_CONTROLLER,
): PedalSpan[] => {
  const spans: PedalSpan[] = [];
  let down: number | null = null;
  const own = events
    .filter(
      (event): event is ControllerEvent =>
        event.kind === 'controller' && event.controller === controller && event.channel === channel,
    )
    .sort((a, b) => a.tick - b.tick);
  const goes = (isDown: boolean, tick: number) => {
    if (isDown) down ??= tick;
    else if (down !== null) {
      spans.push({ down, up: tick, lifted: true });
      down = null;
    }
  };
  own.forEach((event, index) => {
    goes(event.value >= PEDAL_DOWN, event.tick);
    const next = own[index + 1];
    // On its way to the next value it goes down, or comes up, before that is there.
    if (next && event.ramp !== undefined && event.value >= PEDAL_DOWN !== next.value >= PEDAL_DOWN)
      goes(next.value >= PEDAL_DOWN, crossingOf(event, next));
  });
  if (down !== null) spans.push({ down, up: Math.max(down, lastEnd), lifted: false });
  return spans;
};
