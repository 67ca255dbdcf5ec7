/** What pages a person asks for as PDF. */
import { PAPERS, type PageSetup, type Paper, STAFF_SIZES } from '@crispfold/core';
import * as yup from 'yup';

/** From a bar to a bar. */
export interface BarsAsked {
  readonly first: number;
  readonly last: number;
}

const bar = yup.number().integer().min(1).max(1_000_000).required();

/** The score or the parts, and how they are laid out. */
export interface PagesBody extends Pick<PageSetup, 'paper' | 'barNumbers' | 'restingStaves'> {
  readonly what: 'score' | 'parts';
  /** Null for all. */
  readonly partIds: readonly number[] | null;
  /** Bars counted from 1, a pickup too; null for the whole piece. */
  readonly bars: BarsAsked | null;
  readonly concertPitch: boolean;
  readonly order: 'own' | 'families';
  /** Millimetres; null for what suits so many staves. */
  readonly staff: number | null;
  readonly composer: string;
  readonly arranger: string;
}

const name = yup.string().max(200).defined();

/** Checks such a body. */
export const pagesBodySchema = yup
  .object({
    what: yup.string().oneOf(['score', 'parts']).required(),
    partIds: yup.array(yup.number().integer().min(1).required()).max(1000).nullable().defined(),
    bars: yup.object({ first: bar, last: bar }).noUnknown().nullable().defined(),
    concertPitch: yup.boolean().required(),
    order: yup.string().oneOf(['own', 'families']).required(),
    paper: yup
      .string()
      .oneOf(Object.keys(PAPERS) as Paper[])
      .required(),
    staff: yup
      .number()
      .nullable()
      .defined()
      .test(
        'staff',
        'A staff is of one of the sizes offered.',
        (value) => value === null || STAFF_SIZES.some((size) => size === value),
      ),
    barNumbers: yup
      .mixed<PageSetup['barNumbers']>()
      .test('bar-numbers', 'Bar numbers stand at systems, nowhere, or each so many bars.', (value) =>
        typeof value === 'number'
          ? Number.isInteger(value) && value >= 1 && value <= 100
          : value === 'systems' || value === 'none',
      )
      .required(),
    restingStaves: yup.string().oneOf(['shown', 'hidden']).required(),
    composer: name,
    arranger: name,
  })
  .noUnknown()
  .required();
