/** What comes in from files, at the bounds: several of everything, and nothing of it. */
import { describe, expect, it } from 'vitest';
import { applyEdit } from '../model/edit.js';
import { arrangementWith, note, partWith } from '../testing/kit.js';
import { END, file, header, oneTrack, text, track } from '../testing/smf.js';
import { addParts } from './addParts.js';
import { importMidi, stemOf } from './importMidi.js';
import { guessInstrument } from './names.js';
import { readMidi } from './readMidi.js';
import { writePlayedMidi } from './writeMidi.js';

const oneNote = (channel: number, pitch: number): number[] => [0, 0x90 | channel, pitch, 80, 96, pitch, 0];
const brought = (...files: (readonly [string, Uint8Array])[]) => {
  const result = importMidi(files.map(([name, bytes]) => ({ name, bytes })));
  if (!result.ok) throw new Error(result.problem.message);
  return result.value;
};
const warnings = (bytes: Uint8Array): string[] => {
  const result = readMidi(bytes);
  return result.ok ? result.value.warnings.map(({ code }) => code) : [result.problem.code];
};

describe('files', () => {
  it('of format 2 are told, and no others', () => {
    const tracks = [track([...oneNote(0, 60), ...END])];
    expect(warnings(file(header(2, 1, 96), ...tracks))).toEqual(['format2']);
    expect(warnings(file(header(1, 1, 96), ...tracks))).toEqual([]);
  });

  it('with something unreadable after their tracks are told', () => {
    const bytes = file(header(0, 1, 96), track([...oneNote(0, 60), ...END]), [1, 2, 3, 4, 0, 0, 0, 9]);
    expect(warnings(bytes)).toEqual(['garbage']);
  });

  it('have meters down to sixty-fourths, and none finer or of no beats', () => {
    const withMeter = (numerator: number, exponent: number) => {
      const result = readMidi(oneTrack([0, 0xff, 0x58, 4, numerator, exponent, 24, 8, ...oneNote(0, 60)]));
      return result.ok && result.value.meters.map((meter) => `${meter.numerator}/${meter.denominator}`).join();
    };
    expect([withMeter(3, 6), withMeter(3, 7), withMeter(0, 2)]).toEqual(['3/64', '', '']);
  });

  it('lose their folders, the ending alone, and keep a name that is an ending', () => {
    expect(stemOf('a/b\\c.d.mid')).toBe('c.d');
    expect(stemOf('.mid')).toBe('.mid');
    expect(stemOf('folder.v2/tune')).toBe('tune');
  });

  it('say which PPQs had to be rounded, each once', () => {
    const at = (ppq: number) => file(header(0, 1, ppq), track([...oneNote(0, 60), ...END]));
    const made = brought(['a.mid', at(9999)], ['b.mid', at(10_000)], ['c.mid', at(9999)]);
    const [told] = made.warnings.filter(({ code }) => code === 'roundedTicks');
    expect(told?.message).toContain('9999, 10000 ticks');
    expect(made.arrangement.ppq).toBe(10_000);
  });

  it('without a file are refused, and name the one that has no note', () => {
    expect(importMidi([])).toMatchObject({ ok: false, problem: { code: 'noFiles' } });
    const silent = oneTrack([0, 0xb0, 7, 90]);
    expect(importMidi([{ name: 'x.mid', bytes: silent }])).toMatchObject({
      problem: { message: 'x.mid: there is not one note in this file.' },
    });
    const both = [1, 2].map((k) => ({ name: `${k}.mid`, bytes: silent }));
    expect(importMidi(both)).toMatchObject({ problem: { message: 'None of these files holds a note.' } });
  });

  it('that count frames keep what else they hold at its place, in the tempo of that place', () => {
    // 25 frames of 40 ticks: 1000 ticks a second; the tempo halves after a second.
    const bytes = file(
      header(1, 2, ((256 - 25) << 8) | 40),
      track([
        ...[0x87, 0x68, 0xff, 0x51, 3, 0x0f, 0x42, 0x40],
        ...[0, 0xff, 6, 1, ...text('A')],
        ...[0, 0xff, 0x59, 2, 1, 0],
        ...[0, 0xff, 0x58, 4, 3, 2, 24, 8],
        ...END,
      ]),
      track([0x87, 0x68, 0xb0, 7, 90, 0x87, 0x68, 0x90, 60, 80, 0x87, 0x68, 60, 0, ...END]),
    );
    const result = readMidi(bytes);
    if (!result.ok) throw new Error(result.problem.message);
    const { tempos, markers, keys, meters, tracks } = result.value;
    expect([tempos[0]?.tick, markers[0]?.tick, keys[0]?.tick, meters[0]?.tick]).toEqual([960, 960, 960, 960]);
    expect(tracks[1]?.events[0]).toMatchObject({ kind: 'controller', tick: 960, value: 90 });
    expect(tracks[1]?.notes[0]).toMatchObject({ onset: 1440, duration: 480 });
  });
});

describe('added parts', () => {
  it('have ids that go on from those there, note by note and event by event', () => {
    const open = brought(['a.mid', oneTrack([0, 0xb0, 7, 1, 0, 0xb0, 7, 2, ...oneNote(0, 60)])]).arrangement;
    const more = brought(['b.mid', oneTrack([0, 0xb0, 7, 3, 0, 0xb0, 7, 4, ...oneNote(0, 62), ...oneNote(0, 64)])]);
    const after = applyEdit(open, addParts(open, more.arrangement).edit);
    expect(after.parts[1]?.notes.map(({ id }) => id)).toEqual([2, 3]);
    expect(after.parts[1]?.events.map(({ id }) => id)).toEqual([3, 4]);
    expect([after.nextNoteId, after.nextEventId, after.nextPartId]).toEqual([4, 5, 3]);
  });
});

describe('several added parts', () => {
  it('stand after those there, in their own order, with ids that go on from part to part', () => {
    const open = brought(['a.mid', oneTrack(oneNote(0, 60))], ['b.mid', oneTrack(oneNote(0, 61))]).arrangement;
    const more = brought(['c.mid', oneTrack(oneNote(0, 62))], ['d.mid', oneTrack(oneNote(0, 63))]).arrangement;
    const { parts } = applyEdit(open, addParts(open, more).edit);
    expect(parts.map(({ notes }) => notes[0]?.pitch)).toEqual([60, 61, 62, 63]);
    expect(parts.map(({ id }) => id)).toEqual([1, 2, 3, 4]);
    expect(new Set(parts.flatMap(({ notes }) => notes.map(({ id }) => id))).size).toBe(4);
  });
});

describe('a long track', () => {
  it('is written in pieces that make one track', () => {
    const line = Array.from({ length: 1300 }, (_, at) => ({ ...note(40 + (at % 50), at * 10, 10), id: at + 1 }));
    const back = readMidi(writePlayedMidi(arrangementWith([partWith(line)])));
    if (!back.ok) throw new Error(back.problem.message);
    const tracks = back.value.tracks.filter(({ notes }) => notes.length > 0);
    expect(tracks).toHaveLength(1);
    expect(tracks[0]?.notes.map(({ pitch, onset, duration }) => [pitch, onset, duration])).toEqual(
      line.map(({ pitch, onset, duration }) => [pitch, onset, duration]),
    );
    expect(back.value.warnings).toEqual([]);
  });
});

describe('parts of other ticks', () => {
  it('keep where notes begin and end, to the tick', () => {
    const open = brought(['a.mid', oneTrack(oneNote(0, 60))]).arrangement;
    // 480 ticks to the quarter beside 96: a note from 1440 to 1920 is one from 288 to 384.
    const other = file(header(0, 1, 480), track([0x8b, 0x20, 0x90, 62, 80, 0x83, 0x60, 62, 0, ...END]));
    const after = applyEdit(open, addParts(open, brought(['b.mid', other]).arrangement).edit);
    expect(after.ppq).toBe(96);
    expect(after.parts[1]?.notes[0]).toMatchObject({ onset: 288, duration: 96 });
  });
});

describe('the instrument', () => {
  it('is the name’s where the program is the first, or of its family; else the program’s', () => {
    const guessed = (name: string, program: number | null, channel = 0) => {
      const { instrument, from } = guessInstrument(name, channel, program);
      return [instrument.id, from];
    };
    expect(guessed('Viola', 40)).toEqual(['viola', 'name']);
    expect(guessed('Cello', 0)).toEqual(['cello', 'name']);
    expect(guessed('Horn', 40)).toEqual(['violin', 'program']);
    expect(guessed('Tune', 40)).toEqual(['violin', 'program']);
    expect(guessed('Tune', null)).toEqual(['other', 'nothing']);
    expect(guessed('Oboe', null)).toEqual(['oboe', 'name']);
    expect(guessed('Oboe', 68, 9)[1]).toBe('channel');
  });
});

describe('a part that is written', () => {
  const programsOf = (program: number | null, events: Parameters<typeof partWith>[1]) => {
    const bytes = writePlayedMidi(arrangementWith([partWith([note(60, 0, 480)], { program, ...events })]));
    const result = readMidi(bytes);
    return result.ok
      ? result.value.tracks.flatMap((t) => t.events.flatMap((e) => (e.kind === 'program' ? e.program : [])))
      : [];
  };
  it('has its program once: its own, or the one among its events, or none', () => {
    expect(programsOf(73, {})).toEqual([73]);
    expect(programsOf(null, {})).toEqual([]);
    const change = { id: 1, kind: 'program', tick: 0 as never, channel: 0, program: 11 } as const;
    expect(programsOf(73, { events: [change] })).toEqual([11]);
    expect(programsOf(73, { events: [{ ...change, channel: 5 }] }).sort((a, b) => a - b)).toEqual([11, 73]);
  });
});
