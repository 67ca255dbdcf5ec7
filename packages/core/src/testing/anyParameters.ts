/** Any parameters of a step, made from its own fields: what properties are tried with. */
import fc from 'fast-check';
import type { KeptFeel } from '../model/keptFeel.js';
import type { PlanStep } from '../model/plan.js';
import type { StepId } from '../model/stepParameters.js';
import { planStep, stepById } from '../steps/registry.js';
import type { ParameterField } from '../steps/step.js';
import type { Length } from '../time/noteLengths.js';

const someLength: fc.Arbitrary<Length> = fc.oneof(
  fc.constantFrom(1 / 4, 1 / 8, 1 / 12, 1 / 16, 1 / 32).map((value): Length => ({ unit: 'note', value })),
  fc.integer({ min: 0, max: 400 }).map((value): Length => ({ unit: 'ms', value })),
  fc.integer({ min: 0, max: 960 }).map((value): Length => ({ unit: 'ticks', value })),
);

const orNone = (value: fc.Arbitrary<unknown>, none: string | undefined): fc.Arbitrary<unknown> =>
  none === undefined ? value : fc.option(value, { nil: null });

/** Feels of a bar of four quarters, and of one quarter. */
const LAID_BACK: KeptFeel = {
  name: 'Laid back',
  bar: 16,
  places: [
    { sixteenth: 0, late: 0, louder: 12, met: 9 },
    { sixteenth: 4, late: 22, louder: 0, met: 9 },
    { sixteenth: 10, late: -8.5, louder: -6, met: 4 },
  ],
};
const EVERY_BEAT: KeptFeel = { name: 'Every beat', bar: 4, places: [{ sixteenth: 0, late: -30, louder: 127, met: 3 }] };

const valueFor = (field: ParameterField): fc.Arbitrary<unknown> => {
  switch (field.kind) {
    case 'choice':
      return fc.constantFrom(...field.choices.map((choice) => choice.value));
    case 'length':
      return orNone(someLength, field.none);
    case 'lengths':
      return fc.array(someLength, { minLength: 1, maxLength: 2 });
    case 'number': {
      const step = field.step ?? 1;
      const steps = Math.floor((field.max - field.min) / step);
      return orNone(
        fc.integer({ min: 0, max: steps }).map((count) => field.min + count * step),
        field.none,
      );
    }
    case 'switch':
      return fc.boolean();
    case 'feel':
      return fc.option(fc.constantFrom(LAID_BACK, EVERY_BEAT), { nil: null });
    case 'part':
      return fc.constantFrom(0, 2);
    default:
      return field satisfies never;
  }
};

/** A step of a plan with any parameters that a person could set. */
export const anyPlanStep = (id: StepId): fc.Arbitrary<PlanStep> => {
  const fields: { readonly [key: string]: ParameterField } = stepById(id).fields;
  const arbitraries = Object.fromEntries(Object.entries(fields).map(([key, field]) => [key, valueFor(field)]));
  return fc.record(arbitraries).map((parameters) => ({ ...planStep(id), parameters }) as unknown as PlanStep);
};
