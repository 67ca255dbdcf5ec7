/**
 * Zones: which beats of a bar are tuplets, and the tree in which each stretch of the bar is read. All positions are
 * written units from the bar's start.
 */
import { type Beat, beatsOfMeter, halves, type Meter, type MeterNode, meterTree, thirds } from '../time/meterMap.js';
import { WRITTEN_PPQ } from '../time/units.js';

/** A tuplet's ratio: `actual` notes in the time of `normal`. */
export interface Ratio {
  readonly actual: number;
  readonly normal: number;
}

/** A stretch of a bar that is read in one tree; `scale` turns bar positions into the tree's own (1 outside tuplets). */
export interface Zone {
  readonly start: number;
  readonly end: number;
  readonly tree: MeterNode;
  readonly scale: number;
  readonly ratio: Ratio | null;
}

/** Written units in a whole note. */
export const WHOLE = WRITTEN_PPQ * 4;
/** The finest value the page writes: a hundred-and-twenty-eighth. */
const SMALLEST = WHOLE / 128;

/** The finest places that a beat's values can say, in parts of the beat, for each way of dividing it; the plainest first. */
interface Fineness {
  readonly parts: number;
  readonly ratio: Ratio | null;
}
const SIMPLE: readonly Fineness[] = [
  { parts: 32, ratio: null },
  { parts: 24, ratio: { actual: 3, normal: 2 } },
  { parts: 20, ratio: { actual: 5, normal: 4 } },
  { parts: 28, ratio: { actual: 7, normal: 4 } },
];
const COMPOUND: readonly Fineness[] = [
  { parts: 1, ratio: null },
  // Halves and quarters of a dotted beat are duplets; with a third among them they are sixteenths.
  { parts: 4, ratio: { actual: 2, normal: 3 } },
  { parts: 48, ratio: null },
  { parts: 32, ratio: { actual: 2, normal: 3 } },
];

/** The ways a beat can divide, plainest first. */
export const finenessOf = (beat: Beat): readonly Fineness[] => (beat.compound ? COMPOUND : SIMPLE);

const allLieOn = (offsets: readonly number[], length: number, parts: number): boolean => {
  for (const offset of offsets) if ((offset * parts) % length !== 0) return false;
  return true;
};

/** The plainest way of dividing `beat` in which every offset (from the beat's start) can be said; undefined where none can. */
export const divisionFor = (beat: Beat, offsets: readonly number[]): Fineness | undefined => {
  for (const fineness of finenessOf(beat)) if (allLieOn(offsets, beat.length, fineness.parts)) return fineness;
  return undefined;
};

/** Halves of a plain beat, thirds of a dotted one: the parts that may hold a tuplet of their own. */
const partsOf = (beat: Beat): Beat[] => {
  const count = beat.compound ? 3 : 2;
  const length = beat.length / count;
  return Array.from({ length: count }, (_, index) => ({ start: beat.start + index * length, length, compound: false }));
};

const within = (part: Beat, beat: Beat, offsets: readonly number[]): number[] =>
  offsets
    .filter((offset) => offset + beat.start >= part.start && offset + beat.start < part.start + part.length)
    .map((offset) => offset + beat.start - part.start);

/** A part of a beat, and how it divides. */
export interface BeatPart {
  readonly beat: Beat;
  readonly ratio: Ratio | null;
}

/**
 * The parts of a beat, each with its own division, where that is the plainer way to read its offsets (from the beat's
 * start): a triplet in half a beat beside plain values, or in an eighth of a dotted one. Null where the beat is read as one.
 * `whole` is its {@link divisionFor}, where that is known.
 */
export const splitBeat = (
  beat: Beat,
  offsets: readonly number[],
  whole = divisionFor(beat, offsets),
): readonly BeatPart[] | null => {
  if (whole && (beat.compound || whole.ratio === null)) return null;
  const parts = partsOf(beat).map((part) => ({ beat: part, fineness: divisionFor(part, within(part, beat, offsets)) }));
  if (parts.some(({ fineness }) => fineness === undefined)) return null;
  const tuplets = parts.filter(({ fineness }) => fineness?.ratio).length;
  const halved = offsets.some((offset) => offset * 2 === beat.length);
  if (!beat.compound && whole && (tuplets !== 1 || !halved)) return null;
  return parts.map(({ beat: part, fineness }) => ({ beat: part, ratio: fineness?.ratio ?? null }));
};

interface Known<Key, Value> {
  get(key: Key): Value | undefined;
  set(key: Key, value: Value): unknown;
}

/** A function that makes each value once and finds it in `known` from then on. */
const remembered =
  <Key, Value extends object | null>(known: Known<Key, Value>, make: (key: Key) => Value) =>
  (key: Key): Value => {
    let value = known.get(key);
    if (value === undefined) {
      value = make(key);
      known.set(key, value);
    }
    return value;
  };

const memo = <Value extends object>(make: (key: string) => Value) => remembered(new Map<string, Value>(), make);

/** A meter is asked for bar after bar: what is known of the very same record is found without spelling it out. */
export const onceForMeter = <Value extends object | null>(make: (meter: Meter) => Value) =>
  remembered(new WeakMap<Meter, Value>(), make);

const meterKey = (meter: Meter): string => `${meter.numerator}/${meter.denominator}/${meter.groups?.join('+') ?? ''}`;
const meterOfKey = (key: string): Meter => {
  const [numerator, denominator, groups] = key.split('/') as [string, string, string];
  const plain = { numerator: Number(numerator), denominator: Number(denominator) };
  return groups ? { ...plain, groups: groups.split('+').map(Number) } : plain;
};

const treeByKey = memo((key) => meterTree(meterOfKey(key), WRITTEN_PPQ));
const beatsByKey = memo((key): readonly Beat[] => beatsOfMeter(meterOfKey(key), WRITTEN_PPQ));

/** The tree of a full bar of `meter`, made once. */
export const treeOf = onceForMeter((meter): MeterNode => treeByKey(meterKey(meter)));
/** Beats of a full bar of `meter` in written units, made once. */
export const writtenBeatsOf = onceForMeter((meter): readonly Beat[] => beatsByKey(meterKey(meter)));

const tupletTree = memo((key): MeterNode => {
  const [length, actual] = key.split('/').map(Number) as [number, number];
  if (actual === 3) return thirds(0, length, SMALLEST);
  if (actual === 2) return halves(0, length, SMALLEST);
  const each = length / actual;
  return { start: 0, length, children: Array.from({ length: actual }, (_, i) => halves(i * each, each, SMALLEST)) };
});

/** A stretch that is written as a tuplet because a person wants it so; from the bar's start, or the piece's. */
export interface SetTuplet {
  readonly start: number;
  readonly length: number;
  readonly ratio: Ratio;
}

/** True for a tuplet that note values can say: each of its notes is a plain one, and lasts whole units. */
export const canBeWritten = ({ length, ratio: { actual, normal } }: SetTuplet): boolean =>
  actual > 1 && Number.isInteger(length / actual) && Number.isInteger(Math.log2(WHOLE / (length / normal)));

const tupletZone = (start: number, length: number, ratio: Ratio): Zone => {
  const scale = ratio.actual / ratio.normal;
  return { start, end: start + length, tree: tupletTree(`${length * scale}/${ratio.actual}`), scale, ratio };
};

/**
 * The zones of a bar, given every place (offset from the bar's start) where something begins or ends. A tuplet takes the
 * shortest span that holds it: one beat, or two where there are places in both and all are thirds of both
 * together. Tuplets that a person set stand where they are, in order.
 */
export const zonesOf = (
  meter: Meter,
  barLength: number,
  places: readonly number[],
  set: readonly SetTuplet[] = [],
): readonly Zone[] => {
  const plain = plainZones(meter);
  if (set.length === 0 && plain && plain.end === barLength && places.every((place) => place % plain.step === 0))
    return plain.zones;
  const beats = writtenBeatsOf(meter).filter((beat) => beat.start < barLength);
  const inside: number[][] = beats.map(() => []);
  let at = 0;
  for (const place of [...places].sort((a, b) => a - b)) {
    while (at + 1 < beats.length && place >= (beats[at + 1] as Beat).start) at += 1;
    (inside[at] as number[]).push(place - (beats[at] as Beat).start);
  }
  const zones: Zone[] = [];
  const tree = treeOf(meter);
  for (let index = 0; index < beats.length; index += 1) {
    const beat = beats[index] as Beat;
    const own = set.filter((tuplet) => tuplet.start < beat.start + beat.length && endOf(tuplet) > beat.start);
    if (own.length > 0) {
      aroundTuplets(zones, beat, own, tree, barLength);
      continue;
    }
    const long = longTriplet(beats, inside, index);
    if (long && !set.some((tuplet) => tuplet.start < long.end && endOf(tuplet) > long.start)) {
      zones.push(long);
      index += 1;
      continue;
    }
    const offsets = inside[index] as number[];
    const whole = beat.start + beat.length <= barLength;
    const parts = (whole && splitBeat(beat, offsets)) || [{ beat, ratio: divisionFor(beat, offsets)?.ratio ?? null }];
    for (const part of parts) addZone(zones, part, tree, barLength);
  }
  return zones;
};

const endOf = ({ start, length }: { readonly start: number; readonly length: number }): number => start + length;

/** A beat that tuplets set by hand lie in: each where it begins, and plain stretches about them. */
const aroundTuplets = (
  zones: Zone[],
  beat: Beat,
  tuplets: readonly SetTuplet[],
  tree: MeterNode,
  barLength: number,
): void => {
  let at = beat.start;
  const plainTo = (to: number) => {
    if (to > at) addZone(zones, { beat: { ...beat, start: at, length: to - at }, ratio: null }, tree, barLength);
  };
  for (const tuplet of tuplets) {
    plainTo(tuplet.start);
    if (tuplet.start >= beat.start) zones.push(tupletZone(tuplet.start, tuplet.length, tuplet.ratio));
    at = Math.max(at, endOf(tuplet));
  }
  plainTo(endOf(beat));
};

/** A tuplet is a zone of its own; plain stretches run together. */
const addZone = (
  zones: Zone[],
  { beat: { start, length }, ratio }: BeatPart,
  tree: MeterNode,
  barLength: number,
): void => {
  const end = Math.min(start + length, barLength);
  const last = zones[zones.length - 1];
  if (ratio && end === start + length) zones.push(tupletZone(start, length, ratio));
  else if (last && !last.ratio) zones[zones.length - 1] = { ...last, end };
  else zones.push({ start, end, tree, scale: 1, ratio: null });
};

/** The one zone of a full bar of plain beats whose places all lie on thirty-seconds of them, as in most bars. */
const plainZones = onceForMeter((meter) => {
  const beats = writtenBeatsOf(meter);
  const tree = treeOf(meter);
  const [first] = beats;
  if (!first || beats.some((beat) => beat.compound || beat.length !== first.length)) return null;
  const end = beats.length * first.length;
  return { step: first.length / 32, end, zones: [{ start: 0, end, tree, scale: 1, ratio: null }] };
});

/** A triplet over two beats that begin together in the meter (quarter triplets on beat 1 or 3 of 4/4). */
const longTriplet = (beats: readonly Beat[], inside: readonly number[][], index: number): Zone | null => {
  const beat = beats[index] as Beat;
  const next = beats[index + 1];
  if (!next || beat.compound || next.compound || index % 2 !== 0 || beats.length === 3) return null;
  const first = (inside[index] as number[]).filter((offset) => offset > 0);
  const second = inside[index + 1] as number[];
  const fits =
    first.length > 0 &&
    second.length > 0 &&
    first.every((offset) => offset * 3 === beat.length * 2) &&
    second.every((offset) => offset * 3 === beat.length);
  return fits ? tupletZone(beat.start, beat.length + next.length, { actual: 3, normal: 2 }) : null;
};
