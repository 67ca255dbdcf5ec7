import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Arrangement, Part } from '../model/arrangement.js';
import { applyEdit, invertEdit } from '../model/edit.js';
import { MARKS } from '../model/noteSigns.js';
import type { Override } from '../model/overrides.js';
import { type Selection, selectionOf } from '../model/selection.js';
import { barsOfPiece } from '../notation/buildScore.js';
import { READY_PLANS } from '../plan/readyPlans.js';
import { runPlanOnAll } from '../plan/runPlan.js';
import { writtenMaps } from '../plan/writtenMaps.js';
import { cases } from '../testing/cases.js';
import { arrangementWith, note, partWith } from '../testing/kit.js';
import { sceneOf } from '../testing/pageScene.js';
import { ticks } from '../time/units.js';
import { correctionsListed, takeBackCorrections } from './correctionList.js';
import { type PageWish, pageEdit } from './pageEdits.js';

const notes = [note(61, 0, 460), note(61, 480, 460), note(64, 960, 460), note(66, 1440, 460), note(67, 1920, 1900)];
const base = arrangementWith([
  partWith(notes),
  partWith([note(72, 0, 1900)], { id: 2, name: 'Oboe', instrument: 'oboe' }),
]);
const ids = notes.map(({ id }) => id);

const wished = (arrangement: Arrangement, wish: PageWish, which: readonly number[]): Arrangement => {
  const made = pageEdit(
    sceneOf(
      arrangement,
      selectionOf(
        1,
        which.map((k) => ids[k] as number),
      ),
    ),
    wish,
  );
  if (!made.ok) throw new Error(made.problem.message);
  return applyEdit(arrangement, made.value);
};
const refused = (arrangement: Arrangement, wish: PageWish, which: readonly number[]): string => {
  const made = pageEdit(
    sceneOf(
      arrangement,
      selectionOf(
        1,
        which.map((k) => ids[k] as number),
      ),
    ),
    wish,
  );
  return made.ok ? '' : made.problem.message;
};
const listOf = (arrangement: Arrangement): readonly Override[] => arrangement.parts[0]?.overrides?.list ?? [];
const kinds = (arrangement: Arrangement) => listOf(arrangement).map(({ kind }) => kind);

describe('corrections by hand', () => {
  it('respell to the next letter, and round again to the first', () => {
    const spelled = (arrangement: Arrangement) => {
      const one = listOf(arrangement).find(({ kind }) => kind === 'spelling');
      return one?.kind === 'spelling' ? `${one.step}${one.alter}` : '';
    };
    const letters = [1, 2, 3].map((times) =>
      spelled(
        Array.from({ length: times }).reduce<Arrangement>((now) => wished(now, { wish: 'respell', by: 1 }, [0]), base),
      ),
    );
    // C sharp is also D flat and B double sharp.
    expect([...letters].sort()).toEqual(['B2', 'C1', 'D-1']);
  });

  it('put a sign on all, and take it off where all have it', () => {
    const accent: PageWish = { wish: 'mark', mark: 'accent' };
    const one = wished(base, accent, [0]);
    const both = wished(one, accent, [0, 1]);
    expect(kinds(both)).toEqual(['mark', 'mark']);
    expect(kinds(wished(both, accent, [0, 1]))).toEqual([]);
    const dots = wished(base, { wish: 'staccato' }, [0, 1]);
    expect(listOf(dots)).toEqual([
      { kind: 'staccato', noteId: ids[0], on: true },
      { kind: 'staccato', noteId: ids[1], on: true },
    ]);
  });

  it('turn stems up, down, and back to the page’s own', () => {
    const stem: PageWish = { wish: 'stem' };
    const up = wished(base, stem, [3]);
    expect(listOf(up)).toEqual([{ kind: 'stem', noteId: ids[3], way: 'up' }]);
    const down = wished(up, stem, [3]);
    expect(listOf(down)).toEqual([{ kind: 'stem', noteId: ids[3], way: 'down' }]);
    expect(listOf(wished(down, stem, [3]))).toEqual([]);
  });

  it('slur from the first to the last of the notes, and take the slur away again', () => {
    const slurred = wished(base, { wish: 'slur' }, [0, 1, 3]);
    expect(listOf(slurred)).toEqual([{ kind: 'slur', noteId: ids[0], to: ids[3] }]);
    expect(listOf(wished(slurred, { wish: 'slur' }, [0, 1, 3]))).toEqual([]);
    expect(refused(base, { wish: 'slur' }, [0])).toContain('select both');
  });

  it('tie notes of one pitch that touch, and say where none does', () => {
    expect(listOf(wished(base, { wish: 'tie' }, [0]))).toEqual([{ kind: 'tie', noteId: ids[0] }]);
    expect(refused(base, { wish: 'tie' }, [2])).toMatch(/^A tie goes to the next note of the same pitch/);
  });

  it('never let a note end before it begins, nor a staff have a fifth voice', () => {
    expect(refused(base, { wish: 'end', by: -10_080 }, [0])).toMatch(/cannot end/);
    expect(refused(base, { wish: 'start', by: 10_080 }, [0])).toMatch(/cannot begin/);
    expect(refused(base, { wish: 'voice', voice: 5 }, [0])).toMatch(/four voices/);
    expect(refused(base, { wish: 'voice', voice: 0 }, [0])).toMatch(/four voices/);
    expect(listOf(wished(base, { wish: 'voice', voice: 4 }, [0]))).toMatchObject([{ kind: 'voice', voice: 4 }]);
    expect(refused(base, { wish: 'asPlanSays' }, [0])).toMatch(/as the plan says/);
    expect(pageEdit(sceneOf(base, new Map()), { wish: 'staff' })).toMatchObject({ ok: false });
  });

  it('keep a note from the page, and bring it back', () => {
    const hidden = wished(base, { wish: 'soundOnly' }, [2]);
    expect(runPlanOnAll(hidden)[0]?.notes).toHaveLength(4);
    expect(hidden.parts[0]?.notes).toHaveLength(5);
    expect(listOf(wished(hidden, { wish: 'soundOnly' }, [2]))).toEqual([]);
  });

  it('leave a note on the page that is no longer heard', () => {
    const silent = wished(base, { wish: 'pageOnly' }, [1, 2]);
    expect(silent.parts[0]?.notes.map(({ muted }) => muted === true)).toEqual([false, true, true, false, false]);
    const layers = [base, silent].map((own) => runPlanOnAll(own)[0]?.notes ?? []);
    const placesOf = (list: (typeof layers)[0]) => list.map(({ pitch, onset, duration }) => [pitch, onset, duration]);
    expect(placesOf(layers[1] ?? [])).toEqual(placesOf(layers[0] ?? []));
    // A note that is made later does not get the id of one of these.
    const taken = listOf(silent).flatMap((own) => (own.kind === 'pageOnly' ? [own.id] : []));
    expect(silent.nextNoteId).toBeGreaterThan(Math.max(...taken));
    expect(refused(silent, { wish: 'pageOnly' }, [1])).toMatch(/not on the page/);
  });

  it('are one Edit over several parts, which says how many in which', () => {
    const both: Selection = new Map([
      [1, new Set([ids[0] as number, ids[1] as number])],
      [2, new Set(base.parts[1]?.notes.map(({ id }) => id))],
    ]);
    const made = pageEdit(sceneOf(base, both), { wish: 'mark', mark: 'tenuto' });
    expect(made.ok && made.value.label).toBe('Tenuto: 2 notes in Flute, 1 in Oboe');
  });
});

describe('holding the page', () => {
  it('keeps what is written while the playing is shaped, until it is let go', () => {
    const before = runPlanOnAll(base)[0]?.notes;
    const held = wished(base, { wish: 'hold' }, [0, 1, 2, 3, 4]);
    const shape = (arrangement: Arrangement): Arrangement => ({
      ...arrangement,
      parts: arrangement.parts.map((part) => ({
        ...part,
        notes: part.notes.map((own, k) => ({
          ...own,
          onset: ticks(own.onset + (k % 2) * 200),
          duration: ticks(Math.max(20, own.duration - 300)),
          velocity: 30,
        })),
      })),
    });
    const places = (arrangement: Arrangement) =>
      runPlanOnAll(arrangement)[0]?.notes.map(({ id, onset, duration }) => [id, onset, duration]);
    expect(places(shape(held))).toEqual(before?.map(({ id, onset, duration }) => [id, onset, duration]));
    expect(places(shape(base))).not.toEqual(places(base));
    // However far it moves: all of it in half the time, and an octave of bars later.
    const moved = (of: (onset: number) => number): Arrangement => ({
      ...held,
      parts: held.parts.map((part) => ({
        ...part,
        notes: part.notes.map((own) => ({ ...own, onset: ticks(of(own.onset)), duration: ticks(own.duration / 2) })),
      })),
    });
    expect(places(moved((onset) => onset / 2))).toEqual(places(base));
    expect(places(moved((onset) => onset + 1920 * 8))).toEqual(places(base));
    // The page has all its bars, though nothing is played in the last of them any more.
    const alone = (arrangement: Arrangement): Arrangement => ({ ...arrangement, parts: arrangement.parts.slice(0, 1) });
    const bars = (arrangement: Arrangement) => barsOfPiece(runPlanOnAll(arrangement), writtenMaps(arrangement)).length;
    expect(bars(alone(moved((onset) => onset / 8)))).toBe(bars(alone(base)));
    // Another plan does not change it either.
    const other = { ...held, parts: held.parts.map((part) => ({ ...part, plan: READY_PLANS.percussion })) };
    expect(places(shape(other))).toEqual(places(base));
    expect(kinds(wished(held, { wish: 'hold' }, [0, 1, 2, 3, 4]))).toEqual([]);
  });
});

describe('the list of corrections', () => {
  const maps = writtenMaps(base);
  const listed = (arrangement: Arrangement) =>
    correctionsListed(arrangement.parts[0] as Part, runPlanOnAll(arrangement)[0] ?? { notes: [] }, maps);

  it('says what and where, in order of place', () => {
    const some = wished(wished(base, { wish: 'mark', mark: 'fermata' }, [4]), { wish: 'voice', voice: 2 }, [0]);
    expect(listed(some).map(({ what, bar, note: name }) => [what, bar, name])).toEqual([
      ['Voice 2', 1, 'C♯4'],
      ['Fermata', 2, 'G4'],
    ]);
  });

  it('lists a held note once, and what no longer applies last', () => {
    const held = wished(base, { wish: 'hold' }, [0]);
    expect(listed(held).map(({ what }) => what)).toEqual(['Held']);
    const gone = { ...wished(base, { wish: 'tie' }, [0]) };
    const without = { ...gone, parts: gone.parts.map((part) => ({ ...part, notes: part.notes.slice(1) })) };
    expect(listed(without)).toMatchObject([{ what: 'Tied on', bar: null }]);
  });

  it('is taken back one by one, or all of it, and that can be undone', () => {
    const some = wished(wished(base, { wish: 'hold' }, [0]), { wish: 'mark', mark: 'accent' }, [1]);
    const [first] = listed(some);
    const one = takeBackCorrections(some.parts, () => new Set([first?.key ?? '']));
    expect(one && kinds(applyEdit(some, one))).toEqual(['mark']);
    const all = takeBackCorrections(some.parts, () => 'all');
    expect(all?.label).toMatch(/^As the plan says: \d+ corrections/);
    const back = all ? applyEdit(some, all) : some;
    expect(kinds(back)).toEqual([]);
    expect(all && new Set(listOf(applyEdit(back, invertEdit(all))))).toEqual(new Set(listOf(some)));
    expect(takeBackCorrections(base.parts, () => 'all')).toBeNull();
  });
});

describe('any series of wishes', () => {
  const wish: fc.Arbitrary<PageWish> = fc.oneof(
    fc.constantFrom<PageWish>(
      { wish: 'respell', by: 1 },
      { wish: 'staff' },
      { wish: 'staccato' },
      { wish: 'stem' },
      { wish: 'tie' },
      { wish: 'slur' },
      { wish: 'glissando' },
      { wish: 'tuplet', actual: 3 },
      { wish: 'tuplet', actual: 5 },
      { wish: 'plain' },
      { wish: 'hold' },
      { wish: 'soundOnly' },
      { wish: 'asPlanSays' },
      { wish: 'beam', joined: true },
      { wish: 'notehead', head: 'x' },
      { wish: 'dynamic', dynamic: 'mf' },
      { wish: 'hairpin', way: 'louder' },
      { wish: 'words', text: 'dolce' },
    ),
    fc.constantFrom(...MARKS).map((mark): PageWish => ({ wish: 'mark', mark })),
    fc.integer({ min: 1, max: 4 }).map((voice): PageWish => ({ wish: 'voice', voice })),
    fc.integer({ min: -5000, max: 5000 }).map((by): PageWish => ({ wish: 'end', by })),
  );

  it('inverts, and outlives another plan wherever its notes are still written', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(wish, fc.subarray([0, 1, 2, 3, 4])), { maxLength: 8 }), (wishes) => {
        let now: Arrangement = base;
        for (const [one, which] of wishes) {
          const made = pageEdit(
            sceneOf(
              now,
              selectionOf(
                1,
                which.map((k) => ids[k] as number),
              ),
            ),
            one,
          );
          if (!made.ok) continue;
          const after = applyEdit(now, made.value);
          const back = applyEdit(after, invertEdit(made.value));
          expect(new Set(back.parts[0]?.overrides?.list ?? [])).toEqual(new Set(listOf(now)));
          now = after;
        }
        const other = { ...now, parts: now.parts.map((part) => ({ ...part, plan: READY_PLANS.chords })) };
        const [own, again] = [now, other].map((one) => runPlanOnAll(one)[0]?.notes ?? []);
        for (const override of listOf(now)) {
          if (override.kind !== 'voice') continue;
          const same = (list: typeof own) => list?.find(({ id }) => id === override.noteId)?.voice;
          expect(same(again) ?? override.voice).toBe(override.voice);
          expect(same(own) ?? override.voice).toBe(override.voice);
        }
      }),
      cases(120),
    );
  });
});

describe('signs that the plan reads from the playing', () => {
  const trill = Array.from({ length: 12 }, (_, k) =>
    note(k % 2 === 0 ? 72 : 74, 1926 + k * 80 + (k % 3) * 4, 72, { velocity: 84 }),
  );
  const grace = note(71, 3795, 50);
  const after = [note(72, 3849, 900), note(74, 4803, 450)];
  const before = [0, 1, 2, 3].map((k) => note(67 + k, k * 480 + 7 * ((k % 3) - 1) + 9, 430));
  const taken = arrangementWith([partWith([...before, ...trill, grace, ...after])]);
  const first = trill[0]?.id ?? 0;
  const done = (arrangement: Arrangement, wish: PageWish, chosen: readonly number[]): Arrangement => {
    const made = pageEdit(sceneOf(arrangement, selectionOf(1, chosen)), wish);
    if (!made.ok) throw new Error(made.problem.message);
    return applyEdit(arrangement, made.value);
  };
  const shown = (arrangement: Arrangement): string[] =>
    (runPlanOnAll(arrangement)[0]?.notes ?? []).map(
      ({ pitch, onset, signs }) =>
        `${pitch} ${onset / 10_080} ${signs?.marks ?? ''}${(signs?.graces ?? []).map((tone) => `+${tone.pitch}`).join('')}`,
    );
  const asRead = ['67 0 ', '68 1 ', '69 2 ', '70 3 ', '72 4 trill', '72 8 +71', '74 10 '];

  it('are taken away, and given again, by the same wish as a person’s own', () => {
    expect(shown(taken)).toEqual(asRead);
    const without = done(taken, { wish: 'mark', mark: 'trill' }, [first]);
    expect(without.parts[0]?.overrides?.list).toEqual([{ kind: 'mark', noteId: first, mark: 'trill', on: false }]);
    const again = done(without, { wish: 'mark', mark: 'trill' }, [first]);
    expect(again.parts[0]?.overrides?.list).toMatchObject([{ mark: 'trill', on: true }]);
  });

  it('are held with the page while the playing is shaped, and let go with it', () => {
    const all = taken.parts[0]?.notes.map(({ id }) => id) ?? [];
    const held = done(taken, { wish: 'hold' }, all);
    // Four times as slow, nothing of it is an ornament any more.
    const slow = {
      ...held,
      parts: held.parts.map((part) => ({
        ...part,
        notes: part.notes.map((own) => ({ ...own, onset: ticks(own.onset * 4), duration: ticks(own.duration * 4) })),
      })),
    };
    expect(shown(slow)).toEqual(asRead);
    const free = done(slow, { wish: 'hold' }, all);
    expect(shown(free).length).toBeGreaterThan(asRead.length);
  });

  it('a grace note is made of a note, and is a note again', () => {
    const plain = arrangementWith([partWith([...before, ...after])]);
    const last = before[3]?.id ?? 0;
    const given = done(plain, { wish: 'grace' }, [last]);
    expect(shown(given)).toEqual(['67 0 ', '68 1 ', '69 2 ', '72 8 +70', '74 10 ']);
    // It sounds as long before its main note as the two lie apart on the page: from beat 4 of bar 1 to bar 3.
    const main = runPlanOnAll(given)[0]?.notes.find(({ signs }) => signs?.graces);
    expect(main?.signs?.graces).toMatchObject([{ id: last, pitch: 70, at: -5 * 10_080, duration: 10_080 }]);
    expect(shown(done(given, { wish: 'grace' }, [last]))).toEqual(shown(plain));
    const end = pageEdit(sceneOf(plain, selectionOf(1, [after[1]?.id ?? 0])), { wish: 'grace' });
    expect(end.ok ? '' : end.problem.message).toMatch(/^No note follows/);
  });
});
