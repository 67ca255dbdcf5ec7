/** An arrangement that the server has just sent whole, kept for the Desk that opens it: it need not be sent again. */
import type { OpenArrangement } from '@crispfold/contract';

let offered: OpenArrangement | null = null;

/** Keeps an arrangement for the Desk. */
export const offerOpened = (open: OpenArrangement): void => {
  offered = open;
};

/** The arrangement kept, where it is the one asked for; once. */
export const takeOpened = (id: string): OpenArrangement | null => {
  const open = offered?.id === id ? offered : null;
  offered = null;
  return open;
};
