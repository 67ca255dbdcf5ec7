import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import path from 'node:path';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { demoArrangement } from '../demo/demo.js';
import { type Arrangement, compareNotes, type TrackEvent, withEventIds } from '../model/arrangement.js';
import { runPlanOnAll } from '../plan/runPlan.js';
import { tonesOf } from '../plan/written.js';
import { cases } from '../testing/cases.js';
import { arrangementWith, note, partWith } from '../testing/kit.js';
import { ticks } from '../time/units.js';
import { importMidi } from './importMidi.js';
import { readMidi } from './readMidi.js';
import { writePlayedMidi, writeWrittenMidi } from './writeMidi.js';

const folder = mkdtempSync(path.join(tmpdir(), 'crispfold-midi-'));
const saved = (name: string, bytes: Uint8Array): string => {
  const file = path.join(folder, name);
  writeFileSync(file, bytes);
  return file;
};

const readBack = (bytes: Uint8Array): Arrangement => {
  const result = importMidi([{ name: 'back.mid', bytes }]);
  if (!result.ok) throw new Error(result.problem.message);
  expect(result.value.warnings).toEqual([]);
  return result.value.arrangement;
};

const notesOf = (arrangement: Arrangement): string[][] =>
  arrangement.parts.map((part) =>
    part.notes.map((n) => [n.onset, n.pitch, n.duration, n.velocity, n.channel, n.releaseVelocity ?? 64].join()).sort(),
  );
const messagesOf = (events: readonly TrackEvent[]): string[] =>
  events.map((event) => JSON.stringify({ ...event, id: undefined })).sort();

describe('as played', () => {
  it('gives back every note with the same tick, length, velocity and channel', () => {
    const someNotes = fc.array(
      fc.record({
        pitch: fc.integer({ min: 0, max: 127 }),
        gap: fc.integer({ min: 0, max: 300 }),
        duration: fc.integer({ min: 0, max: 2000 }),
        velocity: fc.integer({ min: 1, max: 127 }),
        release: fc.option(fc.integer({ min: 0, max: 127 }), { nil: undefined }),
      }),
      { minLength: 1, maxLength: 60 },
    );
    fc.assert(
      fc.property(someNotes, (drafts) => {
        let onset = 0;
        const lastEnd = new Map<number, number>();
        const notes = drafts.flatMap((draft) => {
          onset += draft.gap;
          // One key cannot be struck again before it came up: MIDI could not tell the two apart.
          if (onset < (lastEnd.get(draft.pitch) ?? 0)) return [];
          lastEnd.set(draft.pitch, onset + draft.duration + 1);
          const releaseVelocity = draft.release === 64 ? undefined : draft.release;
          return [
            note(draft.pitch, onset, draft.duration, {
              velocity: draft.velocity,
              ...(releaseVelocity === undefined ? {} : { releaseVelocity }),
            }),
          ];
        });
        const before = arrangementWith([partWith(notes.sort(compareNotes))]);
        expect(notesOf(readBack(writePlayedMidi(before)))).toEqual(notesOf(before));
      }),
      cases(60),
    );
  });

  it('gives back controllers, bends, programs, texts and system exclusive', () => {
    const events: TrackEvent[] = [
      { kind: 'program', tick: ticks(0), channel: 0, program: 73 },
      { kind: 'controller', tick: ticks(10), channel: 0, controller: 64, value: 127 },
      { kind: 'pitchBend', tick: ticks(20), channel: 0, value: 16383 },
      { kind: 'pitchBend', tick: ticks(21), channel: 0, value: 0 },
      { kind: 'channelPressure', tick: ticks(30), channel: 0, value: 5 },
      { kind: 'keyPressure', tick: ticks(31), channel: 0, pitch: 60, value: 6 },
      { kind: 'text', tick: ticks(40), metaType: 5, text: 'là – ő' },
      { kind: 'text', tick: ticks(41), metaType: 9, text: 'device' },
      { kind: 'meta', tick: ticks(42), metaType: 0x7f, data: [1, 2, 250] },
      { kind: 'sysex', tick: ticks(50), escape: false, data: [0x7e, 0x7f, 0x09, 0x01, 0xf7] },
      { kind: 'sysex', tick: ticks(51), escape: true, data: [1, 2, 3] },
    ];
    const back = readBack(
      writePlayedMidi(arrangementWith([partWith([note(60, 0, 100)], { events: withEventIds(events, 1) })])),
    );
    expect(messagesOf(back.parts[0]?.events ?? [])).toEqual(messagesOf(events));
  });

  it('keeps tempi, meters, keys, markers and the title', () => {
    const before = demoArrangement();
    const back = readBack(writePlayedMidi(before));
    expect(back.title).toBe(before.title);
    for (const key of ['tempos', 'meters', 'keys', 'markers', 'ppq'] as const) expect(back[key]).toEqual(before[key]);
  });

  it('writes one part alone where asked', () => {
    const demo = demoArrangement();
    const cello = demo.parts.find((part) => part.name === 'Cello');
    const back = readBack(writePlayedMidi(demo, { partIds: [cello?.id ?? 0] }));
    expect(back.parts.map((part) => part.name)).toEqual(['Cello']);
  });

  it('leaves muted notes out', () => {
    const back = readBack(
      writePlayedMidi(arrangementWith([partWith([note(60, 0, 100), note(62, 100, 100, { muted: true })])])),
    );
    expect(back.parts[0]?.notes.map((n) => n.pitch)).toEqual([60]);
  });
});

describe('as written', () => {
  it('stands at a PPQ that holds every written place exactly', () => {
    const demo = demoArrangement();
    const layers = runPlanOnAll(demo);
    const back = readBack(writeWrittenMidi(demo, layers));
    expect(back.ppq).toBe(10080);
    back.parts.forEach((part, index) => {
      const wanted = layers[index]?.notes
        .flatMap((n) => tonesOf(n).map((tone) => `${n.onset + tone.at} ${tone.pitch} ${tone.duration}`))
        .sort();
      expect(part.notes.map((n) => `${n.onset} ${n.pitch} ${n.duration}`).sort()).toEqual(wanted);
    });
  });

  it('has no pedal left: it is in the lengths', () => {
    const demo = demoArrangement();
    const back = readBack(writeWrittenMidi(demo, runPlanOnAll(demo)));
    const pedals = back.parts
      .flatMap((part) => part.events)
      .filter((event) => event.kind === 'controller' && event.controller === 64);
    expect(pedals).toEqual([]);
  });
});

/** The parser of midi-json-parser: its package's own entry wants a browser's worker around it. */
const theirParser = path.resolve(
  createRequire(import.meta.url).resolve('midi-json-parser-worker'),
  '../../es2019/midi-file-parser.js',
);

describe('read by others', () => {
  const demo = demoArrangement();
  const bytes = writePlayedMidi(demo);
  const starts = demo.parts.reduce((sum, part) => sum + part.notes.length, 0);

  it('midicsv (Debian) reads the same notes, tempi, meters, markers and programs', () => {
    const lines = execFileSync('midicsv', [saved('demo.mid', bytes)], { encoding: 'latin1' }).split('\n');
    const of = (kind: string) => lines.map((line) => line.split(', ')).filter((cells) => cells[2] === kind);
    const ons = of('Note_on_c').filter((cells) => Number(cells[5]) > 0);
    const theirs = ons.map((cells) => [cells[1], cells[4], cells[5], cells[3]].join()).sort();
    const ours = demo.parts
      .flatMap((part) => part.notes.map((n) => [n.onset, n.pitch, n.velocity, n.channel].join()))
      .sort();
    expect(theirs).toEqual(ours);
    expect(of('Note_off_c')).toHaveLength(starts);
    expect(of('Tempo').map((cells) => [Number(cells[1]), Number(cells[3])])).toEqual(
      demo.tempos.map((tempo) => [tempo.tick, tempo.microsecondsPerQuarter]),
    );
    expect(of('Time_signature').map((cells) => [Number(cells[1]), Number(cells[3]), 2 ** Number(cells[4])])).toEqual(
      demo.meters.map((meter) => [meter.tick, meter.numerator, meter.denominator]),
    );
    expect(of('Marker_t').map((cells) => cells.slice(3).join(', '))).toEqual(
      demo.markers.map((marker) => `"${marker.text}"`),
    );
    expect(of('Program_c').map((cells) => Number(cells[4]))).toEqual([73, 71, 60, 11, 42]);
  });

  it('midi-json-parser’s parser (npm) reads the same starts and ends', async () => {
    const { parseArrayBuffer } = await import(theirParser);
    const parsed = parseArrayBuffer(new Uint8Array(bytes).buffer) as { division: number; tracks: unknown[] };
    expect(parsed.division).toBe(480);
    const theirs = parsed.tracks.flatMap((events) => {
      let tick = 0;
      return (events as { delta: number; noteOn?: { noteNumber: number; velocity: number } }[]).flatMap((event) => {
        tick += event.delta;
        return event.noteOn && event.noteOn.velocity > 0
          ? [`${tick} ${event.noteOn.noteNumber} ${event.noteOn.velocity}`]
          : [];
      });
    });
    const ours = demo.parts.flatMap((part) => part.notes.map((n) => `${n.onset} ${n.pitch} ${n.velocity}`));
    expect(theirs.sort()).toEqual(ours.sort());
  });
});

describe('files that others wrote', () => {
  const SET = '/usr/share/planetblupi/music';

  // Debian's planetblupi-music-midi: ten real files of 12 to 28 thousand notes.
  it.each(readdirSync(SET).filter((name) => name.endsWith('.mid')))('brings %s in and out without loss', (name) => {
    const bytes = new Uint8Array(readFileSync(path.join(SET, name)));
    const result = importMidi([{ name, bytes }]);
    if (!result.ok) throw new Error(result.problem.message);
    const { arrangement } = result.value;
    const back = importMidi([{ name, bytes: writePlayedMidi(arrangement) }]);
    if (!back.ok) throw new Error(back.problem.message);
    expect(notesOf(back.value.arrangement)).toEqual(notesOf(arrangement));
    const messages = (a: Arrangement) => [...a.parts, ...a.silentTracks].map((holder) => messagesOf(holder.events));
    expect(messages(back.value.arrangement)).toEqual(messages(arrangement));
    expect(back.value.arrangement.tempos).toEqual(arrangement.tempos);
  });

  it('reads what abc2midi (Debian) writes: a scale in eighths', () => {
    const tune = path.join(folder, 'scale.abc');
    writeFileSync(tune, 'X:1\nT:Scale\nM:4/4\nL:1/8\nQ:1/4=120\nK:C\nCDEF GABc|\n');
    const target = path.join(folder, 'scale.mid');
    execFileSync('abc2midi', [tune, '-o', target], { stdio: 'ignore' });
    const result = importMidi([{ name: 'scale.mid', bytes: new Uint8Array(readFileSync(target)) }]);
    if (!result.ok) throw new Error(result.problem.message);
    const ons = execFileSync('midicsv', [target], { encoding: 'latin1' })
      .split('\n')
      .map((line) => line.split(', '))
      .filter((cells) => cells[2] === 'Note_on_c' && Number(cells[5]) > 0);
    const { notes } = result.value.arrangement.parts[0] as Arrangement['parts'][number];
    expect(notes.map((n) => n.pitch)).toEqual([60, 62, 64, 65, 67, 69, 71, 72]);
    expect(notes.map((n) => n.onset)).toEqual(ons.map((cells) => Number(cells[1])));
  });
});

describe('what happens at one tick', () => {
  it('is written ends first, then the rest, then starts, and a note of no length after its own start', () => {
    const arrangement = arrangementWith([
      partWith([note(60, 0, 480), note(60, 480, 240), note(64, 480, 0)], {
        events: withEventIds([{ kind: 'controller', tick: ticks(480), channel: 0, controller: 1, value: 7 }], 1),
      }),
    ]);
    const read = readMidi(writePlayedMidi(arrangement));
    if (!read.ok) throw new Error(read.problem.message);
    const lines = execFileSync('midicsv', [saved('tick.mid', writePlayedMidi(arrangement))], { encoding: 'latin1' })
      .split('\n')
      .map((line) => line.split(', '))
      .filter(([track, tick, kind]) => track === '2' && tick === '480' && /^(Note|Control)/.test(kind ?? ''));
    const what = lines.map(
      ([, , kind, , first, second]) => `${kind} ${first}${kind?.startsWith('Note_on') && second === '0' ? ' off' : ''}`,
    );
    expect(what[0]).toMatch(/60( off)?$/);
    expect(what[1]).toBe('Control_c 1');
    expect(what.slice(2, 4).sort()).toEqual(['Note_on_c 60', 'Note_on_c 64']);
    expect(what[4]).toMatch(/64( off)?$/);
  });
});
