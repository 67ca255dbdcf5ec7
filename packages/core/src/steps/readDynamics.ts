/** Read dynamics: levels, hairpins and accents from how loud the notes were played. */

import { endOf } from '../model/arrangement.js';
import type { Dynamic, NoteSigns } from '../model/noteSigns.js';

import type { ReadDynamicsParameters } from '../model/stepParameters.js';
import type { StepContext } from '../reading/context.js';
import { type Loudness, loudnessOf } from '../reading/dynamics.js';
import { byOnset, splitMuted, withChanges } from '../reading/noteGroups.js';
import { type StepNote, signed } from '../reading/stepNote.js';
import { beatsOfBars } from '../time/meterMap.js';
import { type Step, type StepChange, unchanged } from './step.js';

/** An accent is louder than what is meant about it by so many steps of velocity, and by so many deviations. */
const ACCENT_STEPS = 26;
const ACCENT_DEVIATIONS = 3.5;
/** Where more than this share of a part would be accents, they are how its beat is played. */
const MOST_ACCENTS = 0.06;
/** Fewer attacks tell nothing of levels. */
const FEWEST = 8;

/** What comes first in a chord on its staff: the first voice, the top note. */
const isBefore = (a: StepNote, b: StepNote): boolean => {
  const [one, other] = [a.voice ?? 1, b.voice ?? 1];
  return one === other ? a.pitch > b.pitch : one < other;
};

/**
 * The notes at which signs are kept, chord by chord: those of the upper staff, where there are two; null where a chord has
 * none there.
 */
const headsOf = (chords: readonly StepNote[][]): readonly (StepNote | null)[] => {
  const upper = chords.some((chord) => chord.some(({ staff }) => staff === 1));
  return chords.map((chord) => {
    if (chord.length === 1) return upper && ((chord[0] as StepNote).staff ?? 1) !== 1 ? null : (chord[0] as StepNote);
    const own = upper ? chord.filter(({ staff }) => (staff ?? 1) === 1) : chord;
    return own.length === 0 ? null : own.reduce((best, note) => (isBefore(note, best) ? note : best));
  });
};

/** The last note of a stretch after which nothing begins before it ends: there a hairpin can end on any page. */
const lastHead = (heads: readonly (StepNote | null)[], first: number, end: number): StepNote | null => {
  let next = Number.POSITIVE_INFINITY;
  for (let index = end; index < heads.length && !Number.isFinite(next); index += 1) next = heads[index]?.onset ?? next;
  for (let index = end - 1; index > first; index -= 1) {
    const head = heads[index];
    if (!head) continue;
    if (endOf(head) <= next) return head;
    next = head.onset;
  }
  return null;
};

const loudnessOfChord = (chord: readonly StepNote[]): number => {
  let sum = 0;
  for (const { velocity } of chord) sum += velocity;
  return sum / chord.length;
};

/** Signs by note, each with its reason. */
class SignsFound {
  readonly found = new Map<StepNote, { signs: NoteSigns; reasons: string[] }>();

  add(note: StepNote, signs: NoteSigns, reason: string): void {
    const known = this.found.get(note);
    this.found.set(note, { signs: { ...known?.signs, ...signs }, reasons: [...(known?.reasons ?? []), reason] });
  }
}

const addLevels = (
  heads: readonly (StepNote | null)[],
  { stretches, names, begins }: Loudness,
  { hairpins }: ReadDynamicsParameters,
  to: SignsFound,
): void => {
  if (new Set(names).size < 2) return;
  let said: Dynamic | null = null;
  stretches.forEach((stretch, index) => {
    const { first, end, swells } = stretch;
    const head = heads.slice(first, end).find((one) => one !== null);
    const name = swells ? begins[index] : (names[index] as Dynamic);
    if (!head) return;
    if (name && name !== said) {
      to.add(head, { dynamic: name }, `${name}: ${swells ? 'from here' : `held for ${end - first} notes and chords`}`);
      said = name;
    }
    const last = swells && hairpins ? lastHead(heads, first, end) : null;
    // A page is read voice by voice: a hairpin that begins in one and ends in another could not be.
    const from = heads.slice(first, end).find((one) => one && (one.voice ?? 1) === (last?.voice ?? 1));
    if (!last || !from || last === from) return;
    const way = stretch.to > stretch.from ? 'louder' : 'softer';
    to.add(from, { hairpin: { to: last.id, way } }, `${way} over ${end - first} notes and chords`);
  });
};

const addAccents = (
  chords: readonly StepNote[][],
  heads: readonly (StepNote | null)[],
  { meant, spread }: Loudness,
  to: SignsFound,
): void => {
  const least = Math.max(ACCENT_STEPS, ACCENT_DEVIATIONS * spread);
  const loud = chords.flatMap((chord, index) => {
    const note = heads[index];
    return loudnessOfChord(chord) - (meant[index] as number) >= least && note ? [note] : [];
  });
  if (loud.length > MOST_ACCENTS * chords.length) return;
  for (const note of loud) to.add(note, { marks: ['accent'] }, 'an accent: far louder than what is about it');
};

const signsFor = (notes: readonly StepNote[], context: StepContext, parameters: ReadDynamicsParameters): SignsFound => {
  const to = new SignsFound();
  const chords = byOnset(notes);
  if (chords.length < FEWEST) return to;
  const attacks = chords.map((chord) => ({
    onset: (chord[0] as StepNote).onset,
    velocity: loudnessOfChord(chord),
  }));
  const heads = headsOf(chords);
  const loudness = loudnessOf(attacks, beatsOfBars(context.bars, context.ppq));
  if (parameters.levels) addLevels(heads, loudness, parameters, to);
  if (parameters.accents) addAccents(chords, heads, loudness, to);
  return to;
};

/** Only the page changes: each note stays as loud as it was played. */
export const readDynamics: Step<'readDynamics'> = {
  id: 'readDynamics',
  name: 'Read dynamics',
  explanation:
    'Writes levels that are held, hairpins where the level moves, and accents that stick out. A part played at one level gets none.',
  defaults: { levels: true, hairpins: true, accents: true } satisfies ReadDynamicsParameters,
  fields: {
    levels: { kind: 'switch', label: 'Levels (p, mf, f)' },
    hairpins: { kind: 'switch', label: 'Hairpins' },
    accents: { kind: 'switch', label: 'Accents' },
  },
  once: true,
  sees: 'part',
  pageOnly: true,
  run: (notes, context, parameters) => {
    const { active, muted } = splitMuted(notes);
    const { found } = signsFor(active, context, parameters);
    if (found.size === 0) return unchanged(notes);
    const changes = [...found].map(
      ([note, { signs, reasons }]): StepChange => ({
        noteId: note.id,
        from: note,
        to: signed(note, signs),
        reason: reasons.join('; '),
      }),
    );
    return { notes: withChanges(active, muted, changes), changes };
  },
};
