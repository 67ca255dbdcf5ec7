/** A change of tempo under which every note sounds when it did: the bars move under the notes, not the notes with the bars. */
import { type Arrangement, compareEvents, compareNotes, type Note, type PartEvent } from '../model/arrangement.js';
import { type Change, type Edit, eventsChange, notesChange } from '../model/edit.js';
import { createTempoMap, type TempoChange } from '../time/tempoMap.js';
import { ticks } from '../time/units.js';

/** No place is off by more than half of this, in milliseconds. */
const COARSEST_TICK = 1;
/** The finest that a MIDI file can say (15 bits), in ticks to the quarter. */
const MOST_PPQ = 32_767;

/** How many times finer ticks must be, so that no tick lasts longer than {@link COARSEST_TICK} under these tempi. */
const finenessFor = (tempos: readonly TempoChange[], ppq: number): number => {
  const slowest = tempos.reduce(
    (most, { microsecondsPerQuarter, ramp }) => Math.max(most, microsecondsPerQuarter, ramp?.to ?? 0),
    1,
  );
  const factor = Math.ceil(slowest / 1000 / ppq / COARSEST_TICK);
  return Math.max(1, Math.min(factor, Math.floor(MOST_PPQ / ppq)));
};

const scaled = <Item extends { readonly tick: number }>(items: readonly Item[], factor: number): Item[] =>
  items.map((item) => ({ ...item, tick: ticks(item.tick * factor) }));

/**
 * The same Edit, where it changes the tempo, with all notes and messages moved so that each keeps its time to half a
 * millisecond; ticks become finer where they must. Meters, keys and markers stay with their bars. The Edit itself where it
 * changes no tempo.
 */
export const keepingTimes = (arrangement: Arrangement, edit: Edit): Edit => {
  const tempoChange = edit.changes.find(
    (change) => change.kind === 'arrangementFields' && change.after.tempos !== undefined,
  );
  if (tempoChange?.kind !== 'arrangementFields' || !tempoChange.after.tempos) return edit;
  const { ppq } = arrangement;
  const factor = finenessFor(tempoChange.after.tempos, ppq);
  const tempos = scaled(tempoChange.after.tempos, factor);
  const [old, now] = [createTempoMap(arrangement.tempos, ppq), createTempoMap(tempos, ppq * factor)];
  const moved = (tick: number) => ticks(Math.max(0, Math.round(now.ticksAt(old.secondsAt(tick)))));
  const parts = arrangement.parts.flatMap((part): Change[] => {
    const notes = part.notes
      .map((note): Note => {
        const onset = moved(note.onset);
        const end = moved(note.onset + note.duration);
        return { ...note, onset, duration: ticks(Math.max(note.duration > 0 ? 1 : 0, end - onset)) };
      })
      .sort(compareNotes);
    const events = part.events.map((event): PartEvent => ({ ...event, tick: moved(event.tick) })).sort(compareEvents);
    return [notesChange(part.id, part.notes, notes), eventsChange(part.id, part.events, events)].filter(
      (change) => change !== undefined,
    );
  });
  const { meters, keys, markers, silentTracks } = arrangement;
  const finer =
    factor === 1
      ? { before: {}, after: {} }
      : {
          before: { ppq, meters, keys, markers, silentTracks },
          after: {
            ppq: ppq * factor,
            meters: scaled(meters, factor),
            keys: scaled(keys, factor),
            markers: scaled(markers, factor),
            silentTracks: silentTracks.map((track) => ({ ...track, events: scaled(track.events, factor) })),
          },
        };
  return {
    label: `${edit.label}; notes keep their time`,
    changes: [
      {
        kind: 'arrangementFields',
        before: { ...tempoChange.before, ...finer.before },
        after: { ...tempoChange.after, ...finer.after, tempos },
      },
      ...edit.changes.filter((change) => change !== tempoChange),
      ...parts,
    ],
  };
};
