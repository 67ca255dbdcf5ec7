/** The line of words at the foot, and what screen readers hear. */

import { selectionSize } from '@crispfold/core';
import { counted } from '../../ui/words.js';
import { useKeyOf } from '../controls/useKeyOf.js';
import { useAppSelector } from '../state/root.js';
import { selectEditable, selectFrontPart } from '../state/selectors.js';

export const Foot = () => {
  const keyOf = useKeyOf();
  const words = useAppSelector(({ speech }) => speech.hint);
  const spoken = useAppSelector(({ speech }) => speech.spoken);
  const front = useAppSelector(selectFrontPart);
  const selected = useAppSelector((state) => selectionSize(selectEditable(state)));
  const count = selected > 0 ? `${counted(selected, 'note')} selected` : '';
  return (
    <footer className="flex h-7 items-center gap-4 border-t border-strong px-3 text-sm">
      <span className="whitespace-nowrap font-semibold">{front?.name ?? ''}</span>
      <span className="whitespace-nowrap">{count}</span>
      <span className="min-w-0 flex-1 truncate text-soft">
        {words ||
          (spoken.startsWith(count) ? spoken.slice(count.length) : spoken) ||
          `Press ${keyOf('commands')} for all commands.`}
      </span>
      <span aria-live="polite" className="sr-only">
        {spoken}
      </span>
    </footer>
  );
};
