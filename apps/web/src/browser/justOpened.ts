/** An arrangement that the server has just sent whole, kept for the Desk that opens it: it need not be sent again. */
import type { OpenArrangement } from '@crispfold/contract';

/** See the file's head. */
export interface JustOpened {
  /** Keeps an arrangement for the Desk. */
  readonly offer: (open: OpenArrangement) => void;
  /** The arrangement kept, where it is the one asked for; once. */
  readonly take: (id: string) => OpenArrangement | null;
}

export const createJustOpened = (): JustOpened => {
  let offered: OpenArrangement | null = null;
  return {
    offer: (open) => {
      offered = open;
    },
    take: (id) => {
      const open = offered?.id === id ? offered : null;
      offered = null;
      return open;
    },
  };
};
