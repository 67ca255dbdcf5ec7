/**
 * One opening of an arrangement in the worker: runs the plans, the checks and the page's MusicXML. Parts arrive once and
 * stay; only changed ones come again. Layers are made part by part, those asked for first.
 */
import {
  type Arrangement,
  type BarMend,
  barsOfPiece,
  buildScore,
  correctionsListed,
  countSentence,
  type ExportOptions,
  exportAbout,
  type Finding,
  type FoundBeats,
  findingsOf,
  hearsOthers,
  mapEdit,
  mendOfBar,
  NOTHING,
  type PageScene,
  type Part,
  type PartId,
  type PlanRun,
  pageEdit,
  pagePlaces,
  pageTurns,
  partsLookedAt,
  planOf,
  prepareExport,
  readabilityOf,
  readPitches,
  rerunPlan,
  rescaleTicks,
  runPlan,
  runSentence,
  type Score,
  type Search,
  type Selection,
  type SentenceScene,
  searchBeats,
  searchMisfit,
  stepEdit,
  stretchesShown,
  suggestedPlan,
  timingOffsets,
  WRITTEN_PPQ,
  type Written,
  type WrittenMaps,
  writeMusicXml,
  writtenMaps,
} from '@crispfold/core';
import { packNotes, unpackPlayed } from './packedNotes.js';
import type {
  AnswerTo,
  CallName,
  Calls,
  DeskRequest,
  ExportAsked,
  PackedLayer,
  PartNews,
  PictureId,
  Revision,
  SentenceAsked,
  Session,
} from './protocol.js';
import { NotYet, SessionOver } from './protocol.js';

/** Makes an SVG of MusicXML. */
export type Engrave = (musicXml: string) => Promise<string>;

/** A part's layer, and all that it was made from. */
interface Done {
  readonly part: Part;
  readonly key: string;
  readonly covers: Revision;
  readonly run: PlanRun;
}

/** What the checks noticed in a part, and what they looked at. */
interface Noticed {
  readonly layer: Written;
  readonly part: Part;
  readonly key: string;
  readonly findings: readonly Finding[];
}

/** So long the worker makes layers before it lets other requests in (milliseconds). */
const SLICE = 30;
/** …and works at what nobody waits for: an edit made meanwhile waits as long for its page (milliseconds). */
const BACKGROUND = 8;
/** …and listens for beats (milliseconds). */
const LISTENS = 100;
/** The checks wait so long for a page that is engraved, and no longer: its engraver may have failed (milliseconds). */
const PATIENCE = 2000;
/** So many changes, pretended in parts of up to so many notes, have the engine compiled before the first one is made… */
const WARM_RUNS = 12;
const WARM_NOTES = 4000;
/** …once nothing was asked for so long: who makes one change often makes the next at once (milliseconds). */
const WARM_REST = 700;

/** True where two lists say the same of the same notes. */
const sameFindings = (a: readonly Finding[], b: readonly Finding[]): boolean =>
  a.length === b.length &&
  a.every((finding, index) => finding.key === b[index]?.key && finding.reason === b[index]?.reason);

const optionsOf = ({ partIds, bars, concertPitch, order }: ExportAsked): ExportOptions => ({
  ...(partIds ? { partIds } : {}),
  ...(bars ? { firstBar: bars.first, lastBar: bars.last } : {}),
  concertPitch,
  order,
});

/** Lets other requests in, so that a newer one can take this one's place. */
const pause = (ms = 0) => new Promise((resolve) => setTimeout(resolve, ms));

const told = ({ packed, overridesKept, ...news }: PartNews, before: Part | undefined): Part => ({
  ...news,
  notes: packed ? unpackPlayed(packed) : (before?.notes ?? []),
  events: news.events ?? before?.events ?? [],
  ...(overridesKept ? { overrides: before?.overrides } : {}),
});

/** How many changes were pretended so far: what is compiled serves every arrangement. */
interface Warmth {
  runs: number;
}

/** See the file's head. */
export class DeskSession {
  private revision: Revision = 0;
  private readonly serials = new WeakMap<readonly object[], number>();
  private nextSerial = 1;
  private arrangement: Arrangement | null = null;
  private maps: WrittenMaps | null = null;
  /** {@link keyFor} each part, at this revision. */
  private readonly keys = new Map<PartId, string>();
  /** All notes of this revision, for layers that hang on them. */
  private allNotes: string | null = null;
  private readonly done = new Map<PartId, Done>();
  /** The layers that the screens have. */
  private readonly sent = new Map<PartId, Written>();
  private readonly own = new Map<PartId, Noticed>();
  private readonly comparing = new Map<PartId, Noticed>();
  /** The findings that the screens have. */
  private readonly found = new Map<PartId, { own: readonly Finding[]; shared: readonly Finding[] }>();

  private readonly pictures = new Map<string, { readonly musicXml: string; readonly picture: PictureId }>();
  private newestPicture: PictureId = 0;
  /** The page that was asked for last. */
  private asked: Calls['page']['asks'] | null = null;
  /** The search for beats that goes on, and what it is about. */
  private listening: { readonly about: string; readonly search: Search<FoundBeats | null> } | null = null;
  /** Ends when the picture that is being made is there; null where none is. */
  private engraving: Promise<unknown> | null = null;
  /** The picture that the checks waited for last. */
  private waitedFor: Promise<unknown> | null = null;

  constructor(
    readonly id: Session,
    private readonly engrave: Engrave,
    private readonly warmth: Warmth,
    private readonly rehearses: () => boolean,
  ) {}

  /** A number for each list of notes, the same for as long as the list is. */
  private serialOf(notes: readonly object[]): number {
    const known = this.serials.get(notes) ?? this.nextSerial++;
    this.serials.set(notes, known);
    return known;
  }

  private keyOfNotes(parts: readonly Part[]): string {
    return parts.map((part) => this.serialOf(part.notes)).join();
  }

  /** Carries out a request; throws as the protocol says. */
  async answer(request: DeskRequest): Promise<AnswerTo<CallName>> {
    if (request.call === 'tell') {
      this.tell(request);
      return this.covered({});
    }
    if (request.revision > this.revision) throw new NotYet('The worker has not been told of this change.');
    switch (request.call) {
      case 'layers':
        return this.covered(this.layers(request.asks));
      case 'findings':
        return this.covered({ parts: await this.findings() });
      case 'page':
        return this.covered(await this.page(request.asks));
      case 'score':
        return this.covered(this.score(request.asks));
      case 'reasons':
        return this.covered({ reasons: this.reasons(request.asks) });
      case 'correct':
        return this.covered({ made: pageEdit(this.pageScene(request.asks.selection), request.asks.wish) });
      case 'changeMap': {
        const { arrangement, reading } = this.read();
        const keys = reading.keys.map(({ start, fifths, minor }) => ({
          tick: rescaleTicks(start, WRITTEN_PPQ, arrangement.ppq),
          fifths,
          minor,
        }));
        return this.covered({ made: mapEdit(arrangement, request.asks.bar, request.asks.wish, keys) });
      }
      case 'corrections': {
        const { arrangement, maps } = this.told;
        const parts = arrangement.parts.flatMap((part) => {
          const list = part.overrides?.list.length ? correctionsListed(part, this.layerOf(part), maps) : [];
          return list.length > 0 ? [{ partId: part.id, list }] : [];
        });
        return this.covered({ parts });
      }
      case 'stepEdit': {
        const { selection, tried } = request.asks;
        return this.covered(stepEdit(this.told.arrangement, selection, tried.step, tried.parameters));
      }
      case 'stepCounts': {
        const { arrangement } = this.told;
        const { selection, tried } = request.asks;
        return this.covered({
          counts: tried.map(
            ({ step, parameters }) => [step, stepEdit(arrangement, selection, step, parameters).touched] as const,
          ),
        });
      }
      case 'sentenceCounts': {
        const lines = countSentence(this.sceneFor(request.asks), request.asks.sentence);
        return this.covered({
          lines: lines.map(({ parts, notices }) => ({ parts, notices })),
          picked: lines[request.asks.line]?.picked ?? NOTHING,
        });
      }
      case 'sentenceRun':
        return this.covered(runSentence(this.sceneFor(request.asks), request.asks.sentence));
      case 'timing': {
        const part = this.partById(request.asks.partId);
        const { arrangement, maps } = this.told;
        return this.covered(
          part ? timingOffsets(arrangement, part, maps, request.asks.only) : { played: [], written: [] },
        );
      }
      case 'beats': {
        return this.covered(this.beats(request.asks));
      }
      case 'readability': {
        const part = this.partById(request.asks.partId);
        const { arrangement, all, maps, reading } = this.read();
        return this.covered({ bars: part ? readabilityOf(arrangement, part, all, maps, reading) : [] });
      }
      case 'barMends': {
        const part = this.partById(request.asks.partId);
        return this.covered({ mends: part ? await this.mends(part, request.asks.bars) : [] });
      }
      case 'planTried':
        return this.covered(await this.tried(request.asks));
      case 'exportFile': {
        const { arrangement } = this.told;
        return this.covered({ bytes: prepareExport(arrangement, optionsOf(request.asks))(request.asks.kind) });
      }
      case 'exportAbout': {
        const { arrangement, all, maps, reading } = this.read();
        const score = buildScore(arrangement, all, maps, reading, optionsOf(request.asks));
        return this.covered({ about: exportAbout(score) });
      }
      default:
        return request satisfies never;
    }
  }

  private covered<Answer extends object>(answer: Answer): Answer & { session: Session; covers: Revision } {
    return { ...answer, session: this.id, covers: this.revision };
  }

  private get told(): { readonly arrangement: Arrangement; readonly maps: WrittenMaps } {
    const { arrangement, maps } = this;
    if (!arrangement || !maps) throw new NotYet('The worker has not been told of the arrangement.');
    return { arrangement, maps };
  }

  /** Conditions on findings see the layers that are there already. */
  private sceneFor({ selection, reach, onlyShown }: SentenceAsked): SentenceScene {
    const { arrangement } = this.told;
    return { arrangement, selection, reach, onlyShown, writtenOf: (part) => this.layerOf(part) };
  }

  private pageScene(selection: Selection): PageScene {
    const { arrangement, maps } = this.told;
    const writtenOf = (part: Part) => this.layerOf(part);
    const { barAt } = maps.meterMap;
    return { arrangement, selection, writtenOf, barAt, reading: () => this.read().reading };
  }

  /** All layers as they stand, and how their pitches are read. */
  private read() {
    const { arrangement, maps } = this.told;
    const all = arrangement.parts.map((part) => this.layerOf(part));
    return { arrangement, maps, all, reading: readPitches(arrangement, all) };
  }

  private partById(id: PartId): Part | undefined {
    return this.told.arrangement.parts.find((part) => part.id === id);
  }

  private tell({ revision, asks: { header, parts, order } }: DeskRequest<'tell'>): void {
    const known = new Map((this.arrangement?.parts ?? []).map((part) => [part.id, part]));
    for (const news of parts) known.set(news.id, told(news, known.get(news.id)));
    this.arrangement = { ...header, parts: order.flatMap((id) => known.get(id) ?? []) };
    this.maps = writtenMaps(this.arrangement);
    this.revision = revision;
    this.listening = null;
    this.keys.clear();
    this.allNotes = null;
    for (const map of [this.done, this.sent, this.own, this.comparing, this.found]) {
      for (const id of map.keys()) if (!order.includes(id)) map.delete(id);
    }
  }

  /** What besides its own part a layer depends on: all others where it was read by them. */
  private keyFor(part: Part, layer: Written): string {
    const { arrangement, maps } = this.told;
    let key = this.keys.get(part.id);
    if (key === undefined) {
      key = `${maps.key} ${this.keyOfNotes(partsLookedAt(part, arrangement.parts))}`;
      this.keys.set(part.id, key);
    }
    if (!hearsOthers(layer)) return key;
    // Each is read as its instrument is played.
    this.allNotes ??= `${this.keyOfNotes(arrangement.parts)} ${arrangement.parts.map(({ instrument }) => instrument)}`;
    return `${key} ${this.allNotes}`;
  }

  private isFresh(part: Part): boolean {
    const done = this.done.get(part.id);
    return done !== undefined && done.part === part && done.key === this.keyFor(part, done.run.written);
  }

  /** The layer of a part as it stands, made where it is not. */
  private layerOf(part: Part): Written {
    const { arrangement, maps } = this.told;
    const known = this.done.get(part.id);
    if (known && this.isFresh(part)) return known.run.written;
    const run = rerunPlan(part, arrangement.ppq, maps, planOf(part), known?.run);
    this.done.set(part.id, { part, key: this.keyFor(part, run.written), covers: this.revision, run });
    return run.written;
  }

  private layers({ first }: Calls['layers']['asks']): { layers: PackedLayer[]; left: number } {
    const { parts } = this.told.arrangement;
    const rank = new Map(first.map((id, index) => [id, index]));
    const inTurn = [...parts].sort((a, b) => (rank.get(a.id) ?? first.length) - (rank.get(b.id) ?? first.length));
    const until = performance.now() + SLICE;
    const layers: PackedLayer[] = [];
    let left = 0;
    for (const part of inTurn) {
      if (this.isFresh(part) && this.sent.get(part.id) === this.done.get(part.id)?.run.written) continue;
      if (layers.length > 0 && performance.now() > until) {
        left += 1;
        continue;
      }
      const layer = this.layerOf(part);
      if (this.sent.get(part.id) === layer) continue;
      this.sent.set(part.id, layer);
      layers.push(this.packed(part, layer));
    }
    return { layers, left };
  }

  private packed(part: Part, layer: Written): PackedLayer {
    return {
      partId: part.id,
      covers: this.done.get(part.id)?.covers ?? this.revision,
      packed: packNotes(layer.notes),
      touched: layer.steps.map(({ step, place, touched }) => ({ step, place, count: touched })),
      suggestion: part.plan ? '' : suggestedPlan(part).reason,
    };
  }

  /** Layers that are there, in the parts' order; those out of date serve until they are made anew. */
  private known(): Written[] {
    return this.told.arrangement.parts.flatMap((part) => this.done.get(part.id)?.run.written ?? []);
  }

  /** One picture is made at a time; where the arrangement changed while others were, none is. */
  private async page(asks: Calls['page']['asks']): Promise<Calls['page']['answers']> {
    const { revision } = this;
    this.asked = asks;
    const place = `${asks.firstBar}-${asks.lastBar} ${asks.partIds.join()}`;
    const score = this.scoreOfBars(asks);
    const musicXml = score ? writeMusicXml(score, 'dense') : '';
    const known = this.pictures.get(place);
    if (known?.picture === asks.shown && known.musicXml === musicXml)
      return { picture: asks.shown, svg: null, places: null };
    const before = this.engraving;
    const made = (async () => {
      await before;
      if (revision !== this.revision) return null;
      return musicXml ? this.engrave(musicXml) : '';
    })();
    const ended = made.catch(() => undefined);
    this.engraving = ended;
    void ended.then(() => {
      if (this.engraving === ended) this.engraving = null;
    });
    const svg = await made;
    if (svg === null) return { picture: asks.shown, svg, places: null };
    this.newestPicture += 1;
    this.pictures.set(place, { musicXml, picture: this.newestPicture });
    return { picture: this.newestPicture, svg, places: score && pagePlaces(score) };
  }

  private score({ partIds, lastBar, concertPitch, order }: Calls['score']['asks']): Calls['score']['answers'] {
    const { arrangement, all, maps, reading } = this.read();
    const longRests = partIds.length === 1;
    const options = { partIds, longRests, concertPitch, order, ...(lastBar === null ? {} : { lastBar }) };
    const score = buildScore(arrangement, all, maps, reading, options);
    return { musicXml: writeMusicXml(score, 'dense'), bars: barsOfPiece(all, maps).length, turns: pageTurns(score) };
  }

  private beats(asks: Calls['beats']['asks']): Calls['beats']['answers'] {
    const about = JSON.stringify(asks);
    if (this.listening?.about !== about) {
      const { partIds, attacks } = asks;
      const heard = { ...(partIds ? { partIds: new Set(partIds) } : {}), ...(attacks ? { attacks } : {}) };
      this.listening = { about, search: searchBeats(this.told.arrangement, heard) };
    }
    const until = performance.now() + LISTENS;
    for (;;) {
      const { done, value } = this.listening.search.next();
      if (done) {
        this.listening = null;
        return { done: 1, found: value };
      }
      if (performance.now() > until) return { done: value, found: null };
    }
  }

  /** Bar by bar, other requests in between; what was found so far, where a newer telling came. */
  private async mends(part: Part, bars: readonly number[]): Promise<readonly BarMend[]> {
    const { revision } = this;
    const { arrangement, all, maps, reading } = this.read();
    const mends: BarMend[] = [];
    for (const bar of bars) {
      await pause();
      if (revision !== this.revision) break;
      const mend = mendOfBar(arrangement, part, all, maps, reading, bar);
      if (mend) mends.push(mend);
    }
    return mends;
  }

  private async tried({ partId, plan, firstBar, lastBar }: Calls['planTried']['asks']) {
    const { arrangement, maps } = this.told;
    const known = this.partById(partId);
    if (!known) return { svg: '', notes: 0, bars: [] };
    const part = { ...known, plan };
    const layer = runPlan(part, arrangement.ppq, maps, plan);
    const all = arrangement.parts.map((own) => (own.id === partId ? layer : this.layerOf(own)));
    const reading = readPitches(arrangement, all);
    const options = { partIds: [partId], firstBar, lastBar };
    const score = buildScore(arrangement, all, maps, reading, options);
    const svg = score.bars.length > 0 ? await this.engrave(writeMusicXml(score, 'dense')) : '';
    return { svg, notes: layer.notes.length, bars: readabilityOf(arrangement, part, all, maps, reading) };
  }

  private scoreOfBars({ partIds, firstBar, lastBar }: Calls['page']['asks'], other?: Written): Score | null {
    const { arrangement, maps } = this.told;
    const layerOf = (part: Part) => (part.id === other?.partId ? other : this.layerOf(part));
    const shown = arrangement.parts.filter((part) => partIds.includes(part.id)).map(layerOf);
    const all = this.known().map((layer) => (layer.partId === other?.partId ? other : layer));
    // The bar before is read too: what it leaves altered is recalled in the first.
    const bars = maps.bars.slice(Math.max(0, firstBar - 2), lastBar);
    const [first, last] = [bars[0], bars[bars.length - 1]];
    if (!first || !last) return null;
    const reading = readPitches(arrangement, all, stretchesShown(shown, first.start, last.end), shown);
    return buildScore(arrangement, all, maps, reading, { partIds, firstBar, lastBar });
  }

  private reasons({ partId, noteId }: Calls['reasons']['asks']) {
    const part = this.partById(partId);
    const steps = part ? this.layerOf(part).steps : [];
    return steps.flatMap(({ step, place, changes, vetoed }) => [
      ...changes.filter((c) => c.noteId === noteId).map((change) => ({ step, place, change, vetoed: false })),
      ...vetoed.filter((c) => c.noteId === noteId).map((change) => ({ step, place, change, vetoed: true })),
    ]);
  }

  /** Part by part, other requests in between; null where a newer telling came. */
  private async findings(): Promise<AnswerTo<'findings'>['parts']> {
    const { revision } = this;
    const { arrangement, maps } = this.told;
    // What comparing depends on: the notes of all parts, their names in the reasons, and the tempo.
    const others = JSON.stringify([
      maps.key,
      this.keyOfNotes(arrangement.parts),
      arrangement.parts.map(({ name }) => name),
    ]);
    const fresh: { partId: PartId; findings: readonly Finding[] }[] = [];
    if (!(await this.pictured(revision)) || !(await this.tempoRead(arrangement))) return null;
    for (const part of arrangement.parts) {
      const layer = this.layerOf(part);
      const own = this.own.get(part.id);
      const compared = this.comparing.get(part.id);
      const ownKnown = own?.layer === layer && own.part === part;
      const comparedKnown = compared?.part.notes === part.notes && compared.key === others;
      if (!ownKnown || !comparedKnown) {
        await pause();
        if (!(await this.pictured(revision))) return null;
      }
      const noticed = ownKnown ? own.findings : findingsOf(arrangement, part, layer, 'own');
      const shared = comparedKnown ? compared.findings : findingsOf(arrangement, part, layer, 'comparing');
      this.own.set(part.id, { layer, part, key: '', findings: noticed });
      this.comparing.set(part.id, { layer, part, key: others, findings: shared });
      const before = this.found.get(part.id);
      if (before?.own === noticed && sameFindings(before.shared, shared)) continue;
      this.found.set(part.id, { own: noticed, shared });
      fresh.push({ partId: part.id, findings: [...noticed, ...shared] });
    }
    void this.warmUp();
    return fresh;
  }

  /** The page comes first: the checks would take the processor from who engraves it. False where a newer telling came. */
  private async pictured(revision: Revision): Promise<boolean> {
    const { engraving } = this;
    if (engraving && engraving !== this.waitedFor) {
      const enough = new Promise<void>((resolve) => setTimeout(resolve, PATIENCE));
      await Promise.race([engraving, enough]);
      this.waitedFor = engraving;
    }
    return revision === this.revision;
  }

  /** Has it known whether the tempo fits, which can take a while; false where a newer telling came. */
  private async tempoRead(arrangement: Arrangement): Promise<boolean> {
    const { revision } = this;
    const search = searchMisfit(arrangement);
    for (let until = performance.now() + BACKGROUND; !search.next().done; ) {
      if (performance.now() <= until) continue;
      await pause();
      if (revision !== this.revision) return false;
      until = performance.now() + BACKGROUND;
    }
    return true;
  }

  /** Uses the time in which nothing is asked: code that has run a few times runs several times faster. */
  private async warmUp(): Promise<void> {
    const { revision } = this;
    if (this.warmth.runs >= WARM_RUNS || !this.rehearses()) return;
    await pause(WARM_REST);
    for (; this.warmth.runs < WARM_RUNS; this.warmth.runs += 1) {
      await pause();
      if (revision !== this.revision) return;
      await this.pretendEdit(this.warmth.runs);
    }
  }

  /** Works out, and forgets, what a change of one note would come to: its layer, its page and the picture of it. */
  private async pretendEdit(turn: number): Promise<void> {
    const { arrangement, maps } = this.told;
    const part = arrangement.parts.find(({ id }) => id === this.asked?.partIds[0]);
    if (!part || !this.asked || part.notes.length > WARM_NOTES) return;
    const at = turn % part.notes.length;
    const notes = part.notes.map((note, index) => (index === at ? { ...note, pitch: note.pitch ^ 1 } : note));
    const layer = rerunPlan(
      { ...part, notes },
      arrangement.ppq,
      maps,
      planOf(part),
      this.done.get(part.id)?.run,
    ).written;
    const score = this.scoreOfBars(this.asked, layer);
    if (score) await this.engrave(writeMusicXml(score, 'dense')).catch(() => undefined);
  }
}

/** Hands requests to their session; a telling of a newer session ends the one before. Pretends changes where it `rehearses`. */
export const createDesk = (engrave: Engrave, rehearses = () => true) => {
  let current: DeskSession | null = null;
  const warmth: Warmth = { runs: 0 };
  return async (request: DeskRequest): Promise<AnswerTo<CallName>> => {
    if (request.call === 'tell' && (!current || request.session > current.id))
      current = new DeskSession(request.session, engrave, warmth, rehearses);
    if (!current || current.id !== request.session) throw new SessionOver('Another arrangement was opened.');
    const session = current;
    const answer = await session.answer(request);
    if (session !== current) throw new SessionOver('Another arrangement was opened.');
    return answer;
  };
};
