/** Where the words and numbers of the ruler stand: no two over each other, at any zoom. */
import {
  type Arrangement,
  type Bar,
  beatsOfBar,
  type KeyChange,
  keyInWords,
  type Marker,
  type MeterChange,
  quartersPerMinute,
  shownMeters,
} from '@crispfold/core';
import { type RollView, xOfTick } from '../state/rollView.js';

/** Kinds of labels; each has its type. */
export type LabelKind = 'bar' | 'beat' | 'marker' | 'meter' | 'key' | 'tempo';

/** What a sign on the ruler stands for; a tempo by its place in the list. */
export type RulerSign =
  | { readonly kind: 'marker'; readonly marker: Marker }
  | { readonly kind: 'meter'; readonly meter: MeterChange }
  | { readonly kind: 'key'; readonly key: KeyChange }
  | { readonly kind: 'tempo'; readonly index: number };

/** A label from x to the end of its words, in pixels of the roll. */
export interface RulerLabel {
  readonly kind: LabelKind;
  readonly text: string;
  readonly sign?: RulerSign;
  readonly x: number;
  readonly width: number;
}

/** How wide a text of a kind is, in pixels. */
export type Measure = (kind: LabelKind, text: string) => number;

/** Words begin so far right of their line… */
const INDENT = 4;
/** …and leave at least so much to the next, in pixels. */
const ROOM = 6;
/** Bar numbers leave more, so that they read as a row of numbers. */
const ROOM_OF_BARS = 12;
/** Room within the box about a marker. */
export const MARKER_PAD = 5;
/** A sign pushed further than this from its place would say something untrue, in pixels. */
const FURTHEST_PUSHED = 140;

/** Numbers of bars, and of beats where there is room for those of a whole bar. */
export const barLabels = (view: RollView, bars: readonly Bar[], ppq: number, measure: Measure): RulerLabel[] => {
  const labels: RulerLabel[] = [];
  let free = Number.NEGATIVE_INFINITY;
  bars.forEach((bar, index) => {
    const x = xOfTick(view, bar.start) + INDENT;
    if (x < free) return;
    const text = String(bar.number);
    const width = measure('bar', text);
    labels.push({ kind: 'bar', text, x, width });
    free = x + width + ROOM_OF_BARS;
    const next = bars[index + 1];
    const until = xOfTick(view, next ? next.start : bar.end);
    const beats = beatsOfBar(bar, ppq)
      .slice(1)
      .map((beat): RulerLabel => {
        const words = String(beat.number);
        return { kind: 'beat', text: words, x: xOfTick(view, beat.start) + INDENT, width: measure('beat', words) };
      });
    const clear = beats.every(
      (beat, at) =>
        beat.x >= (at === 0 ? x + width + ROOM : endOf(beats[at - 1] as RulerLabel) + ROOM) &&
        endOf(beat) + ROOM <= until + INDENT,
    );
    if (!clear) return;
    labels.push(...beats);
    free = Math.max(free, ...beats.map((beat) => endOf(beat) + ROOM));
  });
  return labels;
};

const endOf = ({ x, width }: Pick<RulerLabel, 'x' | 'width'>): number => x + width;

/** What the ruler says besides bars: signs at places. */
export interface PlacedSign {
  readonly tick: number;
  readonly text: string;
  readonly sign?: RulerSign;
}

/** All signs, kind by kind. */
export interface PlacedSigns {
  readonly markers: readonly PlacedSign[];
  readonly meters: readonly PlacedSign[];
  readonly keys: readonly PlacedSign[];
  readonly tempos: readonly PlacedSign[];
}

/** What the ruler of an arrangement says. */
export const signsOfRuler = ({
  markers,
  meters,
  keys,
  tempos,
}: Pick<Arrangement, 'markers' | 'meters' | 'keys' | 'tempos'>): PlacedSigns => ({
  markers: markers.map((marker) => ({ ...marker, sign: { kind: 'marker', marker } })),
  meters: shownMeters(meters).map((meter) => ({
    tick: meter.tick,
    text: `${meter.numerator}/${meter.denominator}`,
    sign: { kind: 'meter', meter },
  })),
  keys: keys.map((key) => ({ tick: key.tick, text: keyInWords(key), sign: { kind: 'key', key } })),
  tempos: tempos.map(({ tick, microsecondsPerQuarter }, index) => ({
    tick,
    text: `♩ = ${Math.round(quartersPerMinute(microsecondsPerQuarter))}`,
    sign: { kind: 'tempo', index },
  })),
});

/** Markers first, for they matter most; meters, keys and tempi take what room is left at their place, or stay away. */
export const signLabels = (
  view: RollView,
  {
    markers,
    meters,
    keys,
    tempos,
    fold,
  }: PlacedSigns & {
    /** What stands in the ruler already: the crease's folded corner, in pixels. */
    readonly fold: { readonly x: number; readonly width: number } | null;
  },
  measure: Measure,
): RulerLabel[] => {
  const taken: RulerLabel[] = [];
  const meets = (x: number, width: number) =>
    [...taken, ...(fold ? [fold] : [])].filter((label) => x < endOf(label) + ROOM && x + width + ROOM > label.x);
  const place = (kind: LabelKind, { tick, text, sign }: PlacedSign) => {
    const wanted = xOfTick(view, tick) + INDENT;
    const width = measure(kind, text) + (kind === 'marker' ? 2 * MARKER_PAD : 0);
    if (wanted < -width || wanted > view.width) return;
    let x = wanted;
    for (let inWay = meets(x, width); inWay.length > 0; inWay = meets(x, width)) {
      x = Math.max(...inWay.map(endOf)) + ROOM;
      if (x - wanted > FURTHEST_PUSHED) return;
    }
    taken.push({ kind, text, x, width, ...(sign ? { sign } : {}) });
  };
  for (const marker of markers) place('marker', marker);
  for (const meter of meters) place('meter', meter);
  for (const key of keys) place('key', key);
  for (const tempo of tempos) place('tempo', tempo);
  return taken;
};
