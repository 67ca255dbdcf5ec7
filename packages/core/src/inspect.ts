/** What a person is told of files before anything is done with them. */
import { countFindings, findingsOf } from './findings/registry.js';
import { instrumentById } from './instruments/instruments.js';
import type { Imported } from './midi/importMidi.js';
import { lastTick } from './model/arrangement.js';
import { buildScore } from './notation/buildScore.js';
import { readPitches } from './notation/pitchReading.js';
import { meanReadability, readabilityOf } from './notation/readability.js';
import { runPlanOnAll } from './plan/runPlan.js';
import type { Written } from './plan/written.js';
import { writtenMaps } from './plan/writtenMaps.js';
import { barsOfRecording } from './time/meterMap.js';
import { createTempoMap, quartersPerMinute } from './time/tempoMap.js';
import { WRITTEN_PPQ } from './time/units.js';

/** The summary that `inspect` prints. */
export interface Summary {
  readonly title: string;
  readonly ppq: number;
  readonly bars: number;
  /** Length of the recording, to the millisecond. */
  readonly seconds: number;
  readonly tempos: readonly { readonly tick: number; readonly quartersPerMinute: number }[];
  readonly meters: readonly { readonly tick: number; readonly meter: string }[];
  /** Signatures, from the file or found: sharps above 0, flats below, and the bar from which each holds. */
  readonly keys: readonly { readonly bar: number; readonly fifths: number; readonly minor: boolean }[];
  /** Length of the pickup that the piece begins with, in quarters; 0 for none. */
  readonly pickup: number;
  readonly parts: readonly {
    readonly name: string;
    /** MIDI channel, 1 to 16. */
    readonly channel: number;
    /** General MIDI program, 0 to 127, or null. */
    readonly program: number | null;
    readonly notes: number;
    readonly lowest: number;
    readonly highest: number;
    /** True where its instrument sounds one note at a time. */
    readonly oneNote: boolean;
    /** Clef of each staff on its page, from the top. */
    readonly clefs: readonly string[];
    /** Weighted signs a bar, as played on a grid of thirty-seconds and as written; null where there is nothing to read. */
    readonly readability: { readonly before: number; readonly after: number } | null;
    /** How many findings of each kind; kinds with none are left out. */
    readonly findings: { readonly [kind: string]: number };
  }[];
  readonly warnings: readonly string[];
}

const rounded = (value: number, places: number): number => Math.round(value * 10 ** places) / 10 ** places;

/** Summarises an import. */
export const summarise = ({ arrangement, warnings }: Imported): Summary => {
  const { ppq, tempos, meters, parts } = arrangement;
  const end = lastTick(parts);
  const maps = writtenMaps(arrangement);
  const written = runPlanOnAll(arrangement);
  const reading = readPitches(arrangement, written);
  const score = buildScore(arrangement, written, maps, reading);
  const [first] = maps.bars;
  return {
    title: arrangement.title,
    ppq,
    bars: barsOfRecording(
      meters,
      ppq,
      parts.flatMap((part) => part.notes),
    ),
    seconds: rounded(createTempoMap(tempos, ppq).secondsAt(end), 3),
    tempos: tempos.map((t) => ({
      tick: t.tick,
      quartersPerMinute: rounded(quartersPerMinute(t.microsecondsPerQuarter), 3),
    })),
    meters: meters.map((m) => ({ tick: m.tick, meter: `${m.numerator}/${m.denominator}` })),
    keys: reading.keys.map(({ start, fifths, minor }) => ({ bar: maps.meterMap.barAt(start).number, fifths, minor })),
    pickup: first?.pickup ? rounded((first.end - first.start) / WRITTEN_PPQ, 3) : 0,
    parts: parts.map((part, index) => ({
      name: part.name,
      channel: part.channel + 1,
      program: part.program,
      notes: part.notes.length,
      lowest: part.notes.reduce((low, note) => Math.min(low, note.pitch), 127),
      highest: part.notes.reduce((high, note) => Math.max(high, note.pitch), 0),
      oneNote: instrumentById(part.instrument).oneNote,
      clefs: score.parts[index]?.clefs ?? [],
      readability: meanReadability(readabilityOf(arrangement, part, written, maps, reading)),
      findings: countFindings(findingsOf(arrangement, part, written[index] as Written)),
    })),
    warnings: warnings.map((warning) => warning.message),
  };
};
