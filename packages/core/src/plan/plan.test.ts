import { describe, expect, it } from 'vitest';
import type { Part } from '../model/arrangement.js';
import { applyEdit, invertEdit, overridesChange } from '../model/edit.js';
import { isMadeId, sourceOfId } from '../model/madeIds.js';
import type { Override } from '../model/overrides.js';
import type { Plan } from '../model/plan.js';
import { writeMusicXml } from '../musicxml/writeMusicXml.js';
import { buildScore } from '../notation/buildScore.js';
import { readPitches } from '../notation/pitchReading.js';
import { soundingNotes } from '../playback/soundingNotes.js';
import type { StepNote } from '../reading/stepNote.js';
import { planStep, stepById } from '../steps/registry.js';
import { splitEvenly } from '../steps/split.js';
import { arrangementWith, note, partWith, pedal } from '../testing/kit.js';
import { noteValue } from '../time/noteLengths.js';
import type { WrittenUnits } from '../time/units.js';
import { ticks } from '../time/units.js';
import { partsLookedAt } from './dependencies.js';
import { DEFAULT_STEPS, defaultPlan, gridOf, samePlan, withGrid, withPassageGrid, withStep } from './plan.js';
import { planOf, READY_PLANS, suggestedPlan } from './readyPlans.js';
import { rerunPlan, runPlan, runPlanOnAll } from './runPlan.js';
import type { Written } from './written.js';
import { writtenMaps } from './writtenMaps.js';

const played = (...notes: ReturnType<typeof note>[]) => arrangementWith([partWith(notes)]);
const planned = (plan: Plan, ...notes: ReturnType<typeof note>[]) => arrangementWith([partWith(notes, { plan })]);
const writtenOf = (arrangement: ReturnType<typeof played>) => runPlanOnAll(arrangement)[0]?.notes ?? [];

describe('the default plan', () => {
  it('has its steps in order, all on, with their defaults; repeats of one key stay', () => {
    const plan = defaultPlan();
    expect(plan.steps.map((item) => item.step)).toEqual(DEFAULT_STEPS);
    for (const { step, on, parameters } of plan.steps) {
      expect(on).toBe(true);
      const own = step === 'merge' ? { overlaps: 'judge' } : {};
      expect(parameters).toEqual({ ...stepById(step).defaults, ...own });
    }
  });

  it('survives being stored as JSON', () => {
    expect(JSON.parse(JSON.stringify(defaultPlan()))).toEqual(defaultPlan());
  });

  it('takes another grid, or a step less, without touching the rest', () => {
    const plan = withStep(withGrid(defaultPlan(), 1 / 8), 'merge', { on: false });
    expect(gridOf(plan)).toBe(1 / 8);
    expect(plan.steps.filter((item) => !item.on).map((item) => item.step)).toEqual(['merge']);
  });
});

describe('running a plan', () => {
  it('makes Written in written units and leaves Played as it was', () => {
    const arrangement = played(note(60, 7, 420), note(62, 489, 430), note(64, 951, 900));
    const before = JSON.stringify(arrangement);
    expect(writtenOf(arrangement).map((n) => [n.onset, n.duration])).toEqual([
      [0, 10080],
      [10080, 10080],
      [20160, 20160],
    ]);
    expect(JSON.stringify(arrangement)).toBe(before);
  });

  it('remembers every Played note behind a Written one', () => {
    const long = note(60, 0, 470);
    const double = note(60, 8, 100);
    const hidden = note(60, 200, 30);
    const [first] = writtenOf(played(long, double, hidden, note(62, 480, 470)));
    expect(first?.id).toBe(long.id);
    expect([...(first?.sources ?? [])].sort()).toEqual([long.id, double.id, hidden.id].sort());
  });

  it('leaves muted notes out', () => {
    expect(writtenOf(played(note(60, 0, 480), note(72, 480, 480, { muted: true }))).map((n) => n.pitch)).toEqual([60]);
  });

  it('counts the notes that each step touched', () => {
    const arrangement = played(note(60, 5, 470), note(61, 10, 12), note(62, 484, 470));
    const [layer] = runPlanOnAll(arrangement);
    const counts = Object.fromEntries(layer?.steps.map(({ step, touched }) => [step, touched]) ?? []);
    expect(counts).toMatchObject({ dropSpecks: 1, merge: 0, quantizeStarts: 2 });
  });

  it('does nothing where every step is off', () => {
    const off = { ...defaultPlan(), steps: defaultPlan().steps.map((item) => ({ ...item, on: false })) };
    expect(writtenOf(planned(off, note(60, 7, 100)))).toMatchObject([{ onset: 7 * 21, duration: 100 * 21 }]);
  });

  it('settles what was not quantized without complaint', () => {
    const plan = withStep(defaultPlan(), 'quantizeStarts', { on: false });
    const arrangement = planned(plan, note(60, 13, 400), note(62, 501, 333), note(64, 871, 1000));
    expect(writtenOf(arrangement).map((n) => n.onset)).toEqual([13 * 21, 501 * 21, 871 * 21]);
  });

  it('works at any PPQ', () => {
    for (const ppq of [24, 96, 120, 384, 960, 15360]) {
      const scale = ppq / 480;
      const notes = [0, 1, 2, 3].map((k) => note(60 + k, Math.round(k * 480 * scale), Math.round(460 * scale)));
      const arrangement = arrangementWith([partWith(notes)], { ppq });
      const layer = runPlan(arrangement.parts[0] as never, ppq, writtenMaps(arrangement));
      expect(layer.notes.map((n) => n.onset)).toEqual([0, 10080, 20160, 30240]);
    }
  });
});

describe('running a changed plan again', () => {
  const notes = Array.from({ length: 40 }, (_, k) => note(60 + (k % 5), k * 240 + (k % 7), 200));
  const part = partWith(notes, { instrument: 'violin' });
  const maps = writtenMaps(arrangementWith([part]));
  const first = rerunPlan(part, 480, maps, defaultPlan());

  it('gives what a fresh run gives', () => {
    for (const plan of [
      withGrid(defaultPlan(), 1 / 8),
      withStep(defaultPlan(), 'settleLengths', { on: false }),
      withStep(defaultPlan(), 'deDuplicate', { on: false }),
      withPassageGrid(defaultPlan(), 1, 2, 1 / 4),
    ]) {
      expect(rerunPlan(part, 480, maps, plan, first).written).toEqual(runPlan(part, 480, maps, plan));
    }
  });

  it('takes over the steps before the change, and none where notes, vetoes or times differ', () => {
    const settled = rerunPlan(part, 480, maps, withStep(defaultPlan(), 'settleLengths', { on: false }), first);
    expect(settled.stages[6]).toBe(first.stages[6]);
    const vetoed = { ...part, vetoes: [{ noteId: notes[0]?.id ?? 0, step: 'quantizeStarts' as const }] };
    expect(rerunPlan(vetoed, 480, maps, defaultPlan(), first).stages[6]).not.toBe(first.stages[6]);
    const slower = writtenMaps(
      arrangementWith([part], { tempos: [{ tick: ticks(0), microsecondsPerQuarter: 900_000 }] }),
    );
    expect(rerunPlan(part, 480, slower, defaultPlan(), first).stages[0]).not.toBe(first.stages[0]);
  });
});

describe('the pedal as a sign', () => {
  const part = (keepPedal: boolean) =>
    partWith([note(60, 0, 300), note(64, 1920, 300)], {
      instrument: 'vibraphone',
      events: pedal(40, 1800, 1960, 3700),
      plan: withStep(defaultPlan(), 'sustainToDurations', { parameters: { limit: 'nextAttack', keepPedal } }),
    });
  const pedalsOf = (keepPedal: boolean) => runPlanOnAll(arrangementWith([part(keepPedal)]))[0]?.pedals;

  it('begins with the chord it holds, where the plan keeps it', () => {
    expect(pedalsOf(true)?.map(({ down }) => down)).toEqual([0, 40320]);
    expect(pedalsOf(false)).toEqual([]);
  });

  it('stands on the page as lines', () => {
    const arrangement = arrangementWith([part(true)]);
    const layers = runPlanOnAll(arrangement);
    const score = buildScore(arrangement, layers, writtenMaps(arrangement), readPitches(arrangement, layers));
    expect(writeMusicXml(score).match(/<pedal type="(start|stop)"/g)).toEqual([
      '<pedal type="start"',
      '<pedal type="stop"',
      '<pedal type="start"',
      '<pedal type="stop"',
    ]);
  });
});

describe('a passage', () => {
  const eighths = [0, 130, 240, 370].flatMap((at) => [note(60, at, 100), note(62, at + 1920, 100)]);

  it('has its own grid, and the bars around it keep theirs', () => {
    const plan = withPassageGrid(withGrid(defaultPlan(), 1 / 16), 2, 2, 1 / 8);
    const onsets = writtenOf(planned(plan, ...eighths)).map((n) => n.onset / 2520);
    expect(onsets.filter((at) => at < 16)).toEqual([0, 1, 2, 3]);
    expect(new Set(onsets.filter((at) => at >= 16).map((at) => at % 2))).toEqual(new Set([0]));
  });

  it('goes where it is given the grid of the rest', () => {
    const plan = withPassageGrid(withGrid(defaultPlan(), 1 / 16), 2, 3, 1 / 8);
    expect(withPassageGrid(plan, 2, 3, 1 / 16).passages).toEqual([]);
  });
});

describe('a veto', () => {
  it('keeps one step off one note; other steps and other notes go on', () => {
    const [first, second] = [note(60, 7, 470), note(62, 489, 430)];
    const part = partWith([first, second], { vetoes: [{ noteId: first.id, step: 'quantizeStarts' }] });
    const [layer] = runPlanOnAll(arrangementWith([part]));
    expect(layer?.notes.map((n) => n.onset)).toEqual([7 * 21, 10080]);
    const quantized = layer?.steps.find((report) => report.step === 'quantizeStarts');
    expect(quantized?.vetoed.map((change) => change.noteId)).toEqual([first.id]);
    expect(quantized?.touched).toBe(1);
  });

  it('brings a note back that a step would have taken out', () => {
    const speck = note(61, 100, 12);
    const part = partWith([note(60, 0, 470), speck], { vetoes: [{ noteId: speck.id, step: 'dropSpecks' }] });
    expect(writtenOf(arrangementWith([part])).map((n) => n.id)).toContain(speck.id);
  });
});

describe('ready plans', () => {
  const kindOf = (instrument: string, ...notes: ReturnType<typeof note>[]) =>
    suggestedPlan(partWith(notes, { instrument })).kind;
  const line = [0, 1, 2, 3, 4, 5].map((k) => note(60 + k, k * 480, 500));
  const chords = [0, 1, 2].flatMap((k) => [60, 64, 67].map((pitch) => note(pitch, k * 960 + pitch - 60, 900)));

  it('are chosen from the content', () => {
    expect(kindOf('flute', ...chords)).toBe('line');
    expect(kindOf('violin', ...line)).toBe('line');
    expect(kindOf('vibraphone', ...chords)).toBe('chords');
    expect(kindOf('piano', ...chords, note(36, 0, 900), note(38, 960, 900))).toBe('keyboard');
    expect(kindOf('percussion', ...line)).toBe('percussion');
  });

  it('say why', () => {
    expect(suggestedPlan(partWith(chords, { instrument: 'vibraphone' })).reason).toMatch(/% of its notes sound with/);
  });

  it('are known again by what they do, not by their name or the order of their words', () => {
    const { passages, steps } = READY_PLANS.line;
    expect(samePlan({ passages, steps, name: 'x', version: 3 }, READY_PLANS.line)).toBe(true);
    expect(samePlan(READY_PLANS.line, READY_PLANS.chords)).toBe(false);
  });

  it('give way to the plan a person chose', () => {
    expect(planOf(partWith(line)).name).toBe('One-note line');
    expect(planOf(partWith(line, { plan: READY_PLANS.chords })).name).toBe('Chords');
  });
});

describe('what is heard', () => {
  const part = partWith([note(60, 0, 480), note(64, 960, 100)], { events: pedal(900, 1920) });
  const arrangement = arrangementWith([
    part,
    partWith([note(48, 0, 240)], { id: 2, name: 'Cello', instrument: 'cello' }),
  ]);
  const hear = (more: Partial<Parameters<typeof soundingNotes>[1]> = {}) =>
    soundingNotes(arrangement, { partIds: [1, 2], creaseTick: null, written: [], ...more }).map((n) => [
      n.partId,
      n.pitch,
      n.start,
      n.end,
    ]);

  it('is in seconds, with the pedal’s hold', () => {
    expect(hear()).toEqual([
      [2, 48, 0, 0.24],
      [1, 60, 0, 0.48],
      [1, 64, 0.96, 1.92],
    ]);
  });

  it('follows tempo changes', () => {
    const slower = { ...arrangement, tempos: [{ tick: ticks(0), microsecondsPerQuarter: 960_000 }] };
    expect(soundingNotes(slower, { partIds: [2], creaseTick: null, written: [] })[0]).toMatchObject({
      start: 0,
      end: 0.48,
    });
  });

  it('is only what is audible', () => {
    expect(hear({ partIds: [2] })).toHaveLength(1);
  });

  it('is Played before the crease and Written from it on', () => {
    const layers = runPlanOnAll(arrangement);
    const heard = hear({ partIds: [1], creaseTick: 480, written: layers });
    expect(heard[0]).toEqual([1, 60, 0, 0.48]);
    const writtenSecond = layers[0]?.notes.find((n) => n.pitch === 64);
    expect(heard[1]).toEqual([
      1,
      64,
      (writtenSecond?.onset ?? 0) / 21000,
      ((writtenSecond?.onset ?? 0) + (writtenSecond?.duration ?? 0)) / 21000,
    ]);
  });
});

describe('notes that steps of a plan make', () => {
  const halves = () => [note(60, 0, 960), note(64, 960, 960)];
  const splitting = (...steps: ReturnType<typeof planStep>[]) => ({ ...planOf(partWith(halves())), steps });
  const written = (parts: Part[]) => runPlanOnAll(arrangementWith(parts));

  it('have ids that are unique in the arrangement, with the step in the plans of two parts', () => {
    const plan = splitting(planStep('splitEvenly'));
    const parts = [partWith(halves(), { plan }), partWith(halves(), { id: 2, plan })];
    const ids = written(parts).flatMap((layer) => layer.notes.map((n) => n.id));
    expect(ids.length).toBeGreaterThan(8);
    expect(new Set(ids).size).toBe(ids.length);
  });

  it('have ids of their own with the step twice in one plan, and in its passages', () => {
    const eighths = planStep('splitEvenly', { value: noteValue(1 / 8) });
    const sixteenths = planStep('splitEvenly', { value: noteValue(1 / 16) });
    const passage = { firstBar: 1, lastBar: 1, steps: [sixteenths] };
    const plan = { ...splitting(eighths, sixteenths), passages: [passage] };
    const [layer] = written([partWith(halves(), { plan })]);
    const ids = layer?.notes.map((n) => n.id) ?? [];
    expect(ids).toHaveLength(16);
    expect(new Set(ids).size).toBe(16);
    expect(new Set(layer?.notes.map((n) => n.onset)).size).toBe(16);
  });

  it('have the same ids from run to run, made from their source', () => {
    const notes = halves();
    const part = partWith(notes, { plan: splitting(planStep('splitEvenly'), planStep('quantizeStarts')) });
    const arrangement = arrangementWith([part]);
    const run = rerunPlan(part, 480, writtenMaps(arrangement), part.plan as Plan);
    const again = rerunPlan(part, 480, writtenMaps(arrangement), part.plan as Plan, run);
    expect(again.written.notes).toEqual(runPlan(part, 480, writtenMaps(arrangement)).notes);
    for (const { id, sources } of run.written.notes) {
      expect(sources).toEqual([sourceOfId(id)]);
      expect(notes.some((n) => n.id === sourceOfId(id))).toBe(true);
    }
    expect(run.written.notes.filter(({ id }) => isMadeId(id))).toHaveLength(run.written.notes.length - 2);
  });

  it('take their ids on after steps that are taken over from an earlier run', () => {
    const part = partWith(halves(), { plan: splitting(planStep('splitEvenly', { value: noteValue(1 / 4) })) });
    const maps = writtenMaps(arrangementWith([part]));
    const first = rerunPlan(part, 480, maps, part.plan as Plan);
    const longer = { ...(part.plan as Plan), steps: [...(part.plan as Plan).steps, planStep('splitEvenly')] };
    const ids = rerunPlan({ ...part, plan: longer }, 480, maps, longer, first).written.notes.map((n) => n.id);
    expect(new Set(ids).size).toBe(ids.length);
    expect(ids).toEqual(runPlan({ ...part, plan: longer }, 480, maps).notes.map((n) => n.id));
  });

  it('are spelled part by part: one part’s page never shows the other’s pitches', () => {
    const plan = splitting(planStep('splitEvenly'));
    const low = halves().map((n) => ({ ...n, pitch: n.pitch - 7 }));
    const arrangement = arrangementWith([partWith(halves(), { plan }), partWith(low, { id: 2, plan })]);
    const layers = runPlanOnAll(arrangement);
    const score = buildScore(arrangement, layers, writtenMaps(arrangement), readPitches(arrangement, layers));
    const pitches = score.parts.map(
      (p) => new Set(p.bars.flatMap((bar) => bar.events.flatMap((e) => e.notes.map((n) => n.soundingPitch)))),
    );
    expect(pitches).toEqual([new Set([60, 64]), new Set([53, 57])]);
    expect(splitEvenly.sees).toBe('selected');
  });
});

describe('a veto of a removed double', () => {
  it('puts it back beside a note that is as it was played, not stretched over it', () => {
    const first = note(60, 0, 300, { velocity: 60 });
    const double = note(60, 10, 700, { velocity: 90 });
    const plan = { ...planOf(partWith([first])), steps: [planStep('deDuplicate')] };
    const part = partWith([first, double], { plan, vetoes: [{ noteId: first.id, step: 'deDuplicate' }] });
    const { notes, steps } = runPlan(part, 480, writtenMaps(arrangementWith([part])));
    expect(notes.map((n) => [n.id, n.onset / 21, n.duration / 21, n.velocity])).toEqual([
      [first.id, 0, 300, 60],
      [double.id, 10, 700, 90],
    ]);
    expect(steps[0]).toMatchObject({ touched: 0, vetoed: [{ noteId: first.id, into: double.id }] });
  });
});

describe('corrections of the page', () => {
  const notes = [note(60, 0, 480), note(64, 480, 480)];
  const [first, second] = notes as [StepNote, StepNote];
  const quarter = 10080;
  const put = (overrides: Override[], more: Partial<Part> = {}) => {
    const plain = arrangementWith([partWith(notes, more)]);
    const edit = { label: 'Correct', changes: [overridesChange(plain.parts[0] as Part, overrides)] };
    const changed = applyEdit(plain, edit);
    return { plain, edit, changed, layer: runPlanOnAll(changed)[0] as Written };
  };
  const at = (units: number) => units as WrittenUnits;

  it('are laid on what the plan made: ends, starts, voice, staff, dots, what is not written', () => {
    const { layer } = put([
      { kind: 'writtenEnd', noteId: first.id, at: at(quarter / 2) },
      { kind: 'writtenStart', noteId: first.id, at: at(quarter / 4) },
      { kind: 'voice', noteId: first.id, voice: 2 },
      { kind: 'staff', noteId: first.id, staff: 2 },
      { kind: 'staccato', noteId: first.id, on: true },
      { kind: 'soundOnly', noteId: second.id },
    ]);
    expect(layer.notes).toMatchObject([
      { id: first.id, onset: quarter / 4, duration: quarter / 4, voice: 2, staff: 2, staccato: true },
    ]);
  });

  it('bring notes of their own, which are written and not heard', () => {
    const id = 99;
    const own = { kind: 'pageOnly', id, pitch: 67, onset: at(0), duration: at(quarter), voice: 1, staff: 1 } as const;
    const { changed, layer, edit } = put([own]);
    expect(layer.notes.map((n) => [n.id, n.pitch])).toEqual([
      [first.id, 60],
      [id, 67],
      [second.id, 64],
    ]);
    expect(changed.nextNoteId).toBe(100);
    expect(changed.parts[0]?.notes).toEqual(notes);
    expect(applyEdit(changed, invertEdit(edit)).parts[0]?.overrides).toBeUndefined();
  });

  it('outlive another run of the plan, and one takes another’s place', () => {
    const { changed } = put([{ kind: 'voice', noteId: first.id, voice: 2 }]);
    const replaced = overridesChange(changed.parts[0] as Part, [{ kind: 'voice', noteId: first.id, voice: 3 }]);
    expect(replaced).toMatchObject({ added: [], changed: [{ before: { voice: 2 }, after: { voice: 3 } }] });
    const other = applyEdit(changed, { label: '', changes: [replaced] });
    const replanned = { ...other, parts: other.parts.map((p) => ({ ...p, plan: READY_PLANS.chords })) };
    expect(runPlanOnAll(replanned)[0]?.notes[0]?.voice).toBe(3);
    const taken = overridesChange(other.parts[0] as Part, [], [{ kind: 'voice', noteId: first.id, voice: 1 }]);
    expect(applyEdit(other, { label: '', changes: [taken] }).parts[0]?.overrides).toBeUndefined();
  });
});

describe('a plan that follows another part', () => {
  it('goes by that part’s starts in written units, and is run again with it', () => {
    const leader = partWith([note(48, 30, 400), note(48, 510, 400)], { id: 2, instrument: 'cello' });
    const steps = [planStep('follow', { part: 2 })];
    const own = partWith([note(60, 0, 400), note(62, 480, 400)], { plan: { ...planOf(leader), steps } });
    const arrangement = arrangementWith([own, leader]);
    expect(runPlanOnAll(arrangement)[0]?.notes.map((n) => n.onset / 21)).toEqual([30, 510]);
    expect(partsLookedAt(own, arrangement.parts).map(({ id }) => id)).toEqual([2]);
    expect(partsLookedAt(leader, arrangement.parts)).toEqual([]);
  });

  it('depends on the parts above where doubles of them are taken out, in a passage too', () => {
    const across = planStep('deDuplicate', { acrossParts: true });
    const parts = [1, 2, 3].map((id) => partWith([note(60, 0, 100)], { id }));
    const looked = (plan: Plan) => partsLookedAt({ ...(parts[1] as Part), plan }, parts).map(({ id }) => id);
    const plan = { ...planOf(parts[1] as Part), steps: [across] };
    expect(looked(plan)).toEqual([1]);
    expect(looked({ ...plan, steps: [{ ...across, on: false }] })).toEqual([]);
    expect(looked({ ...plan, steps: [], passages: [{ firstBar: 1, lastBar: 1, steps: [across] }] })).toEqual([1]);
    expect(looked({ ...plan, steps: [planStep('follow', { part: 2 })] })).toEqual([]);
  });
});

describe('passages with a grid of their own', () => {
  it('give way where they overlap, and only there', () => {
    const base = planOf(partWith([note(60, 0, 100)]));
    const three = withPassageGrid(withPassageGrid(withPassageGrid(base, 1, 2, 1 / 8), 4, 5, 1 / 4), 7, 9, 1 / 16);
    const bars = (plan: Plan) => plan.passages.map(({ firstBar, lastBar }) => [firstBar, lastBar]);
    expect(bars(three)).toEqual([
      [1, 2],
      [4, 5],
      [7, 9],
    ]);
    expect(bars(withPassageGrid(three, 5, 6, 1 / 32))).toEqual([
      [1, 2],
      [5, 6],
      [7, 9],
    ]);
    expect(bars(withPassageGrid(three, 2, 7, 1 / 32))).toEqual([[2, 7]]);
    expect(bars(withPassageGrid(three, 3, 3, 1 / 32))).toEqual([
      [1, 2],
      [3, 3],
      [4, 5],
      [7, 9],
    ]);
    expect(bars(withPassageGrid(three, 4, 5, 'auto'))).toEqual([
      [1, 2],
      [7, 9],
    ]);
  });
});

describe('corrections that are not of notes', () => {
  it('leave the notes as the plan made them', () => {
    const plain = arrangementWith([partWith([note(60, 0, 480)])]);
    const edit = {
      label: 'Break',
      changes: [overridesChange(plain.parts[0] as Part, [{ kind: 'systemBreak', bar: 2 }])],
    };
    expect(runPlanOnAll(applyEdit(plain, edit))[0]?.notes).toEqual(runPlanOnAll(plain)[0]?.notes);
  });

  it('give notes on the page alone no Played note', () => {
    const plain = arrangementWith([partWith([note(60, 0, 480)])]);
    const own = {
      kind: 'pageOnly',
      id: 77,
      pitch: 50,
      onset: 0 as WrittenUnits,
      duration: 5040 as WrittenUnits,
      voice: 2,
      staff: 1,
    } as const;
    const edit = { label: 'Page', changes: [overridesChange(plain.parts[0] as Part, [own])] };
    const [added] = runPlanOnAll(applyEdit(plain, edit))[0]?.notes ?? [];
    expect(added).toMatchObject({ id: 77, sources: [], voice: 2, duration: 5040 });
  });
});
