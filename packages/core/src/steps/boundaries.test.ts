/** What steps do at their very bounds: one tick or one value this side and that. A tick lasts a millisecond. */
import { describe, expect, it } from 'vitest';
import type { StepId } from '../model/stepParameters.js';
import type { StepContext } from '../reading/context.js';
import type { StepNote } from '../reading/stepNote.js';
import { contextIn, note, pedal, placesOf } from '../testing/kit.js';
import { milliseconds, noteValue } from '../time/noteLengths.js';
import { planStep, runStep } from './registry.js';

const run = (step: StepId, notes: StepNote[], parameters: object = {}, context: StepContext = contextIn()) =>
  runStep(planStep(step, parameters), notes, context);
const places = (...asked: Parameters<typeof run>) => placesOf(run(...asked).notes);

describe('Close gaps', () => {
  it('looks past starts that the note sounds over, to the first after its end', () => {
    const line = () => [note(60, 0, 700), note(62, 240, 100), note(64, 480, 100), note(65, 800, 100)];
    expect(places('closeGaps', line())[0]).toBe('60 0+800');
  });

  it('to the next chord goes under single notes, and where there is no chord on', () => {
    const chord = () => [note(60, 720, 100), note(67, 720, 100)];
    const parameters = { to: 'chord', upTo: noteValue(1) };
    const line = () => [note(50, 0, 400), note(62, 480, 100), ...chord()];
    expect(places('closeGaps', line(), parameters)).toEqual(['50 0+720', '62 480+240', '60 720+100', '67 720+100']);
    expect(places('closeGaps', [note(50, 0, 400), note(62, 480, 100)], parameters)).toEqual(['50 0+400', '62 480+100']);
    expect(places('closeGaps', [note(50, 0, 400), note(62, 480, 100)])).toEqual(['50 0+480', '62 480+100']);
  });

  it('closes a gap of just the length that is asked, and no longer one', () => {
    const gap = (length: number) => places('closeGaps', [note(60, 0, 480 - length), note(62, 480, 100)])[0];
    expect([gap(240), gap(241)]).toEqual(['60 0+480', '60 0+239']);
  });
});

describe('De-duplicate', () => {
  it('takes a note under a longer one where it is shorter than a share of it, and than the bound', () => {
    const hidden = (cover: number, length: number) =>
      run('deDuplicate', [note(60, 0, cover), note(60, 100, length)]).notes.length === 1;
    // A quarter of the cover, where that is the shorter…
    expect([hidden(400, 99), hidden(400, 101)]).toEqual([true, false]);
    // …and a sixteenth where that is.
    expect([hidden(4000, 119), hidden(4000, 121)]).toEqual([true, false]);
  });
});

describe('Humanize', () => {
  it('leaves a length as it is where nothing stands in its way', () => {
    const notes = Array.from({ length: 12 }, (_, k) => note(60, k * 960, 300));
    const made = run('humanize', notes, { timing: 12, velocity: 0, lean: 0, seed: 3 }).notes;
    expect(made.some((n, k) => n.onset !== k * 960)).toBe(true);
    expect(made.every((n) => n.duration === 300)).toBe(true);
  });
});

describe('Match lengths', () => {
  it('gives the typed length at the tempo of each place', () => {
    const two = () => [note(60, 0, 100), note(62, 480, 300)];
    expect(places('matchLengths', two(), { value: 'typed', typed: milliseconds(250) })).toEqual([
      '60 0+250',
      '62 480+250',
    ]);
    expect(places('matchLengths', two(), { value: 'typed', typed: null })).toEqual(['60 0+100', '62 480+300']);
  });
});

describe('Quantize starts', () => {
  it('moves what lies just as far as it may, and leaves what lies further', () => {
    const moved = (off: number) =>
      places('quantizeStarts', [note(60, 480 + off, 100)], { grid: 1 / 4, moveAtMost: milliseconds(30) })[0];
    expect([moved(30), moved(31)]).toEqual(['60 480+100', '60 511+100']);
  });

  it('leaves alone what lies within, to the tick', () => {
    const moved = (off: number) =>
      places('quantizeStarts', [note(60, 480 + off, 100)], { grid: 1 / 4, leaveAloneWithin: milliseconds(30) })[0];
    expect([moved(30), moved(31)]).toEqual(['60 510+100', '60 480+100']);
  });

  it('tells the other line of a start that could have gone either way', () => {
    const { remarks = [] } = run('quantizeStarts', [note(60, 470, 100), note(62, 650, 100), note(64, 1150, 100)], {
      grid: 1 / 4,
    });
    expect(remarks.map(({ kind, others }) => [kind, others?.[0]?.start])).toEqual([
      ['eitherWay', 960],
      ['eitherWay', 1440],
    ]);
  });
});

describe('Shortest duration', () => {
  it('keeps notes in order, with nothing to do and with something', () => {
    const two = () => [note(60, 0, 10), note(62, 480, 480)];
    expect(places('shortestDuration', two(), { atLeast: noteValue(1 / 16), action: 'lengthen' })).toEqual([
      '60 0+120',
      '62 480+480',
    ]);
    const long = [note(60, 0, 480)];
    expect(run('shortestDuration', long).notes).toBe(long);
  });
});

describe('Split evenly', () => {
  it('leaves a note that is longer than one piece by rounding alone', () => {
    const pieces = (length: number) =>
      run('splitEvenly', [note(60, 0, length)], { value: noteValue(1 / 2) }).notes.length;
    expect([pieces(960), pieces(962)]).toEqual([1, 2]);
  });
});

describe('Sustain to durations', () => {
  const held = (...more: StepNote[]) =>
    placesOf(
      run('sustainToDurations', [note(48, 100, 300), ...more], {}, contextIn(undefined, { events: pedal(0, 1800) }))
        .notes,
    )[0];

  it('is held to the next attack, which is none of its own chord', () => {
    expect(held(note(52, 120, 200), note(60, 900, 200))).toBe('48 100+800');
    expect(held()).toBe('48 100+1700');
  });

  it('counts an attack at the very end of the key, and none while the key is down', () => {
    expect(held(note(60, 399, 100), note(62, 1000, 100))).toBe('48 100+900');
    expect(held(note(60, 400, 100), note(62, 1000, 100))).toBe('48 100+300');
  });
});

describe('Transpose', () => {
  it('reaches the lowest and the highest pitch, and not beyond', () => {
    const to = (pitch: number, semitones: number) =>
      run('transpose', [note(pitch, 0, 10)], { semitones }).notes[0]?.pitch;
    expect([to(5, -5), to(5, -6), to(120, 7), to(120, 8)]).toEqual([0, 5, 127, 120]);
    expect(run('transpose', [note(5, 0, 10)], { semitones: -6 }).notice).toContain('1 note');
    expect(run('transpose', [note(5, 0, 10)], { semitones: -5 }).notice).toBeUndefined();
  });
});

describe('Trim overlaps', () => {
  it('cuts at the next start of the pitch, also under several that begin together', () => {
    expect(
      places('trimOverlaps', [note(60, 0, 900), note(60, 0, 700), note(60, 480, 100)], { against: 'samePitch' }),
    ).toEqual(['60 0+480', '60 0+480', '60 480+100']);
  });
});

describe('Velocity scale', () => {
  it('tilts from the first note to the last, wherever they stand', () => {
    const notes = [480, 960, 1440].map((onset) => note(60, onset, 100, { velocity: 64 }));
    expect(run('velocityScale', notes, { tilt: 20 }).notes.map((n) => n.velocity)).toEqual([44, 64, 84]);
  });
});
