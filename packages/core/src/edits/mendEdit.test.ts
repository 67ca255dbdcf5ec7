import { describe, expect, it } from 'vitest';
import type { Finding } from '../findings/finding.js';
import type { Part } from '../model/arrangement.js';
import { applyEdit, invertEdit } from '../model/edit.js';
import type { QuantizeStartsParameters } from '../model/stepParameters.js';
import { gridOf, withGrid } from '../plan/plan.js';
import { planOf } from '../plan/readyPlans.js';
import { arrangementWith, note, partWith, placesOf } from '../testing/kit.js';
import { mendEdit, planEdit } from './mendEdit.js';

const notes = [note(60, 0, 400), note(60, 8, 100), note(62, 1930, 400), note(64, 3850, 400)];
const arrangement = arrangementWith([partWith(notes)]);
const part = arrangement.parts[0] as Part;
const finding = (more: Partial<Finding>): Finding => ({
  kind: 'doubtfulGrid',
  key: 'k',
  partId: 1,
  noteIds: [],
  tick: 0,
  reason: 'why',
  severity: 'look',
  mend: null,
  ...more,
});
const IN_EIGHTHS = {
  where: 'bars' as const,
  step: 'quantizeStarts' as const,
  parameters: { grid: 1 / 8 },
  label: 'Read in eighths',
};

describe('a mend of the plan', () => {
  it('for bars gives those bars their own grid; the plan’s grid and Played stay', () => {
    const edit = mendEdit(arrangement, [
      finding({ tick: 1930, mend: IN_EIGHTHS }),
      finding({ tick: 3850, mend: IN_EIGHTHS }),
    ]);
    const after = applyEdit(arrangement, edit as never).parts[0] as Part;
    expect(planOf(after).passages.map((p) => [p.firstBar, p.lastBar])).toEqual([
      [2, 2],
      [3, 3],
    ]);
    const [own] = planOf(after).passages.flatMap((passage) => passage.steps);
    expect(own?.parameters).toMatchObject({ grid: 1 / 8 });
    expect(gridOf(planOf(after))).toBe('auto');
    expect(after.notes).toEqual(part.notes);
  });

  it('for the plan sets the step throughout', () => {
    const mend = { where: 'plan', step: 'quantizeStarts', parameters: { swung: 'straight' }, label: 'x' } as const;
    const after = applyEdit(arrangement, mendEdit(arrangement, [finding({ mend })]) as never).parts[0] as Part;
    const own = planOf(after).steps.find((item) => item.step === 'quantizeStarts')?.parameters;
    expect((own as QuantizeStartsParameters).swung).toBe('straight');
  });
});

describe('a mend of the notes', () => {
  const double = finding({
    kind: 'doubles',
    noteIds: [notes[1]?.id ?? 0],
    mend: {
      where: 'notes',
      step: 'deDuplicate',
      parameters: {},
      label: 'Take it out',
      noteIds: [notes[0]?.id ?? 0, notes[1]?.id ?? 0],
    },
  });

  it('is one Edit with a name, and can be taken back', () => {
    const edit = mendEdit(arrangement, [double]);
    expect(edit?.label).toBe('Take it out: Doubles in Flute');
    const after = applyEdit(arrangement, edit as never);
    expect(placesOf(after.parts[0]?.notes ?? [])).toEqual(['60 0+400', '62 1930+400', '64 3850+400']);
    expect(applyEdit(after, invertEdit(edit as never)).parts).toEqual(arrangement.parts);
  });

  it('of different sorts is one entry too, done in order', () => {
    const louder = finding({
      kind: 'velocityOut',
      noteIds: [notes[2]?.id ?? 0],
      mend: { where: 'notes', step: 'matchVelocity', parameters: { value: 'typed', typed: 99 }, label: 'Set to 99' },
    });
    const edit = mendEdit(arrangement, [double, louder]);
    const after = applyEdit(arrangement, edit as never).parts[0]?.notes ?? [];
    expect(after).toHaveLength(3);
    expect(after.find((n) => n.pitch === 62)?.velocity).toBe(99);
    expect(edit?.label).toMatch(/: 2 mended$/);
  });

  it('that has nothing to do is none', () => {
    expect(mendEdit(arrangement, [finding({})])).toBeNull();
    expect(mendEdit(arrangement, [{ ...double, partId: 9 }])).toBeNull();
  });
});

describe('a plan of one’s own', () => {
  it('comes and goes by an Edit', () => {
    const mine = withGrid(planOf(part), 1 / 4);
    const edit = planEdit(part, mine, 'Plan');
    const after = applyEdit(arrangement, edit);
    expect(planOf(after.parts[0] as Part)).toEqual(mine);
    expect(planOf(applyEdit(after, invertEdit(edit)).parts[0] as Part)).toEqual(planOf(part));
  });
});

describe('the name of a mend', () => {
  const one = (noteId: number) =>
    finding({
      kind: 'velocityOut',
      noteIds: [noteId],
      mend: { where: 'notes', step: 'matchVelocity', parameters: { value: 'typed', typed: 99 }, label: 'Set to 99' },
    });

  it('says what was done to one, or how many were mended', () => {
    expect(mendEdit(arrangement, [one(notes[0]?.id ?? 0)])?.label).toBe('Set to 99: Loudness that sticks out in Flute');
    expect(mendEdit(arrangement, [one(notes[0]?.id ?? 0), one(notes[2]?.id ?? 0)])?.label).toBe(
      'Loudness that sticks out: 2 mended',
    );
  });

  it('is none where the notes are in a part that a mend does not name', () => {
    const elsewhere = { ...one(notes[0]?.id ?? 0) };
    expect(
      mendEdit(arrangement, [
        { ...elsewhere, mend: { ...(elsewhere.mend as NonNullable<Finding['mend']>), partId: 9 } },
      ]),
    ).toBeNull();
  });
});

describe('a mend of the bar lines', () => {
  it('moves them and no note, and is undone whole', () => {
    const mend = { where: 'barLines', label: 'Begin with a pickup', pickup: 480 } as const;
    const edit = mendEdit(arrangement, [finding({ kind: 'pickup', mend })]);
    if (!edit) throw new Error('no edit');
    const after = applyEdit(arrangement, edit);
    expect(after.meters.map(({ tick, numerator, pickup }) => [tick, numerator, pickup])).toEqual([
      [0, 1, 0],
      [480, 4, undefined],
    ]);
    expect(after.parts).toEqual(arrangement.parts);
    expect(applyEdit(after, invertEdit(edit))).toEqual(arrangement);
    expect(edit.label).toBe('Begin with a pickup: Bar lines in Flute');
  });
});

describe('a mend of the page', () => {
  it('is a correction that lasts; Played and the plan stay', () => {
    const override = { kind: 'writtenEnd', noteId: notes[0]?.id as number, at: 5040 as never } as const;
    const mend = { where: 'page', label: 'Or: eighth', overrides: [override] } as const;
    const edit = mendEdit(arrangement, [finding({ mend })]);
    const after = applyEdit(arrangement, edit as never).parts[0] as Part;
    expect(after.overrides?.list).toEqual([override]);
    expect({ ...after, overrides: undefined }).toEqual({ ...part, overrides: undefined });
  });
});
