import { describe, expect, it } from 'vitest';
import { demoArrangement } from '../demo/demo.js';
import { madeScore } from '../demo/madeScore.js';
import { DEMO_PERFORMANCE, perform } from '../demo/performer.js';
import { mendEdit } from '../edits/mendEdit.js';
import { type Arrangement, compareNotes, type Part } from '../model/arrangement.js';
import { applyEdit } from '../model/edit.js';
import { writeMusicXml } from '../musicxml/writeMusicXml.js';
import { buildScore } from '../notation/buildScore.js';
import { readPitches } from '../notation/pitchReading.js';
import { planOf } from '../plan/readyPlans.js';
import { runPlan, runPlanOnAll } from '../plan/runPlan.js';
import { writtenMaps } from '../plan/writtenMaps.js';
import type { StepNote } from '../reading/stepNote.js';
import { arrangementWith, note, partWith, pedal } from '../testing/kit.js';
import { ticks } from '../time/units.js';
import { type Finding, mendChanges } from './finding.js';
import { countFindings, FINDING_KINDS, findingsOf } from './registry.js';

const findingsIn = (arrangement: Arrangement, index = 0) => {
  const part = arrangement.parts[index] as Part;
  return findingsOf(arrangement, part, runPlan(part, arrangement.ppq, writtenMaps(arrangement)));
};
const noticed = (notes: StepNote[], more: Partial<Part> = {}) =>
  findingsIn(arrangementWith([partWith(notes, more)])).map((finding) => finding.kind);
const MADE = {
  kind: 'keyboard',
  style: 'mixed',
  meter: { numerator: 4, denominator: 4 },
  bars: 16,
  quartersPerMinute: 96,
} as const;
/** The same hand each time: starts and loudness as a player has them. */
const performed = () =>
  Array.from({ length: 24 }, (_, k) =>
    note(60 + ((k * 5) % 9), 1937 + k * 480 + ((k * 37) % 41), 400 + ((k * 13) % 29), {
      velocity: 60 + ((k * 7) % 31),
    }),
  );
/** A plain line of quarters, so that a part is more than its fault. At 480 PPQ and a tick a millisecond. */
const line = (count = 16, velocity = 80) =>
  Array.from({ length: count }, (_, k) => note(60 + (k % 5), 1920 + k * 480, 440, { velocity }));

/** The arrangement after the other way of a finding was taken. */
const chooseOther = (arrangement: Arrangement, found: Finding | undefined): Arrangement => {
  const edit = mendEdit(arrangement, [{ ...(found as Finding), mend: found?.otherMend ?? null }]);
  if (!edit) throw new Error('there is no other reading');
  return applyEdit(arrangement, edit);
};

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

  it('outOfRange: a note far below the instrument may be heard and not written, and is not told of again', () => {
    const command = note(30, 480, 440);
    const part = partWith([...line(), command].sort(compareNotes));
    const arrangement = arrangementWith([part]);
    const outOf = (own: Arrangement) => findingsIn(own).filter(({ kind }) => kind === 'outOfRange');
    const [found] = outOf(arrangement);
    expect(found?.otherMend?.label).toBe('Heard, not written');
    const edit = found && mendEdit(arrangement, [{ ...found, mend: found.otherMend ?? null }]);
    const after = edit ? applyEdit(arrangement, edit) : arrangement;
    expect(outOf(after)).toEqual([]);
    expect(after.parts[0]?.notes).toHaveLength(part.notes.length);
    expect(runPlanOnAll(after)[0]?.notes.some(({ id }) => id === command.id)).toBe(false);
    // A note a little too low is another thing.
    const low = arrangementWith([partWith([...line(), note(57, 480, 440)].sort(compareNotes))]);
    expect(outOf(low).map(({ otherMend }) => otherMend)).toEqual([undefined]);
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

  it('doubtfulGrid: the second best reading is a correction of the page that lasts', () => {
    const steady = Array.from({ length: 24 }, (_, k) => note(60, k * 480 + ((k * 13) % 31), 300));
    const between = [note(67, 24 * 480 + 15, 120), note(69, 24 * 480 + 152, 130)];
    const before = arrangementWith([partWith([...steady, ...between])]);
    const starts = (arrangement: Arrangement) =>
      runPlanOnAll(arrangement)[0]
        ?.notes.filter(({ pitch }) => pitch > 60)
        .map(({ pitch, onset, duration }) => [pitch, (onset - 24 * 10080) / 10080, duration / 10080]);
    const [found] = findingsIn(before).filter((f) => f.kind === 'doubtfulGrid');
    expect(found?.otherMend).toMatchObject({ where: 'page', label: expect.stringMatching(/^Or: /) });
    const after = chooseOther(before, found);
    expect(after.parts[0]?.notes).toEqual(before.parts[0]?.notes);
    // The second note goes from the triplet to the sixteenth, or the other way; the first ends where it begins.
    const [was, is] = [starts(before), starts(after)];
    expect(is?.[0]?.[1]).toBe(0);
    expect(new Set([was?.[1]?.[1], is?.[1]?.[1]])).toEqual(new Set([1 / 4, 1 / 3]));
    expect(is?.[0]?.[2]).toBe(is?.[1]?.[1]);
    expect(findingsIn(after).map((f) => f.kind)).not.toContain('doubtfulGrid');
  });

  it('eitherEnd: a note let go between two values, with the other one a key away', () => {
    const shares = [0.9, 0.92, 0.95, 0.88];
    const line = Array.from({ length: 24 }, (_, k) => note(60 + (k % 5), k * 480, 480 * (shares[k % 4] as number)));
    const withEnd = (duration: number) =>
      arrangementWith([
        partWith([...line, note(72, 24 * 480, duration, { id: 9001 }), note(72, 26 * 480, 430, { id: 9002 })]),
      ]);
    const doubtful = (duration: number) =>
      findingsIn(withEnd(duration)).find((f) => f.kind === 'eitherEnd' && f.tick === 24 * 480);
    // Held for a whole half note, or for a quarter: no doubt; somewhere between there is.
    expect(doubtful(900)).toBeUndefined();
    expect(doubtful(440)).toBeUndefined();
    const between = Array.from({ length: 20 }, (_, k) => 460 + k * 20).find((duration) => doubtful(duration));
    const before = withEnd(between ?? 0);
    const found = doubtful(between ?? 0);
    expect(found?.otherMend?.label).toMatch(/^Or: (half|(dotted )?quarter( and a rest)?)$/);
    const lengthOf = (arrangement: Arrangement) =>
      runPlanOnAll(arrangement)[0]?.notes.find(({ pitch, onset }) => pitch === 72 && onset === 24 * 10080)?.duration;
    const after = chooseOther(before, found);
    expect(lengthOf(after)).not.toBe(lengthOf(before));
    expect(findingsIn(after).filter((f) => f.kind === 'eitherEnd' && f.tick === 24 * 480)).toEqual([]);
  });

  it('sameInTwoParts: a take that came in twice, told as one passage, kept where the person says', () => {
    const takes = arrangementWith([
      partWith(performed()),
      partWith([...performed(), note(90, 30_000, 100)], { id: 2, name: 'Copy' }),
    ]);
    expect(findingsIn(takes, 0).map((f) => f.kind)).not.toContain('sameInTwoParts');
    const [found, ...more] = findingsIn(takes, 1).filter((f) => f.kind === 'sameInTwoParts');
    expect(more).toEqual([]);
    expect(found?.noteIds).toHaveLength(24);
    expect(found?.reason).toMatch(/^24 notes in bars 2 to \d+ are those of Flute/);
    const kept = (mend: Finding['mend'] | undefined) =>
      applyEdit(takes, mendEdit(takes, [{ ...(found as Finding), mend: mend ?? null }]) as never).parts.map(
        (p) => p.notes.length,
      );
    expect(kept(found?.mend)).toEqual([24, 1]);
    expect(kept(found?.otherMend)).toEqual([0, 25]);
  });

  it('sameInTwoParts: hears the tempo of each place, also where the notes are those of before', () => {
    const takes = arrangementWith([
      partWith(performed()),
      partWith(
        performed().map((n) => ({ ...n, onset: ticks(n.onset + 4) })),
        { id: 2, name: 'Copy' },
      ),
    ]);
    const told = (arrangement: Arrangement) =>
      findingsIn(arrangement, 1).flatMap((f) => (f.kind === 'sameInTwoParts' ? f.noteIds.length : []));
    expect(told(takes)).toEqual([24]);
    // From bar 5 on a tick lasts twice as long: eight milliseconds are no copy.
    const slower = { tick: ticks(4 * 1920), microsecondsPerQuarter: 960_000 };
    expect(told({ ...takes, tempos: [...takes.tempos, slower] })).toEqual([12]);
  });

  it('sameInTwoParts: no unison of two players, and no doubling that was written', () => {
    const copies = (a: StepNote[], b: StepNote[]) =>
      findingsIn(arrangementWith([partWith(a), partWith(b, { id: 2, instrument: 'oboe' })]), 1).filter(
        (f) => f.kind === 'sameInTwoParts',
      );
    const played = performed();
    expect(
      copies(
        played,
        performed().map((n) => ({ ...n, onset: ticks(n.onset + 12) })),
      ),
    ).toEqual([]);
    expect(
      copies(
        played,
        performed().map((n) => ({ ...n, velocity: n.velocity + 1 })),
      ),
    ).toEqual([]);
    // Drawn on the grid: a long unison inside two different parts is how music is scored.
    const drawn = (from: number, count: number) =>
      Array.from({ length: count }, (_, k) => note(60 + ((from + k) % 9), (from + k) * 240, 230));
    expect(copies([...drawn(0, 40), ...drawn(60, 20)], [...drawn(0, 40), ...drawn(90, 30)])).toEqual([]);
    // But all of a drawn part, note for note, is a copied track.
    expect(copies(drawn(0, 40), drawn(0, 40))).toHaveLength(1);
  });

  it('widerThanHand: the tone that is far goes nearer to the others of its hand', () => {
    const chords = (...pitches: number[]) =>
      [0, 1, 2, 3].flatMap((k) => pitches.map((pitch) => note(pitch, k * 960, 900)));
    const found = (notes: StepNote[]) =>
      findingsIn(arrangementWith([partWith(notes, { instrument: 'piano' })])).filter((f) => f.kind === 'widerThanHand');
    const [right] = found(chords(36, 48, 64, 90));
    expect([right?.reason, right?.mend?.label]).toEqual(['E4 to F♯6 in the right hand', 'Move E4 an octave up']);
    expect(right?.mend).toMatchObject({ parameters: { octaves: 1 } });
    const [left] = found(chords(28, 48, 72, 76));
    expect([left?.reason, left?.mend?.label]).toEqual(['E1 to C3 in the left hand', 'Move C3 an octave down']);
    expect(left?.mend).toMatchObject({ parameters: { octaves: -1 } });
  });

  it('outOfRange: the phrase moves as a whole, or the part, or it is said that neither can', () => {
    const phrase = (onset: number, ...pitches: number[]) =>
      pitches.map((pitch, k) => note(pitch, onset + k * 480, 460));
    const found = (notes: StepNote[]) =>
      findingsIn(arrangementWith([partWith(notes)])).filter((f) => f.kind === 'outOfRange');
    const [low, ...rest] = found([...phrase(0, 72, 74, 76), ...phrase(3840, 55, 58, 62, 65), ...phrase(9600, 72, 71)]);
    expect(rest).toEqual([]);
    expect(low?.noteIds).toHaveLength(2);
    expect(low?.mend).toMatchObject({ label: 'Move the phrase up an octave', parameters: { octaves: 1 } });
    expect(low?.mend?.noteIds).toHaveLength(4);
    const all = found([...phrase(0, 50, 52), ...phrase(3840, 55, 58), ...phrase(7680, 60, 62)]);
    expect(all.map((f) => [f.mend?.label, f.mend?.noteIds?.length])).toEqual([
      ['Move the part up an octave', 6],
      ['Move the part up an octave', 6],
    ]);
    const [wide] = found([...phrase(0, 50, 74, 95), ...phrase(3840, 72, 74), ...phrase(7680, 72, 74)]);
    expect(wide?.mend).toBeNull();
    expect(wide?.reason).toContain('No octave brings the whole phrase within range');
  });

  it('twoAtOnce: two that begin together are told, and nothing is offered that mends nothing', () => {
    const [found] = findingsIn(arrangementWith([partWith([...line(), note(72, 480, 400), note(76, 486, 420)])])).filter(
      (f) => f.kind === 'twoAtOnce',
    );
    expect(found).toMatchObject({ mend: null });
    expect(found?.reason).toBe('C5 and E5 begin together: choose one, or give one to another part');
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
    expect(score.parts[0]?.bars.map((bar) => bar.swings.length)).toEqual([1, 0, 0, 0]);
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

describe('every mend that is offered', () => {
  it('mends: each one makes an Edit, on playing it was not tuned on', () => {
    for (const seed of [41, 42, 43]) {
      const arrangement = perform(madeScore({ ...MADE, seed }), { ...DEMO_PERFORMANCE, seed });
      arrangement.parts.forEach((_, index) => {
        for (const finding of findingsIn(arrangement, index)) {
          for (const mend of [finding.mend, finding.otherMend ?? null]) {
            if (mend)
              expect([finding.kind, mendEdit(arrangement, [{ ...finding, mend }]) !== null]).toEqual([
                finding.kind,
                true,
              ]);
          }
        }
      });
    }
  });

  it('says on its face what it changes', () => {
    expect(mendChanges({ where: 'notes' })).toBe('changes Played');
    expect(mendChanges({ where: 'plan' })).toBe('changes the plan');
    expect(mendChanges({ where: 'bars' })).toBe('changes the plan');
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
