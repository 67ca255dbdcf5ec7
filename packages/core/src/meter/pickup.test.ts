import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { MELODIES } from '../demo/remembered/melodies.js';
import { PIECES } from '../demo/remembered/pieces.js';
import { type RememberedScore, rememberedScore } from '../demo/remembered/rememberedScore.js';
import { changeField, readFieldEntry } from '../edits/noteFields.js';
import { hiddenPickup } from '../findings/barLines.js';
import { importMidi } from '../midi/importMidi.js';
import { writePlayedMidi } from '../midi/writeMidi.js';
import type { Arrangement, Part } from '../model/arrangement.js';
import { createChance } from '../model/chance.js';
import { applyEdit, invertEdit } from '../model/edit.js';
import { selectionOf } from '../model/selection.js';
import { writeMusicXml } from '../musicxml/writeMusicXml.js';
import { buildScore } from '../notation/buildScore.js';
import { readPitches } from '../notation/pitchReading.js';
import { withPassageGrid } from '../plan/plan.js';
import { planOf } from '../plan/readyPlans.js';
import { runPlanOnAll } from '../plan/runPlan.js';
import { pageBegins, writtenMaps } from '../plan/writtenMaps.js';
import { cases } from '../testing/cases.js';
import { arrangementWith, note, partWith } from '../testing/kit.js';
import {
  barPosition,
  beatsOfBar,
  createMeterMap,
  type MeterChange,
  pickupOf,
  shownMeters,
  ticksPerBar,
} from '../time/meterMap.js';
import { ticks, WRITTEN_PPQ } from '../time/units.js';
import { barLinesEdit, pickupEdit, withBarLinesMoved, withPickupFound } from './pickup.js';

const meter = (numerator: number, denominator: number, tick = 0, pickup?: number): MeterChange => ({
  tick: ticks(tick),
  numerator,
  denominator,
  ...(pickup === undefined ? {} : { pickup: ticks(pickup) }),
});

/** Quarters from `first` on, each 440 of 480 ticks. */
const quartersFrom = (first: number, count: number) =>
  Array.from({ length: count }, (_, index) => note(60 + (index % 5), first + index * 480, 440));

const pieceFrom = (first: number, meters: readonly MeterChange[], count = 17): Arrangement =>
  arrangementWith([partWith(quartersFrom(first, count))], { meters });

const scoreOf = (arrangement: Arrangement) => {
  const maps = writtenMaps(arrangement);
  const layers = runPlanOnAll(arrangement);
  return buildScore(arrangement, layers, maps, readPitches(arrangement, layers));
};

describe('bars of a piece that begins with a pickup', () => {
  const padded = createMeterMap([meter(4, 4, 0, 1440)], 480);
  const short = createMeterMap([meter(1, 4, 0, 0), meter(4, 4, 480)], 480);

  it('are numbered from 0, and found by that number', () => {
    expect(padded.barsTo(5000).map(({ number, index, start }) => [number, index, start])).toEqual([
      [0, 0, 0],
      [1, 1, 1920],
      [2, 2, 3840],
    ]);
    expect(short.barsTo(3000).map(({ number, start }) => [number, start])).toEqual([
      [0, 0],
      [1, 480],
      [2, 2400],
    ]);
    expect(short.barNumbered(1)).toMatchObject({ number: 1, start: 480, end: 2400 });
    expect(short.barNumbered(0)).toMatchObject({ number: 0, start: 0, end: 480 });
    expect(padded.barNumbered(2)).toMatchObject({ number: 2, start: 3840 });
  });

  it('give a short one the last beats of the meter after it', () => {
    expect(short.barAt(100)).toMatchObject({ meter: { numerator: 4, denominator: 4 }, short: true, pickup: true });
    expect(beatsOfBar(short.barAt(0), 480)).toEqual([{ start: 0, length: 480, compound: false, number: 4 }]);
    expect(barPosition(short, 480, 100)).toEqual({ bar: 0, beat: 4, tick: 100 });
    expect(barPosition(padded, 480, 1500)).toEqual({ bar: 0, beat: 4, tick: 60 });
  });

  it('cut the first of those beats where the pickup begins within it', () => {
    const map = createMeterMap([meter(3, 8, 0, 0), meter(4, 4, 720)], 480);
    expect(beatsOfBar(map.barAt(0), 480)).toEqual([
      { start: 0, length: 240, compound: false, number: 3, cut: true },
      { start: 240, length: 480, compound: false, number: 4 },
    ]);
  });

  it('begin on the page where the music does', () => {
    const page = createMeterMap([meter(4, 4, 0, 1440)], 480, 1440);
    expect(page.barAt(0)).toMatchObject({ number: 0, start: 1440, end: 1920, short: true });
    expect(page.barAt(2000)).toMatchObject({ number: 1, start: 1920 });
  });

  it('are of one meter as a person reads it', () => {
    expect(shownMeters([meter(1, 4, 0, 0), meter(4, 4, 480)])).toEqual([meter(4, 4, 0)]);
    expect(shownMeters([meter(4, 4, 0, 1440), meter(3, 4, 1920)])).toHaveLength(2);
    expect(shownMeters([meter(1, 4), meter(4, 4, 480)])).toHaveLength(2);
  });
});

describe('a pickup in what comes in', () => {
  const found = (arrangement: Arrangement) => pickupOf(withPickupFound(arrangement));

  it('is a first bar that is silent for half of it or more', () => {
    expect(found(pieceFrom(1440, [meter(4, 4)]))).toBe(1440);
    expect(found(pieceFrom(960, [meter(4, 4)]))).toBe(960);
    expect(found(pieceFrom(480, [meter(4, 4)]))).toBeNull();
    expect(found(pieceFrom(0, [meter(4, 4)]))).toBeNull();
    // An empty bar, then music: the first bar is a rest.
    expect(found(pieceFrom(1920, [meter(4, 4)]))).toBeNull();
  });

  it('begins on the place that a human start stands for', () => {
    expect(found(pieceFrom(1428, [meter(4, 4)]))).toBe(1440);
    expect(found(pieceFrom(1455, [meter(4, 4)]))).toBe(1440);
    expect(found(pieceFrom(1795, [meter(4, 4)]))).toBe(1800);
    expect(found(pieceFrom(1200 - 14, [meter(6, 8)]))).toBe(1200);
  });

  it('is a first meter of one bar, shorter than those after it', () => {
    expect(found(pieceFrom(0, [meter(1, 4), meter(4, 4, 480)]))).toBe(0);
    expect(found(pieceFrom(0, [meter(4, 4), meter(4, 4, 480)]))).toBe(0);
    expect(found(pieceFrom(0, [meter(4, 4), meter(3, 4, 1920)]))).toBeNull();
    expect(found(pieceFrom(0, [meter(2, 4), meter(4, 4, 1920)]))).toBeNull();
    // So short a bar cannot be written.
    expect(found(pieceFrom(0, [meter(4, 4), meter(4, 4, 7)]))).toBeNull();
  });

  it('comes through a MIDI file, said without a warning, and out again', () => {
    for (const meters of [[meter(1, 4), meter(3, 4, 480)], [meter(3, 4), meter(3, 4, 480)], [meter(3, 4)]]) {
      const first = meters.length === 1 ? 960 : 0;
      const read = importMidi([{ name: 'a.mid', bytes: writePlayedMidi(pieceFrom(first, meters)) }]);
      if (!read.ok) throw new Error(read.problem.message);
      expect(pickupOf(read.value.arrangement.meters)).toBe(first);
      expect(read.value.warnings).toEqual([]);
      const again = importMidi([{ name: 'a.mid', bytes: writePlayedMidi(read.value.arrangement) }]);
      expect(again.ok && again.value.arrangement.meters).toEqual(read.value.arrangement.meters);
    }
  });
});

describe('the page of a piece with a pickup', () => {
  it('begins with it, under number 0, and its last bar completes it', () => {
    // One quarter before the bar, three bars, three quarters: 16 in all.
    const score = scoreOf(pieceFrom(1440, [meter(4, 4, 0, 1440)], 16));
    expect(score.bars.map(({ number, pickup }) => [number, pickup])).toEqual([
      [0, true],
      [1, false],
      [2, false],
      [3, false],
      [4, false],
    ]);
    const lengths = score.parts[0]?.bars.map(({ length }) => length / WRITTEN_PPQ);
    expect(lengths).toEqual([1, 4, 4, 4, 3]);
    const xml = writeMusicXml(score);
    expect(xml).toContain('<measure number="0" implicit="yes" id="b0">');
    expect(xml.match(/implicit/g)).toHaveLength(1);
    expect(xml).toContain('<beats>4</beats>');
    // The tempo at tick 0 stands over its first note.
    expect(xml).toContain('<per-minute>125</per-minute>');
  });

  it('fills a last bar that goes on past the place', () => {
    const score = scoreOf(pieceFrom(1440, [meter(4, 4, 0, 1440)], 17));
    expect(score.parts[0]?.bars.map(({ length }) => length / WRITTEN_PPQ)).toEqual([1, 4, 4, 4, 4]);
  });

  it('is the same for a short first meter', () => {
    const score = scoreOf(pieceFrom(0, [meter(1, 4, 0, 0), meter(4, 4, 480)], 16));
    expect(score.parts[0]?.bars.map(({ number, length }) => [number, length / WRITTEN_PPQ])).toEqual([
      [0, 1],
      [1, 4],
      [2, 4],
      [3, 4],
      [4, 3],
    ]);
    expect(score.bars.filter(({ newMeter }) => newMeter)).toHaveLength(1);
    expect(score.bars[0]?.meter).toMatchObject({ numerator: 4, denominator: 4 });
  });

  it('groups its notes as the end of a bar', () => {
    // Three eighths before 4/4: the first alone, then a beam.
    const eighths = [0, 240, 480].map((tick) => note(60, tick, 230));
    const arrangement = arrangementWith([partWith([...eighths, ...quartersFrom(720, 8)])], {
      meters: [meter(3, 8, 0, 0), meter(4, 4, 720)],
    });
    const events = scoreOf(arrangement).parts[0]?.bars[0]?.events ?? [];
    expect(events.map(({ start, length }) => [start / 5040, length / 5040])).toEqual([
      [0, 1],
      [1, 1],
      [2, 1],
    ]);
    expect(events.map(({ beams }) => beams)).toEqual([['begin'], ['continue'], ['end']].map((x) => x as never));
  });

  it('shows the whole bar once a note stands before the pickup', () => {
    const arrangement = pieceFrom(1440, [meter(4, 4, 0, 1440)]);
    const early = { ...arrangement, parts: [partWith([note(60, 0, 400), ...quartersFrom(1440, 17)])] };
    expect(pageBegins(arrangement)).toBe(1440);
    expect(pageBegins(early)).toBe(0);
    expect(scoreOf(early).parts[0]?.bars[0]?.length).toBe(4 * WRITTEN_PPQ);
    const muted = { ...early, parts: [partWith([note(60, 0, 400, { muted: true }), ...quartersFrom(1440, 17)])] };
    expect(pageBegins(muted)).toBe(1440);
  });

  it('adds up in any meter, with any pickup and any notes', () => {
    fc.assert(
      fc.property(
        fc.constantFrom([4, 4], [3, 4], [6, 8], [5, 8], [2, 2], [9, 16]),
        fc.integer({ min: 1, max: 2000 }),
        fc.array(fc.record({ at: fc.integer({ min: 0, max: 8000 }), length: fc.integer({ min: 1, max: 3000 }) }), {
          minLength: 1,
          maxLength: 20,
        }),
        fc.boolean(),
        ([numerator, denominator], length, drafts, isShort) => {
          const whole = ticksPerBar({ numerator: numerator as number, denominator: denominator as number }, 480);
          const long = Math.min(length, whole - 1);
          const first = isShort ? 0 : whole - long;
          const meters = isShort
            ? [
                meter(numerator as number, denominator as number, 0, 0),
                meter(numerator as number, denominator as number, long),
              ]
            : [meter(numerator as number, denominator as number, 0, first)];
          const notes = drafts.map((draft) => note(60, first + draft.at, draft.length));
          const score = scoreOf(arrangementWith([partWith(notes)], { meters }));
          for (const bar of score.parts[0]?.bars ?? []) {
            let at = 0;
            for (const event of bar.events) {
              expect(event.start).toBeCloseTo(at, 6);
              at += event.length;
            }
            expect(at).toBeCloseTo(bar.length, 6);
          }
        },
      ),
      cases(200),
    );
  });
});

describe('counting the first bar otherwise', () => {
  const passages = (arrangement: Arrangement) =>
    planOf(arrangement.parts[0] as Part).passages.map(({ firstBar, lastBar }) => [firstBar, lastBar]);

  it('makes a padded bar a pickup and back, and what is kept by bar numbers stays with its bars', () => {
    const plain = pieceFrom(1440, [meter(4, 4)]);
    const [part] = plain.parts as [Part];
    const arrangement: Arrangement = {
      ...plain,
      parts: [
        {
          ...part,
          plan: withPassageGrid(planOf(part), 3, 4, 1 / 32),
          overrides: { version: 1, list: [{ kind: 'systemBreak', bar: 3 }] },
        },
      ],
    };
    const edit = pickupEdit(arrangement);
    if (!edit) throw new Error('no edit');
    const after = applyEdit(arrangement, edit);
    expect(pickupOf(after.meters)).toBe(1440);
    expect(passages(after)).toEqual([[2, 3]]);
    expect(after.parts[0]?.overrides?.list).toEqual([{ kind: 'systemBreak', bar: 2 }]);
    expect(applyEdit(after, invertEdit(edit))).toEqual(arrangement);
    const back = pickupEdit(after);
    if (!back) throw new Error('no way back');
    expect(applyEdit(after, back)).toEqual(arrangement);
  });

  it('cannot be done where music begins with the bar', () => {
    expect(pickupEdit(pieceFrom(0, [meter(4, 4)]))).toBeNull();
  });

  it('leaves bar 0 to be typed as a place where there is one', () => {
    const type = (arrangement: Arrangement, typed: string) => {
      const entry = readFieldEntry('start', typed);
      if (!entry.ok) throw new Error(entry.problem.message);
      const id = arrangement.parts[0]?.notes[0]?.id as number;
      const changed = changeField(arrangement, selectionOf(1, [id]), 'start', entry.value);
      if (!changed.ok || !changed.value.edit) return null;
      return applyEdit(arrangement, changed.value.edit).parts[0]?.notes.find((own) => own.id === id)?.onset;
    };
    const short = pieceFrom(480, [meter(1, 4, 0, 0), meter(4, 4, 480)]);
    // A bar alone means its first beat, whatever that beat's number is.
    expect(type(short, '0')).toBe(0);
    expect(type(short, '0.4.60')).toBe(60);
    expect(type(short, '0.1')).toBeNull();
    expect(type(pieceFrom(480, [meter(4, 4)]), '0')).toBeNull();
  });
});

describe('moved bar lines', () => {
  it('make what begins the piece a bar of its own, of a meter that files can say', () => {
    expect(withBarLinesMoved(pieceFrom(0, [meter(4, 4)]), 480)).toEqual([meter(1, 4, 0, 0), meter(4, 4, 480)]);
    expect(withBarLinesMoved(pieceFrom(0, [meter(6, 8)]), 240)).toEqual([meter(1, 8, 0, 0), meter(6, 8, 240)]);
    expect(withBarLinesMoved(pieceFrom(0, [meter(4, 4)]), 1920)).toBeNull();
    expect(withBarLinesMoved(pieceFrom(0, [meter(4, 4)]), 7)).toBeNull();
    expect(withBarLinesMoved(pieceFrom(0, [meter(4, 4), meter(3, 4, 3840)]), 480)).toBeNull();
    expect(barLinesEdit(pieceFrom(0, [meter(4, 4)]), 7)).toBeNull();
  });
});

describe('a pickup that hides in bar 1', () => {
  /** Played with 14 ms of spread at 120, let go early; accents say nothing. */
  const played = ({ title, notes, meter: own }: RememberedScore, from: number, seed: number): Arrangement => {
    const chance = createChance(seed);
    const tick = (units: number) => (units * 480) / WRITTEN_PPQ;
    const drafts = notes
      .filter(({ onset }) => onset >= from)
      .map(({ pitch, onset, duration }) =>
        note(
          pitch,
          Math.max(0, Math.round(tick(onset - from) + chance.normal() * 14)),
          Math.max(20, Math.round(tick(duration) * chance.between(0.8, 1))),
          { velocity: Math.round(75 + 9 * chance.normal()) },
        ),
      )
      .sort((a, b) => a.onset - b.onset);
    return arrangementWith([partWith(drafts, { name: title })], { meters: [meter(own.numerator, own.denominator)] });
  };
  const scores = [...MELODIES, ...PIECES.map(({ tune }) => tune)].map(rememberedScore);

  it('is found in four of five remembered tunes that have one, and never elsewhere', () => {
    const offered = (score: RememberedScore, from: number) => hiddenPickup(played(score, from, 77))?.length ?? 0;
    const pickups = scores.filter(({ pickup }) => pickup > 0);
    const right = pickups.filter((score) => offered(score, 0) === (score.pickup * 480) / WRITTEN_PPQ);
    expect(pickups.length).toBeGreaterThan(20);
    expect(right.length / pickups.length).toBeGreaterThanOrEqual(0.8);
    // Without one, or with the pickup left out.
    expect(scores.filter((score) => offered(score, score.pickup) !== 0).map(({ title }) => title)).toEqual([]);
  });

  it('is no drum fill: drums and tune have to agree, and drums alone tell nothing', () => {
    const tune = scores.find(({ title }) => title === 'Auld Lang Syne') as RememberedScore;
    const arrangement = played(tune, 0, 77);
    const hits = (first: number) =>
      Array.from({ length: 60 }, (_, k) =>
        note(k % 4 === 0 ? 36 : 42, first + k * 480, 100, { velocity: k % 4 === 0 ? 110 : 60 }),
      );
    const drums = (first: number) => partWith(hits(first), { id: 2, instrument: 'percussion', channel: 9 });
    const [part] = arrangement.parts as [Part];
    // The kick falls on the tune’s own bars.
    expect(hiddenPickup({ ...arrangement, parts: [part, drums(480)] })?.length).toBe(480);
    expect(hiddenPickup({ ...arrangement, parts: [drums(0)] })).toBeNull();
    // A tune that begins with its bar, under drums that stress the second beat.
    const plain = played(scores.find(({ title }) => title === 'Ode to Joy') as RememberedScore, 0, 77);
    const loud = { ...drums(480), notes: [...hits(480), ...hits(480).map((hit) => ({ ...hit, pitch: 38 }))] };
    expect(hiddenPickup({ ...plain, parts: [...plain.parts, loud] })).toBeNull();
  });

  it('is offered for none of ten real pieces that begin with their bar (planetblupi-music-midi, Debian)', () => {
    const offered = Array.from({ length: 10 }, (_, number) => {
      const name = `music00${number}.mid`;
      const read = importMidi([{ name, bytes: new Uint8Array(readFileSync(`/usr/share/planetblupi/music/${name}`)) }]);
      if (!read.ok) throw new Error(read.problem.message);
      return hiddenPickup(read.value.arrangement) && name;
    });
    expect(offered.filter(Boolean)).toEqual([]);
  });

  it('is not looked for where the file has one, or begins later, or changes its meter', () => {
    const tune = scores.find(({ title }) => title === 'Auld Lang Syne') as RememberedScore;
    const arrangement = played(tune, 0, 77);
    expect(hiddenPickup(arrangement)?.reason).toBe(
      'the piece seems to begin with a pickup of a quarter: with the bar lines moved, the longer notes begin there, and the last note then has its usual place',
    );
    expect(hiddenPickup({ ...arrangement, meters: [meter(4, 4, 0, 0)] })).toBeNull();
    expect(hiddenPickup({ ...arrangement, meters: [meter(4, 4), meter(3, 4, 19200)] })).toBeNull();
    const later = arrangement.parts.map((part) => ({
      ...part,
      notes: part.notes.map((own) => ({ ...own, onset: ticks(own.onset + 480) })),
    }));
    expect(hiddenPickup({ ...arrangement, parts: later })).toBeNull();
  });
});
