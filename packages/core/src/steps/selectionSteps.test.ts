/** Worked examples of the steps that are mostly used on a selection. At 480 PPQ, where a tick lasts a millisecond. */

import { describe, expect, it } from 'vitest';
import { stepEdit } from '../edits/stepEdit.js';
import type { Part } from '../model/arrangement.js';
import { applyEdit, invertEdit } from '../model/edit.js';
import type { KeptFeel } from '../model/keptFeel.js';
import { NOTHING, selectionOf } from '../model/selection.js';
import type { StepId } from '../model/stepParameters.js';
import type { StepContext } from '../reading/context.js';
import type { StepNote } from '../reading/stepNote.js';
import { arrangementWith, contextIn, note, partWith, pedal, placesOf } from '../testing/kit.js';
import { milliseconds, noteValue } from '../time/noteLengths.js';
import { planStep, runStep, stepById } from './registry.js';

const run = (step: StepId, notes: StepNote[], parameters: object = {}, context: StepContext = contextIn()) =>
  runStep(planStep(step, parameters), notes, context);
const places = (step: StepId, notes: StepNote[], parameters: object = {}, context?: StepContext) =>
  placesOf(run(step, notes, parameters, context).notes);
const velocities = (step: StepId, values: number[], parameters: object) =>
  run(
    step,
    values.map((velocity, k) => note(60, k * 480, 240, { velocity })),
    parameters,
  ).notes.map((n) => n.velocity);

describe('Quantize ends', () => {
  it('moves ends to the grid, never nearer to the start than one unit', () => {
    expect(places('quantizeEnds', [note(60, 0, 470), note(62, 480, 30), note(64, 960, 130)])).toEqual([
      '60 0+480',
      '62 480+120',
      '64 960+120',
    ]);
  });

  it('goes part of the way where the strength is less', () => {
    expect(places('quantizeEnds', [note(60, 0, 460)], { strength: 50 })).toEqual(['60 0+470']);
  });
});

describe('Close gaps', () => {
  it('lengthens to the next start over short gaps; longer ones are rests', () => {
    expect(places('closeGaps', [note(60, 0, 400), note(62, 480, 100), note(64, 960, 100)])).toEqual([
      '60 0+480',
      '62 480+100',
      '64 960+100',
    ]);
  });

  it('closes over a chord together', () => {
    expect(places('closeGaps', [note(60, 0, 400), note(64, 0, 380), note(62, 480, 480)])).toEqual([
      '60 0+480',
      '64 0+480',
      '62 480+480',
    ]);
  });
});

describe('Match', () => {
  const three = () => [note(60, 0, 100), note(62, 480, 300), note(64, 960, 200)];
  it.each([
    ['first', 100],
    ['longest', 300],
    ['shortest', 100],
    ['median', 200],
  ])('lengths: the %s', (value, length) => {
    expect(run('matchLengths', three(), { value }).notes.map((n) => n.duration)).toEqual([length, length, length]);
  });

  it('lengths: as typed, in any unit', () => {
    expect(places('matchLengths', [note(60, 0, 7)], { value: 'typed', typed: noteValue(1 / 8) })).toEqual(['60 0+240']);
    expect(places('matchLengths', [note(60, 0, 7)], { value: 'typed', typed: milliseconds(90) })).toEqual(['60 0+90']);
  });

  it.each([
    ['first', 70],
    ['loudest', 90],
    ['softest', 40],
    ['median', 70],
  ])('velocity: the %s', (value, velocity) => {
    expect(velocities('matchVelocity', [70, 90, 40], { value })).toEqual([velocity, velocity, velocity]);
  });
});

describe('Even chord ends', () => {
  const chord = () => [note(60, 0, 300), note(64, 5, 500), note(67, 8, 400), note(72, 960, 100)];
  it.each([
    ['longest', 505],
    ['median', 408],
    ['lowest', 300],
  ])('to the %s; a single note stays', (to, end) => {
    const ends = run('evenChordEnds', chord(), { to }).notes.map((n) => n.onset + n.duration);
    expect(ends).toEqual([end, end, end, 1060]);
  });
});

describe('Velocity', () => {
  it('range: a floor and a ceiling', () => {
    expect(velocities('velocityRange', [10, 64, 120], { floor: 40, ceiling: 100 })).toEqual([40, 64, 100]);
  });

  it('scale: multiplies and adds, squeezes about the middle, tilts', () => {
    expect(velocities('velocityScale', [40, 60, 80], { factor: 1.5, amount: -10 })).toEqual([50, 80, 110]);
    expect(velocities('velocityScale', [40, 60, 80], { squeeze: 50 })).toEqual([50, 60, 70]);
    expect(velocities('velocityScale', [60, 60, 60], { tilt: 20 })).toEqual([40, 60, 80]);
  });

  it('scale: keeps within 1 and 127, and says so', () => {
    const { notes, changes } = run('velocityScale', [note(60, 0, 100, { velocity: 100 })], { factor: 2 });
    expect(notes[0]?.velocity).toBe(127);
    expect(changes[0]?.reason).toContain('kept within 1 and 127');
  });

  it('scale: varies the same way for the same chance number', () => {
    const vary = (seed: number, notes: StepNote[]) =>
      run('velocityScale', notes, { vary: 10, seed }).notes.map((n) => n.velocity);
    const notes = [1, 2, 3, 4].map((k) => note(60, k * 480, 100));
    expect(vary(3, notes)).toEqual(vary(3, notes));
    expect(vary(3, notes)).not.toEqual(vary(4, notes));
  });
});

describe('Humanize', () => {
  const line = Array.from({ length: 200 }, (_, k) => note(60, k * 240, 200));
  it('moves by about what is asked, the same way for the same chance number', () => {
    const { notes } = run('humanize', line, { timing: 8 });
    const offsets = notes.map((n, k) => n.onset - k * 240);
    const deviation = Math.sqrt(offsets.reduce((sum, off) => sum + off * off, 0) / offsets.length);
    expect(deviation).toBeGreaterThan(6);
    expect(deviation).toBeLessThan(10);
    expect(run('humanize', line, { timing: 8 }).notes).toEqual(notes);
  });

  it('never crosses a neighbour of its pitch', () => {
    const close = Array.from({ length: 50 }, (_, k) => note(60, k * 10, 8));
    const onsets = run('humanize', close, { timing: 60 }).notes.map((n) => n.id);
    expect(onsets).toEqual(close.map((n) => n.id));
  });
});

const strikes = (...onsets: readonly number[]) => onsets.map((onset) => ({ onset, velocity: 80 }));

describe('Follow', () => {
  const context = { ...contextIn(), strikesOf: (id: number) => (id === 2 ? strikes(12, 470, 1400) : []) };
  it('takes the leader’s time where it has a start near', () => {
    expect(places('follow', [note(60, 0, 100), note(62, 480, 100), note(64, 960, 100)], { part: 2 }, context)).toEqual([
      '60 12+100',
      '62 470+100',
      '64 960+100',
    ]);
  });

  // Off-beats forty ticks late, first beats ten early and twenty louder; the leader rests from the third bar on.
  const feeling = Array.from({ length: 32 }, (_, k) => ({
    onset: k * 240 + (k % 2 === 1 ? 40 : k % 8 === 0 ? -10 : 0) + (k === 0 ? 10 : 0),
    velocity: k % 8 === 0 ? 95 : 75,
  }));
  const groove = { ...contextIn(), strikesOf: (id: number) => (id === 2 ? feeling : []) };

  it('takes the leader’s feel, place by place in the bar, also where it rests', () => {
    const straight = [0, 240, 480, 1920, 2160].map((tick) => note(60, 11_520 + tick, 100, { velocity: 60 }));
    const felt = run('follow', straight, { part: 2, takes: 'feel' }, groove).notes;
    expect(felt.map(({ onset }) => onset - 11_520)).toEqual([-10, 280, 480, 1910, 2200]);
    expect(felt.map(({ velocity }) => velocity)).toEqual([80, 60, 60, 80, 60]);
    const half = run('follow', straight, { part: 2, takes: 'feel', strength: 50 }, groove).notes;
    expect(half.map(({ onset }) => onset - 11_520)).toEqual([-5, 260, 480, 1915, 2180]);
    expect(half.map(({ velocity }) => velocity)).toEqual([70, 60, 60, 70, 60]);
  });

  it('keeps a swell of its own under the leader’s feel, and leaves alone what is far from any place', () => {
    const swell = Array.from({ length: 16 }, (_, k) => note(60, k * 480, 100, { velocity: 40 + 4 * k }));
    const felt = run('follow', swell, { part: 2, takes: 'feel' }, groove).notes;
    expect((felt[15]?.velocity ?? 0) - (felt[3]?.velocity ?? 0)).toBeGreaterThan(16);
    const [off] = run(
      'follow',
      [note(60, 300, 100)],
      { part: 2, takes: 'feel', window: milliseconds(5) },
      groove,
    ).notes;
    expect(off?.onset).toBe(300);
    const alone = { ...contextIn(), strikesOf: () => [] };
    const notes = [note(60, 3, 100)];
    expect(run('follow', notes, { part: 2, takes: 'feel' }, alone).notes).toBe(notes);
  });

  it('takes a feel that was kept: by place in bars of its length, by place in the beat in others, with no part at all', () => {
    const kept: KeptFeel = {
      name: 'Laid back',
      bar: 16,
      places: [
        { sixteenth: 0, late: -10, louder: 20, met: 4 },
        { sixteenth: 2, late: 40, louder: 0, met: 4 },
        { sixteenth: 4, late: 5, louder: 0, met: 4 },
        { sixteenth: 6, late: 30, louder: 0, met: 4 },
      ],
    };
    const straight = [0, 240, 480, 720, 960, 1200].map((tick) => note(60, 1920 + tick, 100, { velocity: 60 }));
    const parameters = { part: 0, takes: 'feel', kept } as const;
    // Where a place is not said, the middle one of its kind in the beat is (the later of two).
    const felt = run('follow', straight, parameters);
    expect(felt.notes.map(({ onset }) => onset - 1920)).toEqual([-10, 280, 485, 750, 965, 1240]);
    expect(felt.notes.map(({ velocity }) => velocity)).toEqual([80, 60, 60, 60, 80, 60]);
    expect(felt.changes[1]?.reason).toBe('40 ms later: as “Laid back” is played at this place in the bar');
    const inThree = run('follow', straight, parameters, contextIn({ numerator: 3, denominator: 4 })).notes;
    expect(inThree.map(({ onset }) => onset - 1920)).toEqual([5, 280, 485, 760, 965, 1240]);
    expect(stepById('follow').looksAt?.({ ...stepById('follow').defaults, ...parameters, part: 2 })).toEqual({});
  });

  it('follows nobody where no part is named', () => {
    expect(run('follow', [note(60, 0, 100)], {}, context).changes).toEqual([]);
  });
});

describe('Pull in the start', () => {
  it('pulls a note from just before bar 2 after silence onto it; its end stays', () => {
    expect(places('pullInStart', [note(60, 1880, 520), note(62, 2400, 400)])).toEqual(['60 1920+480', '62 2400+400']);
  });

  it('leaves a pickup, and what follows other notes', () => {
    expect(run('pullInStart', [note(60, 1680, 240), note(62, 1920, 400)]).changes).toEqual([]);
    expect(run('pullInStart', [note(60, 960, 900), note(62, 1880, 520)]).changes).toEqual([]);
  });
});

describe('Transpose', () => {
  it('by semitones, octaves, and steps of the key', () => {
    expect(run('transpose', [note(60, 0, 1)], { semitones: 3, octaves: -1 }).notes[0]?.pitch).toBe(51);
    const inG = { ...contextIn(), fifths: 1 };
    expect([67, 71, 72, 78].map((p) => run('transpose', [note(p, 0, 1)], { steps: 2 }, inG).notes[0]?.pitch)).toEqual([
      71, 74, 76, 81,
    ]);
  });

  it('leaves what would go beyond 0 and 127', () => {
    const { changes, notice } = run('transpose', [note(120, 0, 1), note(60, 0, 1)], { octaves: 1 });
    expect(changes.map((change) => change.from.pitch)).toEqual([60]);
    expect(notice).toBe('Left alone, as they would leave 0 to 127: 1 note.');
    expect(run('transpose', [note(60, 0, 1)], { octaves: 1 }).notice).toBeUndefined();
  });
});

describe('Split evenly', () => {
  it('cuts into repeats, the last takes what is left', () => {
    const { notes } = run('splitEvenly', [note(60, 0, 600)], { value: noteValue(1 / 8) });
    expect(placesOf(notes)).toEqual(['60 0+240', '60 240+240', '60 480+120']);
    expect(new Set(notes.map((n) => n.id)).size).toBe(3);
  });

  it('cuts once where asked', () => {
    expect(places('splitEvenly', [note(60, 0, 600)], { value: noteValue(1 / 8), once: true })).toEqual([
      '60 0+240',
      '60 240+360',
    ]);
  });
});

describe('Every n-th', () => {
  const six = () => [0, 1, 2, 3, 4, 5].map((k) => note(60, k * 480, 100));
  it('keeps or drops, counted in time', () => {
    expect(run('everyNth', six(), { n: 3 }).notes.map((n) => n.onset)).toEqual([0, 1440]);
    expect(run('everyNth', six(), { n: 3, offset: 2, action: 'drop' }).notes.map((n) => n.onset / 480)).toEqual([
      0, 2, 3, 5,
    ]);
  });

  it('selects and changes nothing where asked', () => {
    const notes = six();
    const result = run('everyNth', notes, { n: 2, offset: 2, action: 'pick' });
    expect(result.picked).toEqual([1, 3, 5].map((k) => notes[k]?.id));
    expect(result.changes).toEqual([]);
    expect(result.notes).toBe(notes);
  });
});

describe('Stretch', () => {
  it('doubles about the first start', () => {
    expect(places('stretch', [note(60, 480, 240), note(62, 720, 240)], { ratio: 200 })).toEqual([
      '60 480+480',
      '62 960+480',
    ]);
  });

  it('about its end or its middle, but never before bar 1', () => {
    const two = () => [note(60, 960, 240), note(62, 1200, 240)];
    expect(places('stretch', two(), { ratio: 200, about: 'end' })).toEqual(['60 480+480', '62 960+480']);
    expect(places('stretch', two(), { ratio: 50, about: 'middle' })).toEqual(['60 1080+120', '62 1200+120']);
    expect(places('stretch', [note(60, 240, 480)], { ratio: 400, about: 'end' })).toEqual(['60 0+1920']);
  });

  it('says by how much what follows is to move', () => {
    expect(run('stretch', [note(60, 480, 480)], { ratio: 200, after: 'moves' }).follows).toEqual({
      from: 960,
      by: 480,
    });
    expect(run('stretch', [note(60, 480, 480)], { ratio: 200 }).follows).toBeUndefined();
  });
});

describe('Sustain to durations', () => {
  const events = pedal(100, 1900);
  const held = () => [note(60, 0, 120), note(64, 480, 120), note(65, 960, 120), note(69, 962, 120)];
  it('to the pedal’s end, to the next attack, or to the next harmony', () => {
    const ends = (limit: string) =>
      run('sustainToDurations', held(), { limit }, contextIn(undefined, { events, instrument: 'piano' })).notes.map(
        (n) => n.onset + n.duration,
      );
    expect(ends('pedalUp')).toEqual([1900, 1900, 1900, 1900]);
    expect(ends('nextAttack')).toEqual([480, 960, 1900, 1900]);
    expect(ends('voice')).toEqual([120, 600, 1080, 1082]);
  });

  it('with the harmony: until an attack shares fewer than half of its pitches', () => {
    const chords = [
      note(60, 0, 100),
      note(64, 0, 100),
      note(67, 480, 100),
      note(64, 480, 100),
      note(65, 960, 100),
      note(69, 960, 100),
    ];
    const ends = run('sustainToDurations', chords, { limit: 'nextHarmony' }, contextIn(undefined, { events })).notes;
    expect(ends.filter((n) => n.onset === 0 && n.pitch === 60)[0]?.duration).toBe(960);
  });

  it('sostenuto holds only what was down when it was pressed', () => {
    const sostenuto = pedal(50, 1000).map((event) => ({ ...event, controller: 66 }) as (typeof events)[number]);
    const context = contextIn(undefined, { events: sostenuto });
    expect(places('sustainToDurations', [note(60, 0, 200), note(64, 300, 200)], { limit: 'pedalUp' }, context)).toEqual(
      ['60 0+1000', '64 300+200'],
    );
  });
});

describe('De-duplicate across parts', () => {
  const above = [{ name: 'Flute', instrument: contextIn().instrument, notes: [note(60, 2, 400)] }];
  const context = { ...contextIn(), earlierParts: () => above };
  it('takes out what a part above has at the same time, only where asked', () => {
    const notes = () => [note(60, 0, 400), note(62, 480, 400)];
    expect(places('deDuplicate', notes(), { acrossParts: true }, context)).toEqual(['62 480+400']);
    expect(run('deDuplicate', notes(), {}, context).changes).toEqual([]);
  });
});

describe('Quantize starts, ends too', () => {
  it('moves both ends to the grid, never nearer than one unit', () => {
    const parameters = { grid: 1 / 8, lengths: 'both' };
    expect(places('quantizeStarts', [note(60, 10, 450), note(62, 480, 60)], parameters)).toEqual([
      '60 0+480',
      '62 480+240',
    ]);
  });
});

describe('Separate voices', () => {
  const voicesOf = (notes: StepNote[], instrument = 'piano', parameters = {}) =>
    run('separateVoices', notes, parameters, contextIn(undefined, { instrument })).notes.map((n) => [
      n.pitch,
      n.staff ?? 1,
      n.voice ?? 1,
    ]);
  it('keeps chords in one voice, and lets a held note have its own', () => {
    expect(voicesOf([note(60, 0, 460), note(64, 0, 440), note(62, 480, 460)], 'violin')).toEqual([
      [60, 1, 1],
      [64, 1, 1],
      [62, 1, 1],
    ]);
    expect(voicesOf([note(60, 0, 1800), note(72, 0, 440), note(74, 480, 460), note(76, 960, 460)], 'violin')).toEqual([
      [60, 1, 2],
      [72, 1, 1],
      [74, 1, 1],
      [76, 1, 1],
    ]);
  });

  it('puts a held melody above what moves', () => {
    expect(voicesOf([note(60, 0, 440), note(76, 0, 1800), note(62, 480, 440)], 'violin')).toEqual([
      [60, 1, 2],
      [76, 1, 1],
      [62, 1, 2],
    ]);
  });

  it('gives each hand a staff, by span and motion and not by one pitch', () => {
    const climbing = [0, 1, 2, 3].flatMap((k) => [
      note(40 + k * 5, k * 480, 460),
      note(47 + k * 5, k * 480, 460),
      note(64 + k * 5, k * 480, 460),
      note(71 + k * 5, k * 480, 460),
    ]);
    const staves = voicesOf(climbing).map(([, staff]) => staff);
    expect(staves).toEqual([2, 2, 1, 1, 2, 2, 1, 1, 2, 2, 1, 1, 2, 2, 1, 1]);
  });

  it('is one voice for a one-note instrument, whatever overlaps', () => {
    expect(voicesOf([note(60, 0, 1800), note(72, 480, 440)], 'flute')).toEqual([
      [60, 1, 1],
      [72, 1, 1],
    ]);
  });
});

describe('a step on a selection', () => {
  const notes = [note(60, 0, 400), note(62, 480, 400), note(64, 960, 400)];
  const arrangement = arrangementWith([partWith(notes)]);
  const part = arrangement.parts[0] as Part;

  it('changes the selected notes alone, seeing their neighbours', () => {
    const { touched, edit } = stepEdit(arrangement, selectionOf(part.id, [notes[0]?.id ?? 0]), 'closeGaps');
    expect(touched).toBe(1);
    expect(edit?.label).toBe('Close gaps: 1 note in Flute');
    const after = applyEdit(arrangement, edit as never);
    expect(placesOf(after.parts[0]?.notes ?? [])).toEqual(['60 0+480', '62 480+400', '64 960+400']);
    expect(applyEdit(after, invertEdit(edit as never)).parts).toEqual(arrangement.parts);
  });

  it('gives new notes ids of their own', () => {
    const { edit } = stepEdit(arrangement, selectionOf(part.id, [notes[1]?.id ?? 0]), 'splitEvenly');
    const after = applyEdit(arrangement, edit as never).parts[0]?.notes ?? [];
    expect(after).toHaveLength(4);
    expect(new Set(after.map((n) => n.id)).size).toBe(4);
  });

  it('takes out the pedal it used, where the whole part is selected', () => {
    const pedalled = arrangementWith([partWith(notes, { events: pedal(200, 470), instrument: 'vibraphone' })]);
    const all = stepEdit(
      pedalled,
      selectionOf(
        1,
        notes.map((n) => n.id),
      ),
      'sustainToDurations',
    );
    expect(applyEdit(pedalled, all.edit as never).parts[0]?.events).toEqual([]);
    const one = stepEdit(pedalled, selectionOf(1, [notes[0]?.id ?? 0]), 'sustainToDurations');
    expect(applyEdit(pedalled, one.edit as never).parts[0]?.events).toHaveLength(2);
  });

  it('does nothing where nothing is selected', () => {
    expect(stepEdit(arrangement, NOTHING, 'closeGaps')).toEqual({ touched: 0, edit: null, doubts: [] });
  });
});

describe('chords that are spread as they are struck', () => {
  // A chord of four over 11 ms, as hands play it; then a line.
  const spread = () => [note(48, 0, 900), note(55, 4, 880), note(60, 7, 890), note(64, 11, 870)];

  it('never cut each other, whatever they are trimmed against', () => {
    for (const against of ['samePitch', 'anyPitch', 'nextChord']) {
      expect(run('trimOverlaps', spread(), { against }).changes).toEqual([]);
    }
    const next = note(65, 480, 400);
    expect(places('trimOverlaps', [...spread(), next], { against: 'anyPitch' })).toEqual([
      '48 0+480',
      '55 4+476',
      '60 7+473',
      '64 11+469',
      '65 480+400',
    ]);
  });

  it('end at the next note, or at the next chord under single notes in between, as asked', () => {
    const bass = note(40, 0, 2000);
    const line = [note(60, 480, 400), note(62, 960, 400)];
    const chord = [note(64, 1440, 400), note(67, 1446, 400)];
    const ends = (against: string) => run('trimOverlaps', [bass, ...line, ...chord], { against }).notes[0]?.duration;
    expect(ends('anyPitch')).toBe(480);
    expect(ends('nextChord')).toBe(1440);
    expect(ends('samePitch')).toBe(2000);
    expect(run('trimOverlaps', [bass, ...line], { against: 'nextChord' }).changes).toEqual([]);
  });

  it('are never lengthened to each other’s starts', () => {
    const short = [note(48, 0, 5), note(55, 8, 60), note(60, 480, 100)];
    expect(places('closeGaps', short, { upTo: noteValue(1 / 2) })).toEqual(['48 0+480', '55 8+472', '60 480+100']);
  });

  it('keep notes of a quick run apart', () => {
    // Thirty-second triplets at 125: 40 ms each. A run is no chord.
    const rapid = [0, 40, 80, 120].map((onset, k) => note(60 + k, onset, 70));
    expect(places('trimOverlaps', rapid, { against: 'anyPitch' })).toEqual([
      '60 0+40',
      '61 40+40',
      '62 80+40',
      '63 120+70',
    ]);
  });
});

describe('choices that differ', () => {
  it('Close gaps: to the next note, or over single notes to the next chord', () => {
    const notes = [note(48, 0, 400), note(60, 480, 200), note(62, 720, 240), note(65, 720, 240)];
    const closed = (to: string) => run('closeGaps', notes, { to, upTo: noteValue(1 / 4) }).notes[0]?.duration;
    expect(closed('note')).toBe(480);
    expect(closed('chord')).toBe(720);
    expect(run('closeGaps', notes, { to: 'chord', upTo: noteValue(1 / 8) }).notes[0]?.duration).toBe(400);
  });

  it('Merge: loudness of the first, or of the loudest', () => {
    const notes = [
      note(60, 0, 300, { velocity: 40 }),
      note(60, 200, 300, { velocity: 99 }),
      note(60, 450, 90, { velocity: 70 }),
    ];
    const velocity = (which: string) => run('merge', notes, { velocity: which }).notes[0]?.velocity;
    expect(velocity('first')).toBe(40);
    expect(velocity('loudest')).toBe(99);
  });

  it('Follow: the nearest start of the leader, not the one before', () => {
    const context = { ...contextIn(), strikesOf: () => strikes(0, 460, 1000) };
    expect(places('follow', [note(60, 400, 100), note(62, 990, 100)], { part: 2 }, context)).toEqual([
      '60 460+100',
      '62 1000+100',
    ]);
  });

  it('Sustain to durations: the pedal is used up, or kept as a sign', () => {
    const context = contextIn(undefined, { events: pedal(0, 900) });
    const used = (keepPedal: boolean) =>
      run('sustainToDurations', [note(60, 10, 100)], { keepPedal, limit: 'pedalUp' }, context).eventsUsed;
    expect(used(false)).toHaveLength(2);
    expect(used(true)).toEqual([]);
  });
});

describe('doubles of parts above', () => {
  const above = (notes: StepNote[]) => ({
    ...contextIn(),
    earlierParts: () => [{ name: 'Oboe', instrument: contextIn().instrument, notes }],
  });
  const taken = (own: StepNote[], notes: StepNote[]) =>
    run('deDuplicate', own, { acrossParts: true }, above(notes)).changes.map(({ reason }) => reason);

  it('are found where they start together, and hidden under a longer note', () => {
    expect(taken([note(60, 8, 400)], [note(60, 0, 400)])).toEqual(['Oboe has the same C4']);
    expect(taken([note(60, 500, 60)], [note(60, 0, 1900)])).toEqual(['hidden under a longer C4 of Oboe']);
    // The note before it in the part above is over by then.
    expect(taken([note(60, 500, 60)], [note(60, 0, 300), note(60, 250, 1900)])).toEqual([
      'hidden under a longer C4 of Oboe',
    ]);
    // Another note of the part above in between does not hide what lies under the long one.
    expect(taken([note(60, 500, 60)], [note(60, 0, 1900), note(60, 200, 30)])).toEqual([
      'hidden under a longer C4 of Oboe',
    ]);
  });

  it('are no real notes under another part’s', () => {
    expect(taken([note(60, 500, 480)], [note(60, 0, 1900)])).toEqual([]);
    expect(taken([note(60, 1880, 60)], [note(60, 0, 1900)])).toEqual([]);
  });
});

describe('reasons', () => {
  it('say nothing of a start that did not move', () => {
    const ended = run('quantizeStarts', [note(60, 480, 430)], { grid: 1 / 8, lengths: 'both' });
    expect(ended.changes.map(({ reason }) => reason)).toEqual(['its end goes to the grid']);
    const [louder] = run('humanize', [note(60, 480, 430)], { timing: 0, velocity: 20 }).changes;
    expect(louder?.reason).toMatch(/^velocity \d+$/);
  });

  it('do not round a hair up to a millisecond', () => {
    const fine = {
      ...contextIn(),
      ppq: 480 * 21,
      tempoMap: { ...contextIn().tempoMap, ticksPerMillisecond: () => 21 },
    };
    const [hair] = run('quantizeStarts', [note(60, 4, 900)], { grid: 1 / 4 }, fine).changes;
    expect(hair?.reason).toMatch(/^less than 1 ms late/);
  });
});
