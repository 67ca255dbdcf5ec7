/** The prelude to "Saltmarsh Lanterns", made up for Crisp Fold: 16 bars for three players, who play it with no click. */
import type { Meter } from '../time/meterMap.js';
import type { WrittenUnits } from '../time/units.js';
import { type ComposedPart, type ComposedScore, composeBars } from './composed.js';

const COMMON: Meter = { numerator: 4, denominator: 4 };
/** How long it is. */
export const PRELUDE_BARS = 16;
const BARS: readonly Meter[] = Array<Meter>(PRELUDE_BARS).fill(COMMON);
const START = 0 as WrittenUnits;

const bars = (...lines: string[]): string => lines.join(' | ');

const FLUTE = bars(
  'r:w | r:h r:q a5:q | d6:h c6:q bb5:q | a5:h. g5:q',
  'f5:q g5:q a5:q bb5:q | g5:h e5:h | f5:q. e5:e d5:q f5:q | a5:w',
  'r:q d6:q c6:q a5:q | bb5:h g5:h | a5:q g5:e f5:e g5:q e5:q | f5:h d5:h',
  'g5:q a5:q bb5:q g5:q | a5:q. g5:e f5:q e5:q | d5:h e5:q c#5:q | d5:w',
);

const VIBRAPHONE = bars(
  'd4+f4+a4:h d4+f4+a4:h | d4+g4+bb4:h c#4+e4+a4:h | d4+f4+a4:h f4+a4+c5:h | d4+g4+bb4:h c#4+e4+a4:h',
  'd4+f4+a4:h d4+f4+bb4:h | d4+g4+bb4:h c#4+e4+a4:h | d4+f4+a4:h d4+f4+bb4:h | c#4+e4+a4:h c#4+e4+g4:h',
  'd4+f4+a4:h f4+a4+c5:h | d4+g4+bb4:h c4+e4+g4:h | c4+f4+a4:h c4+e4+bb4:h | d4+f4+a4:h d4+f4+bb4:h',
  'd4+g4+bb4:h c4+e4+g4:h | d4+f4+a4:h d4+f4+bb4:h | d4+g4+bb4:h c#4+e4+a4:h | d4+f4+a4:w',
);

const CELLO = bars(
  'd3:q a2:q d3:q a2:q | g2:q d3:q a2:q e3:q | d3:q a2:q f2:q c3:q | g2:q d3:q a2:q e3:q',
  'd3:q a2:q bb2:q f3:q | g2:q d3:q a2:q e3:q | d3:q a2:q bb2:q f3:q | a2:q e3:q a2:q c#3:q',
  'd3:q a2:q f2:q c3:q | g2:q d3:q c3:q g2:q | f2:q c3:q e3:q c3:q | d3:q a2:q bb2:q f3:q',
  'g2:q d3:q c3:q g2:q | d3:q a2:q bb2:q f3:q | g2:h a2:h | d2:w',
);

const part = (name: string, instrument: string, channel: number, program: number, text: string): ComposedPart => ({
  name,
  instrument,
  channel,
  program,
  notes: composeBars(text, BARS),
  pedal: 'none',
});

/** The prelude as composed: the truth that the default plan must give back, once the beats of the take are found. */
export const lanternPrelude = (): ComposedScore => ({
  title: 'Lantern Prelude',
  meters: [{ tick: START, ...COMMON }],
  tempos: [{ tick: START, quartersPerMinute: 72 }],
  markers: [],
  keys: [{ tick: START, fifths: -1, minor: true }],
  parts: [
    part('Flute', 'flute', 0, 73, FLUTE),
    { ...part('Vibraphone', 'vibraphone', 1, 11, VIBRAPHONE), pedal: 'chord' },
    part('Cello', 'cello', 2, 42, CELLO),
  ],
});
