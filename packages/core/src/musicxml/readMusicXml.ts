/**
 * MusicXML in (source: the W3C MusicXML 4.0 documentation): a score becomes Played that sounds as written, and what its page
 * says, note by note, to be held by corrections.
 */
import { instrumentForProgram, isUnpitched, PERCUSSION_CHANNEL } from '../instruments/instruments.js';
import { meterOfLength } from '../meter/pickup.js';
import type { Ratio, SetTuplet } from '../meter/zones.js';
import type { KeyChange, Marker, TrackEvent } from '../model/arrangement.js';
import { CLEF_NAMES, type ClefName } from '../model/clefs.js';
import {
  LAST_TICK,
  LONGEST_MARKER,
  LONGEST_PART_NAME,
  MOST_BARS,
  MOST_EVENTS,
  MOST_NOTES,
  MOST_PARTS,
} from '../model/limits.js';
import { DYNAMICS, type Dynamic, MARKS, type Mark } from '../model/noteSigns.js';
import { type BarOverride, FURTHEST_NUDGE, LONGEST_WORDS, type PageMark } from '../model/overrides.js';
import { NOTEHEADS, type Notehead } from '../model/percussionMap.js';
import type { MidiFile, MidiTrack, UnnumberedNote } from '../model/readFile.js';
import { failure, type Problem, type Result, success } from '../model/result.js';
import { keptText } from '../model/texts.js';
import type { OnWork } from '../model/work.js';
import { fifthsOfInterval, STEP_NAMES, transposeSpelling } from '../pitch/spelling.js';
import { type Meter, type MeterChange, ticksPerBar } from '../time/meterMap.js';
import { firstIndexAtOrAfter, lastIndexAtOrBefore } from '../time/search.js';
import type { TempoChange } from '../time/tempoMap.js';
import { ticks, WRITTEN_PPQ } from '../time/units.js';
import { readXml, scoreBytes, type XmlNode } from './readXml.js';
import { BadScore, divisionsOf, lengthOf, MOST_WRITTEN_OUT, playedOrder, reachOf } from './scoreOrder.js';

/** What the page says of a note read from a score; the same object for the note wherever it goes. */
export interface NoteOnPage {
  readonly voice: number;
  readonly staff: 1 | 2;
  /** As it sounds: letter and accidental; null for percussion. */
  readonly spelling: { readonly step: (typeof STEP_NAMES)[number]; readonly alter: number } | null;
  staccato: boolean;
  readonly marks: readonly Mark[];
  readonly head: Notehead | null;
  readonly stem: 'up' | 'down' | null;
  dynamic: Dynamic | null;
  words: string | null;
  /** The note that it is a grace note of. */
  graceOf: NoteOnPage | null;
  slurTo: NoteOnPage | null;
  glissandoTo: NoteOnPage | null;
  /** The last note of a pedal line that begins with it. */
  pedalTo: NoteOnPage | null;
  /** The tuplet that begins with it, or with a rest before it; written units from the start of the piece. */
  tuplet: SetTuplet | null;
  hairpin: { readonly to: NoteOnPage; readonly way: 'louder' | 'softer' } | null;
}

/** A note of a score. */
export interface NoteOfScore extends UnnumberedNote {
  readonly page: NoteOnPage;
}

/** A part of a score: what is held of its bars, beside its notes. */
export interface TrackOfScore extends MidiTrack {
  readonly notes: readonly NoteOfScore[];
  readonly bars: readonly BarOverride[];
}

/** A score as files are read: like a MIDI file, but that its notes know their page. */
export interface ScoreFile extends MidiFile {
  readonly title: string;
  readonly tracks: readonly TrackOfScore[];
}

/** How loud a level sounds at first (common practice of programs that play scores). */
const LOUDNESS: { readonly [level: string]: number } = {
  ppp: 20,
  pp: 33,
  p: 49,
  mp: 64,
  mf: 80,
  f: 96,
  ff: 112,
  fff: 124,
};
const USUAL = 80;
/** A hairpin without a level at its end changes the loudness by so much. */
const SWELL = 18;

const MARKS_BY_NAME: { readonly [element: string]: Mark } = {
  accent: 'accent',
  tenuto: 'tenuto',
  'strong-accent': 'marcato',
  fermata: 'fermata',
  'trill-mark': 'trill',
  mordent: 'mordent',
  'inverted-mordent': 'upperMordent',
  turn: 'turn',
  arpeggiate: 'arpeggio',
};
/** How long a grace note is heard, in written units: 50 ms where 100 quarters fill a minute. */
const GRACE_LASTS = WRITTEN_PPQ / 12;
/** Words that the tempo map says by itself. */
const TEMPO_WORDS = new Set(['rit.', 'accel.', 'a tempo']);

const isTremolo = ({ name, text, attributes }: XmlNode): boolean =>
  name === 'tremolo' && text === '3' && (attributes.type ?? 'single') === 'single';

interface Raw {
  onset: number;
  duration: number;
  readonly pitch: number;
  readonly tieStart: boolean;
  readonly page: NoteOnPage;
}

/** Something between the notes: it belongs to the chord that stands at it, or next to it. */
type Sign = { readonly at: number; readonly staff: number } & (
  | { readonly kind: 'dynamic'; readonly dynamic: Dynamic }
  | { readonly kind: 'words'; readonly text: string }
  | { readonly kind: 'hairpin'; readonly way: 'louder' | 'softer'; readonly to: number }
  | { readonly kind: 'pedal'; readonly to: number }
);

/** Bars as they are played, and all that the parts share. */
interface Frame {
  readonly order: readonly number[];
  /** Where each played bar begins, and the end. */
  readonly starts: readonly number[];
  readonly numbers: readonly number[];
  readonly tempos: TempoChange[];
  readonly markers: Marker[];
  readonly keys: KeyChange[];
  readonly lost: Map<string, number>;
  /** What was said already: "tempo 0", "marker 0 A". */
  readonly said: Set<string>;
  /** Told of each note and sign: repeats may make any number of them out of a few. */
  readonly counted: { notes: number; signs: number };
}

const MOST_COUNTED = { notes: MOST_NOTES, signs: MOST_EVENTS } as const;

const many = (count: number): string => count.toLocaleString('en');

/** Counts one more. Throws {@link BadScore} where that is more than can be read. */
const countOne = ({ counted }: Frame, what: keyof typeof MOST_COUNTED): void => {
  counted[what] += 1;
  if (counted[what] > MOST_COUNTED[what])
    throw new BadScore('tooMany', `This score holds more than ${many(MOST_COUNTED[what])} ${what}.`);
};

/** True the first time that something is said. */
const saysFirst = ({ said }: Frame, what: string): boolean => {
  if (said.has(what)) return false;
  said.add(what);
  return true;
};

const lose = (frame: Frame, what: string): void => void frame.lost.set(what, (frame.lost.get(what) ?? 0) + 1);

/** Reads one score; the problem in words where it is none. `onWork` is told how many bytes of it were read, and may throw. */
export const readMusicXml = (bytes: Uint8Array, onWork?: OnWork): Result<ScoreFile> => {
  const document = scoreBytes(bytes);
  if (!document.ok) return document;
  const read = readXml(document.value, onWork);
  if (!read.ok) return read;
  try {
    return scoreOf(read.value);
  } catch (error) {
    if (!(error instanceof BadScore)) throw error;
    return failure(error.code, error.message);
  }
};

const scoreOf = (root: XmlNode): Result<ScoreFile> => {
  if (root.name !== 'score-partwise' && root.name !== 'score-timewise')
    return failure('noScore', 'This XML file is not a score: it is neither score-partwise nor score-timewise.');
  const parts = partsOf(root);
  const measures = parts[0]?.measures ?? [];
  if (measures.length === 0) return failure('noScore', 'There is not one bar in this score.');
  if (parts.length > MOST_PARTS)
    return failure('tooManyParts', `This score holds more than ${many(MOST_PARTS)} parts.`);
  if (measures.length > MOST_BARS) return failure('tooManyBars', `This score holds more than ${many(MOST_BARS)} bars.`);
  const { order, repeats, cut } = playedOrder(measures);
  const lost = new Map<string, number>();
  const { meters, starts, numbers } = barsOf(parts, order, lost);
  const frame: Frame = {
    order,
    starts,
    numbers,
    tempos: [],
    markers: [],
    keys: [],
    lost,
    said: new Set(),
    counted: { notes: 0, signs: 0 },
  };
  const tracks = parts.map((part, index) => trackOf(part, index, frame));
  const warnings: Problem[] = [...lost].map(([what, count]) => ({
    code: 'notShown',
    message: `${many(count)} × ${what}: this is not shown here, and was left out.`,
  }));
  if (cut)
    warnings.push({
      code: 'repeatsCut',
      message: `Repeats make more than ${many(MOST_WRITTEN_OUT)} bars of this score; what comes after those was left out.`,
    });
  if (repeats)
    warnings.push({
      code: 'repeats',
      message: 'Repeats and endings were written out: every bar stands as it is played.',
    });
  return success({
    format: 1,
    ppq: WRITTEN_PPQ,
    title: keptText(root.textOf('work', 'work-title') || root.textOf('movement-title'), LONGEST_PART_NAME),
    tempos: frame.tempos,
    meters,
    keys: frame.keys,
    markers: frame.markers,
    tracks,
    warnings,
  });
};

interface PartOfXml {
  readonly head: XmlNode | undefined;
  readonly measures: readonly XmlNode[];
}

const partsOf = (root: XmlNode): readonly PartOfXml[] => {
  const heads = new Map(
    (root.child('part-list')?.all('score-part') ?? []).map((own) => [own.attributes.id ?? '', own]),
  );
  if (root.name === 'score-partwise')
    return root
      .all('part')
      .map((part) => ({ head: heads.get(part.attributes.id ?? ''), measures: part.all('measure') }));
  // Timewise: the parts of each bar, put together part by part; the bar's own number goes with them.
  const byId = new Map<string, XmlNode[]>();
  for (const measure of root.all('measure')) {
    for (const part of measure.all('part')) {
      const id = part.attributes.id ?? '';
      const Node = part.constructor as typeof XmlNode;
      const own = byId.get(id) ?? [];
      own.push(new Node('measure', measure.attributes, part.children, ''));
      byId.set(id, own);
    }
  }
  return [...byId].map(([id, measures]) => ({ head: heads.get(id), measures }));
};

/** What a meter may be made of (Standard MIDI File 1.0: a byte above, a power of two below). */
const HIGHEST_NUMERATOR = 255;
const DENOMINATORS: readonly number[] = [1, 2, 4, 8, 16, 32, 64];

const isCount = (value: number): boolean => Number.isInteger(value) && value >= 1 && value <= HIGHEST_NUMERATOR;

/** The meter that a bar says; null where it says none, or one that is none, which is then lost. */
const meterIn = (measure: XmlNode, lost: Map<string, number>): Meter | null => {
  const time = measure.all('attributes').flatMap((own) => own.all('time'))[0];
  if (!time?.child('beats')) return null;
  const groups = time.textOf('beats').split('+').map(Number);
  const denominator = time.numberOf('beat-type') ?? 0;
  const numerator = groups.reduce((sum, own) => sum + own, 0);
  if (!isCount(numerator) || !groups.every(isCount) || groups.length > 64 || !DENOMINATORS.includes(denominator)) {
    lost.set('meter', (lost.get('meter') ?? 0) + 1);
    return null;
  }
  return { numerator, denominator, ...(groups.length > 1 ? { groups } : {}) };
};

/** A length as a meter; where no plainer one says it, the nearest in the smallest notes that can count it. */
const meterOf = (length: number): Meter => {
  const plain = meterOfLength(length, WRITTEN_PPQ);
  if (plain && isCount(plain.numerator)) return plain;
  const counted = (denominator: number) => Math.max(1, Math.round((length * denominator) / (WRITTEN_PPQ * 4)));
  const denominator = [...DENOMINATORS].reverse().find((own) => isCount(counted(own))) ?? 1;
  return { numerator: Math.min(HIGHEST_NUMERATOR, counted(denominator)), denominator };
};

/** The meters and starts of the bars as played; a bar that is not as long as its meter has one of its own. */
const barsOf = (parts: readonly PartOfXml[], order: readonly number[], lost: Map<string, number>) => {
  const divisions = parts.map(() => 1);
  const written: { readonly length: number; readonly meter: Meter; readonly pickup: boolean }[] = [];
  let meter: Meter = { numerator: 4, denominator: 4 };
  const count = parts[0]?.measures.length ?? 0;
  for (let index = 0; index < count; index += 1) {
    meter =
      parts
        .map(({ measures }) => (measures[index] ? meterIn(measures[index] as XmlNode, lost) : null))
        .find((own) => own) ?? meter;
    let reach = 0;
    parts.forEach(({ measures }, which) => {
      const measure = measures[index];
      if (!measure) return;
      const own = reachOf(measure, divisions[which] as number);
      divisions[which] = own.divisions;
      reach = Math.max(reach, own.reach);
    });
    const whole = ticksPerBar(meter, WRITTEN_PPQ);
    const implicit = parts[0]?.measures[index]?.attributes.implicit === 'yes';
    const short = reach > 0 && reach < whole && (implicit || index === 0);
    written.push({ length: reach > whole || short ? reach : whole, meter, pickup: index === 0 && short });
  }
  const meters: MeterChange[] = [];
  const starts: number[] = [];
  const numbers: number[] = [];
  let at = 0;
  let shown = '';
  order.forEach((index, place) => {
    const bar = written[index] as (typeof written)[number];
    const own = bar.length === ticksPerBar(bar.meter, WRITTEN_PPQ) ? bar.meter : meterOf(bar.length);
    const pickup = place === 0 && bar.pickup;
    if (JSON.stringify(own) !== shown)
      meters.push({ tick: ticks(at), ...own, ...(pickup ? { pickup: ticks(0) } : {}) });
    shown = JSON.stringify(own);
    starts.push(at);
    numbers.push(place + (written[order[0] ?? 0]?.pickup ? 0 : 1));
    at += bar.length;
    // A pickup reads as the end of the bar whose meter comes after it, also where nothing else does.
    if (pickup && order.length === 1) meters.push({ tick: ticks(at), ...bar.meter });
  });
  starts.push(at);
  return { meters, starts, numbers };
};

/** What a part's attributes say where one reads. */
interface Setting {
  divisions: number;
  readonly transpose: { semitones: number; steps: number };
  readonly clefs: Map<number, ClefName>;
}

const CLEFS: { readonly [sign: string]: ClefName } = {
  'G 2': 'treble',
  'C 3': 'alto',
  'C 4': 'tenor',
  'F 4': 'bass',
};

const trackOf = ({ head, measures }: PartOfXml, index: number, frame: Frame): TrackOfScore => {
  const reader = new PartReader(frame, index, head);
  frame.order.forEach((measure, place) => {
    const own = measures[measure];
    if (own) reader.bar(own, place);
  });
  return reader.done();
};

const onsetOf = ({ onset }: Raw): number => onset;
const placeOf = ({ at }: { readonly at: number }): number => at;

/** Opens the spans that begin with a note, and closes those that end with it. */
const spansOf = (
  notations: readonly XmlNode[],
  names: readonly string[],
  page: NoteOnPage,
  open: Map<string, NoteOnPage>,
  close: (from: NoteOnPage) => void,
): void => {
  for (const own of names.flatMap((name) => notations.flatMap((all) => all.all(name)))) {
    const number = own.attributes.number ?? '1';
    if (own.attributes.type === 'start') open.set(number, page);
    else if (own.attributes.type === 'stop') {
      const from = open.get(number);
      if (from && from !== page) close(from);
      open.delete(number);
    }
  }
};

/** So many notes that begin together are looked at for the one of the first voice. */
const MOST_TOGETHER = 64;
/** Tuplets of more notes are not kept as such. */
const MOST_IN_TUPLET = 64;

/** A part transposes by no more than this, in semitones or steps. */
const FURTHEST_STEPS = 127;
/** Keys of more accidentals are none that anybody writes. */
const MOST_FIFTHS = 14;
/** The longest that a beat may be in MIDI, in microseconds (Standard MIDI File 1.0: three bytes). */
const SLOWEST = 0xff_ff_ff;

/** A tempo as it is kept: microseconds to the quarter. */
const microsecondsOf = (quartersPerMinute: number): number =>
  Math.max(1, Math.min(SLOWEST, Math.round(60_000_000 / quartersPerMinute)));

class PartReader {
  private readonly notes: Raw[] = [];
  private readonly signs: Sign[] = [];
  private readonly bars: BarOverride[] = [];
  private readonly setting: Setting = { divisions: 1, transpose: { semitones: 0, steps: 0 }, clefs: new Map() };
  private readonly tied = new Map<string, Raw>();
  /** Grace notes whose note has not come yet. */
  private readonly waiting: XmlNode[] = [];
  private readonly slurs = new Map<string, NoteOnPage>();
  private readonly slides = new Map<string, NoteOnPage>();
  /** The tuplet that is open in each voice, and its first note. */
  private readonly tuplets = new Map<
    string,
    { readonly start: number; readonly ratio: Ratio; holder: NoteOnPage | null }
  >();
  private readonly wedges = new Map<
    string,
    { readonly at: number; readonly staff: number; readonly way: 'louder' | 'softer' }
  >();
  /** Where a pedal line began that has not ended. */
  private pedalDown: { readonly at: number; readonly staff: number } | null = null;
  private readonly sounds: ReadonlyMap<string, number>;
  private readonly channel: number;
  private readonly program: number | null;
  private unpitched = false;
  private chordHead: NoteOnPage | undefined;

  constructor(
    private readonly frame: Frame,
    private readonly index: number,
    private readonly head: XmlNode | undefined,
  ) {
    const midi = head?.all('midi-instrument') ?? [];
    this.sounds = new Map(
      midi.map((own) => [own.attributes.id ?? '', Math.round(own.numberOf('midi-unpitched') ?? 39) - 1]),
    );
    const free = index % 15;
    this.channel = ((midi[0]?.numberOf('midi-channel') ?? (free >= PERCUSSION_CHANNEL ? free + 1 : free) + 1) - 1) & 15;
    const program = midi[0]?.numberOf('midi-program');
    this.program = program === undefined ? null : Math.max(0, Math.min(127, Math.round(program) - 1));
  }

  bar(measure: XmlNode, place: number): void {
    const start = this.frame.starts[place] as number;
    const number = this.frame.numbers[place] as number;
    let at = start;
    let chord = start;
    const length = (node: XmlNode) => Math.round(lengthOf(node, measure, this.setting.divisions));
    for (const node of measure.children) {
      switch (node.name) {
        case 'attributes':
          this.setting.divisions = divisionsOf(node, measure, this.setting.divisions);
          this.attributes(node, start, number);
          break;
        case 'print':
          if (this.index === 0 && place > 0) this.print(node, number);
          break;
        case 'backup':
          // What the voice before ends with belongs to no note of the next one.
          this.loseWaiting();
          // Nothing lies before its bar.
          at = Math.max(start, at - length(node));
          break;
        case 'forward':
          at += length(node);
          break;
        case 'direction':
          this.direction(node, at, number);
          break;
        case 'sound':
          this.tempo(node, at + this.offset(node));
          break;
        case 'note':
          if (node.child('cue')) {
            lose(this.frame, 'cue note');
            break;
          }
          if (node.child('grace')) {
            this.waiting.push(node);
            break;
          }
          if (!node.child('chord')) chord = at;
          this.noteOrRest(node, chord, chord + length(node));
          if (!node.child('chord')) at += length(node);
          break;
        default:
      }
    }
  }

  private attributes(node: XmlNode, start: number, number: number): void {
    const transpose = node.child('transpose');
    if (transpose) {
      const octaves = transpose.numberOf('octave-change') ?? 0;
      const within = (steps: number) => Math.max(-FURTHEST_STEPS, Math.min(FURTHEST_STEPS, Math.round(steps)));
      this.setting.transpose.semitones = within((transpose.numberOf('chromatic') ?? 0) + 12 * octaves);
      this.setting.transpose.steps = within((transpose.numberOf('diatonic') ?? 0) + 7 * octaves);
    }
    const fifths = node.numberOf('key', 'fifths');
    if (fifths !== undefined && !(Number.isInteger(fifths) && Math.abs(fifths) <= MOST_FIFTHS)) lose(this.frame, 'key');
    else if (fifths !== undefined) {
      const { semitones, steps } = this.setting.transpose;
      let concert = fifths + fifthsOfInterval(semitones, steps);
      while (concert > 7) concert -= 12;
      while (concert < -7) concert += 12;
      const last = this.frame.keys[this.frame.keys.length - 1];
      const minor = node.textOf('key', 'mode') === 'minor';
      if (
        this.index === 0 &&
        (last?.fifths !== concert || last.minor !== minor) &&
        saysFirst(this.frame, `key ${start}`)
      )
        this.frame.keys.push({ tick: ticks(start), fifths: concert, minor });
    }
    for (const clef of node.all('clef')) {
      const staff = clef.attributes.number === '2' ? 2 : 1;
      const name = CLEFS[`${clef.textOf('sign')} ${clef.textOf('line')}`];
      const guitar = clef.numberOf('clef-octave-change') === -1 && name === 'treble';
      if (!name && clef.textOf('sign') !== 'percussion') lose(this.frame, 'clef');
      if (name) this.bars.push({ kind: 'clef', bar: number, staff, clef: guitar ? 'treble8below' : name });
    }
  }

  private print(node: XmlNode, bar: number): void {
    if (node.attributes['new-page'] === 'yes') this.bars.push({ kind: 'pageBreak', bar });
    else if (node.attributes['new-system'] === 'yes') this.bars.push({ kind: 'systemBreak', bar });
    const numbering = node.child('measure-numbering');
    if (numbering) this.nudge(numbering, bar, 'number');
  }

  private offset(node: XmlNode): number {
    const offset = Math.round(((node.numberOf('offset') ?? 0) / this.setting.divisions) * WRITTEN_PPQ);
    return Math.abs(offset) <= LAST_TICK ? offset : 0;
  }

  private nudge({ attributes }: XmlNode, bar: number, mark: PageMark): void {
    const by = (text: string | undefined) => {
      const tenths = Math.round(Number(text ?? 0));
      return Number.isFinite(tenths) ? Math.max(-FURTHEST_NUDGE, Math.min(FURTHEST_NUDGE, tenths)) : 0;
    };
    const [x, y] = [by(attributes['relative-x']), by(attributes['relative-y'])];
    if ((x !== 0 || y !== 0) && saysFirst(this.frame, `nudge ${bar} ${mark}`))
      this.bars.push({ kind: 'nudge', bar, mark, x, y });
  }

  private tempo(sound: XmlNode | undefined, at: number): boolean {
    const perMinute = Number.parseFloat(sound?.attributes.tempo ?? '');
    if (!(perMinute >= 1 && perMinute <= 10_000)) return false;
    if (saysFirst(this.frame, `tempo ${at}`))
      this.frame.tempos.push({
        tick: ticks(Math.max(0, at)),
        microsecondsPerQuarter: microsecondsOf(perMinute),
      });
    return true;
  }

  /** What it says of swing, if anything. */
  private swing(sound: XmlNode | undefined, bar: number): boolean {
    const node = sound?.child('swing');
    if (!node) return false;
    const [first, second] = [node.numberOf('first') ?? 0, node.numberOf('second') ?? 0];
    const percent = (100 * first) / (first + second);
    const pair = node.textOf('swing-type') === '16th' ? 'sixteenths' : 'eighths';
    if (node.child('straight')) this.bars.push({ kind: 'swing', bar, swing: 'even' });
    else if (percent > 50 && percent <= 75) this.bars.push({ kind: 'swing', bar, swing: { percent, pair } });
    else lose(this.frame, 'swing of another kind');
    return true;
  }

  private direction(node: XmlNode, where: number, bar: number): void {
    const at = where + this.offset(node);
    const staff = node.numberOf('staff') ?? 1;
    const timed = this.tempo(node.child('sound'), at);
    const swung = this.swing(node.child('sound'), bar);
    for (const what of node.all('direction-type').flatMap(({ children }) => children)) {
      countOne(this.frame, 'signs');
      switch (what.name) {
        case 'rehearsal':
          this.nudge(what, bar, 'rehearsal');
          if (what.text !== '' && saysFirst(this.frame, `marker ${at} ${what.text}`))
            this.frame.markers.push({ tick: ticks(Math.max(0, at)), text: keptText(what.text, LONGEST_MARKER) });
          break;
        case 'words':
          if (timed) this.nudge(what, bar, 'tempo');
          if (what.text !== '' && !swung && !(timed && TEMPO_WORDS.has(what.text)))
            this.signs.push({ kind: 'words', at, staff, text: keptText(what.text, LONGEST_WORDS) });
          break;
        case 'dynamics': {
          const dynamic = DYNAMICS.find((own) => what.child(own));
          if (dynamic) this.signs.push({ kind: 'dynamic', at, staff, dynamic });
          else lose(this.frame, 'dynamic of another kind');
          break;
        }
        case 'wedge':
          this.wedge(what, at, staff);
          break;
        case 'metronome':
          this.nudge(what, bar, 'tempo');
          if (!timed) this.metronome(what, at);
          break;
        case 'pedal':
          this.pedal(what, at, staff);
          break;
        case 'octave-shift':
          break;
        default:
          lose(this.frame, what.name);
      }
    }
  }

  private metronome(node: XmlNode, at: number): void {
    const unit: { readonly [name: string]: number } = { whole: 4, half: 2, quarter: 1, eighth: 0.5, '16th': 0.25 };
    const quarters = (unit[node.textOf('beat-unit')] ?? 1) * (node.child('beat-unit-dot') ? 1.5 : 1);
    const perMinute = (node.numberOf('per-minute') ?? 0) * quarters;
    if (!(perMinute >= 1 && perMinute <= 10_000) || !saysFirst(this.frame, `tempo ${at}`)) return;
    this.frame.tempos.push({ tick: ticks(Math.max(0, at)), microsecondsPerQuarter: microsecondsOf(perMinute) });
  }

  private wedge(node: XmlNode, at: number, staff: number): void {
    const number = node.attributes.number ?? '1';
    const { type } = node.attributes;
    if (type === 'crescendo' || type === 'diminuendo')
      this.wedges.set(number, { at, staff, way: type === 'crescendo' ? 'louder' : 'softer' });
    const open = type === 'stop' ? this.wedges.get(number) : undefined;
    if (!open) return;
    this.wedges.delete(number);
    this.signs.push({ kind: 'hairpin', at: open.at, staff: open.staff, way: open.way, to: at });
  }

  private pedal({ attributes: { type } }: XmlNode, at: number, staff: number): void {
    const down = this.pedalDown;
    if (down && (type === 'stop' || type === 'change' || type === 'start'))
      this.signs.push({ kind: 'pedal', at: down.at, staff: down.staff, to: at });
    this.pedalDown = type === 'start' || type === 'change' ? { at, staff } : type === 'stop' ? null : down;
  }

  private noteOrRest(node: XmlNode, start: number, end: number): void {
    const page = node.child('rest') ? null : this.note(node, start, end - start);
    this.tuplet(node, page, start, end);
  }

  /** What begins or ends a tuplet, note or rest; one within another is counted, not kept. */
  private tuplet(node: XmlNode, page: NoteOnPage | null, start: number, end: number): void {
    const voice = `${node.textOf('voice')} ${node.textOf('staff')}`;
    const signs = node.all('notations').flatMap((own) => own.all('tuplet'));
    const first = ({ attributes: { number = '1' } }: XmlNode) => number === '1';
    if (signs.some((own) => !first(own))) lose(this.frame, 'tuplet within a tuplet');
    const has = (type: string) => signs.some((own) => first(own) && own.attributes.type === type);
    const actual = node.numberOf('time-modification', 'actual-notes') ?? 0;
    const normal = node.numberOf('time-modification', 'normal-notes') ?? 0;
    const isTuplet = [actual, normal].every((own) => Number.isInteger(own) && own > 0 && own <= MOST_IN_TUPLET);
    if (has('start') && isTuplet) this.tuplets.set(voice, { start, ratio: { actual, normal }, holder: null });
    const open = this.tuplets.get(voice);
    if (!open) return;
    open.holder ??= page;
    if (!has('stop')) return;
    this.tuplets.delete(voice);
    if (open.holder) open.holder.tuplet = { start: open.start, length: end - open.start, ratio: open.ratio };
  }

  private note(node: XmlNode, onset: number, duration: number): NoteOnPage | null {
    const staff = node.numberOf('staff') === 2 ? 2 : 1;
    const sounding = this.pitchOf(node);
    if (!sounding || duration <= 0) return null;
    const { pitch, spelling } = sounding;
    const key = `${staff} ${pitch}`;
    const ties = node.all('tie').map(({ attributes }) => attributes.type);
    const before = this.tied.get(key);
    const notations = node.all('notations');
    if (ties.includes('stop') && before && before.onset + before.duration === onset) {
      before.duration += duration;
      this.slur(notations, before.page);
      if (!ties.includes('start')) this.tied.delete(key);
      return null;
    }
    const page = this.pageOf(node, notations, staff, spelling);
    // A dot stands once for its chord.
    if (node.child('chord') && this.chordHead?.staccato) page.staccato = true;
    if (!node.child('chord')) this.chordHead = page;
    this.graces(onset, page);
    countOne(this.frame, 'notes');
    const raw: Raw = { onset, duration, pitch, tieStart: ties.includes('start'), page };
    this.notes.push(raw);
    if (raw.tieStart) this.tied.set(key, raw);
    this.slur(notations, page);
    return page;
  }

  /** Grace notes that were met go to the note after them: they are heard just before it. */
  private graces(onset: number, main: NoteOnPage): void {
    const nodes = this.waiting.splice(0);
    nodes.forEach((node, index) => {
      const sounding = this.pitchOf(node);
      if (!sounding) return;
      const page = this.pageOf(node, node.all('notations'), main.staff, sounding.spelling);
      page.graceOf = main;
      countOne(this.frame, 'notes');
      const from = Math.max(0, onset - (nodes.length - index) * GRACE_LASTS);
      this.notes.push({ onset: from, duration: GRACE_LASTS, pitch: sounding.pitch, tieStart: false, page });
    });
  }

  private pitchOf(node: XmlNode): { readonly pitch: number; readonly spelling: NoteOnPage['spelling'] } | null {
    if (node.child('unpitched')) {
      this.unpitched = true;
      const sound = this.sounds.get(node.child('instrument')?.attributes.id ?? '') ?? [...this.sounds.values()][0];
      return { pitch: Math.max(0, Math.min(127, sound ?? 38)), spelling: null };
    }
    const step = STEP_NAMES.findIndex((name) => name === node.textOf('pitch', 'step'));
    const octave = node.numberOf('pitch', 'octave');
    if (step < 0 || octave === undefined || !Number.isInteger(octave)) return null;
    const { semitones, steps } = this.setting.transpose;
    const alter = Math.round(node.numberOf('pitch', 'alter') ?? 0);
    const written = { step, alter, octave };
    const sounding = transposeSpelling(written, semitones, steps);
    const pitch = (sounding.octave + 1) * 12 + ([0, 2, 4, 5, 7, 9, 11][sounding.step] as number) + sounding.alter;
    if (!(pitch >= 0 && pitch <= 127)) return null;
    // More than two accidentals are not written.
    const isWritable = Math.abs(sounding.alter) <= 2;
    return { pitch, spelling: isWritable ? { step: STEP_NAMES[sounding.step] as 'C', alter: sounding.alter } : null };
  }

  private pageOf(
    node: XmlNode,
    notations: readonly XmlNode[],
    staff: 1 | 2,
    spelling: NoteOnPage['spelling'],
  ): NoteOnPage {
    const signs = notations.flatMap(({ children }) =>
      children.flatMap((own) => (['articulations', 'ornaments'].includes(own.name) ? own.children : [own])),
    );
    const marks = signs.flatMap((own) => MARKS_BY_NAME[own.name] ?? (isTremolo(own) ? 'tremolo' : []));
    if (signs.some((own) => own.name === 'tremolo' && !isTremolo(own))) lose(this.frame, 'tremolo of another kind');
    const head = NOTEHEADS.find((own) => own === node.textOf('notehead')) ?? null;
    return {
      voice: Math.max(1, Math.min(4, ((Math.round(node.numberOf('voice') ?? 1) - 1) % 4) + 1)),
      staff,
      spelling,
      staccato: signs.some(({ name }) => name === 'staccato'),
      marks: MARKS.filter((mark) => marks.includes(mark)),
      head: this.unpitched || head === 'normal' ? null : head,
      stem: null,
      dynamic: null,
      words: null,
      graceOf: null,
      slurTo: null,
      glissandoTo: null,
      pedalTo: null,
      tuplet: null,
      hairpin: null,
    };
  }

  private slur(notations: readonly XmlNode[], page: NoteOnPage): void {
    spansOf(notations, ['slur'], page, this.slurs, (from) => {
      from.slurTo = page;
    });
    spansOf(notations, ['glissando', 'slide'], page, this.slides, (from) => {
      from.glissandoTo = page;
    });
  }

  /** Puts signs on their chords, and makes loudness of them. */
  private withSigns(): ReadonlyMap<Raw, number> {
    this.notes.sort((a, b) => a.onset - b.onset || a.pitch - b.pitch);
    const onStaff = new Map([1, 2].map((staff) => [staff, this.notes.filter(({ page }) => page.staff === staff)]));
    /** The chord at a place, or the first after it, or the last of all; or the last before it. */
    const chordAt = (at: number, staff: number, side: 'from' | 'before'): Raw | undefined => {
      const own = onStaff.get(staff) ?? [];
      const notes = own.length > 0 ? own : this.notes;
      const next = firstIndexAtOrAfter(notes, at, onsetOf);
      if (side === 'before') return notes[next - 1];
      const first = notes[next] ?? notes[next - 1];
      // Of those that begin together, the one of the first voice.
      let best = first;
      for (let other = next + 1; other < next + MOST_TOGETHER && notes[other]?.onset === first?.onset; other += 1)
        if ((notes[other]?.page.voice ?? 1) < (best?.page.voice ?? 1)) best = notes[other];
      return best;
    };
    const levels: { readonly at: number; readonly velocity: number }[] = [];
    const swells: { readonly at: number; readonly to: number; readonly by: number }[] = [];
    for (const sign of this.signs) {
      const chord = chordAt(sign.at, sign.staff, 'from');
      if (!chord) continue;
      if (sign.kind === 'words') chord.page.words = sign.text;
      else if (sign.kind === 'dynamic') {
        chord.page.dynamic = sign.dynamic;
        const velocity = LOUDNESS[sign.dynamic];
        if (velocity !== undefined) levels.push({ at: chord.onset, velocity });
      } else if (sign.kind === 'pedal') {
        const last = this.notes[firstIndexAtOrAfter(this.notes, sign.to, onsetOf) - 1];
        if (last && last.onset > chord.onset) chord.page.pedalTo = last.page;
      } else {
        const last = chordAt(sign.to, sign.staff, 'before');
        if (!last || last.onset <= chord.onset) continue;
        chord.page.hairpin = { to: last.page, way: sign.way };
        swells.push({ at: chord.onset, to: last.onset, by: sign.way === 'louder' ? SWELL : -SWELL });
      }
    }
    levels.sort((a, b) => a.at - b.at);
    swells.sort((a, b) => a.at - b.at);
    const levelAt = (at: number) => levels[lastIndexAtOrBefore(levels, at, placeOf)]?.velocity ?? USUAL;
    return new Map(
      this.notes.map((note) => {
        const swell = swells[firstIndexAtOrAfter(swells, note.onset, placeOf) - 1];
        if (!swell || note.onset > swell.to) return [note, levelAt(note.onset)] as const;
        const from = levelAt(swell.at);
        const next = levels[firstIndexAtOrAfter(levels, swell.at + 1, placeOf)];
        const target = next && next.at <= swell.to + 4 * WRITTEN_PPQ ? next.velocity : from + swell.by;
        const share = (note.onset - swell.at) / Math.max(1, swell.to - swell.at);
        return [note, Math.max(1, Math.min(127, Math.round(from + (target - from) * share)))] as const;
      }),
    );
  }

  private loseWaiting(): void {
    for (const _ of this.waiting.splice(0)) lose(this.frame, 'grace note that no note follows');
  }

  done(): TrackOfScore {
    this.loseWaiting();
    const velocities = this.withSigns();
    // Some unpitched sounds are programs of their own (General MIDI 1); the others are those of the percussion channel.
    const pitched = !this.unpitched || isUnpitched(instrumentForProgram(this.program));
    const channel = pitched ? this.channel : PERCUSSION_CHANNEL;
    const events: TrackEvent[] =
      this.program === null ? [] : [{ kind: 'program', tick: ticks(0), channel, program: this.program }];
    return {
      name: keptText(this.head?.textOf('part-name') ?? '', LONGEST_PART_NAME),
      events,
      bars: this.bars.filter((own) => own.kind !== 'clef' || CLEF_NAMES.includes(own.clef)),
      notes: this.notes.map((raw) => ({
        pitch: raw.pitch,
        onset: ticks(raw.onset),
        duration: ticks(raw.duration),
        velocity: velocities.get(raw) ?? USUAL,
        channel,
        page: raw.page,
      })),
    };
  }
}
