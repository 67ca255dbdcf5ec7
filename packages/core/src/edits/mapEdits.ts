/** The arrangement's own maps changed by hand: a key or a meter from a bar on. They are of all parts, sound and page alike. */
import type { Arrangement, KeyChange } from '../model/arrangement.js';
import type { Edit } from '../model/edit.js';
import { failure, type Result, success } from '../model/result.js';
import { createMeterMap, type Meter, type MeterChange, ticksPerBar } from '../time/meterMap.js';
import { ticks } from '../time/units.js';

/** What is changed from a bar on. */
export type MapWish =
  | { readonly wish: 'key'; readonly fifths: number; readonly minor: boolean }
  /** As a person types it: "3/4", "7/8", "2+3/8". */
  | { readonly wish: 'meter'; readonly text: string };

const MAJOR = ['C♭', 'G♭', 'D♭', 'A♭', 'E♭', 'B♭', 'F', 'C', 'G', 'D', 'A', 'E', 'B', 'F♯', 'C♯'];
const MINOR = ['A♭', 'E♭', 'B♭', 'F', 'C', 'G', 'D', 'A', 'E', 'B', 'F♯', 'C♯', 'G♯', 'D♯', 'A♯'];

/** "G major", "F♯ minor"; `fifths` from -7 to 7. */
export const keyInWords = ({ fifths, minor }: Pick<KeyChange, 'fifths' | 'minor'>): string =>
  `${(minor ? MINOR : MAJOR)[fifths + 7] ?? '?'} ${minor ? 'minor' : 'major'}`;

/** Meters of more beats than these are no meters that players read. */
const MOST_BEATS = 64;

/** Reads a typed meter; its groups where it has them. */
export const readMeter = (text: string): Result<Meter> => {
  const match = /^\s*(\d+(?:\s*\+\s*\d+)*)\s*\/\s*(1|2|4|8|16|32)\s*$/.exec(text);
  const groups = (match?.[1] ?? '').split('+').map(Number);
  const numerator = groups.reduce((sum, beats) => sum + beats, 0);
  if (!match || numerator < 1 || numerator > MOST_BEATS || groups.some((beats) => beats < 1))
    return failure('noMeter', 'Type a meter as 3/4, 7/8, or with its groups as 2+2+3/8.');
  return success({ numerator, denominator: Number(match[2]), ...(groups.length > 1 ? { groups } : {}) });
};

const sameMeter = (a: Meter, b: Meter): boolean =>
  a.numerator === b.numerator && a.denominator === b.denominator && (a.groups ?? []).join() === (b.groups ?? []).join();

/**
 * The Edit of a wish from bar `number` on, until the next change there is. `found` are the keys that the page has where the
 * file says none, in ticks: they are kept before and after.
 */
export const mapEdit = (
  arrangement: Arrangement,
  number: number,
  wish: MapWish,
  found: readonly KeyChange[],
): Result<Edit> => {
  const bar = createMeterMap(arrangement.meters, arrangement.ppq).barNumbered(number);
  const tick = ticks(Math.round(bar.start));
  if (wish.wish === 'key') {
    const { fifths, minor } = wish;
    const before = arrangement.keys.length > 0 ? arrangement.keys : found;
    const keys = [...before.filter((own) => own.tick !== tick), { tick, fifths, minor }]
      .sort((a, b) => a.tick - b.tick)
      .filter(
        (own, index, all) =>
          index === 0 || own.fifths !== all[index - 1]?.fifths || own.minor !== all[index - 1]?.minor,
      );
    return success({
      label: `${keyInWords(wish)} from bar ${number}`,
      changes: [{ kind: 'arrangementFields', before: { keys: arrangement.keys }, after: { keys } }],
    });
  }
  const read = readMeter(wish.text);
  if (!read.ok) return read;
  const meter = read.value;
  if (bar.pickup) return failure('pickup', 'A pickup is as long as it is. Set the meter from bar 1 on.');
  const kept = arrangement.meters.filter((own) => own.tick !== tick);
  const there = arrangement.meters.find((own) => own.tick === tick);
  const pickup = there?.pickup;
  const all: MeterChange[] = [...kept, { tick, ...meter, ...(pickup === undefined ? {} : { pickup }) }];
  all.sort((a, b) => a.tick - b.tick);
  const meters = all.filter((own, index) => {
    const last = all[index - 1];
    // A change that says the same again is none, where it begins with a bar.
    return !last || !sameMeter(own, last) || (own.tick - last.tick) % ticksPerBar(last, arrangement.ppq) !== 0;
  });
  const name = `${(meter.groups ?? [meter.numerator]).join('+')}/${meter.denominator}`;
  return success({
    label: `${name} from bar ${number}`,
    changes: [{ kind: 'arrangementFields', before: { meters: arrangement.meters }, after: { meters } }],
  });
};
