/** Two buttons for JSON files of our own: bring one in, take one away. */
import { Download, FolderOpen } from 'lucide-react';
import { useRef } from 'react';
import { Button } from './Button.js';
import { saveFile } from './saveFile.js';

export const FileButtons = ({
  label,
  opens,
  takes,
  onOpened,
  file,
}: {
  /** What the file is called to those who cannot see ("Plan file"). */
  label: string;
  /** Tooltips: what is brought in, and what is taken away. */
  opens: string;
  takes: string;
  /** A file was chosen. */
  onOpened: (text: string, name: string) => void;
  /** What is taken away; null where there is nothing. */
  file: (() => { readonly name: string; readonly text: string }) | null;
}) => {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button look="quiet" className="!px-1.5" title={opens} onClick={() => input.current?.click()}>
        <FolderOpen size={14} aria-hidden /> Open
      </Button>
      <Button
        look="quiet"
        className="!px-1.5"
        title={takes}
        disabled={!file}
        onClick={() => {
          const made = file?.();
          if (made) saveFile(made.name, made.text, 'application/json');
        }}
      >
        <Download size={14} aria-hidden /> File
      </Button>
      <input
        ref={input}
        type="file"
        accept=".json,application/json"
        aria-label={label}
        className="hidden"
        onChange={(event) => {
          const chosen = event.target.files?.[0];
          event.target.value = '';
          if (chosen) void chosen.text().then((text) => onOpened(text, chosen.name));
        }}
      />
    </>
  );
};
