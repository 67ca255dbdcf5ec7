/** The bars that count in before playing begins. */
import type { Arrangement } from '../model/arrangement.js';
import { beatsOfMeter, createMeterMap, ticksPerBar } from '../time/meterMap.js';
import { createTempoMap } from '../time/tempoMap.js';
import type { Click } from './schedule.js';

/**
 * The beats that count in, and how long they last in seconds: so many bars as the one at `tick`, at the tempo there. They lie
 * before `tick`, also before the piece.
 */
export const countIn = (
  arrangement: Arrangement,
  tick: number,
  bars: number,
): { readonly clicks: readonly Click[]; readonly seconds: number } => {
  const { ppq } = arrangement;
  const map = createTempoMap(arrangement.tempos, ppq);
  const { meter } = createMeterMap(arrangement.meters, ppq).barAt(tick);
  const secondsPerTick = 0.001 / map.ticksPerMillisecond(tick);
  const barTicks = ticksPerBar(meter, ppq);
  const begins = map.secondsAt(tick) - bars * barTicks * secondsPerTick;
  const beats = beatsOfMeter(meter, ppq);
  return {
    clicks: Array.from({ length: bars }, (_, bar) =>
      beats.map((beat, index) => ({
        start: begins + (bar * barTicks + beat.start) * secondsPerTick,
        first: index === 0,
      })),
    ).flat(),
    seconds: bars * barTicks * secondsPerTick,
  };
};
