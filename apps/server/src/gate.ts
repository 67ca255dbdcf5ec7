/** The one gate: whatever is to be stored as an arrangement passes it, wherever it comes from. */
import { arrangementSchema } from '@crispfold/contract';
import type { Arrangement, Problem } from '@crispfold/core';
import { ValidationError } from 'yup';

/** Why an arrangement cannot be kept, in words; null where it can. */
export const notToBeKept = (arrangement: Arrangement): Problem | null => {
  try {
    arrangementSchema.validateSync(arrangement, { strict: true });
    return null;
  } catch (error) {
    if (!(error instanceof ValidationError)) throw error;
    return {
      code: 'notKept',
      message: `What these files say cannot be kept: ${error.errors[0] ?? error.message} Nothing was brought in.`,
    };
  }
};
