import { describe, expect, it } from 'vitest';
import { demoArrangement } from '../demo/demo.js';
import { mendEdit } from '../edits/mendEdit.js';
import type { Arrangement, Part } from '../model/arrangement.js';
import { applyEdit } from '../model/edit.js';
import { writeMusicXml } from '../musicxml/writeMusicXml.js';
import { buildScore } from '../notation/buildScore.js';
import { readPitches } from '../notation/pitchReading.js';
import { planOf } from '../plan/readyPlans.js';
import { runPlan } from '../plan/runPlan.js';
import { writtenMaps } from '../plan/writtenMaps.js';
import type { StepNote } from '../reading/stepNote.js';
import { arrangementWith, note, partWith, pedal } from '../testing/kit.js';
import { ticks } from '../time/units.js';
import { countFindings, FINDING_KINDS, findingsOf } from './registry.js';

const findingsIn = (arrangement: Arrangement, index = 0) => {
  const part = arrangement.parts[index] as Part;
  return findingsOf(arrangement, part, runPlan(part, arrangement.ppq, writtenMaps(arrangement)));
};
const noticed = (notes: StepNote[], more: Partial<Part> = {}) =>
  findingsIn(arrangementWith([partWith(notes, more)])).map((finding) => finding.kind);
/** A plain line of quarters, so that a part is more than its fault. At 480 PPQ and a tick a millisecond. */
const line = (count = 16, velocity = 80) =>
  Array.from({ length: count }, (_, k) => note(60 + (k % 5), 1920 + k * 480, 440, { velocity }));

describe('each kind is noticed where it is', () => {
  const cases: [string, StepNote[], Partial<Part>?][] = [
    ['doubles', [...line(), note(72, 480, 440), note(72, 490, 300)]],
    ['hiddenNotes', [...line(), note(72, 480, 440), note(72, 600, 50)]],
    ['specks', [...line(), note(73, 480, 20)]],
    ['zeroLength', [...line(), note(73, 480, 0)]],
    ['samePitchOverlap', [...line(), note(72, 0, 480), note(72, 400, 300)]],
    ['twoAtOnce', [...line(), note(72, 0, 900), note(74, 480, 400)]],
    ['hungNotes', [...line(), note(50, 1920, 480 * 14)], { instrument: 'piano' }],
    ['earlyStart', [...line(), note(72, 1920 * 9 - 60, 480)]],
    ['outOfRange', [...line(), note(30, 480, 440)]],
    [
      'widerThanHand',
      [0, 1, 2, 3].flatMap((k) => [36, 48, 64, k === 2 ? 90 : 72].map((pitch) => note(pitch, k * 960, 900))),
      { instrument: 'piano' },
    ],
    ['velocityOut', [...line(), note(64, 1920 + 16 * 480, 440, { velocity: 127 }), note(64, 1920 + 17 * 480, 440)]],
    ['unevenEnds', [...line(), note(64, 0, 900), note(67, 5, 300)], { instrument: 'piano' }],
    ['pedalNeverLifts', line(), { events: pedal(2000) }],
    ['wideRoll', [...line(), note(60, 0, 900), note(64, 60, 840), note(67, 120, 780)], { instrument: 'harp' }],
  ];
  it.each(cases)('%s', (kind, notes, more) => {
    expect(noticed(notes, more)).toContain(kind);
    expect(noticed(line(), more?.events ? {} : more)).not.toContain(kind);
  });

  it('farOffGrid: one start far later than the player’s others', () => {
    const tempos = [{ tick: ticks(0), microsecondsPerQuarter: 1_000_000 }];
    const steady = Array.from({ length: 40 }, (_, k) => note(60 + (k % 7), k * 480 + ((k * 7) % 21), 440));
    const late = steady.map((n, k) => (k === 20 ? { ...n, onset: ticks(k * 480 + 38) } : n));
    const kinds = (notes: StepNote[]) => findingsIn(arrangementWith([partWith(notes)], { tempos })).map((f) => f.kind);
    expect(kinds(steady)).not.toContain('farOffGrid');
    expect(kinds(late)).toContain('farOffGrid');
  });

  it('eitherWay: a start half-way between two lines of a chosen grid', () => {
    const plan = planOf(partWith(line()));
    const eighths = {
      ...plan,
      steps: plan.steps.map((s) =>
        s.step === 'quantizeStarts' ? { ...s, parameters: { ...s.parameters, grid: 1 / 8 } } : s,
      ),
    };
    expect(noticed([...line(), note(72, 118, 300)], { plan: eighths })).toContain('eitherWay');
  });

  it('doubtfulGrid: a start that may be a triplet or a sixteenth', () => {
    const steady = Array.from({ length: 24 }, (_, k) => note(60, k * 480 + ((k * 13) % 31), 300));
    const between = [note(67, 24 * 480 + 15, 120), note(69, 24 * 480 + 152, 130)];
    const [found] = findingsIn(arrangementWith([partWith([...steady, ...between])])).filter(
      (f) => f.kind === 'doubtfulGrid',
    );
    expect(found?.reason).toBe('bar 7 can be read in more than one way');
    expect(noticed(steady)).not.toContain('doubtfulGrid');
  });

  it('sameInTwoParts: a track that was recorded twice, but not a unison', () => {
    const parts = [partWith(line()), partWith([...line(), note(90, 0, 100)], { id: 2, name: 'Copy' })];
    const kinds = (index: number) => findingsIn(arrangementWith(parts), index).map((f) => f.kind);
    expect(kinds(1).filter((kind) => kind === 'sameInTwoParts')).toHaveLength(16);
    expect(kinds(0)).not.toContain('sameInTwoParts');
    const unison = line().map((n) => ({ ...n, onset: (n.onset + 12) as typeof n.onset }));
    const played = arrangementWith([partWith(line()), partWith(unison, { id: 2 })]);
    expect(findingsIn(played, 1).map((f) => f.kind)).not.toContain('sameInTwoParts');
  });

  it('swing: eighths long and short throughout', () => {
    const swung = Array.from({ length: 16 }, (_, k) => [
      note(60, k * 480 + (k % 3), 300),
      note(62, k * 480 + 322 - (k % 4), 140),
    ]);
    const arrangement = arrangementWith([partWith(swung.flat())]);
    const [found] = findingsIn(arrangement).filter((f) => f.kind === 'swing');
    expect(found?.reason).toMatch(/^16 beats/);
    const straight = applyEdit(arrangement, mendEdit(arrangement, found ? [found] : []) as never);
    const part = straight.parts[0] as Part;
    expect(findingsIn(straight).map((f) => f.kind)).not.toContain('swing');
    const onsets = runPlan(part, 480, writtenMaps(straight)).notes.map((n) => n.onset % 10080);
    expect(new Set(onsets)).toEqual(new Set([0, 5040]));
    expect(part.notes).toEqual(arrangement.parts[0]?.notes);
    const layers = [runPlan(part, 480, writtenMaps(straight))];
    const score = buildScore(straight, layers, writtenMaps(straight), readPitches(straight, layers));
    expect(score.parts[0]?.bars.map((bar) => bar.words.join())).toEqual(['Swing', '', '', '']);
    expect(writeMusicXml(score)).toContain('<words>Swing</words>');
  });
});

describe('a way of playing is no fault', () => {
  it('a part of very short notes has no specks, and keeps them', () => {
    const short = Array.from({ length: 40 }, (_, k) => note(60 + (k % 5), k * 240, 20));
    expect(noticed(short)).not.toContain('specks');
    const arrangement = arrangementWith([partWith(short)]);
    expect(runPlan(arrangement.parts[0] as Part, 480, writtenMaps(arrangement)).notes).toHaveLength(40);
  });

  it('accents on every fourth note do not stick out', () => {
    expect(noticed(line(64).map((n, k) => ({ ...n, velocity: k % 4 === 0 ? 120 : 70 })))).not.toContain('velocityOut');
  });
});

describe('mending', () => {
  it.each([
    ['doubles', [...line(), note(72, 480, 440), note(72, 490, 300)], {}],
    ['hiddenNotes', [...line(), note(72, 480, 440), note(72, 600, 50)], {}],
    ['specks', [...line(), note(73, 480, 20)], {}],
    ['zeroLength', [...line(), note(73, 480, 0)], {}],
    ['samePitchOverlap', [...line(), note(72, 0, 480), note(72, 400, 300)], {}],
    ['twoAtOnce', [...line(), note(72, 0, 900), note(74, 480, 400)], {}],
    ['earlyStart', [...line(), note(72, 1920 * 9 - 60, 480)], {}],
    ['outOfRange', [...line(), note(30, 480, 440)], {}],
    ['velocityOut', [...line(), note(64, 1920 + 16 * 480, 440, { velocity: 127 }), note(64, 1920 + 17 * 480, 440)], {}],
    ['unevenEnds', [...line(), note(64, 0, 900), note(67, 5, 300)], { instrument: 'piano' }],
    ['pedalNeverLifts', line(), { events: pedal(0) }],
  ] as [string, StepNote[], Partial<Part>][])('%s: all of its kind go, and it is one entry', (kind, notes, more) => {
    const arrangement = arrangementWith([partWith(notes, more)]);
    const found = findingsIn(arrangement).filter((f) => f.kind === kind);
    const edit = mendEdit(arrangement, found);
    expect(edit?.label.length).toBeGreaterThan(4);
    expect(findingsIn(applyEdit(arrangement, edit as never)).map((f) => f.kind)).not.toContain(kind);
  });

  it('does nothing for nothing', () => {
    expect(mendEdit(arrangementWith([partWith(line())]), [])).toBeNull();
  });
});

describe('the demo', () => {
  const demo = demoArrangement();
  it('has its doubles, specks and early entry noticed', () => {
    const counts = demo.parts.map((_, index) => countFindings(findingsIn(demo, index)));
    expect(counts[0]?.specks).toBeGreaterThan(1);
    expect(counts[2]?.earlyStart).toBe(1);
    for (const kinds of counts) for (const kind of Object.keys(kinds)) expect(FINDING_KINDS).toContain(kind);
  });

  it('has keys that stay the same while the notes do', () => {
    const keys = findingsIn(demo).map((f) => f.key);
    expect(findingsIn(demo).map((f) => f.key)).toEqual(keys);
    expect(new Set(keys).size).toBe(keys.length);
  });
});
