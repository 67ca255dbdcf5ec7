/** A line across the Desk that says which notes alone are picked and edited, with the button that ends it. */
import type { ReactNode } from 'react';
import { Button } from '../../ui/Button.js';
import type { CommandId } from '../state/keyTable.js';
import { useKeyOf } from './useKeyOf.js';

export const NarrowedBar = ({
  label,
  end,
  command,
  onEnd,
  children,
}: {
  label: string;
  /** The words of the button, and the command that does the same by key, where there is one. */
  end: string;
  command?: CommandId;
  onEnd: () => void;
  children: ReactNode;
}) => {
  const keyOf = useKeyOf();
  return (
    <section aria-label={label} className="flex items-center gap-3 border-t border-strong bg-shade px-3 py-1 text-sm">
      <span className="flex-1">{children}</span>
      <Button {...(command ? { hint: keyOf(command) } : {})} onClick={onEnd}>
        {end}
      </Button>
    </section>
  );
};
