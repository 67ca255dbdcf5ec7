/** Corrections of the page by hand: each wish becomes one Edit of overrides, or a sentence on why it cannot be. */

import { writtenLengthInWords } from '../meter/valueWords.js';
import type { Arrangement, NoteId, Part } from '../model/arrangement.js';
import { type Change, type Edit, overridesChange } from '../model/edit.js';
import type { Dynamic, Mark } from '../model/noteSigns.js';
import {
  type BarOverride,
  LONGEST_WORDS,
  type NoteOverride,
  type Override,
  overrideKey,
  type PageOnlyNote,
  type WaySound,
} from '../model/overrides.js';
import type { Notehead } from '../model/percussionMap.js';
import { failure, type Result, success } from '../model/result.js';
import { type Selection, selectedIn } from '../model/selection.js';
import { keptText } from '../model/texts.js';
import type { PitchReading } from '../notation/pitchReading.js';
import { STEP_NAMES, spellWithStep } from '../pitch/spelling.js';
import type { Written, WrittenNote } from '../plan/written.js';
import type { Bar } from '../time/meterMap.js';
import { WRITTEN_PPQ, type WrittenUnits } from '../time/units.js';
import { correctionInWords, HELD_WITH, markInWords } from './correctionList.js';
import { labelFor } from './labels.js';
import { asFreed, asPlain, asTuplet, byVoice } from './tuplets.js';

/** What a person wants of selected notes on the page. */
export type PageWish =
  /** Another letter for the same pitch: the next one up or down. */
  | { readonly wish: 'respell'; readonly by: 1 | -1 }
  | { readonly wish: 'voice'; readonly voice: number }
  /** To the other staff. */
  | { readonly wish: 'staff' }
  /** Written start or end, later or earlier, in written units. */
  | { readonly wish: 'start' | 'end'; readonly by: number }
  /** Written so much later or earlier as it is, in written units. */
  | { readonly wish: 'moved'; readonly by: number }
  /** Written so long, in written units. */
  | { readonly wish: 'length'; readonly length: number }
  | { readonly wish: 'staccato' }
  /** Put on, or taken off where all have it; `on` never takes it off. */
  | { readonly wish: 'mark'; readonly mark: Mark; readonly on?: true }
  | { readonly wish: 'notehead'; readonly head: Notehead }
  /** The other way; back to the page's own after that. */
  | { readonly wish: 'stem' }
  /** Broken from the chord before, or joined with it. */
  | { readonly wish: 'beam'; readonly joined: boolean }
  | { readonly wish: 'tie' }
  /** Grace notes of the note that follows; notes again where they are that already. */
  | { readonly wish: 'grace' }
  /** So many notes in the time of fewer: laid on the beats that they fill best. */
  | { readonly wish: 'tuplet'; readonly actual: number }
  /** No tuplet where they stand. */
  | { readonly wish: 'plain' }
  /** They leave their tuplet, which the others stay in. */
  | { readonly wish: 'freed' }
  | { readonly wish: 'slur' | 'glissando' | 'pedal' }
  | { readonly wish: 'hairpin'; readonly way: 'louder' | 'softer' }
  | { readonly wish: 'dynamic'; readonly dynamic: Dynamic }
  | { readonly wish: 'words'; readonly text: string }
  /** A way of playing from the first to the last of them; without a word none. */
  | { readonly wish: 'way'; readonly word: string; readonly back: string; readonly sound?: WaySound }
  | { readonly wish: 'soundOnly' }
  /** On the page and no longer heard. */
  | { readonly wish: 'pageOnly' }
  | { readonly wish: 'hold' }
  /** Takes all corrections of these notes back. */
  | { readonly wish: 'asPlanSays' };

/** All that a correction looks at. */
export interface PageScene {
  readonly arrangement: Arrangement;
  readonly selection: Selection;
  readonly writtenOf: (part: Part) => Pick<Written, 'notes'>;
  readonly reading: () => PitchReading;
  /** The bar at a place, in written units. */
  readonly barAt: (at: number) => Bar;
}

/** What a wish does to the corrections of one part. */
interface Corrected {
  readonly put: readonly Override[];
  readonly taken: readonly Override[];
  readonly count: number;
  /** Of Played, where it changes too. */
  readonly played?: readonly Change[];
}

const VERBS: { readonly [wish in PageWish['wish']]: string } = {
  respell: 'Respell',
  voice: 'Another voice',
  staff: 'To the other staff',
  start: 'Written start',
  end: 'Written end',
  moved: 'Written place',
  length: 'Written length',
  staccato: 'Staccato',
  mark: 'Sign',
  notehead: 'Notehead',
  stem: 'Stem',
  beam: 'Beam',
  tie: 'Tie',
  grace: 'Grace note',
  tuplet: 'Tuplet',
  plain: 'No tuplet',
  freed: 'Free from the tuplet',
  slur: 'Slur',
  glissando: 'Glissando',
  pedal: 'Pedal line',
  hairpin: 'Hairpin',
  dynamic: 'Dynamic',
  words: 'Words',
  way: 'Way of playing',
  soundOnly: 'Sound only',
  pageOnly: 'Page only',
  hold: 'Hold the page',
  asPlanSays: 'As the plan says',
};

/** The Edit that a wish makes of the selected notes, part by part; the problem where it cannot be, in words. */
export const pageEdit = (scene: PageScene, wish: PageWish): Result<Edit> => {
  const changes: Change[] = [];
  const counts: { part: Part; count: number }[] = [];
  let made = 0;
  let problem = 'Select the notes first whose page is to be corrected.';
  for (const part of scene.arrangement.parts) {
    const ids = selectedIn(scene.selection, part.id);
    if (ids.size === 0) continue;
    // A note that the plan joined into another stands with that one on the page.
    const notes = scene
      .writtenOf(part)
      .notes.filter((note) => ids.has(note.id) || note.sources.some((id) => ids.has(id)));
    const gone = new Set(ids);
    for (const { id, sources } of notes) for (const own of [id, ...sources]) gone.delete(own);
    const corrected = correct(scene, part, notes, [...gone], wish, scene.arrangement.nextNoteId + made);
    if (!corrected.ok) {
      problem = corrected.problem.message;
      continue;
    }
    const { put, taken, count, played } = corrected.value;
    made += put.length;
    if (count === 0) continue;
    changes.push(...(played ?? []), overridesChange(part, put, taken));
    counts.push({ part, count });
  }
  if (changes.length === 0) return failure('noCorrection', problem);
  return success({ label: labelFor(wishInWords(wish), counts), changes });
};

/** Has a clef, a system or a page begin with a bar of a part; the same again takes it back. */
export const barCorrection = (part: Part, override: BarOverride): Edit => {
  const known = (part.overrides?.list ?? []).find((own) => overrideKey(own) === overrideKey(override));
  const same = known !== undefined && JSON.stringify(known) === JSON.stringify(override);
  return {
    label: `${same ? 'No longer: ' : ''}${correctionInWords(override)} at bar ${override.bar} of ${part.name}`,
    changes: [same ? overridesChange(part, [], [override]) : overridesChange(part, [override])],
  };
};

/** What is wished, in few words. */
export const wishInWords = (wish: PageWish): string => {
  if (wish.wish === 'mark') return markInWords(wish.mark);
  if (wish.wish === 'length') return `Written as ${writtenLengthInWords(wish.length, WRITTEN_PPQ)}`;
  if (wish.wish === 'notehead') return `Notehead ${wish.head}`;
  if (wish.wish === 'voice') return `Voice ${wish.voice}`;
  if (wish.wish === 'tuplet') return `Tuplet of ${wish.actual}`;
  if (wish.wish === 'way' && wish.word.trim() !== '') return `Play ${wish.word.trim()}`;
  if (wish.wish === 'dynamic') return `Dynamic ${wish.dynamic}`;
  if (wish.wish === 'hairpin') return wish.way === 'louder' ? 'Hairpin, louder' : 'Hairpin, softer';
  return VERBS[wish.wish];
};

const nothing = (message: string): Result<Corrected> => failure('noCorrection', message);

/** Puts corrections on notes, and takes those back that say no more than the page without them. */
const corrections = (put: readonly NoteOverride[], taken: readonly Override[] = []): Result<Corrected> => {
  const touched = new Set([...put, ...taken].map((own) => ('noteId' in own ? own.noteId : 0)));
  return success({ put, taken, count: touched.size });
};

const correct = (
  scene: PageScene,
  part: Part,
  notes: readonly WrittenNote[],
  gone: readonly number[],
  wish: PageWish,
  freshId: NoteId,
): Result<Corrected> => {
  const own = new Map((part.overrides?.list ?? []).map((override) => [overrideKey(override), override]));
  const has = (key: string) => own.get(key);
  const of = (kinds: readonly Override['kind'][]): Override[] => {
    const ids = new Set(notes.map(({ id }) => id));
    return [...own.values()].filter(
      (override) => 'noteId' in override && ids.has(override.noteId) && kinds.includes(override.kind),
    );
  };
  if (notes.length === 0 && !['asPlanSays', 'soundOnly', 'grace'].includes(wish.wish))
    return nothing(`These notes of ${part.name} are not on the page.`);
  switch (wish.wish) {
    case 'respell':
      return respelled(scene, notes, wish.by);
    case 'voice':
      if (wish.voice < 1 || wish.voice > 4) return nothing('A staff has at most four voices.');
      return corrections(
        notes
          .filter(({ voice }) => voice !== wish.voice)
          .map(({ id }) => ({ kind: 'voice', noteId: id, voice: wish.voice })),
      );
    case 'staff':
      return corrections(notes.map(({ id, staff }) => ({ kind: 'staff', noteId: id, staff: staff === 1 ? 2 : 1 })));
    case 'start':
    case 'end':
      return edgesMoved(notes, wish.wish, wish.by);
    case 'moved':
      return corrections(
        notes.flatMap(({ id, onset, duration }): NoteOverride[] => {
          const at = Math.max(0, onset + wish.by);
          return [
            { kind: 'writtenStart', noteId: id, at: at as WrittenUnits },
            { kind: 'writtenEnd', noteId: id, at: (at + duration) as WrittenUnits },
          ];
        }),
      );
    case 'length': {
      const { length } = wish;
      if (length < 1) return nothing('A note lasts some time on the page.');
      return corrections(
        notes.map(({ id, onset }) => ({ kind: 'writtenEnd', noteId: id, at: (onset + length) as WrittenUnits })),
      );
    }
    case 'staccato': {
      const on = !notes.every(({ staccato }) => staccato);
      return corrections(notes.map(({ id }) => ({ kind: 'staccato', noteId: id, on })));
    }
    case 'mark': {
      const { mark } = wish;
      // What the plan reads from the playing is taken away by saying so.
      const isRead = ({ rolled, signs }: WrittenNote) =>
        (mark === 'arpeggio' && rolled === true) || signs?.marks?.includes(mark) === true;
      const isOn = (note: WrittenNote) => {
        const said = has(`mark:${note.id}:${mark}`);
        return said?.kind === 'mark' ? said.on : isRead(note);
      };
      const on = wish.on ?? !notes.every(isOn);
      if (!on && !notes.some(isRead)) return corrections([], marksOf(of(['mark']), mark));
      return corrections(notes.map(({ id }) => ({ kind: 'mark', noteId: id, mark, on })));
    }
    case 'notehead':
      return corrections(notes.map(({ id }) => ({ kind: 'notehead', noteId: id, head: wish.head })));
    case 'stem':
      return stems(notes, of(['stem']));
    case 'beam':
      return corrections(notes.map(({ id }) => ({ kind: 'beam', noteId: id, joined: wish.joined })));
    case 'grace':
      return graces(
        scene,
        part,
        notes,
        gone.flatMap((id) => own.get(`grace:${id}`) ?? []),
      );
    case 'tie':
      return ties(scene, part, notes, of(['tie']));
    case 'tuplet':
    case 'plain':
    case 'freed':
      return tuplets(scene, part, notes, [...own.values()], wish);
    case 'pageOnly':
      return pageOnly(part, notes, freshId);
    case 'slur':
    case 'glissando':
    case 'pedal':
    case 'hairpin':
      return spans(notes, wish, of([wish.wish]));
    case 'dynamic': {
      const said = of(['dynamic']).filter((one) => one.kind === 'dynamic' && one.dynamic === wish.dynamic);
      const [first] = notes;
      return said.length > 0 || !first
        ? corrections([], said)
        : corrections([{ kind: 'dynamic', noteId: first.id, dynamic: wish.dynamic }]);
    }
    case 'words': {
      const text = keptText(wish.text.trim(), LONGEST_WORDS);
      const [first] = notes;
      if (text === '' || !first) return corrections([], of(['words']));
      return corrections([{ kind: 'words', noteId: first.id, text }]);
    }
    case 'way':
      return wayOfPlaying(notes, wish, of(['way']));
    case 'soundOnly': {
      const hidden = gone.flatMap((id) => own.get(`soundOnly:${id}`) ?? []);
      return notes.length === 0
        ? corrections([], hidden)
        : corrections(notes.map(({ id }) => ({ kind: 'soundOnly', noteId: id })));
    }
    case 'hold':
      return held(scene, notes, of([...HELD_WITH, 'held']));
    case 'asPlanSays': {
      const ids = new Set([...notes.map(({ id }) => id), ...gone]);
      const taken = [...own.values()].filter(
        (one) => ('noteId' in one && ids.has(one.noteId)) || ('to' in one && ids.has(one.to)),
      );
      return taken.length === 0 ? nothing('These notes stand as the plan says.') : corrections([], taken);
    }
    default:
      return wish satisfies never;
  }
};

/** Each goes to the first note after it on its staff that is not chosen as well. */
const graces = (
  scene: PageScene,
  part: Part,
  notes: readonly WrittenNote[],
  said: readonly Override[],
): Result<Corrected> => {
  if (notes.length === 0) return said.length > 0 ? corrections([], said) : nothing('These notes are no grace notes.');
  const chosen = new Set(notes.map(({ id }) => id));
  const all = scene.writtenOf(part).notes;
  const put = notes.flatMap(({ id, onset, staff }): NoteOverride[] => {
    const main = all.find((note) => note.onset > onset && note.staff === staff && !chosen.has(note.id));
    return main ? [{ kind: 'grace', noteId: id, to: main.id }] : [];
  });
  return put.length > 0 ? corrections(put) : nothing('No note follows that they could be grace notes of.');
};

const marksOf = (list: readonly Override[], mark: Mark): Override[] =>
  list.filter((one) => one.kind === 'mark' && one.mark === mark);

/** The letters that can say a pitch with at most a double sign, from the one that lies lowest. */
const lettersOf = (pitch: number): readonly { readonly step: number; readonly alter: number }[] =>
  STEP_NAMES.map((_, step) => spellWithStep(pitch, step))
    .filter(({ alter }) => Math.abs(alter) <= 2)
    .sort((a, b) => b.alter - a.alter);

const respelled = (scene: PageScene, notes: readonly WrittenNote[], by: 1 | -1): Result<Corrected> => {
  const { spellings } = scene.reading();
  return corrections(
    notes.map(({ id, pitch }): NoteOverride => {
      const letters = lettersOf(pitch);
      const now = spellings.get(id) ?? letters[0];
      const at = letters.findIndex(({ step }) => step === now?.step);
      const next = letters[(at + by + letters.length) % letters.length] ?? { step: 0, alter: 0 };
      return { kind: 'spelling', noteId: id, step: STEP_NAMES[next.step] as 'C', alter: next.alter };
    }),
  );
};

const edgesMoved = (notes: readonly WrittenNote[], edge: 'start' | 'end', by: number): Result<Corrected> => {
  const moved = notes.map(({ id, onset, duration }) => ({ id, onset, end: onset + duration }));
  if (edge === 'start') {
    if (moved.some(({ onset, end }) => onset + by >= end))
      return nothing('A note cannot begin where it ends, or after it.');
    return corrections(
      moved.map(({ id, onset }) => ({ kind: 'writtenStart', noteId: id, at: Math.max(0, onset + by) as WrittenUnits })),
    );
  }
  if (moved.some(({ onset, end }) => end + by <= onset))
    return nothing('A note cannot end where it begins, or before it.');
  return corrections(moved.map(({ id, end }) => ({ kind: 'writtenEnd', noteId: id, at: (end + by) as WrittenUnits })));
};

/** Up, then down, then as the page has them. */
const stems = (notes: readonly WrittenNote[], said: readonly Override[]): Result<Corrected> => {
  const ways = new Set(said.map((one) => (one.kind === 'stem' ? one.way : 'up')));
  if (said.length < notes.length || ways.size > 1)
    return corrections(notes.map(({ id }) => ({ kind: 'stem', noteId: id, way: 'up' })));
  return ways.has('up')
    ? corrections(notes.map(({ id }) => ({ kind: 'stem', noteId: id, way: 'down' })))
    : corrections([], said);
};

const ties = (
  scene: PageScene,
  part: Part,
  notes: readonly WrittenNote[],
  said: readonly Override[],
): Result<Corrected> => {
  if (said.length === notes.length) return corrections([], said);
  const all = scene.writtenOf(part).notes;
  const meets = (note: WrittenNote) =>
    all.some(
      (other) =>
        other.pitch === note.pitch &&
        other.voice === note.voice &&
        other.staff === note.staff &&
        other.onset === note.onset + note.duration,
    );
  const possible = notes.filter(meets);
  if (possible.length === 0)
    return nothing('A tie goes to the next note of the same pitch, right after it in its voice. There is none here.');
  return corrections(possible.map(({ id }) => ({ kind: 'tie', noteId: id })));
};

/** Each voice by itself. */
const tuplets = (
  scene: PageScene,
  part: Part,
  notes: readonly WrittenNote[],
  set: readonly Override[],
  wish: Extract<PageWish, { wish: 'tuplet' | 'plain' | 'freed' }>,
): Result<Corrected> => {
  const voices = byVoice(scene.writtenOf(part).notes);
  const put: NoteOverride[] = [];
  const taken: Override[] = [];
  for (const own of byVoice(notes)) {
    const [one] = own;
    const voice = voices.find(([first]) => first?.voice === one?.voice && first?.staff === one?.staff) ?? own;
    const laid =
      wish.wish === 'plain'
        ? success(asPlain(own, voice, set, scene.barAt))
        : wish.wish === 'freed'
          ? asFreed(own, voice, set, scene.barAt)
          : asTuplet(own, voice, set, scene.barAt, wish.actual);
    if (!laid.ok) return laid;
    put.push(...laid.value.put);
    taken.push(...laid.value.taken);
  }
  // The others of a tuplet that notes leave are laid anew; they were not chosen.
  return wish.wish === 'freed' ? success({ put, taken, count: notes.length }) : corrections(put, taken);
};

/** The page keeps the notes as its own; the played ones behind them are muted. */
const pageOnly = (part: Part, notes: readonly WrittenNote[], first: NoteId): Result<Corrected> => {
  const behind = new Set(notes.flatMap(({ id, sources }) => [id, ...sources]));
  const heard = part.notes.filter(({ id, muted }) => behind.has(id) && !muted);
  if (heard.length === 0) return nothing('These notes are not heard as it is.');
  return success({
    put: notes.map(
      ({ pitch, onset, duration, voice, staff }, index): PageOnlyNote => ({
        kind: 'pageOnly',
        id: first + index,
        pitch,
        onset,
        duration,
        voice,
        staff,
      }),
    ),
    taken: [],
    count: notes.length,
    played: [
      {
        kind: 'notes',
        partId: part.id,
        added: [],
        removed: [],
        changed: heard.map((note) => ({ before: note, after: { ...note, muted: true as const } })),
      },
    ],
  });
};

/** From the first to the last of the notes, voice by voice. */
const spans = (
  notes: readonly WrittenNote[],
  wish: Extract<PageWish, { wish: 'slur' | 'glissando' | 'pedal' | 'hairpin' }>,
  said: readonly Override[],
): Result<Corrected> => {
  if (said.length > 0) return corrections([], said);
  const voices = new Map<string, WrittenNote[]>();
  for (const note of notes) {
    // A pedal is one for both staves.
    const key = wish.wish === 'pedal' ? '' : wish.wish === 'hairpin' ? `${note.staff}` : `${note.staff} ${note.voice}`;
    voices.set(key, [...(voices.get(key) ?? []), note]);
  }
  const made = [...voices.values()].flatMap((own): NoteOverride[] => {
    const [first, last] = [own[0], own[own.length - 1]];
    if (!first || !last || first.onset === last.onset) return [];
    return wish.wish === 'hairpin'
      ? [{ kind: 'hairpin', noteId: first.id, to: last.id, way: wish.way }]
      : [{ kind: wish.wish, noteId: first.id, to: last.id }];
  });
  return made.length === 0 ? nothing('It goes from one note to a later one: select both.') : corrections(made);
};

/** From the first to the last of the notes, whatever their voices; one that begins among them gives way. */
const wayOfPlaying = (
  notes: readonly WrittenNote[],
  { word, back, sound }: Extract<PageWish, { wish: 'way' }>,
  said: readonly Override[],
): Result<Corrected> => {
  const text = keptText(word.trim(), LONGEST_WORDS);
  const [first, last] = [notes[0], notes.at(-1)];
  if (text === '' || !first || !last) return corrections([], said);
  const made: NoteOverride = {
    kind: 'way',
    noteId: first.id,
    to: last.id,
    word: text,
    back: keptText(back.trim(), LONGEST_WORDS),
    ...(sound ? { sound } : {}),
  };
  return corrections(
    [made],
    said.filter((one) => overrideKey(one) !== overrideKey(made)),
  );
};

/** Keeps all that the page says of the notes; where all of them are held, lets them go. */
const held = (scene: PageScene, notes: readonly WrittenNote[], said: readonly Override[]): Result<Corrected> => {
  const holding = new Set(said.flatMap((one) => (one.kind === 'held' ? [one.noteId] : [])));
  if (notes.every(({ id }) => holding.has(id))) return corrections([], said);
  const { spellings } = scene.reading();
  return success({
    taken: [],
    count: notes.length,
    put: notes.flatMap(({ id, onset, duration, voice, staff, staccato, pitch, signs }): NoteOverride[] => {
      const spelling = spellings.get(id) ?? spellWithStep(pitch, 0);
      return [
        { kind: 'held', noteId: id, ...(signs ? { signs } : {}) },
        { kind: 'writtenStart', noteId: id, at: onset },
        { kind: 'writtenEnd', noteId: id, at: (onset + duration) as WrittenUnits },
        { kind: 'voice', noteId: id, voice },
        { kind: 'staff', noteId: id, staff },
        { kind: 'staccato', noteId: id, on: staccato },
        ...(Math.abs(spelling.alter) <= 2
          ? [{ kind: 'spelling', noteId: id, step: STEP_NAMES[spelling.step] as 'C', alter: spelling.alter } as const]
          : []),
      ];
    }),
  });
};
