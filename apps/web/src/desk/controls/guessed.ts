/** What told an instrument, in words. */
import type { Part } from '@crispfold/core';

export const GUESSED: { readonly [From in NonNullable<Part['instrumentFrom']>]: string } = {
  program: 'as its program says',
  name: 'as its name says',
  channel: 'as its channel says',
  nothing: 'nothing says which',
};
