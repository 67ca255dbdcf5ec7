/**
 * Has the worker's code compiled while nothing is asked of it: code that has run a few times runs several times faster, and
 * the first file that a person drops need not wait for that.
 */
import { type Arrangement, type Note, type Part, ticks } from '@crispfold/core';
import { createDesk, type Engrave } from './deskSession.js';
import { packPlayed } from './packedNotes.js';
import type { Session } from './protocol.js';

const PPQ = 480;
const [PARTS, NOTES, TURNS] = [2, 500, 12] as const;

/** A line in eighths and quarters, a little off its places, as a hand plays it. */
const someLine = (id: number): Part => {
  const notes: Note[] = [];
  let onset = 0;
  for (let index = 0; index < NOTES; index += 1) {
    const length = index % 5 === 0 ? PPQ : PPQ / 2;
    const off = ((index * 7) % 23) - 11;
    notes.push({
      id: id * 10_000 + index,
      pitch: 60 + ((index * 5) % 17) + (index % 11 === 0 ? 4 : 0),
      onset: ticks(Math.max(0, onset + off)),
      duration: ticks(Math.round(length * (0.8 + ((index * 3) % 10) / 40))),
      velocity: 60 + ((index * 11) % 40),
      channel: id - 1,
    });
    onset += length;
  }
  const program = id === 1 ? 73 : 0;
  const instrument = id === 1 ? 'flute' : 'piano';
  return { id, name: `Part ${id}`, instrument, channel: id - 1, program, events: [], notes };
};

const someMusic = (): Arrangement => ({
  title: '',
  ppq: PPQ,
  tempos: [{ tick: ticks(0), microsecondsPerQuarter: 500_000 }],
  meters: [{ tick: ticks(0), numerator: 4, denominator: 4 }],
  keys: [],
  markers: [],
  silentTracks: [],
  nextNoteId: 100_000,
  nextPartId: 10,
  nextEventId: 1,
  parts: Array.from({ length: PARTS }, (_, index) => someLine(index + 1)),
});

const pause = () => new Promise((resolve) => setTimeout(resolve, 20));

/** Runs plans, checks and pages of music that nobody sees, a piece at a time, until `wanted` says that others come. */
export const warmUp = async (engrave: Engrave, wanted: () => boolean): Promise<void> => {
  const desk = createDesk(engrave);
  const session: Session = 1;
  const { parts, ...header } = someMusic();
  const order = parts.map(({ id }) => id);
  for (let revision = 1; revision <= TURNS; revision += 1) {
    if (wanted()) return;
    // Other lists of the same notes: nothing that is known may be taken over.
    const news = parts.map(({ notes, ...part }) => ({ ...part, packed: packPlayed([...notes]) }));
    await desk({ call: 'tell', session, revision, asks: { header, parts: news, order } });
    await pause();
    const page = { partIds: order, firstBar: 1, lastBar: 8, shown: 0 };
    await desk({ call: 'page', session, revision, asks: page });
    await pause();
    if (wanted()) return;
    await desk({ call: 'layers', session, revision, asks: { first: order } });
    await pause();
  }
};
