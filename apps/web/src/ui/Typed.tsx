/** A text that is taken with Enter or when it is left, and taken back with Escape. */
import { useState } from 'react';

export const Typed = ({
  id,
  label,
  title,
  value,
  className = '',
  onTaken,
}: {
  id?: string;
  label: string;
  title?: string;
  value: string;
  className?: string;
  onTaken: (text: string) => void;
}) => {
  const [typed, setTyped] = useState<string | null>(null);
  const take = () => {
    if (typed !== null && typed !== value) onTaken(typed);
    setTyped(null);
  };
  return (
    <input
      id={id}
      aria-label={label}
      title={title}
      className={`min-h-7 min-w-0 border border-strong bg-sheet px-1 ${className}`}
      autoComplete="off"
      value={typed ?? value}
      onFocus={(event) => event.currentTarget.select()}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={take}
      onKeyDown={(event) => {
        if (event.key === 'Enter') {
          event.preventDefault();
          take();
        }
        if (event.key === 'Escape' && typed !== null) {
          event.stopPropagation();
          setTyped(null);
        }
      }}
    />
  );
};
