/** Ready plans by kind of part, and which one a part's content asks for. */

import { type Instrument, instrumentById, isUnpitched } from '../instruments/instruments.js';
import type { Note, Part } from '../model/arrangement.js';
import type { Plan, PlanStep } from '../model/plan.js';
import { playsTwoHanded } from '../reading/hands.js';
import { planStep } from '../steps/registry.js';
import { milliseconds } from '../time/noteLengths.js';
import { DEFAULT_STEPS, defaultPlan, notationStep, withStep } from './plan.js';

/** The kinds of part that have a ready plan. */
export type PlanKind = 'line' | 'chords' | 'keyboard' | 'percussion';

const notation = defaultPlan();

/** Starts of a line that lie further apart follow each other, however near a rough hand brings them; judged by the lines. */
const CLOSE_IN_LINE = milliseconds(2);

/**
 * One for each kind. A keyboard's fingers tell specks and rhythm while its pedal is only sound; strokes of percussion are
 * short by nature, so nothing is dropped for being short.
 */
export const READY_PLANS: { readonly [kind in PlanKind]: Plan } = {
  line: {
    ...withStep(withStep(notation, 'separateVoices', { parameters: { atMost: 1, hands: 'one' } }), 'gatherChords', {
      parameters: { window: CLOSE_IN_LINE },
    }),
    name: 'One-note line',
  },
  chords: { ...notation, name: 'Chords' },
  keyboard: {
    ...notation,
    name: 'Keyboard',
    steps: DEFAULT_STEPS.filter((step) => step !== 'dropSpecks').flatMap((step): readonly PlanStep[] =>
      step === 'sustainToDurations'
        ? [planStep('dropSpecks'), planStep(step, { limit: 'voice' })]
        : [notationStep(step)],
    ),
  },
  percussion: {
    ...notation,
    name: 'Percussion',
    // A flam's first stroke is no double, so it is looked for before them.
    steps: [planStep('readOrnaments'), ...notation.steps.filter(({ step }) => step !== 'readOrnaments')].map((item) =>
      ['sustainToDurations', 'dropSpecks', 'merge', 'readDynamics'].includes(item.step) ? { ...item, on: false } : item,
    ),
  },
};

/** A ready plan with the reason it was chosen. */
export interface SuggestedPlan {
  readonly kind: PlanKind;
  readonly plan: Plan;
  readonly reason: string;
}

const suggestions = new WeakMap<readonly Note[], { instrument: string; suggested: SuggestedPlan }>();

/** The ready plan for a part, by what it holds. */
export const suggestedPlan = (part: Pick<Part, 'notes' | 'instrument'>): SuggestedPlan => {
  const known = suggestions.get(part.notes);
  if (known && known.instrument === part.instrument) return known.suggested;
  const suggested = suggestionFor(part.notes, instrumentById(part.instrument));
  suggestions.set(part.notes, { instrument: part.instrument, suggested });
  return suggested;
};

/** The plan that a part goes by: its own, else the one its content asks for. */
export const planOf = (part: Pick<Part, 'notes' | 'instrument' | 'plan'>): Plan =>
  part.plan ?? suggestedPlan(part).plan;

const suggestionFor = (notes: readonly Note[], instrument: Instrument): SuggestedPlan => {
  const as = (kind: PlanKind, reason: string): SuggestedPlan => ({ kind, plan: READY_PLANS[kind], reason });
  if (isUnpitched(instrument)) return as('percussion', 'its sounds have no pitch');
  if (instrument.oneNote) return as('line', `a ${instrument.name.toLowerCase()} plays one note at a time`);
  if (playsTwoHanded(notes, instrument)) return as('keyboard', 'it is wide and sounds like two hands');
  const share = togetherShare(notes);
  return share < MOSTLY_ONE
    ? as('line', 'its notes follow each other one by one')
    : as('chords', `${Math.round(share * 100)} % of its notes sound with others`);
};

/** Share of notes that sound with others below which a part is a line: what legato overlaps leave; judged by the lines. */
const MOSTLY_ONE = 0.06;

/** Share of notes that sound for a good part together with the one before. */
const togetherShare = (notes: readonly Note[]): number => {
  let together = 0;
  for (let index = 1; index < notes.length; index += 1) {
    const note = notes[index] as Note;
    const before = notes[index - 1] as Note;
    if (before.pitch === note.pitch) continue;
    const shared = Math.min(before.onset + before.duration, note.onset + note.duration) - note.onset;
    if (
      shared > 0.5 * Math.min(before.duration, note.duration) &&
      shared > 0.25 * Math.max(before.duration, note.duration)
    ) {
      together += 1;
    }
  }
  return together / Math.max(1, notes.length);
};
