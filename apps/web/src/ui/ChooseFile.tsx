/** A button that lets a person choose one file. */
import { useRef } from 'react';
import { Button } from './Button.js';

export const ChooseFile = ({
  label,
  accept,
  words,
  main = false,
  disabled = false,
  onChosen,
}: {
  /** What the file is called to those who cannot see ("A recording"). */
  label: string;
  /** Endings of names, as a file field takes them. */
  accept: string;
  /** On the button. */
  words: string;
  /** True where it is the next thing to do. */
  main?: boolean;
  disabled?: boolean;
  onChosen: (file: File) => void;
}) => {
  const field = useRef<HTMLInputElement>(null);
  return (
    <>
      <input
        ref={field}
        type="file"
        accept={accept}
        className="sr-only"
        tabIndex={-1}
        aria-label={label}
        onChange={({ target }) => {
          const [chosen] = target.files ?? [];
          if (chosen) onChosen(chosen);
          // The same file may be chosen again.
          target.value = '';
        }}
      />
      <Button look={main ? 'main' : 'quiet'} disabled={disabled} onClick={() => field.current?.click()}>
        {words}
      </Button>
    </>
  );
};
