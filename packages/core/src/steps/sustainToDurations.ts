/** Sustain to durations: a note held by the pedal lasts until the pedal lifts, or until the part's next attack. */
import { endOf } from '../model/arrangement.js';
import { lastIndexAtOrBefore } from '../time/search.js';
import { inOrder, splitMuted } from './noteGroups.js';
import { type PedalSpan, pedalSpans } from './pedal.js';
import { placed, type Step, type StepChange, type StepNote, unchanged } from './step.js';

/** Parameters of Sustain to durations. */
export interface SustainParameters {
  /** What ends a held note, besides the pedal and a new strike of its pitch. */
  readonly limit: 'pedalUp' | 'nextAttack';
}

/** Attacks nearer than this are one chord, so that a chord's own notes do not cut each other (35 ms, the Gather window). */
const CHORD_MILLISECONDS = 35;

const spanHolding = (spans: readonly PedalSpan[], end: number): PedalSpan | undefined => {
  const span = spans[lastIndexAtOrBefore(spans, end, (s) => s.down)];
  return span && end < span.up ? span : undefined;
};

/** Notes held by CC 64 get the length they sound. A pedal that never lifts holds to the part's last note end. */
export const sustainToDurations: Step<SustainParameters> = {
  id: 'sustainToDurations',
  name: 'Sustain to durations',
  explanation:
    'Gives notes held by the sustain pedal the length they sound. Notes let go with the pedal up stay as they are.',
  defaults: { limit: 'nextAttack' },
  run: (notes, context, parameters) => {
    const { active, muted } = splitMuted(notes);
    const lastEnd = active.reduce((last, note) => Math.max(last, endOf(note)), 0);
    const spansByChannel = new Map<number, PedalSpan[]>();
    const spansOf = (channel: number): PedalSpan[] => {
      let spans = spansByChannel.get(channel);
      if (!spans) {
        spans = pedalSpans(context.events, channel, lastEnd);
        spansByChannel.set(channel, spans);
      }
      return spans;
    };
    const onsets = active.map((note) => note.onset);
    const nextOfPitch = new Map<number, number>();
    const changes: StepChange[] = [];
    const held: StepNote[] = [];
    for (let index = active.length - 1; index >= 0; index -= 1) {
      const note = active[index] as StepNote;
      const restrike = nextOfPitch.get(note.pitch) ?? Number.POSITIVE_INFINITY;
      nextOfPitch.set(note.pitch, note.onset);
      const span = spanHolding(spansOf(note.channel), endOf(note));
      let end: number = endOf(note);
      let why = '';
      const soundsTo = span ? Math.min(span.up, restrike > note.onset ? restrike : span.up) : undefined;
      if (span) {
        end = span.up;
        why = span.lifted ? 'held by the pedal until it lifts' : 'held by a pedal that never lifts';
        if (parameters.limit === 'nextAttack') {
          const chord = CHORD_MILLISECONDS * context.tempoMap.ticksPerMillisecond(note.onset);
          const after = Math.max(endOf(note) - 1, note.onset + chord);
          const next = onsets[lastIndexAtOrBefore(onsets, after, (onset) => onset) + 1];
          if (next !== undefined && next < end) {
            end = next;
            why = 'held by the pedal until the next attack';
          }
        }
        if (restrike < end && restrike > note.onset) {
          end = restrike;
          why = 'held by the pedal until it is struck again';
        }
      }
      if (end > endOf(note)) {
        const to = placed(note, note.onset, end - note.onset, { soundsTo });
        changes.push({ noteId: note.id, from: note, to, reason: why });
        held.push(to);
      } else held.push(soundsTo === undefined ? note : placed(note, note.onset, note.duration, { soundsTo }));
    }
    return changes.length === 0 ? unchanged(notes) : { notes: inOrder(held, muted), changes: changes.reverse() };
  },
};
