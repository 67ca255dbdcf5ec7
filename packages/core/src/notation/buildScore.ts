/** Written to Score: bars, note values, ties, tuplets, beams, keys, spelling, clefs and transposition. */

import { type Family, type Instrument, instrumentById, isUnpitched } from '../instruments/instruments.js';
import { GENERAL_MIDI_MAP } from '../instruments/percussionMap.js';
import { splitIntoValues } from '../meter/noteValues.js';
import { type SetTuplet, WHOLE, type Zone, zonesOf } from '../meter/zones.js';
import type { Arrangement, NoteId, Part, PartId } from '../model/arrangement.js';
import type { ClefName } from '../model/clefs.js';
import { type BarOverride, isBarOverride, type Override } from '../model/overrides.js';
import type { Swing } from '../model/swing.js';
import { fifthsOfInterval, type Spelling, spellInKey, transposeSpelling } from '../pitch/spelling.js';
import type { Written, WrittenNote } from '../plan/written.js';
import type { WrittenMaps } from '../plan/writtenMaps.js';
import type { Staff } from '../reading/stepNote.js';
import { type Bar, originOf } from '../time/meterMap.js';
import { lastIndexAtOrBefore } from '../time/search.js';
import { expandedTempos, quartersPerMinute } from '../time/tempoMap.js';
import { rescaleTicks, WRITTEN_PPQ } from '../time/units.js';
import { accidentalsOf, withCourtesy } from './accidentals.js';
import { withBeams } from './beams.js';
import { beamBefore, type Corrections, signsOf, tupletsSet, withCorrections } from './corrections.js';
import { keyAt, type PitchReading } from './pitchReading.js';
import type { BarSigns, Neighbour, Score, ScoreBar, ScoreEvent, ScoreNote, ScorePart } from './score.js';
import { clefsOfBars, type OctaveLine, octaveLinesOf } from './staffPlaces.js';
import { breathes, type TempoAt, type TempoWords, tempoToSay, tempoWordsOf } from './tempoMarks.js';
import { type Voice, type VoiceChord, voicesOf } from './voice.js';

/** Which part of the score to build; all of it where left out. Bars are counted from 1, a pickup too. */
export interface ScoreOptions {
  readonly partIds?: readonly PartId[];
  readonly firstBar?: number;
  readonly lastBar?: number;
  /** All parts at sounding pitch. */
  readonly concertPitch?: boolean;
  /** Bars of rest are written as one sign with their number, as in a player's part. */
  readonly longRests?: boolean;
  /** The parts in their own order, where left out, or family by family. */
  readonly order?: 'own' | 'families';
}

/**
 * Bars from the first to the one in which the last Written note ends; at least one. That one is as much shorter as the
 * pickup is long, where nothing is written there (common practice).
 */
export const barsOfPiece = (written: readonly Written[], maps: WrittenMaps): readonly Bar[] => {
  let end = 1;
  for (const layer of written)
    for (const note of layer.notes) end = Math.max(end, note.onset + Math.max(1, note.duration));
  const count = maps.bars.findIndex((bar) => bar.end >= end);
  const bars = maps.bars.slice(0, count < 0 ? maps.bars.length : count + 1);
  const [first, last] = [bars[0], bars[bars.length - 1]];
  if (!first?.pickup || !first.short || !last || last === first || last.short || !sameMeter(first, last)) return bars;
  const completes = last.end - (first.end - first.start);
  return end > completes || completes <= last.start
    ? bars
    : [...bars.slice(0, -1), { ...last, end: completes, short: true }];
};

/** Builds the Score of the chosen parts and bars. */
export const buildScore = (
  arrangement: Arrangement,
  written: readonly Written[],
  maps: WrittenMaps,
  reading: PitchReading,
  options: ScoreOptions = {},
): Score => {
  const all = barsOfPiece(written, maps);
  const bars = all.slice((options.firstBar ?? 1) - 1, options.lastBar ?? all.length);
  const layers = new Map(written.map((layer) => [layer.partId, layer]));
  const chosen = arrangement.parts.filter((part) => !options.partIds || options.partIds.includes(part.id));
  const names = namesOf(arrangement.parts);
  const parts = options.order === 'families' ? inFamilies(chosen) : chosen;
  const tempos = temposOf(arrangement, all);
  const breaks = breaksSet(chosen);
  const nudges = nudgesSet(arrangement.parts);
  const swings = swingsOfScore(parts, layers, all);
  return {
    title: arrangement.title,
    bars: bars.map((bar) => {
      const signs = barSigns(bar, all, bars[0] as Bar, tempos, arrangement, reading);
      const own = breaks.get(bar.number);
      const moved = nudges.get(bar.number);
      return {
        ...signs,
        ...(own && bar !== bars[0] ? { breaks: own } : {}),
        ...(moved ? { nudges: moved } : {}),
      };
    }),
    parts: parts.map((part) => ({
      ...buildPart(
        part,
        layers.get(part.id),
        bars,
        all,
        reading,
        swings.get(part.id) ?? [],
        options.concertPitch === true,
      ),
      ...(names.get(part.id) as PartNames),
    })),
    longRests: options.longRests === true,
  };
};

/** The families of a score from its top (common practice: Adler, The Study of Orchestration, 2002). */
const SCORE_ORDER: readonly Family[] = [
  'woodwind',
  'brass',
  'percussion',
  'mallet',
  'plucked',
  'keyboard',
  'voice',
  'strings',
  'other',
];

/** Parts family by family, each family in the parts' own order. */
const inFamilies = (parts: readonly Part[]): readonly Part[] => {
  const rank = (part: Part) => SCORE_ORDER.indexOf(instrumentById(part.instrument).family);
  return [...parts].sort((a, b) => rank(a) - rank(b));
};

type PartNames = Pick<ScorePart, 'name' | 'abbreviation'>;

/** Names and short names of all parts; those that are alike are told apart by numbers. */
const namesOf = (parts: readonly Part[]): ReadonlyMap<PartId, PartNames> => {
  const numbered = (texts: readonly string[]): readonly string[] => {
    const all = new Map<string, number>();
    for (const text of texts) all.set(text, (all.get(text) ?? 0) + 1);
    const seen = new Map<string, number>();
    return texts.map((text) => {
      seen.set(text, (seen.get(text) ?? 0) + 1);
      return all.get(text) === 1 ? text : `${text} ${seen.get(text)}`;
    });
  };
  const names = numbered(parts.map(({ name }) => name));
  const short = numbered(parts.map(({ instrument }) => instrumentById(instrument).abbreviation));
  return new Map(
    parts.map(({ id }, index) => [id, { name: names[index] as string, abbreviation: short[index] as string }]),
  );
};

const sameMeter = (a: Bar, b: Bar): boolean =>
  a.meter.numerator === b.meter.numerator && a.meter.denominator === b.meter.denominator;

/** A change of tempo in written units, with what the page says of it. */
interface WrittenTempo extends TempoAt {
  readonly words: TempoWords;
}

const temposOf = ({ tempos, ppq }: Arrangement, all: readonly Bar[]): readonly WrittenTempo[] => {
  // A page says from where a tempo slows down: the ramp's own start, not the mean of its first step.
  const starts = new Map(tempos.map(({ tick, microsecondsPerQuarter }) => [tick, microsecondsPerQuarter]));
  const changes = expandedTempos(tempos, ppq, 1).map(({ tick, microsecondsPerQuarter }) => ({
    at: rescaleTicks(tick, ppq, WRITTEN_PPQ),
    quartersPerMinute: quartersPerMinute(starts.get(tick) ?? microsecondsPerQuarter),
  }));
  const soon = 4 * WRITTEN_PPQ;
  const plain = tempos.map(({ tick, microsecondsPerQuarter }) => ({
    at: rescaleTicks(tick, ppq, WRITTEN_PPQ),
    quartersPerMinute: quartersPerMinute(microsecondsPerQuarter),
  }));
  const breathing = breathes(plain, soon);
  const words = tempoWordsOf(changes, soon, all[all.length - 1]?.end ?? 0, breathing);
  const first = tempoToSay(changes, breathing);
  return changes.map((change, index) => ({
    ...change,
    quartersPerMinute: index === 0 ? first : change.quartersPerMinute,
    words: words[index] ?? null,
  }));
};

/** The same key said again is no new one. */
const saysNewKey = (before: KeyAt, now: KeyAt): boolean => now.fifths !== before.fifths || now.minor !== before.minor;

type KeyAt = PitchReading['keys'][number];

const barSigns = (
  bar: Bar,
  all: readonly Bar[],
  first: Bar,
  tempos: readonly WrittenTempo[],
  arrangement: Arrangement,
  reading: PitchReading,
): BarSigns => {
  const before = all[bar.index - 1];
  const inBar = <Item extends { readonly at: number }>(items: readonly Item[]) =>
    items
      .map((item) => ({ item, offset: item.at - bar.start }))
      // What the file says before a pickup begins stands at its first note.
      .map(({ item, offset }) => ({ item, offset: bar.index === 0 ? Math.max(0, offset) : offset }))
      .filter(({ offset }) => offset >= 0 && offset < bar.end - bar.start);
  return {
    number: bar.number,
    meter: bar.meter,
    newMeter: bar === first || !before || !sameMeter(bar, before),
    newKey:
      bar === first || (!!before && saysNewKey(keyAt(reading.keys, before.start), keyAt(reading.keys, bar.start))),
    short: bar.short,
    pickup: bar.pickup === true,
    tempos: inBar(tempos).map(({ item: { quartersPerMinute, words }, offset }) => ({
      offset: Math.min(offset, notatedLength(bar)),
      quartersPerMinute,
      words,
    })),
    markers: inBar(
      arrangement.markers.map(({ tick, text }) => ({ at: rescaleTicks(tick, arrangement.ppq, WRITTEN_PPQ), text })),
    ).map(({ item, offset }) => ({ offset, text: item.text })),
  };
};

/** Instruments that read whichever of the two common clefs suits their notes. */
const EITHER_CLEF = new Set(['other', 'piano', 'organ', 'strings', 'harp', 'voice', 'harmonica', 'marimba']);

const clefFor = (instrument: Instrument, pitches: readonly number[]): ClefName => {
  if (!EITHER_CLEF.has(instrument.id) || pitches.length === 0) return instrument.clef;
  const sorted = [...pitches].sort((a, b) => a - b);
  return (sorted[sorted.length >> 1] as number) < 58 ? 'bass' : 'treble';
};

/** How a part's pitches move to the player's page: semitones and steps, the signature kept within seven signs. */
const shiftFor = (
  instrument: Instrument,
  fifths: number,
  concert: boolean,
): { semitones: number; steps: number; fifths: number } => {
  if (concert) return { semitones: 0, steps: 0, fifths };
  const semitones = -instrument.transposeSemitones;
  const steps = -instrument.transposeSteps;
  const written = fifths + fifthsOfInterval(semitones, steps);
  if (written > 7) return { semitones, steps: steps + 1, fifths: written - 12 };
  if (written < -7) return { semitones, steps: steps - 1, fifths: written + 12 };
  return { semitones, steps, fifths: written };
};

const buildPart = (
  part: Part,
  layer: Written | undefined,
  shown: readonly Bar[],
  allBars: readonly Bar[],
  reading: PitchReading,
  swings: readonly BarSwing[],
  concert: boolean,
): Omit<ScorePart, keyof PartNames> => {
  const instrument = instrumentById(part.instrument);
  // What the bar before the first one shown leaves altered is recalled in the first.
  const before = allBars[(shown[0]?.index ?? 0) - 1];
  const bars = before ? [before, ...shown] : shown;
  const from = bars[0]?.start ?? 0;
  const to = bars[bars.length - 1]?.end ?? 0;
  const all = layer?.notes ?? [];
  const notes = all.filter((note) => note.onset < to && note.onset + note.duration > from - SNAP_REACH);
  const staves: readonly Staff[] = all.some((note) => note.staff === 2) ? [1, 2] : [1];
  const corrections = signsOf(all, part.overrides?.list);
  const places = placesOfPart(instrument, all, staves, allBars, concert, clefsSet(part.overrides?.list, allBars));
  const voices = voicesOf(notes, bars, tupletsSet(part.overrides?.list));
  const next = voices.map(() => 0);
  const scoreBars = bars.map((bar): ScoreBar => {
    const inside = voices.map(({ chords }, which): VoiceChord[] => {
      let from = next[which] as number;
      while (from < chords.length && (chords[from] as VoiceChord).end <= bar.start) from += 1;
      next[which] = from;
      let until = from;
      while (until < chords.length && (chords[until] as VoiceChord).start < bar.end) until += 1;
      return chords.slice(from, until);
    });
    const key = keyAt(reading.keys, bar.start);
    const shift = shiftFor(instrument, key.fifths, concert);
    // An unpitched sound has a place on the staff but no pitch, so no accidental.
    const spell: Spell = (pitch, id, beside) =>
      isUnpitched(instrument)
        ? NO_PITCH
        : transposeSpelling(
            reading.spellings.get(id) ??
              spellInKey(pitch, key.fifths, beside === undefined ? undefined : reading.spellings.get(beside)),
            shift.semitones,
            shift.steps,
          );
    const fifths = isUnpitched(instrument) ? 0 : shift.fifths;
    return {
      number: bar.number,
      start: bar.start,
      length: notatedLength(bar),
      pedals: pedalsIn(bar, layer?.pedals ?? []),
      swings: swings.filter((said) => said.bar.number === bar.number).map(({ swing }) => swing),
      fifths,
      clefs: places.map(({ clefs }) => clefs[bar.index] as ClefName),
      events: staves.flatMap((staff) => staffEvents(bar, staff, voices, inside, fifths, spell, corrections)),
    };
  });
  const told = isUnpitched(instrument) ? scoreBars : withCourtesy(scoreBars);
  const shownBars = withCorrections(withOctaveLines(told.slice(before ? 1 : 0), places), corrections);
  return {
    partId: part.id,
    instrument,
    channel: part.channel,
    program: part.program,
    percussion: part.percussionMap ?? GENERAL_MIDI_MAP,
    clefs: shownBars[0]?.clefs ?? places.map(({ clefs }) => clefs[0] as ClefName),
    minor: keyAt(reading.keys, from).minor,
    transposed: !concert,
    bars: shownBars,
  };
};

/** The clefs that a person set. */
interface SetClefs {
  /** The same for the same clefs. */
  readonly key: string;
  /** As it stands in a bar; undefined where none was set so far. */
  readonly at: (staff: Staff, bar: Bar) => ClefName | undefined;
}

const clefsSet = (list: readonly Override[] | undefined, bars: readonly Bar[]): SetClefs => {
  const set = (list ?? []).flatMap((override) => (override.kind === 'clef' ? [override] : []));
  const first = bars[0]?.number ?? 1;
  // One that was set for a pickup stands from the first bar on, where there is no pickup any more.
  const sorted = set.map((own) => ({ ...own, bar: Math.max(first, own.bar) })).sort((a, b) => a.bar - b.bar);
  const byStaff = new Map([1, 2].map((staff) => [staff, sorted.filter((own) => own.staff === staff)]));
  return {
    key: sorted.map(({ staff, bar, clef }) => `${staff} ${bar} ${clef}`).join(),
    at: (staff, { number }) => {
      const own = byStaff.get(staff) ?? [];
      return own[lastIndexAtOrBefore(own, number, ({ bar }) => bar)]?.clef;
    },
  };
};

/** Where a bar begins to swing or is even again. */
interface BarSwing {
  readonly bar: Bar;
  readonly swing: Swing | 'even';
}

/** What the page of a part says of swing: as it was read, and bar by bar as a person has it instead. */
const swingsOfPart = ({ overrides }: Part, layer: Written | undefined, bars: readonly Bar[]): readonly BarSwing[] => {
  const set = (overrides?.list ?? []).flatMap((own) => (own.kind === 'swing' ? [own] : []));
  const barHeld = (at: number) => bars[lastIndexAtOrBefore(bars, at, ({ start }) => start)];
  const read = (layer?.swings ?? []).flatMap(({ from, swing }) => {
    const bar = barHeld(from);
    return bar && !set.some((own) => own.bar === bar.number) ? [{ bar, swing }] : [];
  });
  const own = set.flatMap((said) => {
    const bar = bars.find(({ number }) => number === said.bar);
    return bar ? [{ bar, swing: said.swing }] : [];
  });
  return [...read, ...own].sort((a, b) => a.bar.start - b.bar.start);
};

/** What is said of swing in a score, part by part: where several say it, once for all of them, over the first. */
const swingsOfScore = (
  parts: readonly Part[],
  layers: ReadonlyMap<PartId, Written>,
  bars: readonly Bar[],
): ReadonlyMap<PartId, readonly BarSwing[]> => {
  const said = new Map(parts.map((part) => [part.id, swingsOfPart(part, layers.get(part.id), bars)]));
  const saying = [...said.values()].filter((list) => list.length > 0);
  const [first] = parts;
  if (saying.length < 2 || !first) return said;
  const together: BarSwing[] = [];
  for (const one of saying.flat().sort((a, b) => a.bar.start - b.bar.start)) {
    const now = together[together.length - 1]?.swing ?? 'even';
    if ((now === 'even') !== (one.swing === 'even')) together.push(one);
  }
  return new Map([[first.id, together]]);
};

const knownOfBars = new WeakMap<readonly Override[], readonly BarOverride[]>();

/** A part's corrections of bars among all of them; once for each list, which a score read in makes long. */
const ofBars = ({ overrides }: Part): readonly BarOverride[] => {
  const list = overrides?.list;
  if (!list) return [];
  const known = knownOfBars.get(list) ?? list.filter(isBarOverride);
  knownOfBars.set(list, known);
  return known;
};

/** The marks that a person moved, by the bar's number: they stand over all parts. */
const nudgesSet = (parts: readonly Part[]): ReadonlyMap<number, NonNullable<BarSigns['nudges']>> => {
  const nudges = new Map<number, NonNullable<BarSigns['nudges']>>();
  for (const override of parts.flatMap(ofBars))
    if (override.kind === 'nudge')
      nudges.set(override.bar, { ...nudges.get(override.bar), [override.mark]: { x: override.x, y: override.y } });
  return nudges;
};

/** Where a person has systems and pages begin, by the bar's number. */
const breaksSet = (parts: readonly Part[]): ReadonlyMap<number, 'system' | 'page'> => {
  const breaks = new Map<number, 'system' | 'page'>();
  for (const override of parts.flatMap(ofBars)) {
    if (override.kind === 'pageBreak') breaks.set(override.bar, 'page');
    else if (override.kind === 'systemBreak' && !breaks.has(override.bar)) breaks.set(override.bar, 'system');
  }
  return breaks;
};

/** The clefs of a staff, bar by bar of the piece, and its octave lines. */
interface StaffPlaces {
  readonly staff: Staff;
  readonly clefs: readonly ClefName[];
  readonly lines: readonly OctaveLine[];
}

const knownPlaces = new WeakMap<readonly WrittenNote[], { readonly key: string; readonly places: StaffPlaces[] }>();

/** Made once for a layer: excerpts ask for it bar by bar. */
const placesOfPart = (
  instrument: Instrument,
  notes: readonly WrittenNote[],
  staves: readonly Staff[],
  bars: readonly Bar[],
  concert: boolean,
  set: SetClefs,
): StaffPlaces[] => {
  const raised = concert ? 0 : -instrument.transposeSemitones;
  const starts = bars.map(({ start }) => start);
  const key = `${instrument.id} ${raised} ${set.key} ${starts.join()}`;
  const known = knownPlaces.get(notes);
  if (known?.key === key) return known.places;
  const places = staves.map((staff): StaffPlaces => {
    const own = staves.length === 1 ? notes : notes.filter((note) => note.staff === staff);
    const base = clefFor(
      instrument,
      own.map(({ pitch }) => pitch),
    );
    if (isUnpitched(instrument)) return { staff, clefs: starts.map(() => base), lines: [] };
    const found = clefsOfBars(instrument, base, own, starts, raised);
    const clefs = bars.map((bar, index) => set.at(staff, bar) ?? (found[index] as ClefName));
    const barAt = (at: number) =>
      Math.max(
        0,
        lastIndexAtOrBefore(starts, at, (start) => start),
      );
    const clefAt = (at: number) => clefs[barAt(at)] ?? base;
    return { staff, clefs, lines: octaveLinesOf(instrument, own, clefAt, raised) };
  });
  knownPlaces.set(notes, { key, places });
  return places;
};

/** Marks the first and the last chord of each octave line, as far as they are shown. */
const withOctaveLines = (bars: readonly ScoreBar[], places: readonly StaffPlaces[]): readonly ScoreBar[] => {
  const marks = new Map<ScoreEvent, Pick<ScoreEvent, 'octaveBegins' | 'octaveEnds'>>();
  for (const { staff, lines } of places) {
    if (lines.length === 0) continue;
    const chords = bars.flatMap(({ events }) => events.filter((own) => own.staff === staff && own.notes.length > 0));
    for (const { side, noteIds } of lines) {
      const under = chords.filter(({ notes }) => notes.some(({ noteId }) => noteIds.has(noteId)));
      const [first, last] = [under[0], under[under.length - 1]];
      if (first) marks.set(first, { ...marks.get(first), octaveBegins: side });
      if (last) marks.set(last, { ...marks.get(last), octaveEnds: side });
    }
  }
  if (marks.size === 0) return bars;
  return bars.map((bar) =>
    bar.events.some((event) => marks.has(event))
      ? { ...bar, events: bar.events.map((event) => ({ ...event, ...marks.get(event) })) }
      : bar,
  );
};

/** Marks go to the sixteenth, so that readers find them between notes. */
const pedalsIn = (bar: Bar, pedals: Written['pedals']): ScoreBar['pedals'] =>
  pedals
    .flatMap(({ down, up }) => [
      { at: down, type: 'start' as const },
      { at: up, type: 'stop' as const },
    ])
    .map(({ at, type }) => ({ at: Math.round(at / PEDAL_UNIT) * PEDAL_UNIT, type }))
    .filter(({ at }) => at >= bar.start && at < bar.end)
    .map(({ at, type }) => ({ offset: at - bar.start, type }));

const PEDAL_UNIT = WRITTEN_PPQ / 4;

/** A note that ends this shortly before the first bar may be written into it. */
const SNAP_REACH = WRITTEN_PPQ / 8;

/** What one staff has in a bar: the voices that say something, or a rest; accidentals hold for all of them. */
const staffEvents = (
  bar: Bar,
  staff: Staff,
  voices: readonly Voice[],
  inside: readonly (readonly VoiceChord[])[],
  fifths: number,
  spell: Spell,
  corrections: Corrections,
): ScoreEvent[] => {
  const speaking = voices.flatMap((voice, which) => {
    const chords = inside[which] as readonly VoiceChord[];
    return voice.staff === staff && chords.length > 0 ? [{ number: voice.voice, chords, tuplets: voice.tuplets }] : [];
  });
  if (speaking.length === 0) return [wholeBarRest(notatedLength(bar), staff)];
  const alone = speaking.length === 1;
  const unsigned = speaking.flatMap(({ number, chords, tuplets }): Unsigned[] =>
    voiceEvents(bar, chords, tuplets, spell).map((event) => ({
      ...event,
      // A voice that has the staff to itself shows its rests.
      kind: event.kind === 'rest' && number > 1 && !alone && event.ratio === null ? 'gap' : event.kind,
      staff,
      voice: number,
      stem: alone ? null : number % 2 === 1 ? 'up' : 'down',
    })),
  );
  const signed = accidentalsOf(
    [...unsigned].sort((a, b) => a.start - b.start || a.voice - b.voice),
    fifths,
  );
  const lead = leadOf(bar);
  const beamed = speaking.flatMap(({ number }) =>
    withBeams(
      bar.meter,
      signed.filter((event) => event.voice === number),
      (event) => beamBefore(corrections, event),
    ),
  );
  return lead === 0 ? beamed : beamed.map((event) => ({ ...event, start: event.start - lead }));
};

/** How much of its meter's bar a pickup leaves out on the page. */
const leadOf = (bar: Bar): number =>
  bar.pickup && bar.short ? bar.end - originOf(bar, WRITTEN_PPQ) - notatedLength(bar) : 0;

type Unsigned = Omit<ScoreEvent, 'beams'>;

const NO_PITCH: Spelling = { step: 0, alter: 0, octave: 4 };

/** A bar cut short at an odd tick is written to the nearest thirty-second, so that it adds up. */
const notatedLength = (bar: Bar): number => {
  const length = bar.end - bar.start;
  return cutOddly(bar) ? Math.max(CUT_UNIT, Math.round(length / CUT_UNIT) * CUT_UNIT) : length;
};

const CUT_UNIT = WHOLE / 32;

const cutOddly = (bar: Bar): boolean => bar.short && (bar.end - bar.start) % CUT_UNIT !== 0;

interface Piece {
  readonly start: number;
  readonly end: number;
  readonly chord: VoiceChord | null;
}

/** Chords and the gaps between them, from the bar's start to its end, as places in the whole bar. */
const piecesOfBar = (bar: Bar, length: number, chords: readonly VoiceChord[]): Piece[] => {
  const pieces: Piece[] = [];
  const odd = cutOddly(bar);
  const place = (at: number) => (odd ? Math.round(at / CUT_UNIT) * CUT_UNIT : at);
  const origin = originOf(bar, WRITTEN_PPQ);
  let at = leadOf(bar);
  for (const chord of chords) {
    const start = Math.min(length, Math.max(at, place(chord.start - origin)));
    const end = Math.min(length, place(chord.end - origin));
    if (end <= start) continue;
    if (start > at) pieces.push({ start: at, end: start, chord: null });
    pieces.push({ start, end, chord });
    at = end;
  }
  if (at < length) pieces.push({ start: at, end: length, chord: null });
  return pieces;
};

/** `beside` is the note that one stands beside which was not spelled with the others. */
type Spell = (pitch: number, id: NoteId, beside?: NoteId) => Spelling;

type VoiceEvent = Omit<ScoreEvent, 'beams' | 'staff' | 'voice' | 'stem'>;

const voiceEvents = (
  bar: Bar,
  chords: readonly VoiceChord[],
  tuplets: readonly SetTuplet[],
  spell: Spell,
): VoiceEvent[] => {
  const length = leadOf(bar) + notatedLength(bar);
  const pieces = piecesOfBar(bar, length, chords);
  const places = pieces.flatMap((piece) => [piece.start, piece.end]).filter((place) => place < length);
  const origin = originOf(bar, WRITTEN_PPQ);
  const set = tuplets
    .filter(({ start }) => start >= bar.start && start < bar.end)
    .map((tuplet) => ({ ...tuplet, start: tuplet.start - origin }));
  const zones = zonesOf(bar.meter, length, places, set);
  return numberPieces(pieces.flatMap((piece) => zones.flatMap((zone) => eventsInZone(bar, piece, zone, spell))));
};

/** The signs of what a piece has inside one zone. */
const eventsInZone = (bar: Bar, piece: Piece, zone: Zone, spell: Spell): VoiceEvent[] => {
  const start = Math.max(piece.start, zone.start);
  const end = Math.min(piece.end, zone.end);
  if (end <= start) return [];
  const { chord } = piece;
  const origin = originOf(bar, WRITTEN_PPQ);
  const shift = zone.ratio ? zone.start : 0;
  const inTree = (place: number) => (place - shift) * zone.scale;
  const spans = splitIntoValues(zone.tree, inTree(start), inTree(end), WHOLE, chord ? 'note' : 'rest');
  return spans.map((span) => {
    const from = span.start / zone.scale + shift;
    const to = (span.start + span.length) / zone.scale + shift;
    return {
      kind: chord ? 'chord' : 'rest',
      start: from,
      length: to - from,
      value: span.value,
      ratio: zone.ratio,
      tuplet: zone.ratio ? edgeOf(from === zone.start, to === zone.end) : null,
      wholeBar: false,
      notes: chord ? headsOf(chord, origin + from, origin + to, spell) : [],
      staccato: chord?.staccato === true && origin + from === chord.start,
      ...(chord?.rolled && origin + from === chord.start ? { arpeggio: true as const } : {}),
      ...(chord && origin + from === chord.start ? { ...gracesOf(chord, spell), ...neighboursOf(chord, spell) } : {}),
    };
  });
};

const edgeOf = (first: boolean, last: boolean): ScoreEvent['tuplet'] =>
  first && last ? 'both' : first ? 'start' : last ? 'stop' : null;

const wholeBarRest = (length: number, staff: Staff): ScoreEvent => ({
  kind: 'rest',
  staff,
  voice: 1,
  stem: null,
  start: 0,
  length,
  value: { denominator: 1, dots: 0 },
  ratio: null,
  tuplet: null,
  wholeBar: true,
  notes: [],
  staccato: false,
  beams: [],
});

const headsOf = (chord: VoiceChord, from: number, to: number, spell: Spell): ScoreNote[] =>
  chord.notes.map((note) => ({
    noteId: note.id,
    sources: note.sources,
    soundingPitch: note.pitch,
    spelling: spell(note.pitch, note.id),
    accidental: null,
    tiedFrom: from > chord.start,
    tiedTo: to < chord.end,
    piece: from > chord.start ? 0 : 1,
  }));

const gracesOf = (chord: VoiceChord, spell: Spell): Pick<ScoreEvent, 'graces'> => {
  const tones = chord.notes.flatMap(({ signs }) => signs?.graces ?? []).sort((a, b) => a.at - b.at);
  if (tones.length === 0) return {};
  return {
    graces: tones.map(({ id, pitch }) => ({
      noteId: id,
      sources: [id],
      soundingPitch: pitch,
      spelling: spell(pitch, id, chord.notes[0]?.id),
      accidental: null,
      tiedFrom: false,
      tiedTo: false,
      piece: 1,
    })),
  };
};

/** The tones above and below that an ornament goes to. */
const neighboursOf = (chord: VoiceChord, spell: Spell): Pick<ScoreEvent, 'neighbours'> => {
  const neighbours = chord.notes.flatMap(({ id, pitch, signs }): Neighbour[] => {
    if (!signs?.marks) return [];
    const others = [...new Set((signs?.tones ?? []).map((tone) => tone.pitch - pitch))].filter((by) => by !== 0);
    return others.flatMap((by): Neighbour[] => {
      // It stands on the next line or space, unless only a double sign could say it so.
      const spelling = transposeSpelling(spell(pitch, id), by, Math.sign(by));
      if (Math.abs(spelling.alter) > 1) return [];
      return [{ side: by > 0 ? 'above' : 'below', spelling, accidental: null }];
    });
  });
  return neighbours.length > 0 ? { neighbours } : {};
};

/** Gives tied pieces within a bar their numbers: 1 where the note begins, then on; a piece from the bar before starts at 0. */
const numberPieces = (events: readonly VoiceEvent[]): VoiceEvent[] => {
  const count = new Map<NoteId, number>();
  return events.map((event) => ({
    ...event,
    notes: event.notes.map((note) => {
      const piece = note.tiedFrom ? (count.get(note.noteId) ?? 1) + 1 : 1;
      count.set(note.noteId, piece);
      return { ...note, piece };
    }),
  }));
};
