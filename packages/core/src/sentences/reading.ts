/** What conditions look at: the parts in reach with their chords, voices and neighbours, each worked out when first asked. */
import type { Finding } from '../findings/finding.js';
import { findingsOf } from '../findings/registry.js';
import { instrumentById } from '../instruments/instruments.js';
import { type Arrangement, endOf, type Note, type NoteId, type Part, type PartId } from '../model/arrangement.js';
import { type Selection, selectedNotes } from '../model/selection.js';
import { median } from '../model/statistics.js';
import { MAJOR_SCALE } from '../pitch/scales.js';
import { playedContext } from '../plan/context.js';
import { runPlan } from '../plan/runPlan.js';
import type { Written } from '../plan/written.js';
import { writtenMaps } from '../plan/writtenMaps.js';
import { playsTwoHanded } from '../reading/hands.js';
import { chordWindow, startGroups } from '../reading/startGroups.js';
import { separateVoices } from '../steps/separateVoices.js';
import { beatsOfBar, createMeterMap, type MeterMap } from '../time/meterMap.js';
import { type Length, lengthInTicks } from '../time/noteLengths.js';
import { firstIndexAtOrAfter } from '../time/search.js';
import { createTempoMap, type TempoMap } from '../time/tempoMap.js';
import type { Among } from './sentence.js';

/** What a sentence works on. */
export interface SentenceScene {
  readonly arrangement: Arrangement;
  /** Parts that it may look at and change. */
  readonly reach: readonly PartId[];
  readonly selection: Selection;
  /** While set, these notes alone are seen, and no others are picked. */
  readonly onlyShown: Selection | null;
  /** The Written layer of a part, for conditions on findings; made by its plan where left out. */
  readonly writtenOf?: (part: Part) => Written;
}

/** Where a tone stands in its chord; the pitch classes of its outer tones. */
interface ChordPlace {
  readonly top: boolean;
  readonly bottom: boolean;
  readonly alone: boolean;
  readonly asTop: boolean;
  readonly asBottom: boolean;
}

/** A note counts for the bar, beat or line that it comes this little early for, in quarters. */
const EARLY = 1 / 8;
/** So many notes before and after are a note's neighbours in loudness. */
const NEIGHBOURS = 2;

const memoized = <Key, Value>(make: (key: Key) => Value): ((key: Key) => Value) => {
  const known = new Map<Key, Value>();
  return (key) => {
    let value = known.get(key);
    if (value === undefined) {
      value = make(key);
      known.set(key, value);
    }
    return value;
  };
};

/** See the file's head. */
export class SentenceReading {
  readonly arrangement: Arrangement;
  readonly selection: Selection;
  /** In the score's order. */
  readonly parts: readonly Part[];
  readonly meterMap: MeterMap;
  readonly tempoMap: TempoMap;

  constructor(private readonly scene: SentenceScene) {
    const { arrangement, reach, selection } = scene;
    this.arrangement = arrangement;
    this.selection = selection;
    this.parts = arrangement.parts.filter((part) => reach.includes(part.id));
    this.meterMap = createMeterMap(arrangement.meters, arrangement.ppq);
    this.tempoMap = createTempoMap(arrangement.tempos, arrangement.ppq);
  }

  /** A length in ticks, at a place. */
  ticksOf(length: Length, at: number): number {
    return lengthInTicks(length, this.arrangement.ppq, this.tempoMap.ticksPerMillisecond(at));
  }

  /** The bar a note counts for, from 1. */
  barOf(note: Note): number {
    return this.meterMap.barAt(note.onset + EARLY * this.arrangement.ppq).number;
  }

  /** Ticks from a start to the nearest line of a grid that begins anew in each bar. */
  offGrid(tick: number, grid: number): number {
    const unit = grid * 4 * this.arrangement.ppq;
    const bar = this.meterMap.barAt(tick);
    const within = tick - bar.start;
    const line = Math.min(Math.round(within / unit) * unit, bar.end - bar.start);
    return Math.abs(within - line);
  }

  /** Where the nearest line of a grid lies. */
  gridLine(tick: number, grid: number): number {
    const unit = grid * 4 * this.arrangement.ppq;
    const bar = this.meterMap.barAt(tick);
    return Math.min(bar.start + Math.round((tick - bar.start) / unit) * unit, bar.end);
  }

  /** Ticks from a start to the nearest beat. */
  offBeat(tick: number): number {
    const bar = this.meterMap.barAt(tick);
    return this.beatsOf(bar.number).reduce(
      (least, beat) => Math.min(least, Math.abs(tick - beat)),
      Number.POSITIVE_INFINITY,
    );
  }

  /** Where the beats of a bar and the next bar begin. */
  private readonly beatsOf = memoized((number: number): readonly number[] => {
    const bar = this.meterMap.barNumbered(number);
    return [...beatsOfBar(bar, this.arrangement.ppq).map(({ start }) => start), bar.end];
  });

  /** True where a pitch is of the key signature that is in force. */
  inKey(note: Note): boolean {
    const { keys } = this.arrangement;
    const key = keys.findLast((change) => change.tick <= note.onset) ?? keys[0];
    const tonic = ((((key?.fifths ?? 0) * 7) % 12) + 12) % 12;
    return (MAJOR_SCALE as readonly number[]).includes((note.pitch - tonic + 12) % 12);
  }

  private shortest: number | undefined;

  /** The shortest of the selected notes' lengths in ticks; 0 for none. */
  get selectedLength(): number {
    this.shortest ??= this.arrangement.parts
      .flatMap((part) => selectedNotes(this.selection, part).map((note) => note.duration as number))
      .reduce<number>((least, length) => (least === 0 ? length : Math.min(least, length)), 0);
    return this.shortest;
  }

  private grouped<Value>(among: Among, make: (notes: readonly Note[]) => readonly (readonly [NoteId, Value])[]) {
    const groups =
      among === 'part'
        ? this.parts.map((part) => part.notes)
        : [this.parts.flatMap((part) => part.notes).sort((a, b) => a.onset - b.onset)];
    return new Map(groups.flatMap(make));
  }

  /** Places in chords, by note. */
  readonly chords = memoized((among: Among) => {
    const window = chordWindow({ ppq: this.arrangement.ppq, tempoMap: this.tempoMap });
    return this.grouped(among, (notes) =>
      startGroups(notes, window).flatMap((chord) => {
        const pitches = chord.map((note) => note.pitch);
        const [low, high] = [pitches.reduce((a, b) => Math.min(a, b)), pitches.reduce((a, b) => Math.max(a, b))];
        const alone = chord.length === 1;
        return chord.map(({ id, pitch }): readonly [NoteId, ChordPlace] => [
          id,
          {
            alone,
            top: !alone && pitch === high,
            bottom: !alone && pitch === low,
            asTop: !alone && (pitch - high) % 12 === 0,
            asBottom: !alone && (pitch - low) % 12 === 0,
          },
        ]);
      }),
    );
  });

  /** Notes that sound together with another of their pitch. */
  readonly overlapping = memoized((among: Among) => {
    const found = new Set<NoteId>();
    this.grouped(among, (notes) => {
      const sounding = new Map<number, Note>();
      for (const note of notes) {
        const before = sounding.get(note.pitch);
        if (before && endOf(before) > note.onset) found.add(before.id).add(note.id);
        if (!before || endOf(note) > endOf(before)) sounding.set(note.pitch, note);
      }
      return [];
    });
    return found;
  });

  /** Starts in order, of all pitches or pitch by pitch; the key of all is -1. */
  private readonly onsets = memoized((among: Among) => {
    const lists = (among === 'part' ? this.parts.map((part) => [part]) : [this.parts]).map((parts) => {
      const byPitch = new Map<number, number[]>([[-1, []]]);
      for (const note of parts.flatMap((part) => part.notes).sort((a, b) => a.onset - b.onset)) {
        byPitch.get(-1)?.push(note.onset);
        const own = byPitch.get(note.pitch);
        if (own) own.push(note.onset);
        else byPitch.set(note.pitch, [note.onset]);
      }
      return [parts.map((part) => part.id), byPitch] as const;
    });
    return new Map(lists.flatMap(([ids, byPitch]) => ids.map((id) => [id, byPitch])));
  });

  /** True where another note begins so near. */
  hasNeighbour(part: Part, note: Note, within: number, pitch: 'any' | 'same', among: Among): boolean {
    const starts =
      this.onsets(among)
        .get(part.id)
        ?.get(pitch === 'same' ? note.pitch : -1) ?? [];
    const first = firstIndexAtOrAfter(starts, note.onset - within, (onset) => onset);
    // One of them is the note itself.
    return (starts[first + 1] ?? Number.POSITIVE_INFINITY) <= note.onset + within;
  }

  /** The middle loudness of the notes beside each, by note. */
  readonly neighbourVelocity = memoized((part: Part): ReadonlyMap<NoteId, number> => {
    const { notes } = part;
    return new Map(
      notes.map((note, at) => {
        // At either end the same number of notes, all from one side.
        const from = Math.max(0, Math.min(at - NEIGHBOURS, notes.length - 1 - 2 * NEIGHBOURS));
        const beside = notes.slice(from, from + 2 * NEIGHBOURS + 1).filter((other) => other !== note);
        return [note.id, median(beside.map((other) => other.velocity)) ?? note.velocity];
      }),
    );
  });

  /** Voice and staff of each note as it is read, a person's own corrections before all; by note. */
  readonly voices = memoized((part: Part): ReadonlyMap<NoteId, { readonly voice: number; readonly staff: number }> => {
    const read = separateVoices.run(part.notes, playedContext(this.arrangement, part), separateVoices.defaults);
    const voices = new Map(read.notes.map(({ id, voice = 1, staff = 1 }) => [id, { voice, staff: staff as number }]));
    for (const override of part.overrides?.list ?? []) {
      if (override.kind !== 'voice' && override.kind !== 'staff') continue;
      const known = voices.get(override.noteId);
      if (known) voices.set(override.noteId, { ...known, [override.kind]: override[override.kind as never] });
    }
    return voices;
  });

  /** True for a part that two hands play. */
  readonly twoHanded = memoized((part: Part) => ({
    is: playsTwoHanded(part.notes, instrumentById(part.instrument)),
  }));

  /** Findings of a part that were not dismissed. */
  readonly findings = memoized((part: Part): readonly Finding[] => {
    const { arrangement } = this;
    const written = this.scene.writtenOf?.(part) ?? runPlan(part, arrangement.ppq, writtenMaps(arrangement));
    return findingsOf(arrangement, part, written).filter(({ key }) => !part.dismissed?.includes(key));
  });
}
