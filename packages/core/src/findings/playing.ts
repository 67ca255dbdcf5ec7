/** How it was played: two notes at once, hung notes, early starts, loudness that sticks out, uneven ends, a stuck pedal. */

import { isUnpitched } from '../instruments/instruments.js';
import { endOf } from '../model/arrangement.js';
import { median } from '../model/statistics.js';
import { noteName, pitchName } from '../reading/noteWords.js';
import { pedalSpans, SUSTAIN_CONTROLLER } from '../reading/pedal.js';
import { chordWindow, startGroups } from '../reading/startGroups.js';
import type { StepNote } from '../reading/stepNote.js';
import { doublesIn } from '../steps/deDuplicate.js';
import { evenChordEnds } from '../steps/evenChordEnds.js';
import { pullInStart } from '../steps/pullInStart.js';
import { lastIndexAtOrBefore } from '../time/search.js';
import type { Check, Noticed } from './finding.js';

/** Overlaps shorter than this are legato (milliseconds). */
const LEGATO = 60;

/** Two notes at once for an instrument that plays one. */
export const twoAtOnce: Check = {
  name: 'Two at once',
  explanation: 'Two notes sound together, and the instrument plays one at a time.',
  severity: 'likely',
  run: ({ notes, context }) => {
    if (!context.instrument.oneNote) return [];
    const { together, hidden } = doublesIn(notes, context);
    const litter = new Set([...together, ...hidden].map((change) => change.noteId));
    const found: Noticed[] = [];
    const window = chordWindow(context);
    let before: StepNote | undefined;
    for (const note of notes) {
      const perMs = context.tempoMap.ticksPerMillisecond(note.onset);
      if (litter.has(note.id) || note.duration < LEGATO * perMs) continue;
      if (before && before.pitch !== note.pitch && endOf(before) - note.onset > LEGATO * perMs) {
        const together = note.onset - before.onset <= window(before);
        const names = `${pitchName(before.pitch)} and ${pitchName(note.pitch)}`;
        found.push({
          noteIds: [before.id, note.id],
          tick: note.onset,
          reason: together
            ? `${names} begin together: choose one, or give one to another part`
            : `${pitchName(before.pitch)} still sounds when ${pitchName(note.pitch)} begins`,
          // Which of two that begin together is meant, the ear must say.
          mend: together
            ? null
            : {
                where: 'notes',
                step: 'trimOverlaps',
                parameters: { against: 'anyPitch', leave: 0 },
                label: 'End the first',
                noteIds: [before.id],
              },
        });
      }
      if (!before || endOf(note) > endOf(before)) before = note;
    }
    return found;
  },
};

/** A hung note lasts so many bars at the least… */
const HUNG_BARS = 3;
/** …and so many times what is usual in the part… */
const HUNG_TIMES_USUAL = 12;
/** …while so many others begin: a pedal point is held over as much, but seldom in the same hand. */
const HUNG_OVER_NOTES = 8;

/** Notes that never got their end. */
export const hungNotes: Check = {
  name: 'Hung notes',
  explanation: 'A note goes on far longer than the others while the part plays on: its end was lost.',
  severity: 'wrong',
  run: ({ notes, context }) => {
    const usual = median(notes.map((note) => note.duration)) ?? 0;
    const longest = Math.max(usual * HUNG_TIMES_USUAL, context.ppq * 4 * HUNG_BARS);
    return notes.flatMap((note, index) => {
      const over = notes[index + HUNG_OVER_NOTES];
      if (note.duration < longest || !over || over.onset >= endOf(note)) return [];
      return [
        {
          noteIds: [note.id],
          tick: note.onset,
          reason: `${noteName(note.pitch, context)} sounds on under the notes that follow`,
          mend: {
            where: 'notes',
            step: 'trimOverlaps',
            parameters: { against: 'anyPitch', leave: 0 },
            label: 'End it at the next note',
          },
        },
      ];
    });
  },
};

/** Nearer to the line than this a start is merely human (milliseconds). */
const NOTICEABLY_EARLY = 25;

/** First notes just before their bar line. */
export const earlyStart: Check = {
  name: 'Early starts',
  explanation: 'After a silence a note begins just before its bar line.',
  severity: 'likely',
  run: ({ notes, context }) =>
    pullInStart.run(notes, context, pullInStart.defaults).changes.flatMap((change) => {
      const early = (change.to?.onset ?? 0) - change.from.onset;
      if (early < NOTICEABLY_EARLY * context.tempoMap.ticksPerMillisecond(change.from.onset)) return [];
      return [
        {
          noteIds: [change.noteId],
          tick: change.from.onset,
          reason: change.reason,
          mend: { where: 'notes', step: 'pullInStart', parameters: pullInStart.defaults, label: 'Pull it in' } as const,
        },
      ];
    }),
};

/** A standard deviation in median absolute deviations, where deviations are normal. */
const DEVIATION_PER_MAD = 1.48;
/** Notes looked at on each side. */
const NEIGHBOURS = 4;
/** Less than this (velocity) is an accent, not a slip. */
const LEAST_DIFFERENCE = 24;
/** So many standard deviations stick out: the usual bound of a robust outlier test (Iglewicz and Hoaglin, 1993; from memory). */
const DEVIATIONS = 3.5;
/** Where so many stick out, accents are how the part is played. */
const FEW_ACCENTS = 6;
/** Share of the notes from which on accents are the way of playing. */
const ACCENT_SHARE = 0.04;

/** Velocities that stick out from their neighbours: a robust outlier test by median and median absolute deviation. */
export const velocityOut: Check = {
  name: 'Loudness that sticks out',
  explanation: 'A note is far louder or softer than those around it.',
  severity: 'look',
  run: ({ notes, context }) => {
    if (isUnpitched(context.instrument)) return [];
    const found = notes.flatMap((note, index): Noticed[] => {
      const around: number[] = [];
      for (let at = index - NEIGHBOURS; at <= index + NEIGHBOURS; at += 1) {
        const other = notes[at];
        if (other && at !== index) around.push(other.velocity);
      }
      if (around.length < NEIGHBOURS) return [];
      const middle = median(around) ?? note.velocity;
      const off = note.velocity - middle;
      const usual = (median(around.map((velocity) => Math.abs(velocity - middle))) ?? 0) * DEVIATION_PER_MAD;
      if (Math.abs(off) < Math.max(LEAST_DIFFERENCE, usual * DEVIATIONS)) return [];
      return [
        {
          noteIds: [note.id],
          tick: note.onset,
          reason: `velocity ${note.velocity} among notes of about ${middle}`,
          mend: {
            where: 'notes',
            step: 'matchVelocity',
            parameters: { value: 'typed', typed: middle },
            label: `Set to ${middle}`,
          },
        },
      ];
    });
    return found.length > Math.max(FEW_ACCENTS, notes.length * ACCENT_SHARE) ? [] : found;
  },
};

/** Ends apart by less than this share of the chord are how fingers let go… */
const UNEVEN_SHARE = 0.25;
/** …and by less than this (milliseconds). */
const UNEVEN_MILLISECONDS = 80;

/** Chords whose tones end apart. */
export const unevenEnds: Check = {
  name: 'Uneven chord ends',
  explanation: 'Tones of a chord that start together are let go apart.',
  severity: 'look',
  run: ({ notes, context }) => {
    if (context.instrument.oneNote) return [];
    const found: Noticed[] = [];
    const pedals = pedalSpans(context.events, notes[0]?.channel ?? 0, Number.POSITIVE_INFINITY);
    const groups = startGroups(notes, chordWindow(context));
    groups.forEach((chord, index) => {
      const head = chord[0] as StepNote;
      const perMs = context.tempoMap.ticksPerMillisecond(head.onset);
      const next = groups[index + 1]?.[0];
      const real = chord.filter((note) => note.duration > LEGATO * perMs);
      const ends = real.map(endOf);
      const apart = Math.max(...ends) - Math.min(...ends);
      const held = next && Math.max(...ends) > next.onset + LEGATO * perMs;
      const first = Math.min(...ends);
      const span = pedals[lastIndexAtOrBefore(pedals, first, (s) => s.down)];
      const pedalled = span !== undefined && first < span.up;
      if (
        real.length < 2 ||
        held ||
        pedalled ||
        apart < Math.max(UNEVEN_MILLISECONDS * perMs, head.duration * UNEVEN_SHARE)
      )
        return;
      found.push({
        noteIds: real.map((note) => note.id),
        tick: head.onset,
        reason: `a chord of ${real.length} whose tones end ${Math.round(apart / perMs)} ms apart`,
        mend: { where: 'notes', step: 'evenChordEnds', parameters: evenChordEnds.defaults, label: 'Even the ends' },
      });
    });
    return found;
  },
};

/** A sustain pedal that is pressed and never lifts. */
export const pedalNeverLifts: Check = {
  name: 'Pedal that never lifts',
  explanation: 'The pedal goes down and the recording ends before it comes up.',
  severity: 'likely',
  run: ({ notes, context }) => {
    const lastEnd = notes.reduce((last, note) => Math.max(last, endOf(note)), 0);
    const channels = new Set(notes.map((note) => note.channel));
    return [...channels].flatMap((channel) =>
      pedalSpans(context.events, channel, lastEnd, SUSTAIN_CONTROLLER)
        .filter((span) => !span.lifted)
        .map((span) => {
          const held = notes.filter((note) => note.channel === channel && endOf(note) >= span.down);
          return {
            noteIds: held.map((note) => note.id),
            tick: span.down,
            reason: 'the pedal goes down here and never lifts',
            mend: {
              where: 'notes',
              step: 'sustainToDurations',
              parameters: { limit: 'nextAttack', keepPedal: false },
              label: 'Turn it into lengths',
            } as const,
          };
        }),
    );
  },
};
