/** Asking the worker about what is about to be changed. */
import type { RootState } from '../state/root.js';

/** Asks again where a change was made meanwhile: what is answered is about the arrangement as it stands now. */
export const askAsItStands = async <Answer>(
  getState: () => RootState,
  ask: (state: RootState) => Promise<Answer>,
): Promise<Answer> => {
  for (;;) {
    const before = getState();
    const answer = await ask(before);
    if (getState().piece.arrangement === before.piece.arrangement) return answer;
  }
};
