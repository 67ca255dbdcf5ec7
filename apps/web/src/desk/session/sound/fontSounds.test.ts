import { demoArrangement, type Part } from '@crispfold/core';
import { describe, expect, it } from 'vitest';
import { type FontSynth, fontSounds } from './fontSounds.js';

interface Told {
  readonly what: string;
  readonly channel: number;
  readonly pitch?: number;
  readonly time: number;
}

/** A synthesizer that writes down what it is told. */
const listening = () => {
  const told: Told[] = [];
  let channelCount = 16;
  const synth: FontSynth = {
    get channelCount() {
      return channelCount;
    },
    addNewChannel: () => {
      channelCount += 1;
    },
    noteOn: (channel, pitch, _velocity, when) => told.push({ what: 'on', channel, pitch, time: when?.time ?? -1 }),
    noteOff: (channel, pitch, when) => told.push({ what: 'off', channel, pitch, time: when?.time ?? -1 }),
    controllerChange: (channel, controller, value, when) =>
      told.push({ what: `CC ${controller} ${value}`, channel, time: when?.time ?? -1 }),
    programChange: (channel, program, when) =>
      told.push({ what: `program ${program}`, channel, time: when?.time ?? -1 }),
    pitchWheel: (channel, value, when) => told.push({ what: `bend ${value}`, channel, time: when?.time ?? -1 }),
    channelPressure: (channel, value, when) =>
      told.push({ what: `pressure ${value}`, channel, time: when?.time ?? -1 }),
    stopAll: () => told.push({ what: 'stop', channel: -1, time: -1 }),
    destroy: () => told.push({ what: 'destroy', channel: -1, time: -1 }),
  };
  return { told, synth };
};

/** The keys that are down after all that was told, in the order of time. */
const stillDown = (told: readonly Told[]): string[] => {
  const down = new Map<string, number>();
  const notes = told.filter(({ what }) => what === 'on' || what === 'off');
  for (const { what, channel, pitch } of notes.sort((a, b) => a.time - b.time || (a.what === 'off' ? -1 : 1))) {
    const key = `${channel} ${pitch}`;
    if (what === 'on') down.set(key, (down.get(key) ?? 0) + 1);
    else down.delete(key);
  }
  return [...down.keys()].sort();
};

const { parts } = demoArrangement();
const many = Array.from({ length: 40 }, (_, index): Part => ({ ...(parts[0] as Part), id: index + 1, program: index }));

describe('parts that sound by a SoundFont', () => {
  it('sound a key from when it goes down until it is let go, and silence what is still held', () => {
    const { told, synth } = listening();
    const sounds = fontSounds(synth);
    sounds.prepare(parts);
    const own = sounds.of((parts[0] as Part).id);
    own?.strike(60, 1, 90);
    own?.strike(64, 1.2, 90);
    sounds.turn(500);
    expect(stillDown(told)).toEqual(['0 60', '0 64']);
    own?.letGo(60, 2);
    own?.letGo(99, 2);
    sounds.turn(2.5);
    expect(stillDown(told)).toEqual(['0 64']);
    expect(told.find(({ what, pitch }) => what === 'off' && pitch === 60)?.time).toBe(2);
    sounds.stopAll();
    expect(stillDown(told)).toEqual([]);
  });

  it('have channels of their own, beside that of percussion, with their programs and nothing left of before', () => {
    const { told, synth } = listening();
    const sounds = fontSounds(synth);
    sounds.prepare(parts);
    const programs = told.filter(({ what }) => what.startsWith('program'));
    expect(programs.map(({ what, channel }) => `${channel} ${what}`)).toEqual([
      '0 program 73',
      '1 program 71',
      '2 program 60',
      '3 program 11',
      '4 program 42',
      '9 program 0',
    ]);
    expect(told.filter(({ channel }) => channel === 0).map(({ what }) => what)).toEqual([
      'CC 121 0',
      'CC 7 100',
      'bend 8192',
      'program 73',
    ]);
  });

  it('may be more than sixteen; none but percussion is on a channel of percussion', () => {
    const { told, synth } = listening();
    fontSounds(synth).prepare(many);
    const channels = told.filter(({ what }) => what.startsWith('program')).map(({ channel }) => channel);
    expect(new Set(channels).size).toBe(40);
    expect(channels.some((channel) => channel % 16 === 9)).toBe(false);
    expect(synth.channelCount).toBeGreaterThanOrEqual(Math.max(...channels) + 1);
  });

  it('leave no note on: not at their ends, not where one key is struck twice, not when all is stopped', () => {
    const { told, synth } = listening();
    const sounds = fontSounds(synth);
    sounds.prepare(parts);
    const flute = sounds.of(1);
    flute?.play(72, 1, 2, 80);
    flute?.play(72, 1.5, 1.8, 80);
    sounds.of(2)?.play(72, 1, 9, 80);
    sounds.turn(1.9);
    expect(stillDown(told)).toEqual(['0 72', '1 72']);
    sounds.turn(2.1);
    expect(stillDown(told)).toEqual(['1 72']);
    expect(told.filter(({ what, channel }) => what === 'off' && channel === 0).map(({ time }) => time)).toEqual([
      1.5, 2,
    ]);
    sounds.stopAll();
    expect(told.at(-1)?.what).toBe('stop');
    expect(told.filter(({ what }) => what === 'on')).toHaveLength(3);
    expect(told.filter(({ what, channel }) => what === 'off' && channel === 1)).toHaveLength(1);
    expect(stillDown(told)).toEqual([]);
    sounds.turn(99);
    expect(told.at(-1)?.what).toBe('stop');
  });

  it('hear controllers, bends, programs and pressure when they are due', () => {
    const { told, synth } = listening();
    const sounds = fontSounds(synth);
    sounds.prepare(parts);
    told.length = 0;
    const horn = sounds.of(3);
    const tick = 0 as never;
    horn?.change({ kind: 'controller', channel: 5, controller: 1, value: 64, tick }, 3);
    horn?.change({ kind: 'pitchBend', channel: 5, value: 9000, tick }, 4);
    horn?.change({ kind: 'program', channel: 5, program: 59, tick }, 5);
    horn?.change({ kind: 'channelPressure', channel: 5, value: 7, tick }, 6);
    expect(told.map(({ what, channel, time }) => `${channel} ${what} at ${time}`)).toEqual([
      '2 CC 1 64 at 3',
      '2 bend 9000 at 4',
      '2 program 59 at 5',
      '2 pressure 7 at 6',
    ]);
  });
});
