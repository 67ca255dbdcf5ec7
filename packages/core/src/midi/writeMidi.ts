/** Arrangements to Standard MIDI File bytes, as played and as written. */
import { writeMidi as encodeMidi, type MidiData, type MidiEvent } from 'midi-file';
import { expandedEvents } from '../lanes/lanes.js';
import type { Arrangement, Note, Part, TrackEvent } from '../model/arrangement.js';
import { type WaysInSound, waysInSound } from '../model/waysOfPlaying.js';
import { tonesOf, type Written } from '../plan/written.js';
import { createTempoMap, expandedTempos } from '../time/tempoMap.js';
import { rescaleTicks, ticks, WRITTEN_PPQ } from '../time/units.js';

/** A message at its tick; `rank` orders messages at one tick: ends, then everything else, then starts. */
interface Placed {
  readonly tick: number;
  readonly rank: number;
  readonly event: Omit<MidiEvent, 'deltaTime'>;
}

/** midi-file writes one byte a character, so text goes in as the characters of its UTF-8 bytes. */
const asBytes = (text: string): string => {
  let bytes = '';
  for (const byte of new TextEncoder().encode(text)) bytes += String.fromCharCode(byte);
  return bytes;
};

const RANK = { end: 0, other: 1, start: 2, endOfInstant: 3 } as const;

const noteMessages = (notes: readonly Note[], channel: (note: Note) => number): Placed[] =>
  notes.flatMap((note) => {
    const on = { type: 'noteOn', channel: channel(note), noteNumber: note.pitch, velocity: note.velocity };
    const off = {
      type: 'noteOff',
      channel: channel(note),
      noteNumber: note.pitch,
      velocity: note.releaseVelocity ?? 64,
    };
    return [
      { tick: note.onset, rank: RANK.start, event: on as Placed['event'] },
      {
        tick: note.onset + note.duration,
        // An instant's end comes after its own start.
        rank: note.duration === 0 ? RANK.endOfInstant : RANK.end,
        event: off as Placed['event'],
      },
    ];
  });

const TEXT_TYPES: { readonly [metaType: number]: string } = {
  1: 'text',
  2: 'copyrightNotice',
  3: 'trackName',
  4: 'instrumentName',
  5: 'lyrics',
  6: 'marker',
  7: 'cuePoint',
};

const eventMessage = (event: TrackEvent): Placed['event'] => {
  switch (event.kind) {
    case 'controller':
      return {
        type: 'controller',
        channel: event.channel,
        controllerType: event.controller,
        value: event.value,
      } as Placed['event'];
    case 'program':
      return { type: 'programChange', channel: event.channel, programNumber: event.program } as Placed['event'];
    case 'pitchBend':
      return { type: 'pitchBend', channel: event.channel, value: event.value - 8192 } as Placed['event'];
    case 'channelPressure':
      return { type: 'channelAftertouch', channel: event.channel, amount: event.value } as Placed['event'];
    case 'keyPressure':
      return {
        type: 'noteAftertouch',
        channel: event.channel,
        noteNumber: event.pitch,
        amount: event.value,
      } as Placed['event'];
    case 'text': {
      const type = TEXT_TYPES[event.metaType];
      if (type) return { type, text: asBytes(event.text) } as unknown as Placed['event'];
      return {
        type: 'unknownMeta',
        metatypeByte: event.metaType,
        data: [...new TextEncoder().encode(event.text)],
      } as unknown as Placed['event'];
    }
    case 'meta':
      return { type: 'unknownMeta', metatypeByte: event.metaType, data: event.data } as unknown as Placed['event'];
    case 'sysex':
      return { type: event.escape ? 'endSysEx' : 'sysEx', data: event.data } as unknown as Placed['event'];
    default:
      return event satisfies never;
  }
};

const meta = (tick: number, event: object): Placed => ({ tick, rank: RANK.other, event: event as Placed['event'] });

/** The track of tempo, meters, keys and markers. */
const tempoTrack = (arrangement: Arrangement, scale: (tick: number) => number): Placed[] => [
  meta(0, { type: 'trackName', text: asBytes(arrangement.title) }),
  ...arrangement.meters.map((m) =>
    meta(scale(m.tick), {
      type: 'timeSignature',
      numerator: m.numerator,
      denominator: m.denominator,
      metronome: 24,
      thirtyseconds: 8,
    }),
  ),
  ...arrangement.keys.map((k) => meta(scale(k.tick), { type: 'keySignature', key: k.fifths, scale: k.minor ? 1 : 0 })),
  ...expandedTempos(arrangement.tempos, arrangement.ppq).map((t) =>
    meta(scale(t.tick), { type: 'setTempo', microsecondsPerBeat: t.microsecondsPerQuarter }),
  ),
  ...arrangement.markers.map((m) => meta(scale(m.tick), { type: 'marker', text: asBytes(m.text) })),
];

const partTrack = (
  part: Part,
  notes: readonly Note[],
  events: readonly TrackEvent[],
  ways: WaysInSound,
  scale: (tick: number) => number,
): Placed[] => {
  const hasProgram = events.some((event) => event.kind === 'program' && event.channel === part.channel);
  const program =
    part.program !== null && !hasProgram
      ? [meta(0, { type: 'programChange', channel: part.channel, programNumber: part.program })]
      : [];
  return [
    meta(0, { type: 'trackName', text: asBytes(part.name) }),
    ...program,
    ...events.map((event) => ({ tick: scale(event.tick), rank: RANK.other, event: eventMessage(event) })),
    ...ways.events.map((event) => ({ tick: scale(event.tick), rank: RANK.other, event: eventMessage(event) })),
    ...noteMessages(notes, (note) => note.channel),
    ...ways.keys.flatMap((key) => {
      const [onset, end] = [scale(key.onset), scale(key.onset + key.duration)];
      return noteMessages([{ ...key, id: 0, onset, duration: end - onset } as Note], ({ channel }) => channel);
    }),
  ];
};

const toTrack = (placed: Placed[]): MidiEvent[] => {
  const ordered = placed
    .map((item, index) => ({ item, index }))
    .sort((a, b) => a.item.tick - b.item.tick || a.item.rank - b.item.rank || a.index - b.index);
  let last = 0;
  const track = ordered.map(({ item }) => {
    const deltaTime = item.tick - last;
    last = item.tick;
    return { ...item.event, deltaTime } as MidiEvent;
  });
  track.push({ deltaTime: 0, type: 'endOfTrack', meta: true } as MidiEvent);
  return track;
};

/** The writer copies all it has written with each message, so long tracks are written in pieces and joined. */
const PIECE = 500;
const HEADER_BYTES = 14;
const TRACK_HEADER_BYTES = 8;

const encode = (tracks: Placed[][], ppq: number): Uint8Array => {
  const header = { format: 1, ticksPerBeat: ppq } as const;
  const written = (messages: MidiEvent[][]): number[] => encodeMidi({ header, tracks: messages } as MidiData);
  const chunks: number[][] = [written(tracks.map(() => [])).slice(0, HEADER_BYTES)];
  for (const track of tracks.map(toTrack)) {
    const pieces: number[][] = [];
    for (let from = 0; from < track.length; from += PIECE) {
      pieces.push(written([track.slice(from, from + PIECE)]).slice(HEADER_BYTES + TRACK_HEADER_BYTES));
    }
    const length = pieces.reduce((sum, piece) => sum + piece.length, 0);
    chunks.push([0x4d, 0x54, 0x72, 0x6b, length >>> 24, (length >>> 16) & 255, (length >>> 8) & 255, length & 255]);
    chunks.push(...pieces);
  }
  const bytes = new Uint8Array(chunks.reduce((sum, chunk) => sum + chunk.length, 0));
  let at = 0;
  for (const chunk of chunks) {
    bytes.set(chunk, at);
    at += chunk.length;
  }
  return bytes;
};

/** Which parts to write; all where left out. */
export interface PartChoice {
  readonly partIds?: readonly number[];
}

const chosen = (arrangement: Arrangement, { partIds }: PartChoice): readonly Part[] =>
  partIds ? arrangement.parts.filter((part) => partIds.includes(part.id)) : arrangement.parts;

/** The performance: every note, controller and message as it was brought in or edited. Muted notes are left out. */
export const writePlayedMidi = (arrangement: Arrangement, choice: PartChoice = {}): Uint8Array => {
  const same = (tick: number) => tick;
  const { ticksPerMillisecond } = createTempoMap(arrangement.tempos, arrangement.ppq);
  const silent = choice.partIds ? [] : arrangement.silentTracks;
  return encode(
    [
      tempoTrack(arrangement, same),
      ...chosen(arrangement, choice).map((part) =>
        partTrack(
          part,
          part.notes.filter((note) => !note.muted),
          expandedEvents(part.events, ticksPerMillisecond),
          waysInSound(part, arrangement.ppq),
          same,
        ),
      ),
      ...silent.map((track) => [
        ...(track.name ? [meta(0, { type: 'trackName', text: asBytes(track.name) })] : []),
        ...track.events.map((event) => ({ tick: event.tick as number, rank: RANK.other, event: eventMessage(event) })),
      ]),
    ],
    arrangement.ppq,
  );
};

const SUSTAIN = 64;
const SOSTENUTO = 66;

/**
 * The page as MIDI, at {@link WRITTEN_PPQ} so that every position is exact. Pedal that the plan turned into lengths is
 * left out; other messages move with their ticks.
 */
export const writeWrittenMidi = (
  arrangement: Arrangement,
  written: readonly Written[],
  choice: PartChoice = {},
): Uint8Array => {
  const scale = (tick: number) => rescaleTicks(tick, arrangement.ppq, WRITTEN_PPQ);
  const { ticksPerMillisecond } = createTempoMap(arrangement.tempos, arrangement.ppq);
  const byPart = new Map(written.map((layer) => [layer.partId, layer]));
  return encode(
    [
      tempoTrack(arrangement, scale),
      ...chosen(arrangement, choice).map((part) => {
        const layer = byPart.get(part.id);
        const events = expandedEvents(part.events, ticksPerMillisecond).filter(
          (event) => event.kind !== 'controller' || (event.controller !== SUSTAIN && event.controller !== SOSTENUTO),
        );
        const notes = (layer?.notes ?? []).flatMap((note) =>
          tonesOf(note).map(
            ({ at, duration, ...tone }): Note => ({
              ...tone,
              onset: ticks(Math.max(0, note.onset + at)),
              duration: ticks(duration),
              channel: note.channel,
            }),
          ),
        );
        return partTrack(part, notes, events, waysInSound(part, arrangement.ppq), scale);
      }),
    ],
    WRITTEN_PPQ,
  );
};
