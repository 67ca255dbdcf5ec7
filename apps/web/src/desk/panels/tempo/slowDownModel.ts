/** Slow down and return: which bars, and what a wish comes to. */
import {
  type Arrangement,
  createTempoMap,
  type Edit,
  type MeterMap,
  type Note,
  slowDown,
  tempoAt,
} from '@crispfold/core';

/** A stretch of the music, in ticks. */
export interface Passage {
  readonly from: number;
  readonly to: number;
}

/** How a passage is to be slowed down. */
export interface SlowDownWish {
  /** Of the tempo where the passage begins. */
  readonly percent: number;
  /** -1 early, 0 even, 1 late. */
  readonly curved: number;
  readonly returns: boolean;
}

/** What it begins with. */
export const FIRST_SLOW_DOWN: SlowDownWish = { percent: 70, curved: 0, returns: true };
export const PERCENT = { least: 10, most: 300 } as const;

/** The percent that brings a tempo to another, within what can be asked. */
export const percentFor = (target: number, tempo: number): number =>
  Math.max(PERCENT.least, Math.min(PERCENT.most, (target / tempo) * 100));

/** What is meant: the bars of the selected notes, else the loop, else the bar of the playhead. */
export const passageFor = (
  {
    notes,
    loop,
    tick,
  }: {
    readonly notes: readonly Pick<Note, 'onset' | 'duration'>[];
    readonly loop: { readonly start: number; readonly end: number } | null;
    readonly tick: number;
  },
  meterMap: MeterMap,
): Passage => {
  if (notes.length > 0) {
    const from = notes.reduce((least, { onset }) => Math.min(least, onset), Number.POSITIVE_INFINITY);
    const to = notes.reduce((most, { onset, duration }) => Math.max(most, onset + duration), 0);
    return { from: meterMap.barAt(from).start, to: meterMap.barAt(Math.max(from, to - 1)).end };
  }
  if (loop && loop.end > loop.start) return { from: loop.start, to: loop.end };
  const bar = meterMap.barAt(tick);
  return { from: bar.start, to: bar.end };
};

/** The numbers of its first and its last bar. */
export const barsOf = ({ from, to }: Passage, meterMap: MeterMap): { readonly from: number; readonly to: number } => ({
  from: meterMap.barAt(from).number,
  to: meterMap.barAt(Math.max(from, to - 1)).number,
});

/** What a wish comes to: the tempi in quarters a minute, the change, and how long the passage lasts before and after. */
export const slowedDown = (
  arrangement: Arrangement,
  { from, to }: Passage,
  { percent, curved, returns }: SlowDownWish,
): {
  readonly tempo: number;
  readonly target: number;
  /** Null where the tempo stays as it is. */
  readonly edit: Edit | null;
  readonly seconds: { readonly before: number; readonly after: number };
} => {
  const tempo = tempoAt(arrangement.tempos, from);
  const target = (tempo * percent) / 100;
  const edit = slowDown(arrangement, { from: Math.round(from), to: Math.round(to), target, ease: curved, returns });
  const lasts = (tempos: Arrangement['tempos']): number => {
    const map = createTempoMap(tempos, arrangement.ppq);
    return map.secondsAt(to) - map.secondsAt(from);
  };
  const [own] = edit?.changes ?? [];
  const after = own?.kind === 'arrangementFields' ? own.after.tempos : undefined;
  return {
    tempo,
    target,
    edit,
    seconds: { before: lasts(arrangement.tempos), after: lasts(after ?? arrangement.tempos) },
  };
};
