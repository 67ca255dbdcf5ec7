/** Corrections as a person reads them: words of our own, the terms common practice. */
import { describe, expect, it } from 'vitest';
import type { Part } from '../model/arrangement.js';
import type { Override } from '../model/overrides.js';
import { runPlanOnAll } from '../plan/runPlan.js';
import { writtenMaps } from '../plan/writtenMaps.js';
import { arrangementWith, note, partWith } from '../testing/kit.js';
import { writtenUnits } from '../time/units.js';
import { correctionInWords, correctionsListed, takeBackCorrections } from './correctionList.js';

const of = { noteId: 1 };
const at = writtenUnits(10_080);
const WORDS: readonly (readonly [Override, string])[] = [
  [{ kind: 'spelling', ...of, step: 'D', alter: -1 }, 'Spelled D♭'],
  [{ kind: 'spelling', ...of, step: 'F', alter: 2 }, 'Spelled F𝄪'],
  [{ kind: 'spelling', ...of, step: 'B', alter: -2 }, 'Spelled B𝄫'],
  [{ kind: 'spelling', ...of, step: 'C', alter: 1 }, 'Spelled C♯'],
  [{ kind: 'spelling', ...of, step: 'E', alter: 0 }, 'Spelled E'],
  [{ kind: 'voice', ...of, voice: 2 }, 'Voice 2'],
  [{ kind: 'staff', ...of, staff: 1 }, 'On the upper staff'],
  [{ kind: 'staff', ...of, staff: 2 }, 'On the lower staff'],
  [{ kind: 'writtenStart', ...of, at }, 'Written start'],
  [{ kind: 'writtenEnd', ...of, at }, 'Written end'],
  [{ kind: 'staccato', ...of, on: true }, 'Staccato'],
  [{ kind: 'staccato', ...of, on: false }, 'No staccato'],
  [{ kind: 'soundOnly', ...of }, 'Sound only'],
  [{ kind: 'mark', ...of, mark: 'upperMordent', on: true }, 'Mordent from above'],
  [{ kind: 'mark', ...of, mark: 'fermata', on: false }, 'No fermata'],
  [{ kind: 'notehead', ...of, head: 'x' } as Override, 'Head: x'],
  [{ kind: 'stem', ...of, way: 'up' }, 'Stem up'],
  [{ kind: 'beam', ...of, joined: true }, 'Beam joined'],
  [{ kind: 'beam', ...of, joined: false }, 'Beam broken'],
  [{ kind: 'tie', ...of }, 'Tied on'],
  [{ kind: 'tuplet', ...of, actual: 3, normal: 2 } as Override, '3 in the time of 2'],
  [{ kind: 'grace', ...of, to: 2 }, 'Grace note'],
  [{ kind: 'slur', ...of, to: 2 }, 'Slur'],
  [{ kind: 'glissando', ...of, to: 2 }, 'Glissando'],
  [{ kind: 'pedal', ...of, to: 2 }, 'Pedal line'],
  [{ kind: 'hairpin', ...of, to: 2, way: 'louder' }, 'Hairpin, louder'],
  [{ kind: 'hairpin', ...of, to: 2, way: 'softer' }, 'Hairpin, softer'],
  [{ kind: 'dynamic', ...of, dynamic: 'mf' }, 'mf'],
  [{ kind: 'words', ...of, text: 'dolce' }, '“dolce”'],
  [{ kind: 'way', ...of, word: 'pizz.' } as Override, 'Played pizz.'],
  [{ kind: 'held', ...of }, 'Held'],
  [{ kind: 'systemBreak', bar: 3 }, 'System begins'],
  [{ kind: 'pageBreak', bar: 3 }, 'Page begins'],
  [{ kind: 'swing', bar: 3, swing: 'even' }, 'Straight'],
  [{ kind: 'swing', bar: 3, swing: { pair: 'eighths' } } as unknown as Override, 'Swung eighths'],
  [{ kind: 'nudge', bar: 3, mark: 'rehearsal', x: 1, y: 2 }, 'Rehearsal mark moved'],
  [{ kind: 'clef', bar: 3, staff: 1, clef: 'alto' }, 'Alto clef'],
];

describe('a correction in words', () => {
  it.each(WORDS)('%j is “%s”', (override, words) => {
    expect(correctionInWords(override)).toBe(words);
  });
});

/** Four quarters a bar at the kit's 480 ticks, and corrections that are told in any order. */
const some = [0, 1, 2, 3, 4, 5].map((index) => ({ ...note(60 + index, index * 480, 480), id: index + 1 }));
const withList = (list: readonly Override[]): Part => ({ ...partWith(some), overrides: { version: 1, list } });
const listed = (list: readonly Override[]) => {
  const arrangement = arrangementWith([withList(list)]);
  const [layer] = runPlanOnAll(arrangement);
  return correctionsListed(arrangement.parts[0] as Part, layer ?? { notes: [] }, writtenMaps(arrangement));
};

describe('the list of a part’s corrections', () => {
  it('goes by place: notes by where they stand, a bar’s by its beginning, what is gone last', () => {
    const list = listed([
      { kind: 'tie', noteId: 99 },
      { kind: 'stem', noteId: 6, way: 'up' },
      { kind: 'systemBreak', bar: 2 },
      { kind: 'mark', noteId: 2, mark: 'accent', on: true },
    ]);
    expect(list.map(({ what, bar, note: on }) => [what, bar, on])).toEqual([
      ['Accent', 1, 'C♯4'],
      ['System begins', 2, ''],
      ['Stem up', 2, 'F4'],
      ['Tied on', null, ''],
    ]);
    expect(new Set(list.map(({ key }) => key)).size).toBe(4);
  });

  it('names a note that sounds and is not written, by its pitch', () => {
    expect(listed([{ kind: 'soundOnly', noteId: 3 }])).toMatchObject([{ what: 'Sound only', bar: null, note: 'D4' }]);
  });

  it('tells of a held note once, whatever holds it', () => {
    const holds: Override[] = [
      { kind: 'held', noteId: 1 },
      { kind: 'writtenEnd', noteId: 1, at },
      { kind: 'voice', noteId: 1, voice: 1 },
      { kind: 'stem', noteId: 1, way: 'up' },
      { kind: 'voice', noteId: 2, voice: 1 },
    ];
    expect(listed(holds).map(({ what }) => what)).toEqual(['Held', 'Stem up', 'Voice 1']);
    expect(listed([])).toEqual([]);
  });
});

describe('taking corrections back', () => {
  const list: Override[] = [
    { kind: 'held', noteId: 1 },
    { kind: 'voice', noteId: 1, voice: 1 },
    { kind: 'stem', noteId: 1, way: 'up' },
    { kind: 'voice', noteId: 2, voice: 1 },
  ];
  const part = withList(list);
  const keyOf = (what: string) => new Set(listed(list).flatMap((one) => (one.what === what ? [one.key] : [])));
  const taken = (keys: ReadonlySet<string> | 'all') => {
    const edit = takeBackCorrections([part], () => keys);
    const [change] = edit?.changes ?? [];
    return [edit?.label, change?.kind === 'overrides' && change.removed];
  };

  it('takes what a note was held with, and no more', () => {
    expect(taken(keyOf('Held'))).toEqual(['As the plan says: 2 corrections taken back', [list[0], list[1]]]);
    expect(taken(keyOf('Stem up'))).toEqual(['As the plan says: 1 correction taken back', [list[2]]]);
    expect(taken('all')).toEqual(['As the plan says: 4 corrections taken back', list]);
  });

  it('changes nothing where there is none of them, and no part that has none', () => {
    expect(takeBackCorrections([part], () => new Set(['none']))).toBeNull();
    expect(takeBackCorrections([partWith(some)], () => 'all')).toBeNull();
    const both = takeBackCorrections([{ ...partWith(some), id: 7 }, part], () => 'all');
    expect(both?.changes.map((change) => 'partId' in change && change.partId)).toEqual([part.id]);
  });
});
