/** A made part of any size, for timing. */
import { type Arrangement, compareNotes, type Note, type Part, ticks } from '@crispfold/core';

/** One part of `count` notes: a line with human timing, doubles, specks, chords now and then, and a pedal. */
export const made = (count: number, firstSeed = 11): Arrangement => {
  let seed = firstSeed;
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
    id: k + 1,
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
    nextEventId: events.length + 1,
  };
};

/** Instruments of a large score, taken in turn. */
const INSTRUMENTS = [
  ['flute', 73],
  ['oboe', 68],
  ['clarinet', 71],
  ['bassoon', 70],
  ['horn', 60],
  ['trumpet', 56],
  ['violin', 40],
  ['viola', 41],
  ['cello', 42],
  ['piano', 0],
] as const;

/** A score of `parts` parts, each with about `notes` notes of its own. */
export const madeScoreOf = (parts: number, notes: number): Arrangement => {
  let nextNoteId = 1;
  const all = Array.from({ length: parts }, (_, index): Part => {
    const [part] = made(notes, 11 + index * 97).parts;
    const [instrument, program] = INSTRUMENTS[index % INSTRUMENTS.length] as (typeof INSTRUMENTS)[number];
    const channel = [0, 1, 2, 3, 4, 5, 6, 7, 8, 10, 11, 12, 13, 14, 15][index % 15] as number;
    return {
      ...(part as Part),
      id: index + 1,
      name: `${instrument} ${index + 1}`,
      instrument,
      program,
      channel,
      events: [],
      notes: (part?.notes ?? []).map((note) => ({ ...note, id: nextNoteId++, channel })),
    };
  });
  return { ...made(1), title: 'Made score', parts: all, nextNoteId, nextPartId: parts + 1, nextEventId: 1 };
};
