/** Read ornaments: grace notes, trills, mordents, turns, tremolos, glissandi and flams become signs at one written note. */

import type { ReadOrnamentsParameters } from '../model/stepParameters.js';
import type { StepContext } from '../reading/context.js';
import { splitMuted, withChanges } from '../reading/noteGroups.js';
import { inMilliseconds, noteName } from '../reading/noteWords.js';
import { type Ornament, ornamentsIn } from '../reading/ornaments.js';
import { placed, signed } from '../reading/stepNote.js';
import { type Step, type StepChange, unchanged } from './step.js';

const WORDS: { readonly [kind in Ornament['kind']]: string } = {
  grace: 'a grace note',
  flam: 'a flam',
  mordent: 'a mordent',
  turn: 'a turn',
  trill: 'a trill',
  tremolo: 'a tremolo',
  glissando: 'a glissando',
};

const reasonFor = ({ kind, main, others }: Ornament, context: StepContext): string => {
  const name = noteName(main.pitch, context);
  if (kind === 'glissando') return `${WORDS[kind]} of ${others.length + 1} tones from ${name}`;
  if (kind !== 'grace' && kind !== 'flam') return `${WORDS[kind]} of ${others.length + 1} tones on ${name}`;
  const first = others[0] ?? main;
  const before = inMilliseconds(main.onset - first.onset, main.onset, context);
  return others.length > 1 ? `${others.length} grace notes before ${name}` : `${WORDS[kind]}, ${before} before ${name}`;
};

/** Only the page changes: what was played stays, and Written MIDI plays each sign as it was read. */
export const readOrnaments: Step<'readOrnaments'> = {
  id: 'readOrnaments',
  name: 'Read ornaments',
  explanation:
    'Writes grace notes, trills, mordents, turns, tremolos, glissandi and flams as signs at one note. Figures that lie exactly on the grid stay as they are.',
  defaults: { graces: true, ornaments: true, tremolo: true } satisfies ReadOrnamentsParameters,
  fields: {
    graces: { kind: 'switch', label: 'Grace notes and flams' },
    ornaments: { kind: 'switch', label: 'Trills, mordents, turns, glissandi' },
    tremolo: { kind: 'switch', label: 'Tremolo' },
  },
  once: true,
  sees: 'part',
  pageOnly: true,
  run: (notes, context, parameters) => {
    const { active, muted } = splitMuted(notes);
    const ornaments = ornamentsIn(active, context, parameters);
    if (ornaments.length === 0) return unchanged(notes);
    const changes: StepChange[] = [];
    for (const ornament of ornaments) {
      const { main, onset, duration, signs, others } = ornament;
      const reason = reasonFor(ornament, context);
      for (const tone of others) changes.push({ noteId: tone.id, from: tone, to: null, into: main.id, reason });
      changes.push({ noteId: main.id, from: main, to: signed(placed(main, onset, duration), signs), reason });
    }
    return { notes: withChanges(active, muted, changes), changes };
  },
};
