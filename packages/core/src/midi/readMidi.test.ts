import { parseMidi } from 'midi-file';
import { describe, expect, it } from 'vitest';
import type { MidiFile } from '../model/readFile.js';
import { END, file, header, oneTrack, text, track } from '../testing/smf.js';
import { ByteReader } from './byteReader.js';
import { readMidi } from './readMidi.js';

const read = (bytes: Uint8Array): MidiFile => {
  const result = readMidi(bytes);
  if (!result.ok) throw new Error(result.problem.message);
  return result.value;
};
const problemOf = (bytes: Uint8Array): string => {
  const result = readMidi(bytes);
  return result.ok ? 'read' : result.problem.code;
};
const warningsOf = (bytes: Uint8Array): string[] => read(bytes).warnings.map((warning) => warning.code);
const notesOf = (bytes: Uint8Array): string[] =>
  read(bytes).tracks.flatMap((t) =>
    t.notes.map((n) => `${n.channel}:${n.pitch} ${n.onset}+${n.duration} v${n.velocity}`),
  );

describe('variable-length quantities', () => {
  // Standard MIDI Files 1.0, table of examples.
  it.each([
    [[0x00], 0x00],
    [[0x40], 0x40],
    [[0x7f], 0x7f],
    [[0x81, 0x00], 0x80],
    [[0xc0, 0x00], 0x2000],
    [[0xff, 0x7f], 0x3fff],
    [[0x81, 0x80, 0x00], 0x4000],
    [[0xc0, 0x80, 0x00], 0x100000],
    [[0xff, 0xff, 0x7f], 0x1fffff],
    [[0x81, 0x80, 0x80, 0x00], 0x200000],
    [[0xc0, 0x80, 0x80, 0x00], 0x8000000],
    [[0xff, 0xff, 0xff, 0x7f], 0xfffffff],
  ])('reads %j as %i', (bytes, value) => {
    expect(new ByteReader(Uint8Array.from(bytes)).variableLength()).toBe(value);
  });

  it('refuses a fifth byte', () => {
    expect(() => new ByteReader(Uint8Array.from([0xff, 0xff, 0xff, 0xff, 0x7f])).variableLength()).toThrow();
  });
});

// The worked example of Standard MIDI Files 1.0 (an excerpt for three channels; from memory).
const EXAMPLE_EVENTS = [
  [0x00, 0xff, 0x58, 0x04, 0x04, 0x02, 0x18, 0x08],
  [0x00, 0xff, 0x51, 0x03, 0x07, 0xa1, 0x20],
  [0x00, 0xc0, 0x05],
  [0x00, 0xc1, 0x2e],
  [0x00, 0xc2, 0x46],
  [0x00, 0x92, 0x30, 0x60],
  [0x00, 0x3c, 0x60],
  [0x60, 0x91, 0x43, 0x40],
  [0x60, 0x90, 0x4c, 0x20],
  [0x81, 0x40, 0x82, 0x30, 0x40],
  [0x00, 0x3c, 0x40],
  [0x00, 0x81, 0x43, 0x40],
  [0x00, 0x80, 0x4c, 0x40],
  [0x00, 0xff, 0x2f, 0x00],
].flat();
const EXAMPLE_NOTES = ['2:48 0+384 v96', '2:60 0+384 v96', '1:67 96+288 v64', '0:76 192+192 v32'];

describe('the specification’s example files', () => {
  it('reads the format 0 example', () => {
    const bytes = file(header(0, 1, 96), track(EXAMPLE_EVENTS));
    expect(notesOf(bytes)).toEqual(EXAMPLE_NOTES);
    expect(read(bytes).meters).toEqual([{ tick: 0, numerator: 4, denominator: 4 }]);
    expect(read(bytes).tempos).toEqual([{ tick: 0, microsecondsPerQuarter: 500_000 }]);
    expect(warningsOf(bytes)).toEqual([]);
  });

  it('reads the format 1 example', () => {
    const bytes = file(
      header(1, 4, 96),
      track([0, 0xff, 0x58, 4, 4, 2, 0x18, 8, 0, 0xff, 0x51, 3, 7, 0xa1, 0x20, 0x83, 0, 0xff, 0x2f, 0]),
      track([0, 0xc0, 5, 0x81, 0x40, 0x90, 0x4c, 0x20, 0x81, 0x40, 0x4c, 0, 0, 0xff, 0x2f, 0]),
      track([0, 0xc1, 0x2e, 0x60, 0x91, 0x43, 0x40, 0x82, 0x20, 0x43, 0, 0, 0xff, 0x2f, 0]),
      track([0, 0xc2, 0x46, 0, 0x92, 0x30, 0x60, 0, 0x3c, 0x60, 0x83, 0, 0x30, 0, 0, 0x3c, 0, 0, 0xff, 0x2f, 0]),
    );
    expect(notesOf(bytes).sort()).toEqual([...EXAMPLE_NOTES].sort());
    expect(read(bytes).tracks).toHaveLength(4);
  });

  it('agrees with midi-file’s own reader on the example', () => {
    const theirs = parseMidi(file(header(0, 1, 96), track(EXAMPLE_EVENTS)));
    const ons = theirs.tracks[0]?.filter((event) => event.type === 'noteOn') ?? [];
    expect(ons.map((on) => on.noteNumber)).toEqual([48, 60, 67, 76]);
  });
});

describe('notes', () => {
  it('takes a note-on of velocity 0 for an end, under running status', () => {
    expect(notesOf(oneTrack([0, 0x90, 60, 80, 48, 60, 0, 0, 62, 70, 48, 62, 0]))).toEqual([
      '0:60 0+48 v80',
      '0:62 48+48 v70',
    ]);
  });

  it('pairs notes of one pitch first on with first off', () => {
    expect(notesOf(oneTrack([0, 0x90, 60, 80, 10, 60, 70, 10, 0x80, 60, 64, 10, 60, 64]))).toEqual([
      '0:60 0+20 v80',
      '0:60 10+20 v70',
    ]);
  });

  it('keeps notes of no length', () => {
    expect(notesOf(oneTrack([5, 0x90, 60, 80, 0, 60, 0]))).toEqual(['0:60 5+0 v80']);
  });

  it('ends a note that never ends with its track, and says so', () => {
    const bytes = oneTrack([0, 0x90, 60, 80, 96, 0xb0, 7, 100]);
    expect(notesOf(bytes)).toEqual(['0:60 0+96 v80']);
    expect(warningsOf(bytes)).toEqual(['neverEnded']);
  });

  it('counts and drops an end with no start', () => {
    const bytes = oneTrack([0, 0x80, 60, 64, 0, 0x90, 62, 80, 10, 62, 0]);
    expect(notesOf(bytes)).toEqual(['0:62 0+10 v80']);
    expect(warningsOf(bytes)).toEqual(['neverStarted']);
  });

  it('keeps the velocity of an end', () => {
    const [first] = read(oneTrack([0, 0x90, 60, 80, 10, 0x80, 60, 33])).tracks[0]?.notes ?? [];
    expect(first?.releaseVelocity).toBe(33);
  });
});

describe('everything else a track holds', () => {
  it('keeps controllers, programs, bends, pressures and system exclusive in order', () => {
    const { events } = read(
      oneTrack([
        0, 0xb3, 64, 127, 1, 0xc3, 11, 1, 0xe3, 0, 0x50, 1, 0xd3, 9, 1, 0xa3, 60, 5, 1, 0xf0, 3, 0x7e, 1, 0xf7,
      ]),
    ).tracks[0] as MidiFile['tracks'][number];
    expect(events).toEqual([
      { kind: 'controller', tick: 0, channel: 3, controller: 64, value: 127 },
      { kind: 'program', tick: 1, channel: 3, program: 11 },
      { kind: 'pitchBend', tick: 2, channel: 3, value: 0x50 * 128 },
      { kind: 'channelPressure', tick: 3, channel: 3, value: 9 },
      { kind: 'keyPressure', tick: 4, channel: 3, pitch: 60, value: 5 },
      { kind: 'sysex', tick: 5, escape: false, data: [0x7e, 1, 0xf7] },
    ]);
  });

  it('reads text as UTF-8, else as Latin-1', () => {
    const named = (bytes: number[]) => read(oneTrack([0, 0xff, 3, bytes.length, ...bytes])).tracks[0]?.name;
    expect(named([0x46, 0x6c, 0xc3, 0xb6, 0x74, 0x65])).toBe('Flöte');
    expect(named([0x46, 0x6c, 0xf6, 0x74, 0x65])).toBe('Flöte');
  });

  it('reads markers and keys, flats as negative', () => {
    const read1 = read(oneTrack([0, 0xff, 6, 1, 0x41, 0, 0xff, 0x59, 2, 0xfd, 1]));
    expect(read1.markers).toEqual([{ tick: 0, text: 'A' }]);
    expect(read1.keys).toEqual([{ tick: 0, fifths: -3, minor: true }]);
  });

  it('takes kinds 1 to 15 for text, others for data, and no key of more than seven signs', () => {
    const { events } = read(
      oneTrack([0, 0xff, 1, 1, 0x61, 0, 0xff, 15, 1, 0x62, 0, 0xff, 16, 1, 0x63, 0, 0xff, 0x7f, 1, 0x64]),
    ).tracks[0] as MidiFile['tracks'][number];
    expect(events.map((event) => [event.kind, 'metaType' in event ? event.metaType : 0])).toEqual([
      ['text', 1],
      ['text', 15],
      ['meta', 16],
      ['meta', 127],
    ]);
    expect(read(oneTrack([0, 0xff, 0x59, 2, 8, 0, 0, 0xff, 0x59, 2, 7, 0])).keys).toEqual([
      { tick: 0, fifths: 7, minor: false },
    ]);
  });

  it('reads messages of one data byte under running status, and notes after them', () => {
    const bytes = oneTrack([0, 0xd0, 9, 5, 10, 0, 0xc0, 3, 5, 4, 0, 0x90, 60, 80, 10, 60, 0]);
    expect(notesOf(bytes)).toEqual(['0:60 10+10 v80']);
    expect(read(bytes).tracks[0]?.events.map(({ kind, tick }) => `${kind} ${tick}`)).toEqual([
      'channelPressure 0',
      'channelPressure 5',
      'program 5',
      'program 10',
    ]);
  });

  it('leaves out chunks it does not know', () => {
    const bytes = file(
      header(0, 1, 96),
      [...text('XFIH'), 0, 0, 0, 2, 9, 9],
      track([0, 0x90, 60, 80, 10, 60, 0, ...END]),
    );
    expect(notesOf(bytes)).toEqual(['0:60 0+10 v80']);
  });
});

describe('time code', () => {
  it('places a file that counts frames on beats through the tempo, with a warning', () => {
    // 25 frames of 40 ticks: 1000 ticks a second, so 500 ticks are a quarter at the default tempo.
    const bytes = file(
      header(0, 1, ((256 - 25) << 8) | 40),
      track([0x83, 0x74, 0x90, 60, 80, 0x83, 0x74, 60, 0, ...END]),
    );
    expect(notesOf(bytes)).toEqual(['0:60 480+480 v80']);
    expect(read(bytes).ppq).toBe(480);
    expect(warningsOf(bytes)).toEqual(['timeCode']);
  });

  it('takes 29 for 29.97 frames: thirty thousand in 1001 seconds', () => {
    const perSecond = (30_000 / 1001) * 100;
    const bytes = file(
      header(0, 1, ((256 - 29) << 8) | 100),
      // 16383 ticks at 960 quarters' ticks a second.
      track([0xff, 0x7f, 0x90, 60, 80, 10, 60, 0, ...END]),
    );
    expect(notesOf(bytes)[0]).toMatch(new RegExp(`^0:60 ${Math.round((16_383 / perSecond) * 960)}\\+`));
  });
});

describe('damaged files', () => {
  it.each([
    ['an empty file', new Uint8Array(), 'empty'],
    ['a text file', Uint8Array.from(text('Dear player, the second bar is wrong.')), 'notMidi'],
    ['a head and no more', file(header(1, 2, 96)), 'noTracks'],
    ['a head of no ticks', file(header(1, 1, 0), track(END)), 'badHeader'],
    ['a head of no ticks to the frame', file(header(1, 1, 0xe700), track(END)), 'badHeader'],
    ['a format there is not', file(header(7, 1, 96), track(END)), 'badHeader'],
    ['20 MB of zeros', new Uint8Array(20 * 1024 * 1024), 'notMidi'],
  ])('tells of %s', (_name, bytes, code) => {
    expect(problemOf(bytes)).toBe(code);
  });

  it('survives a head with 20 MB of zeros behind it', () => {
    const bytes = new Uint8Array(20 * 1024 * 1024);
    bytes.set(header(1, 2, 96));
    expect(problemOf(bytes)).toBe('noTracks');
  });

  it('keeps what is whole of a file cut off in the middle', () => {
    const whole = oneTrack([0, 0x90, 60, 80, 48, 60, 0, 0, 62, 80, 48, 62, 0]);
    const bytes = whole.slice(0, whole.length - 7);
    expect(notesOf(bytes)).toEqual(['0:60 0+48 v80', '0:62 48+0 v80']);
    expect(warningsOf(bytes)).toContain('cutOff');
  });

  it('takes a chunk length that lies for what the file really holds', () => {
    const notes = [0, 0x90, 60, 80, 48, 60, 0, ...END];
    expect(notesOf(file(header(0, 1, 96), track(notes, 0x7fffffff)))).toEqual(['0:60 0+48 v80']);
  });

  it('says that promised tracks are missing', () => {
    expect(warningsOf(file(header(1, 3, 96), track([0, 0x90, 60, 80, 48, 60, 0, ...END])))).toEqual(['tracksMissing']);
  });

  it('stops at a byte that cannot be, and keeps what came before', () => {
    const bytes = oneTrack([0, 0x90, 60, 80, 48, 60, 0, 0, 0xf4, 1, 2]);
    expect(notesOf(bytes)).toEqual(['0:60 0+48 v80']);
    expect(warningsOf(bytes)).toEqual(['cutOff']);
  });

  it('refuses more notes than an arrangement can hold', () => {
    const data: number[] = [0, 0x90, 60, 80];
    for (let index = 0; index < 300_001; index += 1) data.push(0, 60, index % 2 === 0 ? 0 : 80, 0, 60, 80);
    expect(problemOf(oneTrack(data))).toBe('tooManyNotes');
  });

  it('reads any bytes behind a good head without an exception', () => {
    for (let seed = 1; seed < 300; seed += 1) {
      const noise = Array.from({ length: 200 }, (_, i) => (Math.imul(seed * 7919 + i, 2654435761) >>> 13) & 255);
      expect(() => readMidi(file(header(1, 1, 96), track(noise)))).not.toThrow();
    }
  });
});
