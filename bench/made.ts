/** A made part of any size, for timing. */
import { type Arrangement, compareNotes, type Note, type Part, ticks } from '@crispfold/core';

/** One part of `count` notes: a line with human timing, doubles, specks, chords now and then, and a pedal. */
export const made = (count: number): Arrangement => {
  let seed = 11;
  const random = () => {
    seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0;
    return seed / 4294967296;
  };
  const notes: Note[] = [];
  let onset = 0;
  while (notes.length < count) {
    const slot = random() < 0.7 ? 240 : random() < 0.5 ? 480 : 120;
    const tones = random() < 0.2 ? 3 : 1;
    const at = Math.max(0, Math.round(onset + (random() - 0.5) * 24));
    for (let tone = 0; tone < tones; tone += 1) {
      notes.push({
        id: notes.length + 1,
        pitch: 52 + Math.floor(random() * 24) + tone * 4,
        onset: ticks(at + Math.round(random() * 8)),
        duration: ticks(random() < 0.02 ? 12 : Math.round(slot * (0.78 + random() * 0.27))),
        velocity: 60 + Math.floor(random() * 40),
        channel: 0,
      });
    }
    onset += slot;
  }
  const events = Array.from({ length: Math.floor(onset / 1920) * 2 }, (_, k) => ({
    kind: 'controller' as const,
    tick: ticks((k >> 1) * 1920 + (k % 2 === 0 ? 40 : 1860)),
    channel: 0,
    controller: 64,
    value: k % 2 === 0 ? 127 : 0,
  }));
  const part: Part = {
    id: 1,
    name: 'Made',
    instrument: 'vibraphone',
    channel: 0,
    program: 11,
    events,
    notes: notes.sort(compareNotes),
  };
  return {
    title: 'Made',
    ppq: 480,
    tempos: [{ tick: ticks(0), microsecondsPerQuarter: 500_000 }],
    meters: [{ tick: ticks(0), numerator: 4, denominator: 4 }],
    keys: [],
    markers: [],
    parts: [part],
    silentTracks: [],
    nextNoteId: notes.length + 1,
    nextPartId: 2,
  };
};
