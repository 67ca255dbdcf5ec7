/** The feel of a part: how early or late and how loud it is at each place in the bar, learnt over all of it. */
import type { FeltPlace, KeptFeel } from '../model/keptFeel.js';
import { median } from '../model/statistics.js';
import { type Bar, originOf } from '../time/meterMap.js';
import { lastIndexAtOrBefore } from '../time/search.js';
import type { StepContext, Strike } from './context.js';

/** At one place: ticks after it (before it where negative), and steps of velocity above what is usual about it. */
export interface FeelAt {
  readonly late: number;
  readonly louder: number;
}

/** What a part's feel says of a place. */
export interface Feel {
  /** The place nearest to a tick, a sixteenth of the bar, and what is done there. */
  readonly at: (tick: number) => FeelAt & { readonly place: number };
  /** Sixteenths of the commonest bar in order, as far as they are met, for a chart. */
  readonly places: readonly (FeelAt & { readonly sixteenth: number; readonly met: number })[];
  /** The commonest bar's length, in sixteenths. */
  readonly bar: number;
}

/** A place that is met so often says how it is played; a rarer one goes by its place in the beat, then by the whole part. */
export const OFTEN = 3;
/** Loudness is compared with so many strikes before and after. */
const ABOUT = 8;

/** Loudness of each strike above the usual one about it, so that a swell is no feel. */
export const louderThanAbout = (velocities: readonly number[]): readonly number[] =>
  velocities.map((velocity, index) => {
    const about = velocities.slice(Math.max(0, index - ABOUT), index + ABOUT + 1);
    return velocity - (median(about) ?? velocity);
  });

/** The sixteenth of its bar that a tick is nearest to. */
interface Place {
  /** Where it lies, in ticks. */
  readonly place: number;
  /** From the bar line, in sixteenths. */
  readonly within: number;
  /** The bar's length, in sixteenths. */
  readonly length: number;
}

const placesIn =
  (bars: readonly Bar[], ppq: number) =>
  (tick: number): Place => {
    const unit = ppq / 4;
    const at = Math.max(
      0,
      lastIndexAtOrBefore(bars, tick, ({ start }) => start),
    );
    const bar = bars[at] as Bar;
    const origin = originOf(bar, ppq);
    const sixteenth = Math.round((tick - origin) / unit);
    const length = Math.round((bar.end - origin) / unit);
    // What comes just before a bar line belongs to the bar after it.
    return { place: origin + sixteenth * unit, within: length > 0 ? sixteenth % length : 0, length };
  };

const namesOf = ({ within, length }: Place) => ({ own: `${length}:${within}`, beat: `beat:${within % 4}` });

interface Met {
  readonly late: number[];
  readonly louder: number[];
}

/** Learns from strikes, rising; null where there are too few to learn from. */
export const learnFeel = (strikes: readonly Strike[], bars: readonly Bar[], ppq: number): Feel | null => {
  if (strikes.length < OFTEN || bars.length === 0) return null;
  const placeOf = placesIn(bars, ppq);
  const met = new Map<string, Met>();
  const louder = louderThanAbout(strikes.map(({ velocity }) => velocity));
  const lengths = new Map<number, number>();
  strikes.forEach(({ onset }, index) => {
    const at = placeOf(onset);
    const { place, length } = at;
    const { own, beat } = namesOf(at);
    lengths.set(length, (lengths.get(length) ?? 0) + 1);
    for (const key of [own, beat, 'all']) {
      const known = met.get(key) ?? { late: [], louder: [] };
      known.late.push(onset - place);
      known.louder.push(louder[index] as number);
      met.set(key, known);
    }
  });
  const said = (key: string): FeelAt & { readonly met: number } => {
    const { late, louder: loud } = met.get(key) ?? { late: [], louder: [] };
    return { late: median(late) ?? 0, louder: median(loud) ?? 0, met: late.length };
  };
  const known = new Map([...met.keys()].map((key) => [key, said(key)]));
  const all = known.get('all') ?? { late: 0, louder: 0, met: 0 };
  const often = (key: string) => {
    const found = known.get(key);
    return found && found.met >= OFTEN ? found : undefined;
  };
  const [commonest = 0] = [...lengths].sort((a, b) => b[1] - a[1])[0] ?? [];
  return {
    at: (tick) => {
      const at = placeOf(tick);
      const { own, beat } = namesOf(at);
      const { late, louder: loud } = often(own) ?? often(beat) ?? all;
      return { place: at.place, late, louder: loud };
    },
    bar: commonest,
    places: Array.from({ length: commonest }, (_, sixteenth) => ({
      sixteenth,
      ...(known.get(`${commonest}:${sixteenth}`) ?? { late: 0, louder: 0, met: 0 }),
    })).filter((place) => place.met > 0),
  };
};

/** A kept feel as it lies on music: in bars of its own length by place, in others by place in the beat. */
export const feelOfKept = (
  kept: KeptFeel,
  { bars, ppq, tempoMap }: Pick<StepContext, 'bars' | 'ppq' | 'tempoMap'>,
): Feel => {
  const placeOf = placesIn(bars, ppq);
  const middle = (places: readonly FeltPlace[]): FeelAt => ({
    late: median(places.map(({ late }) => late)) ?? 0,
    louder: median(places.map(({ louder }) => louder)) ?? 0,
  });
  const own = new Map(kept.places.map((place): [number, FeelAt] => [place.sixteenth, place]));
  const ofBeat = new Map(
    [0, 1, 2, 3].flatMap((quarter): [number, FeelAt][] => {
      const places = kept.places.filter(({ sixteenth }) => sixteenth % 4 === quarter);
      return places.length > 0 ? [[quarter, middle(places)]] : [];
    }),
  );
  const all = middle(kept.places);
  return {
    at: (tick) => {
      const { place, within, length } = placeOf(tick);
      const said = (length === kept.bar ? own.get(within) : undefined) ?? ofBeat.get(within % 4) ?? all;
      return { place, late: said.late * tempoMap.ticksPerMillisecond(place), louder: said.louder };
    },
    places: kept.places,
    bar: kept.bar,
  };
};
