/** Sounds of a SoundFont: each part on a channel of its own, percussion on the channel of percussion (General MIDI: 10). */
import { firstProgram, instrumentById, isUnpitched, type Part, type PartId, type SoundEvent } from '@crispfold/core';
import type { PartSound, Sounds } from './sound.js';

interface When {
  readonly time: number;
}

/** What is asked of a synthesizer; channels and all values count from 0. */
export interface FontSynth {
  readonly channelCount: number;
  addNewChannel(): void;
  noteOn(channel: number, pitch: number, velocity: number, when?: When): void;
  noteOff(channel: number, pitch: number, when?: When): void;
  controllerChange(channel: number, controller: number, value: number, when?: When): void;
  programChange(channel: number, program: number, when?: When): void;
  pitchWheel(channel: number, value: number, when?: When): void;
  channelPressure(channel: number, value: number, when?: When): void;
  stopAll(force?: boolean): void;
  destroy(): void;
}

const PERCUSSION = 9;
const ALL_AT_REST = 121;
const VOLUME = 7;
/** Volume where a part says nothing (General MIDI 2). */
const REST_VOLUME = 100;
const NO_BEND = 8192;

/** The shortest that a note sounds, in seconds. */
const SHORTEST = 0.001;

interface Sounding {
  readonly channel: number;
  readonly pitch: number;
  /** When it was struck last: it may be ahead of the clock. */
  at: number;
  until: number;
}

/** Sounds over a synthesizer that has its font. */
export const fontSounds = (synth: FontSynth): Sounds => {
  const channels = new Map<PartId, { channel: number; sound: PartSound }>();
  let taken = 0;
  let sounding: Sounding[] = [];

  const nextChannel = (): number => {
    // Each sixteen channels have one that is percussion.
    while (taken % 16 === PERCUSSION) taken += 1;
    while (synth.channelCount <= taken) synth.addNewChannel();
    taken += 1;
    return taken - 1;
  };

  const soundOn = (channel: number): PartSound => {
    const play: PartSound['play'] = (pitch, at, until, velocity) => {
      const before = sounding.find((one) => one.channel === channel && one.pitch === pitch && one.until > at);
      // One key of one channel sounds once: what it was doing ends where it is struck again.
      if (before) {
        synth.noteOff(channel, pitch, { time: at });
        before.at = at;
        before.until = Math.max(before.until, until);
      } else sounding.push({ channel, pitch, at, until });
      synth.noteOn(channel, pitch, velocity, { time: at });
    };
    return {
      play,
      strike: (pitch, at, velocity) => play(pitch, at, Number.POSITIVE_INFINITY, velocity),
      letGo: (pitch, at) => {
        const held = sounding.find((one) => one.channel === channel && one.pitch === pitch);
        if (held) held.until = Math.max(held.at + SHORTEST, at);
      },
      change: (event, at) => tell(channel, event, { time: at }),
    };
  };

  const tell = (channel: number, event: SoundEvent, when: When): void => {
    switch (event.kind) {
      case 'controller':
        synth.controllerChange(channel, event.controller, event.value, when);
        break;
      case 'program':
        synth.programChange(channel, event.program, when);
        break;
      case 'pitchBend':
        synth.pitchWheel(channel, event.value, when);
        break;
      case 'channelPressure':
        synth.channelPressure(channel, event.value, when);
        break;
    }
  };

  const prepare = (part: Part): void => {
    const percussion = isUnpitched(instrumentById(part.instrument));
    const known = channels.get(part.id);
    const channel = percussion ? PERCUSSION : known && known.channel !== PERCUSSION ? known.channel : nextChannel();
    if (known?.channel !== channel) channels.set(part.id, { channel, sound: soundOn(channel) });
    synth.controllerChange(channel, ALL_AT_REST, 0);
    synth.controllerChange(channel, VOLUME, REST_VOLUME);
    synth.pitchWheel(channel, NO_BEND);
    synth.programChange(channel, firstProgram(part));
  };

  const endAll = (force: boolean): void => {
    // What was handed on and is not struck yet ends as soon as it is.
    for (const { channel, pitch, at } of sounding) synth.noteOff(channel, pitch, { time: at + SHORTEST });
    sounding = [];
    synth.stopAll(force);
  };

  return {
    prepare: (parts) => parts.forEach(prepare),
    of: (partId) => channels.get(partId)?.sound,
    turn: (limit) => {
      if (!sounding.some(({ until }) => until < limit)) return;
      for (const { channel, pitch, until } of sounding)
        if (until < limit) synth.noteOff(channel, pitch, { time: until });
      sounding = sounding.filter(({ until }) => until >= limit);
    },
    stopAll: () => endAll(false),
    panic: () => endAll(true),
    dispose: () => {
      endAll(true);
      synth.destroy();
    },
  };
};
