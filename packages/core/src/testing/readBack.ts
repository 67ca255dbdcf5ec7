/** Two independent readers of MusicXML, and what each finds: where a note begins, how long it lasts, its pitch. */
import { JSDOM } from 'jsdom';
import { isUnpitched } from '../instruments/instruments.js';
import type { Score } from '../notation/score.js';
import { pitchOfSpelling } from '../pitch/spelling.js';
import { WRITTEN_PPQ } from '../time/units.js';

/** Quarters, quarters, pitch, as text that can be sorted and compared. */
const row = (onset: number, length: number, pitch: number): string =>
  `${onset.toFixed(3)} ${length.toFixed(3)} ${pitch}`;

/** A score without percussion, whose pitches readers make up. */
export const pitchedPartsOf = (score: Score): Score => ({
  ...score,
  parts: score.parts.filter((part) => !isUnpitched(part.instrument)),
});

/** The sounding notes of a score, tied pieces together. */
export const soundingRows = (score: Score): string[] => {
  const notes = new Map<string, { onset: number; length: number; pitch: number }>();
  for (const part of score.parts) {
    const open = new Map<number, string>();
    for (const bar of part.bars) {
      for (const event of bar.events) {
        for (const head of event.notes) {
          const joined = head.tiedFrom ? open.get(head.noteId) : undefined;
          const key = joined ?? `${part.partId}/${head.noteId}/${notes.size}`;
          const known = notes.get(key);
          if (known) known.length += event.length;
          else notes.set(key, { onset: bar.start + event.start, length: event.length, pitch: head.soundingPitch });
          if (head.tiedTo) open.set(head.noteId, key);
          else open.delete(head.noteId);
        }
      }
    }
  }
  return [...notes.values()]
    .map(({ onset, length, pitch }) => row(onset / WRITTEN_PPQ, length / WRITTEN_PPQ, pitch))
    .sort();
};

/** The heads of a score, each tied piece on its own, at written pitch. */
export const headRows = (score: Score): string[] =>
  score.parts
    .flatMap((part) =>
      part.bars.flatMap((bar) =>
        bar.events.flatMap((event) =>
          event.notes.map((head) =>
            row((bar.start + event.start) / WRITTEN_PPQ, event.length / WRITTEN_PPQ, pitchOfSpelling(head.spelling)),
          ),
        ),
      ),
    )
    .sort();

interface Instant {
  readonly qstamp: number;
  readonly on?: string[];
  readonly off?: string[];
}

/** Verovio; `warnings` are those of all that it read so far. */
export const createVerovio = async () => {
  const { default: createModule } = await import('verovio/wasm');
  const { VerovioToolkit } = await import('verovio/esm');
  const warnings: string[] = [];
  const toolkit = new VerovioToolkit(await createModule());
  const load = (musicXml: string): boolean => {
    const { error, warn } = console;
    const hear = (...words: unknown[]) => void warnings.push(words.join(' '));
    // The engraver complains to the console.
    Object.assign(console, { error: hear, warn: hear });
    try {
      return Boolean(toolkit.loadData(musicXml));
    } finally {
      Object.assign(console, { error, warn });
    }
  };
  return {
    toolkit,
    warnings,
    load,
    /** What its timemap says of a file, as {@link headRows}. */
    headRows(musicXml: string): string[] {
      toolkit.setOptions({ breaks: 'none' });
      if (!load(musicXml)) throw new Error('Verovio could not read the file.');
      const starts = new Map<string, number>();
      const rows: string[] = [];
      for (const { qstamp, on = [], off = [] } of toolkit.renderToTimemap() as Instant[]) {
        for (const id of off) {
          const start = starts.get(id);
          if (start === undefined) continue;
          rows.push(row(start, qstamp - start, (toolkit.getMIDIValuesForElement(id) as { pitch: number }).pitch));
          starts.delete(id);
        }
        for (const id of on) starts.set(id, qstamp);
      }
      return rows.sort();
    },
  };
};

/** As far as it is used here; its own types do not say what its sheets hold. */
interface SheetReaders {
  // biome-ignore lint/suspicious/noExplicitAny: see above
  readonly MusicSheetReader: any;
  // biome-ignore lint/suspicious/noExplicitAny: see above
  readonly IXmlElement: any;
}

/** OpenSheetMusicDisplay wants a browser's page about it. */
const browserPage = (): JSDOM['window'] => {
  const page = new JSDOM('<!doctype html><body></body>').window;
  const { DOMParser, Node, HTMLElement, document, navigator } = page;
  Object.assign(globalThis, { window: page, document, DOMParser, Node, HTMLElement });
  Object.defineProperty(globalThis, 'navigator', { value: navigator, configurable: true });
  return page;
};

/** OpenSheetMusicDisplay: what its sheet model says of a file, as {@link soundingRows}. */
export const createOpenSheetMusicDisplay = async (): Promise<(musicXml: string) => string[]> => {
  const { DOMParser } = browserPage();
  const { MusicSheetReader, IXmlElement } = (await import('opensheetmusicdisplay')).default as unknown as SheetReaders;
  return (musicXml) => {
    const parsed = new DOMParser().parseFromString(musicXml.replace(/<!DOCTYPE[^>]*>/, ''), 'text/xml');
    const sheet = new MusicSheetReader().createMusicSheet(new IXmlElement(parsed.documentElement), 'read back');
    const rows: string[] = [];
    for (const measure of sheet.SourceMeasures) {
      for (const container of measure.VerticalSourceStaffEntryContainers) {
        for (const entry of container.StaffEntries.filter(Boolean)) {
          const transpose = entry.ParentStaff.ParentInstrument.PlaybackTranspose ?? 0;
          for (const voice of entry.VoiceEntries) {
            for (const head of voice.Notes) {
              if (head.isRest() || (head.NoteTie && head.NoteTie.StartNote !== head)) continue;
              const pieces = head.NoteTie ? head.NoteTie.Notes : [head];
              const length = pieces.reduce(
                (sum: number, piece: { Length: { RealValue: number } }) => sum + piece.Length.RealValue * 4,
                0,
              );
              // Its pitches count from an octave lower, as written: adding the transposition makes them sound.
              rows.push(row(head.getAbsoluteTimestamp().RealValue * 4, length, head.halfTone + 12 + transpose));
            }
          }
        }
      }
    }
    return rows.sort();
  };
};
