/** Sentences as JSON: the schema is made of the conditions' and changes' own fields, so a new one needs nothing here. */
import {
  CHANGE_KINDS,
  CHANGES,
  type ChangeKind,
  CONDITION_KINDS,
  CONDITIONS,
  type ConditionKind,
  LONGEST_PART_NAME,
  LONGEST_SENTENCE_NAME,
  MOST_OF_SENTENCE,
  MOST_PITCHES,
  MOST_SENTENCES,
  SENTENCE_VERSION,
  type Sentence,
  type SentenceField,
} from '@crispfold/core';
import * as yup from 'yup';
import { type OwnFile, ownFileText, readOwnFile } from './ownFile.js';
import { lengthSchema, planStepSchema } from './planSchema.js';

const pitch = yup.number().integer().min(0).max(127).required();

const isPitchList = (value: unknown): boolean =>
  Array.isArray(value) &&
  value.length > 0 &&
  value.length <= MOST_PITCHES &&
  value.every(
    (pair) => Array.isArray(pair) && pair.length === 2 && pair.every((one) => pitch.isValidSync(one, { strict: true })),
  ) &&
  new Set(value.map(([from]) => from)).size === value.length;

const fieldSchema = (field: SentenceField): yup.Schema => {
  switch (field.kind) {
    case 'number':
      return yup.number().min(field.min).max(field.max).required();
    case 'choice':
      return yup
        .mixed()
        .oneOf(field.choices.map((choice) => choice.value) as never[])
        .required();
    case 'length':
      return lengthSchema.required();
    case 'pitch':
      return pitch;
    case 'pitches':
      return yup
        .mixed()
        .test('pitches', `"${field.label}" needs pairs of pitches from 0 to 127, each pitch once.`, isPitchList);
    case 'part':
      return yup.string().max(LONGEST_PART_NAME).defined();
    case 'step':
      return planStepSchema as unknown as yup.Schema;
    default:
      return field satisfies never;
  }
};

const shapeOf = (fields: { readonly [name: string]: SentenceField }): yup.ObjectSchema<object> =>
  yup
    .object(
      Object.fromEntries(
        Object.entries(fields).map(([name, field]) => {
          const schema = fieldSchema(field);
          return [name, 'label' in schema && field.kind !== 'step' ? schema.label(`"${field.label}"`) : schema];
        }),
      ),
    )
    .noUnknown()
    .required();

const conditionShapes = new Map<string, yup.ObjectSchema<object>>(
  CONDITION_KINDS.map((kind: ConditionKind) => [kind, shapeOf(CONDITIONS[kind].fields)]),
);
const changeShapes = new Map<string, yup.ObjectSchema<object>>(
  CHANGE_KINDS.map((kind: ChangeKind) => [kind, shapeOf(CHANGES[kind].fields)]),
);

/** One of several kinds, each with parameters of its own. */
const ofKind = (shapes: ReadonlyMap<string, yup.ObjectSchema<object>>, what: string, more: object) =>
  yup.lazy((value: unknown) => {
    const kind = (value as { kind?: unknown } | null)?.kind;
    const parameters = typeof kind === 'string' ? shapes.get(kind) : undefined;
    const known = yup
      .string()
      .oneOf([...shapes.keys()], `there is no such ${what} as "${String(kind)}".`)
      .required();
    return yup
      .object({ kind: known, ...more, ...(parameters ? { parameters } : {}) })
      .required() as unknown as yup.Schema;
  });

const condition = ofKind(conditionShapes, 'condition', { not: yup.boolean().required() });
const change = ofKind(changeShapes, 'change', {});

/** The name of a sentence. */
export const sentenceNameSchema = yup
  .string()
  .matches(/\S/, 'A sentence needs a name.')
  .max(LONGEST_SENTENCE_NAME)
  .required();

/** A sentence as it is saved. */
export const sentenceSchema = yup.object({
  version: yup.number().oneOf([SENTENCE_VERSION], 'This sentence is of another version.').required(),
  name: sentenceNameSchema,
  key: yup.string().matches(/^[a-z0-9]$/, 'A key is one letter or digit.'),
  lines: yup
    .array(
      yup.object({
        where: yup.array(yup.array(condition).max(MOST_OF_SENTENCE).required()).max(MOST_OF_SENTENCE).required(),
        do: yup.array(change).min(1, 'A line needs something to do.').max(MOST_OF_SENTENCE).required(),
      }),
    )
    .min(1, 'A sentence needs a line.')
    .max(MOST_OF_SENTENCE)
    .required(),
});

/** What a file of sentences says it is. */
const FILE: OwnFile = {
  format: 'crisp-fold-sentences',
  version: SENTENCE_VERSION,
  denial: 'These are no sentences',
  subject: 'These sentences are',
};

/** Sentences as the text of a file. */
export const sentencesToFile = (sentences: readonly Sentence[]): string =>
  ownFileText(FILE, { version: SENTENCE_VERSION, sentences });

/** Reads the text of a file of sentences; a message that a person understands where it cannot. */
export const sentencesFromFile = (
  text: string,
):
  | { readonly ok: true; readonly sentences: readonly Sentence[] }
  | { readonly ok: false; readonly message: string } => {
  const read = readOwnFile(text, FILE);
  if (!read.ok) return read;
  try {
    const { sentences } = yup
      .object({
        version: yup.number().oneOf([SENTENCE_VERSION]).required(),
        sentences: yup.array(sentenceSchema).min(1, 'there is none.').max(MOST_SENTENCES).required(),
      })
      .validateSync(read.content, { strict: true });
    return { ok: true, sentences: sentences as unknown as readonly Sentence[] };
  } catch (error) {
    return { ok: false, message: `These sentences cannot be used: ${(error as Error).message}` };
  }
};
