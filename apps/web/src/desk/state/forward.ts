/**
 * One voice, hand or staff brought forward: its notes alone are picked and edited and counted in the charts; all others
 * are dimmed. Which notes those are, the page says.
 */
import type { PartId, Selection } from '@crispfold/core';
import type { WrittenLayer } from '../../engine/protocol.js';

/** What is brought forward: a voice on its staff, 1 to 4, or a staff, 1 the upper one. */
export type Forward =
  | { readonly kind: 'voice'; readonly number: number }
  | { readonly kind: 'staff'; readonly number: number };

/** Where a note stands on the page. */
type Standing = { readonly voice: number; readonly staff: number };

/** True where a note that stands there is brought forward. */
export const isForward = ({ kind, number }: Forward, at: Standing): boolean =>
  (kind === 'voice' ? at.voice : at.staff) === number;

/** "Voice 2", "Upper staff, right hand". */
export const forwardName = ({ kind, number }: Forward): string =>
  kind === 'voice' ? `Voice ${number}` : number === 1 ? 'Upper staff, right hand' : 'Lower staff, left hand';

/** A name for it that menus can hold. */
export const forwardKey = (forward: Forward | null): string => (forward ? `${forward.kind} ${forward.number}` : '');

/** Played notes, part by part. */
export interface ForwardFound {
  /** Those that are brought forward. */
  readonly found: Selection;
  /** All that the page says something of. */
  readonly onPage: Selection;
}

/** The Played notes that are brought forward, and all that the page has. */
export const forwardNotes = (
  forward: Forward,
  layers: Iterable<Pick<WrittenLayer, 'partId' | 'notes'>>,
): ForwardFound => {
  const found = new Map<PartId, ReadonlySet<number>>();
  const onPage = new Map<PartId, ReadonlySet<number>>();
  for (const { partId, notes } of layers) {
    const ids = notes.flatMap((note) => (isForward(forward, note) ? note.sources : []));
    if (ids.length > 0) found.set(partId, new Set(ids));
    onPage.set(partId, new Set(notes.flatMap(({ sources }) => sources)));
  }
  return { found, onPage };
};

/** What there is to bring forward: voices where a part has several, staves where one has two. */
export const forwardChoices = (layers: Iterable<Pick<WrittenLayer, 'notes'>>): Forward[] => {
  const voices = new Set<number>();
  const staves = new Set<number>();
  for (const { notes } of layers) {
    for (const { voice, staff } of notes) {
      voices.add(voice);
      staves.add(staff);
    }
  }
  const choices = (kind: Forward['kind'], numbers: ReadonlySet<number>): Forward[] =>
    numbers.size < 2 ? [] : [...numbers].sort((a, b) => a - b).map((number) => ({ kind, number }));
  return [...choices('voice', voices), ...choices('staff', staves)];
};
