/** How the pieces of the plan panel change a part's plan. */
import type { Plan } from '@crispfold/core';

/** Changes the front part's plan, under a name for the history; undefined gives it the one its content asks for. */
export type ChangePlan = (what: string, plan: Plan | undefined) => void;
