/** Plans as JSON: the schema is made of the steps' own parameter fields, so a new step needs nothing here. */
import {
  fieldsOf,
  isKeptFeel,
  isStepId,
  type ParameterField,
  PLAN_VERSION,
  type Plan,
  STEP_IDS,
  type StepId,
  stepById,
  upgradePlan,
} from '@crispfold/core';
import * as yup from 'yup';
import { type OwnFile, ownFileText, readOwnFile } from './ownFile.js';

/** A length with its unit. */
export const lengthSchema = yup.object({
  unit: yup.string().oneOf(['note', 'ms', 'ticks']).required(),
  value: yup.number().min(0).max(1_000_000).required(),
});

/** The name of a kept feel. */
export const feelNameSchema = yup.string().matches(/\S/, 'A feel needs a name.').max(120).required();

/** A feel that is kept under a name, or stands in a plan: its shape; core says what its numbers may be. */
export const keptFeelSchema = yup
  .object({
    name: feelNameSchema,
    bar: yup.number().required(),
    places: yup
      .array(
        yup
          .object({
            sixteenth: yup.number().required(),
            late: yup.number().required(),
            louder: yup.number().required(),
            met: yup.number().required(),
          })
          .noUnknown(),
      )
      .required(),
  })
  .noUnknown()
  .test('kept-feel', 'This is not a feel.', (value) => value === null || value === undefined || isKeptFeel(value));

const fieldSchema = (field: ParameterField): yup.Schema => {
  switch (field.kind) {
    case 'choice': {
      const choice = yup.mixed().oneOf(field.choices.map(({ value }) => value) as never[]);
      return field.later ? choice : choice.required();
    }
    case 'length':
      return field.none === undefined ? lengthSchema.required() : lengthSchema.nullable().defined();
    case 'lengths':
      return yup.array(lengthSchema.required()).min(1).max(6).required();
    case 'number': {
      const number = yup.number().min(field.min).max(field.max);
      return field.none === undefined ? number.required() : number.nullable().defined();
    }
    case 'switch':
      return field.later ? yup.boolean() : yup.boolean().required();
    case 'feel':
      // Plans were kept before there was this field.
      return keptFeelSchema.nullable();
    case 'part':
      return yup.number().integer().min(0).required();
    default:
      return field satisfies never;
  }
};

const parameterSchemas = new Map<string, yup.ObjectSchema<object>>(
  STEP_IDS.map((id) => {
    const fields = fieldsOf(id);
    const shape = Object.fromEntries(fields.map(([key, field]) => [key, fieldSchema(field).label(`"${field.label}"`)]));
    return [id, yup.object(shape).noUnknown().required()];
  }),
);

/** What the parameters of a step must be. */
export const parametersSchema = (step: StepId): yup.ObjectSchema<object> =>
  parameterSchemas.get(step) ?? yup.object().required();

/** A step of a plan with its parameters, checked by the step's own fields. */
export const planStepSchema = yup.lazy((value: unknown) => {
  const step = (value as { step?: unknown } | null)?.step;
  const own = isStepId(step) ? parameterSchemas.get(step) : undefined;
  const name = yup
    .string()
    .oneOf(STEP_IDS, `there is no such step as "${String(step)}".`)
    .required();
  return (
    own ? yup.object({ step: name, on: yup.boolean().required(), parameters: own }) : yup.object({ step: name })
  ) as yup.Schema;
});

const bar = yup.number().integer().min(0).max(100_000).required();

/** A plan in an Edit or a file. */
export const planSchema = yup.object({
  version: yup.number().oneOf([PLAN_VERSION], 'This plan is of another version.').required(),
  name: yup.string().max(120).required(),
  steps: yup.array(planStepSchema).max(100).required(),
  passages: yup
    .array(yup.object({ firstBar: bar, lastBar: bar, steps: yup.array(planStepSchema).max(100).required() }))
    .max(1000)
    .required(),
});

/** The name of a saved plan. */
export const planNameSchema = yup.string().matches(/\S/, 'A plan needs a name.').max(120).required();

/** What a plan file says it is. */
const FILE: OwnFile = {
  format: 'crisp-fold-plan',
  version: PLAN_VERSION,
  denial: 'This is not a plan',
  subject: 'This plan is',
};

/** A plan as the text of a file. */
export const planToFile = (plan: Plan): string => ownFileText(FILE, plan);

/** Reads the text of a plan file; a message that a person understands where it cannot. Parameters left out take their defaults. */
export const planFromFile = (
  text: string,
): { readonly ok: true; readonly plan: Plan } | { readonly ok: false; readonly message: string } => {
  const read = readOwnFile(text, FILE);
  if (!read.ok) return read;
  const rest = read.content;
  try {
    const filledIn = {
      passages: [],
      ...rest,
      steps: filled(rest.steps),
      ...(rest.passages ? { passages: filledPassages(rest.passages) } : {}),
    };
    // A file of the version before is read as it was meant.
    const earlier = rest.version === PLAN_VERSION - 1;
    const checked = planSchema.validateSync(earlier ? { ...filledIn, version: PLAN_VERSION } : filledIn, {
      strict: true,
    }) as Plan;
    return { ok: true, plan: earlier ? upgradePlan({ ...checked, version: 2 }) : checked };
  } catch (error) {
    return { ok: false, message: `This plan cannot be used: ${(error as Error).message}` };
  }
};

const filled = (steps: unknown): unknown =>
  Array.isArray(steps)
    ? steps.map((item: { step?: unknown; on?: unknown; parameters?: object } | null) =>
        item && isStepId(item.step)
          ? { on: true, ...item, parameters: { ...stepById(item.step).defaults, ...item.parameters } }
          : item,
      )
    : steps;

const filledPassages = (passages: unknown): unknown =>
  Array.isArray(passages)
    ? passages.map((passage: { steps?: unknown } | null) => passage && { ...passage, steps: filled(passage.steps) })
    : passages;
