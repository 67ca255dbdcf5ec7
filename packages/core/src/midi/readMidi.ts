/**
 * Standard MIDI File bytes to tracks. Written to survive damaged files: a track that is cut off keeps what is whole,
 * and each loss is a warning. Source: Standard MIDI Files 1.0 (MIDI Manufacturers Association, 1996).
 */

import type { KeyChange, Marker, TrackEvent } from '../model/arrangement.js';
import {
  LONGEST_EVENT_BYTES,
  LONGEST_MARKER,
  LONGEST_PART_NAME,
  LONGEST_TEXT,
  MOST_EVENTS,
  MOST_KEPT_BYTES,
  MOST_NOTES,
  MOST_TRACKS,
} from '../model/limits.js';
import type { MidiFile, MidiTrack, UnnumberedNote } from '../model/readFile.js';
import { failure, type Problem, type Result, success } from '../model/result.js';
import { keptText } from '../model/texts.js';
import type { OnWork } from '../model/work.js';
import type { MeterChange } from '../time/meterMap.js';
import { createTempoMap, DEFAULT_MICROSECONDS_PER_QUARTER, type TempoChange } from '../time/tempoMap.js';
import { type Ticks, ticks } from '../time/units.js';
import { ByteReader, decodeText, EndOfData } from './byteReader.js';

const META = { trackName: 3, marker: 6, endOfTrack: 0x2f, tempo: 0x51, meter: 0x58, key: 0x59 } as const;

interface Gathered {
  tempos: TempoChange[];
  meters: MeterChange[];
  keys: KeyChange[];
  markers: Marker[];
  warnings: Problem[];
  noteCount: number;
  eventCount: number;
  /** Bytes of messages that are kept as they are, and how many messages were left out for being too large. */
  keptBytes: number;
  leftOut: number;
  /** Texts that were cut to what is kept of one. */
  cutTexts: number;
}

/** Thrown where a file holds more than can be read. */
class TooMuch extends Error {
  constructor(
    readonly code: string,
    message: string,
  ) {
    super(message);
  }
}

/**
 * Reads a file of format 0, 1 or 2. Fails, with a sentence for musicians, only where nothing can be kept. `onWork` is told how
 * many bytes were read, track by track, and may throw to stop.
 */
export const readMidi = (bytes: Uint8Array, onWork?: OnWork): Result<MidiFile> => {
  if (bytes.length === 0) return failure('empty', 'This file is empty.');
  const header = readHeader(bytes);
  if (!header.ok) return header;
  const gathered: Gathered = {
    tempos: [],
    meters: [],
    keys: [],
    markers: [],
    warnings: [],
    noteCount: 0,
    eventCount: 0,
    keptBytes: 0,
    leftOut: 0,
    cutTexts: 0,
  };
  const tracks: MidiTrack[] = [];
  try {
    readChunks(bytes, header.value, gathered, tracks, onWork);
  } catch (error) {
    if (!(error instanceof TooMuch)) throw error;
    return failure(error.code, error.message);
  }
  if (tracks.length === 0)
    return failure('noTracks', 'This MIDI file ends before its first track: nothing in it can be read.');
  if (tracks.length < header.value.trackCount) {
    gathered.warnings.push({
      code: 'tracksMissing',
      message: `The file promises ${header.value.trackCount} tracks; ${tracks.length} could be read.`,
    });
  }
  if (header.value.format === 2) {
    gathered.warnings.push({
      code: 'format2',
      message: 'The file holds independent patterns (format 2); they are laid side by side from bar 1.',
    });
  }
  if (gathered.leftOut > 0) {
    gathered.warnings.push({
      code: 'leftOut',
      message: `${gathered.leftOut === 1 ? 'One message' : `${gathered.leftOut.toLocaleString('en')} messages`} of raw bytes left out: more than is kept of one file.`,
    });
  }
  if (gathered.cutTexts > 0) {
    gathered.warnings.push({
      code: 'cutTexts',
      message: `${gathered.cutTexts === 1 ? 'A text was' : `${gathered.cutTexts.toLocaleString('en')} texts were`} longer than is kept of one, and cut.`,
    });
  }
  const file: MidiFile = { format: header.value.format, ppq: header.value.ppq, tracks, ...gathered };
  return success(header.value.ticksPerSecond === null ? file : fromTimeCode(file, header.value.ticksPerSecond));
};

interface Header {
  readonly format: number;
  readonly trackCount: number;
  readonly ppq: number;
  readonly ticksPerSecond: number | null;
  readonly end: number;
}

const readHeader = (bytes: Uint8Array): Result<Header> => {
  const notMidi = failure('notMidi', 'This is not a MIDI file.');
  if (bytes.length < 14) return notMidi;
  const reader = new ByteReader(bytes);
  if (decodeText(reader.take(4)) !== 'MThd') return notMidi;
  const length = reader.number(4);
  const format = reader.number(2);
  const trackCount = reader.number(2);
  const division = reader.number(2);
  if (length < 6 || format > 2) return failure('badHeader', 'The head of this MIDI file is damaged.');
  if (division === 0) return failure('badHeader', 'The head of this MIDI file gives no ticks to the quarter.');
  // A head longer than six bytes is allowed; one that claims more than the file holds is a lie, and six is taken.
  const end = 8 + length > bytes.length ? 14 : 8 + length;
  if (division < 0x8000) return success({ format, trackCount, ppq: division, ticksPerSecond: null, end });
  const framesPerSecond = 256 - (division >> 8);
  const exactFrames = framesPerSecond === 29 ? 30000 / 1001 : framesPerSecond;
  const ticksPerFrame = division & 0xff;
  if (ticksPerFrame === 0) return failure('badHeader', 'The head of this MIDI file gives no ticks to the frame.');
  return success({ format, trackCount, ppq: 480, ticksPerSecond: exactFrames * ticksPerFrame, end });
};

const readChunks = (
  bytes: Uint8Array,
  header: Header,
  gathered: Gathered,
  tracks: MidiTrack[],
  onWork?: OnWork,
): void => {
  let position = header.end;
  while (position + 8 <= bytes.length) {
    const head = new ByteReader(bytes, position);
    const type = decodeText(head.take(4));
    const length = head.number(4);
    const start = position + 8;
    if (!/^[\x20-\x7e]{4}$/.test(type)) {
      gathered.warnings.push({
        code: 'garbage',
        message: 'After the last whole track the file holds something unreadable; it was left out.',
      });
      return;
    }
    const end = Math.min(start + length, bytes.length);
    if (type === 'MTrk') {
      if (tracks.length === MOST_TRACKS) {
        throw new TooMuch('tooManyTracks', `This file holds more than ${MOST_TRACKS.toLocaleString('en')} tracks.`);
      }
      const lies = start + length > bytes.length;
      tracks.push(readTrack(new ByteReader(bytes, start, end), tracks.length + 1, lies, gathered));
    }
    onWork?.(end - position);
    position = end;
  }
};

const readTrack = (reader: ByteReader, number: number, cut: boolean, gathered: Gathered): MidiTrack => {
  const builder = new TrackBuilder(gathered);
  let problem = cut ? 'is cut off' : '';
  try {
    let status = 0;
    while (!reader.atEnd && !builder.ended) {
      const tick = builder.tick + reader.variableLength();
      const first = reader.byte();
      let data = first;
      if (first >= 0x80) {
        status = first;
        data = -1;
      } else if (status < 0x80) {
        problem = 'is unreadable from here';
        break;
      }
      const message = readMessage(reader, status, data);
      if (message === null) {
        problem = 'is unreadable from here';
        break;
      }
      builder.add(tick, message);
      // Running status holds for channel messages only (SMF 1.0).
      if (status >= 0xf0) status = 0;
    }
  } catch (error) {
    if (!(error instanceof EndOfData)) throw error;
    problem = 'is cut off';
  }
  const track = builder.finish();
  const label = track.name ? `Track ${number} (${track.name})` : `Track ${number}`;
  if (problem && !(cut && builder.ended)) {
    gathered.warnings.push({
      code: 'cutOff',
      message: `${label} ${problem}: ${track.notes.length} notes before that point were kept.`,
    });
  }
  if (builder.neverEnded > 0) {
    gathered.warnings.push({
      code: 'neverEnded',
      message: `${label}: ${builder.neverEnded} ${builder.neverEnded === 1 ? 'note was' : 'notes were'} never ended and now end with the track.`,
    });
  }
  if (builder.neverStarted > 0) {
    gathered.warnings.push({
      code: 'neverStarted',
      message: `${label}: ${builder.neverStarted} note ${builder.neverStarted === 1 ? 'end' : 'ends'} with no start left out.`,
    });
  }
  return track;
};

type Message =
  | { kind: 'channel'; status: number; first: number; second: number }
  | { kind: 'meta'; type: number; data: Uint8Array }
  | { kind: 'sysex'; escape: boolean; data: Uint8Array };

/** Reads one message after its status; `data` is the first data byte where running status took it already, else -1. Null where it cannot be. */
const readMessage = (reader: ByteReader, status: number, data: number): Message | null => {
  if (status < 0xf0) {
    const first = data >= 0 ? data : reader.byte();
    const oneByte = status >> 4 === 0xc || status >> 4 === 0xd;
    const second = oneByte ? 0 : reader.byte();
    return first > 127 || second > 127 ? null : { kind: 'channel', status, first, second };
  }
  if (status === 0xff) {
    const type = reader.byte();
    return { kind: 'meta', type, data: reader.take(reader.variableLength()) };
  }
  if (status === 0xf0 || status === 0xf7) {
    return { kind: 'sysex', escape: status === 0xf7, data: reader.take(reader.variableLength()) };
  }
  return null;
};

interface OpenNote {
  onset: number;
  velocity: number;
  index: number;
}

/** Gathers one track: pairs note-ons with note-offs (first on with first off) and sorts the rest by kind. */
class TrackBuilder {
  tick = 0;
  ended = false;
  neverEnded = 0;
  neverStarted = 0;
  private name = '';
  private named = false;
  private readonly notes: (UnnumberedNote | undefined)[] = [];
  private readonly events: TrackEvent[] = [];
  private readonly open = new Map<number, { waiting: OpenNote[]; head: number }>();

  constructor(private readonly gathered: Gathered) {}

  add(tick: number, message: Message): void {
    this.tick = tick;
    this.gathered.eventCount += 1;
    if (this.gathered.eventCount > MOST_EVENTS) {
      throw new TooMuch(
        'tooManyEvents',
        `This file holds more than ${MOST_EVENTS.toLocaleString('en')} messages, more than can be read.`,
      );
    }
    switch (message.kind) {
      case 'channel':
        this.addChannelMessage(message.status >> 4, message.status & 15, message.first, message.second);
        return;
      case 'meta':
        this.addMeta(message.type, message.data);
        return;
      case 'sysex':
        if (this.keeps(message.data)) {
          this.events.push({
            kind: 'sysex',
            tick: ticks(tick),
            escape: message.escape,
            data: Array.from(message.data),
          });
        }
        return;
      default:
        message satisfies never;
    }
  }

  finish(): MidiTrack {
    for (const [key, { waiting, head }] of this.open) {
      for (const note of waiting.slice(head)) {
        this.neverEnded += 1;
        this.notes[note.index] = this.note(key, note, this.tick);
      }
    }
    return { name: this.name, notes: this.notes as UnnumberedNote[], events: this.events };
  }

  private addChannelMessage(type: number, channel: number, first: number, second: number): void {
    const tick = ticks(this.tick);
    switch (type) {
      case 8:
        this.endNote(channel, first, second);
        return;
      case 9:
        if (second === 0) this.endNote(channel, first, 64);
        else this.startNote(channel, first, second);
        return;
      case 10:
        this.events.push({ kind: 'keyPressure', tick, channel, pitch: first, value: second });
        return;
      case 11:
        this.events.push({ kind: 'controller', tick, channel, controller: first, value: second });
        return;
      case 12:
        this.events.push({ kind: 'program', tick, channel, program: first });
        return;
      case 13:
        this.events.push({ kind: 'channelPressure', tick, channel, value: first });
        return;
      default:
        this.events.push({ kind: 'pitchBend', tick, channel, value: second * 128 + first });
    }
  }

  private startNote(channel: number, pitch: number, velocity: number): void {
    this.gathered.noteCount += 1;
    if (this.gathered.noteCount > MOST_NOTES) {
      throw new TooMuch(
        'tooManyNotes',
        `This file holds more than ${MOST_NOTES.toLocaleString('en')} notes, more than one arrangement can hold.`,
      );
    }
    const key = channel * 128 + pitch;
    let queue = this.open.get(key);
    if (!queue) {
      queue = { waiting: [], head: 0 };
      this.open.set(key, queue);
    }
    queue.waiting.push({ onset: this.tick, velocity, index: this.notes.length });
    this.notes.push(undefined);
  }

  private endNote(channel: number, pitch: number, releaseVelocity: number): void {
    const key = channel * 128 + pitch;
    const queue = this.open.get(key);
    const note = queue?.waiting[queue.head];
    if (!queue || !note) {
      this.neverStarted += 1;
      return;
    }
    queue.head += 1;
    if (queue.head === queue.waiting.length) this.open.delete(key);
    const made = this.note(key, note, this.tick);
    this.notes[note.index] = releaseVelocity === 64 ? made : { ...made, releaseVelocity };
  }

  private note(key: number, { onset, velocity }: OpenNote, end: number): UnnumberedNote {
    return { pitch: key & 127, channel: key >> 7, onset: ticks(onset), duration: ticks(end - onset), velocity };
  }

  private addMeta(type: number, data: Uint8Array): void {
    const tick = ticks(this.tick);
    const { tempos, meters, keys, markers } = this.gathered;
    if (type === META.endOfTrack) this.ended = true;
    else if (type === META.tempo && data.length >= 3) {
      const microsecondsPerQuarter = new ByteReader(data).number(3);
      if (microsecondsPerQuarter > 0) tempos.push({ tick, microsecondsPerQuarter });
    } else if (type === META.meter && data.length >= 2 && (data[0] as number) > 0 && (data[1] as number) <= 6) {
      meters.push({ tick, numerator: data[0] as number, denominator: 2 ** (data[1] as number) });
    } else if (type === META.key && data.length >= 2) {
      const fifths = ((data[0] as number) << 24) >> 24;
      if (Math.abs(fifths) <= 7) keys.push({ tick, fifths, minor: data[1] === 1 });
    } else if (type === META.marker) markers.push({ tick, text: this.text(data, LONGEST_MARKER) });
    else if (type === META.trackName && !this.named) {
      this.named = true;
      this.name = this.text(data.subarray(0, 4 * LONGEST_PART_NAME), LONGEST_PART_NAME)
        .replace(/\0/g, '')
        .trim();
    } else if (type >= 1 && type <= 15)
      this.events.push({ kind: 'text', tick, metaType: type, text: this.text(data, LONGEST_TEXT) });
    else if (type <= 127 && this.keeps(data))
      this.events.push({ kind: 'meta', tick, metaType: type, data: Array.from(data) });
  }

  /** A text, cut to what is kept of one. */
  private text(data: Uint8Array, longest: number): string {
    const whole = decodeText(data.subarray(0, 4 * longest));
    if (whole.length <= longest && data.length <= 4 * longest) return whole;
    this.gathered.cutTexts += 1;
    return keptText(whole, longest);
  }

  /** True where there is room for a message that is kept byte by byte. */
  private keeps({ length }: Uint8Array): boolean {
    const { gathered } = this;
    if (length > LONGEST_EVENT_BYTES || gathered.keptBytes + length > MOST_KEPT_BYTES) {
      gathered.leftOut += 1;
      return false;
    }
    gathered.keptBytes += length;
    return true;
  }
}

/** Re-reads a file whose ticks are fractions of a second: each place goes through the tempo to 480 PPQ. */
const fromTimeCode = (file: MidiFile, ticksPerSecond: number): MidiFile => {
  const tempos: TempoChange[] = [];
  // Each change stands where those before it lead in its time.
  let last = { tick: 0, seconds: 0, ticksPerSecond: (file.ppq * 1e6) / DEFAULT_MICROSECONDS_PER_QUARTER };
  for (const change of [...file.tempos].sort((a, b) => a.tick - b.tick)) {
    const tick = Math.round(last.tick + (change.tick / ticksPerSecond - last.seconds) * last.ticksPerSecond);
    tempos.push({ ...change, tick: ticks(tick) });
    // The time of the whole tick, so that what was rounded does not add up.
    const seconds = last.seconds + (tick - last.tick) / last.ticksPerSecond;
    last = { tick, seconds, ticksPerSecond: (file.ppq * 1e6) / change.microsecondsPerQuarter };
  }
  const map = createTempoMap(tempos, file.ppq);
  const convert = (tick: number): Ticks => ticks(Math.round(map.ticksAt(tick / ticksPerSecond)));
  const moved = <Item extends { readonly tick: Ticks }>(items: readonly Item[]): Item[] =>
    items.map((item) => ({ ...item, tick: convert(item.tick) }));
  return {
    ...file,
    tempos,
    meters: moved(file.meters),
    keys: moved(file.keys),
    markers: moved(file.markers),
    tracks: file.tracks.map((track) => ({
      ...track,
      events: moved(track.events),
      notes: track.notes.map((note) => {
        const onset = convert(note.onset);
        return { ...note, onset, duration: ticks(convert(note.onset + note.duration) - onset) };
      }),
    })),
    warnings: [
      ...file.warnings,
      {
        code: 'timeCode',
        message: 'The file counts film frames, not beats; its notes were placed on beats through the tempo.',
      },
    ],
  };
};
