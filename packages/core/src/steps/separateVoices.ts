/** Separate voices: tells which notes belong to one melodic line, and which hand plays them. */

import { isUnpitched } from '../instruments/instruments.js';
import { percussionSound } from '../instruments/percussionMap.js';
import { playsTwoHanded, splitHands } from '../reading/hands.js';
import { inOrder, splitMuted } from '../reading/noteGroups.js';
import { type Staff, voiced } from '../reading/stepNote.js';
import { isUntouched } from '../reading/untouched.js';
import { assignExactVoices, assignVoices } from '../reading/voices.js';
import { type Step, type StepChange, unchanged } from './step.js';

/** See {@link SeparateVoicesParameters}. */
export const separateVoices: Step<'separateVoices'> = {
  id: 'separateVoices',
  name: 'Separate voices',
  explanation:
    'Tells which notes belong to one line, and which hand plays them. Percussion goes by its map: hands up, feet down. Starts and lengths stay.',
  defaults: { atMost: 2, hands: 'auto' },
  fields: {
    atMost: { kind: 'number', label: 'Voices on a staff, at most', min: 1, max: 4 },
    hands: {
      kind: 'choice',
      label: 'Staves',
      choices: [
        { value: 'auto', label: 'two where two hands are heard' },
        { value: 'one', label: 'one' },
      ],
    },
  },
  once: true,
  sees: 'part',
  run: (notes, context, parameters) => {
    const { active, muted } = splitMuted(notes);
    const most = context.instrument.oneNote ? 1 : Math.max(1, Math.min(4, parameters.atMost));
    const staves =
      parameters.hands === 'auto' && playsTwoHanded(active, context.instrument) ? splitHands(active, context) : null;
    const assign = isUntouched(active, context) ? assignExactVoices : assignVoices;
    const voices = new Map<number, number>();
    for (const staff of staves ? ([1, 2] as const) : ([undefined] as const)) {
      const hand = staff ? active.filter((note) => staves?.get(note.id) === staff) : active;
      if (!isUnpitched(context.instrument)) assign(hand, most, context, voices);
      else
        for (const { id, pitch } of hand)
          voices.set(id, Math.min(most, percussionSound(pitch, context.percussion).voice));
    }
    const changes: StepChange[] = [];
    const result = active.map((note) => {
      const voice = voices.get(note.id) ?? 1;
      const staff = staves?.get(note.id);
      if (voice === (note.voice ?? 1) && staff === note.staff) return note;
      const to = voiced(note, voice, staff);
      const reason = isUnpitched(context.instrument) ? wordsForSound(voice) : wordsFor(voice, staff);
      changes.push({ noteId: note.id, from: note, to, reason });
      return to;
    });
    return changes.length === 0 ? unchanged(notes) : { notes: inOrder(result, muted), changes };
  },
};

const wordsForSound = (voice: number): string =>
  voice > 1 ? 'its sound stands in the second voice of the percussion map' : 'the first voice';

const wordsFor = (voice: number, staff: Staff | undefined): string => {
  const hand = staff === 1 ? 'right hand' : staff === 2 ? 'left hand' : '';
  const line = voice > 1 ? 'held while others move: a voice of its own' : '';
  return [hand, line].filter(Boolean).join(', ') || 'the first voice';
};
