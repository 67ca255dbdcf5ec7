/** What conditions look at: the parts in reach with their chords, voices and neighbours, each worked out when first asked. */

import { overlappingNotes } from '../edits/picking.js';
import type { Finding } from '../findings/finding.js';
import { findingsOf } from '../findings/registry.js';
import { instrumentById } from '../instruments/instruments.js';
import type { Arrangement, Note, NoteId, Part, PartId } from '../model/arrangement.js';
import { type Selection, selectedNotes } from '../model/selection.js';
import { inSignature } from '../pitch/scales.js';
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

const ALONE: ChordPlace = { alone: true, top: false, bottom: false, asTop: false, asBottom: false };

/** Kept for as long as the notes of a part are as they are: a sentence is counted anew at each key while it is written. */
const chordsByNotes = new WeakMap<
  readonly Note[],
  { readonly tempos: Arrangement['tempos']; readonly places: ReadonlyMap<NoteId, ChordPlace> }
>();
const velocitiesByNotes = new WeakMap<readonly Note[], ReadonlyMap<NoteId, number>>();

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

  /** The number of the bar a note counts for. */
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
    return inSignature(note.pitch, key?.fifths ?? 0);
  }

  private shortest: number | undefined;

  /** The shortest of the selected notes' lengths in ticks; 0 for none. */
  get selectedLength(): number {
    this.shortest ??= this.arrangement.parts
      .flatMap((part) => selectedNotes(this.selection, part).map((note) => note.duration as number))
      .reduce<number>((least, length) => (least === 0 ? length : Math.min(least, length)), 0);
    return this.shortest;
  }

  /** The notes that are looked at together, in order of onset. */
  private groupsOf(among: Among): readonly (readonly Note[])[] {
    if (among === 'part') return this.parts.map((part) => part.notes);
    return [this.parts.flatMap((part) => part.notes).sort((a, b) => a.onset - b.onset)];
  }

  /** Places in chords of the notes of a part, by note. */
  chordsOf(part: Part, among: Among): ReadonlyMap<NoteId, ChordPlace> {
    return among === 'part' ? this.ownChords(part) : this.sharedChords('all');
  }

  private ownChords(part: Part): ReadonlyMap<NoteId, ChordPlace> {
    const { tempos } = this.arrangement;
    const known = chordsByNotes.get(part.notes);
    if (known && known.tempos === tempos) return known.places;
    const places = this.chordPlaces(part.notes);
    chordsByNotes.set(part.notes, { tempos, places });
    return places;
  }

  private readonly sharedChords = memoized((_all: 'all') => this.chordPlaces(this.groupsOf('reach').flat()));

  private chordPlaces(notes: readonly Note[]): ReadonlyMap<NoteId, ChordPlace> {
    const window = chordWindow({ ppq: this.arrangement.ppq, tempoMap: this.tempoMap });
    const places = new Map<NoteId, ChordPlace>();
    for (const chord of startGroups(notes, window)) {
      if (chord.length === 1) {
        places.set((chord[0] as Note).id, ALONE);
        continue;
      }
      let [low, high] = [127, 0];
      for (const { pitch } of chord) {
        low = Math.min(low, pitch);
        high = Math.max(high, pitch);
      }
      for (const { id, pitch } of chord) {
        places.set(id, {
          alone: false,
          top: pitch === high,
          bottom: pitch === low,
          asTop: (pitch - high) % 12 === 0,
          asBottom: (pitch - low) % 12 === 0,
        });
      }
    }
    return places;
  }

  /** Notes that sound together with another of their pitch. */
  readonly overlapping = memoized(
    (among: Among): ReadonlySet<NoteId> =>
      new Set(this.groupsOf(among).flatMap((notes) => [...overlappingNotes(notes)].map((note) => note.id))),
  );

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

  /** The middle loudness of the notes beside each note of a part, by note. */
  neighbourVelocity({ notes }: Part): ReadonlyMap<NoteId, number> {
    const known = velocitiesByNotes.get(notes);
    if (known) return known;
    const found = new Map<NoteId, number>();
    notes.forEach((note, at) => {
      // At either end the same number of notes, all from one side.
      const from = Math.max(0, Math.min(at - NEIGHBOURS, notes.length - 1 - 2 * NEIGHBOURS));
      const beside: number[] = [];
      for (let other = from; other <= from + 2 * NEIGHBOURS && other < notes.length; other += 1) {
        if (other !== at) beside.push((notes[other] as Note).velocity);
      }
      beside.sort((a, b) => a - b);
      const middle = beside.length / 2;
      const [low, high] = [beside[Math.ceil(middle) - 1], beside[Math.floor(middle)]];
      found.set(note.id, low === undefined || high === undefined ? note.velocity : (low + high) / 2);
    });
    velocitiesByNotes.set(notes, found);
    return found;
  }

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
