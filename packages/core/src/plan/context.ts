/** What steps may know besides the notes, in Played ticks or in written units. */

import { instrumentById } from '../instruments/instruments.js';
import { GENERAL_MIDI_MAP } from '../instruments/percussionMap.js';
import { type Arrangement, lastTick, type Part } from '../model/arrangement.js';
import type { OtherPart, StepContext } from '../reading/context.js';
import { placed, type StepNote } from '../reading/stepNote.js';
import { createMeterMap } from '../time/meterMap.js';
import { createTempoMap } from '../time/tempoMap.js';
import { rescaleTicks } from '../time/units.js';

const maps = new WeakMap<Arrangement, Pick<StepContext, 'tempoMap' | 'meterMap' | 'bars'>>();

const mapsOf = (arrangement: Arrangement) => {
  let known = maps.get(arrangement);
  if (!known) {
    const { ppq, tempos, meters, parts } = arrangement;
    const meterMap = createMeterMap(meters, ppq);
    known = { tempoMap: createTempoMap(tempos, ppq), meterMap, bars: meterMap.barsTo(lastTick(parts) + ppq * 4) };
    maps.set(arrangement, known);
  }
  return known;
};

/** Notes in other ticks, by the notes as played: they are asked for by many parts, run after run. */
const scaled = new WeakMap<Part['notes'], { readonly scale: string; readonly notes: readonly StepNote[] }>();

const scaledNotes = (notes: Part['notes'], ppq: number, toPpq: number): readonly StepNote[] => {
  const scale = `${ppq} ${toPpq}`;
  const known = scaled.get(notes);
  if (known?.scale === scale) return known.notes;
  const made = notes
    .filter((note) => !note.muted)
    .map((note) => placed(note, rescaleTicks(note.onset, ppq, toPpq), rescaleTicks(note.duration, ppq, toPpq)));
  scaled.set(notes, { scale, notes: made });
  return made;
};

type Parts = Pick<Arrangement, 'parts' | 'ppq'>;

const seen = ({ ppq }: Parts, parts: readonly Part[], toPpq: number): readonly OtherPart[] =>
  parts.map(({ name, instrument, notes }) => ({
    name,
    instrument: instrumentById(instrument),
    notes: scaledNotes(notes, ppq, toPpq),
  }));

/** The parts above one, their notes scaled from the arrangement's PPQ to another; worked out when first asked. */
export const earlierPartsOf = (
  arrangement: Parts,
  part: Pick<Part, 'id'>,
  toPpq: number,
): StepContext['earlierParts'] => {
  const { parts } = arrangement;
  let made: readonly OtherPart[] | undefined;
  return () => {
    made ??= seen(
      arrangement,
      parts.slice(
        0,
        parts.findIndex((other) => other.id === part.id),
      ),
      toPpq,
    );
    return made;
  };
};

/** All parts but one, likewise. */
export const otherPartsOf = (arrangement: Parts, part: Pick<Part, 'id'>, toPpq: number): StepContext['otherParts'] => {
  let made: readonly OtherPart[] | undefined;
  return () => {
    made ??= seen(
      arrangement,
      arrangement.parts.filter((other) => other.id !== part.id),
      toPpq,
    );
    return made;
  };
};

/** Ids for notes that an Edit of Played adds, from the arrangement's next on. */
const freshIds = ({ nextNoteId }: Arrangement): StepContext['newId'] => {
  let next = nextNoteId;
  return () => next++;
};

/** The context of a part as played: for edits of a selection, and for checks. */
export const playedContext = (arrangement: Arrangement, part: Part): StepContext => ({
  ...mapsOf(arrangement),
  ppq: arrangement.ppq,
  events: part.events.filter((event) => event.kind === 'controller'),
  instrument: instrumentById(part.instrument),
  percussion: part.percussionMap ?? GENERAL_MIDI_MAP,
  fifths: arrangement.keys[0]?.fifths ?? 0,
  newId: freshIds(arrangement),
  swing: null,
  earlierParts: earlierPartsOf(arrangement, part, arrangement.ppq),
  otherParts: otherPartsOf(arrangement, part, arrangement.ppq),
  strikesOf: (partId) => arrangement.parts.find((other) => other.id === partId)?.notes ?? [],
});
