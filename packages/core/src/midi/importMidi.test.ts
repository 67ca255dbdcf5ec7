import { describe, expect, it } from 'vitest';
import { summarise } from '../inspect.js';
import { applyEdit } from '../model/edit.js';
import { END, file, header, oneTrack, text, track } from '../testing/smf.js';
import { addParts } from './addParts.js';
import { type Imported, importMidi, stemOf } from './importMidi.js';

const named = (name: string): number[] => [0, 0xff, 3, name.length, ...text(name)];
const oneNote = (channel: number, pitch: number): number[] => [0, 0x90 | channel, pitch, 80, 96, pitch, 0];

const bring = (...files: (readonly [string, Uint8Array])[]): Imported => {
  const result = importMidi(files.map(([name, bytes]) => ({ name, bytes })));
  if (!result.ok) throw new Error(result.problem.message);
  return result.value;
};
const codes = ({ warnings }: Imported): string[] => warnings.map((warning) => warning.code);

describe('parts', () => {
  it('makes one for each track and channel that has notes, named by the track', () => {
    const bytes = file(
      header(1, 3, 96),
      track([...named('Dusk'), ...END]),
      track([...named('Solo Cello'), ...oneNote(0, 48), ...END]),
      track([...named('Band'), ...oneNote(3, 60), ...oneNote(9, 38), ...END]),
    );
    const { arrangement } = bring(['dusk.mid', bytes]);
    expect(arrangement.title).toBe('Dusk');
    expect(arrangement.parts.map((part) => [part.name, part.instrument, part.channel])).toEqual([
      ['Solo Cello', 'cello', 0],
      ['Band · channel 4', 'other', 3],
      ['Band · channel 10', 'percussion', 9],
    ]);
  });

  it('gives what is said of no channel, or of one without notes, to the first part of the track alone', () => {
    const volume = (channel: number) => [0, 0xb0 | channel, 7, 90];
    const bytes = oneTrack([...volume(3), ...volume(5), ...volume(9), ...oneNote(3, 60), ...oneNote(9, 38)]);
    const { parts } = bring(['a.mid', bytes]).arrangement;
    const channels = parts.map(({ events }) => events.map((event) => ('channel' in event ? event.channel : null)));
    expect(channels).toEqual([[3, 5], [9]]);
  });

  it('finds the instrument by its program where the name says nothing', () => {
    const { arrangement } = bring(['a.mid', oneTrack([0, 0xc0, 73, ...oneNote(0, 72)])]);
    expect(arrangement.parts[0]).toMatchObject({ instrument: 'flute', program: 73, name: 'Flute' });
  });

  it('keeps tracks that hold only controllers', () => {
    const bytes = file(
      header(1, 2, 96),
      track([...named('Faders'), 0, 0xb0, 7, 90, ...END]),
      track([...oneNote(0, 60), ...END]),
    );
    expect(bring(['a.mid', bytes]).arrangement.silentTracks[0]?.events).toHaveLength(1);
  });

  it('gives every note an id of its own', () => {
    const { arrangement } = bring(['a.mid', oneTrack(oneNote(0, 60))], ['b.mid', oneTrack(oneNote(0, 62))]);
    expect(arrangement.parts.flatMap((part) => part.notes.map((note) => note.id))).toEqual([1, 2]);
    expect(arrangement.nextNoteId).toBe(3);
  });
});

describe('several files', () => {
  const at = (ppq: number, ...data: number[]): Uint8Array => file(header(0, 1, ppq), track([...data, ...END]));

  it('take the least common multiple of their PPQs, so that nothing is rounded', () => {
    const { arrangement } = bring(['a.mid', at(96, ...oneNote(0, 60))], ['b.mid', at(120, ...oneNote(0, 62))]);
    expect(arrangement.ppq).toBe(480);
    expect(arrangement.parts.map((part) => part.notes[0]?.duration)).toEqual([480, 384]);
  });

  it('round where the common multiple would be too large, and say so', () => {
    const imported = bring(['a.mid', at(961, ...oneNote(0, 60))], ['b.mid', at(480, ...oneNote(0, 62))]);
    expect(imported.arrangement.ppq).toBe(961);
    expect(codes(imported)).toContain('roundedTicks');
  });

  it('let the first one’s tempo and meter stand, with a warning that names the other', () => {
    const waltz = at(96, 0, 0xff, 0x58, 4, 3, 2, 24, 8, ...oneNote(0, 60));
    const slow = at(96, 0, 0xff, 0x51, 3, 15, 66, 64, ...oneNote(0, 62));
    const imported = bring(['waltz.mid', waltz], ['slow.mid', slow]);
    expect(imported.arrangement.meters).toEqual([{ tick: 0, numerator: 3, denominator: 4 }]);
    expect(imported.warnings.find((warning) => warning.code === 'mapsDisagree')?.message).toBe(
      'slow has another tempo and meter; the first file’s stands.',
    );
  });

  it('fail as a whole where one cannot be read, and name it', () => {
    const result = importMidi([
      { name: 'good.mid', bytes: oneTrack(oneNote(0, 60)) },
      { name: 'notes.txt.mid', bytes: Uint8Array.from(text('not music at all')) },
    ]);
    expect(result).toEqual({
      ok: false,
      problem: { code: 'notMidi', message: 'notes.txt.mid: This is not a MIDI file.' },
    });
  });
});

describe('maps', () => {
  it('have 4/4 and 120 where the file gives none', () => {
    const { arrangement } = bring(['a.mid', oneTrack(oneNote(0, 60))]);
    expect(arrangement.meters).toEqual([{ tick: 0, numerator: 4, denominator: 4 }]);
    expect(arrangement.tempos).toEqual([{ tick: 0, microsecondsPerQuarter: 500_000 }]);
  });

  it('tell of a meter that changes within a bar', () => {
    const imported = bring([
      'a.mid',
      oneTrack([...oneNote(0, 60), 0x84, 0x00, 0xff, 0x58, 4, 3, 2, 24, 8, ...oneNote(0, 60)]),
    ]);
    expect(imported.warnings.map((warning) => warning.message)).toEqual([
      'The meter changes to 3/4 within bar 2; a new bar begins there.',
    ]);
  });

  it('have a meter that is written a tick beside its bar line on that line', () => {
    const meter = (delta: readonly number[], beats: number) => [...delta, 0xff, 0x58, 4, beats, 2, 24, 8];
    // 3/4 a tick late at the beginning, 2/4 a tick early after four bars of it: 1440 * 4 - 2 ticks on.
    const imported = bring(['a.mid', oneTrack([...meter([1], 3), ...meter([0xac, 0x7e], 2), ...oneNote(0, 60)])]);
    expect(imported.arrangement.meters).toEqual([
      { tick: 0, numerator: 3, denominator: 4 },
      { tick: 5760, numerator: 2, denominator: 4 },
    ]);
    expect(imported.warnings).toEqual([]);
  });

  it('refuse a file without a note', () => {
    const result = importMidi([{ name: 'empty.mid', bytes: oneTrack([0, 0xb0, 7, 90]) }]);
    expect(result.ok ? '' : result.problem.code).toBe('noNotes');
  });
});

describe('adding to an open arrangement', () => {
  const open = bring(['a.mid', file(header(0, 1, 480), track([...oneNote(0, 60), ...END]))]).arrangement;

  it('scales to the arrangement’s ticks and gives fresh ids', () => {
    const { edit, warnings } = addParts(open, bring(['b.mid', oneTrack(oneNote(0, 62))]).arrangement);
    const after = applyEdit(open, edit);
    expect(after.parts.map((part) => part.id)).toEqual([1, 2]);
    expect(after.parts[1]?.notes[0]).toMatchObject({ id: 2, duration: 480 });
    expect(warnings).toEqual([]);
  });

  it('warns where ticks had to be rounded', () => {
    const odd = bring(['b.mid', file(header(0, 1, 1000), track([...oneNote(0, 62), ...END]))]).arrangement;
    expect(addParts(open, odd).warnings.map((warning) => warning.code)).toEqual(['roundedTicks']);
  });
});

describe('inspect', () => {
  it('summarises what a file holds', () => {
    const summary = summarise(bring(['tune.mid', oneTrack([0, 0xc0, 73, ...oneNote(0, 72), ...oneNote(0, 79)])]));
    expect(summary).toMatchObject({
      title: 'tune',
      ppq: 96,
      bars: 1,
      seconds: 1,
      tempos: [{ tick: 0, quartersPerMinute: 120 }],
      meters: [{ tick: 0, meter: '4/4' }],
      parts: [{ name: 'Flute', channel: 1, program: 73, notes: 2, lowest: 72, highest: 79, oneNote: true }],
      warnings: [],
    });
  });

  it('takes a file’s stem', () => {
    expect(stemOf('/tmp/My.Tune.mid')).toBe('My.Tune');
    expect(stemOf('.mid')).toBe('.mid');
  });
});

describe('names', () => {
  const partsOf = (...tracks: (readonly [name: string, program: number | null])[]) =>
    bring([
      'Harbour.mid',
      file(
        header(1, tracks.length, 96),
        ...tracks.map(([name, program]) =>
          track([
            ...(name ? named(name) : []),
            ...(program === null ? [] : [0, 0xc0, program]),
            ...oneNote(0, 60),
            ...END,
          ]),
        ),
      ),
    ] as const).arrangement.parts;

  it('of instruments are whole words, and the program weighs more', () => {
    const [hornpipe] = partsOf(['Sailors Hornpipe', 40]);
    expect(hornpipe).toMatchObject({ name: 'Sailors Hornpipe', instrument: 'violin', instrumentFrom: 'program' });
    expect(partsOf(['Sailors Hornpipe', null])[0]).toMatchObject({ instrument: 'other', instrumentFrom: 'nothing' });
    expect(partsOf(['Horns', null])[0]).toMatchObject({ instrument: 'horn', instrumentFrom: 'name' });
    expect(partsOf(['Oboe', 40])[0]).toMatchObject({ instrument: 'violin' });
    expect(partsOf(['Bass clarinet', 71])[0]).toMatchObject({ instrument: 'bassClarinet', instrumentFrom: 'name' });
    // Program 0 is what is sent where none was chosen.
    expect(partsOf(['Cello', 0])[0]).toMatchObject({ instrument: 'cello' });
    expect(partsOf(['Organist’s Pianola', 73])[0]).toMatchObject({ instrument: 'flute' });
  });

  it.each(['Track 3', 'MIDI 01', 'Staff-1', 'Spur 2', 'Piste 4', 'Pista_1', '07', 'Canal 3'])(
    'that say nothing (%s) give way to the instrument’s, and are kept beside it',
    (name) => {
      expect(partsOf([name, 73])[0]).toMatchObject({ name: 'Flute', trackName: name });
    },
  );

  it('that say something stand', () => {
    expect(partsOf(['Lead 3', 73])[0]).toMatchObject({ name: 'Lead 3' });
    expect(partsOf(['Lead 3', 73])[0]).not.toHaveProperty('trackName');
    expect(partsOf(['Track 3', null])[0]?.name).toBe('Track 3');
  });

  it.each(['Conductor', 'Tempo Track', 'Track 0', 'Master', ''])(
    'of a track without music (%s) are no title',
    (name) => {
      const bytes = file(
        header(1, 2, 96),
        track([...(name ? named(name) : []), ...END]),
        track([...named('Viola'), ...oneNote(0, 60), ...END]),
      );
      expect(bring(['Harbour.mid', bytes]).arrangement.title).toBe('Harbour');
    },
  );
});
