/** Beams: by beat, by half bar for plain eighths in 4/4, by whole bar in 3/4 (common practice; Gould, Behind Bars, 2011). */

import { writtenBeatsOf } from '../meter/zones.js';
import type { Meter } from '../time/meterMap.js';
import { WRITTEN_PPQ } from '../time/units.js';
import type { BeamState, ScoreEvent } from './score.js';

type Unbeamed = Omit<ScoreEvent, 'beams'>;

const levelOf = (event: Unbeamed): number =>
  event.kind !== 'chord' || event.value.denominator < 8 ? 0 : Math.log2(event.value.denominator) - 2;

/** Spans [start, end) that one beam may cover. */
const beamSpans = (meter: Meter, events: readonly Unbeamed[]): { start: number; end: number }[] => {
  const beats = writtenBeatsOf(meter).map((beat) => ({ start: beat.start, end: beat.start + beat.length }));
  const plainQuarters =
    beats.length > 1 && beats.every((beat) => beat.end - beat.start === WRITTEN_PPQ) && !meter.groups;
  if (!plainQuarters) return beats;
  const size = beats.length === 3 ? 3 : beats.length % 2 === 0 ? 2 : 1;
  const spans: { start: number; end: number }[] = [];
  for (let index = 0; index < beats.length; index += size) {
    const group = beats.slice(index, index + size);
    const start = (group[0] as { start: number }).start;
    const end = (group[group.length - 1] as { end: number }).end;
    const inside = events.filter((event) => event.start >= start && event.start < end);
    const onlyEighths = inside.every((event) => event.ratio === null && event.value.denominator <= 8);
    if (onlyEighths) spans.push({ start, end });
    else spans.push(...group);
  }
  return spans;
};

/** Adds beams to the events of one bar. */
export const withBeams = (
  meter: Meter,
  events: readonly Unbeamed[],
  /** What a person said of a chord and the one before it. */
  said: (event: Unbeamed) => 'joined' | 'broken' | null = () => null,
): ScoreEvent[] => {
  const beams = new Map<Unbeamed, BeamState[]>();
  let run: Unbeamed[] = [];
  for (const span of beamSpans(meter, events)) {
    const close = () => {
      if (run.length > 1) for (const [event, states] of beamRun(run)) beams.set(event, states);
      run = [];
    };
    const inside = events.filter((event) => event.start >= span.start && event.start < span.end);
    // A beam goes on over the edge of a span only where a person has it so.
    if (!inside[0] || said(inside[0]) !== 'joined') close();
    for (const event of inside) {
      const last = run[run.length - 1];
      const word = said(event);
      const apart = word === 'broken' || (word !== 'joined' && last && sameTuplet(last, event) === false);
      if (levelOf(event) === 0 || apart) close();
      if (levelOf(event) > 0) run.push(event);
    }
  }
  if (run.length > 1) for (const [event, states] of beamRun(run)) beams.set(event, states);
  return events.map((event) => ({ ...event, beams: beams.get(event) ?? [] }));
};

const sameTuplet = (a: Unbeamed, b: Unbeamed): boolean =>
  a.ratio?.actual === b.ratio?.actual && a.ratio?.normal === b.ratio?.normal;

const beamRun = (run: readonly Unbeamed[]): [Unbeamed, BeamState[]][] =>
  run.map((event, index) => {
    const before = index > 0 ? levelOf(run[index - 1] as Unbeamed) : 0;
    const after = index + 1 < run.length ? levelOf(run[index + 1] as Unbeamed) : 0;
    const states: BeamState[] = [];
    for (let level = 1; level <= levelOf(event); level += 1) {
      const joinsBefore = before >= level;
      const joinsAfter = after >= level;
      if (joinsBefore && joinsAfter) states.push('continue');
      else if (joinsAfter) states.push('begin');
      else if (joinsBefore) states.push('end');
      else states.push(index === 0 ? 'forward hook' : 'backward hook');
    }
    return [event, states];
  });
