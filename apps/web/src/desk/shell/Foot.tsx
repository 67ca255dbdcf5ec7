/** The line of words at the foot, and what screen readers hear. */
import { selectionSize } from '@crispfold/core';
import { useValue } from '../../ui/valueStore.js';
import { counted } from '../../ui/words.js';
import { keyOf } from '../actions/commands/ownKeys.js';
import { useAppSelector } from '../state/root.js';
import { selectEditable, selectFrontPart } from '../state/selectors.js';
import { hint, spoken } from '../state/speak.js';

export const Foot = () => {
  const words = useValue(hint);
  const said = useValue(spoken);
  const front = useAppSelector(selectFrontPart);
  const selected = useAppSelector((state) => selectionSize(selectEditable(state)));
  const count = selected > 0 ? `${counted(selected, 'note')} selected` : '';
  return (
    <footer className="flex h-7 items-center gap-4 border-t border-strong px-3 text-sm">
      <span className="whitespace-nowrap font-semibold">{front?.name ?? ''}</span>
      <span className="whitespace-nowrap">{count}</span>
      <span className="min-w-0 flex-1 truncate text-soft">
        {words ||
          (said.startsWith(count) ? said.slice(count.length) : said) ||
          `Press ${keyOf('commands')} for all commands.`}
      </span>
      <span aria-live="polite" className="sr-only" data-testid="spoken">
        {said}
      </span>
    </footer>
  );
};
