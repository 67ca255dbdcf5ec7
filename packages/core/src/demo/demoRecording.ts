/** A short recording that ships with the demo: the players' own notes, sounded by simple means, after a little silence. */
import { type Family, instrumentById } from '../instruments/instruments.js';
import type { Arrangement } from '../model/arrangement.js';
import { createChance } from '../model/chance.js';
import { type SoundingNote, soundingNotes } from '../playback/soundingNotes.js';
import type { Samples } from '../recording/attacks.js';
import { wavBytes } from '../recording/wav.js';
import { demoArrangement } from './demo.js';

/** So long is silent before the first bar, in seconds: where the recording lies is therefore known. */
export const DEMO_LEAD_IN = 1.37;
const LASTS = 30;
const RATE = 22_050;

interface Voice {
  /** Loudness of the harmonics, the lowest first. */
  readonly harmonics: readonly number[];
  /** Seconds from silence to full loudness, and until half of it is gone (0: it stays). */
  readonly attack: number;
  readonly half: number;
}

const VOICES: { readonly [family in Family]?: Voice } = {
  woodwind: { harmonics: [1, 0.35, 0.3, 0.1], attack: 0.018, half: 0 },
  brass: { harmonics: [1, 0.8, 0.5, 0.3, 0.15], attack: 0.022, half: 0 },
  mallet: { harmonics: [1, 0, 0, 0.3], attack: 0.002, half: 0.8 },
  strings: { harmonics: [1, 0.6, 0.45, 0.3, 0.2], attack: 0.025, half: 0 },
};
const PLAIN: Voice = { harmonics: [1, 0.4, 0.2], attack: 0.01, half: 0 };
const RELEASE = 0.06;
/** Of a tone at full velocity. */
const LOUDEST = 0.12;

const addTone = (data: Float32Array, note: SoundingNote, voice: Voice): void => {
  const frequency = 440 * 2 ** ((note.pitch - 69) / 12);
  const from = Math.round((DEMO_LEAD_IN + note.start) * RATE);
  const length = note.end - note.start + RELEASE;
  const level = (note.velocity / 127) ** 1.5 * LOUDEST;
  for (let at = 0; at < length * RATE && from + at < data.length; at += 1) {
    const time = at / RATE;
    const fading = voice.half > 0 ? 0.5 ** (time / voice.half) : 1;
    const ending = Math.min(1, (length - time) / RELEASE);
    const loud = level * Math.min(1, time / voice.attack) * fading * ending;
    let value = 0;
    voice.harmonics.forEach((harmonic, index) => {
      if (harmonic > 0) value += harmonic * Math.sin(2 * Math.PI * frequency * (index + 1) * time);
    });
    data[from + at] = (data[from + at] as number) + loud * value;
  }
};

/** A stroke of noise. */
const addStroke = (data: Float32Array, note: SoundingNote): void => {
  const chance = createChance(note.noteId);
  const from = Math.round((DEMO_LEAD_IN + note.start) * RATE);
  const level = (note.velocity / 127) ** 1.5 * LOUDEST;
  for (let at = 0; at < 0.12 * RATE && from + at < data.length; at += 1)
    data[from + at] = (data[from + at] as number) + level * 0.5 ** (at / RATE / 0.02) * chance.between(-1, 1);
};

/** The first half minute of an arrangement as it was played, made into sound. */
export const renderedPerformance = (arrangement: Arrangement): Samples => {
  const data = new Float32Array(Math.round((DEMO_LEAD_IN + LASTS) * RATE));
  const notes = soundingNotes(arrangement, {
    partIds: arrangement.parts.map(({ id }) => id),
    creaseTick: null,
    written: [],
  });
  const families = new Map(arrangement.parts.map((part) => [part.id, instrumentById(part.instrument).family]));
  for (const note of notes) {
    if (note.start >= LASTS) break;
    const family = families.get(note.partId) ?? 'other';
    if (family === 'percussion') addStroke(data, note);
    else addTone(data, note, VOICES[family] ?? PLAIN);
  }
  return { rate: RATE, data };
};

/** The demo's recording as a wav file. */
export const demoRecording = (): { readonly name: string; readonly bytes: Uint8Array; readonly seconds: number } => {
  const samples = renderedPerformance(demoArrangement());
  return {
    name: 'Saltmarsh Lanterns, a take in the hall.wav',
    bytes: wavBytes(samples),
    seconds: samples.data.length / samples.rate,
  };
};
