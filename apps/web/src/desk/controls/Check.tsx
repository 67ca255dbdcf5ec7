/** A box to tick, with its words. */
import type { ReactNode } from 'react';

export const Check = ({
  checked,
  onChange,
  children,
}: {
  checked: boolean;
  onChange: () => void;
  children: ReactNode;
}) => (
  <label className="flex items-center gap-1.5">
    <input type="checkbox" className="accent-[var(--fold)]" checked={checked} onChange={onChange} />
    {children}
  </label>
);
