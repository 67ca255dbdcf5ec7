/** What edits do at their very bounds: one tick or one value this side and that. A tick lasts a millisecond. */
import { afterEach, describe, expect, it } from 'vitest';
import type { Note, Part } from '../model/arrangement.js';
import { applyEdit, type Edit, notesChange } from '../model/edit.js';
import { nameSelection, selectionNamed } from '../model/namedSelections.js';
import { NOTHING, type Selection, sameSelection, selectionOf, selectionWithin } from '../model/selection.js';
import { chooseNaming, DEFAULT_NAMING } from '../reading/noteWords.js';
import { entryAt } from '../testing/entryKit.js';
import { arrangementWith, note, partWith } from '../testing/kit.js';
import { ticks } from '../time/units.js';
import { withControllers } from './controllersToo.js';
import { fitAmong } from './fittingNote.js';
import { type Entry, enterNotes, pitchOfLetter } from './noteEntry.js';
import { lengthOfText, pitchOfText } from './noteFields.js';
import { barCorrection } from './pageEdits.js';
import { stepEdit } from './stepEdit.js';

const withIds = (notes: readonly Note[]): Note[] => notes.map((one, index) => ({ ...one, id: index + 1 }));
const placed = (notes: readonly Note[] = []) =>
  notes.map(({ pitch, onset, duration }) => `${pitch} ${onset}+${duration}`);
const done = (arrangement: ReturnType<typeof arrangementWith>, edit: Edit | null): Part =>
  (edit ? applyEdit(arrangement, edit) : arrangement).parts[0] as Part;

describe('entry by letters', () => {
  const line = withIds([note(60, 0, 480), note(62, 100, 381), note(64, 480, 480), note(65, 960, 480)]);
  const music = arrangementWith([partWith(line)], { nextNoteId: 5 });
  const entry = entryAt(480);
  const entered = (pitch: number, more: Partial<Entry> = {}) =>
    placed(done(music, enterNotes(music, { ...entry, ...more }, [{ pitch }]).edit).notes);

  it('takes away what begins in its time, and nothing at its end', () => {
    expect(entered(72)).toEqual(['60 0+480', '62 100+381', '72 480+480', '65 960+480']);
  });

  it('ends what sounds on at its pitch, where it does', () => {
    expect(entered(62)).toEqual(['60 0+480', '62 100+380', '62 480+480', '65 960+480']);
    expect(entered(60)).toEqual(['60 0+480', '62 100+381', '60 480+480', '65 960+480']);
  });

  it('moves along what begins at its place or later where it makes room', () => {
    expect(entered(72, { inserts: true })).toEqual([
      '60 0+480',
      '62 100+381',
      '72 480+480',
      '64 960+480',
      '65 1440+480',
    ]);
  });

  it('keeps what is struck within what can be heard, by the loudness of the keys or its own', () => {
    const loud = (velocity: number | undefined) => {
      const made = enterNotes(music, entry, [{ pitch: 72, velocity } as { pitch: number; velocity: number }]);
      return done(music, made.edit).notes.find(({ pitch }) => pitch === 72)?.velocity;
    };
    expect([loud(0), loud(200), loud(64.4), loud(undefined)]).toEqual([1, 127, 64, 80]);
  });

  it('goes to the nearest octave, a fourth rather than a fifth, within what there is', () => {
    expect(pitchOfLetter('g', 60, 0)).toBe(55);
    expect(pitchOfLetter('F', 60, 0)).toBe(65);
    expect(pitchOfLetter('f', 60, 1)).toBe(66);
    expect(pitchOfLetter('b', 127, 0)).toBe(127);
    expect(pitchOfLetter('c', 0, -7)).toBe(0);
  });
});

describe('a step on the selection', () => {
  const line = withIds([note(60, 0, 480), note(62, 480, 480), note(64, 960, 480), note(65, 961, 480)]);
  const stretched = (notes: readonly Note[]) => {
    const music = arrangementWith([partWith(notes)]);
    return done(music, stepEdit(music, selectionOf(1, [1]), 'stretch', { ratio: 200, after: 'moves' }).edit).notes;
  };

  it('has what follows move along from the very end on, and nothing before it', () => {
    expect(placed(stretched(line))).toEqual(['60 0+960', '62 960+480', '64 1440+480', '65 1441+480']);
    const early = withIds([note(60, 0, 480), note(62, 479, 480), note(64, 480, 480)]);
    expect(placed(stretched(early))).toEqual(['60 0+960', '62 479+480', '64 960+480']);
  });

  it('keeps how a note was let go of', () => {
    const released = line.map((one) => ({ ...one, releaseVelocity: 33 }));
    expect(stretched(released).map(({ releaseVelocity }) => releaseVelocity)).toEqual([33, 33, 33, 33]);
    expect(stretched(line).some((one) => 'releaseVelocity' in one || 'muted' in one)).toBe(false);
  });

  it('says once what it says of several parts, and all it says', () => {
    const two = arrangementWith([partWith(line), partWith(line, { id: 2 })]);
    const both = new Map([...selectionOf(1, [1]), ...selectionOf(2, [1])]);
    expect(stepEdit(two, NOTHING, 'merge')).toMatchObject({ touched: 0, edit: null, doubts: [] });
    const notice = stepEdit(two, both, 'follow').notice ?? '';
    expect(notice).toBe(stepEdit(two, selectionOf(1, [1]), 'follow').notice ?? '');
  });
});

describe('controllers that go with notes', () => {
  const at = (tick: number, value = 64, controller = 11) =>
    ({ id: tick + 1, kind: 'controller', tick: ticks(tick), channel: 0, controller, value }) as const;
  const line = withIds([note(60, 960, 480), note(62, 1920, 480), note(64, 1440, 240)]).sort(
    (a, b) => a.onset - b.onset,
  );
  const moved = (events: readonly ReturnType<typeof at>[], by = 480) => {
    const music = arrangementWith([partWith(line, { events })], { nextEventId: 9000 });
    const after = line.map((one) => (one.id === 1 ? { ...one, onset: ticks(one.onset + by) } : one));
    const change = notesChange(1, line, after);
    const edit = withControllers(music, { label: 'Move', changes: change ? [change] : [] });
    return {
      label: edit.label,
      events: done(music, edit).events.map((event) => `${event.tick}${'value' in event ? `=${event.value}` : ''}`),
    };
  };

  it('are those from an eighth of a quarter before to the end, and none that other notes need', () => {
    expect(moved([at(899), at(900), at(1439)]).events).toEqual(['899=64', '1380=64', '1919=64']);
    // At 1440 another note begins: it needs what is set there.
    expect(moved([at(1440)])).toEqual({ label: 'Move', events: ['1440=64'] });
    expect(moved([at(960)])).toEqual({ label: 'Move, with 1 value of controllers', events: ['1440=64'] });
    expect(moved([at(960), at(970)]).label).toBe('Move, with 2 values of controllers');
  });

  it('do not go before the beginning', () => {
    expect(moved([at(910)], -960).events).toEqual(['0=64']);
  });

  it('lift a pedal that would stay down, and one alone that is down', () => {
    expect(moved([at(970, 127, 64)]).events).toEqual(['1450=127', '1920=0']);
    expect(moved([at(970, 63, 64)]).events).toEqual(['1450=63']);
    expect(moved([at(970, 127, 64), at(2500, 0, 64)]).events).toEqual(['1450=127', '2500=0']);
    expect(moved([at(970, 127, 64), at(2500, 64, 64)]).events).toEqual(['1450=127', '1920=0', '2500=64']);
    expect(moved([at(970, 127, 11)]).events).toEqual(['1450=127']);
  });
});

describe('a drawn note among others', () => {
  const nearestLine = (tick: number) => Math.round(tick / 240) * 240;
  const fit = (notes: readonly Note[], place: number, reach = 480) =>
    fitAmong(notes, place, { grid: 240, reach, nearestLine });
  const [soft, loud] = [
    { ...note(60, 10, 100), velocity: 40 },
    { ...note(62, 500, 100), velocity: 80 },
  ];

  it('is as early or late as the nearer neighbour within reach, and between both in loudness', () => {
    expect(fit([soft, loud], 240)).toEqual({ onset: 250, velocity: 59 });
    expect(fit([soft, loud], 300)).toEqual({ onset: 320, velocity: 64 });
    expect(fit([soft], 490)).toEqual({ onset: 500, velocity: 40 });
    expect(fit([soft], 491)).toBeNull();
    expect(
      fit(
        [
          { ...note(60, 0, 100), velocity: 40 },
          { ...loud, muted: true },
        ],
        300,
      )?.velocity,
    ).toBe(40);
    expect(fit([], 0)).toBeNull();
  });

  it('joins a chord that begins within half the grid', () => {
    const chord = [10, 14, 18].map((onset, index) => ({ ...note(60 + index, onset, 100), velocity: 50 + index }));
    expect(fit(chord, 0)).toEqual({ onset: 14, velocity: 51 });
    expect(
      fit(
        chord.map((one) => ({ ...one, muted: true })),
        0,
      ),
    ).toBeNull();
  });
});

describe('what is typed', () => {
  afterEach(() => chooseNaming(DEFAULT_NAMING));

  it('as a pitch has two signs at most, and lies within what there is', () => {
    expect(['F##4', 'F###4', 'Fx4', '127', '128', '0', 'G9', 'G#9', 'C-1', 'B-2'].map(pitchOfText)).toEqual([
      67,
      undefined,
      pitchOfText('Fx4'),
      127,
      undefined,
      0,
      127,
      undefined,
      0,
      undefined,
    ]);
    // The endings are German alone.
    expect(['Cis4', 'Es4', 'As4', 'C4'].map(pitchOfText)).toEqual([undefined, undefined, undefined, 60]);
    chooseNaming({ names: 'german', middleC: 4 });
    expect(['es4', 'as4', 'fisis4', 'ges4', 'eses4', 'ises4'].map(pitchOfText)).toEqual([
      63,
      68,
      67,
      66,
      62,
      undefined,
    ]);
  });

  it('as a length has a unit, or is in ticks', () => {
    expect(lengthOfText(' 12.5 MS ')).toEqual({ unit: 'ms', value: 12.5 });
    expect(lengthOfText('1 tick')).toEqual({ unit: 'ticks', value: 1 });
    expect(lengthOfText('1/4T')).toEqual({ unit: 'note', value: 1 / 6 });
    expect(['1/3', '1/128', '-1', 'x', '', '1/4..'].map(lengthOfText)).toEqual(Array(6).fill(undefined));
  });
});

describe('a correction of a bar', () => {
  it('is put on a part that has none yet, takes the place of another, and is taken back by the same again', () => {
    const bare = partWith(withIds([note(60, 0, 480)]));
    const music = arrangementWith([bare]);
    const clef = (part: Part, name: 'alto' | 'bass') =>
      barCorrection(part, { kind: 'clef', bar: 2, staff: 1, clef: name });
    const put = clef(bare, 'alto');
    expect(put.label).toBe(`Alto clef at bar 2 of ${bare.name}`);
    const alto = done(music, put);
    expect(alto.overrides?.list).toEqual([{ kind: 'clef', bar: 2, staff: 1, clef: 'alto' }]);
    const bass = done({ ...music, parts: [alto] }, clef(alto, 'bass'));
    expect(bass.overrides?.list).toEqual([{ kind: 'clef', bar: 2, staff: 1, clef: 'bass' }]);
    const away = clef(alto, 'alto');
    expect(away.label).toBe(`No longer: Alto clef at bar 2 of ${bare.name}`);
    expect(done({ ...music, parts: [alto] }, away).overrides?.list ?? []).toEqual([]);
  });
});

describe('selections', () => {
  const music = arrangementWith([partWith(withIds([note(60, 0, 10), note(62, 20, 10)])), partWith([], { id: 2 })]);

  it('are the same where they hold the same notes, however they came about', () => {
    const [a, b] = [selectionOf(1, [1, 2]), selectionOf(1, [2, 1])];
    expect(sameSelection(a, b)).toBe(true);
    expect(sameSelection(a, selectionOf(1, [1, 3]))).toBe(false);
    expect(sameSelection(a, selectionOf(2, [1, 2]))).toBe(false);
    expect(sameSelection(a, selectionOf(1, [1]))).toBe(false);
    expect(sameSelection(selectionOf(1, [1]), a)).toBe(false);
    expect(sameSelection(NOTHING, new Map())).toBe(true);
  });

  it('keep what is there, and are the same object where all is', () => {
    const some = selectionOf(1, [1, 2]);
    expect(selectionWithin(some, music)).toBe(some);
    expect(selectionWithin(selectionOf(1, [2, 9]), music)).toEqual(selectionOf(1, [2]));
    expect(selectionWithin(selectionOf(7, [1]), music)).toEqual(NOTHING);
  });

  it('are kept by a name that is something, of notes that are some', () => {
    const named = (name: string, selection: Selection) => nameSelection(music, name, selection);
    expect(named('Tune', NOTHING)).toBeNull();
    expect(named('  ', selectionOf(1, [1]))).toBeNull();
    const kept = named(' Tune ', selectionOf(1, [1]));
    expect(kept?.label).toBe('Keep selection: Tune');
    expect(selectionNamed(kept ? applyEdit(music, kept) : music, 'Tune')).toEqual(selectionOf(1, [1]));
    expect(selectionNamed(music, 'Tune')).toEqual(NOTHING);
  });
});
