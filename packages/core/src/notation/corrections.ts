/** Lays a person's corrections of signs on the Score: ties, heads, stems, marks, slurs, hairpins, dynamics, words. */
import type { SetTuplet } from '../meter/zones.js';
import type { NoteId } from '../model/arrangement.js';
import type { Mark } from '../model/noteSigns.js';
import type { NoteOverride, Override } from '../model/overrides.js';
import type { WrittenNote } from '../plan/written.js';
import type { ScoreBar, ScoreEvent, SpanEdge } from './score.js';

/** What is corrected of signs, by note. Places, lengths, voices and spellings are laid on before. */
export type Corrections = ReadonlyMap<NoteId, readonly NoteOverride[]>;

const NONE: Corrections = new Map();
const known = new WeakMap<readonly Override[], Corrections>();

/** Kinds that are laid on elsewhere. */
const ELSEWHERE = new Set([
  'grace',
  'spelling',
  'voice',
  'staff',
  'writtenStart',
  'writtenEnd',
  'staccato',
  'soundOnly',
  'held',
  'tuplet',
]);

/** The corrections of signs among all of a part. */
const correctionsOf = (list: readonly Override[] | undefined): Corrections => {
  if (!list || list.length === 0) return NONE;
  let found = known.get(list);
  if (!found) {
    const byNote = new Map<NoteId, NoteOverride[]>();
    for (const override of list) {
      if (!('noteId' in override) || ELSEWHERE.has(override.kind)) continue;
      byNote.set(override.noteId, [...(byNote.get(override.noteId) ?? []), override]);
    }
    found = byNote;
    known.set(list, found);
  }
  return found;
};

const withRead = new WeakMap<
  readonly WrittenNote[],
  { readonly list: readonly Override[]; readonly all: Corrections }
>();
const NO_LIST: readonly Override[] = [];

/** What was read of a part's signs from its playing, and over it what a person corrected of them. */
export const signsOf = (notes: readonly WrittenNote[], list: readonly Override[] = NO_LIST): Corrections => {
  const known = withRead.get(notes);
  if (known?.list === list) return known.all;
  const corrected = correctionsOf(list);
  const all = new Map<NoteId, readonly NoteOverride[]>(corrected);
  for (const { id: noteId, signs } of notes) {
    if (!signs) continue;
    const read: NoteOverride[] = (signs.marks ?? []).map((mark) => ({ kind: 'mark', noteId, mark, on: true }));
    if (signs.dynamic) read.push({ kind: 'dynamic', noteId, dynamic: signs.dynamic });
    if (signs.glissando) read.push({ kind: 'glissando', noteId, ...signs.glissando });
    if (signs.hairpin) read.push({ kind: 'hairpin', noteId, ...signs.hairpin });
    // What a person says comes last, and counts; of hairpins and of glissandi there is one.
    const own = corrected.get(noteId) ?? [];
    const once = new Set(own.flatMap(({ kind }) => (kind === 'hairpin' || kind === 'glissando' ? [kind] : [])));
    const kept = read.filter(({ kind }) => !(once as ReadonlySet<string>).has(kind));
    if (kept.length > 0) all.set(noteId, [...kept, ...own]);
  }
  withRead.set(notes, { list, all });
  return all;
};

/** The tuplets that a person set, by the note each is kept with. */
export const tupletsSet = (list: readonly Override[] | undefined): ReadonlyMap<NoteId, SetTuplet> =>
  new Map(
    (list ?? []).flatMap((own) =>
      own.kind === 'tuplet'
        ? [
            [
              own.noteId,
              { start: own.from, length: own.length, ratio: { actual: own.actual, normal: own.normal } },
            ] as const,
          ]
        : [],
    ),
  );

/** How a chord's beam goes with the one before it, where a person said so. */
export const beamBefore = (
  corrections: Corrections,
  { notes }: Pick<ScoreEvent, 'notes'>,
): 'joined' | 'broken' | null => {
  if (corrections.size === 0) return null;
  for (const { noteId, tiedFrom } of notes) {
    if (tiedFrom) continue;
    for (const own of corrections.get(noteId) ?? []) if (own.kind === 'beam') return own.joined ? 'joined' : 'broken';
  }
  return null;
};

/** What ways of playing say over chords: their word where they begin, the word that ends them over what follows. */
const waysSaid = (
  chords: readonly ScoreEvent[],
  startOf: (event: ScoreEvent) => number,
  corrections: Corrections,
): ReadonlyMap<ScoreEvent, string> => {
  const said = new Map<ScoreEvent, string>();
  const backs: { readonly at: ScoreEvent; readonly word: string }[] = [];
  const first = firstChords(chords);
  for (const [noteId, own] of corrections) {
    for (const way of own) {
      if (way.kind !== 'way') continue;
      const [one, other] = [first.get(noteId), first.get(way.to)];
      const from = one === undefined ? other : Math.min(one, other ?? one);
      if (one !== undefined && from !== undefined) said.set(chords[from] as ScoreEvent, way.word);
      if (other === undefined || way.back === '') continue;
      const last = chords[Math.max(other, one ?? other)] as ScoreEvent;
      const next = chords.find((event) => startOf(event) > startOf(last) && begins(event));
      if (next) backs.push({ at: next, word: way.back });
    }
  }
  // Where another way begins at once, its own word is enough.
  for (const { at, word } of backs) if (!said.has(at)) said.set(at, word);
  return said;
};

/** The chord that each note is first seen in, by its place among them. */
const firstChords = (chords: readonly ScoreEvent[]): ReadonlyMap<NoteId, number> => {
  const first = new Map<NoteId, number>();
  chords.forEach((event, index) => {
    if (begins(event)) for (const { noteId } of event.notes) if (!first.has(noteId)) first.set(noteId, index);
  });
  return first;
};

/** The ends of a chord: where its notes begin, all but its tied pieces. */
const begins = ({ notes }: ScoreEvent): boolean => notes.some(({ tiedFrom }) => !tiedFrom);

/** One chord with what is corrected of its own signs. */
const withOwnSigns = (event: ScoreEvent, corrections: Corrections): ScoreEvent => {
  let result = event;
  const marks = new Set<Mark>(event.marks);
  for (const { noteId, tiedFrom } of event.notes) {
    for (const own of corrections.get(noteId) ?? []) {
      if (own.kind === 'notehead')
        result = {
          ...result,
          notes: result.notes.map((note) => (note.noteId === noteId ? { ...note, head: own.head } : note)),
        };
      else if (own.kind === 'stem') result = { ...result, stem: own.way };
      else if (tiedFrom) continue;
      else if (own.kind === 'mark' && own.mark !== 'arpeggio') {
        if (own.on) marks.add(own.mark);
        else marks.delete(own.mark);
      } else if (own.kind === 'dynamic') result = { ...result, dynamic: own.dynamic };
      else if (own.kind === 'words') result = { ...result, words: own.text };
    }
  }
  return marks.size > 0 ? { ...result, marks: [...marks] } : result;
};

/** Ties to the next chord of the voice, where it has the pitch and follows at once. */
const withTies = (chords: readonly ScoreEvent[], startOf: (event: ScoreEvent) => number, corrections: Corrections) => {
  const changed = new Map<ScoreEvent, ScoreEvent>();
  const now = (event: ScoreEvent) => changed.get(event) ?? event;
  chords.forEach((event, index) => {
    for (const { noteId, soundingPitch, tiedTo } of event.notes) {
      if (tiedTo || !corrections.get(noteId)?.some(({ kind }) => kind === 'tie')) continue;
      const next = chords
        .slice(index + 1, index + 8)
        .find(({ staff, voice }) => staff === event.staff && voice === event.voice);
      const meets = next && startOf(next) === startOf(event) + event.length;
      if (!meets || !next.notes.some((note) => note.soundingPitch === soundingPitch && !note.tiedFrom)) continue;
      const tied = (own: ScoreEvent, change: object): ScoreEvent => ({
        ...own,
        notes: own.notes.map((note) => (note.soundingPitch === soundingPitch ? { ...note, ...change } : note)),
      });
      changed.set(event, tied(now(event), { tiedTo: true }));
      changed.set(next, tied(now(next), { tiedFrom: true, accidental: null }));
    }
  });
  return changed;
};

type PlainSpan = Extract<NoteOverride, { kind: 'slur' | 'glissando' | 'pedal' }>;

const isPlainSpan = (own: NoteOverride): own is PlainSpan =>
  own.kind === 'slur' || own.kind === 'glissando' || own.kind === 'pedal';

/** Slurs, slides, pedal lines and hairpins: of those that are partly shown, the part that is. */
const edgesOf = (chords: readonly ScoreEvent[], corrections: Corrections): ReadonlyMap<ScoreEvent, SpanEdge[]> => {
  const edges = new Map<ScoreEvent, SpanEdge[]>();
  const add = (event: ScoreEvent, edge: SpanEdge) => edges.set(event, [...(edges.get(event) ?? []), edge]);
  const first = firstChords(chords);
  const spans = [...corrections].flatMap(([noteId, own]) =>
    own.flatMap((span) => {
      if (span.kind !== 'hairpin' && !isPlainSpan(span)) return [];
      const [from, to] = [first.get(noteId), first.get(span.to)];
      if (from === undefined || to === undefined || from === to) return [];
      return [
        { what: span.kind === 'hairpin' ? span.way : span.kind, from: Math.min(from, to), to: Math.max(from, to) },
      ];
    }),
  );
  spans.sort((a, b) => a.from - b.from || a.to - b.to || a.what.localeCompare(b.what));
  /** Up to which chord each number is taken, kind by kind. */
  const taken = new Map<string, number[]>();
  for (const { what, from, to } of spans) {
    const kind = what === 'louder' || what === 'softer' ? 'hairpin' : what;
    const until = taken.get(kind) ?? Array<number>(MOST_AT_ONCE).fill(-1);
    const free = until.findIndex((end) => end < from);
    // A seventh at once could not be told from the others by any reader.
    if (free < 0) continue;
    until[free] = to;
    taken.set(kind, until);
    const number = free + 1;
    add(chords[from] as ScoreEvent, { what, end: 'start', number });
    add(chords[to] as ScoreEvent, { what, end: 'stop', number });
  }
  return edges;
};

/** MusicXML tells so many of a kind apart (number-level). */
const MOST_AT_ONCE = 6;

/** The bars with the corrected signs; the same bars where nothing is corrected. */
export const withCorrections = (bars: readonly ScoreBar[], corrections: Corrections): readonly ScoreBar[] => {
  if (corrections.size === 0) return bars;
  const starts = new Map<ScoreEvent, number>();
  const chords: ScoreEvent[] = [];
  for (const bar of bars) {
    for (const event of [...bar.events].sort((a, b) => a.start - b.start)) {
      if (event.notes.length === 0) continue;
      starts.set(event, bar.start + event.start);
      chords.push(event);
    }
  }
  const tied = withTies(chords, (event) => starts.get(event) ?? 0, corrections);
  const edges = edgesOf(chords, corrections);
  const ways = waysSaid(chords, (event) => starts.get(event) ?? 0, corrections);
  return bars.map((bar) => {
    if (
      !bar.events.some(
        (event) =>
          event.notes.some(({ noteId }) => corrections.has(noteId)) ||
          tied.has(event) ||
          edges.has(event) ||
          ways.has(event),
      )
    )
      return bar;
    const events = bar.events.map((event) => {
      const signed = withOwnSigns(tied.get(event) ?? event, corrections);
      const way = ways.get(event);
      const words = [signed.words, way].filter((text) => text !== undefined).join(', ');
      const own = way === undefined ? signed : { ...signed, words };
      const spans = edges.get(event);
      return spans ? { ...own, spans } : own;
    });
    return { ...bar, events };
  });
};
