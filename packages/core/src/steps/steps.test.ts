import { describe, expect, it } from 'vitest';
import { contextIn, note, pedal, placesOf } from '../testing/kit.js';
import { milliseconds, noteValue } from '../time/noteLengths.js';
import { createTempoMap } from '../time/tempoMap.js';
import { ticks } from '../time/units.js';
import { deDuplicate } from './deDuplicate.js';
import { dropSpecks } from './dropSpecks.js';
import { gatherChords } from './gatherChords.js';
import { merge } from './merge.js';
import { quantizeStarts } from './quantizeStarts.js';
import { shortestDuration } from './shortestDuration.js';
import { sustainToDurations } from './sustainToDurations.js';
import { trimOverlaps } from './trimOverlaps.js';

const plain = contextIn();

describe('De-duplicate', () => {
  const run = (...notes: ReturnType<typeof note>[]) => deDuplicate.run(notes, plain, deDuplicate.defaults);

  it('keeps one of two that start together: earliest start, longest end, highest velocity, id of the longest', () => {
    const short = note(60, 0, 100, { velocity: 90 });
    const long = note(60, 20, 400, { velocity: 50 });
    const { notes, changes } = run(short, long);
    expect(notes).toEqual([{ ...long, onset: 0, duration: 420, velocity: 90 }]);
    expect(changes.find((change) => change.to === null)).toMatchObject({ noteId: short.id, into: long.id });
  });

  it('drops a short note hidden inside a longer one, and says why', () => {
    const { notes, changes } = run(note(60, 0, 960), note(60, 400, 60));
    expect(placesOf(notes)).toEqual(['60 0+960']);
    expect(changes[0]?.reason).toBe('hidden inside a longer C4');
  });

  it('leaves a quick repeat under the late end of a long note, unless it is soft', () => {
    expect(placesOf(run(note(60, 0, 560), note(60, 490, 60)).notes)).toEqual(['60 0+560', '60 490+60']);
    expect(placesOf(run(note(60, 0, 560), note(60, 490, 60, { velocity: 30 })).notes)).toEqual(['60 0+560']);
  });

  it('leaves a real re-strike, long enough, and other pitches', () => {
    const { notes, changes } = run(note(60, 0, 960), note(60, 400, 300), note(61, 410, 20));
    expect(notes).toHaveLength(3);
    expect(changes).toEqual([]);
  });

  it('takes the shorter of a thirty-second and 30 ms as its window', () => {
    expect(run(note(60, 0, 100), note(60, 30, 500)).notes).toHaveLength(1);
    expect(run(note(60, 0, 100), note(60, 31, 500)).notes).toHaveLength(2);
  });
});

describe('De-duplicate on drums', () => {
  const drums = contextIn(undefined, { instrument: 'percussion' });
  const run = (...notes: ReturnType<typeof note>[]) =>
    placesOf(deDuplicate.run(notes, drums, deDuplicate.defaults).notes);

  it('writes a flam as its main stroke, where that stands', () => {
    expect(run(note(38, 480, 40, { velocity: 40 }), note(38, 520, 40))).toEqual(['38 520+40']);
  });

  it('leaves a soft stroke by itself, and two of one loudness', () => {
    expect(run(note(38, 480, 40, { velocity: 40 }), note(38, 600, 40))).toHaveLength(2);
    expect(run(note(38, 480, 40), note(38, 520, 40))).toHaveLength(2);
  });
});

describe('Sustain to durations', () => {
  const run = (
    notes: ReturnType<typeof note>[],
    events: ReturnType<typeof pedal>,
    limit: 'nextAttack' | 'pedalUp' = 'pedalUp',
  ) => placesOf(sustainToDurations.run(notes, contextIn(undefined, { events }), { limit, keepPedal: false }).notes);

  it('holds a note until the pedal lifts', () => {
    expect(run([note(60, 0, 100)], pedal(50, 800))).toEqual(['60 0+800']);
  });

  it('holds a note that starts with the pedal already down', () => {
    expect(run([note(60, 100, 50)], pedal(0, 400))).toEqual(['60 100+300']);
  });

  it('counts a re-press before the note ends', () => {
    expect(run([note(60, 0, 300)], pedal(0, 100, 250, 600))).toEqual(['60 0+600']);
  });

  it('leaves a note let go with the pedal up', () => {
    expect(run([note(60, 0, 100)], pedal(150, 500))).toEqual(['60 0+100']);
  });

  it('ends it where its pitch is struck again', () => {
    expect(run([note(60, 0, 100), note(60, 400, 100)], pedal(50, 800))).toEqual(['60 0+400', '60 400+400']);
  });

  it('ends it at the next attack where asked, but not at its own chord', () => {
    const chord = [note(60, 0, 20), note(64, 12, 100), note(67, 500, 100)];
    expect(run(chord, pedal(5, 900), 'nextAttack')).toEqual(['60 0+500', '64 12+488', '67 500+400']);
  });

  it('holds to the part’s last end where the pedal never lifts', () => {
    expect(run([note(60, 0, 100), note(62, 500, 300)], pedal(50))).toEqual(['60 0+800', '62 500+300']);
  });

  // MIDI 1.0: controller 64 at 64 and above is down, 63 and below is up.
  it('reads 64 as down and 63 as up', () => {
    const down = [
      { ...pedal(0)[0], value: 64 },
      { ...pedal(0)[0], tick: 500, value: 63 },
    ] as ReturnType<typeof pedal>;
    expect(run([note(60, 0, 100)], down)).toEqual(['60 0+500']);
    const up = [{ ...pedal(0)[0], value: 63 }] as ReturnType<typeof pedal>;
    expect(run([note(60, 0, 100)], up)).toEqual(['60 0+100']);
  });

  it('listens to the note’s own channel', () => {
    expect(run([note(60, 0, 100, { channel: 3 })], pedal(50, 800))).toEqual(['60 0+100']);
  });
});

describe('Drop specks', () => {
  it('takes out what is shorter than a sixty-fourth and 40 ms, where it is soft', () => {
    const { notes, changes } = dropSpecks.run(
      [note(60, 0, 29, { velocity: 30 }), note(62, 100, 40), note(64, 200, 0)],
      plain,
      dropSpecks.defaults,
    );
    expect(placesOf(notes)).toEqual(['62 100+40']);
    expect(changes.map((change) => change.reason)).toEqual(['a C4 of only 29 ms', 'an E4 with no length']);
  });

  it('leaves a short stroke that is as loud as those about it and stands alone; a brushed key goes', () => {
    const dropped = (...notes: ReturnType<typeof note>[]) =>
      dropSpecks.run(notes, plain, dropSpecks.defaults).changes.map(({ from }) => from.pitch);
    const line = (duration: number) => [0, 1, 2, 3].map((k) => note(60 + k, k * 240, duration));
    expect(dropped(...line(100), note(67, 960, 25))).toEqual([]);
    expect(dropped(...line(100), note(62, 245, 25))).toEqual([62]);
    expect(dropped(...line(440), note(67, 960, 25))).toEqual([67]);
  });

  it('knows a brushed key where the music is so fast that real notes are as short', () => {
    // At 220 quarters a minute a sixty-fourth is 17 ms, 30 ticks.
    const tempoMap = createTempoMap([{ tick: ticks(0), microsecondsPerQuarter: 272_727 }], 480);
    const line = [0, 1, 2, 3, 4, 5].map((k) => note(60 + 2 * k, k * 240, 200));
    const quick = [6, 7].map((k) => note(60 + k, 1440 + (k - 6) * 60, 55));
    const speck = note(63, 242, 40, { velocity: 25 });
    const { changes } = dropSpecks.run([...line, ...quick, speck], { ...plain, tempoMap }, dropSpecks.defaults);
    expect(changes.map(({ noteId }) => noteId)).toEqual([speck.id]);
  });

  it('leaves loud ones where only soft ones are asked for, but never one of no length', () => {
    const parameters = { ...dropSpecks.defaults, softerThan: 40 };
    const notes = [
      note(60, 0, 10, { velocity: 90 }),
      note(61, 30, 10, { velocity: 40 }),
      note(62, 50, 10, { velocity: 39 }),
      note(64, 99, 0, { velocity: 90 }),
    ];
    expect(dropSpecks.run(notes, plain, parameters).notes.map((n) => n.pitch)).toEqual([60, 61]);
  });
});

describe('Merge', () => {
  it('joins notes of one pitch that overlap, first start to last end', () => {
    const { notes } = merge.run(
      [note(60, 0, 300, { velocity: 50 }), note(60, 200, 300, { velocity: 99 })],
      plain,
      merge.defaults,
    );
    expect(notes).toMatchObject([{ onset: 0, duration: 500, velocity: 50 }]);
  });

  it('leaves notes that only touch: they may be a repeat', () => {
    expect(merge.run([note(60, 0, 240), note(60, 240, 240)], plain, merge.defaults).changes).toEqual([]);
  });

  it('joins what touches or lies within the gap where asked, though other pitches lie between', () => {
    const notes = [note(60, 0, 240), note(64, 100, 300), note(60, 260, 240)];
    const parameters = { gap: milliseconds(20), velocity: 'loudest' as const };
    expect(placesOf(merge.run(notes, plain, parameters).notes)).toEqual(['60 0+500', '64 100+300']);
  });
});

describe('Merge that judges overlaps', () => {
  // 480 ticks to the quarter at 120: 0.96 ticks a millisecond.
  const judged = (...notes: ReturnType<typeof note>[]) =>
    placesOf(merge.run(notes, plain, { ...merge.defaults, overlaps: 'judge' }).notes);

  it('keeps a key that is struck again before it came up: the first ends there, down the whole chain', () => {
    const notes = [note(60, 0, 500), note(60, 480, 520), note(60, 960, 240)];
    expect(judged(...notes)).toEqual(['60 0+480', '60 480+480', '60 960+240']);
    const { changes } = merge.run(notes, plain, { ...merge.defaults, overlaps: 'judge' });
    expect(changes[0]?.reason).toBe('ends where the C4 is struck again');
  });

  it('joins a soft double, whole or with its end taken for the note’s', () => {
    expect(judged(note(60, 0, 480), note(60, 200, 100, { velocity: 30 }))).toEqual(['60 0+480']);
    expect(judged(note(60, 0, 300), note(60, 200, 280, { velocity: 30 }), note(62, 480, 400))).toEqual([
      '60 0+480',
      '62 480+400',
    ]);
  });

  it('joins two takes of one note, and no quick repeat', () => {
    expect(judged(note(60, 0, 400), note(60, 60, 400))).toEqual(['60 0+460']);
    expect(judged(note(60, 0, 80), note(60, 60, 80))).toEqual(['60 0+60', '60 60+80']);
  });
});

describe('Gather chords', () => {
  it('brings notes within the window to the middle one’s start and keeps their ends', () => {
    const { notes, changes } = gatherChords.run(
      [note(60, 0, 400), note(64, 10, 400), note(67, 30, 400)],
      plain,
      gatherChords.defaults,
    );
    expect(placesOf(notes)).toEqual(['60 10+390', '64 10+400', '67 10+420']);
    expect(changes.map((change) => change.reason)).toEqual([
      '10 ms early in a chord of 3',
      '20 ms late in a chord of 3',
    ]);
  });

  it('leaves a roll wider than the window', () => {
    const roll = [note(60, 0, 400), note(64, 40, 400), note(67, 80, 400)];
    expect(gatherChords.run(roll, plain, gatherChords.defaults).changes).toEqual([]);
  });

  it('never joins a repeat of one pitch', () => {
    expect(gatherChords.run([note(60, 0, 15), note(60, 20, 100)], plain, gatherChords.defaults).changes).toEqual([]);
  });
});

describe('Quantize starts', () => {
  const run = (onsets: number[], parameters: Partial<typeof quantizeStarts.defaults>, context = plain) =>
    quantizeStarts
      .run(
        onsets.map((onset, index) => note(60 + index, onset, 100)),
        context,
        { ...quantizeStarts.defaults, ...parameters },
      )
      .notes.map((n) => n.onset);

  it('moves starts to a given grid', () => {
    expect(run([5, 130, 350], { grid: 1 / 16 })).toEqual([0, 120, 360]);
    expect(run([5, 165, 310], { grid: 1 / 12 })).toEqual([0, 160, 320]);
  });

  it('goes part of the way at less than full strength', () => {
    expect(run([100], { grid: 1 / 16, strength: 50 })).toEqual([110]);
  });

  it('moves the second of each pair by the swing', () => {
    expect(run([0, 240, 480, 720], { grid: 1 / 8, swing: 66.6667 })).toEqual([0, 320, 480, 800]);
  });

  it('leaves alone what is nearly right, and what is too far off', () => {
    expect(run([8, 150], { grid: 1 / 16, leaveAloneWithin: milliseconds(10) })).toEqual([8, 120]);
    expect(run([8, 170], { grid: 1 / 16, moveAtMost: milliseconds(20) })).toEqual([0, 170]);
  });

  it('keeps lengths, or ends where asked', () => {
    const lengths = (kept: 'keep' | 'end') =>
      quantizeStarts.run([note(60, 20, 100)], plain, { ...quantizeStarts.defaults, grid: 1 / 4, lengths: kept })
        .notes[0]?.duration;
    expect(lengths('keep')).toBe(100);
    expect(lengths('end')).toBe(120);
  });

  it('starts its grid anew in each bar', () => {
    const fiveEighths = contextIn({ numerator: 5, denominator: 8 });
    expect(run([1210], { grid: 1 / 4 }, fiveEighths)).toEqual([1200]);
  });

  it('finds triplets and sixteenths side by side, beat by beat', () => {
    const played = [4, 165, 314, 474, 604, 715, 848, 962];
    expect(run(played, {})).toEqual([0, 160, 320, 480, 600, 720, 840, 960]);
  });

  it('takes a start just before the beat for the beat', () => {
    expect(run([470, 955, 1432], {})).toEqual([480, 960, 1440]);
  });

  it('gives two starts two places', () => {
    const targets = run([0, 240, 425, 480, 720, 960], {});
    expect(new Set(targets).size).toBe(6);
  });

  it('says how far off a start was, and where it went', () => {
    const { changes } = quantizeStarts.run([note(60, 1932, 100)], plain, { ...quantizeStarts.defaults, grid: 1 / 4 });
    expect(changes[0]?.reason).toBe('12 ms late for bar 2 beat 1');
  });
});

describe('Trim overlaps', () => {
  it('ends notes where the next chord begins; chord tones keep together', () => {
    const notes = [note(60, 0, 600), note(64, 0, 700), note(62, 480, 300)];
    expect(placesOf(trimOverlaps.run(notes, plain, trimOverlaps.defaults).notes)).toEqual([
      '60 0+480',
      '64 0+480',
      '62 480+300',
    ]);
  });

  it('looks at the same pitch only where asked, and leaves room', () => {
    const notes = [note(60, 0, 600), note(64, 100, 600), note(60, 480, 100)];
    const parameters = { against: 'samePitch' as const, leave: 10 };
    expect(placesOf(trimOverlaps.run(notes, plain, parameters).notes)).toEqual([
      '60 0+470',
      '64 100+600',
      '60 480+100',
    ]);
  });

  it('keeps gaps', () => {
    expect(trimOverlaps.run([note(60, 0, 200), note(62, 480, 100)], plain, trimOverlaps.defaults).changes).toEqual([]);
  });
});

describe('Shortest duration', () => {
  it('lengthens as far as there is room', () => {
    const notes = [note(60, 0, 30), note(62, 60, 30), note(64, 480, 30)];
    expect(placesOf(shortestDuration.run(notes, plain, shortestDuration.defaults).notes)).toEqual([
      '60 0+60',
      '62 60+120',
      '64 480+120',
    ]);
  });

  it('removes where asked', () => {
    const parameters = { ...shortestDuration.defaults, action: 'remove' as const, atLeast: noteValue(1 / 32) };
    expect(placesOf(shortestDuration.run([note(60, 0, 59), note(62, 100, 60)], plain, parameters).notes)).toEqual([
      '62 100+60',
    ]);
  });

  it('never runs into the next note of its pitch', () => {
    const parameters = { ...shortestDuration.defaults, stopAt: 'samePitch' as const };
    const notes = [note(60, 0, 20), note(62, 30, 20), note(60, 80, 200)];
    expect(placesOf(shortestDuration.run(notes, plain, parameters).notes)).toEqual([
      '60 0+80',
      '62 30+120',
      '60 80+200',
    ]);
  });
});
