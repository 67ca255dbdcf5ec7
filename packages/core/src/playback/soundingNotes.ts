/** What one hears: notes with the pedal's hold, in seconds, from either layer. */
import type { Arrangement, NoteId, PartId } from '../model/arrangement.js';
import { playedContext } from '../plan/context.js';
import { tonesOf, type Written } from '../plan/written.js';
import { sustainToDurations } from '../steps/sustainToDurations.js';
import { createTempoMap } from '../time/tempoMap.js';
import { rescaleTicks, WRITTEN_PPQ } from '../time/units.js';

/** A note as it is heard; times in seconds from tick 0. */
export interface SoundingNote {
  readonly partId: PartId;
  readonly noteId: NoteId;
  readonly pitch: number;
  readonly velocity: number;
  readonly start: number;
  readonly end: number;
}

/** What to play. */
export interface SoundingOptions {
  readonly partIds: readonly PartId[];
  /** From this tick on the Written layer is heard, before it Played; null hears Played throughout. */
  readonly creaseTick: number | null;
  readonly written: readonly Pick<Written, 'partId' | 'notes'>[];
}

/** Notes in order of start. Muted notes are silent; a pedal holds Played notes until it lifts or their pitch is struck again. */
export const soundingNotes = (
  arrangement: Arrangement,
  { partIds, creaseTick, written }: SoundingOptions,
): SoundingNote[] => {
  const { ppq } = arrangement;
  const tempoMap = createTempoMap(arrangement.tempos, ppq);
  const crease = creaseTick ?? Number.POSITIVE_INFINITY;
  const layers = new Map(written.map((layer) => [layer.partId, layer]));
  const heard: SoundingNote[] = [];
  for (const part of arrangement.parts) {
    if (!partIds.includes(part.id)) continue;
    const add = (noteId: NoteId, pitch: number, velocity: number, onset: number, end: number) =>
      heard.push({
        partId: part.id,
        noteId,
        pitch,
        velocity,
        start: tempoMap.secondsAt(onset),
        end: tempoMap.secondsAt(end),
      });
    const played = sustainToDurations.run(
      part.notes.filter((note) => !note.muted),
      playedContext(arrangement, part),
      { limit: 'pedalUp', keepPedal: false },
    ).notes;
    for (const note of played) {
      if (note.onset < crease) add(note.id, note.pitch, note.velocity, note.onset, note.onset + note.duration);
    }
    if (creaseTick === null) continue;
    for (const note of layers.get(part.id)?.notes ?? []) {
      const onset = rescaleTicks(note.onset, WRITTEN_PPQ, ppq);
      if (onset < crease) continue;
      for (const { id, pitch, velocity, at, duration } of tonesOf(note)) {
        const from = Math.max(0, note.onset + at);
        add(id, pitch, velocity, rescaleTicks(from, WRITTEN_PPQ, ppq), rescaleTicks(from + duration, WRITTEN_PPQ, ppq));
      }
    }
  }
  return heard.sort((a, b) => a.start - b.start || a.pitch - b.pitch);
};
