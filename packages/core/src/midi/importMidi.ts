/** Several files, MIDI or MusicXML, to one arrangement: one part for each track and channel that has notes. */

import { withPickupFound } from '../meter/pickup.js';
import {
  type Arrangement,
  compareEvents,
  compareNotes,
  endOf,
  type Note,
  type Part,
  type TrackEvent,
  withEventIds,
} from '../model/arrangement.js';
import { LAST_TICK, LONGEST_HOURS, LONGEST_PART_NAME, MOST_BARS, MOST_NOTES, MOST_PARTS } from '../model/limits.js';
import type { MidiFile, MidiTrack } from '../model/readFile.js';
import { failure, type Problem, type Result, success } from '../model/result.js';
import { keptText } from '../model/texts.js';
import type { OnWork } from '../model/work.js';
import { readMusicXml, type ScoreFile, type TrackOfScore } from '../musicxml/readMusicXml.js';
import { isScoreFile } from '../musicxml/readXml.js';
import { createMeterMap, DEFAULT_METER, type MeterChange, ticksPerBar } from '../time/meterMap.js';
import { createTempoMap, DEFAULT_MICROSECONDS_PER_QUARTER, type TempoChange } from '../time/tempoMap.js';
import { leastCommonMultiple, rescaleTicks, ticks } from '../time/units.js';
import { heldPage, numberedNotes } from './heldPage.js';
import { canBeTitle, guessInstrument, saysNothing } from './names.js';
import { readMidi } from './readMidi.js';

/** A file as it came: its name (with ending) and bytes. */
export interface NamedFile {
  readonly name: string;
  readonly bytes: Uint8Array;
}

/** An arrangement made of files, and what was noticed on the way. */
export interface Imported {
  readonly arrangement: Arrangement;
  readonly warnings: readonly Problem[];
}

/** The highest PPQ an arrangement takes so that no file's ticks are rounded. */
export const HIGHEST_PPQ = 15360;

/** A file's name without its folders and its ending. */
export const stemOf = (name: string): string => name.replace(/^.*[\\/]/, '').replace(/\.[^.]*$/, '') || name;

/**
 * Makes one arrangement of `files`, in their order. The first file's tempo and meters stand. One unreadable file fails
 * the whole, so that there is never half an arrangement; the problem names the file. `onWork` is told how many bytes were read,
 * and may throw to stop.
 */
export const importMidi = (files: readonly NamedFile[], onWork?: OnWork): Result<Imported> => {
  const warnings: Problem[] = [];
  const read: { stem: string; file: MidiFile | ScoreFile }[] = [];
  let total = 0;
  for (const { name, bytes } of files) {
    const result: Result<MidiFile | ScoreFile> = isScoreFile(bytes)
      ? readMusicXml(bytes, onWork)
      : readMidi(bytes, onWork);
    if (!result.ok) return failure(result.problem.code, `${name}: ${result.problem.message}`);
    const prefix = files.length > 1 ? `${name}: ` : '';
    for (const warning of result.value.warnings) warnings.push({ ...warning, message: prefix + warning.message });
    read.push({ stem: stemOf(name), file: result.value });
    total += result.value.tracks.reduce((sum, track) => sum + track.notes.length, 0);
    // No more is read than can be kept.
    if (total > MOST_NOTES) {
      return failure(
        'tooManyNotes',
        `These files hold more than ${MOST_NOTES.toLocaleString('en')} notes together, more than one arrangement can hold.`,
      );
    }
  }
  const first = read[0];
  if (!first) return failure('noFiles', 'No files were given.');
  if (total === 0)
    return failure(
      'noNotes',
      files.length > 1 ? 'None of these files holds a note.' : `${files[0]?.name}: there is not one note in this file.`,
    );
  const ppq = commonPpq(
    read.map(({ file }) => file.ppq),
    warnings,
  );
  const said = mapsOf(first.file, ppq);
  for (const { stem, file } of read.slice(1)) warnDisagreement(said, mapsOf(file, ppq), stem, warnings);

  let nextNoteId = 1;
  let nextEventId = 1;
  const parts: Part[] = [];
  const silentTracks: Arrangement['silentTracks'][number][] = [];
  for (const { stem, file } of read) {
    const tracks: readonly (MidiTrack | TrackOfScore)[] = file.tracks;
    tracks.forEach((track, index) => {
      if (track.notes.length === 0) {
        const name = index === 0 && file.format === 1 ? '' : track.name;
        if (track.events.length > 0) silentTracks.push({ name, events: rescaled(track.events, file.ppq, ppq) });
        return;
      }
      for (const part of partsOfTrack(track, file.ppq, ppq, read.length > 1 ? stem : '')) {
        const { numbered, onPage } = numberedNotes(part.notes, nextNoteId);
        nextNoteId += numbered.length;
        const notes = numbered.sort(compareNotes);
        const events = withEventIds(part.events, nextEventId).sort(compareEvents);
        nextEventId += events.length;
        const held = onPage.size > 0 ? heldPage(onPage, notes, ppq, 'bars' in track ? track.bars : []) : {};
        const name = part.name || `Part ${parts.length + 1}`;
        parts.push({ ...part, id: parts.length + 1, notes, events, name, ...held });
      }
    });
  }
  const arrangement: Arrangement = {
    title: titleOf(first.file, first.stem),
    ppq,
    ...said,
    meters: withPickupFound({ meters: said.meters, ppq, parts }),
    parts,
    silentTracks,
    nextNoteId,
    nextPartId: parts.length + 1,
    nextEventId,
  };
  if (parts.length > MOST_PARTS) {
    return failure('tooManyParts', `These files hold more than ${MOST_PARTS.toLocaleString('en')} parts.`);
  }
  warnMeterWithinBar(arrangement.meters, ppq, warnings);
  const kept = withinLongest(arrangement, warnings);
  if (kept.parts.every((part) => part.notes.length === 0)) {
    return failure(
      'tooLong',
      `No note lies within the first ${LONGEST_HOURS} hours and ${MOST_BARS.toLocaleString('en')} bars, which is as far as a piece is read.`,
    );
  }
  return success({ arrangement: kept, warnings: countedByKind(warnings) });
};

/** Of warnings of one kind so many are told; the others are counted. */
const TOLD_OF_A_KIND = 3;

const countedByKind = (warnings: readonly Problem[]): Problem[] => {
  const kinds = new Map<string, Problem[]>();
  for (const warning of warnings)
    kinds.set(warning.code, [...(kinds.get(warning.code) ?? []), warning].slice(0, TOLD_OF_A_KIND));
  const counts = new Map<string, number>();
  for (const { code } of warnings) counts.set(code, (counts.get(code) ?? 0) + 1);
  return [...kinds].flatMap(([code, told]) => {
    const more = (counts.get(code) ?? 0) - told.length;
    return more === 0 ? told : [...told, { code, message: `And ${more.toLocaleString('en')} more like this.` }];
  });
};

/** What lies within the longest that a piece may be; what lies beyond is left out, and that is said. */
const withinLongest = (arrangement: Arrangement, warnings: Problem[]): Arrangement => {
  const { ppq, tempos, meters } = arrangement;
  const byTime = createTempoMap(tempos, ppq).ticksAt(LONGEST_HOURS * 3600);
  const byBars = createMeterMap(meters, ppq).barNumbered(MOST_BARS + 1).start;
  const end = Math.floor(Math.min(byTime, byBars, LAST_TICK));
  const within = <Item extends { readonly tick: number }>(items: readonly Item[]): readonly Item[] =>
    items.every(({ tick }) => tick <= end) ? items : items.filter(({ tick }) => tick <= end);
  let lost = 0;
  const parts = arrangement.parts.map((part): Part => {
    const events = within(part.events);
    if (events === part.events && part.notes.every((note) => endOf(note) <= end)) return part;
    const notes = part.notes
      .filter(({ onset }) => onset < end)
      .map((note) => (endOf(note) <= end ? note : { ...note, duration: ticks(end - note.onset) }));
    lost += part.notes.length - notes.length;
    return { ...part, notes, events };
  });
  const kept = {
    tempos: within(tempos),
    meters: within(meters),
    keys: within(arrangement.keys),
    markers: within(arrangement.markers),
    silentTracks: arrangement.silentTracks.map((track) => ({ ...track, events: within(track.events) })),
  };
  const cut =
    parts.some((part, index) => part !== arrangement.parts[index]) ||
    kept.tempos !== tempos ||
    kept.meters !== meters ||
    kept.keys !== arrangement.keys ||
    kept.markers !== arrangement.markers ||
    kept.silentTracks.some(({ events }, index) => events !== arrangement.silentTracks[index]?.events);
  if (!cut) return arrangement;
  warnings.push({
    code: 'tooLong',
    message: `The piece goes on beyond ${LONGEST_HOURS} hours or ${MOST_BARS.toLocaleString('en')} bars: it was read up to there${lost > 0 ? `, ${lost.toLocaleString('en')} ${lost === 1 ? 'note' : 'notes'} left out` : ''}.`,
  });
  return { ...arrangement, ...kept, parts };
};

const titleOf = (file: MidiFile | ScoreFile, stem: string): string => {
  if ('title' in file && file.title !== '') return file.title;
  const head = file.tracks[0];
  const named = file.format === 1 && head && head.notes.length === 0 && canBeTitle(head.name) && head.name;
  return keptText(named || stem, LONGEST_PART_NAME);
};

const commonPpq = (ppqs: readonly number[], warnings: Problem[]): number => {
  const common = ppqs.reduce(leastCommonMultiple);
  if (common <= HIGHEST_PPQ) return common;
  const highest = Math.min(HIGHEST_PPQ, Math.max(...ppqs));
  warnings.push({
    code: 'roundedTicks',
    message: `The files count ${[...new Set(ppqs)].join(', ')} ticks to the quarter; places were rounded to the nearest of ${highest}.`,
  });
  return highest;
};

type Maps = Pick<Arrangement, 'tempos' | 'meters' | 'keys' | 'markers'>;

const rescaled = <Item extends { readonly tick: number }>(items: readonly Item[], from: number, to: number): Item[] =>
  items.map((item) => ({ ...item, tick: rescaleTicks(item.tick, from, to) }));

/** Sorted by tick; of several at one tick the last stands. */
const lastAtEachTick = <Item extends { readonly tick: number }>(items: readonly Item[]): Item[] => {
  const sorted = [...items].sort((a, b) => a.tick - b.tick);
  return sorted.filter((item, index) => sorted[index + 1]?.tick !== item.tick);
};

/** A change of meter this near to a bar line is meant to be on it (in quarters): some programs write all a tick late. */
const ON_THE_LINE = 1 / 32;

/** Changes that lie next to a bar line moved onto it, so that no bar of a few ticks is left between. */
const onBarLines = (meters: readonly MeterChange[], ppq: number): MeterChange[] => {
  const moved: MeterChange[] = [];
  for (const change of meters) {
    const before = moved[moved.length - 1];
    const from = before?.tick ?? 0;
    const bar = ticksPerBar(before ?? DEFAULT_METER, ppq);
    const late = (change.tick - from) % bar;
    const by = late <= ppq * ON_THE_LINE ? -late : bar - late <= ppq * ON_THE_LINE ? bar - late : 0;
    moved.push({ ...change, tick: ticks(change.tick + by) });
  }
  return lastAtEachTick(moved);
};

const mapsOf = (file: MidiFile, ppq: number): Maps => {
  const tempos: TempoChange[] = lastAtEachTick(rescaled(file.tempos, file.ppq, ppq));
  const meters: MeterChange[] = onBarLines(lastAtEachTick(rescaled(file.meters, file.ppq, ppq)), ppq);
  if (tempos[0]?.tick !== 0)
    tempos.unshift({ tick: ticks(0), microsecondsPerQuarter: DEFAULT_MICROSECONDS_PER_QUARTER });
  if (meters[0]?.tick !== 0) meters.unshift({ tick: ticks(0), ...DEFAULT_METER });
  return {
    tempos,
    meters,
    keys: lastAtEachTick(rescaled(file.keys, file.ppq, ppq)),
    markers: rescaled(file.markers, file.ppq, ppq).sort((a, b) => a.tick - b.tick),
  };
};

const warnDisagreement = (kept: Maps, other: Maps, stem: string, warnings: Problem[]): void => {
  const differs = [
    JSON.stringify(kept.tempos) === JSON.stringify(other.tempos) ? '' : 'tempo',
    JSON.stringify(kept.meters) === JSON.stringify(other.meters) ? '' : 'meter',
  ].filter(Boolean);
  if (differs.length === 0) return;
  warnings.push({
    code: 'mapsDisagree',
    message: `${stem} has another ${differs.join(' and ')}; the first file’s stands.`,
  });
};

const warnMeterWithinBar = (meters: readonly MeterChange[], ppq: number, warnings: Problem[]): void => {
  const meterMap = createMeterMap(meters, ppq);
  meters.forEach((change, index) => {
    if (index === 0) return;
    const before = meterMap.barAt(change.tick - 1);
    if (!before.short || before.pickup || before.end !== change.tick) return;
    warnings.push({
      code: 'meterWithinBar',
      message: `The meter changes to ${change.numerator}/${change.denominator} within bar ${before.number}; a new bar begins there.`,
    });
  });
};

type UnnumberedPart = Omit<Part, 'id' | 'notes' | 'events'> & {
  readonly notes: readonly Omit<Note, 'id'>[];
  readonly events: readonly TrackEvent[];
};

const channelOf = (event: TrackEvent): number | null => ('channel' in event ? event.channel : null);

const partsOfTrack = (track: MidiTrack, fromPpq: number, ppq: number, stem: string): UnnumberedPart[] => {
  const byChannel = new Map<number, Omit<Note, 'id'>[]>();
  for (const note of track.notes) {
    const onset = rescaleTicks(note.onset, fromPpq, ppq);
    const end = rescaleTicks(note.onset + note.duration, fromPpq, ppq);
    const list = byChannel.get(note.channel);
    const moved = { ...note, onset, duration: ticks(end - onset) };
    if (list) list.push(moved);
    else byChannel.set(note.channel, [moved]);
  }
  const channels = [...byChannel.keys()].sort((a, b) => a - b);
  const events = rescaled(track.events, fromPpq, ppq);
  return channels.map((channel, index) => {
    const own = events.filter((event) => {
      const of = channelOf(event);
      return of === channel || ((of === null || !byChannel.has(of)) && index === 0);
    });
    const program = own.find((event) => event.kind === 'program' && event.channel === channel);
    const number = program?.kind === 'program' ? program.program : null;
    const { instrument, from } = guessInstrument(track.name, channel, number);
    const only = channels.length === 1;
    const empty = saysNothing(track.name);
    // A name that says nothing gives way to the file's, where there are several, or to the instrument's.
    const told = from === 'nothing' ? '' : instrument.name;
    const spoken = empty ? stem || told || track.name : track.name;
    return {
      name: keptText(
        only ? spoken : `${empty ? instrument.name : track.name} · channel ${channel + 1}`,
        LONGEST_PART_NAME,
      ),
      ...(empty && track.name ? { trackName: track.name } : {}),
      instrument: instrument.id,
      instrumentFrom: from,
      channel,
      program: number,
      notes: byChannel.get(channel) as Omit<Note, 'id'>[],
      events: own,
    };
  });
};
