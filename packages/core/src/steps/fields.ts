/** The parameters of a step as a form sees them: by name, with a field that says what each may be. */
import { isKeptFeel, type KeptFeel } from '../model/keptFeel.js';
import type { PlanStep } from '../model/plan.js';
import type { StepId } from '../model/stepParameters.js';
import type { Length } from '../time/noteLengths.js';
import { stepById } from './registry.js';
import type { ParameterField } from './step.js';

/** Whatever one parameter can be. */
export type ParameterValue = string | number | boolean | null | Length | readonly Length[] | KeptFeel;
/** Parameters by name. */
export type ParameterValues = { readonly [name: string]: ParameterValue };

/** Names and fields of a step's parameters, in the order of its form. */
export const fieldsOf = (step: StepId): readonly (readonly [name: string, field: ParameterField])[] =>
  Object.entries(stepById(step).fields);

/** The parameters of a step of a plan by name. */
export const valuesOf = (item: PlanStep): ParameterValues => Object.fromEntries(Object.entries(item.parameters));

const isLength = (value: unknown): value is Length =>
  typeof value === 'object' &&
  value !== null &&
  'unit' in value &&
  'value' in value &&
  typeof value.value === 'number' &&
  value.value >= 0 &&
  (value.unit === 'note' || value.unit === 'ms' || value.unit === 'ticks');

/** True where a field may hold the value. */
export const fieldTakes = (field: ParameterField, value: unknown): boolean => {
  switch (field.kind) {
    case 'choice':
      return field.choices.some((choice) => choice.value === value);
    case 'length':
      return value === null ? field.none !== undefined : isLength(value);
    case 'lengths':
      return Array.isArray(value) && value.length > 0 && value.every(isLength);
    case 'number':
      return value === null
        ? field.none !== undefined
        : typeof value === 'number' && value >= field.min && value <= field.max;
    case 'switch':
      return typeof value === 'boolean';
    case 'feel':
      return value === null || isKeptFeel(value);
    case 'part':
      return typeof value === 'number' && Number.isInteger(value) && value >= 0;
    default:
      return field satisfies never;
  }
};

/** The step with parameters as a form gives them. Throws RangeError for a value that its field does not take. */
export const withValues = <Id extends StepId>(
  item: PlanStep<Id>,
  values: { readonly [name: string]: unknown },
): PlanStep<Id> => {
  const taken = { ...item.parameters };
  for (const [name, field] of fieldsOf(item.step)) {
    if (!(name in values)) continue;
    if (!fieldTakes(field, values[name])) throw new RangeError(`"${field.label}" cannot be ${String(values[name])}.`);
    Object.assign(taken, { [name]: values[name] });
  }
  return { step: item.step, on: item.on, parameters: taken };
};
