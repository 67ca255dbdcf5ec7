/** How the pitches of all parts are read together: the keys of the piece, and a letter for each note. */
import { instrumentById, isUnpitched } from '../instruments/instruments.js';
import { type Arrangement, compareNotes, type NoteId } from '../model/arrangement.js';
import {
  type BarOfKey,
  findKeys,
  type Key,
  type KeySigns,
  keySigns,
  sameSigns,
  together,
} from '../pitch/keyFinding.js';
import { SPELLING_REACH, type Spelling, STEP_NAMES, spellStretch, spellWithStep } from '../pitch/spelling.js';
import type { Written, WrittenNote } from '../plan/written.js';
import { createMeterMap } from '../time/meterMap.js';
import { firstIndexAtOrAfter, lastIndexAtOrBefore } from '../time/search.js';
import { rescaleTicks, WRITTEN_PPQ } from '../time/units.js';

/** The concert spelling of pitched Written notes, and the keys of the piece. */
export interface PitchReading {
  readonly spellings: ReadonlyMap<NoteId, Spelling>;
  readonly keys: readonly (Key & { readonly start: number })[];
}

/** A stretch of the piece in written units, the end not included. */
export interface Stretch {
  readonly from: number;
  readonly to: number;
}

const WHOLE_PIECE: Stretch = { from: Number.NEGATIVE_INFINITY, to: Number.POSITIVE_INFINITY };

interface LayerSigns {
  /** Where the bars began for which it was asked. */
  readonly lines: string;
  readonly whole: KeySigns;
  readonly bars: readonly KeySigns[];
}

const signsOfLayers = new WeakMap<Written, LayerSigns>();

/**
 * What a layer says of the key, in all and bar by bar; kept while the layer and the bar lines stay. A bar that says the same
 * as in the layer `before` is the same object.
 */
const signsOf = (
  layer: Written,
  starts: readonly number[],
  lines: string,
  before: LayerSigns | undefined,
): LayerSigns => {
  const known = signsOfLayers.get(layer);
  if (known?.lines === lines) return known;
  const bars = starts.map((start, index) => {
    const from = firstIndexAtOrAfter(layer.notes, index === 0 ? Number.NEGATIVE_INFINITY : start, onsetOf);
    const to = firstIndexAtOrAfter(layer.notes, starts[index + 1] ?? Number.POSITIVE_INFINITY, onsetOf);
    const signs = keySigns(layer.notes.slice(from, to));
    const earlier = before?.bars[index];
    return earlier && sameSigns(earlier, signs) ? earlier : signs;
  });
  const made = { lines, whole: keySigns(layer.notes), bars };
  signsOfLayers.set(layer, made);
  return made;
};

/** What was heard of the key last: bars in which no part says anything else are not added up again. */
let lastHeard: { readonly own: readonly LayerSigns[]; readonly bars: readonly BarOfKey[] } | null = null;

/** The keys that the notes speak for, each from a bar on. */
const keysFound = (arrangement: Arrangement, layers: readonly Written[]): PitchReading['keys'] => {
  const { meters, ppq } = arrangement;
  const end = Math.max(1, ...layers.map(({ notes }) => notes[notes.length - 1]?.onset ?? 0));
  const scaled = meters.map((meter) => ({ ...meter, tick: rescaleTicks(meter.tick, ppq, WRITTEN_PPQ) }));
  const starts = createMeterMap(scaled, WRITTEN_PPQ)
    .barsTo(end)
    .map(({ start }) => start);
  const lines = starts.join();
  const last = lastHeard?.own.length === layers.length && lastHeard.own[0]?.lines === lines ? lastHeard : null;
  const own = layers.map((layer, part) => signsOf(layer, starts, lines, last?.own[part]));
  const bars = starts.map((start, index): BarOfKey => {
    const known = last?.bars[index];
    if (known && own.every((part, which) => part.bars[index] === last.own[which]?.bars[index])) return known;
    return { start, signs: together(own.map((part) => part.bars[index] as KeySigns)) };
  });
  lastHeard = { own, bars };
  return findKeys(together(own.map(({ whole }) => whole)), bars);
};

const onsetOf = (note: WrittenNote): number => note.onset;

const C_MAJOR: PitchReading['keys'][number] = { fifths: 0, minor: false, start: 0 };

/** The key at a place, in written units: the last that begins there or before; the first of all before that. */
export const keyAt = (keys: PitchReading['keys'], at: number): PitchReading['keys'][number] =>
  keys[lastIndexAtOrBefore(keys, at, ({ start }) => start)] ?? keys[0] ?? C_MAJOR;

/** Spells the notes of some layers that begin in a stretch, as they are spelled among all notes of the piece. */
const spellIn = (
  layers: readonly Written[],
  shown: readonly Written[],
  { from, to }: Stretch,
  keys: PitchReading['keys'],
  spellings: Map<NoteId, Spelling>,
): void => {
  // Each part offers as many notes on both sides as could have a say; the nearest of all are among them.
  const wanted = new Set<WrittenNote>();
  const parts = new Set(shown.map(({ partId }) => partId));
  const about = layers.flatMap((layer) => {
    const { notes } = layer;
    const first = firstIndexAtOrAfter(notes, from, onsetOf);
    const last = firstIndexAtOrAfter(notes, to, onsetOf);
    if (parts.has(layer.partId)) for (const note of notes.slice(first, last)) wanted.add(note);
    return notes.slice(Math.max(0, first - SPELLING_REACH.before), last + SPELLING_REACH.after);
  });
  about.sort(compareNotes);
  const begin = firstIndexAtOrAfter(about, from, onsetOf);
  const end = firstIndexAtOrAfter(about, to, onsetOf);
  let first: WrittenNote | undefined;
  for (const { notes } of layers) if (notes[0] && (!first || compareNotes(notes[0], first) < 0)) first = notes[0];
  const spelled = spellStretch(
    about.map((note) => note.pitch),
    first?.pitch,
    begin,
    end,
    (index) => keyAt(keys, (about[index] as WrittenNote).onset).fifths,
    (index) => wanted.has(about[index] as WrittenNote),
  );
  spelled.forEach((spelling, index) => {
    if (spelling) spellings.set((about[begin + index] as WrittenNote).id, spelling);
  });
};

/** A person's own spellings stand above those found. */
const withOwnSpellings = ({ parts }: Arrangement, layers: readonly Written[], spellings: Map<NoteId, Spelling>) => {
  for (const part of parts) {
    const own = (part.overrides?.list ?? []).flatMap((override) => (override.kind === 'spelling' ? [override] : []));
    if (own.length === 0) continue;
    const layer = layers.find(({ partId }) => partId === part.id);
    const notes = new Map<NoteId, { readonly pitch: number }>();
    for (const note of layer?.notes ?? [])
      for (const one of [note, ...(note.signs?.graces ?? [])]) notes.set(one.id, one);
    for (const { noteId, step, alter } of own) {
      const note = notes.get(noteId);
      if (!note) continue;
      const spelling = spellWithStep(note.pitch, STEP_NAMES.indexOf(step));
      // A letter that cannot say the pitch is not taken: the note was moved since.
      if (spelling.alter === alter) spellings.set(noteId, spelling);
    }
  }
};

/**
 * Spells all parts together, in the file's keys or, where it gives none, in the key found. With stretches given, only
 * notes that begin in one of them are spelled, each as it would be in the whole piece: the cost is that of the stretches.
 * Where layers are `shown`, only their notes are spelled.
 */
export const readPitches = (
  arrangement: Arrangement,
  written: readonly Written[],
  stretches: readonly Stretch[] = [WHOLE_PIECE],
  shown: readonly Written[] = written,
): PitchReading => {
  const pitched = new Set(arrangement.parts.filter((p) => !isUnpitched(instrumentById(p.instrument))).map((p) => p.id));
  const layers = written.filter((layer) => pitched.has(layer.partId));
  const keys =
    arrangement.keys.length > 0
      ? arrangement.keys.map((key) => ({ ...key, start: rescaleTicks(key.tick, arrangement.ppq, WRITTEN_PPQ) }))
      : keysFound(arrangement, layers);
  const spellings = new Map<NoteId, Spelling>();
  for (const stretch of stretches) spellIn(layers, shown, stretch, keys, spellings);
  withOwnSpellings(arrangement, layers, spellings);
  return { keys, spellings };
};

/** The stretches whose notes some bars show: the bars themselves, and the starts of what is held into them. */
export const stretchesShown = (shown: readonly Written[], from: number, to: number): readonly Stretch[] => {
  const held = new Set<number>();
  for (const { notes } of shown) {
    for (const note of notes) {
      if (note.onset >= from) break;
      // A little room: what ends shortly before may be written into the bars.
      if (note.onset + note.duration > from - WRITTEN_PPQ) held.add(note.onset);
    }
  }
  return [...[...held].sort((a, b) => a - b).map((onset) => ({ from: onset, to: onset + 1 })), { from, to }];
};
