/** The one button. */
import type { ButtonHTMLAttributes, ReactNode } from 'react';

export interface ButtonProps extends ButtonHTMLAttributes<HTMLButtonElement> {
  readonly look?: 'plain' | 'main' | 'quiet';
  readonly pressed?: boolean | undefined;
  /** The key that does the same. */
  readonly hint?: string | undefined;
  readonly children?: ReactNode;
}

const LOOKS = {
  plain: 'border border-strong bg-sheet hover:bg-shade',
  main: 'border border-ink bg-ink text-sheet hover:opacity-90',
  quiet: 'border border-transparent hover:bg-shade',
} as const;

export const Button = ({ look = 'plain', pressed, hint, className = '', title, children, ...rest }: ButtonProps) => (
  <button
    type="button"
    aria-pressed={pressed}
    title={hint ? `${title ?? ''} (${hint})`.trim() : title}
    className={`inline-flex min-h-7 min-w-7 items-center justify-center gap-1.5 rounded-sm px-2.5 leading-none disabled:opacity-45 ${LOOKS[look]} ${
      pressed ? '!border-ink !bg-selected' : ''
    } ${className}`}
    {...rest}
  >
    {children}
  </button>
);
