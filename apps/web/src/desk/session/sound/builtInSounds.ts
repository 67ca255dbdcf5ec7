/** Simple sounds by instrument family, made by Tone.js. They know volume and expression, and no other controllers. */
import { type Family, instrumentById, isUnpitched, loudnessBy, type Part, type PartId } from '@crispfold/core';
import type * as ToneModule from 'tone';
import type { PartSound, Sounds } from './sound.js';

type Tone = typeof ToneModule;

/** A part's voice; lengths in seconds, loudness 0 to 1. */
interface Voice {
  play(pitch: number, at: number, length: number, loudness: number): void;
  strike(pitch: number, at: number, loudness: number): void;
  letGo(pitch: number, at: number): void;
  stopAll(): void;
  dispose(): void;
}

const WAVES: {
  readonly [family in Family]: {
    wave: string;
    attack: number;
    decay: number;
    sustain: number;
    release: number;
    level: number;
  };
} = {
  woodwind: { wave: 'triangle', attack: 0.03, decay: 0.1, sustain: 0.8, release: 0.12, level: -10 },
  brass: { wave: 'fatsawtooth', attack: 0.05, decay: 0.15, sustain: 0.7, release: 0.15, level: -20 },
  mallet: { wave: 'sine', attack: 0.002, decay: 1.6, sustain: 0.05, release: 0.5, level: -9 },
  percussion: { wave: 'sine', attack: 0.001, decay: 0.3, sustain: 0, release: 0.2, level: -10 },
  keyboard: { wave: 'triangle8', attack: 0.004, decay: 1.2, sustain: 0.15, release: 0.3, level: -12 },
  plucked: { wave: 'triangle', attack: 0.002, decay: 0.7, sustain: 0.05, release: 0.3, level: -10 },
  voice: { wave: 'sine4', attack: 0.06, decay: 0.1, sustain: 0.9, release: 0.2, level: -14 },
  strings: { wave: 'sawtooth4', attack: 0.06, decay: 0.1, sustain: 0.85, release: 0.2, level: -18 },
  other: { wave: 'triangle', attack: 0.01, decay: 0.3, sustain: 0.5, release: 0.2, level: -12 },
};

const frequency = (pitch: number): number => 440 * 2 ** ((pitch - 69) / 12);

const pitchedSound = (tone: Tone, family: Family): Voice => {
  const { wave, level, ...envelope } = WAVES[family];
  const synth = new tone.PolySynth(tone.Synth, {
    oscillator: { type: wave as 'sine' },
    envelope,
    volume: level,
  }).toDestination();
  synth.maxPolyphony = 64;
  return {
    play: (pitch, at, length, loudness) =>
      synth.triggerAttackRelease(frequency(pitch), Math.max(0.02, length), at, loudness),
    strike: (pitch, at, loudness) => synth.triggerAttack(frequency(pitch), at, loudness),
    letGo: (pitch, at) => synth.triggerRelease(frequency(pitch), at),
    stopAll: () => synth.releaseAll(),
    dispose: () => synth.dispose(),
  };
};

/** Drums with a pitch (bass drum, toms), and noise for the rest (snare, cymbals, tambourine, shaker). */
const percussionSound = (tone: Tone): Voice => {
  const drum = new tone.PolySynth(tone.MembraneSynth, { volume: -8 }).toDestination();
  const filter = new tone.Filter(5000, 'highpass').toDestination();
  const noise = new tone.NoiseSynth({
    noise: { type: 'white' },
    envelope: { attack: 0.001, decay: 0.12, sustain: 0 },
    volume: -14,
  }).connect(filter);
  const drums = new Set([35, 36, 41, 43, 45, 47, 48, 50, 60, 61, 62, 63, 64, 65, 66]);
  let last = 0;
  const strike = (pitch: number, at: number, loudness: number): void => {
    if (drums.has(pitch)) {
      drum.triggerAttackRelease(40 + (pitch - 35) * 6, 0.15, at, loudness);
      return;
    }
    // One noise source cannot start twice at one instant.
    last = Math.max(at, last + 0.005);
    noise.triggerAttackRelease(0.08, last, loudness);
  };
  return {
    play: (pitch, at, _length, loudness) => strike(pitch, at, loudness),
    strike,
    letGo: () => {},
    stopAll: () => drum.releaseAll(),
    dispose: () => {
      drum.dispose();
      noise.dispose();
      filter.dispose();
    },
  };
};

const voiceFor = (tone: Tone, part: Part): Voice => {
  const instrument = instrumentById(part.instrument);
  return isUnpitched(instrument) ? percussionSound(tone) : pitchedSound(tone, instrument.family);
};

const VOLUME = 7;
const EXPRESSION = 11;

/** A voice with the volume and expression that its part has just then. */
const partSound = (voice: Voice): PartSound & { reset(): void } => {
  let [volume, expression]: (number | undefined)[] = [];
  return {
    reset: () => {
      [volume, expression] = [undefined, undefined];
    },
    play: (pitch, at, until, velocity) =>
      voice.play(pitch, at, until - at, (velocity / 127) * loudnessBy(volume, expression)),
    strike: (pitch, at, velocity) => voice.strike(pitch, at, (velocity / 127) * loudnessBy(volume, expression)),
    letGo: (pitch, at) => voice.letGo(pitch, at),
    change: (event) => {
      if (event.kind !== 'controller') return;
      if (event.controller === VOLUME) volume = event.value;
      if (event.controller === EXPRESSION) expression = event.value;
    },
  };
};

/** Sounds that need no file. */
export const builtInSounds = (tone: Tone): Sounds => {
  const known = new Map<PartId, { instrument: string; voice: Voice; sound: PartSound & { reset(): void } }>();
  return {
    prepare: (parts) => {
      for (const part of parts) {
        const before = known.get(part.id);
        before?.sound.reset();
        if (before?.instrument === part.instrument) continue;
        before?.voice.dispose();
        const voice = voiceFor(tone, part);
        known.set(part.id, { instrument: part.instrument, voice, sound: partSound(voice) });
      }
    },
    of: (partId) => known.get(partId)?.sound,
    turn: () => {},
    stopAll: () => {
      for (const { voice } of known.values()) voice.stopAll();
    },
    panic: () => {
      for (const { voice } of known.values()) voice.dispose();
      known.clear();
    },
    dispose: () => {
      for (const { voice } of known.values()) voice.dispose();
      known.clear();
    },
  };
};
