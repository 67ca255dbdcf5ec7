/** "Saltmarsh Lanterns", the demo piece: made up for Crisp Fold, 40 bars for six players. */
import type { Meter } from '../time/meterMap.js';
import { ticksPerBar } from '../time/meterMap.js';
import { WRITTEN_PPQ, type WrittenUnits } from '../time/units.js';
import {
  type ComposedDynamic,
  type ComposedPart,
  type ComposedScore,
  composeBars,
  signedAt,
  tied,
} from './composed.js';

const COMMON: Meter = { numerator: 4, denominator: 4 };
const LILT: Meter = { numerator: 6, denominator: 8 };
const BARS: readonly Meter[] = Array.from({ length: 40 }, (_, bar) => (bar >= 16 && bar < 28 ? LILT : COMMON));

const startOfBar = (number: number): WrittenUnits =>
  BARS.slice(0, number - 1).reduce((sum, meter) => sum + ticksPerBar(meter, WRITTEN_PPQ), 0) as WrittenUnits;

const REST = 'r:w';
const bars = (...lines: string[]): string => lines.join(' | ');
const rests = (count: number, rest = REST): string => Array(count).fill(rest).join(' | ');

const FLUTE = bars(
  'a5:h f5:q. g5:e | a5:q d6:q c6:e bb5:e a5:q | bb5:h g5:q. a5:e | a5:h r:h',
  'd5:e e5:e f5:e g5:e a5:q d6:q | d6:q. c6:e bb5:h | g5:et a5:et bb5:et c6:q a5:e g5:e e5:q | d5:w',
  'r:w | r:h r:q a5:e bb5:e | a5:e f5:e d5:e f5:e g5:q a5:q | e5:h r:h',
  'f5:e e5:e d5:e f5:e a5:q d6:q | c6:e a5:e bb5:e g5:e f5:h | g5:et f5:et e5:et f5:q e5:e c#5:e e5:q | d5:h r:h',
  'a5:q g5:e f5:q. | g5:q a5:e bb5:q. | c6:e bb5:e a5:e g5:q e5:e | f5:q. r:q.',
  'd6:q c6:e bb5:q. | a5:q bb5:e g5:q. | f5:e g5:e a5:e bb5:e a5:e g5:e | a5:h.',
  'bb5:q a5:e g5:q. | f5:q g5:e a5:q. | g5:e f5:e e5:e d5:q c#5:e | d5:q. r:q.',
  'a5:h f5:q. g5:e | a5:q d6:q c6:e bb5:e a5:q | bb5:h g5:q. a5:e | a5:h r:h',
  'd5:s e5:s f5:s g5:s a5:q bb5:e a5:e g5:q | f5:e d5:e bb5:q. a5:e g5:q | a5:et bb5:et c6:et d6:q c6:e bb5:e a5:q | a5:w',
  'bb5:q a5:q g5:q f5:q | e5:q. f5:e g5:e e5:e c#5:q | d5:h f5:q a5:q | d6:w',
);

const CLARINET = bars(
  'f4:q a4:q d5:q a4:q | f4:e a4:e d5:q e5:q f5:q | d5:q bb4:q g4:q bb4:q | c#5:h a4:h',
  'r:q f4:e g4:e a4:q f4:q | bb4:q d5:q f5:q d5:q | bb4:q. g4:e a4:e c#5:e e5:q | f5:h d5:h',
  'd5:e a4:e f4:e a4:e d5:q r:q | bb4:e g4:e d4:e g4:e bb4:q r:q | a4:e c5:e f5:e c5:e a4:q f4:q | a4:e g4:e a4:e c#5:e e5:h',
  'd5:q a4:e f4:e d4:q f4:q | g4:e bb4:e d5:e bb4:e a4:h | bb4:q g4:q a4:h | a4:q f4:q d4:h',
  'd4:e f4:e a4:e d5:q. | d4:e g4:e bb4:e d5:q. | c5:e g4:e e4:e c5:q. | f4:e a4:e c5:e f5:q.',
  'bb4:q. d5:q. | e5:q c5:e bb4:q. | a4:e c5:e f5:e d5:q. | c#5:h.',
  'd5:q. bb4:q. | a4:e d5:e f5:e f5:q. | bb4:q. g4:q. | f4:e a4:e d5:e a4:q.',
  'f4:q a4:q d5:q a4:q | f4:e a4:e d5:q e5:q f5:q | d5:q bb4:q g4:q bb4:q | c#5:h a4:h',
  'r:q f4:e g4:e a4:q f4:q | bb4:q d5:q f5:q d5:q | c5:q. a4:e bb4:q c#5:q | d5:q e5:q f5:h',
  'g5:q f5:q e5:q d5:q | bb4:q. a4:e bb4:q a4:q | a4:s bb4:s a4:s g4:s f4:q d4:q f4:q | a4:w',
);

const HORN = bars(
  rests(4),
  'a3:h d4:h | d4:w | d4:h c#4:h | d4:w',
  'r:w | r:w | f4:h. e4:q | c#4:w',
  'd4:h a3:h | bb3:h d4:h | d4:h c#4:h | d4:w',
  rests(4, 'r:h.'),
  'f4:h. | e4:q. g4:q. | f4:h. | e4:h.',
  'd4:h. | d4:h. | d4:q. e4:q. | d4:h.',
  rests(4),
  'f4:w | f4:h d4:h | c4:h. bb3:q | a3:w',
  'd4:w | g4:h e4:h | f4:w | f4:w',
);

const VIBRAPHONE = bars(
  'd4+f4+a4:w | d4+f4+a4:h f4+a4+c5:h | d4+g4+bb4:w | c#4+e4+a4:w',
  'd4+f4+a4:w | d4+f4+bb4:w | d4+g4+bb4:h c#4+e4+a4:h | d4+f4+a4:w',
  'd4+a4:q f4+d5:q d4+a4:q f4+d5:q | d4+g4:q g4+bb4:q d4+g4:q g4+bb4:q | c4+f4+a4:h f4+a4+c5:h | c#4+e4+a4:w',
  'd4+f4+a4:h d4+f4:h | g4+bb4+d5:h f4+a4+d5:h | d4+g4+bb4:h c#4+e4+a4:h | d4+f4+a4:w',
  'd4+f4+a4:q. f4+a4+d5:q. | d4+g4+bb4:h. | c4+e4+g4:q. e4+g4+c5:q. | c4+f4+a4:h.',
  'd4+f4+bb4:h. | c4+e4+bb4:h. | f4+a4+d5:q. d4+f4+a4:q. | c#4+e4+a4:h.',
  'd4+g4+bb4:h. | d4+f4+a4:h. | d4+g4+bb4:q. c#4+e4+a4:q. | d4+f4+a4:h.',
  'd4+f4+a4:w | d4+f4+a4:h f4+a4+c5:h | d4+g4+bb4:w | c#4+e4+a4:w',
  'd4+f4+a4:w | d4+f4+bb4:w | c4+f4+a4:h d4+g4+bb4:h | d4+f4+a4:w',
  'd4+g4+bb4:w | c#4+e4+g4:w | d4+f4+a4:h f4+a4+d5:h | d4+f4+a4+d5:w',
);

const CELLO = bars(
  'd3:q. a2:e d3:h | d3:q. a2:e f2:h | g2:q. d3:e bb2:h | a2:q e3:q a2:h',
  'd3:q. a2:e d3:h | bb2:q. f2:e bb2:h | g2:h a2:h | d2:w',
  'd3:q a2:q d3:q a2:e c3:e | g2:q d3:q g2:q bb2:e g2:e | f2:q c3:q f2:q a2:q | a2:q e3:q c#3:q a2:q',
  'd3:q a2:q f2:q d2:q | g2:q bb2:q d3:h | g2:h a2:q c#3:q | d3:e c3:e bb2:e a2:e d2:h',
  'd3:q. a2:q. | g2:q. d3:q. | c3:q. g2:q. | f2:q a2:e c3:q.',
  'bb2:h. | c3:q g2:e c3:q. | d3:q. d2:q. | a2:q c#3:e e3:q.',
  'g2:h. | d3:q a2:e d3:q. | g2:q. a2:q. | d2:h.',
  'd3:q. a2:e d3:h | d3:q. a2:e f2:h | g2:q. d3:e bb2:h | a2:q e3:q a2:h',
  'd3:q. a2:e d3:h | bb2:q. f2:e bb2:h | f2:h g2:q a2:q | d2:h d3:h',
  'g2:q. d3:e g2:h | a2:q. e3:e a2:h | d3:w | d3:w',
);

const TAMBOURINE = bars(
  rests(8),
  ...Array<string>(7).fill('f#3:q f#3:e f#3:e f#3:q f#3:e f#3:e'),
  'f#3:q r:q f#3:q r:q',
  ...Array<string>(11).fill('f#3:q f#3:e f#3:q.'),
  'f#3:q. r:q.',
  ...Array<string>(4).fill('f#3:q r:q f#3:q r:q'),
  ...Array<string>(7).fill('f#3:q f#3:e f#3:e f#3:q f#3:q'),
  'f#3:q r:h.',
);

const part = (
  name: string,
  instrument: string,
  channel: number,
  program: number | null,
  text: string,
  pedal: ComposedPart['pedal'] = 'none',
): ComposedPart => ({ name, instrument, channel, program, notes: composeBars(text, BARS), pedal });

/** A place in written units: a bar, and a beat of it, both from 1. */
const placeOf = (bar: number, beat: number): WrittenUnits =>
  (startOfBar(bar) + (beat - 1) * WRITTEN_PPQ) as WrittenUnits;

/** Grace notes before the held notes of the opening, and a trill where it comes back. */
const flute = (line: ComposedPart): ComposedPart => {
  const graced = [placeOf(3, 1), placeOf(31, 1)].reduce((notes, at) => signedAt(notes, at, { grace: 81 }), line.notes);
  return { ...line, notes: signedAt(graced, placeOf(32, 1), { trill: 1 }) };
};

/** Soft where the piece lilts, swelling into its return, and dying away. */
const CELLO_DYNAMICS: readonly ComposedDynamic[] = [
  { at: placeOf(1, 1), level: 'mf' },
  { at: placeOf(17, 1), level: 'p' },
  { at: placeOf(25, 1), level: 'louder' },
  { at: placeOf(29, 1), level: 'f' },
  { at: placeOf(37, 1), level: 'p' },
];

const cello = part('Cello', 'cello', 4, 42, CELLO);
const vibraphone = part('Vibraphone', 'vibraphone', 3, 11, VIBRAPHONE, 'chord');
const horn = part('Horn in F', 'horn', 2, 60, HORN);

/** The score as composed: the truth that the default plan must give back. */
export const saltmarshLanterns = (): ComposedScore => ({
  title: 'Saltmarsh Lanterns',
  meters: [
    { tick: startOfBar(1), ...COMMON },
    { tick: startOfBar(17), ...LILT },
    { tick: startOfBar(29), ...COMMON },
  ],
  tempos: [
    { tick: startOfBar(1), quartersPerMinute: 88 },
    { tick: startOfBar(9), quartersPerMinute: 96 },
    { tick: startOfBar(17), quartersPerMinute: 100 },
    { tick: startOfBar(29), quartersPerMinute: 88 },
    { tick: startOfBar(39), quartersPerMinute: 80 },
    { tick: startOfBar(40), quartersPerMinute: 72 },
  ],
  markers: [
    { tick: startOfBar(1), text: 'A' },
    { tick: startOfBar(9), text: 'B, swung' },
    { tick: startOfBar(17), text: 'C, lilting' },
    { tick: startOfBar(29), text: 'D' },
  ],
  keys: [{ tick: startOfBar(1), fifths: -1, minor: true }],
  swings: [{ percent: 64, pair: 'eighths', from: startOfBar(9), to: startOfBar(17) }],
  parts: [
    flute(part('Flute', 'flute', 0, 73, FLUTE)),
    part('Clarinet in B flat', 'clarinet', 1, 71, CLARINET),
    // A tie over the bar line, as players meet it.
    { ...horn, notes: tied(horn.notes, [startOfBar(40)]) },
    { ...vibraphone, notes: signedAt(vibraphone.notes, placeOf(40, 1), { rolled: true }) },
    { ...cello, notes: tied(cello.notes, [startOfBar(40)]), dynamics: CELLO_DYNAMICS },
    part('Tambourine', 'tambourine', 9, null, TAMBOURINE),
  ],
});
