/** What the reader of a score will find in it, told before it is saved. */
import { isUnpitched } from './instruments/instruments.js';
import { hardestBars, signsOf, weightOf } from './notation/readability.js';
import type { Score, ScoreBar, ScorePart } from './notation/score.js';

/** A score in numbers, and what a reader may stumble over, in words. */
export interface ExportAbout {
  readonly bars: number;
  readonly parts: number;
  /** Noteheads, tied ones once. */
  readonly notes: number;
  readonly warnings: readonly string[];
}

const notesOf = ({ events }: ScoreBar): number =>
  events.reduce((sum, { notes }) => sum + notes.filter(({ tiedFrom }) => !tiedFrom).length, 0);

/** "bar 3", "bars 3, 5 and 9", "bars 3, 5, 9 and 12 more". */
const barsInWords = (bars: readonly ScoreBar[]): string => {
  const numbers = bars.map(({ number }) => number);
  if (numbers.length === 1) return `bar ${numbers[0]}`;
  const [shown, left] = [numbers.slice(0, NAMED), numbers.length - NAMED];
  return left > 0
    ? `bars ${shown.join(', ')} and ${left} more`
    : `bars ${shown.slice(0, -1).join(', ')} and ${shown[shown.length - 1]}`;
};
/** So many bars are named. */
const NAMED = 4;

/** Tuplets that players read every day (common practice). */
const USUAL_TUPLETS = new Set(['3:2', '6:4', '2:3', '4:3']);

const warningsOf = (part: ScorePart): readonly string[] => {
  const { bars, instrument, name } = part;
  const all = bars.reduce((sum, bar) => sum + notesOf(bar), 0);
  if (all === 0) return [`${name} has nothing to play.`];
  const warnings: string[] = [];
  const where = (holds: (bar: ScoreBar) => boolean, says: string) => {
    const found = bars.filter(holds);
    if (found.length > 0) warnings.push(`${name}, ${barsInWords(found)}: ${says}.`);
  };
  where(
    ({ events }) => events.some(({ value, wholeBar }) => !wholeBar && value.denominator > 32),
    'values shorter than thirty-seconds',
  );
  where(
    ({ events }) =>
      events.some(({ tuplet, ratio }) => tuplet && ratio && !USUAL_TUPLETS.has(`${ratio.actual}:${ratio.normal}`)),
    'tuplets that are seldom seen',
  );
  const weighed = bars.map((bar) => ({ bar: bar.number, before: null, after: weightOf(signsOf(bar)), hard: 'signs' }));
  const hard = new Set(
    hardestBars(weighed, bars.length)
      .filter(({ after }) => after >= CROWDED)
      .map(({ bar }) => bar),
  );
  where(({ number }) => hard.has(number), 'crowded, hard to read at sight');
  if (!isUnpitched(instrument)) {
    const outside = bars
      .flatMap(({ events }) => events.flatMap(({ notes }) => notes))
      .filter(({ soundingPitch, tiedFrom }) => {
        return !tiedFrom && (soundingPitch < instrument.lowest || soundingPitch > instrument.highest);
      }).length;
    if (outside > 0)
      warnings.push(
        `${name}: ${outside === 1 ? 'a note lies' : `${outside} notes lie`} outside the instrument’s range.`,
      );
  }
  return warnings;
};

/** A bar is crowded from so many weighted signs on (judged: a bar of sixteenths has about as many). */
const CROWDED = 24;

/** Counts a score and looks for what its readers may stumble over. */
export const exportAbout = ({ bars, parts, title }: Score): ExportAbout => ({
  bars: bars.length,
  parts: parts.length,
  notes: parts.reduce((sum, part) => sum + part.bars.reduce((own, bar) => own + notesOf(bar), 0), 0),
  warnings: [...(title.trim() === '' ? ['The piece has no title.'] : []), ...parts.flatMap(warningsOf)],
});
