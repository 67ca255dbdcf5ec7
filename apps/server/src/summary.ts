/** What the library shows of an arrangement, so that listing opens nothing. */
import type { LibraryItem } from '@crispfold/contract';
import { type Arrangement, barsOfRecording, createTempoMap, lastTick } from '@crispfold/core';

/** A line of the library without its address and time. */
export type Summary = Omit<LibraryItem, 'id' | 'changedAt' | 'tags' | 'glance'>;

/** The line of an arrangement. */
export const summaryOf = (arrangement: Arrangement): Summary => {
  const { ppq, parts, tempos, meters } = arrangement;
  const end = lastTick(parts);
  return {
    title: arrangement.title,
    parts: parts.map((part) => ({ name: part.name, instrument: part.instrument, notes: part.notes.length })),
    bars: barsOfRecording(
      meters,
      ppq,
      parts.flatMap((part) => part.notes),
    ),
    seconds: createTempoMap(tempos, ppq).secondsAt(end),
  };
};
