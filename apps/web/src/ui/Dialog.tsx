/** The one dialog, on Radix. */
import { Dialog as Radix } from 'radix-ui';
import type { ReactNode } from 'react';

export interface DialogProps {
  readonly open: boolean;
  readonly onOpenChange: (open: boolean) => void;
  readonly title: string;
  readonly description: string;
  readonly children: ReactNode;
  /** As wide as the window lets it. */
  readonly wide?: boolean;
}

export const Dialog = ({ open, onOpenChange, title, description, children, wide = false }: DialogProps) => (
  <Radix.Root open={open} onOpenChange={onOpenChange}>
    <Radix.Portal>
      <Radix.Overlay className="fixed inset-0 z-40 bg-ink/30" />
      <Radix.Content
        className={`fixed left-1/2 top-[6vh] z-50 max-h-[88vh] ${wide ? 'w-[94vw]' : 'w-[min(34rem,92vw)]'} -translate-x-1/2 overflow-auto border border-strong bg-sheet p-6 shadow-xl`}
      >
        <Radix.Title className="font-serif text-2xl">{title}</Radix.Title>
        <Radix.Description className="mb-4 text-soft">{description}</Radix.Description>
        {children}
      </Radix.Content>
    </Radix.Portal>
  </Radix.Root>
);
