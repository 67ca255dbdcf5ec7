/** Tuplets made, changed and removed by hand: where the chords of a voice go, and what is kept of it. */
import type { Ratio } from '../meter/zones.js';
import type { NoteOverride, Override } from '../model/overrides.js';
import { failure, type Result, success } from '../model/result.js';
import type { WrittenNote } from '../plan/written.js';
import { type Bar, beatsOfBar } from '../time/meterMap.js';
import { WRITTEN_PPQ, type WrittenUnits } from '../time/units.js';

/** The smallest and the largest number of notes that a tuplet can have. */
export const TUPLETS = { from: 2, to: 15 } as const;

/** Corrections that lay a tuplet, or take it away. */
interface TupletLaid {
  readonly put: readonly NoteOverride[];
  readonly taken: readonly Override[];
}

/** Notes of one voice that begin together. */
interface Chord {
  readonly start: number;
  readonly end: number;
  readonly notes: readonly WrittenNote[];
}

/** A stretch of a bar, in written units. */
interface Stretch {
  readonly start: number;
  readonly length: number;
}

const endOf = ({ start, length }: Stretch): number => start + length;
const units = (value: number): WrittenUnits => value as WrittenUnits;
const isDotted = (length: number): boolean => length % 3 === 0 && powerOfTwo(WRITTEN_PPQ * 12, length);
const powerOfTwo = (whole: number, length: number): boolean => Number.isInteger(Math.log2(whole / length));

/**
 * In the time of how many plain notes `actual` notes stand within `length` written units (common practice: the most that are
 * fewer, by halves of the stretch, or by its thirds where it is dotted; two in a dotted one stand for three). Null where
 * they are no tuplet.
 */
export const ratioOf = (length: number, actual: number): Ratio | null => {
  const dotted = isDotted(length);
  const base = dotted ? 3 : 1;
  const normal = actual < base ? base : base * 2 ** Math.floor(Math.log2(actual / base));
  return normal === actual ? null : { actual, normal };
};

/** The chords of a voice, in order. */
const chordsOf = (notes: readonly WrittenNote[]): Chord[] => {
  const byStart = new Map<number, WrittenNote[]>();
  for (const note of notes) byStart.set(note.onset, [...(byStart.get(note.onset) ?? []), note]);
  return [...byStart]
    .sort(([a], [b]) => a - b)
    .map(([start, own]) => ({ start, end: Math.max(...own.map((note) => note.onset + note.duration)), notes: own }));
};

/** The notes of each voice of a staff, by themselves. */
export const byVoice = (notes: readonly WrittenNote[]): WrittenNote[][] => {
  const voices = new Map<string, WrittenNote[]>();
  for (const note of notes) {
    const key = `${note.staff} ${note.voice}`;
    voices.set(key, [...(voices.get(key) ?? []), note]);
  }
  return [...voices.values()];
};

/** Where a tuplet can lie in a bar: halves of its beats, beats, two of them from an odd one on, and the whole bar. */
const stretchesOf = (bar: Bar): Stretch[] => {
  const beats = beatsOfBar(bar, WRITTEN_PPQ);
  const halves = beats.flatMap(({ start, length, compound }) =>
    Array.from({ length: compound ? 3 : 2 }, (_, index, parts = compound ? 3 : 2) => ({
      start: start + (index * length) / parts,
      length: length / parts,
    })),
  );
  const pairs = beats.flatMap((beat, index) => {
    const next = beats[index + 1];
    return next && next.length === beat.length && index % 2 === 0 && beats.length !== 3
      ? [{ start: beat.start, length: beat.length * 2 }]
      : [];
  });
  return [...halves, ...beats, ...pairs, { start: bar.start, length: bar.end - bar.start }].filter(
    (stretch) =>
      endOf(stretch) <= bar.end &&
      (isDotted(stretch.length) || powerOfTwo(WRITTEN_PPQ * 4, stretch.length)) &&
      Number.isInteger(stretch.start),
  );
};

/** The stretch that chords fill best; another chord of the voice that begins in it speaks against it. */
const stretchFor = (bar: Bar, from: number, to: number, others: readonly Chord[]): Stretch | undefined => {
  const costOf = (stretch: Stretch): number =>
    Math.abs(stretch.start - from) * 2 +
    Math.abs(endOf(stretch) - to) +
    others.filter(({ start }) => start >= stretch.start && start < endOf(stretch)).length * stretch.length;
  let best: Stretch | undefined;
  for (const stretch of stretchesOf(bar)) if (!best || costOf(stretch) < costOf(best)) best = stretch;
  return best;
};

/** Chords on so many even places of a stretch, in order, each with one of its own. */
const laidOut = (chords: readonly Chord[], { start, length }: Stretch, places: number): NoteOverride[] => {
  const each = length / places;
  const at: number[] = [];
  chords.forEach((chord, index) => {
    const least = index === 0 ? 0 : (at[index - 1] as number) + 1;
    const most = places - (chords.length - index);
    at.push(Math.max(least, Math.min(most, Math.round((chord.start - start) / each))));
  });
  return chords.flatMap((chord, index): NoteOverride[] => {
    const from = at[index] as number;
    const next = at[index + 1] ?? places;
    const following = chords[index + 1]?.start ?? start + length;
    // A rest that was plainly there stays; everything else reaches to what follows.
    const rests = following - chord.end > each / 2;
    const to = rests ? Math.max(from + 1, Math.min(next, Math.round((chord.end - start) / each))) : next;
    return chord.notes.flatMap(({ id }): NoteOverride[] => [
      { kind: 'writtenStart', noteId: id, at: units(start + from * each) },
      { kind: 'writtenEnd', noteId: id, at: units(start + to * each) },
    ]);
  });
};

const tupletsOf = (list: readonly Override[]) => list.flatMap((own) => (own.kind === 'tuplet' ? [own] : []));

const overlaps = (stretch: Stretch, from: number, to: number): boolean => stretch.start < to && endOf(stretch) > from;

/**
 * Lays the notes of one voice as a tuplet of `actual`: on the beat, part of a beat or beats that they fill best. Tuplets set
 * there before go. The problem, in words, where they cannot be one.
 */
export const asTuplet = (
  notes: readonly WrittenNote[],
  voice: readonly WrittenNote[],
  set: readonly Override[],
  barAt: (at: number) => Bar,
  actual: number,
): Result<TupletLaid> => {
  const chords = chordsOf(notes);
  const [first, last] = [chords[0], chords[chords.length - 1]];
  if (!first || !last) return failure('noCorrection', 'Select the notes first that are to be a tuplet.');
  const bar = barAt(first.start);
  if (last.start >= bar.end) return failure('noCorrection', 'A tuplet does not leave its bar: these notes do.');
  const chosen = new Set(notes.map(({ id }) => id));
  const others = chordsOf(voice.filter(({ id }) => !chosen.has(id)));
  const stretch = stretchFor(bar, first.start, Math.min(last.end, bar.end), others);
  const ratio = stretch && ratioOf(stretch.length, actual);
  if (!stretch) return failure('noCorrection', 'This bar has no beat that a tuplet could fill.');
  if (!ratio) return failure('noCorrection', `${actual} notes there are no tuplet: they divide the beat plainly.`);
  if (!Number.isInteger(stretch.length / actual))
    return failure('noCorrection', `The page cannot say ${actual} even notes in that time.`);
  // Notes that lay in it already take their place among the others.
  const inside = [...chords, ...others.filter(({ start }) => start >= stretch.start && start < endOf(stretch))].sort(
    (a, b) => a.start - b.start,
  );
  const places = inside.length <= actual ? actual : actual * 2;
  if (inside.length > places || !Number.isInteger(stretch.length / places))
    return failure('noCorrection', `A tuplet of ${actual} has no room for ${inside.length} notes.`);
  const holder = (inside[0] as Chord).notes[0] as WrittenNote;
  const own = new Set(voice.map(({ id }) => id));
  return success({
    put: [
      ...laidOut(inside, stretch, places),
      {
        kind: 'tuplet',
        noteId: holder.id,
        from: units(stretch.start),
        length: units(stretch.length),
        ...ratio,
      },
    ],
    taken: tupletsOf(set).filter(
      ({ noteId, from, length }) => own.has(noteId) && noteId !== holder.id && overlaps(stretch, from, from + length),
    ),
  });
};

/** Notes that stand on so many even places of a beat are no tuplet. */
const PLAIN_PLACES = 16;

/** As many notes of one stretch as a tuplet there would have; null where they stand on plain places. */
const tupletOn = (chords: readonly Chord[], { start, length }: Stretch): number | null => {
  if (chords.every((chord) => ((chord.start - start) * PLAIN_PLACES) % length === 0)) return null;
  for (let actual = TUPLETS.from + 1; actual <= TUPLETS.to; actual += 1) {
    if (ratioOf(length, actual) === null || !Number.isInteger(length / actual)) continue;
    if (chords.every((chord) => ((chord.start - start) * actual) % length === 0)) return actual;
  }
  return null;
};

/**
 * Frees notes from the tuplets they lie in: they go to plain places, and what is left is laid as a tuplet of as many on the
 * beat, or part of one, that it fills best without them. The problem, in words, where nothing would be left, or what is left
 * lies on both sides of them.
 */
export const asFreed = (
  notes: readonly WrittenNote[],
  voice: readonly WrittenNote[],
  set: readonly Override[],
  barAt: (at: number) => Bar,
): Result<TupletLaid> => {
  const freed = new Set(notes.map(({ id }) => id));
  const [first, last] = [notes[0], notes[notes.length - 1]];
  if (!first || !last) return failure('noCorrection', 'Select the notes first that are to leave their tuplet.');
  const laid = tupletsOf(set).find(
    ({ noteId, from, length }) =>
      voice.some(({ id }) => id === noteId) && first.onset >= from && first.onset < from + length,
  );
  const beat = beatsOfBar(barAt(first.onset), WRITTEN_PPQ).find((one) => overlaps(one, first.onset, first.onset + 1));
  const stretch = laid ? { start: laid.from, length: laid.length } : beat;
  if (!stretch) return failure('noCorrection', 'These notes lie in no tuplet.');
  const inside = chordsOf(voice.filter(({ onset }) => overlaps(stretch, onset, onset + 1)));
  const actual = laid?.actual ?? tupletOn(inside, stretch);
  if (actual === null) return failure('noCorrection', 'These notes lie in no tuplet.');
  const left = inside.filter(({ notes: own }) => !own.every(({ id }) => freed.has(id)));
  const leaving = inside.filter((chord) => !left.includes(chord));
  if (left.length === 0) return failure('noCorrection', 'All of its notes were chosen: then it is no tuplet any more.');
  const before = leaving.every(({ start }) => start < (left[0] as Chord).start);
  const after = leaving.every(({ start }) => start > (left[left.length - 1] as Chord).start);
  if (!before && !after)
    return failure('noCorrection', 'Notes leave a tuplet at its beginning or its end; these lie in the midst of it.');
  // What stays has half of the stretch, or as much less as the bar's parts allow; what leaves has the other.
  const half = stretch.length / 2;
  const kept: Stretch = { start: before ? stretch.start + half : stretch.start, length: half };
  const other: Stretch = { start: before ? stretch.start : stretch.start + half, length: half };
  const ratio = ratioOf(half, actual);
  const places = left.length <= actual ? actual : actual * 2;
  if (!ratio || !Number.isInteger(half / places) || left.length > places)
    return failure('noCorrection', `The page cannot say ${actual} even notes in that time.`);
  const holder = (left[0] as Chord).notes[0] as WrittenNote;
  const plainPlaces = 2 ** Math.ceil(Math.log2(leaving.length));
  return success({
    put: [
      ...laidOut(left, kept, places),
      ...laidOut(leaving, other, plainPlaces),
      { kind: 'tuplet', noteId: holder.id, from: units(kept.start), length: units(kept.length), ...ratio },
    ],
    taken: laid && laid.noteId !== holder.id ? [laid] : [],
  });
};

/** Takes the tuplets away that notes of a voice lie in: what lay in them goes to plain places of the same stretch. */
export const asPlain = (
  notes: readonly WrittenNote[],
  voice: readonly WrittenNote[],
  set: readonly Override[],
  barAt: (at: number) => Bar,
): TupletLaid => {
  const own = new Set(voice.map(({ id }) => id));
  const taken = tupletsOf(set).filter(
    ({ noteId, from, length }) => own.has(noteId) && notes.some(({ onset }) => onset >= from && onset < from + length),
  );
  const stretches: Stretch[] = taken.map(({ from, length }) => ({ start: from, length }));
  for (const { onset } of notes) {
    if (stretches.some((stretch) => overlaps(stretch, onset, onset + 1))) continue;
    const beat = beatsOfBar(barAt(onset), WRITTEN_PPQ).find((one) => overlaps(one, onset, onset + 1));
    if (beat) stretches.push(beat);
  }
  const chords = chordsOf(voice);
  const put = stretches.flatMap((stretch) => {
    const inside = chords.filter(({ start }) => overlaps(stretch, start, start + 1));
    const base = isDotted(stretch.length) ? 3 : 2;
    const places = base * 2 ** Math.max(0, Math.ceil(Math.log2(inside.length / base)));
    return laidOut(inside, stretch, places);
  });
  return { put, taken };
};
