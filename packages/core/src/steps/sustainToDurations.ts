/** Sustain to durations: a note held by a pedal lasts until the pedal lifts, or until the music goes on. */

import { endOf } from '../model/arrangement.js';
import { headOf } from '../reading/attacks.js';
import type { StepContext } from '../reading/context.js';
import { byOnset, inOrder, splitMuted } from '../reading/noteGroups.js';
import { type PedalSpan, pedalSpans, SOSTENUTO_CONTROLLER, SUSTAIN_CONTROLLER } from '../reading/pedal.js';
import { type StepNote, sustained } from '../reading/stepNote.js';
import { lastIndexAtOrBefore } from '../time/search.js';
import { type Step, type StepChange, unchanged } from './step.js';

/** Attacks nearer than this are one chord, however loosely struck, so that a chord's own notes do not cut each other. */
const CHORD_MILLISECONDS = 70;

/** The last press before an end; notes are asked for one after another, so that it mostly lies where the last one did. */
const lastBefore = (presses: Presses, at: number): PedalSpan | undefined => {
  if (presses.spans.length === 0) return undefined;
  presses.near = lastIndexAtOrBefore(presses.spans, at, downOf, Math.max(0, presses.near - 1));
  return presses.spans[presses.near];
};

const downOf = ({ down }: PedalSpan): number => down;

interface Presses {
  readonly spans: readonly PedalSpan[];
  near: number;
}

/** The presses that hold a note once its key is up: sustain down then, or sostenuto caught while the key was down. */
const holderFor = (events: StepContext['events'], lastEnd: number) => {
  const known = new Map<number, { readonly sustain: Presses; readonly sostenuto: Presses }>();
  const pressesOf = (channel: number, controller: number): Presses => ({
    spans: pedalSpans(events, channel, lastEnd, controller),
    near: -1,
  });
  const pedalsOf = (channel: number) => {
    let pedals = known.get(channel);
    if (!pedals) {
      pedals = {
        sustain: pressesOf(channel, SUSTAIN_CONTROLLER),
        sostenuto: pressesOf(channel, SOSTENUTO_CONTROLLER),
      };
      known.set(channel, pedals);
    }
    return pedals;
  };
  return (note: StepNote): PedalSpan | undefined => {
    const end = endOf(note);
    const pedals = pedalsOf(note.channel);
    const sustain = lastBefore(pedals.sustain, end);
    const caught = lastBefore(pedals.sostenuto, end);
    const held = sustain && end < sustain.up ? sustain : undefined;
    const kept = caught && caught.down >= note.onset && end < caught.up ? caught : undefined;
    return held && kept ? (held.up > kept.up ? held : kept) : (held ?? kept);
  };
};

/** Where the harmony changes after each attack: the next one that shares fewer than half of its pitch classes. */
const harmonyChanges = (groups: readonly StepNote[][]): number[] => {
  const classes = groups.map((group) => new Set(group.map((note) => note.pitch % 12)));
  const next: number[] = new Array(groups.length).fill(Number.POSITIVE_INFINITY);
  for (let index = groups.length - 2; index >= 0; index -= 1) {
    const own = classes[index] as Set<number>;
    const after = classes[index + 1] as Set<number>;
    const shared = [...after].filter((pitchClass) => own.has(pitchClass)).length;
    const { onset } = headOf(groups, index + 1);
    next[index] = shared * 2 < after.size ? onset : (next[index + 1] as number);
  }
  return next;
};

/** Notes held by CC 64, or caught by CC 66, get the length they sound. A pedal that never lifts holds to the part's last end. */
export const sustainToDurations: Step<'sustainToDurations'> = {
  id: 'sustainToDurations',
  name: 'Sustain to durations',
  explanation: 'Gives notes held by a pedal the length they sound. Notes let go with the pedal up stay as they are.',
  defaults: { limit: 'nextAttack', keepPedal: false },
  fields: {
    limit: {
      kind: 'choice',
      label: 'Held notes last until',
      choices: [
        { value: 'pedalUp', label: 'the pedal lifts' },
        { value: 'nextAttack', label: 'the next attack in the part' },
        { value: 'nextHarmony', label: 'the next change of harmony' },
        { value: 'voice', label: 'their voice goes on' },
      ],
    },
    keepPedal: { kind: 'switch', label: 'Keep the pedal as a sign' },
  },
  once: true,
  sees: 'part',
  looksAt: () => ({ pedal: true }),
  run: (notes, context, { limit, keepPedal }) => {
    const { active, muted } = splitMuted(notes);
    let lastEnd = 0;
    for (const note of active) lastEnd = Math.max(lastEnd, endOf(note));
    const holding = holderFor(context.events, lastEnd);
    const groups = limit === 'nextAttack' || limit === 'nextHarmony' ? byOnset(active) : [];
    const changesAt = limit === 'nextHarmony' ? harmonyChanges(groups) : [];
    let last = groups.length - 1;
    // Where the music goes on once a note, and its chord, are over.
    const nextAfter = (note: StepNote): number | undefined => {
      const chord = CHORD_MILLISECONDS * context.tempoMap.ticksPerMillisecond(note.onset);
      const after = Math.max(endOf(note) - 1, note.onset + chord);
      last = lastIndexAtOrBefore(groups, after, startOf, Math.max(0, last - 1));
      return limit === 'nextAttack' ? groups[last + 1]?.[0]?.onset : changesAt[last];
    };
    const nextOfPitch: number[] = [];
    const changes: StepChange[] = [];
    const held: StepNote[] = [];
    for (let index = active.length - 1; index >= 0; index -= 1) {
      const note = active[index] as StepNote;
      const restrike = nextOfPitch[note.pitch] ?? Number.POSITIVE_INFINITY;
      nextOfPitch[note.pitch] = note.onset;
      const span = holding(note);
      if (!span) {
        held.push(note);
        continue;
      }
      let end: number = span.up;
      let why = span.lifted ? 'held by the pedal until it lifts' : 'held by a pedal that never lifts';
      const goesOn = limit === 'nextAttack' || limit === 'nextHarmony' ? nextAfter(note) : undefined;
      if (goesOn !== undefined && goesOn < end) {
        end = goesOn;
        why =
          limit === 'nextAttack'
            ? 'held by the pedal until the next attack'
            : 'held by the pedal until the harmony changes';
      }
      if (restrike < end && restrike > note.onset) {
        end = restrike;
        why = 'held by the pedal until it is struck again';
      }
      const soundsTo = restrike > note.onset ? Math.min(span.up, restrike) : span.up;
      if (limit === 'voice' || end <= endOf(note)) {
        held.push(sustained(note, note.duration, soundsTo));
        continue;
      }
      const to = sustained(note, end - note.onset, soundsTo);
      changes.push({ noteId: note.id, from: note, to, reason: why });
      held.push(to);
    }
    const result = inOrder(held.reverse(), muted);
    if (changes.length === 0) return limit === 'voice' ? { notes: result, changes } : unchanged(notes);
    return { notes: result, changes: changes.reverse(), eventsUsed: keepPedal ? [] : context.events.filter(isPedal) };
  },
};

const startOf = (group: readonly StepNote[]): number => (group[0] as StepNote).onset;

const isPedal = (event: StepContext['events'][number]): boolean =>
  event.kind === 'controller' && (event.controller === SUSTAIN_CONTROLLER || event.controller === SOSTENUTO_CONTROLLER);
