/** A number that is typed freely and taken when the field is left, or with Enter: only then is it kept within its bounds. */
import { useEffect, useState } from 'react';

export interface NumberFieldProps {
  readonly label: string;
  readonly value: number;
  readonly min: number;
  readonly max: number;
  readonly step?: number;
  readonly className?: string;
  readonly onTaken: (value: number) => void;
}

/** What typed text means: a number within the bounds, or null where it is none. */
export const numberTyped = (text: string, min: number, max: number): number | null => {
  const value = Number(text.replace(',', '.'));
  return text.trim() === '' || !Number.isFinite(value) ? null : Math.max(min, Math.min(max, value));
};

export const NumberField = ({ label, value, min, max, step = 1, className = '', onTaken }: NumberFieldProps) => {
  const [typed, setTyped] = useState<string | null>(null);
  // A value that comes from elsewhere (undo, another part) takes the place of what was being typed.
  // biome-ignore lint/correctness/useExhaustiveDependencies: the value is what is watched
  useEffect(() => setTyped(null), [value]);
  const take = (text: string | null) => {
    setTyped(null);
    const next = text === null ? null : numberTyped(text, min, max);
    if (next !== null && next !== value) onTaken(next);
  };
  const stepBy = (by: number) => {
    const from = numberTyped(typed ?? String(value), min, max) ?? value;
    setTyped(String(Math.max(min, Math.min(max, Math.round((from + by * step) / step) * step))));
  };
  return (
    <input
      aria-label={label}
      type="text"
      inputMode="decimal"
      role="spinbutton"
      aria-valuenow={value}
      aria-valuemin={min}
      aria-valuemax={max}
      className={`min-h-7 border border-strong bg-sheet px-1 ${className}`}
      value={typed ?? String(value)}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={() => take(typed)}
      onKeyDown={(event) => {
        if (event.key === 'Enter' && typed !== null) {
          // The number is taken first; another Enter sends the form.
          event.preventDefault();
          take(typed);
        }
        if (event.key === 'Escape') setTyped(null);
        if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
          event.preventDefault();
          stepBy(event.key === 'ArrowUp' ? 1 : -1);
        }
      }}
    />
  );
};
