/** Small and large files made to be too much: each is read up to a stated limit, or refused in words; none takes its time. */
import { describe, expect, it } from 'vitest';
import { LONGEST_MARKER, LONGEST_PART_NAME, MOST_BARS, MOST_EVENTS, MOST_TRACKS } from '../model/limits.js';
import { writeMusicXml } from '../musicxml/writeMusicXml.js';
import { buildScore } from '../notation/buildScore.js';
import { readPitches } from '../notation/pitchReading.js';
import { planOf } from '../plan/readyPlans.js';
import { runPlan } from '../plan/runPlan.js';
import { writtenMaps } from '../plan/writtenMaps.js';
import { END, file, header, text, track } from '../testing/smf.js';
import { createMeterMap } from '../time/meterMap.js';
import { importMidi } from './importMidi.js';

const NOTE = [0x00, 0x90, 60, 80, 0x60, 0x80, 60, 64];
const read = (bytes: Uint8Array) => {
  const result = importMidi([{ name: 'hostile.mid', bytes }]);
  if (!result.ok) throw new Error(result.problem.message);
  return result.value;
};
const problemOf = (bytes: Uint8Array) => {
  const result = importMidi([{ name: 'hostile.mid', bytes }]);
  return result.ok ? { code: 'read', message: '' } : result.problem;
};
/** A delta time as a variable-length quantity. */
const delta = (ticks: number): number[] => {
  const bytes = [ticks & 0x7f];
  for (let left = ticks >> 7; left > 0; left >>= 7) bytes.unshift((left & 0x7f) | 0x80);
  return bytes;
};
const repeated = (times: number, bytes: readonly number[]): number[] => {
  const all: number[] = [];
  for (let at = 0; at < times; at += 1) for (const byte of bytes) all.push(byte);
  return all;
};

const chunk = (...events: readonly (readonly number[])[]): number[] => track(events.flat());
const words = (type: number, value: string): number[] => [0x00, 0xff, type, ...delta(value.length), ...text(value)];

describe('a hostile file', () => {
  it('with thousands of meters within bars is told once, with their count', () => {
    const meters = repeated(20_000, [0x20, 0xff, 0x58, 4, 4, 2, 24, 8]);
    const { warnings, arrangement } = read(file(header(0, 1, 480), chunk(meters, NOTE, END)));
    const told = warnings.filter(({ code }) => code === 'meterWithinBar');
    expect(told).toHaveLength(4);
    expect(told[3]?.message).toMatch(/^And 19,99\d more like this\.$/);
    expect(arrangement.meters.length).toBeGreaterThan(19_000);
  });

  it('tells a meter within a bar by the bar that it cuts short, and none at a bar’s start', () => {
    const change = (ticks: number, numerator: number) => [...delta(ticks), 0xff, 0x58, 4, numerator, 2, 24, 8];
    const { warnings } = read(file(header(0, 1, 480), chunk(change(0, 4), change(1920, 3), change(700, 4), NOTE, END)));
    expect(warnings.map(({ message }) => message)).toEqual([
      'The meter changes to 4/4 within bar 2; a new bar begins there.',
    ]);
  });

  it('with thousands of tempi under time code stands where one change after another leads', () => {
    // 25 frames of 40 ticks: a tick is a millisecond.
    const tempos = repeated(20_000, [0x01, 0xff, 0x51, 3, 0x07, 0xa1, 0x20]);
    const { arrangement } = read(file(header(0, 1, 0xe728), chunk(tempos, NOTE, END)));
    expect(arrangement.ppq).toBe(480);
    // 20 seconds at 120 are 40 quarters.
    expect(arrangement.tempos.at(-1)?.tick).toBe(19_200);
    expect(arrangement.parts[0]?.notes[0]?.onset).toBe(19_200);
  });

  it('that is longer than a piece can be is read up to there', () => {
    const far = [...delta(2 ** 27), 0x90, 62, 80, 0x60, 0x80, 62, 64];
    const { arrangement, warnings } = read(file(header(0, 1, 1), chunk(NOTE, far, END)));
    expect(arrangement.parts[0]?.notes).toHaveLength(1);
    expect(warnings).toEqual([
      {
        code: 'tooLong',
        message: 'The piece goes on beyond 24 hours or 100,000 bars: it was read up to there, 1 note left out.',
      },
    ]);
    // Also where only a track without notes goes on so long.
    const silent = chunk([...delta(2 ** 27), 0xb0, 7, 100], END);
    const beside = read(file(header(1, 2, 1), chunk(NOTE, END), silent));
    expect(beside.arrangement.silentTracks).toEqual([{ name: '', events: [] }]);
    expect(beside.warnings.map(({ code }) => code)).toEqual(['tooLong']);
    // A note that hangs across the end is cut there.
    const hung = read(file(header(0, 1, 1), chunk([0x00, 0x90, 60, 80, ...delta(2 ** 27), 0x80, 60, 64], END)));
    const [note] = hung.arrangement.parts[0]?.notes ?? [];
    const bar = createMeterMap(hung.arrangement.meters, 1).barAt((note?.onset ?? 0) + (note?.duration ?? 0) - 1);
    expect(bar.number).toBeLessThanOrEqual(MOST_BARS);
    expect(problemOf(file(header(0, 1, 1), chunk(far, END))).code).toBe('tooLong');
  });

  it('with more messages or tracks than can be read is refused in words', () => {
    // Running status: two bytes a message, as small as messages get.
    const events = new Uint8Array(22 + 3 + 2 * (MOST_EVENTS + 10));
    events.set(file(header(0, 1, 480), track([])));
    new DataView(events.buffer).setUint32(18, events.length - 22);
    events.set([0x00, 0xd0, 0x40], 22);
    for (let at = 25; at < events.length; at += 2) events.set([0x00, 0x41], at);
    expect(problemOf(events)).toMatchObject({
      code: 'tooManyEvents',
      message: 'hostile.mid: This file holds more than 2,000,000 messages, more than can be read.',
    });
    const tracks = Array.from({ length: MOST_TRACKS + 1 }, () => chunk(NOTE, END));
    expect(problemOf(file(header(1, 255, 480), ...tracks)).code).toBe('tooManyTracks');
  });

  it('with messages of raw bytes keeps what has room and says what has not', () => {
    const sysex = (length: number) => [0x00, 0xf0, ...delta(length), ...repeated(length, [1])];
    const { arrangement, warnings } = read(file(header(0, 1, 480), chunk(sysex(1_200_000), sysex(10), NOTE, END)));
    expect(arrangement.parts[0]?.events).toHaveLength(1);
    expect(warnings.map(({ code }) => code)).toEqual(['leftOut']);
  });

  it('has names and texts cut to what can be saved', () => {
    const long = 'x'.repeat(3000);
    const { arrangement, warnings } = read(
      file(header(0, 1, 480), chunk(words(3, long), words(6, long), words(5, long.repeat(8)), NOTE, END)),
    );
    expect(arrangement.parts[0]?.name).toHaveLength(LONGEST_PART_NAME);
    expect(arrangement.markers[0]?.text).toHaveLength(LONGEST_MARKER);
    expect(warnings[0]?.code).toBe('cutTexts');
  });
});

describe('what was read of one', () => {
  it('has a page, though meters cut each bar to a few ticks', () => {
    const meters = repeated(400, [0x20, 0xff, 0x58, 4, 4, 2, 24, 8]);
    const { arrangement } = read(file(header(0, 1, 480), chunk(NOTE, meters, NOTE, END)));
    const maps = writtenMaps(arrangement);
    const layers = arrangement.parts.map((part) => runPlan(part, arrangement.ppq, maps, planOf(part)));
    const xml = writeMusicXml(buildScore(arrangement, layers, maps, readPitches(arrangement, layers)));
    expect(xml.match(/<measure /g)?.length).toBeGreaterThan(100);
  });
});
