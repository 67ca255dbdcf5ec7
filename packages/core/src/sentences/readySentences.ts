/** Ready sentences, in the order of work: times, lengths, loudness, pitch. They start with what the checks do not find. */
import { milliseconds, noteValue } from '../time/noteLengths.js';
import {
  type Condition,
  type ConditionKind,
  type ConditionParameters,
  SENTENCE_VERSION,
  type Sentence,
  type SentenceChange,
} from './sentence.js';

const where = <Kind extends ConditionKind>(kind: Kind, parameters: ConditionParameters[Kind], not = false): Condition =>
  ({ kind, not, parameters }) as unknown as Condition;

const one = (name: string, conditions: readonly Condition[], ...changes: readonly SentenceChange[]): Sentence => ({
  version: SENTENCE_VERSION,
  name,
  lines: [{ where: conditions.length > 0 ? [conditions] : [], do: changes }],
});

/** The ready sentences. */
export const READY_SENTENCES: readonly Sentence[] = [
  one(
    'Onto the beat',
    [where('onBeat', { within: milliseconds(90) }), where('onBeat', { within: milliseconds(20) }, true)],
    { kind: 'ontoGrid', parameters: { grid: 1 / 4, strength: 100 } },
  ),
  one('Far off the grid: onto it', [where('offGrid', { grid: 1 / 16, moreThan: milliseconds(30) })], {
    kind: 'ontoGrid',
    parameters: { grid: 1 / 16, strength: 100 },
  }),
  one('None shorter than a sixteenth', [where('shorter', { than: noteValue(1 / 16) })], {
    kind: 'lengthAtLeast',
    parameters: { length: noteValue(1 / 16) },
  }),
  one('Shorter than the selected note: out', [where('shorterThanSelected', {})], { kind: 'delete', parameters: {} }),
  one('None softer than 30', [where('velocity', { from: 1, to: 29 })], {
    kind: 'velocityAtLeast',
    parameters: { velocity: 30 },
  }),
  one('None louder than 110', [where('velocity', { from: 111, to: 127 })], {
    kind: 'velocityAtMost',
    parameters: { velocity: 110 },
  }),
  one('The lowest of each chord louder', [where('chord', { place: 'bottom', among: 'part', octaves: false })], {
    kind: 'addVelocity',
    parameters: { by: 10 },
  }),
  one('What sticks out nearer to its neighbours', [where('sticksOut', { way: 'louder', by: 20 })], {
    kind: 'nearerToNeighbours',
    parameters: { share: 70 },
  }),
  one(
    'Soft side sticks out',
    [
      where('instrument', { instrument: 'percussion' }),
      where('pitch', { from: 37, to: 37 }),
      where('velocity', { from: 1, to: 30 }),
    ],
    { kind: 'delete', parameters: {} },
  ),
  {
    version: SENTENCE_VERSION,
    name: 'Snares changed over',
    lines: [
      {
        where: [38, 40].map((pitch) => [
          where('instrument', { instrument: 'percussion' }),
          where('pitch', { from: pitch, to: pitch }),
        ]),
        do: [
          {
            kind: 'pitchList',
            parameters: {
              list: [
                [38, 40],
                [40, 38],
              ],
            },
          },
        ],
      },
    ],
  },
  one(
    'Every fourth closed hi-hat open',
    [
      where('instrument', { instrument: 'percussion' }),
      where('pitch', { from: 42, to: 42 }),
      where('everyNth', { n: 4, first: 4, of: 'all' }),
    ],
    { kind: 'setPitch', parameters: { to: 46 } },
  ),
  one('Out of the key', [where('inKey', {}, true)], { kind: 'select', parameters: {} }),
];
