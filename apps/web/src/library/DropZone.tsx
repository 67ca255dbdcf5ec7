/** A place to drop MIDI files and scores, or to choose them. */

import { FileMusic } from 'lucide-react';
import type { ReactNode } from 'react';
import { Button } from '../ui/Button.js';
import { useMidiDrop } from '../ui/midiDrop.js';

export interface DropZoneProps {
  readonly onFiles: (files: File[]) => void;
  /** While files are read: gives up on them. */
  readonly onCancel: (() => void) | null;
  /** What is said meanwhile. */
  readonly reading: string;
  /** True where arrangements that were taken away are taken too. */
  readonly archives?: boolean;
  readonly children: ReactNode;
}

export const DropZone = ({ onFiles, onCancel, reading, archives = false, children }: DropZoneProps) => {
  const working = onCancel !== null;
  const { getRootProps, getInputProps, isDragActive, open } = useMidiDrop(onFiles, {
    noClick: true,
    disabled: working,
    archives,
  });
  return (
    <div
      {...getRootProps({ role: undefined, tabIndex: undefined })}
      className={`flex items-center gap-5 border-2 border-dashed px-5 py-4 ${
        isDragActive ? 'border-fold bg-selected' : 'border-strong bg-sheet'
      }`}
    >
      <input {...getInputProps({ 'aria-label': 'MIDI files' })} />
      <FileMusic aria-hidden className="shrink-0 text-fold" size={30} />
      <div className="flex-1">
        {working ? (
          <>
            <p role="status">{reading}</p>
            <progress aria-label="Reading the files" className="h-2 w-full accent-[var(--fold)]" />
          </>
        ) : (
          children
        )}
      </div>
      {onCancel ? (
        <Button onClick={onCancel}>Cancel</Button>
      ) : (
        <Button look="main" onClick={open}>
          Choose files
        </Button>
      )}
    </div>
  );
};
