/** Markers, and changes of meter and key, put on the ruler and taken off it. Each is one Edit of the arrangement's own maps. */
import type { Arrangement, KeyChange, Marker } from '../model/arrangement.js';
import type { ArrangementFields, Edit } from '../model/edit.js';
import { LONGEST_MARKER } from '../model/limits.js';
import { failure, type Result, success } from '../model/result.js';
import { keptText } from '../model/texts.js';
import { createMeterMap, type MeterChange } from '../time/meterMap.js';
import { ticks } from '../time/units.js';
import { keyInWords } from './mapEdits.js';

const fields = <Key extends keyof ArrangementFields>(
  arrangement: Arrangement,
  label: string,
  key: Key,
  after: ArrangementFields[Key],
): Edit => ({
  label,
  changes: [{ kind: 'arrangementFields', before: { [key]: arrangement[key] }, after: { [key]: after } }],
});

const inOrder = <Item extends { readonly tick: number }>(items: readonly Item[]): Item[] =>
  [...items].sort((a, b) => a.tick - b.tick);

/** Puts a marker at a place, or another text on the one that is there. Refused without a text. */
export const putMarker = (arrangement: Arrangement, tick: number, text: string): Result<Edit> => {
  const words = keptText(text.trim(), LONGEST_MARKER);
  if (words === '') return failure('noText', 'A marker needs some words: A, Verse, Coda.');
  const at = ticks(Math.max(0, Math.round(tick)));
  const others = arrangement.markers.filter((own) => own.tick !== at);
  const verb = others.length < arrangement.markers.length ? 'Rename marker' : 'Marker';
  return success(fields(arrangement, `${verb}: ${words}`, 'markers', inOrder([...others, { tick: at, text: words }])));
};

/** A marker at another place. One that stands there already stays beside it no longer. */
export const moveMarker = (arrangement: Arrangement, marker: Marker, tick: number): Edit => {
  const at = ticks(Math.max(0, Math.round(tick)));
  const others = arrangement.markers.filter((own) => own !== marker && own.tick !== at);
  return fields(arrangement, `Move marker: ${marker.text}`, 'markers', inOrder([...others, { ...marker, tick: at }]));
};

export const removeMarker = (arrangement: Arrangement, marker: Marker): Edit =>
  fields(
    arrangement,
    `Remove marker: ${marker.text}`,
    'markers',
    arrangement.markers.filter((own) => own !== marker),
  );

/** The bar line nearest to a place, as these meters have it. */
const barLineNear = ({ ppq }: Arrangement, meters: readonly MeterChange[], tick: number): number => {
  const { start, end } = createMeterMap(meters, ppq).barAt(Math.max(0, tick));
  return Math.round(tick - start <= end - tick ? start : end);
};

/**
 * A change of meter at the bar line nearest to a place; one that stands there goes. Null where it stays where it is, and for
 * the meter in which the piece begins.
 */
export const moveMeter = (arrangement: Arrangement, meter: MeterChange, tick: number): Edit | null => {
  if (arrangement.meters.indexOf(meter) < 1) return null;
  const others = arrangement.meters.filter((own) => own !== meter);
  const at = ticks(barLineNear(arrangement, others, tick));
  // The first meter stays, whatever is moved upon it.
  if (at === meter.tick || at <= (others[0]?.tick ?? 0)) return null;
  const words = `${meter.numerator}/${meter.denominator}`;
  const kept = others.filter((own) => own.tick !== at);
  return fields(arrangement, `Move the change to ${words}`, 'meters', inOrder([...kept, { ...meter, tick: at }]));
};

/** A key signature at the bar line nearest to a place; one that stands there goes. Null where it stays where it is. */
export const moveKey = (arrangement: Arrangement, key: KeyChange, tick: number): Edit | null => {
  const at = ticks(barLineNear(arrangement, arrangement.meters, tick));
  if (at === key.tick || !arrangement.keys.includes(key)) return null;
  const others = arrangement.keys.filter((own) => own !== key && own.tick !== at);
  return fields(arrangement, `Move the key: ${keyInWords(key)}`, 'keys', inOrder([...others, { ...key, tick: at }]));
};

/** Takes a change of meter away: the meter before it goes on. The first one stays. */
export const removeMeter = (arrangement: Arrangement, meter: MeterChange): Result<Edit> => {
  if (arrangement.meters[0] === meter)
    return failure('firstMeter', 'The piece begins in some meter: change it instead.');
  const words = `${meter.numerator}/${meter.denominator}`;
  return success(
    fields(
      arrangement,
      `Remove the change to ${words}`,
      'meters',
      arrangement.meters.filter((own) => own !== meter),
    ),
  );
};

/** Takes a change of key away; without any the page finds the key itself. */
export const removeKey = (arrangement: Arrangement, key: KeyChange): Edit =>
  fields(
    arrangement,
    'Remove a key signature',
    'keys',
    arrangement.keys.filter((own) => own !== key),
  );
