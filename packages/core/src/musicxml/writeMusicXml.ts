/** Score to MusicXML 4.0 (score-partwise) and to the compressed form .mxl. Source: the W3C MusicXML 4.0 documentation. */
import { strToU8, zipSync } from 'fflate';
import { type Family, isUnpitched } from '../instruments/instruments.js';
import { percussionSound } from '../instruments/percussionMap.js';
import type { Mark } from '../model/noteSigns.js';
import type { BarSigns, Score, ScoreBar, ScoreEvent, ScoreNote, ScorePart } from '../notation/score.js';
import { STEP_NAMES } from '../pitch/spelling.js';
import { beatsOfMeter } from '../time/meterMap.js';
import { WRITTEN_PPQ } from '../time/units.js';
import { element, type XmlElement, type XmlLook, xmlDocument } from './xml.js';

const DOCTYPE =
  '<!DOCTYPE score-partwise PUBLIC "-//Recordare//DTD MusicXML 4.0 Partwise//EN" "http://www.musicxml.org/dtds/partwise.dtd">';

/** The id that a notehead has in the file and in the engraved picture. */
export const noteheadId = (note: Pick<ScoreNote, 'noteId' | 'piece'>, barNumber: number): string =>
  note.piece === 1 ? `n${note.noteId}` : `n${note.noteId}-${barNumber}-${note.piece}`;

/** The id that a bar has in the file and in the engraved picture. */
export const barId = (barNumber: number): string => `b${barNumber}`;

/** The note behind a notehead's id; undefined for anything else. */
export const noteOfHead = (id: string): number | undefined => {
  const match = /^n(\d+)(-\d+-\d+)?$/.exec(id);
  return match ? Number(match[1]) : undefined;
};

/** The whole score as a MusicXML document; "dense" for a reader that is no person. */
export const writeMusicXml = (score: Score, look?: XmlLook): string => {
  const unit = commonUnit(score);
  const root = element(
    'score-partwise',
    [
      element('work', [element('work-title', score.title)]),
      element('identification', [element('encoding', [element('software', 'Crisp Fold')])]),
      element(
        'part-list',
        score.parts.flatMap((part, index) => [
          ...groupsAt(score, index, 'start'),
          scorePart(part, index, score.longRests && score.parts.length === 1),
          ...groupsAt(score, index, 'stop'),
        ]),
      ),
      ...score.parts.map((part, index) => partElement(score, part, index, unit)),
    ],
    { version: '4.0' },
  );
  return xmlDocument(DOCTYPE, root, look);
};

/** The score as a compressed .mxl file. */
export const writeMxl = (score: Score): Uint8Array => {
  const container =
    '<?xml version="1.0" encoding="UTF-8"?>\n<container><rootfiles><rootfile full-path="score.musicxml"/></rootfiles></container>\n';
  return zipSync({
    'META-INF/container.xml': strToU8(container),
    'score.musicxml': strToU8(writeMusicXml(score)),
  });
};

const greatestCommonDivisor = (a: number, b: number): number => (b === 0 ? a : greatestCommonDivisor(b, a % b));

/** Written units in one MusicXML division: the largest that says every length exactly. */
const commonUnit = (score: Score): number => {
  let unit = WRITTEN_PPQ;
  for (const part of score.parts) {
    for (const bar of part.bars) {
      for (const event of bar.events) unit = greatestCommonDivisor(unit, event.length);
      for (const { offset } of bar.pedals) unit = greatestCommonDivisor(unit, offset);
    }
  }
  for (const bar of score.bars)
    for (const { offset } of [...bar.tempos, ...bar.markers]) unit = greatestCommonDivisor(unit, offset);
  return unit;
};

const partId = (index: number): string => `P${index + 1}`;

const soundsOf = (part: ScorePart): number[] => {
  if (!isUnpitched(part.instrument)) return [];
  const keys = new Set<number>();
  for (const bar of part.bars)
    for (const event of bar.events)
      for (const note of [...(event.graces ?? []), ...event.notes]) keys.add(note.soundingPitch);
  return [...keys].sort((a, b) => a - b);
};

const soundId = (index: number, key: number): string => `${partId(index)}-I${key}`;

/** On a player's part the name stands over the music, and not before each system. */
const scorePart = (part: ScorePart, index: number, alone: boolean): XmlElement => {
  const hidden = alone ? { 'print-object': 'no' } : {};
  const sounds = soundsOf(part);
  const channel = element('midi-channel', part.channel + 1);
  const program = part.program === null ? undefined : element('midi-program', part.program + 1);
  const own = `${partId(index)}-I1`;
  const instruments = sounds.length
    ? sounds.map((key) =>
        element('score-instrument', [element('instrument-name', percussionSound(key, part.percussion).name)], {
          id: soundId(index, key),
        }),
      )
    : [element('score-instrument', [element('instrument-name', part.instrument.name)], { id: own })];
  const midi = sounds.length
    ? sounds.map((key) =>
        element('midi-instrument', [channel, program, element('midi-unpitched', key + 1)], { id: soundId(index, key) }),
      )
    : [element('midi-instrument', [channel, program], { id: own })];
  return element(
    'score-part',
    [
      element('part-name', part.name, hidden),
      element('part-abbreviation', part.abbreviation, hidden),
      ...instruments,
      ...midi,
    ],
    { id: partId(index) },
  );
};

/** Families that a bracket holds together (common practice). */
const BRACKETED: ReadonlySet<Family> = new Set(['woodwind', 'brass', 'voice', 'strings', 'mallet', 'percussion']);

/** The edge of a bracket around neighbours of one family, where the part stands at one. */
const groupsAt = ({ parts }: Score, index: number, type: 'start' | 'stop'): XmlElement[] => {
  const family = (at: number) => parts[at]?.instrument.family;
  const own = family(index);
  if (!own || !BRACKETED.has(own)) return [];
  const [before, after] = [family(index - 1) === own, family(index + 1) === own];
  const edge = type === 'start' ? after && !before : before && !after;
  if (!edge) return [];
  return [
    element(
      'part-group',
      type === 'start' ? [element('group-symbol', 'bracket'), element('group-barline', 'yes')] : [],
      { type, number: 1 },
    ),
  ];
};

type BarSwing = ScoreBar['swings'][number];

const partElement = (score: Score, part: ScorePart, index: number, unit: number): XmlElement => {
  const rests = score.longRests && score.parts.length === 1 ? longRests(score, part) : NO_LONG_RESTS;
  return element(
    'part',
    withoutOpenTies(part.bars).map((bar, barIndex) => {
      const signs = score.bars[barIndex] as BarSigns;
      return element(
        'measure',
        [
          index === 0 &&
            signs.breaks &&
            element('print', [], signs.breaks === 'page' ? { 'new-page': 'yes' } : { 'new-system': 'yes' }),
          index === 0 &&
            signs.nudges?.number &&
            element('print', [element('measure-numbering', 'system', movedBy(signs.nudges.number))]),
          attributes(part, bar, signs, part.bars[barIndex - 1], unit, rests.get(barIndex)),
          ...(index === 0 ? wordsOver(signs, bar.swings, unit) : bar.swings.map(swingMark)),
          ...bar.pedals.map(({ offset, type }) =>
            element(
              'direction',
              [
                element('direction-type', [element('pedal', [], { type, line: 'yes' })]),
                offset > 0 && element('offset', offset / unit),
              ],
              { placement: 'below' },
            ),
          ),
          ...barElements(part, index, bar, unit),
        ],
        {
          number: bar.number,
          implicit: signs.pickup ? 'yes' : undefined,
          id: index === 0 ? barId(bar.number) : undefined,
        },
      );
    }),
    { id: partId(index) },
  );
};

/** The word for a reader, and the ratio in whole percents for a program that plays the page. */
const swingWords = (swing: BarSwing): XmlElement => {
  const words = swing === 'even' ? 'Straight' : swing.pair === 'eighths' ? 'Swing' : 'Swing sixteenths';
  return element('direction-type', [element('words', words)]);
};

const swingSound = (swing: BarSwing): XmlElement =>
  element(
    'swing',
    swing === 'even'
      ? [element('straight')]
      : [
          element('first', Math.round(swing.percent)),
          element('second', 100 - Math.round(swing.percent)),
          element('swing-type', swing.pair === 'eighths' ? 'eighth' : '16th'),
        ],
  );

const swingMark = (swing: BarSwing): XmlElement =>
  element('direction', [swingWords(swing), element('sound', [swingSound(swing)])], { placement: 'above' });

/** What a bar of the top part says over the score, and of swing: at the tempo where one is said, so that they are one line. */
const wordsOver = (signs: BarSigns, swings: readonly BarSwing[], unit: number): XmlElement[] => {
  const [first, ...others] = swings;
  const joined = first && signs.tempos.some((tempo) => tempo.words === 'metronome' && tempo.offset === 0);
  return joined
    ? [...directions(signs, unit, first), ...others.map(swingMark)]
    : [...directions(signs, unit), ...swings.map(swingMark)];
};

/** Ties that come from before the first bar, or go on past the last, have no other end in the file: readers stumble over them. */
const withoutOpenTies = (bars: readonly ScoreBar[]): readonly ScoreBar[] =>
  bars.map((bar, index) => {
    const [first, last] = [index === 0, index === bars.length - 1];
    if (!first && !last) return bar;
    const events = bar.events.map((event) => {
      const [enters, leaves] = [first && event.start === 0, last && event.start + event.length >= bar.length];
      if (!enters && !leaves) return event;
      const notes = event.notes.map((note) => ({
        ...note,
        tiedFrom: note.tiedFrom && !enters,
        tiedTo: note.tiedTo && !leaves,
      }));
      return { ...event, notes };
    });
    return { ...bar, events };
  });

const NO_LONG_RESTS: ReadonlyMap<number, number> = new Map();

const isEmptyBar = ({ events, swings, pedals }: ScoreBar): boolean =>
  swings.length === 0 && pedals.length === 0 && events.every(({ wholeBar }) => wholeBar);

/** Bars of rest that one sign can stand for: the index of the first, and how many; new signs begin a new one. */
const longRests = (score: Score, part: ScorePart): ReadonlyMap<number, number> => {
  const runs = new Map<number, number>();
  let from = -1;
  part.bars.forEach((bar, index) => {
    const signs = score.bars[index] as BarSigns;
    // Words over a bar stand over one of its own: readers pass over those within a long rest.
    const said = signs.tempos.length > 0 || signs.markers.length > 0;
    if (!isEmptyBar(bar) || signs.short || said) from = -1;
    else if (from < 0 || signs.newMeter || signs.newKey) from = index;
    if (from >= 0) runs.set(from, index - from + 1);
  });
  return new Map([...runs].filter(([, count]) => count > 1));
};

/** The voice's number in the file: 1 to 4 on the upper staff, 5 to 8 on the lower. */
const voiceNumber = (event: ScoreEvent): number => (event.staff - 1) * 4 + event.voice;

/** The bar's events, voice by voice, each from the start of the bar. */
const barElements = (part: ScorePart, index: number, bar: ScoreBar, unit: number): XmlElement[] => {
  const elements: XmlElement[] = [];
  let at = 0;
  let before: ScoreEvent | undefined;
  for (const event of bar.events) {
    if (before && voiceNumber(before) !== voiceNumber(event)) {
      elements.push(element('backup', [element('duration', at / unit)]));
      at = 0;
    }
    elements.push(...directionsOf(part, event));
    if (event.octaveBegins) elements.push(octaveShift(part, event, event.octaveBegins === 'above' ? 'down' : 'up'));
    elements.push(...eventElements(part, index, bar, event, unit));
    if (event.octaveEnds) elements.push(octaveShift(part, event, 'stop'));
    elements.push(...wedges(part, event, 'stop'), ...pedalLines(part, event, 'stop'));
    at += event.length;
    before = event;
  }
  return elements;
};

const directionAt = (
  part: ScorePart,
  event: ScoreEvent,
  placement: 'above' | 'below',
  content: XmlElement,
): XmlElement =>
  element('direction', [element('direction-type', [content]), part.clefs.length > 1 && element('staff', event.staff)], {
    placement,
  });

/** Hairpins that begin or end with a chord. */
const wedges = (part: ScorePart, event: ScoreEvent, end: 'start' | 'stop'): XmlElement[] =>
  (event.spans ?? []).flatMap((span) =>
    (span.what !== 'louder' && span.what !== 'softer') || span.end !== end
      ? []
      : [
          directionAt(
            part,
            event,
            'below',
            element('wedge', [], {
              type: end === 'stop' ? 'stop' : span.what === 'louder' ? 'crescendo' : 'diminuendo',
              number: span.number,
            }),
          ),
        ],
  );

/** Pedal lines that a person drew: down before the chord, up after it. */
const pedalLines = (part: ScorePart, event: ScoreEvent, end: 'start' | 'stop'): XmlElement[] =>
  (event.spans ?? []).flatMap((span) =>
    span.what === 'pedal' && span.end === end
      ? [directionAt(part, event, 'below', element('pedal', [], { type: end, line: 'yes' }))]
      : [],
  );

/** What stands at a chord by a person's wish: words over it, dynamics and hairpins under it. */
const directionsOf = (part: ScorePart, event: ScoreEvent): XmlElement[] => [
  ...(event.words === undefined ? [] : [directionAt(part, event, 'above', element('words', event.words))]),
  ...(event.dynamic === undefined
    ? []
    : [directionAt(part, event, 'below', element('dynamics', [element(event.dynamic)]))]),
  ...wedges(part, event, 'start'),
  ...pedalLines(part, event, 'start'),
];

/** Notes under an octave line are shifted down on the page where they sound above it. */
const octaveShift = (part: ScorePart, event: ScoreEvent, type: 'up' | 'down' | 'stop'): XmlElement =>
  element(
    'direction',
    [
      element('direction-type', [element('octave-shift', [], { type, size: 8 })]),
      part.clefs.length > 1 && element('staff', event.staff),
    ],
    { placement: type === 'up' || event.octaveEnds === 'below' ? 'below' : 'above' },
  );

const CLEFS = {
  treble: ['G', 2, 0],
  treble8below: ['G', 2, 0],
  alto: ['C', 3, 0],
  tenor: ['C', 4, 0],
  bass: ['F', 4, 0],
  percussion: ['percussion', undefined, 0],
} as const;

const attributes = (
  part: ScorePart,
  bar: ScoreBar,
  signs: BarSigns,
  /** None for the first bar. */
  before: ScoreBar | undefined,
  unit: number,
  /** So many bars of rest stand as one, from here. */
  longRest: number | undefined,
): XmlElement | undefined => {
  const first = before === undefined;
  const clefs = bar.clefs.map((clef, staff) => (clef === before?.clefs[staff] ? null : clef));
  if (!first && !signs.newMeter && !signs.newKey && longRest === undefined && clefs.every((clef) => clef === null))
    return undefined;
  const staves = bar.clefs.length;
  const { transposeSemitones, transposeSteps } = part.instrument;
  const octaves = Math.trunc(transposeSemitones / 12);
  return element('attributes', [
    first && element('divisions', WRITTEN_PPQ / unit),
    (first || signs.newKey) &&
      element('key', [element('fifths', bar.fifths), element('mode', part.minor ? 'minor' : 'major')]),
    signs.newMeter &&
      element('time', [element('beats', signs.meter.numerator), element('beat-type', signs.meter.denominator)]),
    first && staves > 1 && element('staves', staves),
    ...clefs.map((clef, staff) => (clef === null ? undefined : clefElement(clef, staves > 1 ? staff + 1 : null))),
    first &&
      part.transposed &&
      transposeSemitones !== 0 &&
      element('transpose', [
        element('diatonic', transposeSteps - octaves * 7),
        element('chromatic', transposeSemitones - octaves * 12),
        octaves !== 0 && element('octave-change', octaves),
      ]),
    longRest !== undefined && element('measure-style', [element('multiple-rest', longRest)]),
  ]);
};

const clefElement = (clef: ScorePart['clefs'][number], staff: number | null): XmlElement => {
  const [sign, line] = CLEFS[clef];
  return element(
    'clef',
    [element('sign', sign), line !== undefined && element('line', line)],
    staff === null ? {} : { number: staff },
  );
};

/** By how much a person moved a mark. */
const movedBy = (by: { readonly x: number; readonly y: number } | undefined): { readonly [name: string]: number } =>
  by ? { 'relative-x': by.x, 'relative-y': by.y } : {};

/** `swing` is said with the tempo at the bar's beginning. */
const directions = (signs: BarSigns, unit: number, swing?: BarSwing): XmlElement[] => {
  const offset = (at: number) => (at > 0 ? element('offset', at / unit) : undefined);
  const compound = beatsOfMeter(signs.meter, WRITTEN_PPQ)[0]?.compound === true;
  const rounded = (value: number) => Math.round(value * 100) / 100;
  return [
    ...signs.markers.map((marker) =>
      element(
        'direction',
        [
          element('direction-type', [element('rehearsal', marker.text, movedBy(signs.nudges?.rehearsal))]),
          offset(marker.offset),
        ],
        {
          placement: 'above',
        },
      ),
    ),
    ...signs.tempos.map((tempo) => {
      const sound = { tempo: rounded(tempo.quartersPerMinute) };
      if (tempo.words === null) return element('sound', [offset(tempo.offset)], sound);
      const perMinute = rounded(compound ? tempo.quartersPerMinute / 1.5 : tempo.quartersPerMinute);
      const swung = tempo.offset === 0 && tempo.words === 'metronome' ? swing : undefined;
      return element(
        'direction',
        [
          element('direction-type', [
            tempo.words === 'metronome'
              ? element(
                  'metronome',
                  [
                    element('beat-unit', 'quarter'),
                    compound && element('beat-unit-dot'),
                    element('per-minute', Math.round(perMinute)),
                  ],
                  movedBy(signs.nudges?.tempo),
                )
              : element('words', tempo.words, movedBy(signs.nudges?.tempo)),
          ]),
          swung && swingWords(swung),
          offset(tempo.offset),
          element('sound', swung ? [swingSound(swung)] : [], sound),
        ],
        { placement: 'above' },
      );
    }),
  ];
};

const TYPES: { readonly [denominator: number]: string } = {
  1: 'whole',
  2: 'half',
  4: 'quarter',
  8: 'eighth',
  16: '16th',
  32: '32nd',
  64: '64th',
  128: '128th',
};
const ACCIDENTALS: { readonly [alter: number]: string } = {
  [-2]: 'flat-flat',
  [-1]: 'flat',
  0: 'natural',
  1: 'sharp',
  2: 'double-sharp',
};

const eventElements = (
  part: ScorePart,
  index: number,
  bar: ScoreBar,
  event: ScoreEvent,
  unit: number,
): XmlElement[] => {
  const duration = element('duration', event.length / unit);
  const voice = element('voice', voiceNumber(event));
  const staff = part.clefs.length > 1 && element('staff', event.staff);
  if (event.kind === 'gap') return [element('forward', [duration, voice, staff])];
  if (event.kind === 'rest') {
    const rest = element('rest', [], event.wholeBar ? { measure: 'yes' } : {});
    return [
      element('note', [
        rest,
        duration,
        voice,
        ...(event.wholeBar ? [] : valueElements(event)),
        staff,
        ...notations(event, null),
      ]),
    ];
  }
  const graces = (event.graces ?? []).map((note) => graceElement(part, index, bar, event, note));
  const heads = event.notes.map((note, place) =>
    element(
      'note',
      [
        place > 0 && element('chord'),
        pitchElement(part, note),
        duration,
        note.tiedFrom && element('tie', [], { type: 'stop' }),
        note.tiedTo && element('tie', [], { type: 'start' }),
        isUnpitched(part.instrument) && element('instrument', [], { id: soundId(index, note.soundingPitch) }),
        voice,
        ...valueElements(event, note.accidental, note.courtesy),
        event.stem !== null && event.value.denominator > 1 && element('stem', event.stem),
        noteheadElement(part, note),
        staff,
        ...(place === 0 ? event.beams.map((state, level) => element('beam', state, { number: level + 1 })) : []),
        ...notations(place === 0 ? event : { ...event, tuplet: null, staccato: false, marks: [], spans: [] }, note),
      ],
      { id: noteheadId(note, bar.number) },
    ),
  );
  return [...graces, ...heads];
};

/** One before a note is an eighth with a stroke, several are sixteenths (common practice; Gould, Behind Bars, 2011). */
const graceElement = (
  part: ScorePart,
  index: number,
  bar: ScoreBar,
  event: ScoreEvent,
  note: ScoreNote,
): XmlElement => {
  const all = event.graces ?? [];
  const place = all.indexOf(note);
  const state = place === 0 ? 'begin' : place === all.length - 1 ? 'end' : 'continue';
  const { accidental, courtesy } = note;
  return element(
    'note',
    [
      element('grace', [], all.length === 1 ? { slash: 'yes' } : {}),
      pitchElement(part, note),
      isUnpitched(part.instrument) && element('instrument', [], { id: soundId(index, note.soundingPitch) }),
      element('voice', voiceNumber(event)),
      element('type', all.length === 1 ? 'eighth' : '16th'),
      accidental !== null &&
        element('accidental', ACCIDENTALS[accidental] as string, courtesy ? { cautionary: 'yes' } : {}),
      event.stem !== null && element('stem', 'up'),
      noteheadElement(part, note),
      part.clefs.length > 1 && element('staff', event.staff),
      ...(all.length > 1 ? [1, 2].map((number) => element('beam', state, { number })) : []),
    ],
    { id: noteheadId(note, bar.number) },
  );
};

const noteheadElement = (part: ScorePart, note: ScoreNote): XmlElement | undefined => {
  const own = isUnpitched(part.instrument) ? percussionSound(note.soundingPitch, part.percussion).notehead : 'normal';
  const notehead = note.head ?? own;
  return notehead === 'normal' ? undefined : element('notehead', notehead);
};

const pitchElement = (part: ScorePart, note: ScoreNote): XmlElement => {
  if (isUnpitched(part.instrument)) {
    const sound = percussionSound(note.soundingPitch, part.percussion);
    return element('unpitched', [element('display-step', sound.step), element('display-octave', sound.octave)]);
  }
  const { step, alter, octave } = note.spelling;
  return element('pitch', [
    element('step', STEP_NAMES[step] as string),
    alter !== 0 && element('alter', alter),
    element('octave', octave),
  ]);
};

const valueElements = (
  event: ScoreEvent,
  accidental: number | null = null,
  courtesy?: true,
): (XmlElement | undefined)[] => [
  element('type', TYPES[event.value.denominator] as string),
  event.value.dots === 1 ? element('dot') : undefined,
  accidental === null
    ? undefined
    : element('accidental', ACCIDENTALS[accidental] as string, courtesy ? { cautionary: 'yes' } : {}),
  event.ratio
    ? element('time-modification', [
        element('actual-notes', event.ratio.actual),
        element('normal-notes', event.ratio.normal),
      ])
    : undefined,
];

const ORNAMENTS = [
  ['trill', 'trill-mark'],
  ['turn', 'turn'],
  ['mordent', 'mordent'],
  ['upperMordent', 'inverted-mordent'],
] as const;
/** An unmeasured tremolo has three strokes through its stem (common practice). */
const STROKES = 3;
const ARTICULATIONS = [
  ['accent', 'accent'],
  ['marcato', 'strong-accent'],
  ['tenuto', 'tenuto'],
] as const;

const slursAndSlides = (event: ScoreEvent, end: 'start' | 'stop'): XmlElement[] =>
  (event.spans ?? []).flatMap((span) =>
    (span.what === 'slur' || span.what === 'glissando') && span.end === end
      ? [element(span.what, [], { type: end, number: span.number })]
      : [],
  );

/** The accidentals of an ornament's neighbours, over and under its sign. */
const neighbourSigns = ({ neighbours = [] }: ScoreEvent): XmlElement[] =>
  neighbours.flatMap(({ side, accidental }) =>
    accidental === null ? [] : [element('accidental-mark', ACCIDENTALS[accidental] as string, { placement: side })],
  );

const notations = (event: ScoreEvent, note: ScoreNote | null): XmlElement[] => {
  const starts = event.tuplet === 'start' || event.tuplet === 'both';
  const stops = event.tuplet === 'stop' || event.tuplet === 'both';
  const marked = (names: readonly (readonly [Mark, string])[]) =>
    names.flatMap(([mark, name]) => (event.marks?.includes(mark) ? [name] : []));
  const ornaments = marked(ORNAMENTS);
  const articulations = [...marked(ARTICULATIONS), ...(event.staccato ? ['staccato'] : [])];
  const content = [
    note?.tiedFrom ? element('tied', [], { type: 'stop' }) : undefined,
    note?.tiedTo ? element('tied', [], { type: 'start' }) : undefined,
    starts ? element('tuplet', [], { type: 'start', bracket: 'yes' }) : undefined,
    stops ? element('tuplet', [], { type: 'stop' }) : undefined,
    ...slursAndSlides(event, 'stop'),
    ...slursAndSlides(event, 'start'),
    ...ornaments.map((name) => element('ornaments', [element(name), ...neighbourSigns(event)])),
    event.marks?.includes('tremolo')
      ? element('ornaments', [element('tremolo', STROKES, { type: 'single' })])
      : undefined,
    articulations.length > 0
      ? element(
          'articulations',
          articulations.map((name) => element(name)),
        )
      : undefined,
    event.marks?.includes('fermata') ? element('fermata') : undefined,
    event.arpeggio ? element('arpeggiate') : undefined,
  ].filter((child) => child !== undefined);
  return content.length > 0 ? [element('notations', content)] : [];
};
