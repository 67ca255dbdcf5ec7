import { describe, expect, it } from 'vitest';
import { importMidi } from '../midi/importMidi.js';
import { writeWrittenMidi } from '../midi/writeMidi.js';
import type { Part } from '../model/arrangement.js';
import { applyEdit, overridesChange } from '../model/edit.js';
import { writeMusicXml } from '../musicxml/writeMusicXml.js';
import { buildScore } from '../notation/buildScore.js';
import { readPitches } from '../notation/pitchReading.js';
import { withStep } from '../plan/plan.js';
import { planOf } from '../plan/readyPlans.js';
import { runPlan, runPlanOnAll } from '../plan/runPlan.js';
import { writtenMaps } from '../plan/writtenMaps.js';
import { soundingNotes } from '../playback/soundingNotes.js';
import { arrangementWith, note, partWith } from '../testing/kit.js';
import { ticks, WRITTEN_PPQ } from '../time/units.js';

/** Ticks in a millisecond at 125 quarters a minute, 480 to one. */
const MS = 1;
/** A note at a beat, some milliseconds off, so many milliseconds long. */
const at = (pitch: number, beat: number, ms: number, length: number, velocity = 80) =>
  note(pitch, Math.round(beat * 480 + ms * MS), Math.round(length * MS), { velocity });

/** A line of human quarters into which something is put at beats 8 and 9; it goes on at beat 12. */
const lineWith = (...figure: readonly ReturnType<typeof note>[]) => {
  const off = [4, -9, 12, -3, 8, -11, 5, 2];
  const before = off.map((ms, beat) => at(67 + (beat % 4) * 2, beat, ms + 10, 430));
  const after = off.map((ms, beat) => at(74 - (beat % 4) * 2, 12 + beat, ms + 10, 430));
  return arrangementWith([partWith([...before, ...figure, ...after])]);
};
type Taken = ReturnType<typeof lineWith>;
const partOf = (taken: Taken): Part => taken.parts[0] as Part;
const writtenOf = (taken: Taken) => runPlan(partOf(taken), 480, writtenMaps(taken));
/** What is written from beat 8 to 12: "pitch beat length marks +graces". */
const shown = (taken: Taken): string[] =>
  writtenOf(taken)
    .notes.filter(({ onset }) => onset >= 8 * WRITTEN_PPQ && onset < 12 * WRITTEN_PPQ)
    .map(({ pitch, onset, duration, signs }) =>
      [
        pitch,
        onset / WRITTEN_PPQ,
        duration / WRITTEN_PPQ,
        ...(signs?.marks ?? []),
        ...(signs?.graces ?? []).map((grace) => `+${grace.pitch}`),
      ].join(' '),
    );
const xmlOf = (arrangement: Taken): string => {
  const layers = runPlanOnAll(arrangement);
  return writeMusicXml(buildScore(arrangement, layers, writtenMaps(arrangement), readPitches(arrangement, layers)));
};
const trill = (tones: number, apart: number, upper = 74) =>
  Array.from({ length: tones }, (_, k) => at(k % 2 === 0 ? 72 : upper, 8, 6 + k * apart + (k % 3) * 4, apart * 0.9));

describe('ornaments in a take', () => {
  it('one short note close before another is its grace note; two or three are several', () => {
    expect(shown(lineWith(at(71, 8, -48, 50), at(72, 8, 6, 900), at(74, 10, 3, 900)))).toEqual([
      '72 8 2 +71',
      '74 10 2',
    ]);
    expect(shown(lineWith(at(69, 8, -110, 50), at(71, 8, -52, 50), at(72, 8, 6, 900), at(74, 10, 3, 900)))).toEqual([
      '72 8 2 +69 +71',
      '74 10 2',
    ]);
  });

  it('a trill, a mordent from below and from above, a turn, a tremolo are one note each', () => {
    expect(shown(lineWith(...trill(12, 82), at(74, 10, 3, 900)))).toEqual(['72 8 2 trill', '74 10 2']);
    expect(shown(lineWith(at(72, 8, 6, 60), at(71, 8, 70, 60), at(72, 8, 136, 800), at(74, 10, 3, 900)))).toEqual([
      '72 8 2 mordent',
      '74 10 2',
    ]);
    expect(shown(lineWith(at(72, 8, 6, 60), at(74, 8, 70, 60), at(72, 8, 136, 800), at(74, 10, 3, 900)))).toEqual([
      '72 8 2 upperMordent',
      '74 10 2',
    ]);
    expect(
      shown(lineWith(at(74, 8, 6, 60), at(72, 8, 76, 60), at(71, 8, 143, 60), at(72, 8, 212, 760), at(74, 10, 3, 900))),
    ).toEqual(['72 8 2 turn', '74 10 2']);
    const strokes = Array.from({ length: 14 }, (_, k) => at(72, 8, 6 + k * 71 + (k % 2) * 5, 45));
    expect(shown(lineWith(...strokes, at(74, 10, 3, 900)))).toEqual(['72 8 2 tremolo', '74 10 2']);
  });

  it('a run as fast as no hand plays note after note is a glissando to the note that it leads to', () => {
    const SCALE = [0, 2, 4, 5, 7, 9, 11];
    const run = (tones: number, apart: number, down = false) =>
      Array.from({ length: tones }, (_, k) => {
        const pitch = 60 + 12 * Math.floor(k / 7) + (SCALE[k % 7] as number);
        return at(down ? 150 - pitch : pitch, 8, 6 + k * apart + (k % 3) * 3, apart * 1.4);
      });
    const target = at(84, 9, 12, 440);
    const up = lineWith(...run(14, 33), target, at(74, 10, 3, 900));
    expect(shown(up)).toEqual(['60 8 1', '84 9 1', '74 10 2']);
    const [main] = writtenOf(up).notes.filter(({ onset }) => onset === 8 * WRITTEN_PPQ);
    expect(main?.signs?.glissando).toEqual({ to: target.id });
    expect(main?.signs?.tones).toHaveLength(14);
    const xml = xmlOf(up);
    expect(xml.match(/<glissando[^>]*type="(start|stop)"/g)).toHaveLength(2);
    // One that a person draws to another note takes its place.
    const further = partOf(up).notes.find(({ pitch, onset }) => pitch === 74 && onset > 10 * 480)?.id ?? 0;
    const own = overridesChange(partOf(up), [{ kind: 'glissando', noteId: main?.id ?? 0, to: further }]);
    expect(xmlOf(applyEdit(up, { label: 'x', changes: [own] })).match(/<glissando[^>]*type="start"/g)).toHaveLength(1);
    const reasons = writtenOf(up).steps.find(({ step }) => step === 'readOrnaments')?.changes ?? [];
    expect(reasons[0]?.reason).toBe('a glissando of 14 tones from C4');
    expect(shown(lineWith(...run(14, 33, true), at(64, 9, 12, 440), at(74, 10, 3, 900)))).toEqual([
      '90 8 1',
      '64 9 1',
      '74 10 2',
    ]);
    // Thirty-seconds, a run that turns back, and five tones are notes.
    expect(shown(lineWith(...run(8, 60), at(74, 10, 3, 900))).length).toBeGreaterThan(8);
    const back = [...run(4, 40), ...run(4, 40, true).map((tone) => ({ ...tone, onset: ticks(tone.onset + 160) }))];
    expect(writtenOf(lineWith(...back, at(74, 10, 3, 900))).notes.some(({ signs }) => signs?.glissando)).toBe(false);
    expect(writtenOf(lineWith(...run(5, 45), at(74, 10, 3, 900))).notes.some(({ signs }) => signs?.glissando)).toBe(
      false,
    );
  });

  it('sixteenths, chords that are not quite together, and what is drawn are none', () => {
    const sixteenths = [0, 1, 2, 3].map((k) => at(72 + (k % 2) * 2, 8, 6 + k * 125, 110));
    expect(shown(lineWith(...sixteenths, at(74, 9, 3, 400), at(76, 10, 3, 900)))).toHaveLength(6);
    // Three sixteenths in an eighth, which lead to the beat.
    const leading = [8 + 2 / 3, 8 + 5 / 6].map((beat, k) => at(72 + k * 2, beat, 5, 72));
    expect(shown(lineWith(at(76, 8, 3, 290), ...leading, at(72, 9, 8, 460), at(76, 10, 3, 900)))).toHaveLength(5);
    const loose = lineWith(at(72, 8, -9, 900), at(76, 8, 14, 900), at(74, 10, 3, 900));
    expect(shown(loose)).toEqual(['72 8 2', '76 8 2', '74 10 2']);
    // 32nds to the tick, of a hand that is otherwise as human as before.
    const drawn = [0, 60, 120, 180].map((tick, k) => note(72 + (k % 2), 8 * 480 + tick, 60));
    expect(shown(lineWith(...drawn, note(74, 8.5 * 480, 700), at(76, 10, 3, 900)))).toHaveLength(6);
  });

  it('a soft stroke before a loud one is a flam', () => {
    const strokes = [0, 1, 2, 3, 4, 5, 6, 7].map((beat) => at(38, beat, (beat % 3) * 5, 60, 90));
    const flam = at(38, 4, -30, 40, 40);
    const taken = arrangementWith([partWith([...strokes, flam], { instrument: 'percussion', channel: 9 })]);
    const { notes } = writtenOf(taken);
    expect(notes).toHaveLength(8);
    expect(notes.map(({ signs }) => signs?.graces?.[0]?.id).filter(Boolean)).toEqual([flam.id]);
  });
});

describe('an ornament on the page', () => {
  const grace = at(71, 8, -48, 50);
  const main = at(72, 8, 6, 900);
  const taken = lineWith(grace, main, at(74, 10, 3, 900));

  it('says of how many tones it is made', () => {
    const tones = trill(12, 82);
    const step = writtenOf(lineWith(...tones, at(74, 10, 3, 900))).steps.find((own) => own.step === 'readOrnaments');
    expect(step?.changes.map(({ reason }) => reason)).toContain(`a trill of ${tones.length} tones on C5`);
  });

  it('has its sign, and says why; each can be vetoed, and all switched off in the plan', () => {
    expect(xmlOf(taken).replace(/\s+/g, '')).toContain(
      `<noteid="n${grace.id}"><graceslash="yes"/><pitch><step>B</step><octave>4</octave></pitch><voice>1</voice><type>eighth</type>`,
    );
    const step = writtenOf(taken).steps.find((report) => report.step === 'readOrnaments');
    expect(step?.changes.map(({ reason }) => reason)).toContain('a grace note, 54 ms before C5');
    const vetoed = {
      ...taken,
      parts: [{ ...partOf(taken), vetoes: [{ noteId: grace.id, step: 'readOrnaments' as const }] }],
    };
    expect(xmlOf(vetoed)).not.toContain('<grace');
    expect(writtenOf(vetoed).notes.map(({ id }) => id)).toContain(grace.id);
    const off = withStep(planOf(partOf(taken)), 'readOrnaments', { on: false });
    expect(runPlan(partOf(taken), 480, writtenMaps(taken), off).notes.map(({ id }) => id)).toContain(grace.id);
  });

  it('says at the sign what its neighbour is, where the key does not', () => {
    const C_MAJOR = { tick: ticks(0), fifths: 0, minor: false };
    const signsOf = (taken: Taken, instrument = 'flute', fifths = 0) => {
      const keyed = { ...taken, keys: [{ ...C_MAJOR, fifths }], parts: [{ ...partOf(taken), instrument }] };
      const layers = runPlanOnAll(keyed);
      const score = buildScore(keyed, layers, writtenMaps(keyed), readPitches(keyed, layers));
      return writeMusicXml(score)
        .match(/<ornaments>[\s\S]*?<\/ornaments>/g)
        ?.map((text) => text.replace(/\s+/g, '').replace(/<\/?ornaments>/g, ''));
    };
    const held = at(74, 10, 3, 900);
    const mordent = (lower: number) => [at(72, 8, 6, 60), at(lower, 8, 70, 60), at(72, 8, 136, 800), held];
    // C with D, C with D flat; with B, with B flat; in F minor (four flats) D flat needs no sign, and D does.
    expect(signsOf(lineWith(...trill(12, 82), held))).toEqual(['<trill-mark/>']);
    expect(signsOf(lineWith(...trill(12, 82, 73), held))).toEqual([
      '<trill-mark/><accidental-markplacement="above">flat</accidental-mark>',
    ]);
    expect(signsOf(lineWith(...mordent(71)))).toEqual(['<mordent/>']);
    expect(signsOf(lineWith(...mordent(70)))).toEqual([
      '<mordent/><accidental-markplacement="below">flat</accidental-mark>',
    ]);
    expect(signsOf(lineWith(...trill(12, 82, 73), held), 'flute', -4)).toEqual(['<trill-mark/>']);
    expect(signsOf(lineWith(...trill(12, 82), held), 'flute', -4)).toEqual([
      '<trill-mark/><accidental-markplacement="above">natural</accidental-mark>',
    ]);
    // A clarinet in B flat reads D with E flat, in D major.
    expect(signsOf(lineWith(...trill(12, 82, 73), held), 'clarinet')).toEqual([
      '<trill-mark/><accidental-markplacement="above">flat</accidental-mark>',
    ]);
  });

  it('with its written note vetoed, is played notes again, every one', () => {
    const tones = trill(12, 82);
    const trilled = lineWith(...tones, at(74, 10, 3, 900));
    const [first] = tones;
    const vetoes = [{ noteId: first?.id ?? 0, step: 'readOrnaments' as const }];
    const { notes } = writtenOf({ ...trilled, parts: [{ ...partOf(trilled), vetoes }] });
    const ids = new Set(notes.map(({ id }) => id));
    expect(tones.filter(({ id }) => !ids.has(id))).toEqual([]);
    expect(notes.some(({ signs }) => signs?.marks?.includes('trill'))).toBe(false);
  });

  it('sounds in Written MIDI, and from the page, as it was read', () => {
    const trilled = lineWith(...trill(12, 82), at(74, 10, 3, 900));
    const bytes = writeWrittenMidi(trilled, [writtenOf(trilled)]);
    const read = importMidi([{ name: 'page.mid', bytes }]);
    if (!read.ok) throw new Error(read.problem.message);
    const heard = (read.value.arrangement.parts[0]?.notes ?? []).filter(
      ({ onset }) => onset >= 8 * WRITTEN_PPQ && onset < 10 * WRITTEN_PPQ,
    );
    expect(heard.map(({ pitch }) => pitch)).toEqual(Array.from({ length: 12 }, (_, k) => (k % 2 === 0 ? 72 : 74)));
    const [first, second] = heard;
    const apart = ((second?.onset ?? 0) - (first?.onset ?? 0)) / WRITTEN_PPQ / 2;
    expect(Math.abs(apart * 1000 - 90)).toBeLessThan(3);
    const page = soundingNotes(trilled, { partIds: [1], creaseTick: 0, written: [writtenOf(trilled)] });
    expect(page.filter(({ start }) => start > 3.8 && start < 4.79)).toHaveLength(12);
  });

  it('can be made by a person of any note, and unmade', () => {
    const quiet = lineWith(at(71, 8, 0, 200), at(72, 9, 0, 900), at(74, 11, 0, 400));
    const [before, after] = partOf(quiet).notes.filter(({ onset }) => onset >= ticks(8 * 480));
    const given = overridesChange(partOf(quiet), [{ kind: 'grace', noteId: before?.id ?? 0, to: after?.id ?? 0 }]);
    const changed = applyEdit(quiet, { label: 'x', changes: [given] });
    expect(shown(changed)[0]).toMatch(/^72 9 \d \+71$/);
    const circle = overridesChange(partOf(quiet), [{ kind: 'grace', noteId: before?.id ?? 0, to: before?.id ?? 0 }]);
    expect(shown(applyEdit(quiet, { label: 'x', changes: [circle] }))).toEqual(shown(quiet));
  });
});
