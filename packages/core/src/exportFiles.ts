/** One arrangement to the files a person takes away, the same for the screens and the command line. */
import { writePlayedMidi, writeWrittenMidi } from './midi/writeMidi.js';
import type { Arrangement, Part } from './model/arrangement.js';
import { writeMusicXml, writeMxl } from './musicxml/writeMusicXml.js';
import { barsOfPiece, buildScore, type ScoreOptions } from './notation/buildScore.js';
import { readPitches } from './notation/pitchReading.js';
import type { Score } from './notation/score.js';
import { planOf } from './plan/readyPlans.js';
import { runPlanOnAll } from './plan/runPlan.js';
import type { Written } from './plan/written.js';
import { writtenMaps } from './plan/writtenMaps.js';
import { stepById } from './steps/registry.js';

/** The kinds of file, with their endings, what a person reads, and their media types. */
export const EXPORT_KINDS = {
  musicxml: { ending: '.musicxml', name: 'MusicXML', mediaType: 'application/vnd.recordare.musicxml+xml' },
  mxl: { ending: '.mxl', name: 'MusicXML, compressed', mediaType: 'application/vnd.recordare.musicxml' },
  'midi-played': { ending: '.played.mid', name: 'MIDI as played', mediaType: 'audio/midi' },
  'midi-written': { ending: '.written.mid', name: 'MIDI as written', mediaType: 'audio/midi' },
  report: { ending: '.report.json', name: 'Report of the plan', mediaType: 'application/json' },
} as const;

/** A kind of export. */
export type ExportKind = keyof typeof EXPORT_KINDS;

/** What to leave in; all parts where `partIds` is left out. */
export interface ExportOptions extends Pick<ScoreOptions, 'partIds' | 'concertPitch' | 'order'> {
  /** The bars of a score, counted from 1, a pickup too; MIDI and report are always of the whole piece. */
  readonly firstBar?: number;
  readonly lastBar?: number;
  /** What was done to the arrangement before its plan, in words, for the report. */
  readonly before?: readonly string[];
}

/** What the plan did, as a file. */
const reportOf = (arrangement: Arrangement, written: readonly Written[], options: ExportOptions): string => {
  const byId = new Map(arrangement.parts.map((part) => [part.id, part]));
  const parts = written
    .filter((layer) => !options.partIds || options.partIds.includes(layer.partId))
    .map((layer) => ({
      name: byId.get(layer.partId)?.name ?? '',
      played: byId.get(layer.partId)?.notes.length ?? 0,
      written: layer.notes.length,
      plan: planOf(byId.get(layer.partId) as Part),
      steps: layer.steps.map((report) => ({
        step: report.step,
        name: stepById(report.step).name,
        touched: report.touched,
        changes: report.changes.map(({ noteId, reason, to, into }) => ({
          noteId,
          reason,
          removed: to === null,
          ...(into === undefined ? {} : { into }),
        })),
      })),
    }));
  const bars = barsOfPiece(written, writtenMaps(arrangement)).length;
  return `${JSON.stringify({ title: arrangement.title, bars, before: options.before ?? [], parts }, null, 2)}\n`;
};

/** An arrangement made ready for export: the plan is run once, the score built once. */
export const prepareExport = (
  arrangement: Arrangement,
  options: ExportOptions = {},
): ((kind: ExportKind) => Uint8Array) => {
  const maps = writtenMaps(arrangement);
  const written = runPlanOnAll(arrangement);
  let score: Score | undefined;
  const theScore = (): Score => {
    score ??= buildScore(arrangement, written, maps, readPitches(arrangement, written), {
      ...options,
      longRests: options.partIds?.length === 1,
    });
    return score;
  };
  const text = (value: string) => new TextEncoder().encode(value);
  return (kind) => {
    switch (kind) {
      case 'musicxml':
        return text(writeMusicXml(theScore()));
      case 'mxl':
        return writeMxl(theScore());
      case 'midi-played':
        return writePlayedMidi(arrangement, options);
      case 'midi-written':
        return writeWrittenMidi(arrangement, written, options);
      case 'report':
        return text(reportOf(arrangement, written, options));
      default:
        return kind satisfies never;
    }
  };
};
