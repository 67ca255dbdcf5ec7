/** The corrections of a part as a person reads them: what, where, and whether it still applies. */
import type { Part } from '../model/arrangement.js';
import { type Change, type Edit, overridesChange } from '../model/edit.js';
import type { Mark } from '../model/noteSigns.js';
import { type Override, overrideKey, type PageMark } from '../model/overrides.js';
import type { Written } from '../plan/written.js';
import type { WrittenMaps } from '../plan/writtenMaps.js';
import { pitchName } from '../reading/noteWords.js';

/** One correction, in words. */
export interface ListedCorrection {
  /** Tells it from all others of the part. */
  readonly key: string;
  /** "Accent", "Voice 2", "Alto clef". */
  readonly what: string;
  /** The number of its bar; null where its note is gone from the page. */
  readonly bar: number | null;
  /** "D5", or empty for a bar's. */
  readonly note: string;
}

const MARK_NAMES: { readonly [mark in Mark]: string } = {
  accent: 'accent',
  tenuto: 'tenuto',
  marcato: 'marcato',
  fermata: 'fermata',
  trill: 'trill',
  mordent: 'mordent',
  upperMordent: 'mordent from above',
  turn: 'turn',
  tremolo: 'tremolo',
  arpeggio: 'arpeggio',
};
const SIGNS: { readonly [alter: number]: string } = { [-2]: '𝄫', [-1]: '♭', 0: '', 1: '♯', 2: '𝄪' };
const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/** The marks that can be moved by hand, as a person calls them. */
export const PAGE_MARK_NAMES: { readonly [mark in PageMark]: string } = {
  tempo: 'tempo mark',
  rehearsal: 'rehearsal mark',
  number: 'bar number',
};

/** "Trill", "Mordent from above". */
export const markInWords = (mark: Mark): string => capital(MARK_NAMES[mark]);

/** What a correction says, in few words. */
export const correctionInWords = (override: Override): string => {
  switch (override.kind) {
    case 'spelling':
      return `Spelled ${override.step}${SIGNS[override.alter] ?? ''}`;
    case 'voice':
      return `Voice ${override.voice}`;
    case 'staff':
      return override.staff === 1 ? 'On the upper staff' : 'On the lower staff';
    case 'writtenStart':
      return 'Written start';
    case 'writtenEnd':
      return 'Written end';
    case 'staccato':
      return override.on ? 'Staccato' : 'No staccato';
    case 'soundOnly':
      return 'Sound only';
    case 'mark':
      return override.on ? markInWords(override.mark) : `No ${MARK_NAMES[override.mark]}`;
    case 'notehead':
      return `Head: ${override.head}`;
    case 'stem':
      return `Stem ${override.way}`;
    case 'beam':
      return override.joined ? 'Beam joined' : 'Beam broken';
    case 'tie':
      return 'Tied on';
    case 'tuplet':
      return `${override.actual} in the time of ${override.normal}`;
    case 'grace':
      return 'Grace note';
    case 'slur':
      return 'Slur';
    case 'glissando':
      return 'Glissando';
    case 'pedal':
      return 'Pedal line';
    case 'hairpin':
      return override.way === 'louder' ? 'Hairpin, louder' : 'Hairpin, softer';
    case 'dynamic':
      return override.dynamic;
    case 'words':
      return `“${override.text}”`;
    case 'way':
      return `Played ${override.word}`;
    case 'held':
      return 'Held';
    case 'pageOnly':
      return 'Written, not heard';
    case 'systemBreak':
      return 'System begins';
    case 'pageBreak':
      return 'Page begins';
    case 'swing':
      return override.swing === 'even' ? 'Straight' : `Swung ${override.swing.pair}`;
    case 'nudge':
      return `${capital(PAGE_MARK_NAMES[override.mark])} moved`;
    case 'clef':
      return `${capital(override.clef)} clef`;
    default:
      return override satisfies never;
  }
};

/** What holding a note keeps beside the mark that it is held: it is not listed one by one. */
export const HELD_WITH: ReadonlySet<Override['kind']> = new Set([
  'writtenStart',
  'writtenEnd',
  'voice',
  'staff',
  'spelling',
  'staccato',
  'tuplet',
]);

/** All corrections of a part in order of place; those whose notes the plan no longer makes come last. */
export const correctionsListed = (part: Part, layer: Pick<Written, 'notes'>, maps: WrittenMaps): ListedCorrection[] => {
  const list = part.overrides?.list ?? [];
  if (list.length === 0) return [];
  const byId = new Map(layer.notes.map((note) => [note.id, note]));
  const played = new Map(part.notes.map((note) => [note.id, note]));
  const held = new Set(list.flatMap((one) => (one.kind === 'held' ? [one.noteId] : [])));
  return list
    .filter((one) => !('noteId' in one && held.has(one.noteId) && HELD_WITH.has(one.kind)))
    .map((one): ListedCorrection & { readonly at: number } => {
      const key = overrideKey(one);
      const what = correctionInWords(one);
      if ('bar' in one) return { key, what, bar: one.bar, note: '', at: maps.meterMap.barNumbered(one.bar).start };
      const id = 'noteId' in one ? one.noteId : one.id;
      const note = byId.get(id);
      const hidden = one.kind === 'soundOnly' ? played.get(id) : undefined;
      const at = note?.onset;
      return {
        key,
        what,
        bar: at === undefined ? null : maps.meterMap.barAt(at).number,
        note: note ? pitchName(note.pitch) : hidden ? pitchName(hidden.pitch) : '',
        at: at ?? Number.POSITIVE_INFINITY,
      };
    })
    .sort((a, b) => (a.at === b.at ? 0 : a.at - b.at))
    .map(({ at: _, ...listed }) => listed);
};

/** The Edit that takes some corrections of parts back, by their keys; null where there is none of them. */
export const takeBackCorrections = (
  parts: readonly Part[],
  keysOf: (part: Part) => ReadonlySet<string> | 'all',
): Edit | null => {
  let count = 0;
  const changes = parts.flatMap((part): Change[] => {
    const keys = keysOf(part);
    const list = part.overrides?.list ?? [];
    const held = new Set(
      list.flatMap((one) =>
        one.kind === 'held' && (keys === 'all' || keys.has(overrideKey(one))) ? [one.noteId] : [],
      ),
    );
    const taken = list.filter(
      (one) =>
        keys === 'all' ||
        keys.has(overrideKey(one)) ||
        ('noteId' in one && held.has(one.noteId) && HELD_WITH.has(one.kind)),
    );
    count += taken.length;
    return taken.length === 0 ? [] : [overridesChange(part, [], taken)];
  });
  if (changes.length === 0) return null;
  return { label: `As the plan says: ${count} ${count === 1 ? 'correction' : 'corrections'} taken back`, changes };
};
